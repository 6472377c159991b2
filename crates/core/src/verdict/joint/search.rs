//! Which points are evaluated, and the posterior of all models.

use rayon::prelude::*;
use schemars::JsonSchema;
use serde::Serialize;

use super::breaks::{BreakEvidence, BreakType, breaks};
use super::dynamics::{Dynamics, dynamics, shorter};
use super::evidence::{Point, Sample, log_sum, point, process};
use super::pattern::{PatternEvidence, pattern};
use super::prior::{NO_SEASONALITY, ORDERS, Orders, POWER, SMOOTH};
use super::seasonal::{SeasonalFactor, factors};

/// The neighbours of a point this many logarithms below the best are not evaluated,
const NEAR: f64 = 10.0;
/// and its other seasonal factors not either.
const NEARER: f64 = 5.0;

/// A pair of differences and its posterior probability.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OrdersProbability {
    /// d and D.
    pub differences: [usize; 2],
    /// Its share of all.
    pub probability: f64,
}

/// What the seasonality of a series is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Seasonality {
    /// There is none.
    None,
    /// A fixed pattern.
    Deterministic,
    /// A fixed pattern that changes once.
    ChangingPattern,
    /// A stationary seasonal process.
    Stationary,
    /// Seasonal unit roots.
    UnitRoots,
}

impl Seasonality {
    /// Whether it is a fixed pattern, or one fixed pattern after another.
    pub fn is_fixed(self) -> bool {
        matches!(self, Self::Deterministic | Self::ChangingPattern)
    }
}

/// The posterior of differences, seasonality, slope and breaks.
#[derive(Debug, Clone, PartialEq)]
pub struct JointPosterior {
    /// From the most probable down.
    pub orders: Vec<OrdersProbability>,
    /// Given the most probable differences: each seasonality, from the most probable down.
    pub seasonality: Vec<(Seasonality, f64)>,
    /// Given these: the number of harmonics of a fixed pattern that is smooth rather than of any form.
    pub harmonics: Option<usize>,
    /// Given these: the probability that the seasonal differences have a mean; none where they are differenced again.
    pub slope: Option<f64>,
    /// Given these: the probability of each break, and the place of its most probable date.
    pub breaks: Vec<(BreakType, f64, usize)>,
    /// Given these: the mean of the seasonal autoregressive coefficient.
    pub seasonal_coefficient: f64,
}

impl JointPosterior {
    /// The probability of each number of ordinary differences, 0 to 2.
    pub fn by_differences(&self) -> [f64; 3] {
        let mut sums = [0.0; 3];
        for one in &self.orders {
            sums[one.differences[0].min(2)] += one.probability;
        }
        sums
    }

    /// Of a series without gaps of this seasonal period; none where too few values are left, or nothing varies.
    ///
    /// # Cost
    /// Some 1,500 likelihoods, each of the order of one recursion over the series, whatever the season.
    pub fn of(y: &[f64], season: usize) -> Option<Self> {
        let sample = Sample::new(y, season)?;
        let models = searched(&sample);
        let summaries: Vec<Summary> = models.iter().map(|model| Summary::of(model, &sample, y)).collect();
        posterior(&summaries)
    }

    /// The most probable date at which the pattern changes: the place of the first observation of the new one.
    pub fn pattern_changes_at(&self) -> Option<usize> {
        self.breaks.iter().find(|(kind, ..)| *kind == BreakType::PatternChange).map(|(.., at)| *at)
    }

    /// The most probable differences.
    pub fn differences(&self) -> [usize; 2] {
        self.orders.first().map_or([0, 0], |one| one.differences)
    }
}

