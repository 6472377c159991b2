//! Orders of a model as facts: the contract's result.

use kandrel_core::arima::{Candidate, Criteria, Diagnosis, Fit, Level, Model, ModelWarning};
use kandrel_core::corr::{ExtendedAcf, Finding, Pattern};
use kandrel_core::diagnosis::filled;
use kandrel_core::expr;
use kandrel_core::identify::{Identified, RankingCriterion, Rival, SearchMethod};
use kandrel_core::series::SeriesWithGaps;
use schemars::JsonSchema;
use serde::Serialize;

use crate::document::ChosenModel;
use crate::present::diagnosis::DiagnosisResult;
use crate::present::sample::Sample;
use crate::present::{acf, stationarity};
use crate::wording;

/// The contract's result of `orders`.
#[derive(JsonSchema, Serialize)]
pub struct OrdersResult {
    pub series: String,
    /// The steps of the series, as written; none for a bare column.
    pub transform: Option<String>,
    pub d: usize,
    #[serde(rename = "D")]
    pub seasonal: usize,
    pub season: usize,
    /// The number of observations that seasonal terms would take; none where there are enough, or no season.
    pub needed_for_season: Option<usize>,
    /// The regressors of every model: those given, or the deterministic terms of the verdict.
    pub with: Vec<String>,
    pub evidence: Vec<String>,
    /// Extended autocorrelations after the differences: row k for autoregressive order k, column j
    /// for lag j + 1; none of a short series or one with gaps.
    pub extended_acf: Option<Vec<Vec<f64>>>,
    pub candidates: Vec<CandidateResult>,
    /// The best without a warning.
    pub chosen: String,
    /// The criterion that they are ranked by.
    pub criterion: RankingCriterion,
    /// How the grid was searched.
    pub search: SearchMethod,
    /// Whether every model of the grid was estimated.
    pub exhaustive: bool,
    /// Models estimated.
    pub searched: usize,
    pub seconds: f64,
    /// The observations that were used.
    pub sample: Sample,
    /// Difference of the criterion between the best model without a warning and the best of all.
    pub sound_delta: Option<f64>,
    /// Difference of the criterion between the best model without seasonal terms and the chosen one, where that has some.
    pub unseasonal_delta: Option<f64>,
    /// The model with the fewest coefficients within two of the chosen one, where it has fewer.
    pub simplest: Option<NearModel>,
    /// The models that ACF and PACF suggest.
    pub suggested: Vec<SuggestedModel>,
    /// The joint assessment; none where the differences are given.
    pub diagnosis: Option<DiagnosisResult>,
    /// The treatments that were compared, the chosen one first; empty where the diagnosis left nothing open.
    pub rivals: Vec<RivalResult>,
}

/// A treatment of the series with its best model.
#[derive(Debug, Clone, JsonSchema, Serialize)]
pub struct RivalResult {
    pub d: usize,
    #[serde(rename = "D")]
    pub seasonal: usize,
    pub model: String,
    /// Next to it.
    pub with: Vec<String>,
    /// Of these differences, by the assessment.
    pub probability: f64,
    /// Mean absolute error of its forecasts from rolling origins; none where they could not be made.
    pub rolling_mae: Option<f64>,
}

/// Why the candidates have no seasonal terms, where there are too few observations for them.
pub fn without_season(season: usize, needed: Option<usize>) -> Option<String> {
    let needed = needed?;
    Some(format!(
        "Seasonal terms at period {season} need at least {needed} observations, so the candidates have none \
         (--season N sets a shorter period)."
    ))
}

/// A model has at most one parameter for this many observations before its estimates are called imprecise.
const OBSERVATIONS_PER_PARAMETER: usize = 10;

/// A warning of more parameters than a tenth of the observations.
pub fn too_many_parameters(parameters: usize, observations: usize) -> Option<String> {
    (parameters * OBSERVATIONS_PER_PARAMETER > observations).then(|| {
        format!(
            "The model has {} for {observations} observations, more than one in ten: its estimates are imprecise, and \
             smaller limits (--limit 1,1,1,1) may forecast better.",
            wording::count(parameters, "parameter")
        )
    })
}

/// The treatments that a search compared.
pub fn rivals(found: &Identified) -> Vec<RivalResult> {
    let of = |own: &Rival| RivalResult {
        d: own.differences[0],
        seasonal: own.differences[1],
        model: own.model.model.to_string(),
        with: own.regressors.terms(),
        probability: own.probability,
        rolling_mae: own.error,
    };
    found.rivals.iter().map(of).collect()
}

