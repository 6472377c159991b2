//! Names of terms, rules and probabilities.

use kandrel_core::lag::{Criterion, LagRule};
use kandrel_core::nulldist::Terms;

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