/// Every model with the points that matter: coarse dynamics at reference factors first, the neighbours of those near the
/// best, and then all factors of those nearer.
pub(super) fn searched(sample: &Sample) -> Vec<Model> {
    let mut models: Vec<Model> =
        ORDERS.iter().map(|(orders, prior)| Model::new(*orders, *prior, sample.season)).collect();
    evaluate(&mut models, sample, |model, place, factor| {
        model.dynamics[place].parent == place && model.factors[factor].is_reference
    });
    let best = best_of(&models);
    evaluate(&mut models, sample, |model, place, factor| {
        model.factors[factor].is_reference && model.most(model.dynamics[place].parent) > best - NEAR
    });
    let best = best_of(&models);
    evaluate(&mut models, sample, |model, place, _| model.most(place) > best - NEARER);
    models
}

/// One pair of differences with all its points.
pub(super) struct Model {
    orders: Orders,
    prior: f64,
    dynamics: Vec<Dynamics>,
    factors: Vec<SeasonalFactor>,
    /// For each dynamics and factor what was found; `None` not yet evaluated.
    points: Vec<Option<Point>>,
}

impl Model {
    fn new(orders: Orders, prior: f64, season: usize) -> Self {
        let all = shorter(&dynamics(orders.d), season);
        let factors = factors(orders);
        let points = vec![None; all.len() * factors.len()];
        Self { orders, prior, dynamics: all, factors, points }
    }

    fn is_allowed(&self, place: usize, factor: usize) -> bool {
        self.dynamics[place].with_seasonal_ar || !self.factors[factor].is_stationary
    }

    /// The logarithm of the best likelihood of a dynamics so far.
    fn most(&self, place: usize) -> f64 {
        let width = self.factors.len();
        let own = &self.points[place * width..][..width];
        own.iter().flatten().map(|point| point.both()).fold(f64::NEG_INFINITY, f64::max)
    }

    /// The logarithm of the likelihood, averaged over all points.
    #[cfg(test)]
    pub(super) fn averaged(&self) -> (Orders, f64) {
        (self.orders, log_sum(self.evaluated().map(|(_, weight, point)| weight + point.both())))
    }

    /// The points that were evaluated with their weights.
    fn evaluated(&self) -> impl Iterator<Item = (&SeasonalFactor, f64, Point)> {
        let width = self.factors.len();
        let allowed = (0..self.points.len()).filter(move |at| self.is_allowed(at / width, at % width));
        let total: f64 = allowed.map(|at| self.weight(at)).sum();
        self.points.iter().enumerate().filter_map(move |(at, point)| {
            point.map(|point| (&self.factors[at % width], (self.weight(at) / total).ln(), point))
        })
    }

    /// The evidence of a fixed pattern over the dynamics that breaks are tried with, which are all evaluated.
    fn core(&self) -> f64 {
        let width = self.factors.len();
        let own = |at: &usize| self.dynamics[at / width].is_core && self.factors[at % width].is_core;
        let places = || (0..self.points.len()).filter(own);
        let total: f64 = places().map(|at| self.weight(at)).sum();
        log_sum(places().filter_map(|at| Some((self.weight(at) / total).ln() + self.points[at]?.both())))
    }

    /// The weight of some of the factors.
    fn share(&self, is_one: impl Fn(&SeasonalFactor) -> bool) -> f64 {
        let width = self.factors.len();
        let allowed = (0..self.points.len()).filter(|at| self.is_allowed(at / width, at % width));
        let (mut own, mut all) = (0.0, 0.0);
        for at in allowed {
            all += self.weight(at);
            own += if is_one(&self.factors[at % width]) { self.weight(at) } else { 0.0 };
        }
        own / all
    }

    fn weight(&self, at: usize) -> f64 {
        let width = self.factors.len();
        self.dynamics[at / width].weight * self.factors[at % width].weight
    }
}

/// The logarithm of the best likelihood of all points.
fn best_of(models: &[Model]) -> f64 {
    let all = models.iter().flat_map(|model| model.points.iter().flatten());
    all.map(|point| point.both()).fold(f64::NEG_INFINITY, f64::max)
}

