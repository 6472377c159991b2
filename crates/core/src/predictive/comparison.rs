//! The Diebold-Mariano test of equal accuracy.

use crate::num::scale;
use crate::num::student;
use schemars::JsonSchema;
use serde::Serialize;

/// Two forecasters of the same values.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct Comparison {
    /// Mean loss of the first less that of the second.
    pub difference: f64,
    /// The statistic of Diebold and Mariano, corrected for small samples.
    pub statistic: f64,
    /// Of equal expected losses, both sides.
    pub p_value: f64,
}

/// Whether two forecasters are equally good, by their losses at the same origins in order of time,
/// `horizon` steps ahead.
///
/// # Formula
/// `d̄ / √V`, V the variance of the mean with `horizon - 1` autocovariances (with falling weights
/// where it would not be positive), times `√((n + 1 - 2h + h(h-1)/n) / n)`, against Student's
/// distribution with n - 1 degrees of freedom.
///
/// # Source
/// Diebold, F. X. and Mariano, R. S. (1995), Journal of Business and Economic Statistics 13,
/// 253-263; Harvey, D., Leybourne, S. and Newbold, P. (1997), International Journal of Forecasting
/// 13, 281-291.
///
/// # Result
/// None for too few origins, or identical forecasts.
pub fn diebold_mariano(first: &[f64], second: &[f64], horizon: usize) -> Option<Comparison> {
    let differences: Vec<f64> = first.iter().zip(second).map(|(a, b)| a - b).collect();
    let count = differences.len();
    let (n, h) = (count as f64, horizon.max(1) as f64);
    let correction = (n + 1.0 - 2.0 * h + h * (h - 1.0) / n) / n;
    if count < 4 || horizon >= count || correction <= 0.0 {
        return None;
    }
    let difference = scale::mean(&differences);
    let around: Vec<f64> = differences.iter().map(|value| value - difference).collect();
    let covariance = |lag: usize| around.iter().skip(lag).zip(&around).map(|(a, b)| a * b).sum::<f64>() / n;
    let variance = |weight: &dyn Fn(usize) -> f64| {
        let more: f64 = (1..horizon).map(|lag| 2.0 * weight(lag) * covariance(lag)).sum();
        (covariance(0) + more) / n
    };
    let plain = variance(&|_| 1.0);
    let variance = if plain > 0.0 { plain } else { variance(&|lag| 1.0 - lag as f64 / h) };
    if variance.is_nan() || variance <= 0.0 {
        return None;
    }
    let statistic = difference / variance.sqrt() * correction.sqrt();
    Some(Comparison { difference, statistic, p_value: student::two_sided(statistic, count - 1)? })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn one_step_by_hand() {
        // Differences 1, 3, 2, 2: mean 2, variance of the mean (2/4)/4; correction 3/4.
        let found = diebold_mariano(&[2.0, 4.0, 3.0, 3.0], &[1.0; 4], 1).expect("losses");
        let statistic = 2.0 / (0.125_f64).sqrt() * 0.75_f64.sqrt();
        assert!((found.difference - 2.0).abs() < 1e-15 && (found.statistic - statistic).abs() < 1e-12);
        let other = diebold_mariano(&[1.0; 4], &[2.0, 4.0, 3.0, 3.0], 1).expect("losses");
        assert!((other.statistic + statistic).abs() < 1e-12 && (other.p_value - found.p_value).abs() < 1e-15);
    }

    #[test]
    fn equally_good_ones_are_distinguished_as_often_as_the_level_says() {
        let draws = 2_000;
        for horizon in [1, 4] {
            let rejected = (0..draws)
                .filter(|stream| {
                    // Losses whose differences are moving averages of order h - 1.
                    let e = NormalStream::new(horizon, *stream).take(60);
                    let width = usize::try_from(horizon).expect("small");
                    let d: Vec<f64> = e.windows(width).map(|part| part.iter().sum()).collect();
                    let found = diebold_mariano(&d, &vec![0.0; d.len()], width);
                    found.is_some_and(|found| found.p_value <= 0.05)
                })
                .count();
            // The correction makes one step exact; four steps stay somewhat liberal.
            let most = if horizon == 1 { 0.065 } else { 0.11 };
            let share = rejected as f64 / draws as f64;
            assert!((0.035..most).contains(&share), "{horizon}: {share}");
        }
    }

    #[test]
    fn too_few_and_alike_ones_have_no_test() {
        assert_eq!(diebold_mariano(&[1.0, 2.0, 3.0], &[0.0; 3], 1), None);
        assert_eq!(diebold_mariano(&[1.0; 20], &[1.0; 20], 1), None);
        assert_eq!(diebold_mariano(&[1.0, 2.0, 3.0, 1.0], &[0.0; 4], 4), None);
    }
}
