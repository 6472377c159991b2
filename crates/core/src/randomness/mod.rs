//! Tests of randomness: the null of all is that observations are independent and
//! identically distributed.
//!
//! # Example
//! ```
//! use kandrel_core::num::rng::NormalStream;
//! use kandrel_core::randomness::{RandomnessOptions, randomness_tests};
//!
//! let noise = NormalStream::new(7, 0).take(150);
//! let found = randomness_tests(&noise, &RandomnessOptions::default())?;
//! assert!(found.ljung_box.p_value > 0.001);
//! # Ok::<(), kandrel_core::randomness::RandomnessError>(())
//! ```

mod joint;
mod moments;
mod order;
mod randomness_tests;
mod runs;
mod variance_ratio;

pub use joint::{Departure, JointReading, holm, joint_reading};
pub use moments::{jarque_bera, mcleod_li, portmanteau};
pub use order::{difference_sign, rank_trend, rank_von_neumann, turning_points};
pub use randomness_tests::{RandomnessOptions, RandomnessTests, default_portmanteau_lags, randomness_tests};
pub use runs::{Cut, Runs, runs};
pub use variance_ratio::{VarianceRatio, joint_variance_ratio, variance_ratio};

use schemars::JsonSchema;
use serde::Serialize;
use thiserror::Error;

use crate::num::scale::{self, InvalidSeries};

/// Fewest observations.
pub const MIN_OBSERVATIONS_RANDOMNESS: usize = 10;

/// The result of one test.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct Outcome {
    /// The statistic: a z where the test has one.
    pub statistic: f64,
    /// The probability, were the series random, of one at least as extreme.
    pub p_value: f64,
}

/// Why a series cannot be tested.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum RandomnessError {
    /// A series that nothing can be done with.
    #[error(transparent)]
    InvalidSeries(#[from] InvalidSeries),
    /// No value, or every value, lies below the cut.
    #[error("all values are on one side of the cut")]
    OneSided,
    /// A horizon that is not between 2 and half the observations.
    #[error("a horizon of {horizon} for {observations} observations")]
    Horizon {
        /// The horizon.
        horizon: usize,
        /// Observations given.
        observations: usize,
    },
    /// A number of lags that is not between 1 and the observations less one.
    #[error("{lags} lags for {observations} observations")]
    Lags {
        /// The lags.
        lags: usize,
        /// Observations given.
        observations: usize,
    },
}

/// Refuses what no test here can work on.
fn check(y: &[f64]) -> Result<(), RandomnessError> {
    if y.len() < MIN_OBSERVATIONS_RANDOMNESS {
        return Err(RandomnessError::InvalidSeries(InvalidSeries::TooShort {
            observations: y.len(),
            needed: MIN_OBSERVATIONS_RANDOMNESS,
        }));
    }
    Ok(scale::check(y)?)
}

/// A z and its two-sided normal p-value.
fn two_sided(z: f64) -> Outcome {
    Outcome { statistic: z, p_value: 2.0 * crate::num::normal::survival(z.abs()) }
}