/// Evaluates the points that are wanted and not yet known.
fn evaluate(models: &mut [Model], sample: &Sample, is_wanted: impl Fn(&Model, usize, usize) -> bool) {
    let mut wanted = Vec::new();
    for (which, model) in models.iter().enumerate() {
        for place in 0..model.dynamics.len() {
            for factor in 0..model.factors.len() {
                let at = place * model.factors.len() + factor;
                let is_new = model.points[at].is_none() && model.is_allowed(place, factor);
                if is_new && is_wanted(model, place, factor) {
                    wanted.push((which, at));
                }
            }
        }
    }
    let found: Vec<Option<Point>> = wanted
        .par_iter()
        .map(|(which, at)| {
            let (model, width) = (&models[*which], models[*which].factors.len());
            let process = process(model.orders, &model.dynamics[at / width], &model.factors[at % width]);
            point(sample, model.orders, &process)
        })
        .collect();
    for ((which, at), point) in wanted.into_iter().zip(found) {
        models[which].points[at] = point;
    }
}

/// What the points of a model come to.
struct Summary {
    orders: Orders,
    prior: f64,
    without_slope: f64,
    with_slope: f64,
    breaks: Vec<BreakEvidence>,
    /// The evidence on the pattern, where no seasonal difference is taken.
    pattern: Option<PatternEvidence>,
    /// The evidence of a seasonal autoregression, a part of the first two.
    stationary: f64,
    /// The evidence of a fixed pattern alone.
    fixed: f64,
    seasonal_coefficient: f64,
}

impl Summary {
    fn of(model: &Model, sample: &Sample, y: &[f64]) -> Self {
        let orders = model.orders;
        let over = |of: &dyn Fn(&SeasonalFactor, Point) -> f64| {
            log_sum(model.evaluated().map(|(factor, weight, point)| weight + of(factor, point)))
        };
        let (without_slope, with_slope) =
            (over(&|_, point| point.without_slope), over(&|_, point| point.with_slope));
        let of_kind = |wanted: fn(&SeasonalFactor) -> bool| {
            over(&|factor, point| if wanted(factor) { point.both() } else { f64::NEG_INFINITY })
        };
        // A moving average at the seasonal lag beside a fixed pattern leaves it a fixed pattern.
        let stationary = of_kind(|factor| !factor.ar.is_empty());
        let fixed =
            of_kind(|factor| !factor.is_stationary) - model.share(|factor| !factor.is_stationary).ln();
        let of_ar = |factor: &SeasonalFactor| factor.ar.first().copied().unwrap_or(0.0);
        let seasonal_coefficient = model
            .evaluated()
            .filter(|(factor, ..)| !factor.ar.is_empty())
            .map(|(factor, weight, point)| of_ar(factor) * (weight + point.both() - stationary).exp())
            .sum();
        let mut breaks = breaks(sample, orders, &model.dynamics, &model.factors);
        let best = breaks.iter().max_by(|a, b| a.log_evidence.total_cmp(&b.log_evidence));
        let own = best.filter(|one| one.log_evidence > log_sum([without_slope, with_slope]));
        let column = own.map(|one| one.column(y.len()));
        let tried = orders.seasonal == 0 && orders.d < 2;
        let pattern = tried.then(|| pattern(y, sample.season, orders.d, column.as_deref()));
        breaks.extend(pattern.map(|own| own.change(model.core())));
        Self {
            orders,
            prior: model.prior,
            without_slope,
            with_slope,
            breaks,
            pattern,
            stationary,
            fixed,
            seasonal_coefficient,
        }
    }

    /// The prior probability that nothing breaks.
    fn steady(&self) -> f64 {
        1.0 - self.breaks.iter().map(|one| one.kind.prior()).sum::<f64>()
    }

    /// The evidence without a break and with each.
    fn by_break(&self) -> Vec<f64> {
        let steady = self.steady().ln() + log_sum([self.without_slope, self.with_slope]);
        std::iter::once(steady).chain(self.breaks.iter().map(|one| one.log_evidence)).collect()
    }

