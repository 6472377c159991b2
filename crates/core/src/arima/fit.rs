//! Estimates by exact maximum likelihood, and information criteria.

use nalgebra::DMatrix;
use schemars::JsonSchema;
use serde::Serialize;
use thiserror::Error;

use super::coefficients::Coefficients;
use super::data::Data;
use super::engine::likelihood::{Likelihood, Sample, likelihood_with_gaps};
use super::engine::predictor::Predictor;
use super::engine::recursive::{Innovation, innovations};
use super::model::{Level, Model};
use super::search::nested;
use super::transform;
use crate::num::minimise::{self, Descent, Minimum, Start};
use crate::num::scale::{self, is_squarable};
use crate::num::sum::dot;

/// Why a model cannot be estimated.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum FitError {
    /// Fewer values than the model needs.
    #[error("{observations} observations are too few for this model: {needed} are needed")]
    TooShort {
        /// There are.
        observations: usize,
        /// Needed.
        needed: usize,
    },
    /// A value that cannot be computed with.
    #[error("a value is too large for the computation")]
    NotFinite {
        /// Where.
        place: usize,
    },
    /// Nothing is left after the differences.
    #[error("the series is constant after differencing")]
    Constant,
    /// A regressor that the model's differences leave nothing of, or a mixture of the mean or drift
    /// and those before it.
    #[error("a regressor is collinear with the others after differencing")]
    Collinear {
        /// Which.
        regressor: usize,
    },
    /// So much is missing that the values there are tell nothing of some place, or that it would take
    /// too long.
    #[error("too many values are missing")]
    TooManyGaps,
    /// No start had a likelihood.
    #[error("the estimation did not converge")]
    NoConvergence,
}

/// A model with its estimates.
#[derive(Debug, Clone, PartialEq)]
pub struct Fit {
    /// The model.
    pub model: Model,
    /// φ, θ, Φ, Θ.
    pub coefficients: Coefficients,
    /// Their standard errors in turn; none where the likelihood has no proper top.
    pub errors: Option<Vec<f64>>,
    /// Their covariances in that order; none where the likelihood has no proper top.
    pub covariance: Option<DMatrix<f64>>,
    /// Mean or drift, then the regressors' coefficients.
    pub beta: Vec<f64>,
    /// Their standard errors.
    pub beta_errors: Vec<f64>,
    /// Variance of the innovations (maximum likelihood).
    pub sigma2: f64,
    /// Missing values: place, estimate, standard error.
    pub missing: Vec<(usize, f64, f64)>,
    /// Values there are after the differences.
    pub used: usize,
    /// Logarithm of the likelihood of the differenced series, constants included.
    pub log_likelihood: f64,
    /// Estimated parameters, the variance among them.
    pub parameters: usize,
    /// Whether the slope had vanished.
    pub converged: bool,
    /// Places in the series of the values that have a one-step error: all after the differences,
    /// but for missing ones.
    pub places: Vec<usize>,
    /// One-step errors over their standard deviations in units of σ.
    pub residuals: Vec<f64>,
    /// One-step errors, as the values came to be known.
    pub one_step_errors: Vec<f64>,
}

/// Criteria, as totals.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct Criteria {
    /// Akaike.
    pub aic: f64,
    /// The same, corrected for short series; none where parameters leave no values.
    pub aicc: Option<f64>,
    /// Schwarz.
    pub bic: f64,
    /// Hannan and Quinn.
    pub hq: f64,
}

