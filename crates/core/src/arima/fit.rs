use nalgebra::DMatrix;
use thiserror::Error;

use super::coefficients::Coefficients;
use super::likelihood::{Likelihood, likelihood};
use super::model::{Level, Model};
use super::transform;
use crate::arma::{Mixture, Whitening};
use crate::num::{descent, scale};

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
    #[error("a value is too large to compute with")]
    NotFinite {
        /// Where.
        place: usize,
    },
    /// Nothing is left after the differences.
    #[error("after its differences the series is constant")]
    Constant,
    /// Mean, drift or regressors that are mixtures of each other after the differences.
    #[error("the regressors cannot be told apart after the differences")]
    Collinear,
    /// No start had a likelihood.
    #[error("no coefficients with a likelihood were found")]
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
    /// Mean or drift, then the regressors' coefficients.
    pub beta: Vec<f64>,
    /// Their standard errors.
    pub beta_errors: Vec<f64>,
    /// Variance of the innovations (maximum likelihood).
    pub sigma2: f64,
    /// Values after the differences.
    pub used: usize,
    /// Logarithm of the likelihood of the differenced series, constants included.
    pub log_likelihood: f64,
    /// Estimated parameters, the variance among them.
    pub parameters: usize,
    /// Whether the slope had vanished.
    pub converged: bool,
    /// One-step errors over their standard deviations in units of σ, one for each value used.
    pub residuals: Vec<f64>,
    /// One-step errors, as the values came to be known.
    pub one_step_errors: Vec<f64>,
}

/// Criteria, as totals.
#[derive(Debug, Clone, Copy, PartialEq)]
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
/// The deviance is known to about this.
const TOLERANCE: f64 = 1e-7;

/// Exact maximum likelihood of a model, with regressors concentrated out.
///
/// # Formula
/// `φ(B) Φ(B^s) (1-B)^d (1-B^s)^D (y_t - β'x_t) = θ(B) Θ(B^s) e_t`; the mean and the drift are
/// regressors (ones, time). Criteria and errors are those of the differenced series; errors are from
/// the curvature of the deviance, those of β from generalised least squares.
///
/// # Source
/// Box, G. E. P., Jenkins, G. M. and Reinsel, G. C. (1994), Time Series Analysis, 3rd ed., chapter 7.
///
/// # Errors
/// [`FitError`].
pub fn fit(y: &[f64], model: Model, regressors: &[Vec<f64>]) -> Result<Fit, FitError> {
    let prepared = Prepared::new(y, model, regressors)?;
    let starts = usual_starts(&prepared.like);
    prepared.fit(&starts)
}

/// The same from estimates at hand.
pub(super) fn fit_near(
    y: &[f64],
    model: Model,
    regressors: &[Vec<f64>],
    free: &[f64],
) -> Result<Fit, FitError> {
    Prepared::new(y, model, regressors)?.fit(&[free.to_vec()])
}

/// Estimates without errors and residuals, as a search needs them.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Light {
    pub model: Model,
    pub coefficients: Coefficients,
    /// The coefficients as free numbers.
    pub free: Vec<f64>,
    pub log_likelihood: f64,
    used: usize,
    parameters: usize,
}

/// The estimates from the best `followed` of the starts; from the usual ones if there are none.
pub(super) fn light(
    y: &[f64],
    model: Model,
    regressors: &[Vec<f64>],
    starts: &[Vec<f64>],
    followed: usize,
) -> Result<Light, FitError> {
    let prepared = Prepared::new(y, model, regressors)?;
    let usual = usual_starts(&prepared.like);
    let found = prepared.least(if starts.is_empty() { &usual } else { starts }, followed)?;
    let coefficients = transform::coefficients(&found.at, &prepared.like);
    let top = prepared.likelihood(&coefficients, false).ok_or(FitError::NoConvergence)?;
    Ok(Light {
        model,
        free: found.at,
        log_likelihood: log_likelihood(&top, prepared.w.len()),
        used: prepared.w.len(),
        parameters: prepared.parameters(),
        coefficients,
    })
}

