//! Roots of a polynomial of lags.

use nalgebra::Complex;

/// A root of a lag polynomial.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Root {
    /// Real part.
    pub re: f64,
    /// Imaginary part.
    pub im: f64,
}

impl Root {
    /// Its distance from zero: above one for a stationary or invertible factor.
    pub fn modulus(self) -> f64 {
        self.re.hypot(self.im)
    }

    fn inverse(self) -> Complex<f64> {
        Complex::new(self.re, self.im).inv()
    }

    /// Whether its inverse lies within `distance` of the other's.
    pub fn is_near(self, other: Self, distance: f64) -> bool {
        (self.inverse() - other.inverse()).norm() < distance
    }
}

/// Rounds, at most.
const ROUNDS: usize = 500;

/// The roots of `1 + Σ c_k z^k`, nearest to zero first; trailing coefficients of zero count as
/// none.
///
/// # Source
/// The simultaneous iteration of Durand (1960) and Kerner (1966), on the inverse roots, which for
/// such polynomials are of moderate size.
pub fn roots(coefficients: &[f64]) -> Vec<Root> {
    let degree = coefficients.iter().rposition(|c| c.abs() > 1e-12).map_or(0, |last| last + 1);
    let used = &coefficients[..degree];
    // The inverse roots solve x^k + Σ c_j x^{k-j} = 0.
    let value = |x: Complex<f64>| used.iter().fold(Complex::new(1.0, 0.0), |sum, c| sum * x + c);
    let start = Complex::new(0.4, 0.9);
    let mut found: Vec<Complex<f64>> = (0..degree)
        .scan(Complex::new(1.0, 0.0), |power, _| {
            *power *= start;
            Some(*power)
        })
        .collect();
    for _ in 0..ROUNDS {
        let mut moved: f64 = 0.0;
        for k in 0..degree {
            let x = found[k];
            let others = found.iter().enumerate().filter(|(j, _)| *j != k);
            let apart = others.fold(Complex::new(1.0, 0.0), |product, (_, other)| product * (x - other));
            let step = value(x) / apart;
            if step.re.is_finite() && step.im.is_finite() {
                found[k] = x - step;
                moved = moved.max(step.norm());
            } else {
                // Two estimates fell together: part them.
                found[k] = x * Complex::new(0.9, 0.1);
                moved = 1.0;
            }
        }
        if moved < 1e-14 {
            break;
        }
    }
    let mut roots: Vec<Root> = found
        .into_iter()
        .map(|inverse| {
            let root = inverse.inv();
            // Conjugates of rounding are real roots.
            let im = if root.im.abs() < 1e-7 * root.norm() { 0.0 } else { root.im };
            Root { re: root.re, im }
        })
        .collect();
    roots.sort_by(|a, b| a.modulus().total_cmp(&b.modulus()).then(b.im.total_cmp(&a.im)));
    roots
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn roots_by_hand() {
        // (1 - 0.5 z)(1 + 0.25 z): 2 and -4.
        let found = roots(&[-0.25, -0.125]);
        assert!((found[0].re - 2.0).abs() < 1e-10 && (found[1].re + 4.0).abs() < 1e-10, "{found:?}");
        // 1 - z + 0.5 z²: 1 ± i.
        let pair = roots(&[-1.0, 0.5]);
        assert!(pair.iter().all(|root| (root.re - 1.0).abs() < 1e-10 && (root.im.abs() - 1.0).abs() < 1e-10));
        assert!((pair[0].modulus() - 2.0_f64.sqrt()).abs() < 1e-10);
        assert_eq!(roots(&[]), []);
        assert_eq!(roots(&[0.0, 0.0]).len(), 0);
    }

    #[test]
    fn every_root_makes_the_polynomial_vanish() {
        let coefficients = [0.3, -0.8, 0.1, 0.4, -0.2, 0.05];
        for root in roots(&coefficients) {
            let z = Complex::new(root.re, root.im);
            let value = coefficients.iter().rev().fold(Complex::new(0.0, 0.0), |sum, c| (sum + c) * z) + 1.0;
            assert!(value.norm() < 1e-8, "{root:?} {value}");
        }
    }
}
