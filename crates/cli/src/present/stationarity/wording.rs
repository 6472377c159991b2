//! Names of terms, rules and probabilities.

use kandrel_core::lag::{Criterion, LagRule};
use kandrel_core::nulldist::Terms;

use crate::render::{OUTERMOST_LEVEL, p_value};

/// The deterministic terms in words.
pub fn terms(terms: Terms) -> &'static str {
    match terms {
        Terms::None => "none",
        Terms::Constant => "constant",
        Terms::Trend => "trend",
    }
}

/// What a test is around: "a constant level".
pub fn around(terms: Terms) -> &'static str {
    match terms {
        Terms::None => "zero",
        Terms::Constant => "a constant level",
        Terms::Trend => "a linear trend",
    }
}

/// A lag rule as it is typed.
pub fn lag_rule(rule: LagRule) -> &'static str {
    match rule {
        LagRule::Given(_) => "given",
        LagRule::Criterion(Criterion::Aic) => "aic",
        LagRule::Criterion(Criterion::Bic) => "bic",
        LagRule::Criterion(Criterion::Hq) => "hq",
        LagRule::Maic => "maic",
        LagRule::T => "t",
    }
}

/// `p = 0.0123`; tiny ones in powers of ten.
pub fn p_equals(p: f64) -> String {
    format!("p = {}", p_value(p))
}

/// A p-value from a simulated distribution: below the outermost simulated
/// level it is known to be small, not how small.
pub fn simulated_p(p: f64) -> String {
    if p < OUTERMOST_LEVEL { format!("p < {OUTERMOST_LEVEL}") } else { p_equals(p) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_simulated_p_value_claims_no_more_than_was_simulated() {
        assert_eq!(simulated_p(3e-9), "p < 0.0001");
        assert_eq!(simulated_p(0.01234), "p = 0.0123");
        assert_eq!(p_equals(3e-9), "p = 3e-9");
    }
}
