//! The Phillips-Perron statistics.

use crate::nulldist::Terms;
use crate::num::sum::dot;
use crate::ols::{Bandwidth, OlsError, bartlett_variance, estimate};

use super::lag_regressions::regression;
use super::quadratic::{quadratic_bandwidth, quadratic_variance};

/// The two statistics of Phillips and Perron.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PhillipsPerron {
    /// `Z_ρ`: corrected `T (ρ̂ - 1)`.
    pub z_rho: f64,
    /// `Z_τ`: corrected t-ratio.
    pub z_tau: f64,
    /// Lags in the long-run variance.
    pub bandwidth: usize,
}

/// Both statistics of a series scaled to a harmless size.
///
/// # Formula
/// From `y_t = terms + ρ y_{t-1} + u_t`, T rows, k coefficients, `γ₀ = Σû²/T`,
/// `s² = Σû²/(T-k)`, ω² the long-run variance with Bartlett weights:
/// `Z_τ = (γ₀/ω²)^{1/2} t_ρ - (ω² - γ₀) T se(ρ̂) / (2 ω s)`,
/// `Z_ρ = T (ρ̂ - 1) - (ω² - γ₀) T² se(ρ̂)² / (2 s²)`.
///
/// # Errors
/// [`OlsError`].
///
/// # References
/// Phillips and Perron (1988), *Biometrika* 75, 335-346; Hamilton (1994), section 17.6.
pub fn phillips_perron(x: &[f64], terms: Terms, bandwidth: Bandwidth) -> Result<PhillipsPerron, OlsError> {
    FirstOrder::new(x, terms).map(|regression| regression.corrected(bandwidth))
}

/// The regression on the first lag, which the statistics of every bandwidth share.
pub struct FirstOrder {
    coefficient: f64,
    error: f64,
    variance: f64,
    residuals: Vec<f64>,
}

impl FirstOrder {
    /// Estimates it.
    ///
    /// # Errors
    /// [`OlsError`].
    pub fn new(x: &[f64], terms: Terms) -> Result<Self, OlsError> {
        let fit = estimate(&mut regression(x, terms, 0, 0))?;
        let level = terms.count();
        let n = x.len() as f64;
        let residual = |t: usize| {
            let clock = (t as f64 + 0.5 - 0.5 * n) / n;
            let fixed: f64 = [1.0, clock].iter().zip(&fit.coefficients[..level]).map(|(x, b)| x * b).sum();
            x[t] - x[t - 1] - fixed - fit.coefficients[level] * x[t - 1]
        };
        Ok(Self {
            coefficient: fit.coefficients[level],
            error: fit.covariance[(level, level)].sqrt(),
            variance: fit.residual_sum / fit.degrees as f64,
            residuals: (1..x.len()).map(residual).collect(),
        })
    }

    /// Both statistics for one bandwidth, with Bartlett weights.
    pub fn corrected(&self, bandwidth: Bandwidth) -> PhillipsPerron {
        let lags = bandwidth.resolve(&self.residuals);
        self.corrected_by(lags, bartlett_variance(&self.residuals, lags))
    }

    /// Both with quadratic-spectral weights.
    pub fn corrected_quadratic(&self, bandwidth: Bandwidth) -> PhillipsPerron {
        let e = &self.residuals;
        let lags = match bandwidth {
            Bandwidth::Automatic => quadratic_bandwidth(e),
            other => other.resolve(e),
        };
        self.corrected_by(lags, quadratic_variance(e, lags))
    }

    fn corrected_by(&self, lags: usize, long_run: f64) -> PhillipsPerron {
        let (e, error, variance) = (&self.residuals, self.error, self.variance);
        let rows = e.len() as f64;
        let own = dot(e, e) / rows;
        let excess = long_run - own;
        let t = self.coefficient / error;
        PhillipsPerron {
            z_rho: rows * self.coefficient - 0.5 * excess * (rows * error).powi(2) / variance,
            z_tau: (own / long_run).sqrt() * t - 0.5 * excess * rows * error / (long_run * variance).sqrt(),
            bandwidth: lags,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn without_a_correction_they_are_those_of_dickey_and_fuller() {
        let mut x = NormalStream::new(6, 0).take(80);
        for t in 1..80 {
            x[t] += x[t - 1];
        }
        for terms in Terms::ALL {
            let ours = phillips_perron(&x, terms, Bandwidth::Given(0)).expect("well posed");
            let fit = estimate(&mut regression(&x, terms, 0, 0)).expect("well posed");
            let level = terms.count();
            let (rho, error) = (fit.coefficients[level], fit.covariance[(level, level)].sqrt());
            assert!((ours.z_tau - rho / error).abs() < 1e-10);
            assert!((ours.z_rho - 79.0 * rho).abs() < 1e-9);
        }
    }

    #[test]
    fn by_hand_from_sums() {
        // No terms: everything is a sum over one column.
        let x = [1.0, 3.0, 2.0, 5.0, 4.0, 6.0, 9.0, 7.0, 8.0, 12.0];
        let ours = phillips_perron(&x, Terms::None, Bandwidth::Given(2)).expect("well posed");
        let (mut xx, mut xd) = (0.0, 0.0);
        for t in 1..10 {
            xx += x[t - 1] * x[t - 1];
            xd += x[t - 1] * (x[t] - x[t - 1]);
        }
        let rho = xd / xx;
        let e: Vec<f64> = (1..10).map(|t| x[t] - x[t - 1] - rho * x[t - 1]).collect();
        let gamma = |j: usize| (j..9).map(|t| e[t] * e[t - j]).sum::<f64>() / 9.0;
        let omega = gamma(0) + 2.0 * (2.0 / 3.0 * gamma(1) + 1.0 / 3.0 * gamma(2));
        let s2 = gamma(0) * 9.0 / 8.0;
        let se = (s2 / xx).sqrt();
        let z_rho = 9.0 * rho - 0.5 * (omega - gamma(0)) * (9.0 * se).powi(2) / s2;
        let z_tau =
            (gamma(0) / omega).sqrt() * rho / se - 0.5 * (omega - gamma(0)) * 9.0 * se / (omega * s2).sqrt();
        assert!((ours.z_rho - z_rho).abs() < 1e-12 && (ours.z_tau - z_tau).abs() < 1e-12);
    }
}