impl Light {
    pub fn criteria(&self) -> Criteria {
        Criteria::of(self.log_likelihood, self.used, self.parameters)
    }
}

fn log_likelihood(top: &Likelihood, used: usize) -> f64 {
    let n = used as f64;
    -0.5 * (n * ((2.0 * std::f64::consts::PI * top.sum / n).ln() + 1.0) + top.log_determinant)
}

/// The differenced series and regressors of a model.
struct Prepared {
    model: Model,
    like: Coefficients,
    w: Vec<f64>,
    columns: Vec<Vec<f64>>,
}

impl Prepared {
    fn new(y: &[f64], model: Model, regressors: &[Vec<f64>]) -> Result<Self, FitError> {
        let (w, columns) = prepared(y, model, regressors)?;
        let like = Coefficients {
            ar: vec![0.0; model.ar],
            ma: vec![0.0; model.ma],
            seasonal_ar: vec![0.0; model.seasonal_ar],
            seasonal_ma: vec![0.0; model.seasonal_ma],
        };
        Ok(Self { model, like, w, columns })
    }

    fn parameters(&self) -> usize {
        self.model.coefficients() + self.columns.len() + 1
    }

    fn likelihood(&self, coefficients: &Coefficients, with_slope: bool) -> Option<Likelihood> {
        likelihood(&self.w, &self.columns, coefficients, self.model.season.max(2), with_slope)
    }

    fn fit(&self, starts: &[Vec<f64>]) -> Result<Fit, FitError> {
        let found = self.least(starts, starts.len())?;
        let coefficients = transform::coefficients(&found.at, &self.like);
        let top = self.likelihood(&coefficients, false).ok_or(FitError::NoConvergence)?;
        Ok(assembled(self, coefficients, &top, found.settled))
    }

    /// The least deviance that is reached from the best `followed` of the starts.
    fn least(&self, starts: &[Vec<f64>], followed: usize) -> Result<descent::Least, FitError> {
        let deviance = |free: &[f64]| {
            let found = self.likelihood(&transform::coefficients(free, &self.like), true)?;
            Some((found.deviance, transform::slope(free, &self.like, &found.slope)))
        };
        let mut from: Vec<(f64, &Vec<f64>)> = starts.iter().map(|start| (0.0, start)).collect();
        if starts.len() > followed {
            for (value, start) in &mut from {
                let found = self.likelihood(&transform::coefficients(start, &self.like), false);
                *value = found.map_or(f64::INFINITY, |found| found.deviance);
            }
            from.sort_by(|a, b| a.0.total_cmp(&b.0));
        }
        from.into_iter()
            .take(followed.max(1))
            .filter_map(|(_, start)| descent::least(start, TOLERANCE, deviance))
            .min_by(|a, b| a.value.total_cmp(&b.value))
            .ok_or(FitError::NoConvergence)
    }
}

