//! The joint distribution of the next values.

use nalgebra::{DMatrix, DVector};
use thiserror::Error;

use super::coefficients::Coefficients;
use super::data::Data;
use super::engine::predictor::Predictor;
use super::fit::Fit;
use super::model::Model;
use crate::num::scale::is_squarable;
use crate::num::sum::dot;
use crate::predictive::Joint;

/// Why there is no forecast.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum ForecastError {
    /// A regressor without as many future values as steps.
    #[error("a regressor has {found} future values, and {needed} are needed")]
    Future {
        /// Values there are.
        found: usize,
        /// Steps ahead.
        needed: usize,
    },
    /// A future value of a regressor that cannot be computed with.
    #[error("future value {} of a regressor is not a usable number", place + 1)]
    NotFinite {
        /// Which of its future values.
        place: usize,
    },
    /// The coefficients are of no stationary process, or columns depend on each other.
    #[error("the model has no distribution to forecast from")]
    NoDistribution,
}

/// A model whose coefficients are known.
#[derive(Debug, Clone, PartialEq)]
pub struct Known {
    /// Orders.
    pub model: Model,
    /// φ, θ, Φ, Θ.
    pub coefficients: Coefficients,
    /// Variance of the innovations.
    pub sigma2: f64,
}

impl From<&Fit> for Known {
    fn from(fit: &Fit) -> Self {
        Self { model: fit.model, coefficients: fit.coefficients.clone(), sigma2: fit.sigma2 }
    }
}

/// The joint distribution of the next values, given all there are.
///
/// # Formula
/// With F the best linear forecast of a series without regressors, `ŷ = F[y] + Σ_j β_j (x_j - F[x_j])`
/// where mean, drift, regressors and missing values are the columns x, and β is found by generalised
/// least squares. Its errors are the responses to future innovations, of their exact variance for a
/// sample of this length, and `x - F[x]` times the error of β: an estimated mean or drift widens the
/// interval, φ, θ, Φ, Θ and the variance count as known.
///
/// # Source
/// Box, G. E. P., Jenkins, G. M. and Reinsel, G. C. (1994), Time Series Analysis, 3rd ed., chapter 5;
/// Goldberger, A. S. (1962), JASA 57, 369-375, for the regressors.
///
/// # Input
/// `future`: for each regressor its values over the steps ahead.
///
/// # Errors
/// [`ForecastError`].
pub fn forecast(
    known: &Known,
    data: &Data,
    future: &[Vec<f64>],
    ahead: usize,
) -> Result<Joint, ForecastError> {
    let short = future.iter().map(Vec::len).find(|found| *found < ahead);
    if let Some(found) = short {
        return Err(ForecastError::Future { found, needed: ahead });
    }
    if future.len() != data.regressors.len() {
        return Err(ForecastError::Future { found: 0, needed: ahead });
    }
    let wrong = |own: &Vec<f64>| own.iter().take(ahead).position(|value| !is_squarable(*value));
    if let Some(place) = future.iter().find_map(wrong) {
        return Err(ForecastError::NotFinite { place });
    }
    let filter = Filter::new(known, data.len(), ahead).ok_or(ForecastError::NoDistribution)?;
    let columns = columns(known.model, data, future, ahead);
    let (past, beyond): (Vec<&[f64]>, Vec<&[f64]>) =
        columns.iter().map(|column| column.split_at(data.len())).unzip();
    let (beta, factor) = filter.least_squares(&data.values, &past).ok_or(ForecastError::NoDistribution)?;
    let mut mean = filter.ahead_of(&data.values);
    let unforeseen: Vec<Vec<f64>> = past
        .iter()
        .zip(&beyond)
        .map(|(past, beyond)| beyond.iter().zip(filter.ahead_of(past)).map(|(x, own)| x - own).collect())
        .collect();
    for (column, share) in unforeseen.iter().zip(&beta) {
        mean.iter_mut().zip(column).for_each(|(value, x)| *value += share * x);
    }
    let sd = known.sigma2.sqrt();
    let mut responses = filter.responses();
    for (h, row) in responses.iter_mut().enumerate() {
        row.resize(ahead, 0.0);
        let of_beta = factor.column_iter().map(|shares| {
            shares.iter().zip(&unforeseen).map(|(share, column)| share * column[h]).sum::<f64>()
        });
        row.extend(of_beta);
        for response in row.iter_mut() {
            *response *= sd;
        }
    }
    Ok(Joint { mean, responses })
}