/// Values that a model needs beyond its parameters.
const SPARE: usize = 3;
/// That number of values may be missing, each a column of its own,
const MOST_MISSING: usize = 400;
/// and that number of cells these columns may have together.
const MOST_CELLS: usize = 4_000_000;
/// Up to that number of cells all starts are followed.
const CHEAP: usize = 20_000;
/// So often gaps are filled from what the model makes of them before it is estimated over them.
const FILLINGS: usize = 2;
/// The deviance is known to about 1e-7,
const COARSE: Descent = Descent { tolerance: 1e-7, longest: 0.5 };
/// and to about 1e-13 where estimates are to be told.
const FINE: Descent = Descent { tolerance: 1e-13, longest: 0.5 };
/// Models of more coefficients have no better starts than those from smaller ones where there are as many of these: of
/// 2,738 such models of 40 grids a usual start was never the best and twice the second best.
const FEW: usize = 4;
const NEIGHBOURS: usize = 2;
/// A coefficient that a model is given begins at this partial autocorrelation.
const FIRST: f64 = 0.1;
/// From a deviance and partial autocorrelations so near to those of a top, a search leads to that top.
const SAME_DEVIANCE: f64 = 1.0;
const SAME_PARTIAL: f64 = 0.1;
/// Where an autoregression is larger than its innovations by more than that, rounding is all that is left of its
/// likelihood.
const MOST_AMPLIFIED: f64 = 1e10;

/// Exact maximum likelihood of a model, with regressors concentrated out.
///
/// # Formula
/// `φ(B) Φ(B^s) (1-B)^d (1-B^s)^D (y_t - β'x_t) = θ(B) Θ(B^s) e_t`; the mean and the drift are
/// regressors (ones, time). It descends from usual starts and from where the nested models lead
/// one after the other. Criteria and errors are those of the differenced series; errors are from
/// the curvature of the deviance, those of β from generalised least squares.
///
/// # Source
/// Box, G. E. P., Jenkins, G. M. and Reinsel, G. C. (1994), Time Series Analysis, 3rd ed., chapter 7.
///
/// # Errors
/// [`FitError`].
pub fn fit(data: &Data, model: Model) -> Result<Fit, FitError> {
    let prepared = Prepared::new(data, model)?;
    if data.missing.len() * data.len() <= CHEAP {
        return prepared.fit_from(nested(data, model).as_ref());
    }
    let usual = prepared.all_starts();
    // Each likelihood is dear: from one start, where the values filled in have their best.
    prepared
        .start_over_gaps(&usual)
        .and_then(|start| prepared.fit(&[start]))
        .or_else(|_| prepared.fit(&usual))
}

/// The same from the usual starts and from estimates at hand, in place of those of nested models: at rolling origins
/// the estimates of another origin alone may lead to another maximum.
///
/// # Errors
/// [`FitError`].
pub fn fit_from(data: &Data, known: &Coefficients, model: Model) -> Result<Fit, FitError> {
    if data.missing.len() * data.len() > CHEAP {
        return fit_near(data, known, model);
    }
    Prepared::new(data, model)?.fit_from(Some(known))
}

/// The same from the usual starts alone: for a model of few coefficients that is a means to something else.
///
/// # Errors
/// [`FitError`].
pub fn fit_simply(data: &Data, model: Model) -> Result<Fit, FitError> {
    let prepared = Prepared::new(data, model)?;
    prepared.fit(&prepared.all_starts())
}

/// The same from estimates at hand.
///
/// # Errors
/// [`FitError`].
pub fn fit_near(data: &Data, known: &Coefficients, model: Model) -> Result<Fit, FitError> {
    let prepared = Prepared::new(data, model)?;
    prepared.fit(&[prepared.start(transform::frees(known))])
}

/// The whole estimate of a model whose coefficients are known.
///
/// # Errors
/// [`FitError`].
pub fn fit_at(data: &Data, known: &Coefficients, model: Model) -> Result<Fit, FitError> {
    let prepared = Prepared::new(data, model)?;
    let top = prepared.likelihood(known, false).ok_or(FitError::NoConvergence)?;
    Ok(assembled(&prepared, known.clone(), &top, true))
}

/// Estimates without errors and residuals, as a search needs them.
///
/// With regressors they are those of the restricted likelihood, that of all combinations of the values which do not
/// depend on mean, drift and regressors: the ordinary likelihood draws moving averages with them towards one.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Light {
    pub model: Model,
    pub coefficients: Coefficients,
    /// Where it ended, in angles.
    pub end: Start,
    pub log_likelihood: f64,
    used: usize,
    parameters: usize,
}

