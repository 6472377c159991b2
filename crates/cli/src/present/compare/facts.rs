//! A comparison of models as facts: the contract's result.

use std::collections::BTreeMap;

use kandrel_core::arima::{Criteria, Model};
use kandrel_core::evaluate::Path;
use kandrel_core::predictive::{self, Accuracy, Comparison};
use kandrel_core::time::Period;
use schemars::JsonSchema;
use serde::Serialize;

use crate::present::diagnosis::SeriesDiagnosis;
use crate::present::sample::Sample;

/// The contract's result of `compare`.
#[derive(JsonSchema, Serialize)]
pub struct CompareResult {
    /// The forecast column, on its original scale.
    pub series: String,
    pub observations: usize,
    pub candidates: Vec<CandidateResult>,
    pub best: BestResult,
    pub comparable_groups: Vec<GroupResult>,
    /// The actual values.
    pub sample: Sample,
    /// How the candidates were evaluated.
    pub trial: Trial,
    /// The effect of replaced outliers on each model's error.
    pub repair_effects: Vec<RepairEffect>,
    /// The joint assessment of each series.
    pub diagnoses: Vec<SeriesDiagnosis>,
    /// The model that further calls name.
    pub next: Option<Best>,
}

/// How the candidates were evaluated.
#[derive(JsonSchema, Serialize)]
pub struct Trial {
    /// None where there is a hold-out sample only.
    pub rolling: Option<RollingTrial>,
    /// Length of the hold-out sample; none where there are rolling origins only.
    pub held_back: Option<usize>,
}

/// Forecasts from rolling origins.
#[derive(JsonSchema, Serialize)]
pub struct RollingTrial {
    pub origins: usize,
    pub first_origin: String,
    pub last_origin: String,
    pub ahead: usize,
    /// Whether parameters are those of the first origin throughout.
    pub fixed: bool,
}

/// The error of a model of the series as it is, and with its outliers replaced.
#[derive(JsonSchema, Serialize)]
pub struct RepairEffect {
    pub candidate: String,
    pub before: f64,
    pub after: f64,
}

/// What forecasts come from.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum CandidateKind {
    /// A model.
    Model,
    /// The average of the forecasts of several models.
    Average,
    /// A benchmark forecast.
    #[default]
    Benchmark,
}

/// A model of an average.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct WeightedCandidate {
    /// Series, model and regressors.
    pub model: String,
    /// Between zero and one.
    pub weight: f64,
}

/// One candidate.
#[derive(JsonSchema, Serialize)]
pub struct CandidateResult {
    /// Series and model, or the name of a benchmark.
    pub candidate: String,
    pub kind: CandidateKind,
    /// The series with its steps; of a model only.
    pub series: Option<String>,
    /// Of a model only.
    pub model: Option<String>,
    pub with: Vec<String>,
    /// The models of an average; empty for other candidates.
    pub members: Vec<WeightedCandidate>,
    /// Whether outliers were replaced before.
    pub outlier_adjusted: bool,
    pub parameters: Option<usize>,
    pub log_likelihood: Option<f64>,
    pub aic: Option<f64>,
    pub aicc: Option<f64>,
    pub bic: Option<f64>,
    pub hq: Option<f64>,
    /// Position in `comparable_groups`; of a model only.
    pub group: Option<usize>,
    /// Ljung-Box of the residuals.
    pub white_noise_p: Option<f64>,
    /// One step ahead, parameters estimated from the same values.
    pub in_sample: Option<Accuracy>,
    /// None without a hold-out sample.
    pub held_out: Option<Accuracy>,
    pub rolling: Option<RollingResult>,
    /// Diebold-Mariano test of equal squared-error loss against the best candidate, the loss at each horizon relative to
    /// the best candidate's; none for itself.
    pub diebold_mariano: Option<Comparison>,
}

