//! Tests of randomness as facts: the contract's result.

use kandrel_core::randomness::{self, Departure, JointReading, Outcome, RandomnessTests};
use kandrel_core::series::Series;
use schemars::JsonSchema;
use serde::Serialize;
use serde_json::{Value, json};

use crate::present::sample::Sample;
use crate::present::test_line::{TestEntry, TestLine};
use crate::wording;
use crate::wording::test_names;

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

/// A test before the joint reading: what it is about, if it has a say of its own.
struct Entry {
    test: &'static str,
    label: String,
    about: Option<Departure>,
    outcome: Outcome,
    meanings: [&'static str; 2],
    detail: Value,
}

impl Entry {
    /// A test with a say of its own.
    fn on(
        about: Departure,
        test: &'static str,
        label: impl Into<String>,
        outcome: Outcome,
        meanings: [&'static str; 2],
        detail: Value,
    ) -> Self {
        Self { test, label: label.into(), about: Some(about), outcome, meanings, detail }
    }
}

fn entries(randomness_tests: &RandomnessTests, about: &str) -> Vec<Entry> {
    on_order(randomness_tests, about)
        .into_iter()
        .chain(on_sums(randomness_tests))
        .chain(on_shape(randomness_tests))
        .collect()
}

/// What the null means, and what a rejection means on either side of it.
fn by_side(outcome: Outcome, kept: &'static str, high: &'static str, low: &'static str) -> [&'static str; 2] {
    [kept, if outcome.statistic > 0.0 { high } else { low }]
}

/// Tests on the order of the values alone.
fn on_order(randomness_tests: &RandomnessTests, about: &str) -> Vec<Entry> {
    use Departure::{Asymmetry, Dependence, Trend};
    let runs = &randomness_tests.runs;
    let (turns, signs) = (randomness_tests.turning_points, randomness_tests.difference_sign);
    let (trend, ratio) = (randomness_tests.rank_trend, randomness_tests.rank_von_neumann);
    let of_runs = by_side(
        runs.outcome,
        "number of runs as under randomness",
        "too many runs: values alternate",
        "too few runs: high values follow high ones",
    );
    let of_turns = by_side(
        turns.0,
        "number of turning points as under randomness",
        "too many turns: values alternate",
        "too few turns: values move smoothly",
    );
    let of_signs =
        by_side(signs.0, "rises and falls are in balance", "rises outnumber falls", "falls outnumber rises");
    let of_trend = by_side(
        trend.0,
        "later values are neither higher nor lower",
        "later values are higher",
        "later values are lower",
    );
    let of_ratio = by_side(
        ratio.0,
        test_names::NO_AUTOCORRELATION,
        "negative autocorrelation",
        "positive autocorrelation",
    );
    let of_cut = json!({"about": about, "cut": runs.cut, "runs": runs.runs, "above": runs.above,
        "below": runs.below, "equal": runs.equal, "expected": runs.expected, "sd": runs.sd,
        "exact": runs.exact});
    vec![
        Entry::on(Dependence, "runs", format!("Runs about the {about}"), runs.outcome, of_runs, of_cut),
        Entry::on(
            Dependence,
            "turning_points",
            test_names::TURNING_POINTS,
            turns.0,
            of_turns,
            json!({"turning_points": turns.1}),
        ),
        Entry::on(
            Asymmetry,
            "difference_sign",
            "Difference sign",
            signs.0,
            of_signs,
            json!({"rises": signs.1}),
        ),
        Entry::on(Trend, "rank_trend", "Rank trend", trend.0, of_trend, json!({"tau": trend.1})),
        Entry::on(
            Dependence,
            "rank_von_neumann",
            "Rank von Neumann",
            ratio.0,
            of_ratio,
            json!({"ratio": ratio.1}),
        ),
    ]
}

/// Tests on correlations and on sums.
fn on_sums(randomness_tests: &RandomnessTests) -> Vec<Entry> {
    let mut all = vec![Entry::on(
        Departure::Dependence,
        "ljung_box",
        format!("{}, {} lags", test_names::LJUNG_BOX, randomness_tests.lags),
        randomness_tests.ljung_box,
        ["autocorrelations are small together", "values depend on earlier ones"],
        json!({"lags": randomness_tests.lags}),
    )];
    all.extend(randomness_tests.variance_ratios.iter().map(|ratio| Entry {
        test: "variance_ratio",
        label: format!("Variance ratio, {}", ratio.horizon),
        about: None,
        outcome: ratio.outcome,
        meanings: by_side(
            ratio.outcome,
            "variance of sums as under randomness",
            "variance of sums too large: persistence",
            "variance of sums too small: mean reversion",
        ),
        detail: json!({"horizon": ratio.horizon, "ratio": ratio.ratio, "z": ratio.outcome.statistic,
            "z_robust": ratio.z_robust}),
    }));
    all.extend(randomness_tests.joint_variance_ratio.map(|outcome| {
        Entry::on(
            Departure::Dependence,
            "variance_ratio_joint",
            "Variance ratios, joint",
            outcome,
            ["no horizon rejects", "the variance ratio of some horizon rejects"],
            json!({"horizons": randomness_tests.variance_ratios.len()}),
        )
    }));
    all
}

/// Tests on variance and shape.
fn on_shape(randomness_tests: &RandomnessTests) -> Vec<Entry> {
    let (outcome, skewness, kurtosis) = randomness_tests.jarque_bera;
    let spread = randomness_tests.mcleod_li.map(|outcome| {
        Entry::on(
            Departure::Heteroskedasticity,
            "mcleod_li",
            format!("{}, {} lags", test_names::MCLEOD_LI, randomness_tests.lags),
            outcome,
            ["no clusters of large moves", "large moves come in clusters"],
            json!({"lags": randomness_tests.lags}),
        )
    });
    let shape = Entry::on(
        Departure::NotNormal,
        "jarque_bera",
        test_names::JARQUE_BERA,
        outcome,
        ["shape of a normal distribution", "not the shape of a normal distribution"],
        json!({"skewness": skewness, "kurtosis": kurtosis}),
    );
    spread.into_iter().chain([shape]).collect()
}

/// Puts a result together.
pub fn result(
    series: &Series,
    randomness_tests: &RandomnessTests,
    about: &str,
    alpha: f64,
) -> RandomnessResult {
    let entries = entries(randomness_tests, about);
    let heard: Vec<(Departure, f64)> =
        entries.iter().filter_map(|entry| Some((entry.about?, entry.outcome.p_value))).collect();
    let joint = randomness::joint_reading(&heard, alpha);
    let mut adjusted = joint.adjusted.iter();
    let tests = entries.into_iter().map(|entry| {
        let own = TestEntry {
            test: entry.test,
            name: entry.label,
            null: if entry.about == Some(Departure::NotNormal) {
                test_names::NORMALITY
            } else {
                test_names::INDEPENDENT
            },
            statistic: entry.outcome.statistic,
            p_value: entry.outcome.p_value,
            meanings: entry.meanings,
            detail: entry.detail,
        };
        let p_adjusted = entry.about.and_then(|_| adjusted.next().copied());
        TestResult { line: own.decided_by(p_adjusted, alpha), p_adjusted }
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
        cut: randomness_tests.runs.cut,
    }
}

fn reading(name: &str, joint: &JointReading, alpha: f64) -> String {
    let level = format!("at {} %, allowing for {} tests", wording::percent(alpha), joint.adjusted.len());
    let found = |departure| joint.departures.contains(&departure);
    let mut parts = Vec::new();
    if found(Departure::Trend) {
        parts.push("it has a trend");
    }
    if found(Departure::Asymmetry) {
        parts.push("its rises and falls are asymmetric");
    }
    if found(Departure::Dependence) {
        parts.push("its values depend on earlier ones");
    }
    if found(Departure::Heteroskedasticity) {
        parts.push("it has conditional heteroskedasticity");
    }
    match (parts.as_slice(), found(Departure::NotNormal)) {
        ([], false) => format!("Randomness of {name} is not rejected by any test {level}."),
        ([], true) => format!("Randomness of {name} is not rejected {level}, but normality is."),
        (parts, _) => format!("{name} is not random: {} ({level}).", parts.join(", and ")),
    }
}