/// The estimates from the best `followed` of the starts, and of the usual ones where these may be better.
pub(super) fn light(data: &Data, model: Model, starts: &[Start], followed: usize) -> Result<Light, FitError> {
    let prepared = Prepared::restricted(data, model)?;
    let mut all = starts.to_vec();
    if model.coefficients() <= FEW || starts.len() < NEIGHBOURS {
        all.extend(prepared.usual_starts());
    }
    all = prepared.ranked(all);
    all.truncate(followed);
    let end = prepared.least(&all)?;
    prepared.light(end.into())
}

/// What the (restricted) likelihood of these values and regressors is at an end that was found without them.
pub(super) fn light_at(data: &Data, model: Model, end: Start) -> Result<Light, FitError> {
    Prepared::restricted(data, model)?.light(end)
}

impl Light {
    pub fn criteria(&self) -> Criteria {
        self.criteria_of_fewer(0)
    }

    /// A start that has one coefficient more than another, which began with this model.
    pub fn enlarged(&self, start: &Start, place: usize) -> Start {
        start.with_argument(place, transform::free(FIRST), inverse_curvature(self.used))
    }

    /// Those of the same likelihood with fewer parameters.
    pub fn criteria_of_fewer(&self, fewer: usize) -> Criteria {
        Criteria::of(self.log_likelihood, self.used, self.parameters.saturating_sub(fewer))
    }
}

/// Of the deviance in an angle, about.
fn inverse_curvature(used: usize) -> f64 {
    0.5 / used as f64
}

fn log_likelihood(top: &Likelihood, used: usize) -> f64 {
    let n = used as f64;
    -0.5 * (n * ((2.0 * std::f64::consts::PI * top.sum / n).ln() + 1.0) + top.log_determinant)
}

/// The differenced series and columns of a model.
pub(super) struct Prepared<'a> {
    data: &'a Data,
    model: Model,
    like: Coefficients,
    w: Vec<f64>,
    /// Of missing values, then mean or drift, then regressors.
    columns: Vec<Vec<f64>>,
    /// That number of columns, the first ones, are integrated out: those of missing values, or all.
    integrated: usize,
}

impl<'a> Prepared<'a> {
    pub fn new(data: &'a Data, model: Model) -> Result<Self, FitError> {
        let (w, columns) = prepared(data, model)?;
        let like = Coefficients {
            ar: vec![0.0; model.ar],
            ma: vec![0.0; model.ma],
            seasonal_ar: vec![0.0; model.seasonal_ar],
            seasonal_ma: vec![0.0; model.seasonal_ma],
        };
        Ok(Self { data, model, like, w, columns, integrated: data.missing.len() })
    }

    /// With mean, drift and regressors integrated out, where there are regressors.
    ///
    /// # Source
    /// Harville, D. A. (1974), Biometrika 61, 383-385: the restricted likelihood is the ordinary one averaged over the
    /// coefficients of the columns with a flat prior.
    fn restricted(data: &'a Data, model: Model) -> Result<Self, FitError> {
        let own = Self::new(data, model)?;
        let integrated = if data.regressors.is_empty() { own.integrated } else { own.columns.len() };
        Ok(Self { integrated, ..own })
    }

    fn start(&self, angles: Vec<f64>) -> Start {
        Start::with_inverse(angles, inverse_curvature(self.used()))
    }

    fn usual_starts(&self) -> Vec<Start> {
        usual_angles(&self.like).map(|angles| self.start(angles)).to_vec()
    }

    /// Those of an estimate that follows all its starts.
    fn all_starts(&self) -> Vec<Start> {
        let cancelling = cancelling_angles(&self.like).map(|angles| self.start(angles));
        [&self.usual_starts()[..], &cancelling].concat()
    }

    fn parameters(&self) -> usize {
        self.model.coefficients() + self.columns.len() - self.integrated + 1
    }

