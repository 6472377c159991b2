//! Comparison of models: facts and text.

pub mod facts;
pub mod text;

pub use facts::{CompareResult, Described, Made, Tested, Tests, result};
pub use text::document;
