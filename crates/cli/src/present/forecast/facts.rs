//! A forecast as facts: the contract's result.

use kandrel_core::arima::{Diagnosis, Fit, ModelWarning, warnings};
use kandrel_core::evaluate::Member;
use kandrel_core::identify::ScaleComparison;
use kandrel_core::predictive::{self, Accuracy, HorizonForecast, PredictionInterval};
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
    /// The forecast series: the one before the steps, or the transformed series.
    pub units: String,
    pub model: String,
    /// Names of the regressors.
    pub with: Vec<String>,
    /// The last period that the model is estimated from.
    pub origin: String,
    /// median or mean
    pub point: &'static str,
    pub steps: Vec<StepResult>,
    /// Over the periods whose actual values are in the data; none without any.
    pub accuracy: Option<Outcome>,
    /// Where asked for: simulated paths of the joint distribution, one value for each step.
    pub paths: Option<Vec<Vec<Option<f64>>>>,
    /// Where asked for: the number of paths with resampled residuals that the intervals are from.
    pub bootstrap: Option<u32>,
    /// Seed of the simulated paths.
    pub seed: Option<u64>,
    /// Ljung-Box of the residuals; none where the lags leave no degrees of freedom.
    pub white_noise_p: Option<f64>,
    /// The steps of the series, as written; none for a bare column, or where the transformed series is forecast.
    pub transform: Option<String>,
    /// The observations that were used.
    pub sample: Sample,
    /// How the model was found, where it was not named.
    pub search: Option<Chosen>,
    /// The comparison with the scale that the diagnosis advises; none where it advises none, or the choice is not left to it.
    pub scale: Option<ScaleResult>,
    /// The treatments that were compared, the chosen one first; empty where the diagnosis left nothing open.
    pub rivals: Vec<RivalResult>,
    /// The models whose forecasts these are the weighted mean of; empty without --average.
    pub average: Vec<WeightedModel>,
    /// The models whose mixture the intervals are from, the chosen one first; empty where there are no rivals.
    pub mixture: Vec<WeightedModel>,
    /// Periods of a change whose consecutive values overlap; none otherwise.
    pub overlap: Option<usize>,
    /// Whether the variance of the residuals changes over time (McLeod-Li at 5 %).
    pub heteroskedastic: bool,
    /// The joint assessment of the series.
    pub diagnosis: Option<DiagnosisResult>,
    pub warnings: Vec<ModelWarning>,
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
    /// Median, or expected value with --mean.
    pub point: f64,
    /// Expected value; none where it does not exist.
    pub mean: Option<f64>,
    /// Standard deviation on the scale of the forecast; none where it does not exist.
    pub std_error: Option<f64>,
    /// One for each level, the lowest first.
    pub intervals: Vec<IntervalResult>,
    /// The actual value, where the data have it.
    pub actual: Option<f64>,
}

impl StepResult {
    /// The interval of the highest level.
    pub fn widest(&self) -> Option<&IntervalResult> {
        self.intervals.last()
    }
}

/// A prediction interval.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct IntervalResult {
    /// Coverage in per cent.
    pub level: f64,
    /// None where the interval has no lower limit.
    pub lower: Option<f64>,
    /// None where the interval has no upper limit.
    pub upper: Option<f64>,
}

impl From<PredictionInterval> for IntervalResult {
    fn from(own: PredictionInterval) -> Self {
        Self { level: own.level, lower: own.lower, upper: own.upper }
    }
}

impl IntervalResult {
    fn contains(&self, value: f64) -> bool {
        PredictionInterval { level: self.level, lower: self.lower, upper: self.upper }.contains(value)
    }
}

/// Forecasts compared with the actual values.
#[derive(JsonSchema, Serialize)]
pub struct Outcome {
    /// Number of actual values.
    pub known: usize,
    /// How many of them each interval contains.
    pub coverage: Vec<Coverage>,
    #[serde(flatten)]
    pub errors: Accuracy,
}

/// How many actual values the intervals of one level contain.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct Coverage {
    /// In per cent.
    pub level: f64,
    pub inside: usize,
}

/// The scale that the diagnosis advises compared with the original one.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct ScaleResult {
    /// The series on the advised scale.
    pub advised: String,
    /// Whether the model is of that series.
    pub used: bool,
    /// Mean absolute error of its model from rolling origins, on the original scale; none without origins.
    pub advised_mae: Option<f64>,
    /// Mean absolute error of the model on the original scale.
    pub original_mae: Option<f64>,
}

