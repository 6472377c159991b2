//! The joint distribution of the next values with the uncertainty of every estimate.

use nalgebra::{Cholesky, DMatrix, DVector};
use rayon::prelude::*;

use super::coefficients::Coefficients;
use super::data::Data;
use super::fit::Fit;
use super::forecast::{ForecastError, Known, forecast};
use super::search::factor_roots;
use crate::num::rng::NormalStream;
use crate::num::sum::dot;
use crate::predictive::Joint;

/// Replications of the coefficients, each with its mirror image.
const PAIRS: usize = 40;
/// Replications of long series or many steps, whose estimates matter less and take longer.
const FEW_PAIRS: usize = 5;
/// Observations times steps from which on there are few.
const LONG: usize = 200_000;
/// Up to that number of steps ahead covariances are averaged as a whole.
const MOST_TOGETHER: usize = 120;
/// Their seed.
const SEED: u64 = 20_261_129;
/// A draw that leaves the stationary or invertible coefficients is halved so often before the estimate represents it.
const HALVINGS: usize = 4;

/// The joint distribution of the next values of an estimated model.
///
/// # Formula
/// Coefficients φ, θ, Φ, Θ are drawn from the normal distribution of their estimates, 40 with their mirror images, and
/// each draw forecasts by [`forecast`]. The covariances of the steps are the mean of those of the draws, and of the
/// products of the deviations of their means from those of the estimates. Beyond 120 steps the responses of the estimates
/// are scaled to the mean variances instead. The
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
    let Some(root) = fit.covariance.as_ref().and_then(|of| of.clone().cholesky()).map(Cholesky::unpack)
    else {
        return Ok(own);
    };
    let pairs = if data.len() * ahead > LONG { FEW_PAIRS } else { PAIRS };
    let shocks = shocks(root.nrows(), pairs);
    let drawn: Vec<Joint> = (0..2 * pairs)
        .into_par_iter()
        .filter_map(|draw| {
            let coefficients = drawn(fit, &root, &shocks[draw / 2], draw % 2 == 0);
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

/// Standard normal replications of that number of coefficients, scaled so that the mean of their squares is one.
fn shocks(coefficients: usize, pairs: usize) -> Vec<Vec<f64>> {
    let mut all: Vec<Vec<f64>> =
        (0..pairs as u64).map(|pair| NormalStream::new(SEED, pair).take(coefficients)).collect();
    for k in 0..coefficients {
        let square = all.iter().map(|one| one[k] * one[k]).sum::<f64>() / pairs as f64;
        for one in &mut all {
            one[k] /= square.sqrt();
        }
    }
    all
}

/// Coefficients near the estimates, or their mirror image.
fn drawn(fit: &Fit, root: &DMatrix<f64>, shock: &[f64], forward: bool) -> Coefficients {
    let flat = fit.coefficients.flat();
    let mut moved = root * DVector::from_column_slice(shock) * if forward { 1.0 } else { -1.0 };
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
    let [ar, ma] = factor_roots(coefficients);
    ar.iter().chain(&ma).flatten().all(|root| root.modulus() > 1.0)
}

fn combined(own: Joint, drawn: &[Joint]) -> Joint {
    if drawn.is_empty() {
        return own;
    }
    match (own.ahead() <= MOST_TOGETHER).then(|| together(&own, drawn)).flatten() {
        Some(responses) => Joint { responses, ..own },
        None => step_by_step(own, drawn),
    }
}

/// The covariances of all steps as responses: a triangular factor of them.
fn together(own: &Joint, drawn: &[Joint]) -> Option<Vec<Vec<f64>>> {
    let ahead = own.ahead();
    let mut sum: DMatrix<f64> = DMatrix::zeros(ahead, ahead);
    for one in drawn {
        for i in 0..ahead {
            let off = one.mean[i] - own.mean[i];
            for j in 0..=i {
                sum[(i, j)] += dot(&one.responses[i], &one.responses[j]) + off * (one.mean[j] - own.mean[j]);
            }
        }
    }
    // The factor reads the lower triangle alone.
    let factor = (sum / drawn.len() as f64).cholesky()?.unpack();
    Some((0..ahead).map(|h| factor.row(h).iter().take(h + 1).copied().collect()).collect())
}

/// Variances alone, where the steps are many: the responses of the estimates scaled to them.
fn step_by_step(own: Joint, drawn: &[Joint]) -> Joint {
    let count = drawn.len() as f64;
    let mut responses = own.responses.clone();
    let width = responses.iter().map(Vec::len).max().unwrap_or(0);
    for (h, row) in responses.iter_mut().enumerate() {
        let variance = drawn.iter().map(|one| one.variance(h)).sum::<f64>() / count;
        let scale = (variance / own.variance(h)).sqrt();
        if scale.is_finite() {
            for response in row.iter_mut() {
                *response *= scale;
            }
        }
        row.resize(width, 0.0);
        row.extend(drawn.iter().map(|one| (one.mean[h] - own.mean[h]) / count.sqrt()));
    }
    Joint { mean: own.mean, responses }
}

#[cfg(test)]
mod tests;
