//! Outliers as facts: the contract's result.

use std::collections::BTreeMap;

use kandrel_core::outlier::{EventKind, Method, OutlyingValue, Repair, Repaired, ScaledOutliers};
use kandrel_core::series::Series;
use schemars::JsonSchema;
use serde::Serialize;

use crate::present::diagnosis::DiagnosisResult;
use crate::present::sample::Sample;

/// The contract's result of `outliers`.
#[derive(JsonSchema, Serialize)]
pub struct OutliersResult {
    pub series: String,
    pub observations: usize,
    /// The transformation after which they were looked for; values are on the scale of the series.
    pub transformation: String,
    /// The methods that were used.
    pub methods: Vec<Method>,
    /// That number of of them must agree.
    pub methods_required: usize,
    /// Standard errors from which the likelihood alone marks a single value.
    pub threshold: f64,
    /// And a level shift.
    pub threshold_level_shift: f64,
    /// Values that are flagged.
    pub outliers: Vec<FoundResult>,
    /// Values that one more method would mark.
    pub candidates: Vec<FoundResult>,
    /// How many further values each method flags without the others.
    pub flagged_alone: BTreeMap<&'static str, usize>,
    pub replacement: Repair,
    pub replaced: Vec<RepairedResult>,
    /// The growing window judges no value before this period; none if it was not used.
    pub first_tested: Option<String>,
    /// The observations that were used.
    pub sample: Sample,
    /// The joint assessment of the series.
    pub diagnosis: Option<DiagnosisResult>,
    /// That of the series with its outliers replaced; none where there are none.
    pub diagnosis_after_replacement: Option<DiagnosisResult>,
    /// What was expected in each period, outlying or not.
    pub expected: Vec<f64>,
}

/// A value that is flagged.
#[derive(Clone, JsonSchema, Serialize)]
pub struct FoundResult {
    pub period: String,
    pub value: f64,
    pub expected: f64,
    /// The largest of the scores, in standard deviations.
    pub score: f64,
    pub methods: Vec<Method>,
    pub kind: EventKind,
    pub scores: BTreeMap<&'static str, f64>,
    /// Place in the series, from 0.
    pub place: usize,
}

/// A value that was replaced.
#[derive(JsonSchema, Serialize)]
pub struct RepairedResult {
    pub period: String,
    pub from: f64,
    pub to: f64,
    /// Place in the series, from 0.
    pub place: usize,
}

/// Puts a result together.
pub fn result(
    series: &Series,
    scaled: &ScaledOutliers,
    rule: Repair,
    repaired: &[Repaired],
    [diagnosis, diagnosis_after_replacement]: [Option<DiagnosisResult>; 2],
) -> OutliersResult {
    let found = scaled.outliers();
    let listed = |wanted: fn(&OutlyingValue) -> bool| -> Vec<FoundResult> {
        found.outliers.iter().filter(|one| wanted(one)).map(|one| listed(series, one)).collect()
    };
    let mut flagged_alone = BTreeMap::new();
    for one in found.outliers.iter().filter(|one| !one.marked && !one.is_candidate) {
        for (method, _) in &one.scores {
            *flagged_alone.entry(name(*method)).or_insert(0) += 1;
        }
    }
    let growing = found.methods.contains(&Method::Expanding) && found.unjudged < series.values.len();
    OutliersResult {
        diagnosis,
        diagnosis_after_replacement,
        series: series.name.clone(),
        observations: series.values.len(),
        transformation: scaled.transformation.to_string(),
        methods: found.methods.clone(),
        methods_required: found.agreeing,
        threshold: found.clear,
        threshold_level_shift: found.clear_shift,
        outliers: listed(|one| one.marked),
        candidates: listed(|one| one.is_candidate),
        flagged_alone,
        replacement: rule,
        replaced: repaired
            .iter()
            .map(|one| RepairedResult {
                period: series.period(one.place).to_string(),
                from: one.from,
                to: one.to,
                place: one.place,
            })
            .collect(),
        first_tested: growing.then(|| series.period(found.unjudged).to_string()),
        sample: Sample::of(series),
        expected: found.expected,
    }
}

fn listed(series: &Series, one: &OutlyingValue) -> FoundResult {
    let largest = one.scores.iter().map(|(_, score)| *score).max_by(|a, b| a.abs().total_cmp(&b.abs()));
    FoundResult {
        period: series.period(one.place).to_string(),
        value: series.values.get(one.place).copied().unwrap_or_default(),
        expected: one.expected,
        score: largest.unwrap_or_default(),
        methods: one.scores.iter().map(|(method, _)| *method).collect(),
        kind: one.kind,
        scores: one.scores.iter().map(|(method, score)| (name(*method), *score)).collect(),
        place: one.place,
    }
}

pub(super) fn name(method: Method) -> &'static str {
    match method {
        Method::Expanding => "expanding",
        Method::Seasonal => "seasonal",
        Method::Irregular => "irregular",
        Method::Likelihood => "likelihood",
    }
}