    /// Values there are after the differences, less those that the columns integrated out take.
    fn used(&self) -> usize {
        self.w.len() - self.integrated
    }

    fn light(&self, end: Start) -> Result<Light, FitError> {
        let coefficients = transform::coefficients(&end.at, &self.like);
        let top = self.likelihood(&coefficients, false).ok_or(FitError::NoConvergence)?;
        Ok(Light {
            model: self.model,
            log_likelihood: log_likelihood(&top, self.used()),
            used: self.used(),
            parameters: self.parameters(),
            coefficients,
            end,
        })
    }

    pub fn likelihood(&self, coefficients: &Coefficients, with_slope: bool) -> Option<Likelihood> {
        let sample = Sample { w: &self.w, columns: &self.columns, missing: self.integrated };
        likelihood_with_gaps(sample, coefficients, self.model.season.max(2), with_slope)
    }

    /// From the usual starts, and from coefficients that are known.
    fn fit_from(&self, known: Option<&Coefficients>) -> Result<Fit, FitError> {
        let mut starts = self.all_starts();
        starts.extend(known.map(|own| self.start(transform::frees(own))));
        self.fit(&starts)
    }

    fn fit(&self, starts: &[Start]) -> Result<Fit, FitError> {
        let found = self.least(starts)?;
        // Whatever the start, the estimates are to be the same to a millionth.
        let at = minimise::minimise_bfgs(&found.clone().into(), FINE, |free| self.deviance(free));
        let found = Minimum { settled: found.settled, ..at.unwrap_or(found) };
        let coefficients = transform::coefficients(&found.at, &self.like);
        let top = self.likelihood(&coefficients, false).ok_or(FitError::NoConvergence)?;
        Ok(assembled(self, coefficients, &top, found.settled))
    }

    /// The best of the series with its gaps filled, by what this says of the gaps in turn.
    fn start_over_gaps(&self, usual: &[Start]) -> Result<Start, FitError> {
        let mut filled = Data { missing: Vec::new(), ..self.data.clone() };
        let mut starts = Vec::new();
        for round in 0..FILLINGS {
            let found = light(&filled, self.model, &starts, if round == 0 { usual.len() } else { 1 })?;
            let top = self.likelihood(&found.coefficients, false).ok_or(FitError::NoConvergence)?;
            for (place, share) in self.data.missing.iter().zip(&top.beta) {
                filled.values[*place] = self.data.values[*place] - share;
            }
            starts = vec![found.end];
        }
        Ok(light(&filled, self.model, &starts, 1)?.end)
    }

    /// The deviance at free numbers, and its slope.
    fn deviance(&self, free: &[f64]) -> Option<(f64, Vec<f64>)> {
        if transform::amplification(free, &self.like) > MOST_AMPLIFIED {
            return None;
        }
        let found = self.likelihood(&transform::coefficients(free, &self.like), true)?;
        Some((found.deviance, transform::slope(free, &self.like, &found.slope)))
    }

    /// The starts by their deviances, the least first.
    fn ranked(&self, starts: Vec<Start>) -> Vec<Start> {
        let deviance = |start: &Start| {
            let found = self.likelihood(&transform::coefficients(&start.at, &self.like), false);
            found.map_or(f64::INFINITY, |found| found.deviance)
        };
        let mut all: Vec<(f64, Start)> = starts.into_iter().map(|start| (deviance(&start), start)).collect();
        all.sort_by(|a, b| a.0.total_cmp(&b.0));
        all.into_iter().map(|(_, start)| start).collect()
    }

    /// The least deviance that is reached from the starts.
    fn least(&self, starts: &[Start]) -> Result<Minimum, FitError> {
        let mut best: Option<Minimum> = None;
        for start in starts {
            let leads_back =
                |at: &[f64], value: f64| best.as_ref().is_some_and(|top| is_near(top, at, value));
            let found = minimise::minimise_bfgs_unless(start, COARSE, |free| self.deviance(free), leads_back);
            best = [best, found].into_iter().flatten().min_by(|a, b| a.value.total_cmp(&b.value));
        }
        best.ok_or(FitError::NoConvergence)
    }
}

