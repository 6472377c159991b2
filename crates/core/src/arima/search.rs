//! The grid of orders, every model of it estimated and ranked.

use schemars::JsonSchema;
use serde::Serialize;
use std::collections::BTreeMap;
use thiserror::Error;

use rayon::prelude::*;

use super::coefficients::Coefficients;
use super::data::Data;
use super::fit::{Criteria, Fit, FitError, Light, fit_from, light};
use super::model::{Level, Model};
use super::roots::{Root, roots};
use crate::num::minimise::Start;

/// Which orders are tried.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Grid {
    /// d.
    pub differences: usize,
    /// D.
    pub seasonal_differences: usize,
    /// s; 1 without seasonal terms.
    pub season: usize,
    /// The largest p, q, P, Q.
    pub limit: [usize; 4],
    /// What every model is about.
    pub level: Level,
}

/// Seasons longer than this get one seasonal term of each kind.
const LONG_SEASON: usize = 52;

impl Grid {
    /// p and q to three, P and Q to two, or one for long seasons; about a mean where nothing is differenced, without a
    /// drift otherwise.
    pub fn usual(differences: usize, seasonal_differences: usize, season: usize) -> Self {
        let seasonal = match season {
            0 | 1 => 0,
            long if long > LONG_SEASON => 1,
            _ => 2,
        };
        let level = if differences + seasonal_differences == 0 { Level::Mean } else { Level::None };
        let limit = [3, 3, seasonal, seasonal];
        Self { differences, seasonal_differences, season: season.max(1), limit, level }
    }

    /// Whether its models may have a drift: a series that is differenced once.
    pub fn may_drift(self) -> bool {
        self.differences + self.seasonal_differences == 1
    }

    /// The model with the smallest of these orders and its own limits.
    pub fn within(self, orders: [usize; 4]) -> Model {
        self.model(smaller(orders, self.limit))
    }

    pub(super) fn model(self, [ar, ma, seasonal_ar, seasonal_ma]: [usize; 4]) -> Model {
        let seasonal = seasonal_ar + self.seasonal_differences + seasonal_ma > 0;
        Model {
            ar,
            differences: self.differences,
            ma,
            seasonal_ar,
            seasonal_differences: self.seasonal_differences,
            seasonal_ma,
            season: if seasonal { self.season } else { 1 },
            level: self.level,
        }
    }

    /// Models of the grid.
    pub fn count(self) -> usize {
        self.limit.iter().map(|most| most + 1).product()
    }
}

/// A model of the grid.
#[derive(Debug, Clone, PartialEq)]
pub struct Candidate {
    /// Which.
    pub model: Model,
    /// φ, θ, Φ, Θ.
    pub coefficients: Coefficients,
    /// Of the differenced series, constants included.
    pub log_likelihood: f64,
    /// Totals; comparable with each other.
    pub criteria: Criteria,
    /// What speaks against it.
    pub warnings: Vec<ModelWarning>,
}

impl Candidate {
    /// The whole estimate by ordinary maximum likelihood, with errors and residuals: that of `fit`, whose nested
    /// models lead to where the search ended.
    ///
    /// # Errors
    /// [`FitError`].
    pub fn fit(&self, data: &Data) -> Result<Fit, FitError> {
        fit_from(data, &self.coefficients, self.model)
    }
}

/// What speaks against a model.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error, JsonSchema, Serialize)]
pub enum ModelWarning {
    /// An autoregressive and a moving-average factor nearly cancel.
    #[error("the AR and MA polynomials have near common factors")]
    #[serde(rename = "the AR and MA polynomials have near common factors")]
    Cancelling,
    /// An autoregressive root near one: it should have been differenced, or not at all.
    #[error("an autoregressive root is near unity")]
    #[serde(rename = "an autoregressive root is near unity")]
    UnitRoot,
    /// A moving-average root near one: it was differenced too often.
    #[error("a moving-average root is near unity")]
    #[serde(rename = "a moving-average root is near unity")]
    Overdifferenced,
}

/// Inverse roots nearer to each other than this cancel.
const CANCELS: f64 = 0.12;
/// A root with a modulus below this is near one.
const NEAR_ONE: f64 = 1.02;
/// Starts that are followed for each model.
pub(super) const FOLLOWED: usize = 2;

