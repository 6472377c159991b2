//! From a series to a model: the verdict's differences and deterministic terms, the grid of orders, the choice.
//!
//! # Example
//! ```
//! use kandrel_core::identify::{IdentifyOptions, identify};
//! use kandrel_core::num::rng::NormalStream;
//! use kandrel_core::regressor::Regressors;
//! use kandrel_core::series::Series;
//!
//! let series = Series::undated("noise", NormalStream::new(4, 0).take(150));
//! let found = identify(&series.into(), Regressors::default(), None, &IdentifyOptions::default(), |_, _| {})?;
//! assert_eq!(found.differences, [0, 0]);
//! assert!(found.chosen().is_some());
//! # Ok::<(), kandrel_core::identify::IdentifyError>(())
//! ```

mod criterion;
mod rolling;
mod scale;
mod treatment;

use schemars::JsonSchema;
use serde::Serialize;
use thiserror::Error;

use crate::arima::{
    Candidate, Coefficients, Criteria, Data, FitError, Grid, Level, Model, chosen, fit_simply,
    has_many_columns, search, search_for_choice, search_in_two_stages, walk,
};
use crate::diagnosis::Diagnosis;
use crate::regressor::{Deterministic, MissingRegressor, Regressor, Regressors};
use crate::series::SeriesWithGaps;
use crate::unitroot::UnitRootError;
use crate::verdict::FixedTerm;

use rolling::{Origins, rolling_error};
use treatment::treatments;

pub use criterion::RankingCriterion;
pub use scale::ScaleComparison;
pub use treatment::Treatment;

/// From this length on a stepwise search takes the place of the whole grid.
const LONG: usize = 20_000;

/// A ratio of an estimate to its standard error beyond this is significant at five per cent.
const SIGNIFICANT: f64 = 1.96;

/// This proportion of the logarithm of a probability counts relative to the logarithm of forecast errors: twice the probability makes
/// up for errors two per cent larger.
const SAY: f64 = 0.03;
/// Less probable ones count as much as this.
const IMPROBABLE: f64 = 0.01;

/// Options of the identification.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct IdentifyOptions {
    /// Seasonal period; 1 for none.
    pub season: usize,
    /// d and D where they are given; the verdict's otherwise.
    pub differences: [Option<usize>; 2],
    /// What candidates are ranked by.
    pub criterion: RankingCriterion,
    /// The largest p, q, P, Q where they are given.
    pub limit: Option<[usize; 4]>,
    /// The whole grid, however long the series.
    pub exhaustive: bool,
    /// No more of the grid than the choice needs: models that cannot be chosen are not ranked.
    pub only_choice: bool,
}

impl Default for IdentifyOptions {
    fn default() -> Self {
        Self {
            season: 1,
            differences: [None, None],
            criterion: RankingCriterion::Aicc,
            limit: None,
            exhaustive: false,
            only_choice: false,
        }
    }
}

/// The candidate models, best first, and what they rest on.
#[derive(Debug, Clone)]
pub struct Identified {
    /// The treatments that the diagnosis left open, the chosen one first; empty where nothing was open.
    pub rivals: Vec<Rival>,
    /// d and D.
    pub differences: [usize; 2],
    /// The verdict; none where both differences were given and no verdict was at hand.
    pub diagnosis: Option<Diagnosis>,
    /// Those given, or those that the verdict calls for.
    pub regressors: Regressors,
    /// The orders that were tried.
    pub grid: Grid,
    /// What the models are estimated from.
    pub data: Data,
    /// Best first.
    pub ranked: Vec<Candidate>,
    /// How the grid was searched.
    pub search: SearchMethod,
    /// What they are ranked by.
    pub criterion: RankingCriterion,
}

/// A treatment of the series with its best model.
#[derive(Debug, Clone)]
pub struct Rival {
    /// d and D.
    pub differences: [usize; 2],
    /// Of these differences, by the diagnosis.
    pub probability: f64,
    /// With the model.
    pub regressors: Regressors,
    /// What it is estimated from.
    pub data: Data,
    /// The best model.
    pub model: Candidate,
    /// Mean absolute error of its forecasts from rolling origins; none where they could not be made.
    pub error: Option<f64>,
}

impl Rival {
    /// The logarithm of its errors, and what its probability says against it.
    fn burden(&self) -> f64 {
        self.error.map_or(f64::INFINITY, f64::ln) - SAY * self.probability.max(IMPROBABLE).ln()
    }
}

