//! A forecast as facts: the contract's result.

use kandrel_core::arima::{Diagnosis, Doubt, Fit, doubts};
use kandrel_core::outlook::{self, Accuracy, Step};
use kandrel_core::regressor::Regressors;
use kandrel_core::series::SeriesWithGaps;
use kandrel_core::time::Period;
use schemars::JsonSchema;
use serde::Serialize;

use crate::present::diagnosis::DiagnosisResult;
use crate::present::orders::RivalResult;
use crate::present::sample::Sample;

/// The contract's result of `forecast`.
#[derive(JsonSchema, Serialize)]
pub struct ForecastResult {
    pub series: String,
    /// What the forecasts are of: the series before its steps, unless its scale is kept.
    pub units: String,
    pub model: String,
    /// Names of the regressors.
    pub with: Vec<String>,
    /// The last period that is known to the model.
    pub origin: String,
    /// median or mean
    pub point: &'static str,
    pub steps: Vec<StepResult>,
    /// Of the steps whose truth the data hold; none without any.
    pub accuracy: Option<Outcome>,
    /// Where asked for: paths drawn from the joint distribution, one value for each step.
    pub paths: Option<Vec<Vec<Option<f64>>>>,
    /// Their seed.
    pub seed: Option<u64>,
    /// Ljung-Box of the residuals; none where the lags leave no degrees of freedom.
    pub white_noise_p: Option<f64>,
    /// The steps of the series, as written; none for a bare column, or where its scale is kept.
    pub transform: Option<String>,
    /// The observations that were used.
    pub sample: Sample,
    /// How the model was found, where it was not named.
    pub search: Option<Chosen>,
    /// Whether the transformation is the one that the diagnosis advises, not one that was typed.
    pub transform_advised: bool,
    /// The treatments that were compared, the chosen one first; empty where the diagnosis left nothing open.
    pub rivals: Vec<RivalResult>,
    /// The models whose forecasts these are the mean of; empty without --average.
    pub average: Vec<MemberResult>,
    /// Whether the variance of the residuals changes over time (McLeod-Li at 5 %).
    pub heteroskedastic: bool,
    /// The joint assessment of the series.
    pub diagnosis: Option<DiagnosisResult>,
    pub warnings: Vec<Doubt>,
    /// The last observations, in the units of the forecasts.
    pub history: Vec<PastValue>,
}

/// An observation; none where it is missing.
#[derive(Debug, Clone, Copy, JsonSchema, Serialize)]
pub struct PastValue {
    pub period: Period,
    pub value: Option<f64>,
}

/// One period ahead.
#[derive(JsonSchema, Serialize)]
pub struct StepResult {
    pub period: Period,
    pub point: f64,
    /// None where the interval has no end.
    pub low80: Option<f64>,
    pub high80: Option<f64>,
    pub low95: Option<f64>,
    pub high95: Option<f64>,
    /// Standard deviation in the units of the forecast; none where there is none.
    pub std_error: Option<f64>,
    /// What came to be, where the data hold it.
    pub actual: Option<f64>,
}

/// How forecasts met what came to be.
#[derive(JsonSchema, Serialize)]
pub struct Outcome {
    pub known: usize,
    pub inside80: usize,
    pub inside95: usize,
    #[serde(flatten)]
    pub errors: Accuracy,
}

/// A model of an average.
#[derive(Debug, Clone, JsonSchema, Serialize)]
pub struct MemberResult {
    /// The series with its steps.
    pub series: String,
    pub model: String,
    /// Beside it.
    pub with: Vec<String>,
}

/// How a model was found.
#[derive(Debug, Clone, JsonSchema, Serialize)]
pub struct Chosen {
    /// Models that were estimated.
    pub searched: usize,
    /// Why the series is differenced so often.
    pub why: String,
}