fn is_near(top: &Minimum, at: &[f64], value: f64) -> bool {
    (value - top.value).abs() < SAME_DEVIANCE && transform::distance(&top.at, at) < SAME_PARTIAL
}

/// The differenced series and columns.
fn prepared(data: &Data, model: Model) -> Result<(Vec<f64>, Vec<Vec<f64>>), FitError> {
    let Data { values: y, missing, regressors } = data;
    let level = usize::from(model.level != Level::None);
    let parameters = model.coefficients() + level + regressors.len() + 1;
    let longest = model.ar + model.season * model.seasonal_ar;
    let needed = model.lost() + (parameters + SPARE).max(longest + 1).max(model.ma + 1);
    let observations = y.len() - missing.len();
    if observations < needed {
        return Err(FitError::TooShort { observations, needed });
    }
    if missing.len() > MOST_MISSING || missing.len() * y.len() > MOST_CELLS {
        return Err(FitError::TooManyGaps);
    }
    if let Some(place) = y.iter().position(|value| !is_squarable(*value)) {
        return Err(FitError::NotFinite { place });
    }
    let w = model.differenced(y);
    let columns: Vec<Vec<f64>> = data
        .pulses()
        .into_iter()
        .chain(model.level.column(y.len()))
        .chain(regressors.iter().cloned())
        .map(|column| model.differenced(&column))
        .collect();
    if scale::check(&w).is_err() {
        return Err(FitError::Constant);
    }
    match dependent(&columns) {
        None => Ok((w, columns)),
        Some(place) if place < missing.len() => Err(FitError::TooManyGaps),
        Some(place) => {
            let before = missing.len() + usize::from(model.level != Level::None);
            Err(FitError::Collinear { regressor: place.saturating_sub(before) })
        }
    }
}

/// A column keeps less than this share of its squares with those before it.
const DEPENDENT: f64 = 1e-10;

/// The first column that is a mixture of those before it.
fn dependent(columns: &[Vec<f64>]) -> Option<usize> {
    let size = |column: &Vec<f64>| dot(column, column).sqrt();
    let sizes: Vec<f64> = columns.iter().map(size).collect();
    // Rows of the triangular factor of the correlations.
    let mut factor: Vec<Vec<f64>> = Vec::with_capacity(columns.len());
    for (place, column) in columns.iter().enumerate() {
        let mut row: Vec<f64> = Vec::with_capacity(place + 1);
        for (other, earlier) in factor.iter().enumerate() {
            let alike = dot(column, &columns[other]) / (sizes[place] * sizes[other]);
            row.push((alike - dot(&row, &earlier[..other])) / earlier[other]);
        }
        let left = 1.0 - dot(&row, &row);
        if !left.is_finite() || left < DEPENDENT || sizes[place] <= 0.0 {
            return Some(place);
        }
        row.push(left.sqrt());
        factor.push(row);
    }
    None
}

/// Starts near nothing, and where moving averages after differences usually are.
fn usual_angles(like: &Coefficients) -> [Vec<f64>; 4] {
    let filled = |ar, ma, seasonal_ar, seasonal_ma| filled(like, [ar, ma, seasonal_ar, seasonal_ma]);
    // Angles of moving averages have the opposite sign.
    [
        filled(0.1, 0.1, 0.1, 0.1),
        filled(0.5, 0.4, 0.3, 0.6),
        filled(-0.4, -0.4, 0.1, 0.6),
        filled(0.8, -0.2, 0.6, 0.3),
    ]
}

/// Starts where a moving average nearly cancels a root near one or minus one, which may be a top by itself. They are
/// to be followed beside others: their likelihood alone is much the same as with neither.
fn cancelling_angles(like: &Coefficients) -> [Vec<f64>; 2] {
    [filled(like, [0.95, 0.9, 0.1, 0.1]), filled(like, [-0.95, -0.9, 0.1, 0.1])]
}

