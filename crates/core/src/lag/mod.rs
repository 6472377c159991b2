//! How many lags: given numbers, information criteria, default maxima.

mod criterion;
mod maximum;

pub use criterion::{Criterion, gaussian_log_likelihood};
pub use maximum::{default_max_lags, largest_max_lags};

use schemars::JsonSchema;
use serde::Serialize;

/// How the number of lags is found.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum LagRule {
    /// The number itself.
    Given(usize),
    /// The number with the smallest criterion, all candidates on one sample.
    Criterion(Criterion),
    /// The number with the smallest modified AIC (Ng and Perron 2001).
    Maic,
    /// From the largest number down, the first whose last lag is significant at 10 %.
    T,
}
