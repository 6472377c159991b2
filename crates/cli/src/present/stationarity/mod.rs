//! Unit-root and stationarity tests: the contract's result, its sentences and
//! its text.

mod reasons;
mod text;
mod wording;

use std::collections::BTreeMap;

use kandrel_core::nulldist::{CriticalValues, Terms};
use kandrel_core::ols::Bandwidth;
use kandrel_core::series::Series;
use kandrel_core::unitroot::verdict::{Assessment, Class, Confidence, DifferenceTests};
use kandrel_core::unitroot::{Coefficient, Kernel, Note, Null, Regressor, TestName, UnitRootTest};
use schemars::JsonSchema;
use serde::Serialize;

pub use text::document;

/// The contract's result of `stationarity`.
#[derive(JsonSchema, Serialize)]
pub struct StationarityResult {
    pub series: String,
    pub observations: usize,
    pub tests: Vec<TestResult>,
    /// Not computed yet.
    pub moments: Option<()>,
    pub verdict: VerdictResult,
}

/// The contract's UNITROOT.
#[derive(JsonSchema, Serialize)]
pub struct TestResult {
    pub test: TestName,
    pub differenced: usize,
    pub null: Null,
    pub terms: Terms,
    /// `auto` where the data chose the terms.
    pub terms_rule: &'static str,
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
#[derive(JsonSchema, Serialize)]
pub struct Sample {
    pub first: String,
    pub last: String,
    pub observations: usize,
}

/// A line of the auxiliary regression.
#[derive(JsonSchema, Serialize)]
pub struct RegressionLine {
    pub name: String,
    pub estimate: f64,
    pub std_error: f64,
    pub t: f64,
}

/// The contract's verdict.
#[derive(JsonSchema, Serialize)]
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
pub fn result(series: &Series, assessment: &Assessment, setting: Setting<'_>) -> StationarityResult {
    let mut tests = Vec::new();
    for stage in &assessment.stages {
        let chosen = stage.differenced == 0 && assessment.terms_choice.is_some();
        let terms_rule = if chosen { "auto" } else { "given" };
        for test in [&stage.unit_root, &stage.stationarity] {
            tests.push(test_result(series, stage, test, terms_rule, setting.alpha));
        }
    }
    let verdict = VerdictResult {
        integration: assessment.verdict.integration,
        seasonal_integration: None,
        class: assessment.verdict.class,
        break_at: None,
        fractional_d: None,
        confidence: assessment.verdict.confidence,
        sentence: reasons::answer(&series.name, assessment),
        reasons: reasons::reasons(assessment, setting.alpha),
        next: reasons::next(series, assessment, setting),
    };
    StationarityResult {
        series: series.name.clone(),
        observations: assessment.observations,
        tests,
        moments: None,
        verdict,
    }
}

fn test_result(
    series: &Series,
    stage: &DifferenceTests,
    test: &UnitRootTest,
    terms_rule: &'static str,
    alpha: f64,
) -> TestResult {
    let lines: Vec<RegressionLine> = test.regression.iter().map(regression_line).collect();
    let detail = if lines.is_empty() { BTreeMap::new() } else { BTreeMap::from([("regression", lines)]) };
    TestResult {
        test: test.test,
        differenced: stage.differenced,
        null: test.null,
        terms: test.terms,
        terms_rule,
        lags: test.lags,
        lag_rule: test.lag_rule.map(wording::lag_rule),
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
            "the bandwidth spans a quarter of the series or more: the test has little power"
        }
    }
}

/// What a decision means for this series, in words.
fn meaning(differenced: usize, test: &UnitRootTest, alpha: f64) -> String {
    let what = what_differenced(differenced);
    let around = wording::around(test.terms);
    match (test.null, test.rejects(alpha)) {
        (Null::UnitRoot, true) => format!("a unit root in {what} is rejected: it returns to {around}"),
        (Null::UnitRoot, false) => format!("a unit root in {what} cannot be ruled out"),
        (Null::Stationary, true) => format!("that {what} is stationary around {around} is rejected"),
        (Null::Stationary, false) => {
            format!("nothing speaks against {what} being stationary around {around}")
        }
    }
}

fn name_of(test: TestName) -> &'static str {
    match test {
        TestName::Adf => "ADF",
        TestName::Kpss => "KPSS",
    }
}

fn what_differenced(times: usize) -> &'static str {
    match times {
        0 => "the level",
        1 => "the first difference",
        _ => "the second difference",
    }
}
