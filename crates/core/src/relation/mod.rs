//! Relations between series: correlation, cross-correlation, prewhitening, smooth curves
//! through scattered points.

mod correlation;
mod cross;
mod lowess;
mod prewhiten;
mod wandering;

pub use correlation::{correlation, correlation_matrix};
pub use cross::{Cross, CrossLag, Strongest, cross_correlations, default_cross_lags};
pub use lowess::{LowessOptions, lowess};
pub use prewhiten::{Prewhitened, prewhiten};
pub use wandering::{has_season, wanders};

use thiserror::Error;

use crate::num::scale::Unusable;

/// Why series cannot be related.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum RelationError {
    /// Too few periods that both have.
    #[error("{observations} periods in common are too few: at least {needed} are needed")]
    TooShort {
        /// Periods in common.
        observations: usize,
        /// Periods needed.
        needed: usize,
    },
    /// As many lags as observations, or none.
    #[error("{lags} lags for {observations} periods in common")]
    Lags {
        /// Lags asked for.
        lags: usize,
        /// Periods in common.
        observations: usize,
    },
    /// All values of a series are alike.
    #[error("series {series} is constant")]
    Constant {
        /// Which, 0-based.
        series: usize,
    },
    /// A value is infinite, not a number, or too large to square.
    #[error("the value of series {series} at place {place} is not finite")]
    NotFinite {
        /// Which series, 0-based.
        series: usize,
        /// Its place, 0-based.
        place: usize,
    },
    /// A series follows a rule without any error, so that nothing is left to relate.
    #[error("the first series is exactly predictable from its past")]
    Predictable,
}

impl RelationError {
    fn of(series: usize) -> impl Fn(Unusable) -> Self {
        move |reason| match reason {
            Unusable::NotFinite(place) => Self::NotFinite { series, place },
            Unusable::Constant => Self::Constant { series },
        }
    }
}
