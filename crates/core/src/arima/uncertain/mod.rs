//! The joint distribution of the next values with the uncertainty of every estimate.

use nalgebra::{DMatrix, DVector};
use rayon::prelude::*;

use super::coefficients::Coefficients;
use super::data::Data;
use super::fit::Fit;
use super::forecast::{ForecastError, Known, forecast};
use super::roots::roots;
use crate::num::rng::NormalStream;
use crate::outlook::Joint;

/// Draws of the coefficients, each with its mirror image.
const PAIRS: usize = 40;
/// Draws of long series or many steps, whose estimates matter less and take longer.
const FEW_PAIRS: usize = 5;
/// Observations times steps from which on there are few.
const LONG: usize = 200_000;
/// Their seed.
const SEED: u64 = 20_261_129;
/// A draw that leaves the stationary or invertible coefficients is halved so often before the estimate stands for it.
const HALVINGS: usize = 4;

/// The joint distribution of the next values of an estimated model.
///
/// # Formula
/// Coefficients φ, θ, Φ, Θ are drawn from the normal distribution of their estimates, 40 with their mirror images, and
/// each draw forecasts by [`forecast`]. The deviations of its means from those of the estimates become responses to
/// further shocks; the responses of the estimates are scaled, step by step, to the mean variance over the draws. The
/// variance of the innovations is `S / (n - k - 2)`, k coefficients of all kinds: the variance of Student's
/// distribution, which an estimated variance makes of the normal one.
///
/// # Source
/// Box, G. E. P., Jenkins, G. M. and Reinsel, G. C. (1994), Time Series Analysis, 3rd ed., appendix A7.5 for the effect of
/// estimates; Zellner, A. (1971), An Introduction to Bayesian Inference in Econometrics, chapter 3, for the variance.
///
/// # Errors
/// [`ForecastError`].
pub fn forecast_with_estimates(
    fit: &Fit,
    data: &Data,
    future: &[Vec<f64>],
    ahead: usize,
) -> Result<Joint, ForecastError> {
    let known = Known { sigma2: predictive_variance(fit), ..Known::from(fit) };
    let own = forecast(&known, data, future, ahead)?;
    let Some(root) = fit.covariance.as_ref().and_then(|of| of.clone().cholesky()).map(|own| own.unpack())
    else {
        return Ok(own);
    };
    let pairs = if data.len() * ahead > LONG { FEW_PAIRS } else { PAIRS };
    let drawn: Vec<Joint> = (0..2 * pairs)
        .into_par_iter()
        .filter_map(|draw| {
            let coefficients = drawn(fit, &root, draw);
            forecast(&Known { coefficients, ..known.clone() }, data, future, ahead).ok()
        })
        .collect();
    Ok(combined(own, &drawn))
}

/// `S / (n - k - 2)`, and no more than twice the estimate where hardly any values are left.
fn predictive_variance(fit: &Fit) -> f64 {
    let (n, k) = (fit.used as f64, (fit.parameters - 1) as f64);
    let left = n - k - 2.0;
    fit.sigma2 * if left > 0.5 * n { n / left } else { 2.0 }
}

/// Coefficients near the estimates: draw 2k + 1 is the mirror image of draw 2k.
fn drawn(fit: &Fit, root: &DMatrix<f64>, draw: usize) -> Coefficients {
    let flat = fit.coefficients.flat();
    let z = DVector::from_vec(NormalStream::new(SEED, draw as u64 / 2).take(flat.len()));
    let mut moved = root * z * if draw % 2 == 0 { 1.0 } else { -1.0 };
    for _ in 0..HALVINGS {
        let values: Vec<f64> = flat.iter().zip(moved.iter()).map(|(own, by)| own + by).collect();
        let coefficients = fit.coefficients.shaped(&values);
        if is_regular(&coefficients) {
            return coefficients;
        }
        moved *= 0.5;
    }
    fit.coefficients.clone()
}

/// Whether all roots lie outside the unit circle.
fn is_regular(coefficients: &Coefficients) -> bool {
    let negative = |list: &[f64]| list.iter().map(|c| -c).collect::<Vec<f64>>();
    let Coefficients { ar, ma, seasonal_ar, seasonal_ma } = coefficients;
    let all = [negative(ar), ma.clone(), negative(seasonal_ar), seasonal_ma.clone()];
    all.iter().all(|list| roots(list).iter().all(|root| root.modulus() > 1.0))
}

fn combined(own: Joint, drawn: &[Joint]) -> Joint {
    if drawn.is_empty() {
        return own;
    }
    let count = drawn.len() as f64;
    let mut responses = own.responses.clone();
    let width = responses.iter().map(Vec::len).max().unwrap_or(0);
    for (h, row) in responses.iter_mut().enumerate() {
        let variance = drawn.iter().map(|one| one.variance(h)).sum::<f64>() / count;
        let scale = (variance / own.variance(h)).sqrt();
        if scale.is_finite() {
            row.iter_mut().for_each(|response| *response *= scale);
        }
        row.resize(width, 0.0);
        row.extend(drawn.iter().map(|one| (one.mean[h] - own.mean[h]) / count.sqrt()));
    }
    Joint { mean: own.mean, responses }
}

#[cfg(test)]
mod tests;