/// Every model of the grid by exact maximum likelihood, the best by `criterion` first.
///
/// # Method
/// Models are taken in order of their number of coefficients; each starts from all its simpler
/// neighbours with the new coefficient near zero, and the two best starts are followed, the second
/// until it leads to where the first one did. `progress` is called with the models done so far.
///
/// # Errors
/// [`FitError`] where not even the simplest model can be estimated.
pub fn search(
    data: &Data,
    grid: Grid,
    criterion: impl Fn(&Criteria) -> f64,
    progress: impl Fn(usize),
) -> Result<Vec<Candidate>, FitError> {
    let all = whole_grid(data, grid, progress)?;
    Ok(ranked(all.into_iter().map(candidate).collect(), criterion))
}

/// The models of the grid that [`chosen`] may take, ranked in the same way: larger ones are left out once their size
/// alone rules them out.
///
/// # Method
/// No model of the grid has a larger likelihood than the one that has all their coefficients. That one is estimated after
/// the models of three coefficients; a criterion of its likelihood and of fewer coefficients is a bound for all models
/// with as many. They are left out if the bound is beyond the best model without a warning, and by one more,
/// as a numerical maximum may be a little short of the maximum.
///
/// # Errors
/// As [`search`].
pub fn search_for_choice(
    data: &Data,
    grid: Grid,
    criterion: impl Fn(&Criteria) -> f64,
    progress: impl Fn(usize),
) -> Result<Vec<Candidate>, FitError> {
    let all = by_size(data, grid, Some(&criterion), progress)?;
    Ok(ranked(all.into_iter().map(candidate).collect(), criterion))
}

pub(super) fn whole_grid(data: &Data, grid: Grid, progress: impl Fn(usize)) -> Result<Vec<Light>, FitError> {
    by_size(data, grid, None, progress)
}

/// Models of up to this number of coefficients are estimated before the largest.
const SMALL: usize = 3;
/// What a numerical maximum may be short of, in units of a criterion.
const SHORT: f64 = 1.0;
/// Starts of the largest model from smaller ones.
const FROM_SMALLER: usize = 4;

/// Models by their number of coefficients; with a criterion no more than a choice by it needs.
fn by_size(
    data: &Data,
    grid: Grid,
    choice: Option<&dyn Fn(&Criteria) -> f64>,
    progress: impl Fn(usize),
) -> Result<Vec<Light>, FitError> {
    let mut known: BTreeMap<[usize; 4], Light> = BTreeMap::new();
    let largest: usize = grid.limit.iter().sum();
    let mut top = None;
    for size in 0..=largest {
        if let Some(criterion) = choice.filter(|_| size > SMALL && size < largest) {
            let found = top.get_or_insert_with(|| largest_model(data, grid, &known));
            let is_beyond = |top: &Light| {
                criterion(&top.criteria_of_fewer(largest - size)) > best_sound(&known, criterion) + SHORT
            };
            if found.as_ref().is_some_and(is_beyond) {
                break;
            }
        }
        let orders = of_size(grid.limit, size);
        let fits: Vec<([usize; 4], Result<Light, FitError>)> = orders
            .into_par_iter()
            .map(|orders| (orders, light(data, grid.model(orders), &starts(orders, &known), FOLLOWED)))
            .collect();
        for (orders, fit) in fits {
            match fit {
                Ok(fit) => {
                    known.insert(orders, fit);
                }
                Err(error) if size == 0 => return Err(error),
                // Larger models may need more values than there are.
                Err(_) => {}
            }
        }
        progress(known.len());
    }
    Ok(known.into_values().collect())
}

/// The model with all coefficients of the grid, from the most likely smaller ones; none where it is less likely than one
/// of them, so that no maximum was found.
fn largest_model(data: &Data, grid: Grid, known: &BTreeMap<[usize; 4], Light>) -> Option<Light> {
    let mut smaller: Vec<(&[usize; 4], &Light)> = known.iter().collect();
    smaller.sort_by(|a, b| b.1.log_likelihood.total_cmp(&a.1.log_likelihood));
    let most = smaller.first()?.1.log_likelihood;
    let starts: Vec<Start> = smaller
        .into_iter()
        .take(FROM_SMALLER)
        .map(|(orders, own)| enlarged(*orders, own, grid.limit))
        .collect();
    let found = light(data, grid.model(grid.limit), &starts, FROM_SMALLER).ok()?;
    (found.log_likelihood >= most).then_some(found)
}