/// Angles of which the first of each block has the partial autocorrelation given for it.
fn filled(like: &Coefficients, firsts: [f64; 4]) -> Vec<f64> {
    let blocks = [&like.ar, &like.ma, &like.seasonal_ar, &like.seasonal_ma];
    let of = |(list, first): (&Vec<f64>, f64)| -> Vec<f64> {
        (0..list.len()).map(|k| transform::free(if k == 0 { first } else { FIRST })).collect()
    };
    blocks.into_iter().zip(firsts).flat_map(of).collect()
}

fn assembled(prepared: &Prepared, coefficients: Coefficients, top: &Likelihood, converged: bool) -> Fit {
    let Prepared { data, model, w, columns, .. } = prepared;
    let gaps = data.missing.len();
    let sigma2 = top.sum / prepared.used() as f64;
    let mut rest = w.clone();
    for (column, share) in columns.iter().zip(&top.beta).skip(gaps) {
        rest.iter_mut().zip(column).for_each(|(value, x)| *value -= share * x);
    }
    let innovations: Vec<Innovation> = Predictor::new(&coefficients, model.season.max(2), w.len())
        .map_or_else(Vec::new, |predictor| innovations(&predictor, &rest, &columns[..gaps]));
    let errors_of_beta: Vec<f64> =
        top.beta_variances.iter().map(|variance| (sigma2 * variance).sqrt()).collect();
    // The number in a missing value's place less the column's share.
    let estimates = top.beta.iter().zip(&data.missing).map(|(share, place)| data.values[*place] - share);
    let missing = data.missing.iter().zip(estimates).zip(&errors_of_beta);
    let covariance = covariance(prepared, &coefficients);
    Fit {
        errors: covariance.as_ref().map(|own| own.diagonal().iter().map(|own| own.sqrt()).collect()),
        covariance,
        places: innovations.iter().map(|one| model.lost() + one.place).collect(),
        residuals: innovations.iter().map(|one| one.error / one.variance.sqrt()).collect(),
        one_step_errors: innovations.iter().map(|one| one.error).collect(),
        missing: missing.map(|((place, estimate), error)| (*place, estimate, *error)).collect(),
        beta_errors: errors_of_beta[gaps..].to_vec(),
        beta: top.beta[gaps..].to_vec(),
        sigma2,
        used: prepared.used(),
        log_likelihood: log_likelihood(top, prepared.used()),
        parameters: prepared.parameters(),
        converged,
        model: *model,
        coefficients,
    }
}

/// Covariances from the curvature of the deviance: twice its inverse.
fn covariance(prepared: &Prepared, coefficients: &Coefficients) -> Option<DMatrix<f64>> {
    let flat = coefficients.flat();
    let count = flat.len();
    let mut curvature: DMatrix<f64> = DMatrix::zeros(count, count);
    for place in 0..count {
        let step = 1e-4;
        let slope = |sign: f64| {
            let mut moved = flat.clone();
            moved[place] += sign * step;
            prepared.likelihood(&coefficients.shaped(&moved), true).map(|found| found.slope)
        };
        let (up, down) = (slope(1.0)?, slope(-1.0)?);
        for (other, (a, b)) in up.iter().zip(&down).enumerate() {
            curvature[(place, other)] += 0.25 * (a - b) / step;
            curvature[(other, place)] += 0.25 * (a - b) / step;
        }
    }
    Some(2.0 * curvature.cholesky()?.inverse())
}

impl Criteria {
    /// Of a log-likelihood of that number of values with that number of parameters, the variance among them.
    fn of(log_likelihood: f64, used: usize, parameters: usize) -> Self {
        let (n, k) = (used as f64, parameters as f64);
        let fit = -2.0 * log_likelihood;
        let left = n - k - 1.0;
        Self {
            aic: fit + 2.0 * k,
            aicc: (left > 0.0).then(|| fit + 2.0 * k + 2.0 * k * (k + 1.0) / left),
            bic: fit + k * n.ln(),
            hq: fit + 2.0 * k * n.ln().ln(),
        }
    }
}

