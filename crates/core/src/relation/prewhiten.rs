//! Two series filtered by the autoregression of the first.

use super::RelationError;
use crate::lag::{Criterion, default_max_lags};
use crate::num::scale;
use crate::num::triangular::TriangularFactor;
use crate::ols::{estimate, nested_residual_sums};

/// The fewest periods an autoregression is fitted to.
const MIN_OBSERVATIONS_PREWHITENING: usize = 20;

/// Two series through the filter that makes the first one white.
#[derive(Debug, Clone, PartialEq)]
pub struct Prewhitened {
    /// Order of the autoregression.
    pub order: usize,
    /// Its coefficients at lags 1, 2, ….
    pub coefficients: Vec<f64>,
    /// The first series, filtered, without its first `order` values.
    pub first: Vec<f64>,
    /// The second series through the same filter.
    pub second: Vec<f64>,
}

/// Fits an autoregression to the first series and filters both with it, so that the band
/// of white noise holds for their cross-correlations while their lead stays what it was.
///
/// # Formula
/// `x_t = c + Σ φ_i x_{t-i} + e_t` by least squares, its order from 0 to the larger of
/// Schwert's rule and one more than a season (where a fifth of the observations allows) by
/// AIC on one sample; then both series as `z_t - Σ φ_i z_{t-i}`.
///
/// # Errors
/// [`RelationError`]: too short, constant, not finite, exactly predictable.
///
/// # References
/// Box, Jenkins and Reinsel (1994), *Time Series Analysis*, 3rd ed., section 11.2; Haugh
/// (1976), *JASA* 71, 378-385.
///
/// # Numerics
/// One triangular factor serves all orders.
pub fn prewhiten(first: &[f64], second: &[f64], season: usize) -> Result<Prewhitened, RelationError> {
    let n = first.len().min(second.len());
    if n < MIN_OBSERVATIONS_PREWHITENING {
        return Err(RelationError::TooShort { observations: n, needed: MIN_OBSERVATIONS_PREWHITENING });
    }
    let (first, second) = (&first[..n], &second[..n]);
    scale::check(first).map_err(RelationError::of(0))?;
    scale::check(second).map_err(RelationError::of(1))?;
    let x = scale::deviations(first);
    let seasonal = if season > 1 && season < n / 5 { season + 1 } else { 0 };
    let most = default_max_lags(n).max(seasonal);
    let predictable = |_| RelationError::Predictable;
    let mut widest = regression(&x, most, most);
    let sums = nested_residual_sums(&mut widest, 1).map_err(predictable)?;
    let order = Criterion::Aic.best_of(&sums, 1, widest.rows()).unwrap_or(0);
    let fitted = estimate(&mut regression(&x, order, order)).map_err(predictable)?;
    let coefficients = fitted.coefficients[1..].to_vec();
    Ok(Prewhitened {
        order,
        first: filtered(first, &coefficients),
        second: filtered(second, &coefficients),
        coefficients,
    })
}

/// Constant and lags, then the series, from observation `from` on.
fn regression(x: &[f64], order: usize, from: usize) -> TriangularFactor {
    let mut factor = TriangularFactor::new(order + 2);
    for t in from..x.len() {
        let lags = (1..=order).map(|lag| x[t - lag]);
        factor.push_row(std::iter::once(1.0).chain(lags).chain(std::iter::once(x[t])));
    }
    factor
}

fn filtered(z: &[f64], coefficients: &[f64]) -> Vec<f64> {
    let mean = scale::mean(z);
    let e: Vec<f64> = z.iter().map(|value| value - mean).collect();
    let past = |window: &[f64]| -> f64 {
        window.iter().rev().skip(1).zip(coefficients).map(|(value, phi)| phi * value).sum()
    };
    e.windows(coefficients.len() + 1)
        .map(|window| window.last().copied().unwrap_or(0.0) - past(window))
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::corr::{AcfOptions, acf};
    use crate::num::rng::NormalStream;
    use crate::num::scale::InvalidSeries;
    use crate::relation::cross_correlations;

    /// An autoregression of order one, and a second series three periods behind it.
    fn pair(seed: u64) -> (Vec<f64>, Vec<f64>) {
        let (e, u) = (NormalStream::new(seed, 0).take(300), NormalStream::new(seed, 1).take(300));
        let mut x = e;
        for t in 1..300 {
            x[t] += 0.9 * x[t - 1];
        }
        let y = (0..300).map(|t| u[t] + if t >= 3 { 0.5 * x[t - 3] } else { 0.0 }).collect();
        (x, y)
    }

    #[test]
    fn the_filter_is_applied_as_written() {
        let z = [1.0, 4.0, -2.0, 0.0, 7.0];
        let out = filtered(&z, &[0.5, -0.2]);
        let e: Vec<f64> = z.iter().map(|v| v - 2.0).collect();
        let expected: Vec<f64> = (2..5).map(|t| e[t] - 0.5 * e[t - 1] + 0.2 * e[t - 2]).collect();
        assert_eq!(out.len(), 3);
        assert!(out.iter().zip(&expected).all(|(a, b)| (a - b).abs() < 1e-15));
    }

    #[test]
    fn the_first_series_comes_out_white_and_the_lead_is_kept() {
        for seed in 0..10 {
            let (x, y) = pair(seed);
            let both = prewhiten(&x, &y, 1).expect("long enough");
            assert!(both.order >= 1);
            let own = acf(&both.first, &AcfOptions { lags: Some(10), ..AcfOptions::default() });
            assert!(own.expect("long enough").lags[9].p_value.expect("there") > 0.01, "seed {seed}");
            let cross = cross_correlations(&both.first, &both.second, 12).expect("long enough");
            assert_eq!(cross.strongest().lag, 3, "seed {seed}");
            // Only one lag is far outside: the raw ones smear the lead over its neighbours.
            let far = cross.lags.iter().filter(|one| one.r.abs() > 2.0 * cross.band).count();
            assert!(far <= 2, "seed {seed}: {far}");
        }
    }

    #[test]
    fn unrelated_autoregressions_stand_out_raw_and_rarely_prewhitened() {
        let stands_out =
            |x: &[f64], y: &[f64]| cross_correlations(x, y, 12).expect("long enough").strongest().significant;
        let (mut raw, mut white) = (0, 0);
        for seed in 0..100 {
            let (x, y) = (pair(seed).0, pair(5000 + seed).0);
            let both = prewhiten(&x, &y, 1).expect("long enough");
            raw += usize::from(stands_out(&x, &y));
            white += usize::from(stands_out(&both.first, &both.second));
        }
        assert!(raw > 60 && white < 15, "{raw} {white}");
    }

    #[test]
    fn white_noise_needs_little_filter() {
        let x = NormalStream::new(77, 0).take(500);
        let both = prewhiten(&x, &x, 1).expect("long enough");
        assert!(both.coefficients.iter().all(|phi| phi.abs() < 0.15), "{:?}", both.coefficients);
    }

    #[test]
    fn what_cannot_be_filtered_is_an_error_by_name() {
        let line: Vec<f64> = (0..50).map(f64::from).collect();
        assert_eq!(prewhiten(&line, &line, 1), Err(RelationError::Predictable));
        let short = RelationError::TooShort { observations: 10, needed: 20 };
        assert_eq!(prewhiten(&line[..10], &line, 1), Err(short));
        let noise = NormalStream::new(3, 0).take(50);
        assert_eq!(
            prewhiten(&noise, &[1.0; 50], 1),
            Err(RelationError::Series { series: 1, reason: InvalidSeries::Constant })
        );
    }
}