    /// All of it, no seasonality included.
    fn evidence(&self) -> f64 {
        let seasonal = log_sum(self.by_break());
        match self.pattern {
            None => seasonal,
            Some(own) => {
                let smooth = self.smooth_pattern(own).unwrap_or(f64::NEG_INFINITY);
                log_sum([self.seasonal_prior().ln() + seasonal, smooth, self.without_pattern(own)])
            }
        }
    }

    /// The evidence for no seasonality, with breaks and without, its prior included.
    fn without_pattern(&self, own: PatternEvidence) -> f64 {
        NO_SEASONALITY.ln() + self.fixed_pattern() + own.none
    }

    /// The evidence for a smooth pattern likewise.
    fn smooth_pattern(&self, own: PatternEvidence) -> Option<f64> {
        Some(SMOOTH.ln() + self.fixed_pattern() + own.smooth?.factor)
    }

    /// The evidence for a fixed pattern of any form, with breaks and without.
    fn fixed_pattern(&self) -> f64 {
        let breaks = self.breaks.iter().filter(|one| one.kind != BreakType::PatternChange);
        log_sum(breaks.map(|one| one.log_evidence).chain([self.steady().ln() + self.fixed]))
    }

    /// The prior probability of seasonality other than a smooth pattern, where no seasonal difference is taken.
    fn seasonal_prior(&self) -> f64 {
        let smooth = self.pattern.and_then(|own| own.smooth).map_or(0.0, |_| SMOOTH);
        1.0 - NO_SEASONALITY - smooth
    }

    fn harmonics(&self) -> Option<usize> {
        let own = self.pattern?;
        let rough = self.seasonal_prior().ln() + log_sum(self.by_break());
        own.smooth.map(|one| one.harmonics).filter(|_| self.smooth_pattern(own) > Some(rough))
    }

    fn seasonality(&self) -> Vec<(Seasonality, f64)> {
        if self.orders.seasonal > 0 {
            return vec![(Seasonality::UnitRoots, 1.0)];
        }
        let all = self.evidence();
        let seasonal = if self.pattern.is_some() { self.seasonal_prior().ln() } else { 0.0 };
        let none = self.pattern.map_or(0.0, |own| (self.without_pattern(own) - all).exp());
        // Breaks are tried with a fixed pattern only.
        let stationary = (seasonal + self.steady().ln() + self.stationary - all).exp();
        let change = self.breaks.iter().find(|one| one.kind == BreakType::PatternChange);
        let changing = change.map_or(0.0, |one| (seasonal + one.log_evidence - all).exp());
        let mut all = vec![
            (Seasonality::None, none),
            (Seasonality::Stationary, stationary),
            (Seasonality::ChangingPattern, changing),
            (Seasonality::Deterministic, 1.0 - none - stationary - changing),
        ];
        all.sort_by(|a, b| b.1.total_cmp(&a.1));
        all
    }
}

fn posterior(summaries: &[Summary]) -> Option<JointPosterior> {
    let values: Vec<f64> = summaries.iter().map(|one| one.prior.ln() + POWER * one.evidence()).collect();
    let total = log_sum(values.iter().copied());
    if !total.is_finite() {
        return None;
    }
    let mut orders: Vec<OrdersProbability> = summaries
        .iter()
        .zip(&values)
        .map(|(one, value)| OrdersProbability {
            differences: [one.orders.d, one.orders.seasonal],
            probability: (value - total).exp(),
        })
        .collect();
    orders.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    let chosen = orders.first()?.differences;
    let own = summaries.iter().find(|one| [one.orders.d, one.orders.seasonal] == chosen)?;
    let all = log_sum(own.by_break());
    let slope = (own.with_slope - log_sum([own.without_slope, own.with_slope])).exp();
    Some(JointPosterior {
        orders,
        seasonality: own.seasonality(),
        harmonics: own.harmonics(),
        slope: own.orders.has_slope().then_some(slope),
        breaks: own.breaks.iter().map(|one| (one.kind, (one.log_evidence - all).exp(), one.at)).collect(),
        seasonal_coefficient: own.seasonal_coefficient,
    })
}
