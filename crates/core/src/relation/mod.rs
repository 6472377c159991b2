//! Relations between series: correlation, cross-correlation, prewhitening, smooth curves
//! through scattered points.

mod correlation;
mod cross;
mod line;
mod lowess;
mod prewhiten;

pub use correlation::{correlation, correlation_matrix};
pub use cross::{Cross, CrossLag, Strongest, cross_correlations, default_cross_lags};
pub use line::{FittedLine, fitted_line};
pub use lowess::{LowessOptions, lowess};
pub use prewhiten::{Prewhitened, prewhiten};

use thiserror::Error;

use crate::num::scale::InvalidSeries;

/// Why series cannot be related.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum RelationError {
    /// A series that nothing can be done with.
    #[error("series {series}: {reason}")]
    Series {
        /// Its place, 0-based.
        series: usize,
        /// Why.
        reason: InvalidSeries,
    },
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
    /// A series follows a rule without any error, so that nothing is left to relate.
    #[error("the first series is exactly predictable from its past")]
    Predictable,
}

impl RelationError {
    fn of(series: usize) -> impl Fn(InvalidSeries) -> Self {
        move |reason| Self::Series { series, reason }
    }
}
