//! Unit-root and stationarity tests in words and tables.

use std::collections::BTreeMap;

use kandrel_core::nulldist::{CriticalValues, Terms};
use kandrel_core::ols::Bandwidth;
use kandrel_core::series::Series;
use kandrel_core::unitroot::verdict::{Assessment, Class, Confidence, DifferenceTests, Reading};
use kandrel_core::unitroot::{
    Coefficient, Kernel, Note, Null, Regressor, TermsChoice, TermsReason, TestName, UnitRootTest,
};
use serde::Serialize;

use super::words;
use crate::document::{Align, Block, Cell, Document, Table};
use crate::render::{number, p_value};

/// The contract's result of `stationarity`.
#[derive(Serialize)]
pub struct StationarityResult {
    pub series: String,
    pub observations: usize,
    pub tests: Vec<TestResult>,
    /// Not computed yet.
    pub moments: Option<()>,
    pub verdict: VerdictResult,
    #[serde(skip)]
    pub assessment: Assessment,
}

/// The contract's UNITROOT.
#[derive(Serialize)]
pub struct TestResult {
    pub test: TestName,
    pub differenced: usize,
    pub null: Null,
    pub terms: Terms,
    pub lags: Option<usize>,
    pub lag_rule: Option<&'static str>,
    pub max_lags: Option<usize>,
    pub bandwidth: Option<usize>,
    pub bandwidth_rule: Option<&'static str>,
    pub kernel: Option<Kernel>,
    pub sample: Sample,
    pub statistic: f64,
    pub p_value: f64,
    pub critical: CriticalValues,
    pub decision: &'static str,
    pub meaning: String,
    pub notes: Vec<&'static str>,
    pub detail: BTreeMap<&'static str, Vec<RegressionLine>>,
}

/// The periods a test explains.
#[derive(Serialize)]
pub struct Sample {
    pub first: String,
    pub last: String,
    pub observations: usize,
}

/// A line of the auxiliary regression.
#[derive(Serialize)]
pub struct RegressionLine {
    pub name: String,
    pub estimate: f64,
    pub std_error: f64,
    pub t: f64,
}

/// The contract's verdict.
#[derive(Serialize)]
pub struct VerdictResult {
    pub integration: usize,
    pub seasonal_integration: Option<usize>,
    pub class: Class,
    pub break_at: Option<String>,
    pub fractional_d: Option<f64>,
    pub confidence: Confidence,
    pub sentence: String,
    pub reasons: Vec<String>,
    pub next: Vec<String>,
}

/// What the wording depends on beside the numbers.
#[derive(Clone, Copy)]
pub struct Setting<'a> {
    pub file: &'a str,
    pub season: usize,
    pub alpha: f64,
}

/// Puts a result together.
pub fn result(series: &Series, assessment: Assessment, setting: Setting<'_>) -> StationarityResult {
    let tests = assessment
        .stages
        .iter()
        .flat_map(|stage| {
            [&stage.unit_root, &stage.stationarity]
                .map(|test| test_result(series, stage, test, setting.alpha))
        })
        .collect();
    let verdict = VerdictResult {
        integration: assessment.verdict.integration,
        seasonal_integration: None,
        class: assessment.verdict.class,
        break_at: None,
        fractional_d: None,
        confidence: assessment.verdict.confidence,
        sentence: answer(&series.name, &assessment),
        reasons: reasons(&assessment, setting),
        next: next(series, &assessment, setting),
    };
    StationarityResult {
        series: series.name.clone(),
        observations: assessment.observations,
        tests,
        moments: None,
        verdict,
        assessment,
    }
}

fn test_result(series: &Series, stage: &DifferenceTests, test: &UnitRootTest, alpha: f64) -> TestResult {
    let lines: Vec<RegressionLine> = test.regression.iter().map(regression_line).collect();
    let detail = if lines.is_empty() { BTreeMap::new() } else { BTreeMap::from([("regression", lines)]) };
    TestResult {
        test: test.test,
        differenced: stage.differenced,
        null: test.null,
        terms: test.terms,
        lags: test.lags,
        lag_rule: test.lag_rule.map(words::lag_rule),
        max_lags: test.max_lags,
        bandwidth: test.bandwidth,
        bandwidth_rule: test.bandwidth_rule.map(bandwidth_rule),
        kernel: test.kernel,
        sample: Sample {
            first: series.period(stage.differenced + test.first_used).to_string(),
            last: series.last().to_string(),
            observations: test.used(),
        },
        statistic: test.statistic,
        p_value: test.p_value,
        critical: test.critical,
        decision: decision(test, alpha),
        meaning: meaning(stage.differenced, test, alpha),
        notes: test.notes.iter().map(|note| doubt(*note)).collect(),
        detail,
    }
}

