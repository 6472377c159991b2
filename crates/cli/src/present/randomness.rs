//! Tests of randomness: the contract's result, its reading and its text.

use kandrel_core::randomness::{self, Battery, Departure, JointReading, Outcome};
use kandrel_core::series::Series;
use schemars::JsonSchema;
use serde::Serialize;
use serde_json::{Value, json};

use crate::call::{Call, Name};
use crate::document::{Along, Block, Document, Ink, Line, Panel, Plot, Table};
use crate::present::sample::Sample;
use crate::present::test_line::{TestEntry, TestLine};
use crate::wording;

/// The contract's result of `randomness`.
#[derive(JsonSchema, Serialize)]
pub struct RandomnessResult {
    pub series: String,
    pub first: String,
    pub last: String,
    pub observations: usize,
    pub tests: Vec<TestResult>,
    pub departures: Vec<Departure>,
    pub reading: String,
    /// The observations that were used.
    pub sample: Sample,
    /// Where the runs test cuts the series.
    pub cut: f64,
}

/// The contract's TEST, allowing for the others.
#[derive(JsonSchema, Serialize)]
pub struct TestResult {
    #[serde(flatten)]
    pub line: TestLine,
    /// Allowing for the number of tests (Holm); none for a part of another test.
    pub p_adjusted: Option<f64>,
}

const RANDOM: &str = "independent and identically distributed";
const NORMAL: &str = "normally distributed";

/// A test before the joint reading: what it is about, if it has a say of its own.
struct Entry {
    test: &'static str,
    label: String,
    about: Option<Departure>,
    outcome: Outcome,
    meanings: [&'static str; 2],
    detail: Value,
}

fn entries(battery: &Battery, about: &str) -> Vec<Entry> {
    on_order(battery, about).into_iter().chain(on_sums(battery)).chain(on_shape(battery)).collect()
}

/// What a rejection means, by the side of the statistic.
fn up(outcome: &Outcome, high: &'static str, low: &'static str) -> &'static str {
    if outcome.statistic > 0.0 { high } else { low }
}

/// Tests on the order of the values alone.
fn on_order(battery: &Battery, about: &str) -> Vec<Entry> {
    let runs = &battery.runs;
    let dependence = Some(Departure::Dependence);
    vec![
        Entry {
            test: "runs",
            label: format!("Runs about the {about}"),
            about: dependence,
            outcome: runs.outcome,
            meanings: [
                "as many runs as chance makes",
                up(
                    &runs.outcome,
                    "too many runs: values alternate",
                    "too few runs: high values follow high ones",
                ),
            ],
            detail: json!({"about": about, "cut": runs.cut, "runs": runs.runs, "above": runs.above,
                "below": runs.below, "equal": runs.equal, "expected": runs.expected, "sd": runs.sd,
                "exact": runs.exact}),
        },
        Entry {
            test: "turning_points",
            label: "Turning points".to_owned(),
            about: dependence,
            outcome: battery.turning_points.0,
            meanings: [
                "as many turns as chance makes",
                up(
                    &battery.turning_points.0,
                    "too many turns: values alternate",
                    "too few turns: values move smoothly",
                ),
            ],
            detail: json!({"turning_points": battery.turning_points.1}),
        },
        Entry {
            test: "difference_sign",
            label: "Difference sign".to_owned(),
            about: Some(Departure::Trend),
            outcome: battery.difference_sign.0,
            meanings: [
                "rises and falls are in balance",
                up(&battery.difference_sign.0, "rises outnumber falls", "falls outnumber rises"),
            ],
            detail: json!({"rises": battery.difference_sign.1}),
        },
        Entry {
            test: "rank_trend",
            label: "Rank trend".to_owned(),
            about: Some(Departure::Trend),
            outcome: battery.rank_trend.0,
            meanings: [
                "later values are neither higher nor lower",
                up(&battery.rank_trend.0, "later values are higher", "later values are lower"),
            ],
            detail: json!({"tau": battery.rank_trend.1}),
        },
        Entry {
            test: "rank_von_neumann",
            label: "Rank von Neumann".to_owned(),
            about: dependence,
            outcome: battery.rank_von_neumann.0,
            meanings: [
                "neighbours are as unlike as any two values",
                up(&battery.rank_von_neumann.0, "neighbours are too unlike", "neighbours are too alike"),
            ],
            detail: json!({"ratio": battery.rank_von_neumann.1}),
        },
    ]
}

/// Tests on correlations and on sums.
fn on_sums(battery: &Battery) -> Vec<Entry> {
    let dependence = Some(Departure::Dependence);
    let mut all = vec![Entry {
        test: "ljung_box",
        label: format!("Ljung-Box, {} lags", battery.lags),
        about: dependence,
        outcome: battery.ljung_box,
        meanings: ["autocorrelations are small together", "values depend on earlier ones"],
        detail: json!({"lags": battery.lags}),
    }];
    for ratio in &battery.variance_ratios {
        all.push(Entry {
            test: "variance_ratio",
            label: format!("Variance ratio, {}", ratio.horizon),
            about: None,
            outcome: ratio.outcome,
            meanings: [
                "sums spread as chance makes them",
                up(
                    &ratio.outcome,
                    "sums spread too much: moves persist",
                    "sums spread too little: moves are undone",
                ),
            ],
            detail: json!({"horizon": ratio.horizon, "ratio": ratio.ratio, "z": ratio.outcome.statistic,
                "z_robust": ratio.z_robust}),
        });
    }
    if let Some(outcome) = battery.joint_variance_ratio {
        all.push(Entry {
            test: "variance_ratio_joint",
            label: "Variance ratios, joint".to_owned(),
            about: dependence,
            outcome,
            meanings: ["no horizon stands out", "sums over some horizon spread unlike chance"],
            detail: json!({"horizons": battery.variance_ratios.len()}),
        });
    }
    all
}