/// Errors from rolling origins.
#[derive(JsonSchema, Serialize)]
pub struct RollingResult {
    pub origins: usize,
    pub ahead: usize,
    /// Geometric mean over the horizons of the root mean squared errors.
    pub geometric_mean_rmse: f64,
    /// Whether parameters are those of the first origin throughout.
    pub fixed: bool,
    #[serde(flatten)]
    pub all: Accuracy,
    pub by_horizon: Vec<HorizonResult>,
}

/// Errors at one forecast horizon.
#[derive(JsonSchema, Serialize)]
pub struct HorizonResult {
    pub horizon: usize,
    #[serde(flatten)]
    pub errors: Accuracy,
}

/// The candidate with the lowest error.
#[derive(JsonSchema, Serialize)]
pub struct BestResult {
    pub candidate: String,
    /// The error that is compared.
    pub by: &'static str,
    pub value: f64,
    /// The error of the best benchmark.
    pub best_rule: Option<f64>,
}

/// Models whose criteria can be compared: the same values after the same differences.
#[derive(JsonSchema, Serialize)]
pub struct GroupResult {
    pub name: String,
    pub candidates: Vec<String>,
    /// The candidate with the smallest corrected criterion of Akaike.
    pub best: String,
}

/// A candidate without its errors.
#[derive(Debug, Clone, Default)]
pub struct Described {
    pub kind: CandidateKind,
    /// Empty unless it is a model.
    pub series: String,
    pub model: Option<Model>,
    pub label: String,
    pub with: Vec<String>,
    /// The series without its outliers replaced, where they were.
    pub plain: Option<String>,
    pub parameters: Option<usize>,
    pub log_likelihood: Option<f64>,
    pub used: Option<usize>,
    pub criteria: Option<Criteria>,
    pub white_noise_p: Option<f64>,
    pub in_sample: Option<Accuracy>,
    /// The models of an average.
    pub members: Vec<WeightedCandidate>,
}

/// Forecasts from rolling origins with the actual values.
pub struct RollingForecasts {
    pub periods: Vec<Period>,
    pub actual: Vec<Option<f64>>,
    /// Positions of the last known values.
    pub origins: Vec<usize>,
    /// For each candidate, for each origin, one forecast a step ahead.
    pub paths: Vec<Vec<Path>>,
}

/// Series and model, and its regressors where other models have others.
fn full_name(all: &[Described], own: &Described) -> String {
    if own.series.is_empty() {
        return own.label.clone();
    }
    let bare = format!("{} {}", own.series, own.label);
    let alike = all.iter().filter(|other| other.model.is_some()).all(|other| other.with == own.with);
    if alike || own.with.is_empty() { bare } else { format!("{bare} with {}", own.with.join(",")) }
}

/// The errors of a candidate.
pub struct Tested {
    pub all: Option<Accuracy>,
    pub by_horizon: Vec<Option<Accuracy>>,
    /// For each origin the squared error at each horizon.
    pub squares: Vec<Vec<Option<f64>>>,
}

impl Tested {
    /// The geometric mean of the errors at each horizon, so that far ones, which are large for all,
    /// do not drown near ones.
    fn over_horizons(&self) -> Option<f64> {
        let logs: Vec<f64> = self.by_horizon.iter().flatten().map(|errors| errors.rmse.ln()).collect();
        (!logs.is_empty()).then(|| (logs.iter().sum::<f64>() / logs.len() as f64).exp())
    }

    /// Squared errors of each origin, each horizon over the mean of another forecaster's there.
    fn losses(&self, scale: &Self) -> Vec<Option<f64>> {
        let of = |origin: &Vec<Option<f64>>| {
            let pairs = origin.iter().zip(&scale.by_horizon);
            let shares: Vec<f64> = pairs
                .filter_map(|(square, own)| Some((*square)? / own.as_ref()?.rmse.powi(2)))
                .filter(|share| share.is_finite())
                .collect();
            (!shares.is_empty()).then(|| shares.iter().sum::<f64>() / shares.len() as f64)
        };
        self.squares.iter().map(of).collect()
    }
}

/// The errors of all candidates from the same origins.
pub struct Tests {
    pub origins: usize,
    pub ahead: usize,
    pub tested: Vec<Tested>,
}