fn regression_line(line: &Coefficient) -> RegressionLine {
    let name = match line.regressor {
        Regressor::Constant => "constant".to_owned(),
        Regressor::Trend => "trend".to_owned(),
        Regressor::LaggedLevel => "level[t-1]".to_owned(),
        Regressor::LaggedChange(lag) => format!("change[t-{lag}]"),
    };
    RegressionLine { name, estimate: line.estimate, std_error: line.std_error, t: line.t }
}

fn bandwidth_rule(rule: Bandwidth) -> &'static str {
    match rule {
        Bandwidth::Automatic => "auto",
        Bandwidth::Short => "short",
        Bandwidth::Long => "long",
        Bandwidth::Given(_) => "given",
    }
}

fn decision(test: &UnitRootTest, alpha: f64) -> &'static str {
    if test.rejects(alpha) { "rejected" } else { "not rejected" }
}

fn doubt(note: Note) -> &'static str {
    match note {
        Note::OutsideSimulation => {
            "the null distribution is extrapolated: so many lags for so short a series were not simulated"
        }
        Note::BeyondSimulatedLevels => {
            "the p-value lies beyond the outermost simulated level and is extrapolated"
        }
        Note::WideBandwidth => {
            "the bandwidth spans more than a quarter of the series: the test has little power"
        }
    }
}

/// What a decision means for this series, in words.
fn meaning(differenced: usize, test: &UnitRootTest, alpha: f64) -> String {
    let what = match differenced {
        0 => "the level",
        1 => "the first difference",
        _ => "the second difference",
    };
    let around = words::around(test.terms);
    match (test.null, test.rejects(alpha)) {
        (Null::UnitRoot, true) => format!("a unit root in {what} is rejected: it returns to {around}"),
        (Null::UnitRoot, false) => format!("a unit root in {what} cannot be ruled out"),
        (Null::Stationary, true) => format!("that {what} is stationary around {around} is rejected"),
        (Null::Stationary, false) => {
            format!("nothing speaks against {what} being stationary around {around}")
        }
    }
}

/// The answer in one sentence.
fn answer(name: &str, assessment: &Assessment) -> String {
    let verdict = assessment.verdict;
    let times = if verdict.integration == 1 { "once" } else { "twice" };
    match verdict.class {
        Class::Stationary => format!("{name} is stationary around a constant level: use it as it is (I(0))."),
        Class::TrendStationary => {
            format!(
                "{name} is stationary around a linear trend: take out the trend, do not difference (I(0))."
            )
        }
        Class::DifferenceStationary => {
            format!(
                "{name} is not stationary, it has a unit root: difference {times} (I({})).",
                verdict.integration
            )
        }
        Class::Inconclusive => format!(
            "The tests do not settle whether {name} is stationary; I({}) is the likelier reading.",
            verdict.integration
        ),
    }
}

fn reasons(assessment: &Assessment, setting: Setting<'_>) -> Vec<String> {
    let mut reasons = Vec::new();
    reasons.extend(assessment.terms_choice.map(terms_reason));
    for stage in &assessment.stages {
        for test in [&stage.unit_root, &stage.stationarity] {
            reasons.push(format!(
                "{} of {}: {} (p = {}).",
                name_of(test.test),
                what_differenced(stage.differenced),
                meaning(stage.differenced, test, setting.alpha),
                p_value(test.p_value)
            ));
            reasons
                .extend(test.notes.iter().map(|note| format!("{}: {}.", name_of(test.test), doubt(*note))));
        }
        reasons.push(together(stage));
    }
    reasons.push(confidence(assessment));
    reasons
}

fn what_differenced(times: usize) -> &'static str {
    match times {
        0 => "the level",
        1 => "the first difference",
        _ => "the second difference",
    }
}

fn name_of(test: TestName) -> &'static str {
    match test {
        TestName::Adf => "ADF",
        TestName::Kpss => "KPSS",
    }
}

