use super::adf::{AdfOptions, adf};
use super::error::UnitRootError;
use crate::lag::LagRule;
use crate::nulldist::Terms;
use crate::num::{normal, scale};
use crate::ols::{Bandwidth, bartlett_variance};

/// Level of the two steps below.
const LEVEL: f64 = 0.05;

/// What the choice of terms rests on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TermsReason {
    /// The unit root is rejected beside a trend, so the slope of the level was
    /// tested.
    Slope,
    /// It is not, so the mean change was tested.
    MeanChange,
}

/// Constant or trend, and why.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TermsChoice {
    /// The choice.
    pub terms: Terms,
    /// What it rests on.
    pub reason: TermsReason,
    /// Slope or mean change per period.
    pub per_period: f64,
    /// Its ratio to a standard error that allows for serial dependence.
    pub z: f64,
    /// Two-sided normal p-value.
    pub p_value: f64,
}

/// Whether a series needs a trend beside the constant.
///
/// A slope in the level is tested where the level can be taken as stationary
/// around a trend, since a random walk has slopes without a trend; otherwise
/// the mean change is tested. Both use Bartlett long-run variances with
/// automatic bandwidth. A trend is taken at 5 %.
///
/// The choice is not part of any null distribution: a unit-root test at 5 % on
/// terms chosen so rejects a true unit root in about 8 % of series
/// (`docs/validation.md`).
///
/// # Errors
/// [`UnitRootError`] as for [`adf`].
///
/// # References
/// The order of the argument follows Dolado, Jenkinson and Sosvilla-Rivero
/// (1990), *Journal of Economic Surveys* 4, 249-273.
pub fn choose_terms(y: &[f64], lags: LagRule, max_lags: Option<usize>) -> Result<TermsChoice, UnitRootError> {
    let beside_trend = adf(y, &AdfOptions { terms: Terms::Trend, lags, max_lags })?;
    let (reason, per_period, z) = if beside_trend.rejects(LEVEL) {
        let (slope, z) = slope(y);
        (TermsReason::Slope, slope, z)
    } else {
        let changes: Vec<f64> = y.windows(2).map(|pair| pair[1] - pair[0]).collect();
        let (mean, z) = mean_over_error(&changes);
        (TermsReason::MeanChange, mean, z)
    };
    let p_value = 2.0 * normal::survival(z.abs());
    let terms = if p_value <= LEVEL { Terms::Trend } else { Terms::Constant };
    Ok(TermsChoice { terms, reason, per_period, z, p_value })
}

/// Mean and its ratio to `√(ω²/n)`.
fn mean_over_error(x: &[f64]) -> (f64, f64) {
    let mean = scale::mean(x);
    let e: Vec<f64> = x.iter().map(|v| v - mean).collect();
    let variance = bartlett_variance(&e, Bandwidth::Automatic.resolve(&e));
    (mean, ratio(mean, variance / x.len() as f64))
}

/// Least-squares slope and its ratio to `√(ω² / Σ(t - t̄)²)`.
fn slope(y: &[f64]) -> (f64, f64) {
    let n = y.len() as f64;
    let mean = scale::mean(y);
    let clock = |t: usize| t as f64 - 0.5 * (n - 1.0);
    let square = n * (n * n - 1.0) / 12.0;
    let slope = y.iter().enumerate().map(|(t, v)| clock(t) * (v - mean)).sum::<f64>() / square;
    let e: Vec<f64> = y.iter().enumerate().map(|(t, v)| v - mean - slope * clock(t)).collect();
    let variance = bartlett_variance(&e, Bandwidth::Automatic.resolve(&e));
    (slope, ratio(slope, variance / square))
}

/// A certain slope is infinitely many errors away from none.
fn ratio(estimate: f64, variance: f64) -> f64 {
    if variance > 0.0 { estimate / variance.sqrt() } else { f64::MAX.copysign(estimate) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::lag::Criterion;
    use crate::num::rng::NormalStream;

    fn choice(y: &[f64]) -> TermsChoice {
        choose_terms(y, LagRule::Criterion(Criterion::Aic), None).expect("long enough")
    }

    fn with_slope(noise: &[f64], slope: f64) -> Vec<f64> {
        noise.iter().enumerate().map(|(t, e)| e + slope * t as f64).collect()
    }

    #[test]
    fn a_trend_is_found_beside_noise_and_beside_a_random_walk() {
        let noise = NormalStream::new(21, 0).take(200);
        let found = choice(&with_slope(&noise, 0.05));
        assert_eq!((found.terms, found.reason), (Terms::Trend, TermsReason::Slope));
        assert!((found.per_period - 0.05).abs() < 0.005);
        let mut walk = noise.clone();
        for t in 1..200 {
            walk[t] += walk[t - 1];
        }
        let found = choice(&with_slope(&walk, 0.5));
        assert_eq!((found.terms, found.reason), (Terms::Trend, TermsReason::MeanChange));
    }

    #[test]
    fn a_trend_is_seldom_seen_where_there_is_none() {
        let mut false_trends = 0;
        for seed in 0..100 {
            let noise = NormalStream::new(300 + seed, 0).take(150);
            let mut walk = noise.clone();
            for t in 1..150 {
                walk[t] += walk[t - 1];
            }
            false_trends += usize::from(choice(&noise).terms == Terms::Trend);
            false_trends += usize::from(choice(&walk).terms == Terms::Trend);
        }
        assert!(false_trends <= 30, "{false_trends} of 200");
    }
}
