//! Names of deterministic terms.

use kandrel_core::nulldist::Terms;

/// What a test is around: "a constant level".
pub fn around(terms: Terms) -> &'static str {
    match terms {
        Terms::None => "zero",
        Terms::Constant => "a constant level",
        Terms::Trend => "a linear trend",
    }
}