/// Tests on spread and shape.
fn on_shape(battery: &Battery) -> Vec<Entry> {
    let mut all = Vec::new();
    if let Some(outcome) = battery.mcleod_li {
        all.push(Entry {
            test: "mcleod_li",
            label: format!("McLeod-Li, {} lags", battery.lags),
            about: Some(Departure::Spread),
            outcome,
            meanings: ["no clusters of large moves", "large moves come in clusters"],
            detail: json!({"lags": battery.lags}),
        });
    }
    all.push(Entry {
        test: "jarque_bera",
        label: "Jarque-Bera".to_owned(),
        about: Some(Departure::NotNormal),
        outcome: battery.jarque_bera.0,
        meanings: ["shape of a normal distribution", "not the shape of a normal distribution"],
        detail: json!({"skewness": battery.jarque_bera.1, "kurtosis": battery.jarque_bera.2}),
    });
    all
}

/// Puts a result together.
pub fn result(series: &Series, battery: &Battery, about: &str, alpha: f64) -> RandomnessResult {
    let entries = entries(battery, about);
    let heard: Vec<(Departure, f64)> =
        entries.iter().filter_map(|entry| Some((entry.about?, entry.outcome.p_value))).collect();
    let joint = randomness::joint_reading(&heard, alpha);
    let mut adjusted = joint.adjusted.iter();
    let tests = entries.into_iter().map(|entry| {
        let own = TestEntry {
            test: entry.test,
            name: entry.label,
            null: if entry.about == Some(Departure::NotNormal) { NORMAL } else { RANDOM },
            statistic: entry.outcome.statistic,
            p_value: entry.outcome.p_value,
            meanings: entry.meanings,
            detail: entry.detail,
        };
        let p_adjusted = entry.about.and_then(|_| adjusted.next().copied());
        TestResult { line: own.decided(alpha), p_adjusted }
    });
    RandomnessResult {
        series: series.name.clone(),
        first: series.start.to_string(),
        last: series.last().to_string(),
        observations: series.values.len(),
        tests: tests.collect(),
        reading: reading(&series.name, &joint, alpha),
        departures: joint.departures,
        sample: Sample::of(series),
        cut: battery.runs.cut,
    }
}

fn reading(name: &str, joint: &JointReading, alpha: f64) -> String {
    let level = format!("at {} %, allowing for {} tests", wording::percent(alpha), joint.adjusted.len());
    let found = |departure| joint.departures.contains(&departure);
    let mut parts = Vec::new();
    if found(Departure::Trend) {
        parts.push("it has a trend");
    }
    if found(Departure::Dependence) {
        parts.push("its values depend on earlier ones");
    }
    if found(Departure::Spread) {
        parts.push("its spread depends on earlier spread");
    }
    match (parts.as_slice(), found(Departure::NotNormal)) {
        ([], false) => format!("{name} looks random: no test rejects {level}."),
        ([], true) => format!("{name} looks random, though not normal: nothing else is rejected {level}."),
        (parts, _) => format!("{name} is not random: {} ({level}).", parts.join(", and ")),
    }
}

/// The result as a document.
pub fn document(result: &RandomnessResult, series: &Series, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(result.reading.clone());
    document
        .paragraph(format!("{}. The null of each test: {RANDOM}; of Jarque-Bera: {NORMAL}.", result.sample));
    document.plot(plot(result, series));
    document.table(table(result));
    document.blocks.push(Block::EvidenceLegend);
    let meant = result.tests.iter().filter(|test| test.line.decision.is_rejection());
    document.list(
        "Rejections, one by one",
        meant.map(|test| format!("{}: {}", test.line.name, test.line.meaning)).collect(),
    );
    document.paragraph("Holm: the p-value allowing for all tests, which the first sentence goes by.");
    let random = result.departures.iter().all(|departure| *departure == Departure::NotNormal);
    document.commands(
        "Next",
        if random {
            Vec::new()
        } else {
            vec![
                call.next(Name::Acf, [&result.series]),
                call.next(Name::Stationarity, [&result.series]).keeping(call, &["alpha"]),
            ]
        },
    );
    document
}

fn table(result: &RandomnessResult) -> Table {
    Table::of(&result.tests)
        .text("Test", |test| test.line.name.clone())
        .number("Stat.", 2, |test| test.line.statistic)
        .p_value("p", |test| test.line.p_value)
        .text("Holm", |test| test.p_adjusted.map(wording::p_value))
        .text("Null is", |test| test.line.decision.text())
        .table()
}

/// The series and its cut.
pub fn plot(result: &RandomnessResult, series: &Series) -> Plot {
    let length = series.values.len();
    let points = series.values.iter().enumerate().map(|(t, value)| Some((t as f64, *value)));
    let ends = [0.0, length.saturating_sub(1) as f64].map(|x| Some((x, result.cut)));
    Plot {
        title: result.reading.clone(),
        subtitle: String::new(),
        foot: String::new(),
        columns: 1,
        panels: vec![Panel {
            title: format!("{} and the cut of its runs, {}", result.series, wording::short(result.cut)),
            along: Along::Periods((0..length).map(|t| series.period(t)).collect()),
            axis: wording::capitalised(series.start.frequency().noun()),
            lines: vec![
                Line::with_gaps(&result.series, Ink::Series(0), points),
                Line::with_gaps("cut", Ink::Mean, ends.into_iter()),
            ],
            ..Panel::default()
        }],
    }
}
