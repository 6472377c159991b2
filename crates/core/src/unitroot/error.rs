//! Why a test has no result.

use thiserror::Error;

use crate::num::scale::InvalidSeries;
use crate::ols::OlsError;

/// The fewest observations for which null distributions were simulated.
pub const MIN_OBSERVATIONS_UNIT_ROOT: usize = 15;

/// Why a test cannot be done on a series.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum UnitRootError {
    /// A series that nothing can be done with.
    #[error(transparent)]
    InvalidSeries(#[from] InvalidSeries),
    /// More lags than the sample can carry.
    #[error("{lags} lags are too many for {observations} observations: at most {most}")]
    TooManyLags {
        /// Lags asked for.
        lags: usize,
        /// The most that leave five residual degrees of freedom.
        most: usize,
        /// Observations given.
        observations: usize,
    },
    /// A bandwidth for which no null distribution was simulated; close to the
    /// length of the series the statistic is the same for any series.
    #[error("a bandwidth of {bandwidth} is too wide for {observations} observations: at most {most}")]
    TooWide {
        /// Bandwidth asked for.
        bandwidth: usize,
        /// The widest there may be: a third of the observations.
        most: usize,
        /// Observations given.
        observations: usize,
    },
    /// More observations than a search over break dates can try.
    #[error("{observations} observations are too many for this search: at most {most}")]
    TooLong {
        /// Observations given.
        observations: usize,
        /// The most there may be.
        most: usize,
    },
    /// A break too near an end.
    #[error("a break after {before} of {observations} observations leaves fewer than {needed} on one side")]
    BreakTooNear {
        /// Observations before it.
        before: usize,
        /// Observations given.
        observations: usize,
        /// Observations needed on either side.
        needed: usize,
    },
    /// No null distribution was simulated for such a test.
    #[error("no null distribution is known for this test on such data")]
    NoDistribution,
    /// KPSS tests stationarity around a constant at least.
    #[error("the test needs a constant at least")]
    NeedsConstant,
    /// The series follows its own past or its trend without any error.
    #[error("the series is reproduced exactly by its terms and lags")]
    Deterministic,
    /// A regressor of the test is a combination of the others.
    #[error("the lagged values are exact combinations of each other")]
    Collinear,
}

impl From<OlsError> for UnitRootError {
    fn from(reason: OlsError) -> Self {
        match reason {
            OlsError::TooFewRows { rows, coefficients } => {
                Self::InvalidSeries(InvalidSeries::TooShort { observations: rows, needed: coefficients + 1 })
            }
            OlsError::Collinear { .. } => Self::Collinear,
            OlsError::PerfectFit => Self::Deterministic,
        }
    }
}
