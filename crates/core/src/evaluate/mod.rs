//! Forecasts in original units, and how good they would have been: origins, benchmark rules, errors.

mod ahead;
mod average;
mod benchmark;
mod member;
#[cfg(test)]
mod tests;
mod trial;

pub use ahead::{Ahead, AheadError, AheadOptions, Estimates, ahead};
pub use average::{averaged, mixture};
pub use benchmark::Benchmark;
pub use member::{Member, average_weights, inverse_squares, members_of_average, rivals_with_weights};
pub use trial::{Actual, Forecaster, Modelled, Parameters, Path, Trial, TrialError};
