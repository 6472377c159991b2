//! Whether the scale that the diagnosis advises forecasts better than the original one.

use super::{Identified, SAY};
use crate::predictive::Map;

/// Probability of the advised scale before its forecasts are known: the variance depends on the level at 5 %.
const ADVISED: f64 = 0.9;

/// Errors of the chosen models on two scales from rolling origins, as mean absolute errors on the original scale.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ScaleComparison {
    /// Of the model on the advised scale.
    pub advised: f64,
    /// Of the model on the original scale.
    pub original: f64,
}

impl ScaleComparison {
    /// Compares two searches of the same series; none where there are no origins to forecast from.
    pub fn of(advised: &Identified, original: &Identified, inverse: Map, season: usize) -> Option<Self> {
        Some(Self {
            advised: advised.rolling_error(season, |value| inverse.at(value))?,
            original: original.rolling_error(season, |value| value)?,
        })
    }

    /// Probability of the scale that is not used, before the forecasts are known.
    pub fn probability_of_other(self) -> f64 {
        if self.prefers_advised() { 1.0 - ADVISED } else { ADVISED }
    }

    /// Whether the advised scale is used: unless the original one forecasts better by more than the advice counts.
    pub fn prefers_advised(self) -> bool {
        self.advised.ln() - self.original.ln() <= SAY * (ADVISED / (1.0 - ADVISED)).ln()
    }
}
