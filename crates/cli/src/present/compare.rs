//! Models side by side: the contract's result and its text.

use std::collections::BTreeMap;

use kandrel_core::arima::{Criteria, Model};
use kandrel_core::outlook::{Accuracy, Comparison, diebold_mariano};
use kandrel_core::time::Period;
use schemars::JsonSchema;
use serde::Serialize;

use crate::call::{Call, Name};
use crate::document::{Align, Cell, Document, Table};
use crate::present::sample::Sample;
use crate::wording;

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

impl Described {
    fn name(&self) -> String {
        if self.series.is_empty() { self.label.clone() } else { format!("{} {}", self.series, self.label) }
    }
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
    let named = |place: usize| made.described.get(place).map_or_else(String::new, Described::name);
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
        next: best_model(made, best),
    }
}

fn candidate(made: &Made<'_>, place: usize, best: usize, groups: &[(String, Vec<usize>)]) -> CandidateResult {
    let one = &made.described[place];
    let of = |tests: Option<&Tests>| tests.and_then(|tests| tests.tested.get(place)?.all);
    let criteria = one.criteria;
    let judge = made.rolling;
    CandidateResult {
        candidate: one.name(),
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
        candidates: places.iter().map(|place| made.described[*place].name()).collect(),
        best: best.map_or_else(String::new, |place| made.described[*place].name()),
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

/// What was tried, in words.
fn tried(trial: &Trial) -> String {
    let rolling = trial.rolling.as_ref().map(|own| {
        let how = if own.fixed { "with the parameters of the first" } else { "each estimated anew" };
        format!(
            "{} from {} to {}, {} ahead, {how}",
            wording::count(own.origins, "origin"),
            own.first_origin,
            own.last_origin,
            wording::count(own.ahead, "period")
        )
    });
    let held =
        trial.held_back.map(|values| format!("the last {} held back", wording::count(values, "value")));
    rolling.into_iter().chain(held).collect::<Vec<_>>().join("; ")
}

/// What replacing odd values does to each model's error.
fn mended(made: &Made<'_>, error: &dyn Fn(usize) -> Option<f64>) -> Vec<RepairEffect> {
    let effect = |place: usize| {
        let own = made.described.get(place)?;
        let series = own.plain.as_ref()?;
        let is_plain = |other: &Described| other.series == *series && other.label == own.label;
        let plain = made.described.iter().position(is_plain)?;
        Some(RepairEffect { candidate: own.name(), before: error(plain)?, after: error(place)? })
    };
    (0..made.described.len()).filter_map(effect).collect()
}

fn effect_sentence(effect: &RepairEffect) -> String {
    let change = 100.0 * (effect.after / effect.before - 1.0);
    format!(
        "With odd values replaced the error of {} is {:.1} % {} ({} before, {} after).",
        effect.candidate,
        change.abs(),
        if change < 0.0 { "lower" } else { "higher" },
        wording::short(effect.before),
        wording::short(effect.after)
    )
}

/// A model and the series that it is of.
#[derive(JsonSchema, Serialize)]
pub struct Best {
    pub series: String,
    pub model: String,
}

/// The best model: of the best candidate, or of the first that is one.
fn best_model(made: &Made<'_>, best: usize) -> Option<Best> {
    let own = made.described.get(best).filter(|one| one.model.is_some());
    let one = own.or_else(|| made.described.iter().find(|one| one.model.is_some()))?;
    Some(Best { series: one.series.clone(), model: one.label.clone() })
}

/// The finding in one sentence.
pub fn answer(result: &CompareResult) -> String {
    let best = &result.best;
    let is_rule = result.candidates.iter().any(|one| one.candidate == best.candidate && one.model.is_none());
    let kind = if best.by.starts_with("rolling") { "rolling" } else { "held-out" };
    if is_rule {
        return format!(
            "No model foretells {} better than the {} forecast (RMSE {}, {kind}){}.",
            result.series,
            best.candidate,
            wording::short(best.value),
            runner_up(result)
        );
    }
    let gain = best.best_rule.filter(|rule| *rule > 0.0).map_or_else(String::new, |rule| {
        format!(", {:.0} % less than the best simple rule", 100.0 * (1.0 - best.value / rule))
    });
    format!(
        "{} foretells {} best: RMSE {}{gain}{}.",
        best.candidate,
        result.series,
        wording::short(best.value),
        runner_up(result)
    )
}

fn error_of(one: &CandidateResult) -> Option<f64> {
    one.rolling.as_ref().map(|own| own.mean_rmse).or(one.held_out.map(|own| own.rmse))
}

/// The next model, and whether it is worse by more than chance.
fn runner_up(result: &CompareResult) -> String {
    let others = result
        .candidates
        .iter()
        .filter(|one| one.model.is_some() && one.candidate != result.best.candidate)
        .filter_map(|one| Some((one, error_of(one)?)));
    let Some((next, error)) = others.min_by(|a, b| a.1.total_cmp(&b.1)) else {
        return String::new();
    };
    let behind = format!("; {} is {:.1} % behind", next.candidate, 100.0 * (error / result.best.value - 1.0));
    match &next.against_best {
        Some(test) if test.p_value <= 0.05 => {
            format!("{behind}, more than chance makes ({})", wording::p_equals(test.p_value))
        }
        Some(test) => format!("{behind}, which chance may make ({})", wording::p_equals(test.p_value)),
        None => behind,
    }
}

/// The result as a document.
pub fn document(result: &CompareResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(format!("{}; {}.", result.sample, tried(&result.trial)));
    if result.candidates.iter().any(|one| one.rolling.is_some()) {
        document.table(error_table(result, "Rolling", |one| one.rolling.as_ref().map(|own| own.all)));
        document.table(horizon_table(result));
    }
    if result.candidates.iter().any(|one| one.held_out.is_some()) {
        document.table(error_table(result, "Held out", |one| one.held_out));
    }
    document.table(criteria_table(result));
    document.list("Reading", reading(result));
    document.commands("Next", next(result, call));
    document
}

fn error_table(
    result: &CompareResult,
    head: &str,
    of: impl Fn(&CandidateResult) -> Option<Accuracy>,
) -> Table {
    let tested = head == "Rolling";
    let mut rows: Vec<(&CandidateResult, Accuracy)> =
        result.candidates.iter().filter_map(|one| Some((one, of(one)?))).collect();
    let error = |one: &CandidateResult, own: &Accuracy| {
        one.rolling.as_ref().filter(|_| tested).map_or(own.rmse, |rolling| rolling.mean_rmse)
    };
    rows.sort_by(|a, b| error(a.0, &a.1).total_cmp(&error(b.0, &b.1)));
    let least = rows.first().map_or(1.0, |(one, own)| error(one, own));
    let decimals = wording::decimals(rows.first().map_or(1.0, |(_, own)| own.rmse));
    let p = |one: &CandidateResult| {
        one.against_best.as_ref().map_or(Cell::Missing, |test| Cell::PValue(test.p_value))
    };
    let against = tested && result.candidates.iter().any(|one| one.against_best.is_some());
    Table::of(rows)
        .text(head, |(one, _)| one.candidate.clone())
        .number("To best", 2, |(one, own)| error(one, own) / least)
        .number("RMSE", decimals, |(_, own)| own.rmse)
        .number("MAE", decimals, |(_, own)| own.mae)
        .number("MAPE %", 2, |(_, own)| own.mape)
        .number("MASE", 2, |(_, own)| own.mase)
        .only_if(against, |rows| rows.column("Alike", Align::Decimal, |(one, _)| p(one)))
        .table()
}

/// Steps ahead that are shown.
const SHOWN_HORIZONS: usize = 6;

fn horizon_table(result: &CompareResult) -> Table {
    let first = result.candidates.iter().find_map(|one| one.rolling.as_ref());
    let ahead = first.map_or(0, |own| own.by_horizon.len());
    // The first, the last, and some evenly between.
    let step = ahead.saturating_sub(1).div_ceil(SHOWN_HORIZONS - 1).max(1);
    let mut shown: Vec<usize> = (1..=ahead).step_by(step).collect();
    if ahead > 0 && shown.last() != Some(&ahead) {
        shown.push(ahead);
    }
    let decimals = wording::decimals(result.best.value);
    let at = |own: &RollingResult, horizon: usize| {
        own.by_horizon.iter().find(|errors| errors.horizon == horizon).map(|errors| errors.errors.rmse)
    };
    Table::of(result.candidates.iter().filter_map(|one| Some((one, one.rolling.as_ref()?))))
        .text("RMSE", |(one, _)| one.candidate.clone())
        .each(
            shown,
            Align::Decimal,
            |horizon| format!("{horizon} ahead"),
            |(_, own), horizon| Cell::number(at(own, *horizon), decimals),
        )
        .table()
}

fn criteria_table(result: &CompareResult) -> Table {
    let members = |group: usize| result.candidates.iter().filter(move |one| one.group == Some(group));
    let groups = 0..result.comparable_groups.len();
    let above = |group: usize, one: &CandidateResult, of: fn(&CandidateResult) -> Option<f64>| {
        let least = members(group).filter_map(of).fold(f64::INFINITY, f64::min);
        of(one).map(|value| value - least)
    };
    Table::of(groups.flat_map(|group| members(group).map(move |one| (group, one))))
        .text("Above the group's best", |(_, one)| one.candidate.clone())
        .text("Group", |(group, _)| letter(*group))
        .number("AICc", 2, |(group, one)| above(*group, one, |one| one.aicc))
        .number("BIC", 2, |(group, one)| above(*group, one, |one| one.bic))
        .column("White noise", Align::Decimal, |(_, one)| {
            one.white_noise_p.map_or(Cell::Missing, Cell::PValue)
        })
        .table()
}

/// a, b, c, …
fn letter(number: usize) -> String {
    u8::try_from(number)
        .ok()
        .filter(|number| *number < 26)
        .map_or_else(|| number.to_string(), |number| char::from(b'a' + number).to_string())
}

fn reading(result: &CompareResult) -> Vec<String> {
    let mut lines: Vec<String> = result
        .comparable_groups
        .iter()
        .enumerate()
        .map(|(number, group)| format!("Group {}: {}.", letter(number), group.name))
        .collect();
    if result.comparable_groups.len() > 1 {
        lines.push(
            "Criteria of different groups say nothing about each other: their likelihoods are of different values."
                .to_owned(),
        );
    }
    lines.extend(by_criteria(result));
    lines.extend(nearest(result));
    lines.extend(optimism(result));
    lines.extend(result.repair_effects.iter().map(effect_sentence));
    if result.candidates.iter().any(|one| !one.with.is_empty()) {
        lines.push("Later values of the regressors count as known at each origin.".to_owned());
    }
    if result.candidates.iter().any(|one| one.against_best.is_some()) {
        lines.push(AGAINST.to_owned());
    }
    lines
}

/// What the last column of the errors is.
const AGAINST: &str = "To best: RMSE over that of the best, as the geometric mean over the horizons, by which they are \
     ranked. Alike: p of squared errors as small as the best's (Diebold-Mariano, corrected for small samples).";

/// Whether the criteria say the same of the best.
fn by_criteria(result: &CompareResult) -> Option<String> {
    let best = &result.best.candidate;
    let groups = &result.comparable_groups;
    let group = groups.iter().find(|group| group.candidates.contains(best) && group.candidates.len() > 1)?;
    if group.best == *best {
        return Some("By AICc it is the best of its group as well.".to_owned());
    }
    let aicc = |name: &str| result.candidates.iter().find(|one| one.candidate == name)?.aicc;
    let behind = aicc(best)? - aicc(&group.best)?;
    let what = if behind <= ALIKE {
        "about as good".to_owned()
    } else {
        "which rests on all values; a few origins tell less".to_owned()
    };
    Some(format!("By AICc {} is {behind:.1} better than {best}: {what}.", group.best))
}

/// Criteria this near to each other are alike.
const ALIKE: f64 = 2.0;

/// The best one period ahead, where it is another.
fn nearest(result: &CompareResult) -> Option<String> {
    let first = |one: &CandidateResult| {
        one.rolling.as_ref().filter(|own| own.ahead > 1)?.by_horizon.first().map(|own| own.errors.rmse)
    };
    let all = result.candidates.iter().filter_map(|one| Some((one, first(one)?)));
    let (own, error) = all.min_by(|a, b| a.1.total_cmp(&b.1))?;
    (own.candidate != result.best.candidate).then(|| {
        format!("One period ahead alone {} is the best (RMSE {}).", own.candidate, wording::short(error))
    })
}

/// How much smaller the error is inside the sample.
fn optimism(result: &CompareResult) -> Option<String> {
    let own = result.candidates.iter().find(|one| one.candidate == result.best.candidate)?;
    let inside = own.in_sample?.rmse;
    let rolling = own.rolling.as_ref()?.by_horizon.first()?.errors.rmse;
    Some(format!(
        "One period ahead {} is off by {} (RMSE), against {} inside the sample.",
        own.candidate,
        wording::short(rolling),
        wording::short(inside)
    ))
}

fn next(result: &CompareResult, typed: &Call) -> Vec<Call> {
    let Some(Best { series, model }) = &result.next else {
        return Vec::new();
    };
    let of_model = |name| typed.next(name, [series]).with("model", model).keeping(typed, &["with"]);
    vec![of_model(Name::Forecast), of_model(Name::Fit)]
}
