//! Tests of randomness: facts and text.

mod facts;
mod text;

pub use facts::{RandomnessResult, result};
pub use text::document;