/// A model near to another.
#[derive(JsonSchema, Serialize)]
pub struct NearModel {
    pub model: String,
    /// Difference of its criterion from the other's.
    pub delta: f64,
}

/// A model that a reader of ACF and PACF would write down.
#[derive(JsonSchema, Serialize)]
pub struct SuggestedModel {
    pub model: String,
    /// Its place in the ranking, from 1; none where it is not among the models ranked.
    pub place: Option<usize>,
}

/// One model.
#[derive(JsonSchema, Serialize)]
pub struct CandidateResult {
    pub model: String,
    pub drift: bool,
    pub parameters: usize,
    pub log_likelihood: f64,
    #[serde(flatten)]
    pub criteria: Criteria,
    /// Difference from the minimum of the criterion; with regressors, of the restricted likelihood.
    pub delta: f64,
    /// Ljung-Box of the residuals; none where the lags leave no degrees of freedom.
    pub white_noise_p: Option<f64>,
    pub warnings: Vec<ModelWarning>,
}

/// What the search found.
pub struct OrderFindings<'a> {
    pub choice: &'a Identified,
    pub patterns: Vec<Finding>,
    pub extended: Option<ExtendedAcf>,
    /// Those of [`shown`].
    pub shown: &'a [&'a Candidate],
    pub checked: &'a [Option<Checked>],
    pub seconds: f64,
}

/// A candidate with its whole estimate.
pub struct Checked {
    pub fit: Fit,
    pub residuals: Diagnosis,
}

/// Candidates this near to the best are about as good.
const NEAR: f64 = 2.0;

/// The first few, the chosen one, and the simplest within two of it: those without a warning first.
pub fn shown(choice: &Identified, count: usize) -> Vec<&Candidate> {
    let mut shown: Vec<&Candidate> = choice.ranked.iter().take(count).collect();
    for own in choice.chosen().into_iter().chain(simplest(choice)) {
        if shown.iter().all(|one| one.model != own.model) {
            shown.push(own);
        }
    }
    // The sort keeps the order of the criterion within both.
    shown.sort_by(|a, b| {
        let value = |one: &Candidate| choice.criterion.value(&one.criteria);
        let is_doubtful = |one: &Candidate| !one.warnings.is_empty();
        is_doubtful(a).cmp(&is_doubtful(b)).then(value(a).total_cmp(&value(b)))
    });
    shown
}

/// What the seasonal terms of the chosen model gain.
fn unseasonal_delta(choice: &Identified) -> Option<f64> {
    let has_seasonal_terms = |one: &Candidate| one.model.seasonal_ar + one.model.seasonal_ma > 0;
    let value = |one: &Candidate| choice.criterion.value(&one.criteria);
    let chosen = choice.chosen().filter(|one| has_seasonal_terms(one))?;
    let plain = choice.ranked.iter().filter(|one| !has_seasonal_terms(one)).map(value);
    plain.min_by(f64::total_cmp).map(|best| best - value(chosen))
}

/// The model with the fewest coefficients within two of the chosen one and without a warning.
fn simplest(choice: &Identified) -> Option<&Candidate> {
    let value = |candidate: &Candidate| choice.criterion.value(&candidate.criteria);
    let own = choice.chosen().map_or(0.0, value);
    let near = |one: &&Candidate| one.warnings.is_empty() && value(one) - own <= NEAR;
    choice.ranked.iter().filter(near).min_by_key(|candidate| candidate.model.coefficients())
}

/// Puts a result together.
pub fn result(series: &SeriesWithGaps, found: &OrderFindings<'_>) -> OrdersResult {
    let Identified { differences, regressors, grid, ranked, criterion, .. } = found.choice;
    let value = |candidate: &Candidate| criterion.value(&candidate.criteria);
    let best = ranked.first().map_or(0.0, value);
    let chosen = found.choice.chosen();
    let simplest = simplest(found.choice);
    let suggested = suggested(&found.patterns, found);
    let mut evidence = vec![why_differences(found.choice, series)];
    evidence.extend(found.patterns.iter().map(acf::sentence));
    evidence.extend(found.extended.as_ref().map(extended));
    let shown = found.shown.iter().zip(found.checked);
    OrdersResult {
        series: series.name.clone(),
        transform: expr::steps_of(&series.name).map(str::to_owned),
        d: differences[0],
        seasonal: differences[1],
        season: grid.season,
        needed_for_season: found.choice.needed_for_season(),
        with: regressors.terms(),
        evidence,
        candidates: shown
            .map(|(one, checked)| {
                candidate(one, checked.as_ref(), value(one) - best, regressors.names().len())
            })
            .collect(),
        chosen: chosen.map_or(String::new(), |one| one.model.to_string()),
        unseasonal_delta: unseasonal_delta(found.choice),
        extended_acf: found.extended.as_ref().map(|own| own.rows.clone()),
        criterion: *criterion,
        search: found.choice.search,
        exhaustive: found.choice.search != SearchMethod::Stepwise,
        searched: found.choice.searched(),
        seconds: found.seconds,
        sample: Sample::with_gaps(series),
        sound_delta: ranked.iter().find(|one| one.warnings.is_empty()).map(|one| value(one) - best),
        simplest: simplest
            .filter(|one| chosen.is_some_and(|chosen| chosen.model.coefficients() > one.model.coefficients()))
            .map(|one| NearModel {
                model: one.model.to_string(),
                delta: value(one) - chosen.map_or(0.0, value),
            }),
        suggested,
        diagnosis: found.choice.diagnosis.as_ref().map(|own| DiagnosisResult::of(series, own)),
        rivals: rivals(found.choice),
    }
}

