//! Why outliers cannot be looked for.

use thiserror::Error;

use crate::decomp::DecompError;

/// Why odd values cannot be looked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum OutlierError {
    /// Too few values to tell what is odd.
    #[error("{observations} observations are too few: {needed} are needed")]
    TooShort {
        /// Values there are.
        observations: usize,
        /// Values needed.
        needed: usize,
    },
    /// A method that compares seasons, of a series without one.
    #[error("there is no season to compare with")]
    NoSeason,
    /// All values are alike.
    #[error("all values are alike")]
    Constant,
    /// A value that cannot be computed with.
    #[error("a value is too large to compute with")]
    NotFinite {
        /// Where.
        place: usize,
    },
    /// The series follows a rule without any error.
    #[error("the series follows a rule without error")]
    Deterministic,
    /// No decomposition, for another reason.
    #[error(transparent)]
    Decomposition(DecompError),
}

impl From<DecompError> for OutlierError {
    fn from(error: DecompError) -> Self {
        match error {
            DecompError::NoSeason => Self::NoSeason,
            DecompError::Constant => Self::Constant,
            DecompError::NotFinite { place } => Self::NotFinite { place },
            DecompError::TooShort { observations, season } => {
                Self::TooShort { observations, needed: 2 * season }
            }
            other => Self::Decomposition(other),
        }
    }
}
