//! Information criteria for lag orders.

use std::f64::consts::PI;

use schemars::JsonSchema;
use serde::Serialize;

/// An information criterion, as a total (not divided by the sample size).
///
/// # References
/// Akaike (1974); Schwarz (1978); Hannan and Quinn (1979).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Criterion {
    /// `-2 log L + 2 k`
    Aic,
    /// `-2 log L + k ln n`
    Bic,
    /// `-2 log L + 2 k ln ln n`
    Hq,
}

impl Criterion {
    /// Every criterion.
    pub const ALL: [Self; 3] = [Self::Aic, Self::Bic, Self::Hq];

    /// The criterion's value for `parameters` estimated quantities (the
    /// variance among them) and `rows` observations.
    pub fn value(self, log_likelihood: f64, parameters: usize, rows: usize) -> f64 {
        -2.0 * log_likelihood + self.price(rows) * parameters as f64
    }

    /// What each estimated quantity costs with `rows` observations.
    pub fn price(self, rows: usize) -> f64 {
        let n = rows as f64;
        match self {
            Self::Aic => 2.0,
            Self::Bic => n.ln(),
            Self::Hq => 2.0 * n.ln().ln(),
        }
    }

    /// Which of nested regressions has the smallest value: `residual_sums[j]`
    /// belongs to `base + j` coefficients on `rows` rows. The first wins ties;
    /// `None` for no regressions.
    pub fn best_of(self, residual_sums: &[f64], base: usize, rows: usize) -> Option<usize> {
        residual_sums
            .iter()
            .enumerate()
            .map(|(j, sum)| (j, self.value(gaussian_log_likelihood(*sum, rows), base + j + 1, rows)))
            .min_by(|a, b| a.1.total_cmp(&b.1))
            .map(|(j, _)| j)
    }
}

/// The Gaussian log-likelihood of a regression at its maximum, constants
/// included: `-(n/2) (1 + ln 2π + ln(SSR/n))`.
pub fn gaussian_log_likelihood(residual_sum: f64, rows: usize) -> f64 {
    let n = rows as f64;
    -0.5 * n * (1.0 + (2.0 * PI).ln() + (residual_sum / n).ln())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn criteria_are_totals_with_their_published_prices() {
        let (log_likelihood, k, n) = (-120.0, 4, 50);
        assert!((Criterion::Aic.value(log_likelihood, k, n) - 248.0).abs() < 1e-12);
        assert!((Criterion::Bic.value(log_likelihood, k, n) - (240.0 + 4.0 * 50_f64.ln())).abs() < 1e-12);
        assert!((Criterion::Hq.value(log_likelihood, k, n) - (240.0 + 8.0 * 50_f64.ln().ln())).abs() < 1e-12);
    }

    #[test]
    fn the_likelihood_is_the_sum_of_normal_log_densities() {
        // Residuals 1, -1, 2 with variance 2: summed by hand.
        let by_hand: f64 =
            [1.0_f64, -1.0, 2.0].iter().map(|e| -0.5 * (2.0 * PI * 2.0).ln() - e * e / 4.0).sum();
        assert!((gaussian_log_likelihood(6.0, 3) - by_hand).abs() < 1e-12);
    }

    #[test]
    fn a_dearer_criterion_never_takes_more_lags() {
        let sums = [100.0, 96.0, 90.0, 89.5, 84.0, 83.9];
        let [aic, bic, hq] = Criterion::ALL.map(|c| c.best_of(&sums, 2, 80));
        assert!(bic <= hq && hq <= aic);
        assert_eq!(Criterion::Aic.best_of(&[], 2, 80), None);
    }
}
