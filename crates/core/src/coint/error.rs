//! Why a test of cointegration has no result.

use thiserror::Error;

use crate::num::scale::InvalidSeries;
use crate::unitroot::UnitRootError;

/// Why series cannot be tested for cointegration.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum CointError {
    /// A series that nothing can be done with.
    #[error("series {series}: {reason}")]
    Series {
        /// Its place, 0-based.
        series: usize,
        /// Why.
        reason: InvalidSeries,
    },
    /// One series, or more than there are null distributions for.
    #[error("{series} series: from 2 to {most} can be tested together")]
    Count {
        /// Series given.
        series: usize,
        /// The most there may be.
        most: usize,
    },
    /// Too few observations.
    #[error("{observations} observations are too few for {series} series: at least {needed} are needed")]
    TooShort {
        /// Observations given.
        observations: usize,
        /// Series given.
        series: usize,
        /// Observations needed.
        needed: usize,
    },
    /// More lags than the sample can carry.
    #[error("{lags} lags are too many for {observations} observations of {series} series: at most {most}")]
    TooManyLags {
        /// Lags asked for.
        lags: usize,
        /// The most there may be.
        most: usize,
        /// Observations given.
        observations: usize,
        /// Series given.
        series: usize,
    },
    /// A system needs its levels one period before.
    #[error("a system needs one lag at least")]
    NoLags,
    /// A series is a combination of the others.
    #[error("a series is a combination of the others")]
    Collinear {
        /// Its place.
        series: usize,
    },
    /// Numbers cannot hold what one unit of a series is in units of another.
    #[error("the units of two series are too far apart")]
    UnitsApart {
        /// Place of the series in the largest unit.
        large: usize,
        /// Place of that in the smallest.
        small: usize,
    },
    /// The unit-root test of the residuals has no answer.
    #[error(transparent)]
    Residuals(#[from] UnitRootError),
    /// No null distribution was simulated for such a test.
    #[error("no null distribution is known for this test on such data")]
    NoDistribution,
}

impl CointError {
    pub(super) fn unusable(series: usize, reason: InvalidSeries) -> Self {
        Self::Series { series, reason }
    }
}
