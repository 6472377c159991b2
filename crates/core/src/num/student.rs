//! Student's distribution.

use statrs::function::beta::checked_beta_reg;

/// Both tails, `P(|T| > |t|)`, with `degrees` degrees of freedom.
///
/// `None` when there are no degrees of freedom or `t` is not a number.
pub fn two_sided(t: f64, degrees: usize) -> Option<f64> {
    if degrees == 0 || t.is_nan() {
        return None;
    }
    if t.is_infinite() {
        return Some(0.0);
    }
    let nu = degrees as f64;
    checked_beta_reg(0.5 * nu, 0.5, nu / (nu + t * t)).ok()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tails_are_those_of_the_tables() {
        // The 95 % points of every table: 12.706, 2.228, 1.984.
        for (t, degrees) in [(12.706_204_736, 1), (2.228_138_852, 10), (1.983_971_519, 100)] {
            assert!((two_sided(t, degrees).expect("valid") - 0.05).abs() < 1e-9);
        }
        assert_eq!(two_sided(0.0, 5), Some(1.0));
        assert_eq!(two_sided(f64::INFINITY, 5), Some(0.0));
        assert_eq!(two_sided(1.0, 0), None);
    }
}
