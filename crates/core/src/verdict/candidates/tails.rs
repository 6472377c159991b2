//! How much more probable innovations are with heavy tails.

/// Degrees of freedom ν of Student's errors, equally weighted, with `Γ((ν+1)/2) / (Γ(ν/2) √(νπ))`.
const DEGREES: [(f64, f64); 3] =
    [(3.0, 0.367_552_596_947_861_4), (4.0, 0.375), (6.0, 0.382_732_772_309_872_2)];
/// The prior probability of normal errors.
const NORMAL: f64 = 0.5;
/// Steps to the scale; each multiplies what is missing by about a half.
const STEPS: usize = 30;

/// The logarithm of the likelihood with normal errors or Student's, less that with normal ones.
///
/// # Formula
/// `ln(½ + ½ · mean_ν e^(ℓ_ν - ℓ))`, each at its most probable scale: `ℓ_ν = n ln c_ν - n ln σ - ½(ν+1) Σ ln(1 + e²/(νσ²))`,
/// where `σ² = Σ w e² / n` with `w = (ν+1)/(ν + e²/σ²)`.
///
/// # Source
/// Lange, K. L., Little, R. J. A. and Taylor, J. M. G. (1989), Journal of the American Statistical Association 84, 881-896.
pub fn heavy_tails(e: &[f64]) -> f64 {
    let n = e.len() as f64;
    let square = e.iter().map(|value| value * value).sum::<f64>() / n;
    if e.is_empty() || !square.is_normal() {
        return 0.0;
    }
    let normal = -0.5 * n * ((2.0 * std::f64::consts::PI * square).ln() + 1.0);
    let gains = DEGREES.map(|degrees| students(e, degrees, square) - normal);
    let most = gains.into_iter().fold(0.0, f64::max);
    let each = (1.0 - NORMAL) / DEGREES.len() as f64;
    let rest: f64 = gains.iter().map(|gain| each * (gain - most).exp()).sum();
    most + (NORMAL * (-most).exp() + rest).ln()
}

/// The logarithm of the likelihood with Student's errors at its best scale.
fn students(e: &[f64], (degrees, constant): (f64, f64), start: f64) -> f64 {
    let n = e.len() as f64;
    let mut square = start;
    for _ in 0..STEPS {
        let weighted = |value: &f64| (degrees + 1.0) * value * value / (degrees + value * value / square);
        square = e.iter().map(weighted).sum::<f64>() / n;
    }
    let tails: f64 = e.iter().map(|value| (value * value / (degrees * square)).ln_1p()).sum();
    n * (constant.ln() - 0.5 * square.ln()) - 0.5 * (degrees + 1.0) * tails
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn the_likelihood_is_that_of_the_density_and_largest_at_its_scale() {
        let e = [0.3, -1.2, 0.7, 4.0, -0.4, 0.1, -2.2];
        // Of three degrees of freedom: 2 / (π √3 σ (1 + e²/3σ²)²).
        let density = |sigma: f64| -> f64 {
            let of = |value: f64| {
                2.0 / (std::f64::consts::PI * 3.0_f64.sqrt() * sigma)
                    / (1.0 + value * value / (3.0 * sigma * sigma)).powi(2)
            };
            e.iter().map(|value| of(*value).ln()).sum()
        };
        let largest =
            (20..400).map(|step| density(f64::from(step) / 100.0)).fold(f64::NEG_INFINITY, f64::max);
        assert!((students(&e, DEGREES[0], 1.0) - largest).abs() < 1e-3);
    }

    #[test]
    fn normal_errors_gain_nothing_and_heavy_ones_much() {
        let z = NormalStream::new(5, 0).take(1_600);
        assert!((-0.7..0.5).contains(&heavy_tails(&z[..400])), "{}", heavy_tails(&z[..400]));
        let t: Vec<f64> =
            z.chunks(4).map(|q| q[0] / ((q[1] * q[1] + q[2] * q[2] + q[3] * q[3]) / 3.0).sqrt()).collect();
        assert!(heavy_tails(&t) > 20.0);
        let scaled: Vec<f64> = t.iter().map(|value| 1e6 * value).collect();
        assert!((heavy_tails(&t) - heavy_tails(&scaled)).abs() < 1e-8);
        assert_eq!((heavy_tails(&[]), heavy_tails(&[0.0, 0.0])), (0.0, 0.0));
    }
}
