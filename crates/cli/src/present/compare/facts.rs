//! A comparison of models as facts: the contract's result.

use std::collections::BTreeMap;

use kandrel_core::arima::{Criteria, Model};
use kandrel_core::predictive::{Accuracy, Comparison, diebold_mariano};
use kandrel_core::time::Period;
use schemars::JsonSchema;
use serde::Serialize;

use crate::present::diagnosis::SeriesDiagnosis;
use crate::present::sample::Sample;

/// The contract's result of `compare`.
#[derive(JsonSchema, Serialize)]
pub struct CompareResult {
    /// What is foretold, in its own units.
    pub series: String,
    pub observations: usize,
    pub candidates: Vec<CandidateResult>,
    pub best: BestResult,
    pub comparable_groups: Vec<GroupResult>,
    /// The actual values.
    pub sample: Sample,
    /// How the candidates were tried.
    pub trial: Trial,
    /// What replacing outliers does to each model's error.
    pub repair_effects: Vec<RepairEffect>,
    /// The joint assessment of each series.
    pub diagnoses: Vec<SeriesDiagnosis>,
    /// The model that further calls name.
    pub next: Option<Best>,
}

/// How the candidates were tried.
#[derive(JsonSchema, Serialize)]
pub struct Trial {
    /// None where only the end was held back.
    pub rolling: Option<RollingTrial>,
    /// Values held back at the end; none where only origins rolled.
    pub held_back: Option<usize>,
}

/// Forecasts from one origin after the other.
#[derive(JsonSchema, Serialize)]
pub struct RollingTrial {
    pub origins: usize,
    pub first_origin: String,
    pub last_origin: String,
    pub ahead: usize,
    /// Whether parameters stayed those of the first origin.
    pub fixed: bool,
}

/// The error of a model of the series as it is, and with its outliers replaced.
#[derive(JsonSchema, Serialize)]
pub struct RepairEffect {
    pub candidate: String,
    pub before: f64,
    pub after: f64,
}

/// One forecaster.
#[derive(JsonSchema, Serialize)]
pub struct CandidateResult {
    /// Series and model, or the name of a rule.
    pub candidate: String,
    /// The series with its steps; none for a rule.
    pub series: Option<String>,
    /// None for a rule.
    pub model: Option<String>,
    pub with: Vec<String>,
    /// Whether odd values were replaced before.
    pub mended: bool,
    pub parameters: Option<usize>,
    pub log_likelihood: Option<f64>,
    pub aic: Option<f64>,
    pub aicc: Option<f64>,
    pub bic: Option<f64>,
    pub hq: Option<f64>,
    /// Place in `comparable_groups`; none for a rule.
    pub group: Option<usize>,
    /// Ljung-Box of the residuals.
    pub white_noise_p: Option<f64>,
    /// One step ahead, parameters estimated from the same values.
    pub in_sample: Option<Accuracy>,
    /// None unless the end was held back.
    pub held_out: Option<Accuracy>,
    pub rolling: Option<RollingResult>,
    /// Diebold and Mariano's test of equal squared errors, each horizon over the best's, against the
    /// best; none for itself.
    pub against_best: Option<Comparison>,
}

/// Errors from rolling origins.
#[derive(JsonSchema, Serialize)]
pub struct RollingResult {
    pub origins: usize,
    pub ahead: usize,
    /// Geometric mean over the horizons of the root mean squared errors.
    pub mean_rmse: f64,
    /// Whether parameters stayed those of the first origin.
    pub fixed: bool,
    #[serde(flatten)]
    pub all: Accuracy,
    pub by_horizon: Vec<HorizonResult>,
}

/// Errors so many periods ahead.
#[derive(JsonSchema, Serialize)]
pub struct HorizonResult {
    pub horizon: usize,
    #[serde(flatten)]
    pub errors: Accuracy,
}

/// The one with the smallest error.
#[derive(JsonSchema, Serialize)]
pub struct BestResult {
    pub candidate: String,
    /// What was smallest.
    pub by: &'static str,
    pub value: f64,
    /// The best rule's value, to be beaten.
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

/// A forecaster without its trials.
#[derive(Debug, Clone, Default)]
pub struct Described {
    /// Empty for a rule.
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
}

/// Series and model, and what stands beside it where other models have other regressors.
fn full_name(all: &[Described], own: &Described) -> String {
    if own.series.is_empty() {
        return own.label.clone();
    }
    let bare = format!("{} {}", own.series, own.label);
    let alike = all.iter().filter(|other| other.model.is_some()).all(|other| other.with == own.with);
    if alike || own.with.is_empty() { bare } else { format!("{bare} with {}", own.with.join(",")) }
}

/// What a forecaster did in the trials.
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

/// A set of trials, one for each forecaster.
pub struct Tests {
    pub origins: usize,
    pub ahead: usize,
    pub tested: Vec<Tested>,
}

/// What a result is made of.
pub struct Made<'a> {
    pub periods: &'a [Period],
    pub known: usize,
    pub units: String,
    pub described: &'a [Described],
    pub diagnoses: Vec<SeriesDiagnosis>,
    pub held: Option<&'a Tests>,
    pub rolling: Option<&'a Tests>,
    pub fixed: bool,
    pub mend: bool,
}

/// Puts a result together.
pub fn result(made: &Made<'_>) -> CompareResult {
    // Rolling origins say more than one; without them the one decides.
    let error = |place: usize| match (made.rolling, made.held) {
        (Some(rolling), _) => rolling.tested.get(place)?.over_horizons(),
        (None, held) => held?.tested.get(place)?.all.map(|all| all.rmse),
    };
    let places = 0..made.described.len();
    let by_error = |a: &usize, b: &usize| {
        error(*a).unwrap_or(f64::INFINITY).total_cmp(&error(*b).unwrap_or(f64::INFINITY))
    };
    let best = places.clone().min_by(by_error).unwrap_or(0);
    let is_rule = |place: &usize| made.described.get(*place).is_some_and(|one| one.model.is_none());
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
                "held-out rmse"
            },
            value: error(best).unwrap_or_default(),
            best_rule,
        },
        comparable_groups: groups.into_iter().map(|(name, own)| group(made, name, &own)).collect(),
        candidates,
        sample: Sample::of_periods(made.periods, made.known),
        trial: trial(made),
        repair_effects: if made.mend { mended(made, &error) } else { Vec::new() },
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
        series: one.model.map(|_| one.series.clone()),
        model: one.model.map(|_| one.label.clone()),
        with: one.with.clone(),
        mended: one.plain.is_some(),
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
        against_best: judge.filter(|_| place != best).and_then(|tests| compared(tests, place, best)),
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
        mean_rmse: own.over_horizons()?,
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
    diebold_mariano(&first, &second, tests.ahead)
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

/// What replacing odd values does to each model's error.
fn mended(made: &Made<'_>, error: &dyn Fn(usize) -> Option<f64>) -> Vec<RepairEffect> {
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
    /// Beside it.
    pub with: Vec<String>,
}

/// The best model: of the best candidate, or of the first that is one.
fn best_model(made: &Made<'_>, best: usize) -> Option<Best> {
    let own = made.described.get(best).filter(|one| one.model.is_some());
    let one = own.or_else(|| made.described.iter().find(|one| one.model.is_some()))?;
    Some(Best { series: one.series.clone(), model: one.label.clone(), with: one.with.clone() })
}