/// What a result is made of.
pub struct Made<'a> {
    pub series: &'a SeriesWithGaps,
    pub units: &'a str,
    pub history: Vec<PastValue>,
    pub fit: &'a Fit,
    pub checked: Diagnosis,
    pub regressors: &'a Regressors,
    pub chosen: Option<Chosen>,
    pub rivals: Vec<RivalResult>,
    pub advised: bool,
    pub average: Vec<MemberResult>,
    pub diagnosis: Option<DiagnosisResult>,
    pub periods: &'a [Period],
    pub steps: &'a [Step],
    pub actual: &'a [Option<f64>],
    /// Mean absolute change over a season up to the origin.
    pub scale: Option<f64>,
    /// Drawn paths and their seed.
    pub paths: Option<Vec<Vec<f64>>>,
    pub seed: u64,
    pub mean: bool,
}

/// Level of the notes on residuals.
pub(super) const ALPHA: f64 = 0.05;

/// Puts a result together.
pub fn result(made: &Made<'_>) -> ForecastResult {
    let series = made.series;
    let rows = made.periods.iter().zip(made.steps).zip(made.actual);
    let steps: Vec<StepResult> =
        rows.map(|((period, step), actual)| step_result(*period, step, *actual, made.mean)).collect();
    let name = series.name.as_str();
    ForecastResult {
        series: name.to_owned(),
        units: made.units.to_owned(),
        model: made.fit.model.to_string(),
        with: made.regressors.terms(),
        origin: series.period(series.cells.len().saturating_sub(1)).to_string(),
        point: if made.mean { "mean" } else { "median" },
        accuracy: accuracy(&steps, made.scale),
        seed: made.paths.as_ref().map(|_| made.seed),
        paths: made.paths.as_ref().map(|all| {
            let known = |value: &f64| value.is_finite().then_some(*value);
            all.iter().map(|path| path.iter().map(known).collect()).collect()
        }),
        steps,
        white_noise_p: made.checked.ljung_box.map(|outcome| outcome.p_value),
        transform: (made.units != name)
            .then(|| name.strip_prefix(made.units).unwrap_or(name).trim_start_matches(':').to_owned()),
        sample: Sample::with_gaps(series),
        search: made.chosen.clone(),
        transform_advised: made.advised,
        rivals: made.rivals.clone(),
        average: made.average.clone(),
        diagnosis: made.diagnosis.clone(),
        heteroskedastic: made.checked.mcleod_li.is_some_and(|outcome| outcome.p_value <= ALPHA),
        warnings: doubts(&made.fit.coefficients),
        history: made.history.clone(),
    }
}

fn step_result(period: Period, step: &Step, actual: Option<f64>, mean: bool) -> StepResult {
    let [low80, high80] = step.inner;
    let [low95, high95] = step.outer;
    let point = if mean { step.mean.unwrap_or(step.median) } else { step.median };
    StepResult { period, point, low80, high80, low95, high95, std_error: step.std_error, actual }
}

fn accuracy(steps: &[StepResult], scale: Option<f64>) -> Option<Outcome> {
    let known: Vec<(&StepResult, f64)> = steps.iter().filter_map(|step| Some((step, step.actual?))).collect();
    if known.is_empty() {
        return None;
    }
    let inside = |low: fn(&StepResult) -> Option<f64>, high: fn(&StepResult) -> Option<f64>| {
        let holds = |(step, actual): &&(&StepResult, f64)| {
            low(step).is_none_or(|low| low <= *actual) && high(step).is_none_or(|high| *actual <= high)
        };
        known.iter().filter(holds).count()
    };
    let pairs: Vec<(f64, f64)> = known.iter().map(|(step, actual)| (*actual, step.point)).collect();
    Some(Outcome {
        known: known.len(),
        inside80: inside(|step| step.low80, |step| step.high80),
        inside95: inside(|step| step.low95, |step| step.high95),
        errors: outlook::accuracy(&pairs, scale)?,
    })
}