/// Where a model ended, with further coefficients near zero.
fn enlarged(orders: [usize; 4], own: &Light, limit: [usize; 4]) -> Start {
    let mut start = own.end.clone();
    let mut first = 0;
    for (order, most) in orders.into_iter().zip(limit) {
        start = (first + order..first + most).fold(start, |start, place| own.enlarged(&start, place));
        first += most;
    }
    start
}

/// The criterion of the best model without a warning.
fn best_sound(known: &BTreeMap<[usize; 4], Light>, criterion: &dyn Fn(&Criteria) -> f64) -> f64 {
    let sound = known.values().filter(|own| warnings(&own.coefficients).is_empty());
    sound.map(|own| criterion(&own.criteria())).fold(f64::INFINITY, f64::min)
}

/// The best by a criterion first.
pub(super) fn ranked(mut all: Vec<Candidate>, criterion: impl Fn(&Criteria) -> f64) -> Vec<Candidate> {
    all.sort_by(|a, b| criterion(&a.criteria).total_cmp(&criterion(&b.criteria)).then(a.model.cmp(&b.model)));
    all
}

/// Models of a nested search, at most, and with the regressors of each a given number.
const MOST_NESTED: usize = 144;
const MOST_BESIDE: usize = 450;

/// Where a model's own nested models lead, each from its simpler neighbours as in a whole grid; none where they are
/// many.
pub(super) fn nested(data: &Data, model: Model) -> Option<Coefficients> {
    let limit = [model.ar, model.ma, model.seasonal_ar, model.seasonal_ma];
    let count: usize = limit.iter().map(|most| most + 1).product();
    if count > MOST_NESTED || count * data.regressors.len() > MOST_BESIDE {
        return None;
    }
    let mut known: BTreeMap<[usize; 4], Light> = BTreeMap::new();
    for size in 0..=limit.iter().sum() {
        for orders in of_size(limit, size) {
            let [ar, ma, seasonal_ar, seasonal_ma] = orders;
            let own = Model { ar, ma, seasonal_ar, seasonal_ma, ..model };
            if let Ok(found) = light(data, own, &starts(orders, &known), FOLLOWED) {
                known.insert(orders, found);
            }
        }
    }
    known.remove(&limit).map(|own| own.coefficients)
}

/// So far behind, a model has almost no support relative to the best.
const HOPELESS: f64 = 10.0;

/// The model to choose of a ranking, best first: the first that nothing speaks against, unless it
/// is more than 10 behind the first of all; then that one.
pub fn chosen(ranked: &[Candidate], criterion: impl Fn(&Criteria) -> f64) -> Option<&Candidate> {
    let first = ranked.first()?;
    let sound = ranked.iter().find(|candidate| candidate.warnings.is_empty());
    let near = |own: &&Candidate| criterion(&own.criteria) - criterion(&first.criteria) <= HOPELESS;
    Some(sound.filter(near).unwrap_or(first))
}

/// The smaller of each two orders.
pub(super) fn smaller(mut orders: [usize; 4], limit: [usize; 4]) -> [usize; 4] {
    orders.iter_mut().zip(limit).for_each(|(order, most)| *order = (*order).min(most));
    orders
}

/// Orders within the limit that sum to a size.
fn of_size(limit: [usize; 4], size: usize) -> Vec<[usize; 4]> {
    let mut all = Vec::new();
    for p in 0..=limit[0].min(size) {
        for q in 0..=limit[1].min(size - p) {
            for sp in 0..=limit[2].min(size - p - q) {
                let sq = size - p - q - sp;
                if sq <= limit[3] {
                    all.push([p, q, sp, sq]);
                }
            }
        }
    }
    all
}

/// Where every simpler neighbour ended, with one coefficient more near zero.
pub(super) fn starts(orders: [usize; 4], known: &BTreeMap<[usize; 4], Light>) -> Vec<Start> {
    let from = |block: usize| {
        let mut parent = orders;
        parent[block] = parent[block].checked_sub(1)?;
        let place: usize = orders[..=block].iter().sum::<usize>() - 1;
        let own = known.get(&parent)?;
        Some(own.enlarged(&own.end, place))
    };
    (0..4).filter_map(from).collect()
}

pub(super) fn candidate(fit: Light) -> Candidate {
    Candidate {
        warnings: warnings(&fit.coefficients),
        criteria: fit.criteria(),
        log_likelihood: fit.log_likelihood,
        coefficients: fit.coefficients,
        model: fit.model,
    }
}

