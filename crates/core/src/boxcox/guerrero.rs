//! Guerrero's choice of λ: the least variable ratio of standard deviation to power of the mean.

use super::{BoxCoxError, check, minimum, over_geometric_mean};
use crate::num::scale;

/// λ for which the variance of stretches of the series depends least on their level.
///
/// # Formula
/// The series is cut, from its end, into stretches of one season (of two values
/// without a season). With `m_h` and `s_h` the mean and standard deviation of
/// stretch h, λ makes the coefficient of variation of `s_h / m_h^(1-λ)` smallest.
///
/// # Source
/// Guerrero, V. M. (1993), Journal of Forecasting 12, 37-48.
///
/// # Errors
/// [`BoxCoxError`].
pub fn guerrero(y: &[f64], season: usize) -> Result<f64, BoxCoxError> {
    check(y)?;
    let length = season.max(2).min(y.len() / 2);
    let scaled = over_geometric_mean(y);
    let stretches: Vec<(f64, f64)> = scaled.rchunks_exact(length).map(mean_and_spread).collect();
    if stretches.iter().all(|(_, spread)| *spread <= 0.0) {
        return Err(BoxCoxError::NoVariation);
    }
    Ok(minimum(|lambda| {
        let ratios: Vec<f64> =
            stretches.iter().map(|(mean, spread)| spread / mean.powf(1.0 - lambda)).collect();
        let (mean, spread) = mean_and_spread(&ratios);
        spread / mean
    }))
}

fn mean_and_spread(values: &[f64]) -> (f64, f64) {
    let mean = scale::mean(values);
    let squares: f64 = values.iter().map(|value| (value - mean).powi(2)).sum();
    (mean, (squares / (values.len() as f64 - 1.0).max(1.0)).sqrt())
}