impl Fit {
    /// Criteria of the differenced series.
    pub fn criteria(&self) -> Criteria {
        Criteria::of(self.log_likelihood, self.used, self.parameters)
    }
}

#[cfg(test)]
mod tests {
    use std::f64::consts::FRAC_PI_2;

    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn the_restricted_likelihood_is_that_of_dense_matrices() {
        let n = 40;
        let y = NormalStream::new(62, 0).take(n);
        let trend: Vec<f64> = (0..n).map(|t| t as f64).collect();
        let data = Data::complete(&y).with_regressors(vec![trend.clone()]);
        let model = Model::parse("(1,0,0)").expect("a model");
        let light = light(&data, model, &[], 4).expect("an estimate");
        let phi = light.coefficients.ar[0];
        let far = |i: usize, j: usize| i32::try_from(i.abs_diff(j)).expect("small");
        let sigma = DMatrix::from_fn(n, n, |i, j| phi.powi(far(i, j)) / (1.0 - phi * phi));
        let x = DMatrix::from_fn(n, 2, |t, k| if k == 0 { 1.0 } else { trend[t] });
        let v = DMatrix::from_column_slice(n, 1, &y);
        let inverse = sigma.clone().try_inverse().expect("regular");
        let gram = x.transpose() * &inverse * &x;
        let beta = gram.clone().try_inverse().expect("regular") * x.transpose() * &inverse * &v;
        let rest = &v - &x * beta;
        let sum = (rest.transpose() * &inverse * &rest)[(0, 0)];
        let left = (n - 2) as f64;
        let constant = left * ((2.0 * std::f64::consts::PI * sum / left).ln() + 1.0);
        let expected = -0.5 * (constant + sigma.determinant().ln() + gram.determinant().ln());
        assert!((light.log_likelihood - expected).abs() < 1e-8, "{} {expected}", light.log_likelihood);
        // The coefficient and the variance are counted, not what is included with them.
        assert_eq!((light.used, light.parameters), (n - 2, 2));
    }

    #[test]
    fn over_many_gaps_one_start_finds_what_all_starts_find() {
        let n = 520;
        let e = NormalStream::new(61, 0).take(n);
        let mut y = e.clone();
        for t in 8..n {
            y[t] = y[t - 7] + 0.6 * (y[t - 1] - y[t - 8]) + e[t] - 0.5 * e[t - 7];
        }
        let hole = |t: usize| t % 13 == 5 || (200..203).contains(&t);
        let cells: Vec<Option<f64>> = y.iter().enumerate().map(|(t, v)| (!hole(t)).then_some(*v)).collect();
        let data = Data::with_gaps(&cells);
        assert!(data.missing.len() * n > CHEAP);
        let model = Model::parse("(1,0,0)(0,1,1)7").expect("a model");
        let ours = fit(&data, model).expect("a fit");
        let prepared = Prepared::new(&data, model).expect("enough values");
        let all = prepared.fit(&prepared.all_starts()).expect("a fit");
        assert!((ours.log_likelihood - all.log_likelihood).abs() < 1e-5);
        assert!((ours.coefficients.ar[0] - all.coefficients.ar[0]).abs() < 1e-3);
        assert!((ours.coefficients.ar[0] - 0.6).abs() < 0.15, "{:?}", ours.coefficients);
    }