/// The roots of φ and Φ, and those of θ and Θ.
pub(super) fn factor_roots(coefficients: &Coefficients) -> [[Vec<Root>; 2]; 2] {
    let negative = |list: &[f64]| list.iter().map(|c| -c).collect::<Vec<f64>>();
    let Coefficients { ar, ma, seasonal_ar, seasonal_ma } = coefficients;
    [[roots(&negative(ar)), roots(&negative(seasonal_ar))], [roots(ma), roots(seasonal_ma)]]
}

/// What speaks against a model by its roots.
pub fn warnings(coefficients: &Coefficients) -> Vec<ModelWarning> {
    let [ar, ma] = factor_roots(coefficients);
    let cancels =
        |(ar, ma): (&Vec<Root>, &Vec<Root>)| ar.iter().any(|a| ma.iter().any(|m| a.is_near(*m, CANCELS)));
    let near_one = |list: &[Vec<Root>; 2]| list.iter().flatten().any(|root| root.modulus() < NEAR_ONE);
    let mut all = Vec::new();
    if ar.iter().zip(&ma).any(cancels) {
        all.push(ModelWarning::Cancelling);
    }
    if near_one(&ar) {
        all.push(ModelWarning::UnitRoot);
    }
    if near_one(&ma) {
        all.push(ModelWarning::Overdifferenced);
    }
    all
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::arima::engine::likelihood::tests::{by_recursion, nearly_cancelling};

    #[test]
    fn no_likelihood_of_a_grid_is_rounding_however_often_the_series_is_differenced() {
        for (stream, differences) in [(8, 1), (7, 2), (6, 2)] {
            let y = nearly_cancelling(stream);
            let grid = Grid { limit: [3, 3, 0, 1], ..Grid::usual(differences, 0, 12) };
            let all = search(&Data::complete(&y), grid, |own| own.bic, |_| {}).expect("models");
            assert_eq!(all.len(), 32);
            for own in &all {
                let w = own.model.differenced(&y);
                let n = w.len() as f64;
                let constant = n * ((2.0 * std::f64::consts::PI / n).ln() + 1.0);
                let other = -0.5 * (by_recursion(&w, &own.coefficients, 12) + constant);
                assert!((own.log_likelihood - other).abs() < 0.05, "{own:?}: {other}");
            }
        }
    }

    #[test]
    fn every_model_of_the_grid_is_taken_once() {
        let grid = Grid::usual(1, 1, 12);
        let count: usize = (0..=10).map(|size| of_size(grid.limit, size).len()).sum();
        assert_eq!((count, grid.count()), (144, 144));
        assert_eq!(Grid::usual(1, 0, 365).count(), 64);
        assert_eq!(Grid::usual(0, 0, 1).count(), 16);
    }

    #[test]
    fn a_model_with_doubts_is_chosen_only_where_the_others_are_hopeless() {
        let of = |ar: usize, aicc: f64, warnings: Vec<ModelWarning>| Candidate {
            model: Model { ar, ..Model::default() },
            coefficients: Coefficients::default(),
            log_likelihood: 0.0,
            criteria: Criteria { aic: aicc, aicc: Some(aicc), bic: aicc, hq: aicc },
            warnings,
        };
        let warned = of(3, 100.0, vec![ModelWarning::UnitRoot]);
        let choice = |behind: f64| {
            let ranked = [warned.clone(), of(1, 100.0 + behind, Vec::new())];
            chosen(&ranked, |own| own.aic).map(|own| own.model.ar)
        };
        assert_eq!((choice(9.9), choice(10.1)), (Some(1), Some(3)));
        assert_eq!(chosen(&[warned], |own| own.aic).map(|own| own.model.ar), Some(3));
        assert_eq!(chosen(&[], |own| own.aic), None);
    }

    #[test]
    fn warnings_are_described_by_the_roots() {
        let of = |ar: &[f64], ma: &[f64]| {
            warnings(&Coefficients { ar: ar.to_vec(), ma: ma.to_vec(), ..Coefficients::default() })
        };
        assert_eq!(of(&[0.7], &[-0.65]), [ModelWarning::Cancelling]);
        assert_eq!(of(&[0.99], &[]), [ModelWarning::UnitRoot]);
        assert_eq!(of(&[], &[-0.995]), [ModelWarning::Overdifferenced]);
        assert_eq!(of(&[0.7], &[0.65]), []);
    }
}