/// Why the series is differenced so often.
pub fn why_differences(choice: &Identified, series: &SeriesWithGaps) -> String {
    match &choice.diagnosis {
        None => "The differences are those asked for.".to_owned(),
        Some(found) => stationarity::answer(&filled(series, choice.grid.season), &found.assessment),
    }
}

/// What the extended autocorrelations say.
fn extended(found: &ExtendedAcf) -> String {
    match found.orders {
        Some((p, q)) => format!(
            "Extended autocorrelations (Tsay and Tiao) are zero from p = {p}, q = {q} on (short lags only)."
        ),
        None => "Extended autocorrelations (Tsay and Tiao) show no triangle of zeros.".to_owned(),
    }
}

fn candidate(one: &Candidate, checked: Option<&Checked>, delta: f64, beside: usize) -> CandidateResult {
    // Its facts are those of `fit`; where that fails, those of the search.
    let known = (one.log_likelihood, one.criteria);
    let (log_likelihood, criteria) =
        checked.map_or(known, |own| (own.fit.log_likelihood, own.fit.criteria()));
    CandidateResult {
        model: one.model.to_string(),
        drift: one.model.level == Level::Drift,
        parameters: one.model.coefficients() + usize::from(one.model.level != Level::None) + beside + 1,
        log_likelihood,
        criteria,
        delta,
        white_noise_p: checked.and_then(|own| own.residuals.ljung_box).map(|outcome| outcome.p_value),
        warnings: one.warnings.clone(),
    }
}

/// The models a reader of ACF and PACF would write down, and their places in the ranking.
fn suggested(patterns: &[Finding], found: &OrderFindings<'_>) -> Vec<SuggestedModel> {
    let mut short: Vec<(usize, usize)> = Vec::new();
    let mut seasonal: Vec<(usize, usize)> = Vec::new();
    for finding in patterns {
        match finding {
            Finding::Suggests(Pattern::Autoregression(p)) => short.push((*p, 0)),
            Finding::Suggests(Pattern::MovingAverage(q)) => short.push((0, *q)),
            Finding::Suggests(Pattern::Either(k)) => short.extend([(*k, 0), (0, *k)]),
            Finding::Suggests(Pattern::Mixed) => short.push((1, 1)),
            Finding::Seasonal { .. } => seasonal.extend([(1, 0), (0, 1)]),
            Finding::SeasonalAverage { .. } => seasonal.push((0, 1)),
            _ => {}
        }
    }
    if short.is_empty() {
        short.push((0, 0));
    }
    if seasonal.is_empty() {
        seasonal.push((0, 0));
    }
    let Identified { differences: [d, seasonal_d], grid, ranked, .. } = found.choice;
    let (d, seasonal_d) = (*d, *seasonal_d);
    let each =
        short.iter().flat_map(|(ar, ma)| seasonal.iter().map(move |(sar, sma)| (*ar, *ma, *sar, *sma)));
    each.map(|(ar, ma, seasonal_ar, seasonal_ma)| {
        let has_season = seasonal_ar + seasonal_d + seasonal_ma > 0;
        let season = if has_season { grid.season } else { 1 };
        let model = Model {
            ar,
            differences: d,
            ma,
            seasonal_ar,
            seasonal_differences: seasonal_d,
            seasonal_ma,
            season,
            level: grid.level,
        };
        let place = ranked.iter().position(|one| one.model == model).map(|place| place + 1);
        SuggestedModel { model: model.to_string(), place }
    })
    .collect()
}

/// The model that further calls name.
pub fn chosen(result: &OrdersResult) -> ChosenModel {
    ChosenModel { model: result.chosen.clone(), terms: wording::term_list(&result.with) }
}
