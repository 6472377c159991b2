//! Comparison of models: facts and text.

pub mod facts;
pub mod text;

pub use facts::{CandidateKind, CompareResult, Described, Made, RollingForecasts, Tested, Tests, result};
pub use text::{document, forecasts, plot};
