//! The variance-ratio test.

use schemars::JsonSchema;
use serde::Serialize;

use super::{Outcome, RandomnessError, check, two_sided};
use crate::num::{normal, scale};

/// The variance of sums over a horizon against that of single values.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct VarianceRatio {
    /// The z for equal variances throughout, and its p-value.
    #[serde(flatten)]
    pub outcome: Outcome,
    /// Values in a sum.
    pub horizon: usize,
    /// The ratio; one for a random series.
    pub ratio: f64,
    /// The z that allows for heteroskedasticity.
    pub z_robust: f64,
}

/// Variance ratio of a series taken as the increments of a random walk.
///
/// # Formula
/// `VR(q) = σ²(q)/σ²(1)` with overlapping sums and the unbiased divisors of the paper;
/// `z = (VR-1) / √(2(2q-1)(q-1)/(3qn))`; the robust z divides by
/// `√Σ_j (2(q-j)/q)² δ_j`, `δ_j = Σ e_t² e_{t-j}² / (Σ e_t²)²`.
///
/// # Source
/// Lo, A. W. and `MacKinlay`, A. C. (1988), Review of Financial Studies 1, 41-66.
///
/// # Errors
/// [`RandomnessError`].
pub fn variance_ratio(y: &[f64], horizon: usize) -> Result<VarianceRatio, RandomnessError> {
    check(y)?;
    if horizon < 2 || 2 * horizon > y.len() {
        return Err(RandomnessError::Horizon { horizon, observations: y.len() });
    }
    let e = scale::deviations(y);
    let (n, q) = (e.len() as f64, horizon as f64);
    let squares: f64 = e.iter().map(|value| value * value).sum();
    let mut window: f64 = e.iter().take(horizon).sum();
    let mut sums = window * window;
    for (enters, leaves) in e.iter().skip(horizon).zip(&e) {
        window += enters - leaves;
        sums += window * window;
    }
    let divisor = q * (n - q + 1.0) * (1.0 - q / n);
    let ratio = (sums / divisor) / (squares / (n - 1.0));
    let z = (ratio - 1.0) / (2.0 * (2.0 * q - 1.0) * (q - 1.0) / (3.0 * q * n)).sqrt();
    let delta = |lag: usize| {
        e.iter().skip(lag).zip(&e).map(|(now, then)| (now * then).powi(2)).sum::<f64>() / (squares * squares)
    };
    let robust: f64 = (1..horizon).map(|lag| (2.0 * (q - lag as f64) / q).powi(2) * delta(lag)).sum();
    Ok(VarianceRatio { outcome: two_sided(z), horizon, ratio, z_robust: (ratio - 1.0) / robust.sqrt() })
}

/// The largest |z| of several horizons, with the p-value that allows for their number:
/// `1 - (2Φ(m) - 1)^k`, which is at most too large.
///
/// # Source
/// Chow, K. V. and Denning, K. C. (1993), Journal of Econometrics 58, 385-401.
pub fn joint_variance_ratio(ratios: &[VarianceRatio]) -> Option<Outcome> {
    let largest = ratios.iter().map(|ratio| ratio.outcome.statistic.abs()).reduce(f64::max)?;
    let outside = 2.0 * normal::survival(largest);
    // 1 - (1 - p)^k without losing small p.
    let p_value = -(ratios.len() as f64 * (-outside).ln_1p()).exp_m1();
    Some(Outcome { statistic: largest, p_value })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn the_ratio_is_that_of_the_definition() {
        let y = NormalStream::new(43, 0).take(40);
        let n = 40.0;
        let mean = y.iter().sum::<f64>() / n;
        let one = y.iter().map(|v| (v - mean).powi(2)).sum::<f64>() / (n - 1.0);
        for horizon in [2, 5] {
            let q = horizon as f64;
            let sums: f64 = y.windows(horizon).map(|w| (w.iter().sum::<f64>() - q * mean).powi(2)).sum();
            let expected = sums / (q * (n - q + 1.0) * (1.0 - q / n)) / one;
            let ours = variance_ratio(&y, horizon).expect("enough");
            assert!((ours.ratio - expected).abs() < 1e-12);
        }
    }

    #[test]
    fn a_horizon_of_two_is_one_plus_the_first_autocorrelation() {
        let y = NormalStream::new(44, 0).take(5000);
        let mean = y.iter().sum::<f64>() / 5000.0;
        let r: f64 = y.windows(2).map(|p| (p[0] - mean) * (p[1] - mean)).sum::<f64>()
            / y.iter().map(|v| (v - mean).powi(2)).sum::<f64>();
        let ratio = variance_ratio(&y, 2).expect("enough").ratio;
        assert!((ratio - 1.0 - r).abs() < 1e-3);
    }

    #[test]
    fn wrong_horizons_are_refused_and_the_joint_p_is_never_smaller_than_one() {
        let y = NormalStream::new(45, 0).take(40);
        assert!(variance_ratio(&y, 1).is_err() && variance_ratio(&y, 21).is_err());
        let all: Vec<VarianceRatio> = [2, 4, 8].iter().filter_map(|q| variance_ratio(&y, *q).ok()).collect();
        let joint = joint_variance_ratio(&all).expect("some");
        let least = all.iter().map(|ratio| ratio.outcome.p_value).fold(1.0, f64::min);
        assert!(joint.p_value >= least && joint.p_value <= 3.0 * least);
        assert_eq!(joint_variance_ratio(&[]), None);
    }
}