/// How a grid of orders is searched.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum SearchMethod {
    /// Every model by exact maximum likelihood; for a choice alone without those that their size rules out.
    Whole,
    /// Every model with missing values and regressors' coefficients held at those of one model, the best again
    /// with their own.
    TwoStages,
    /// From model to better model.
    Stepwise,
}

impl SearchMethod {
    fn of(data: &Data, exhaustive: bool) -> Self {
        match data.len() {
            _ if exhaustive => Self::Whole,
            n if n > LONG => Self::Stepwise,
            _ if has_many_columns(data) => Self::TwoStages,
            _ => Self::Whole,
        }
    }

    fn search(
        self,
        data: &Data,
        grid: Grid,
        options: &IdentifyOptions,
        progress: impl Fn(usize),
    ) -> Result<Vec<Candidate>, FitError> {
        let criterion = |criteria: &Criteria| options.criterion.value(criteria);
        match self {
            Self::Whole if options.only_choice => search_for_choice(data, grid, criterion, progress),
            Self::Whole => search(data, grid, criterion, progress),
            Self::TwoStages => search_in_two_stages(data, grid, criterion, progress),
            Self::Stepwise => walk(data, grid, criterion, progress),
        }
    }
}

/// Why no model can be identified.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum IdentifyError {
    /// A seasonal difference was asked for, and there is no season.
    #[error("there is no seasonal period for a seasonal difference")]
    NoSeason,
    /// The grid has no model.
    #[error("no model was found")]
    NoModel,
    /// The verdict has no answer.
    #[error(transparent)]
    Verdict(#[from] UnitRootError),
    /// A regressor has no value somewhere in the sample.
    #[error(transparent)]
    Regressor(#[from] MissingRegressor),
    /// No model of the grid can be estimated.
    #[error("{error}")]
    Fit {
        /// Why.
        error: FitError,
        /// Names of the regressors in their order.
        regressors: Vec<String>,
    },
}

/// Differences, deterministic terms, and the models of a grid, ranked.
///
/// # Method
/// Differences that are not given are the verdict's ([`Diagnosis::of`], or `diagnosis` where it is at hand).
/// Without given regressors the terms that the verdict calls deterministic are the regressors. Where the diagnosis leaves
/// other differences open, and wherever the models include a deterministic pattern, the best models of two to four
/// treatments are compared by their errors from rolling origins. Where the series is
/// differenced once, every model has a drift if the diagnosis finds one, or if its ratio to its standard error is beyond
/// 1.96 in the model with one coefficient of each kind. Every model of the
/// grid is estimated by exact maximum likelihood, in two stages where there are many missing values and regressors
/// ([`search_in_two_stages`]); beyond 20,000 observations a stepwise search takes its place.
/// `progress` gets the models done and those there are.
///
/// # Errors
/// [`IdentifyError`].
pub fn identify(
    series: &SeriesWithGaps,
    given: Regressors,
    diagnosis: Option<Diagnosis>,
    options: &IdentifyOptions,
    progress: impl Fn(usize, usize) + Sync,
) -> Result<Identified, IdentifyError> {
    let season = options.season.max(1);
    if season < 2 && options.differences[1].is_some_and(|times| times > 0) {
        return Err(IdentifyError::NoSeason);
    }
    let known = options.differences.iter().all(Option::is_some);
    let diagnosis = match diagnosis {
        None if !known => Some(Diagnosis::of(series, season)?),
        at_hand => at_hand,
    };
    let open = options.differences.iter().all(Option::is_none) && given.is_empty();
    let open = diagnosis.as_ref().filter(|_| open).map_or_else(Vec::new, |found| treatments(found, season));
    if open.len() > 1 {
        let (own, rivals) = compared(series, &open, diagnosis.as_ref(), options, progress)?;
        return Ok(Identified { rivals, diagnosis, ..own });
    }
    let differences = differences(options.differences, diagnosis.as_ref());
    let called = diagnosis.as_ref().filter(|_| !known && given.is_empty());
    let regressors = match called {
        Some(found) => terms(&found.assessment.fixed_terms(differences, season), series, season),
        None => given,
    };
    let own = searched(series, differences, regressors, diagnosis.as_ref(), options, progress)?;
    Ok(Identified { diagnosis, ..own })
}

/// The best model of each treatment, and which treatment forecasts best.
fn compared(
    series: &SeriesWithGaps,
    open: &[Treatment],
    diagnosis: Option<&Diagnosis>,
    options: &IdentifyOptions,
    progress: impl Fn(usize, usize) + Sync,
) -> Result<(Identified, Vec<Rival>), IdentifyError> {
    let season = options.season.max(1);
    let mut all: Vec<(Identified, Rival)> = Vec::new();
    for (place, treatment) in open.iter().enumerate() {
        let regressors = terms(&treatment.terms, series, season);
        let reach = |done: usize, of: usize| progress(place * of + done, open.len() * of);
        match searched(series, treatment.differences, regressors, diagnosis, options, reach) {
            Ok(own) => all.extend(own.as_rival(treatment.probability, season).map(|rival| (own, rival))),
            // What the verdict calls for must have its models; a rival may be beyond the data.
            Err(error) if place == 0 => return Err(error),
            Err(_) => {}
        }
    }
    // Where the verdict's own treatment has no errors there is nothing to compare with.
    if all.first().is_some_and(|(_, own)| own.error.is_some()) {
        all.sort_by(|(_, a), (_, b)| a.burden().total_cmp(&b.burden()));
    }
    let rivals = all.iter().map(|(_, rival)| rival.clone()).collect();
    let own = all.into_iter().next().map(|(own, _)| own).ok_or(IdentifyError::NoModel)?;
    Ok((own, rivals))
}

/// The grid of one treatment.
fn searched(
    series: &SeriesWithGaps,
    differences: [usize; 2],
    regressors: Regressors,
    diagnosis: Option<&Diagnosis>,
    options: &IdentifyOptions,
    progress: impl Fn(usize, usize) + Sync,
) -> Result<Identified, IdentifyError> {
    let data = data(series, &regressors)?;
    let grid =
        with_drift(grid(differences, options.season.max(1), data.len(), options.limit), &data, diagnosis);
    let method = SearchMethod::of(&data, options.exhaustive);
    let count = grid.count();
    let reach = |done: usize| progress(done, count);
    let ranked = method
        .search(&data, grid, options, reach)
        .map_err(|error| IdentifyError::Fit { error, regressors: regressors.names() })?;
    let criterion = options.criterion;
    let (rivals, diagnosis) = (Vec::new(), None);
    Ok(Identified {
        rivals,
        differences,
        diagnosis,
        regressors,
        grid,
        data,
        ranked,
        search: method,
        criterion,
    })
}

fn differences(given: [Option<usize>; 2], diagnosis: Option<&Diagnosis>) -> [usize; 2] {
    let [d, seasonal] = diagnosis.map_or([0, 0], Diagnosis::chosen_differences);
    [given[0].unwrap_or(d), given[1].unwrap_or(seasonal)]
}

/// Series of long seasons that are shorter than that number of them get one order of each kind:
const SHORT: usize = 17;
/// their larger models fit better and forecast worse.
const LONG_SEASON: usize = 7;

/// Seasonal terms take that number of seasonal cycles at least.
const MIN_CYCLES_SEASONAL_TERMS: usize = 3;

fn grid([d, seasonal]: [usize; 2], season: usize, length: usize, limit: Option<[usize; 4]>) -> Grid {
    let mut grid = Grid::usual(d, seasonal, season);
    if seasonal == 0 && length < MIN_CYCLES_SEASONAL_TERMS * season {
        grid.limit = [grid.limit[0], grid.limit[1], 0, 0];
    } else if season >= LONG_SEASON && length < SHORT * season {
        grid.limit = [1; 4];
    }
    if let Some([p, q, seasonal_p, seasonal_q]) = limit {
        let seasonal = if season > 1 { [seasonal_p, seasonal_q] } else { [0, 0] };
        grid.limit = [p, q, seasonal[0], seasonal[1]];
    }
    grid
}

/// The grid about a drift, where the diagnosis finds one, or a test does where the diagnosis does not.
fn with_drift(grid: Grid, data: &Data, diagnosis: Option<&Diagnosis>) -> Grid {
    let drifting = Grid { level: Level::Drift, ..grid };
    if !grid.may_drift() {
        return grid;
    }
    // With some regressors a drift is not identified.
    let Ok(fit) = fit_simply(data, drifting.within([1; 4])) else {
        return grid;
    };
    let own = [grid.differences, grid.seasonal_differences];
    let found = diagnosis.is_some_and(|found| found.chosen_differences() == own && found.has_drift());
    let ratio = fit.beta.first().zip(fit.beta_errors.first()).map_or(0.0, |(drift, error)| drift / error);
    if found || ratio.abs() > SIGNIFICANT { drifting } else { grid }
}

/// The model that represents exponential smoothing in combination with an automatic one: (0,1,1)(0,1,1) with a season, which smooths
/// level and pattern, (1,1,2) without, which smooths level and a slope that decays to zero.
///
/// # Source
/// Box, G. E. P. and Jenkins, G. M. (1970), Time Series Analysis, chapter 9; Gardner, E. S. and `McKenzie`, E. (1985),
/// Management Science 31, 1237-1246.
pub fn reference_model(season: usize) -> Model {
    if season > 1 {
        Model { differences: 1, ma: 1, seasonal_differences: 1, seasonal_ma: 1, season, ..Model::default() }
    } else {
        Model { ar: 1, differences: 1, ma: 2, season: 1, ..Model::default() }
    }
}

/// Mean absolute error of a model's forecasts from rolling origins over the last third of its series; none where the
/// series is too short. `coefficients` are those of the whole series, from which the estimates at the first origin begin.
pub fn rolling_error_of(
    data: &Data,
    model: Model,
    coefficients: &Coefficients,
    season: usize,
    original: impl Fn(f64) -> f64,
) -> Option<f64> {
    rolling_error(data, model, coefficients, Origins::of(data.len(), season)?, original)
}

/// The values of a series and the regressors in its periods.
///
/// # Errors
/// [`MissingRegressor`].
pub fn data(series: &SeriesWithGaps, regressors: &Regressors) -> Result<Data, MissingRegressor> {
    let periods: Vec<_> = (0..series.cells.len()).map(|t| series.period(t)).collect();
    Ok(Data::with_gaps(&series.cells).with_regressors(regressors.over(&periods)?))
}

/// The regressors of deterministic terms at places of a series.
fn terms(fixed: &[FixedTerm], series: &SeriesWithGaps, season: usize) -> Regressors {
    let of = |term: &FixedTerm| match *term {
        FixedTerm::Trend => vec![Deterministic::Trend { origin: series.period(0) }],
        FixedTerm::Step(place) => vec![Deterministic::Step { from: series.period(place) }],
        FixedTerm::Bend(place) => vec![Deterministic::Ramp { after: series.period(place) }],
        FixedTerm::Seasons => Deterministic::seasons(season, series.start),
        FixedTerm::Harmonics(number) => Deterministic::harmonics(number, season, series.start),
        FixedTerm::SeasonsFrom(place) => {
            Deterministic::seasons_from(season, series.start, series.period(place))
        }
    };
    Regressors { all: fixed.iter().flat_map(of).map(Regressor::deterministic).collect() }
}

impl Identified {
    /// The number of observations that seasonal terms would take, where there are too few for them.
    pub fn needed_for_season(&self) -> Option<usize> {
        let needed = MIN_CYCLES_SEASONAL_TERMS * self.grid.season;
        let has_none = self.grid.season > 1 && self.grid.limit[2..] == [0, 0];
        (has_none && self.grid.seasonal_differences == 0 && self.data.len() < needed).then_some(needed)
    }

    /// Models that the search covers: those that cannot be the choice may be left out by a bound.
    pub fn searched(&self) -> usize {
        if self.search == SearchMethod::Stepwise { self.ranked.len() } else { self.grid.count() }
    }

    fn as_rival(&self, probability: f64, season: usize) -> Option<Rival> {
        let model = self.chosen()?.clone();
        let error = self.rolling_error(season, |value| value);
        Some(Rival {
            differences: self.differences,
            probability,
            regressors: self.regressors.clone(),
            data: self.data.clone(),
            model,
            error,
        })
    }

    /// Mean absolute error of the chosen model's forecasts from rolling origins, on the scale that `original` carries to.
    fn rolling_error(&self, season: usize, original: impl Fn(f64) -> f64) -> Option<f64> {
        let own = self.chosen()?;
        rolling_error_of(&self.data, own.model, &own.coefficients, season, original)
    }

    /// The best without a warning, unless it is far behind the best of all.
    pub fn chosen(&self) -> Option<&Candidate> {
        chosen(&self.ranked, |criteria| self.criterion.value(criteria))
    }
}

#[cfg(test)]
mod tests;
