//! The quadratic-spectral long-run variance.

use std::f64::consts::PI;

use crate::corr::lagged_products;

/// Weight of the lag `x` bandwidths away: `25/(12π²x²) (sin(6πx/5)/(6πx/5) - cos(6πx/5))`.
fn weight(x: f64) -> f64 {
    let angle = 1.2 * PI * x;
    if angle.abs() < 1e-4 {
        // The series of sin and cos about zero.
        return 1.0 - angle * angle / 10.0;
    }
    3.0 / (angle * angle) * (angle.sin() / angle - angle.cos())
}

/// Long-run variance of values with zero mean with quadratic-spectral weights
/// `γ₀ + 2 Σ k(j/l) γ_j`, divisor n; with a bandwidth of zero the variance alone.
///
/// # Numerics
/// All n - 1 lags have a weight: their products by FFT for long series.
///
/// # References
/// Andrews (1991), *Econometrica* 59, 817-858.
pub fn quadratic_variance(e: &[f64], bandwidth: usize) -> f64 {
    let n = e.len() as f64;
    if bandwidth == 0 {
        return e.iter().map(|v| v * v).sum::<f64>() / n;
    }
    let products = lagged_products(e, e.len().saturating_sub(1));
    let sum: f64 = products
        .iter()
        .enumerate()
        .skip(1)
        .map(|(j, product)| weight(j as f64 / bandwidth as f64) * product)
        .sum();
    (products.first().copied().unwrap_or(0.0) + 2.0 * sum) / n
}

/// The automatic bandwidth: `floor(1.3221 [(s₂/s₀)²]^{1/5} n^{1/5})` with `s₀ = γ₀ + 2 Σ γ_j`,
/// `s₂ = 2 Σ j² γ_j` over the first `floor(4 (n/100)^{2/25})` lags; at most a quarter of n.
///
/// # References
/// Newey and West (1994), *Review of Economic Studies* 61, table II C; Hobijn, Franses and Ooms
/// (2004), *Statistica Neerlandica* 58, 483-502.
pub fn quadratic_bandwidth(e: &[f64]) -> usize {
    let n = e.len();
    // Small non-negative numbers.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let whole = |value: f64| value.floor() as usize;
    let examined = whole(4.0 * (n as f64 / 100.0).powf(2.0 / 25.0)).min(n.saturating_sub(1));
    let products = lagged_products(e, examined);
    let mut s0 = products.first().copied().unwrap_or(0.0);
    let mut s2 = 0.0;
    for (j, product) in products.iter().enumerate().skip(1) {
        s0 += 2.0 * product;
        s2 += 2.0 * (j * j) as f64 * product;
    }
    let wanted = 1.3221 * ((s2 / s0).powi(2) * n as f64).powf(0.2);
    let most = n / 4;
    if wanted < most as f64 { whole(wanted) } else { most }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn the_weights_are_those_of_the_paper() {
        assert!((weight(0.0) - 1.0).abs() < 1e-15);
        assert!((weight(1e-4) - weight(9e-5)).abs() < 1e-7);
        // At x = 5/6 the angle is π: 3/π² (0 + 1).
        assert!((weight(5.0 / 6.0) - 3.0 / (PI * PI)).abs() < 1e-14);
    }

    #[test]
    fn it_is_the_weighted_sum_of_autocovariances_and_never_negative() {
        let e = NormalStream::new(61, 0).take(150);
        for bandwidth in [0, 1, 5, 30] {
            let mut direct: f64 = e.iter().map(|v| v * v).sum();
            if bandwidth > 0 {
                for j in 1..150 {
                    let product: f64 = e.iter().zip(&e[j..]).map(|(a, b)| a * b).sum();
                    direct += 2.0 * weight(j as f64 / bandwidth as f64) * product;
                }
            }
            let ours = quadratic_variance(&e, bandwidth);
            assert!((ours - direct / 150.0).abs() < 1e-10 && ours > 0.0);
        }
    }

    #[test]
    fn more_persistence_asks_for_a_wider_window() {
        let noise = NormalStream::new(62, 0).take(400);
        let mut persistent = noise.clone();
        for t in 1..400 {
            persistent[t] += 0.9 * persistent[t - 1];
        }
        assert!(quadratic_bandwidth(&persistent) > quadratic_bandwidth(&noise));
    }
}
