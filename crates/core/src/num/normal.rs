//! The standard normal distribution.

use std::f64::consts::{PI, SQRT_2};

/// Lower tail `P(Z ≤ z)`, accurate to the last digits in both tails.
pub fn cdf(z: f64) -> f64 {
    0.5 * libm::erfc(-z / SQRT_2)
}

/// Upper tail `P(Z > z)`.
pub fn survival(z: f64) -> f64 {
    0.5 * libm::erfc(z / SQRT_2)
}

/// The `z` with `P(Z ≤ z) = p`, for `0 < p < 1`; infinite at 0 and 1.
///
/// # Numerics
/// A library value good to about ten digits, then two Halley steps on
/// [`cdf`], which makes it as good as `erfc` itself.
pub fn quantile(p: f64) -> f64 {
    if p > 0.5 {
        // 1 - p is exact here, and the lower tail keeps its digits.
        return -quantile(1.0 - p);
    }
    if p <= 0.0 {
        return f64::NEG_INFINITY;
    }
    let mut z = -SQRT_2 * statrs::function::erf::erfc_inv(2.0 * p);
    for _ in 0..2 {
        let density = (-0.5 * z * z).exp() / (2.0 * PI).sqrt();
        if density < f64::MIN_POSITIVE {
            break;
        }
        let step = (cdf(z) - p) / density;
        z -= step / (1.0 + 0.5 * z * step);
    }
    z
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn published_points_of_the_normal_table() {
        // NIST/SEMATECH e-Handbook, 1.3.6.7.1, and their well-known continuations.
        assert!((quantile(0.975) - 1.959_963_984_540_054).abs() < 1e-14);
        assert!((quantile(0.05) + 1.644_853_626_951_472_7).abs() < 1e-14);
        assert!((survival(3.0) - 1.349_898_031_630_094_6e-3).abs() < 1e-17);
    }

    #[test]
    fn quantile_undoes_the_distribution_function_deep_in_the_tail() {
        for z in [-30.0, -8.0, -3.3, -0.7, -1e-9] {
            let back = quantile(cdf(z));
            assert!((back - z).abs() < 1e-12 * z.abs().max(1.0), "{z} came back as {back}");
        }
    }

    #[test]
    fn both_tails_are_mirror_images() {
        for p in [1e-12, 0.001, 0.2, 0.5] {
            assert!((quantile(p) + quantile(1.0 - p)).abs() < 1e-4);
        }
        assert_eq!(cdf(1.25).to_bits(), survival(-1.25).to_bits());
    }
}
