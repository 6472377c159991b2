//! The chi-squared distribution.

use statrs::function::gamma::checked_gamma_ur;

/// Upper tail `P(X > x)` with `degrees` degrees of freedom.
///
/// `None` when there are no degrees of freedom or `x` is not a number.
pub fn survival(x: f64, degrees: usize) -> Option<f64> {
    if degrees == 0 || x.is_nan() {
        return None;
    }
    if x <= 0.0 {
        return Some(1.0);
    }
    if x.is_infinite() {
        return Some(0.0);
    }
    checked_gamma_ur(0.5 * degrees as f64, 0.5 * x).ok()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn two_degrees_are_an_exponential() {
        for x in [0.1, 1.0, 7.0, 60.0] {
            let ours = survival(x, 2).unwrap_or(f64::NAN);
            let exact = (-0.5_f64 * x).exp();
            assert!((ours / exact - 1.0).abs() < 1e-12, "{ours} against {exact}");
        }
    }

    #[test]
    fn nothing_is_invented_without_degrees_of_freedom() {
        assert_eq!(survival(3.0, 0), None);
        assert_eq!(survival(f64::NAN, 3), None);
    }
}
