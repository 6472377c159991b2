//! Why outliers cannot be looked for.

use crate::num::scale::InvalidSeries;
use thiserror::Error;

use crate::decomp::DecompError;

/// Why outliers cannot be looked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum OutlierError {
    /// A series that nothing can be done with.
    #[error(transparent)]
    InvalidSeries(#[from] InvalidSeries),
    /// A method that compares seasons, of a series without one.
    #[error("there is no seasonal period for the comparison")]
    NoSeason,
    /// Fewer than three seasons, though without a season the series would be long enough.
    #[error("{observations} observations are fewer than the {needed} of three seasons of {season}")]
    FewSeasons {
        /// Length of the series.
        observations: usize,
        /// Length needed.
        needed: usize,
        /// The seasonal period.
        season: usize,
    },
    /// The series follows a rule without any error.
    #[error("the series has no irregular component")]
    Deterministic,
    /// No decomposition, for another reason.
    #[error(transparent)]
    Decomposition(DecompError),
}

impl From<DecompError> for OutlierError {
    fn from(error: DecompError) -> Self {
        match error {
            DecompError::NoSeason => Self::NoSeason,
            DecompError::InvalidSeries(reason) => Self::InvalidSeries(reason),
            DecompError::TooShort { observations, season } => {
                Self::InvalidSeries(InvalidSeries::TooShort { observations, needed: 2 * season })
            }
            other => Self::Decomposition(other),
        }
    }
}
