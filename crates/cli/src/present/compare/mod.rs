//! Comparison of models: facts and text.

pub mod facts;
pub mod text;

pub use facts::{
    CandidateKind, CompareResult, Described, Made, RollingForecasts, Tested, Tests, WeightedCandidate, result,
};
pub use text::{document, forecasts, plot};