    #[test]
    fn a_moving_average_at_one_is_the_top_of_its_likelihood() {
        // Differences of white noise.
        let e = NormalStream::new(64, 0).take(201);
        let y: Vec<f64> = e.windows(2).map(|pair| pair[1] - pair[0]).collect();
        let model = Model::parse("(0,0,1)").expect("a model");
        let found = fit(&Data::complete(&y), model).expect("a fit");
        assert!(found.converged && found.coefficients.ma[0] < -0.999_99, "{:?}", found.coefficients);
        let at = |theta: f64| {
            let own = Coefficients { ma: vec![theta], ..Coefficients::default() };
            fit_at(&Data::complete(&y), &own, model).expect("a likelihood").log_likelihood
        };
        let grid = (0..2_000).map(|k| at(-0.999_999 + 1e-3 * f64::from(k)));
        let most = grid.fold(f64::NEG_INFINITY, f64::max);
        assert!((found.log_likelihood - most).abs() < 1e-5, "{} {most}", found.log_likelihood);
    }

    #[test]
    fn there_is_no_deviance_where_rounding_is_all_that_is_left_of_it() {
        // Integrated twice, and once with the season.
        let mut y = NormalStream::new(65, 0).take(240);
        for lag in [1, 1, 12] {
            for t in lag..y.len() {
                y[t] += y[t - lag];
            }
        }
        let data = Data::complete(&y);
        let model = Model::parse("(3,0,3)(1,0,1)12").expect("a model");
        let prepared = Prepared::new(&data, model).expect("enough values");
        // Three autoregressive roots, that far from one and minus one; how much a change in the 14th digit moves the
        // deviance.
        let roughness = |block: [f64; 3], ma: [f64; 3]| {
            let angles = [&block[..], &ma, &[FRAC_PI_2 - 0.04; 2]].concat();
            let own = transform::coefficients(&angles, &prepared.like);
            let value = |shift: f64| {
                let ar = [own.ar[0] - shift, own.ar[1], own.ar[2]].to_vec();
                let near = Coefficients { ar, ..own.clone() };
                prepared.likelihood(&near, false).map(|found| found.deviance)
            };
            let moved = (1..6).map(|k| Some((value(1e-14 * f64::from(k))? - value(0.0)?).abs()));
            let most: Option<f64> =
                moved.collect::<Option<Vec<f64>>>().map(|all| all.into_iter().fold(0.0, f64::max));
            (most, prepared.deviance(&angles).is_some())
        };
        let block = |far: f64, third: f64| [FRAC_PI_2 - far, far - FRAC_PI_2, third];
        let (smooth, is_defined) = roughness(block(0.04, 1.1), block(0.04, 1.1));
        assert!(smooth.is_some_and(|most| most < 1e-4) && is_defined, "{smooth:?}");
        let (rough, is_defined) = roughness(block(0.0006, 1.5), [0.1; 3]);
        assert!(rough.is_some_and(|most| most > 0.1) && !is_defined, "{rough:?}");
        // With as many roots of the moving average there is no likelihood at all.
        assert_eq!(roughness(block(0.0003, 1.1), block(0.0003, 1.1)), (None, false));
    }

    #[test]
    fn an_estimate_finds_the_top_where_a_moving_average_nearly_cancels_a_root() {
        let model = Model::parse("(1,1,1)+drift").expect("a model");
        // Random walks with a drift: one top is near one, the other near minus one.
        for (seed, sign) in [(13, 1.0), (20, -1.0)] {
            let mut y = NormalStream::new(66, seed).take(300);
            for t in 1..y.len() {
                y[t] += y[t - 1] + 0.06;
            }
            let data = Data::complete(&y);
            let found = fit_simply(&data, model).expect("a fit");
            assert!(found.coefficients.ar[0] * sign > 0.9, "{:?}", found.coefficients);
            let at = |phi: f64, theta: f64| {
                let own = Coefficients { ar: vec![phi], ma: vec![theta], ..Coefficients::default() };
                fit_at(&data, &own, model).expect("a likelihood").log_likelihood
            };
            let side = || (-24..25).map(|k| f64::from(k) / 25.0);
            let most = side()
                .flat_map(|phi| side().map(move |theta| (phi, theta)))
                .map(|(phi, theta)| at(phi, theta));
            let most = most.fold(f64::NEG_INFINITY, f64::max);
            assert!(found.log_likelihood > most - 1e-6, "{} {most}", found.log_likelihood);
        }
    }
}