/// What a result is composed of.
pub struct Made<'a> {
    pub periods: &'a [Period],
    pub known: usize,
    pub units: String,
    pub described: &'a [Described],
    pub diagnoses: Vec<SeriesDiagnosis>,
    pub held: Option<&'a Tests>,
    pub rolling: Option<&'a Tests>,
    pub fixed: bool,
    pub repaired: bool,
}

/// Puts a result together.
pub fn result(made: &Made<'_>) -> CompareResult {
    // The errors of many origins say more than those of one.
    let error = |place: usize| match (made.rolling, made.held) {
        (Some(rolling), _) => rolling.tested.get(place)?.over_horizons(),
        (None, held) => held?.tested.get(place)?.all.map(|all| all.rmse),
    };
    let places = 0..made.described.len();
    let by_error = |a: &usize, b: &usize| {
        error(*a).unwrap_or(f64::INFINITY).total_cmp(&error(*b).unwrap_or(f64::INFINITY))
    };
    let best = places.clone().min_by(by_error).unwrap_or(0);
    let is_rule =
        |place: &usize| made.described.get(*place).is_some_and(|one| one.kind == CandidateKind::Benchmark);
    let best_rule = places.clone().filter(is_rule).filter_map(error).min_by(f64::total_cmp);
    let groups = groups(made.described);
    let candidates: Vec<CandidateResult> =
        places.clone().map(|place| candidate(made, place, best, &groups)).collect();
    let named = |place: usize| candidates.get(place).map_or_else(String::new, |one| one.candidate.clone());
    CompareResult {
        series: made.units.clone(),
        observations: made.known,
        best: BestResult {
            candidate: named(best),
            by: if made.rolling.is_some() {
                "rolling rmse, geometric mean over horizons"
            } else {
                "hold-out rmse"
            },
            value: error(best).unwrap_or_default(),
            best_rule,
        },
        comparable_groups: groups.into_iter().map(|(name, own)| group(made, name, &own)).collect(),
        candidates,
        sample: Sample::of_periods(made.periods, made.known),
        trial: trial(made),
        repair_effects: if made.repaired { outlier_adjusted(made, &error) } else { Vec::new() },
        diagnoses: made.diagnoses.clone(),
        next: best_model(made, best),
    }
}

fn candidate(made: &Made<'_>, place: usize, best: usize, groups: &[(String, Vec<usize>)]) -> CandidateResult {
    let one = &made.described[place];
    let of = |tests: Option<&Tests>| tests.and_then(|tests| tests.tested.get(place)?.all);
    let criteria = one.criteria;
    let judge = made.rolling;
    CandidateResult {
        candidate: full_name(made.described, one),
        kind: one.kind,
        series: one.model.map(|_| one.series.clone()),
        model: one.model.map(|_| one.label.clone()),
        with: one.with.clone(),
        members: one.members.clone(),
        outlier_adjusted: one.plain.is_some(),
        parameters: one.parameters,
        log_likelihood: one.log_likelihood,
        aic: criteria.map(|own| own.aic),
        aicc: criteria.and_then(|own| own.aicc),
        bic: criteria.map(|own| own.bic),
        hq: criteria.map(|own| own.hq),
        group: groups.iter().position(|(_, own)| own.contains(&place)),
        white_noise_p: one.white_noise_p,
        in_sample: one.in_sample,
        held_out: of(made.held),
        rolling: judge.and_then(|tests| rolling(tests, place, made.fixed)),
        diebold_mariano: judge.filter(|_| place != best).and_then(|tests| compared(tests, place, best)),
    }
}

fn rolling(tests: &Tests, place: usize, fixed: bool) -> Option<RollingResult> {
    let own = tests.tested.get(place)?;
    let horizon = |(h, errors): (usize, &Option<Accuracy>)| {
        errors.map(|errors| HorizonResult { horizon: h + 1, errors })
    };
    Some(RollingResult {
        origins: tests.origins,
        ahead: tests.ahead,
        geometric_mean_rmse: own.over_horizons()?,
        fixed,
        all: own.all?,
        by_horizon: own.by_horizon.iter().enumerate().filter_map(horizon).collect(),
    })
}

