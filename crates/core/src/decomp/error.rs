//! Why a series cannot be decomposed.

use crate::num::scale::InvalidSeries;
use thiserror::Error;

/// Why a series has no decomposition.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum DecompError {
    /// A series that nothing can be done with.
    #[error(transparent)]
    InvalidSeries(#[from] InvalidSeries),
    /// Without a season there is nothing to decompose.
    #[error("there is no seasonal period")]
    NoSeason,
    /// Fewer observations than two seasons.
    #[error("{observations} observations are fewer than two seasonal cycles of {season}")]
    TooShort {
        /// Periods of the series, gaps included.
        observations: usize,
        /// The longest season asked for.
        season: usize,
    },
    /// No known value at one place of the season.
    #[error("no value is known at position {} of the seasonal cycle of {season}", place + 1)]
    EmptyPlace {
        /// From 0, counted from the first period.
        place: usize,
        /// The season.
        season: usize,
    },
    /// A multiplicative decomposition of a value that is not positive.
    #[error("a value is not positive")]
    NotPositive {
        /// Where.
        place: usize,
    },
    /// A window that is even or too short.
    #[error("a seasonal window is an odd number from {least} on, not {0}", least = LEAST_SEASON_WINDOW)]
    SeasonWindow(usize),
    /// A trend that would follow the season.
    #[error("a trend window of {window} is shorter than the seasonal period {season}")]
    TrendWithinSeason {
        /// As asked for.
        window: usize,
        /// The season.
        season: usize,
    },
    /// An even window has no middle.
    #[error("a trend window is an odd number, not {0}")]
    EvenTrendWindow(usize),
    /// The classical method knows one season.
    #[error("the classical method allows one seasonal period")]
    OneSeasonOnly,
}

/// The shortest season window: with fewer the season follows the noise.
pub const LEAST_SEASON_WINDOW: usize = 7;