fn terms_reason(choice: TermsChoice) -> String {
    let finding = match choice.reason {
        TermsReason::Slope => "The level, taken as stationary around a trend, has a slope of",
        TermsReason::MeanChange => "The mean change per period is",
    };
    let conclusion = match choice.terms {
        Terms::Trend => "so the tests of the level allow for a trend",
        Terms::Constant | Terms::None => {
            "not distinguishable from none, so the tests of the level allow for a constant only"
        }
    };
    let size = choice.per_period.abs();
    let decimals = if size >= 100.0 {
        1
    } else if size >= 0.1 {
        3
    } else {
        6
    };
    format!(
        "{finding} {} (z = {}, p = {}), {conclusion}.",
        number(choice.per_period, decimals),
        number(choice.z, 2),
        p_value(choice.p_value)
    )
}

fn together(stage: &DifferenceTests) -> String {
    let what = what_differenced(stage.differenced);
    match stage.reading {
        Reading::Stationary => format!("Both agree: {what} is stationary."),
        Reading::UnitRoot => format!("Both agree: {what} is not stationary."),
        Reading::Conflict => format!(
            "They contradict each other on {what}, both nulls being rejected: a break, long memory or \
             changing variance often looks so."
        ),
        Reading::Silent => format!(
            "Neither says anything firm on {what}: too few observations for so weak a tendency either way."
        ),
    }
}

fn confidence(assessment: &Assessment) -> String {
    let short = if assessment.observations < 100 {
        format!(" Only {} observations: one notch less.", assessment.observations)
    } else {
        String::new()
    };
    let why = match assessment.verdict.confidence {
        Confidence::High => "Confidence is high: the tests agree, each by a clear margin.",
        Confidence::Moderate => "Confidence is moderate: the tests agree, but not all by a clear margin.",
        Confidence::Low => "Confidence is low: the tests do not agree clearly.",
    };
    format!("{why}{short}")
}

fn next(series: &Series, assessment: &Assessment, setting: Setting<'_>) -> Vec<String> {
    let name = &series.name;
    if name.contains(' ') {
        return Vec::new();
    }
    let joint = if name.contains(':') { ',' } else { ':' };
    let shown = words::shell_word(name);
    let chain = vec!["d1"; assessment.verdict.integration].join(",");
    let differenced = if chain.is_empty() { shown.clone() } else { format!("{shown}{joint}{chain}") };
    let mut lines = vec![format!("kandrel acf {} {differenced}", setting.file)];
    if setting.season > 1 && assessment.verdict.integration > 0 {
        lines.push(format!("kandrel acf {} {differenced},d{}", setting.file, setting.season));
    }
    lines
}

/// The result as a document.
pub fn document(result: &StationarityResult, series: &Series) -> Document {
    let mut document = Document::default();
    document.paragraph(format!(
        "{} Confidence: {}.",
        result.verdict.sentence,
        confidence_word(result.verdict.confidence)
    ));
    document.paragraph(format!(
        "{}, {} to {}. p-values are for series of this length and for the search of lags.",
        words::count(result.observations, "observation"),
        series.start,
        series.last()
    ));
    document.table(table(result));
    document.blocks.push(Block::EvidenceLegend);
    document.list("Reasons", result.verdict.reasons.clone());
    document.commands("Next", result.verdict.next.clone());
    document
}

fn confidence_word(confidence: Confidence) -> &'static str {
    match confidence {
        Confidence::High => "high",
        Confidence::Moderate => "moderate",
        Confidence::Low => "low",
    }
}

fn table(result: &StationarityResult) -> Table {
    let mut table = Table::new(&[
        ("Series", Align::Left),
        ("Test", Align::Left),
        ("Null", Align::Left),
        ("Terms", Align::Left),
        ("Lags", Align::Decimal),
        ("Statistic", Align::Decimal),
        ("5 %", Align::Decimal),
        ("p", Align::Left),
        ("Null is", Align::Left),
    ]);
    let mut last = None;
    for test in &result.tests {
        let new_block = last != Some(test.differenced);
        last = Some(test.differenced);
        table.rows.push(vec![
            Cell::text(if new_block { words::differenced(test.differenced) } else { "" }),
            Cell::text(name_of(test.test)),
            Cell::text(match test.null {
                Null::UnitRoot => "unit root",
                Null::Stationary => "stationary",
            }),
            Cell::text(words::terms(test.terms)),
            test.lags.or(test.bandwidth).map_or(Cell::Missing, Cell::Count),
            Cell::number(test.statistic, 3),
            Cell::number(test.critical.five, 3),
            Cell::PValue(test.p_value),
            Cell::text(test.decision),
        ]);
    }
    table
}