/// The differenced series and regressors.
fn prepared(y: &[f64], model: Model, regressors: &[Vec<f64>]) -> Result<(Vec<f64>, Vec<Vec<f64>>), FitError> {
    let level = usize::from(model.level != Level::None);
    let parameters = model.coefficients() + level + regressors.len() + 1;
    let longest = model.ar + model.season * model.seasonal_ar;
    let needed = model.lost() + (parameters + SPARE).max(longest + 1).max(model.ma + 1);
    if y.len() < needed {
        return Err(FitError::TooShort { observations: y.len(), needed });
    }
    if let Some(place) =
        y.iter().position(|value| scale::check(&[*value, 0.0]).is_err_and(|e| e != scale::Unusable::Constant))
    {
        return Err(FitError::NotFinite { place });
    }
    let w = model.differenced(y);
    let level = match model.level {
        Level::None => None,
        Level::Mean => Some(vec![1.0; y.len()]),
        Level::Drift => Some((0..y.len()).map(|t| t as f64).collect()),
    };
    let columns: Vec<Vec<f64>> = level
        .into_iter()
        .chain(regressors.iter().cloned())
        .map(|column| model.differenced(&column))
        .collect();
    if scale::check(&w).is_err() {
        return Err(FitError::Constant);
    }
    let count = columns.len();
    let square = DMatrix::from_fn(count, count, |i, j| crate::num::sum::dot(&columns[i], &columns[j]));
    let scaled =
        DMatrix::from_fn(count, count, |i, j| square[(i, j)] / (square[(i, i)] * square[(j, j)]).sqrt());
    let apart = scaled.iter().all(|entry| entry.is_finite())
        && scaled.cholesky().is_some_and(|factor| factor.l().diagonal().iter().all(|own| own * own > 1e-10));
    if count > 0 && !apart {
        return Err(FitError::Collinear);
    }
    Ok((w, columns))
}

/// Starts in free numbers: near nothing, and where moving averages after differences usually are.
fn usual_starts(like: &Coefficients) -> Vec<Vec<f64>> {
    let filled = |ar: f64, ma: f64, seasonal_ar: f64, seasonal_ma: f64| {
        let of = |list: &[f64], first: f64| -> Vec<f64> {
            (0..list.len()).map(|k| transform::free(if k == 0 { first } else { 0.1 })).collect()
        };
        [
            of(&like.ar, ar),
            of(&like.ma, ma),
            of(&like.seasonal_ar, seasonal_ar),
            of(&like.seasonal_ma, seasonal_ma),
        ]
        .concat()
    };
    // Free numbers of moving averages have the opposite sign.
    vec![
        filled(0.1, 0.1, 0.1, 0.1),
        filled(0.5, 0.4, 0.3, 0.6),
        filled(-0.4, -0.4, 0.1, 0.6),
        filled(0.8, -0.2, 0.6, 0.3),
    ]
}

fn assembled(prepared: &Prepared, coefficients: Coefficients, top: &Likelihood, converged: bool) -> Fit {
    let Prepared { model, w, columns, .. } = prepared;
    let sigma2 = top.sum / w.len() as f64;
    let mut rest = w.clone();
    for (column, share) in columns.iter().zip(&top.beta) {
        rest.iter_mut().zip(column).for_each(|(value, x)| *value -= share * x);
    }
    let innovations = innovations(&rest, &coefficients, model.season.max(2));
    Fit {
        errors: errors(prepared, &coefficients),
        residuals: innovations.iter().map(|(error, variance)| error / variance.sqrt()).collect(),
        one_step_errors: innovations.iter().map(|(error, _)| *error).collect(),
        beta_errors: top.beta_variances.iter().map(|variance| (sigma2 * variance).sqrt()).collect(),
        beta: top.beta.clone(),
        sigma2,
        used: w.len(),
        log_likelihood: log_likelihood(top, w.len()),
        parameters: prepared.parameters(),
        converged,
        model: *model,
        coefficients,
    }
}

/// Standard errors from the curvature of the deviance: twice its inverse.
fn errors(prepared: &Prepared, coefficients: &Coefficients) -> Option<Vec<f64>> {
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
    let inverse = curvature.cholesky()?.inverse();
    Some((0..count).map(|k| (2.0 * inverse[(k, k)]).sqrt()).collect())
}

/// One-step errors and their variances in units of σ².
fn innovations(w: &[f64], coefficients: &Coefficients, season: usize) -> Vec<(f64, f64)> {
    let mixture = Mixture { ar: coefficients.long_ar(season), ma: coefficients.long_ma(season) };
    Whitening::new(&mixture, w.len()).map_or_else(Vec::new, |whitening| whitening.innovations(w))
}

impl Criteria {
    /// Of a log-likelihood of so many values with so many parameters, the variance among them.
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