/// The test of equal squared errors, at the origins both were tried at.
fn compared(tests: &Tests, place: usize, best: usize) -> Option<Comparison> {
    let (own, other) = (tests.tested.get(place)?, tests.tested.get(best)?);
    let both: Vec<(f64, f64)> =
        own.losses(other).into_iter().zip(other.losses(other)).filter_map(|(a, b)| Some((a?, b?))).collect();
    let (first, second): (Vec<f64>, Vec<f64>) = both.into_iter().unzip();
    predictive::diebold_mariano(&first, &second, tests.ahead)
}

/// Places of the models whose criteria can be compared, by what they share.
fn groups(described: &[Described]) -> Vec<(String, Vec<usize>)> {
    let mut all: BTreeMap<(usize, String), Vec<usize>> = BTreeMap::new();
    for (place, one) in described.iter().enumerate() {
        if let (Some(model), Some(used)) = (one.model, one.used) {
            let season = if model.seasonal_differences > 0 {
                format!(", D = {} at lag {}", model.seasonal_differences, model.season)
            } else {
                ", D = 0".to_owned()
            };
            let name = format!("{}, d = {}{season}, {used} values", one.series, model.differences);
            let first =
                all.iter().find(|((_, known), _)| *known == name).map_or(place, |((first, _), _)| *first);
            all.entry((first, name)).or_default().push(place);
        }
    }
    all.into_iter().map(|((_, name), places)| (name, places)).collect()
}

fn group(made: &Made<'_>, name: String, places: &[usize]) -> GroupResult {
    let value =
        |place: &usize| made.described[*place].criteria.and_then(|own| own.aicc).unwrap_or(f64::INFINITY);
    let best = places.iter().min_by(|a, b| value(a).total_cmp(&value(b)));
    GroupResult {
        name,
        candidates: places.iter().map(|place| full_name(made.described, &made.described[*place])).collect(),
        best: best.map_or_else(String::new, |place| full_name(made.described, &made.described[*place])),
    }
}

fn trial(made: &Made<'_>) -> Trial {
    let last = made.periods.len().saturating_sub(1);
    let period = |place: usize| made.periods.get(place).map_or_else(String::new, Period::to_string);
    let rolling = made.rolling.map(|tests| RollingTrial {
        origins: tests.origins,
        first_origin: period(last - tests.origins),
        last_origin: period(last.saturating_sub(1)),
        ahead: tests.ahead,
        fixed: made.fixed,
    });
    Trial { rolling, held_back: made.held.map(|tests| tests.ahead) }
}

/// The effect of replaced outliers on each model's error.
fn outlier_adjusted(made: &Made<'_>, error: &dyn Fn(usize) -> Option<f64>) -> Vec<RepairEffect> {
    let effect = |place: usize| {
        let own = made.described.get(place)?;
        let series = own.plain.as_ref()?;
        let is_plain =
            |other: &Described| other.series == *series && other.label == own.label && other.with == own.with;
        let plain = made.described.iter().position(is_plain)?;
        Some(RepairEffect {
            candidate: full_name(made.described, own),
            before: error(plain)?,
            after: error(place)?,
        })
    };
    (0..made.described.len()).filter_map(effect).collect()
}

/// A model and the series that it is of.
#[derive(JsonSchema, Serialize)]
pub struct Best {
    pub series: String,
    pub model: String,
    /// Its regressors.
    pub with: Vec<String>,
}

/// The best model: of the best candidate, or of the first that is one.
fn best_model(made: &Made<'_>, best: usize) -> Option<Best> {
    let own = made.described.get(best).filter(|one| one.model.is_some());
    let one = own.or_else(|| made.described.iter().find(|one| one.model.is_some()))?;
    Some(Best { series: one.series.clone(), model: one.label.clone(), with: one.with.clone() })
}
