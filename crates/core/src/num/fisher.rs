//! The F distribution.

use statrs::function::beta::checked_beta_reg;

/// Upper tail `P(F > x)` with these degrees of freedom, which need not be whole.
///
/// `None` without degrees of freedom or where `x` is not a number.
pub fn survival(x: f64, numerator: f64, denominator: f64) -> Option<f64> {
    let valid = numerator > 0.0 && denominator > 0.0 && !x.is_nan();
    if !valid {
        return None;
    }
    if x <= 0.0 {
        return Some(1.0);
    }
    if x.is_infinite() {
        return Some(0.0);
    }
    let share = denominator / (denominator + numerator * x);
    checked_beta_reg(0.5 * denominator, 0.5 * numerator, share).ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::student;

    #[test]
    fn one_numerator_degree_is_a_squared_t_and_the_tables_hold() {
        for (t, degrees) in [(2.228_138_852_f64, 10_u32), (0.3, 4), (5.0, 60)] {
            let two = student::two_sided(t, degrees as usize).expect("valid");
            let ours = survival(t * t, 1.0, f64::from(degrees)).expect("valid");
            assert!((ours - two).abs() < 1e-12);
        }
        // The 95 % point of F(3, 20) in every table: 3.098.
        assert!((survival(3.098_391_212, 3.0, 20.0).expect("valid") - 0.05).abs() < 1e-9);
        assert_eq!(survival(1.0, 0.0, 3.0), None);
        assert_eq!(survival(-1.0, 2.0, 3.0), Some(1.0));
    }
}