/// Missing values, mean or drift, and regressors, each over past and future.
fn columns(model: Model, data: &Data, future: &[Vec<f64>], ahead: usize) -> Vec<Vec<f64>> {
    let whole = data.len() + ahead;
    let pulses = data.pulses().into_iter().map(|mut pulse| {
        pulse.resize(whole, 0.0);
        pulse
    });
    let regressors = data.regressors.iter().zip(future).map(|(past, next)| [past, &next[..ahead]].concat());
    pulses.chain(model.level.column(whole)).chain(regressors).collect()
}

/// The linear forecasts of a model.
struct Filter {
    model: Model,
    predictor: Predictor,
    /// Values after the differences.
    used: usize,
    ahead: usize,
}

impl Filter {
    fn new(known: &Known, length: usize, ahead: usize) -> Option<Self> {
        let model = known.model;
        let used = length.checked_sub(model.lost())?;
        let predictor = Predictor::new(&known.coefficients, model.season.max(2), used + ahead)?;
        if used < predictor.p() {
            return None;
        }
        Some(Self { model, predictor, used, ahead })
    }

    /// A series after its differences, whitened.
    fn white(&self, raw: &[f64]) -> Vec<f64> {
        let errors = self.predictor.innovations(&self.model.differenced(raw));
        errors.iter().map(|(error, variance)| error / variance.sqrt()).collect()
    }

    /// The columns' coefficients, and a factor of their covariances in units of the innovations'.
    fn least_squares(&self, y: &[f64], columns: &[&[f64]]) -> Option<(Vec<f64>, DMatrix<f64>)> {
        if columns.is_empty() {
            return Some((Vec::new(), DMatrix::zeros(0, 0)));
        }
        let target = self.white(y);
        let white: Vec<Vec<f64>> = columns.iter().map(|column| self.white(column)).collect();
        let count = white.len();
        let square = DMatrix::from_fn(count, count, |i, j| dot(&white[i], &white[j]));
        let right = DVector::from_fn(count, |i, _| dot(&white[i], &target));
        let solved = square.cholesky()?;
        let beta = solved.solve(&right).iter().copied().collect();
        // Rows: columns; what the error of β is made of.
        let factor = solved.l().transpose().solve_upper_triangular(&DMatrix::identity(count, count))?;
        Some((beta, factor))
    }

    /// Forecasts of a series as if it had no regressors.
    fn ahead_of(&self, raw: &[f64]) -> Vec<f64> {
        let mut joint = Joint {
            mean: self.predictor.continued(&self.model.differenced(raw), self.ahead),
            responses: vec![Vec::new(); self.ahead],
        };
        self.integrate(&mut joint, raw);
        joint.mean
    }

    /// Responses of the steps ahead to the innovations yet to come.
    fn responses(&self) -> Vec<Vec<f64>> {
        let mut joint =
            Joint { mean: vec![0.0; self.ahead], responses: self.predictor.responses(self.used, self.ahead) };
        self.integrate(&mut joint, &[]);
        joint.responses
    }

    /// Undoes the differences of the model, the last one first.
    fn integrate(&self, joint: &mut Joint, raw: &[f64]) {
        let lags: Vec<usize> = self.model.lags().collect();
        for done in (0..lags.len()).rev() {
            let level = Model::at_lags(raw, &lags[..done]);
            let first = level.len().saturating_sub(lags[done]);
            joint.summed(lags[done], &level[first..]);
        }
    }
}
