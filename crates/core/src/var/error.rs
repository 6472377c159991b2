//! Why a vector autoregression has no estimates.

use thiserror::Error;

use super::column::SystemColumn;
use crate::num::scale::InvalidSeries;

/// Why a system of equations has no answer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum VarError {
    /// A series that nothing can be done with.
    #[error("series {series}: {reason}")]
    Series {
        /// Its place, 0-based.
        series: usize,
        /// Why.
        reason: InvalidSeries,
    },
    /// Too few observations for any lag at all.
    #[error("{observations} observations are too few: at least {needed} are needed")]
    TooShort {
        /// Observations given.
        observations: usize,
        /// Observations needed.
        needed: usize,
    },
    /// More lags than the sample can carry.
    #[error("{lags} lags are too many for {observations} observations: at most {most}")]
    TooManyLags {
        /// Lags asked for.
        lags: usize,
        /// The most that leave four residual degrees of freedom in each equation.
        most: usize,
        /// Observations given.
        observations: usize,
    },
    /// A regressor is a combination of those before it.
    #[error("a regressor is a combination of the others")]
    Collinear {
        /// Which.
        column: SystemColumn,
    },
    /// A series follows the others or its own past without error.
    #[error("a series is reproduced exactly")]
    PerfectFit {
        /// Its place.
        series: usize,
    },
}

impl VarError {
    pub(crate) fn unusable(series: usize, reason: InvalidSeries) -> Self {
        Self::Series { series, reason }
    }
}