impl ScaleResult {
    /// The comparison in figures.
    pub fn new(advised: &str, used: bool, compared: Option<ScaleComparison>) -> Self {
        Self {
            advised: advised.to_owned(),
            used,
            advised_mae: compared.map(|own| own.advised),
            original_mae: compared.map(|own| own.original),
        }
    }
}

/// A model of an average or a mixture.
#[derive(Debug, Clone, JsonSchema, Serialize)]
pub struct WeightedModel {
    /// Between zero and one.
    pub weight: f64,
    #[serde(flatten)]
    pub model: MemberResult,
}

/// A model with its series.
#[derive(Debug, Clone, JsonSchema, Serialize)]
pub struct MemberResult {
    /// The series with its steps.
    pub series: String,
    pub model: String,
    /// Its regressors.
    pub with: Vec<String>,
}

impl MemberResult {
    /// The name of a member.
    pub fn of(member: &Member) -> Self {
        Self {
            series: member.series.clone(),
            model: member.model.to_string(),
            with: member.regressors.terms(),
        }
    }
}

/// How a model was found.
#[derive(Debug, Clone, JsonSchema, Serialize)]
pub struct Chosen {
    /// Models of the grid that the search covers; those that a bound rules out are not estimated.
    pub searched: usize,
    /// Why the series is differenced.
    pub why: String,
    /// Seasonal period.
    pub season: usize,
    /// The number of observations that seasonal terms would take; none where there are enough, or no season.
    pub needed_for_season: Option<usize>,
    /// Parameters of the chosen model.
    pub parameters: usize,
}

/// What a result is composed of.
pub struct Made<'a> {
    pub series: &'a SeriesWithGaps,
    pub units: &'a str,
    pub history: Vec<PastValue>,
    pub fit: &'a Fit,
    pub checked: Diagnosis,
    pub regressors: &'a Regressors,
    pub chosen: Option<Chosen>,
    pub rivals: Vec<RivalResult>,
    pub scale: Option<ScaleResult>,
    pub average: Vec<WeightedModel>,
    pub mixture: Vec<WeightedModel>,
    pub overlap: Option<usize>,
    pub diagnosis: Option<DiagnosisResult>,
    pub periods: &'a [Period],
    pub steps: &'a [HorizonForecast],
    pub actual: &'a [Option<f64>],
    /// Mean absolute seasonal difference up to the origin.
    pub mean_change: Option<f64>,
    /// Simulated paths.
    pub paths: Option<Vec<Vec<f64>>>,
    /// The number of paths with resampled residuals.
    pub bootstrap: Option<u32>,
    /// Seed of either.
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
        accuracy: accuracy(&steps, made.mean_change),
        seed: (made.paths.is_some() || made.bootstrap.is_some()).then_some(made.seed),
        bootstrap: made.bootstrap,
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
        scale: made.scale.clone(),
        rivals: made.rivals.clone(),
        average: made.average.clone(),
        mixture: made.mixture.clone(),
        overlap: made.overlap,
        diagnosis: made.diagnosis.clone(),
        heteroskedastic: made.checked.mcleod_li.is_some_and(|outcome| outcome.p_value <= ALPHA),
        warnings: warnings(&made.fit.coefficients),
        history: made.history.clone(),
    }
}

fn step_result(period: Period, step: &HorizonForecast, actual: Option<f64>, mean: bool) -> StepResult {
    StepResult {
        period,
        point: if mean { step.mean.unwrap_or(step.median) } else { step.median },
        mean: step.mean,
        std_error: step.std_error,
        intervals: step.intervals.iter().copied().map(IntervalResult::from).collect(),
        actual,
    }
}

fn accuracy(steps: &[StepResult], scale: Option<f64>) -> Option<Outcome> {
    let known: Vec<(&StepResult, f64)> = steps.iter().filter_map(|step| Some((step, step.actual?))).collect();
    let levels = &known.first()?.0.intervals;
    let inside = |place: usize| {
        let contains = |(step, actual): &&(&StepResult, f64)| {
            step.intervals.get(place).is_some_and(|own| own.contains(*actual))
        };
        known.iter().filter(contains).count()
    };
    let pairs: Vec<(f64, f64)> = known.iter().map(|(step, actual)| (*actual, step.point)).collect();
    Some(Outcome {
        known: known.len(),
        coverage: levels
            .iter()
            .enumerate()
            .map(|(place, own)| Coverage { level: own.level, inside: inside(place) })
            .collect(),
        errors: predictive::accuracy(&pairs, scale)?,
    })
}
