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

/// The quantile at `p`, by halving an interval of the tail; `None` without degrees of freedom or
/// outside (0, 1).
pub fn quantile(p: f64, degrees: usize) -> Option<f64> {
    let inside = p > 0.0 && p < 1.0;
    if degrees == 0 || !inside {
        return None;
    }
    let tail = 2.0 * p.min(1.0 - p);
    let (mut low, mut high) = (0.0, 1.0);
    while two_sided(high, degrees)? > tail {
        (low, high) = (high, 2.0 * high);
        if high > 1e300 {
            return None;
        }
    }
    for _ in 0..200 {
        let middle = 0.5 * (low + high);
        if middle <= low || middle >= high {
            break;
        }
        if two_sided(middle, degrees)? > tail {
            low = middle;
        } else {
            high = middle;
        }
    }
    Some(if p < 0.5 { -high } else { high })
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
        assert!((quantile(0.975, 10).expect("valid") - 2.228_138_852).abs() < 1e-8);
        assert!((quantile(0.025, 1).expect("valid") + 12.706_204_736).abs() < 1e-7);
        assert_eq!(quantile(1.0, 4), None);
    }
}
