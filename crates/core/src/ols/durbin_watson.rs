//! The Durbin-Watson statistic.

/// Two less twice the first autocorrelation of residuals, nearly: two for none, zero for one.
///
/// # Formula
/// `Σ(e_t - e_{t-1})² / Σe²`.
///
/// # References
/// Durbin and Watson (1950), *Biometrika* 37, 409-428.
pub fn durbin_watson(residuals: &[f64]) -> f64 {
    let changes: f64 = residuals.windows(2).map(|pair| (pair[1] - pair[0]).powi(2)).sum();
    changes / residuals.iter().map(|e| e * e).sum::<f64>()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn by_hand() {
        // Changes 1, -3, 4: 26 over 1 + 4 + 1 + 9.
        assert!((durbin_watson(&[1.0, 2.0, -1.0, 3.0]) - 26.0 / 15.0).abs() < 1e-15);
        // Alternating residuals have the largest value, 4 (n - 1)/n.
        let alternating: Vec<f64> = (0..100).map(|t| if t % 2 == 0 { 1.0 } else { -1.0 }).collect();
        assert!((durbin_watson(&alternating) - 3.96).abs() < 1e-12);
    }
}
