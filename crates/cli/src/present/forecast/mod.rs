//! A forecast: facts and text.

pub mod facts;
pub mod text;

pub use facts::{Chosen, ForecastResult, Made, MemberResult, PastValue, ScaleResult, WeightedModel, result};
pub use text::{data, document, paths, plot};
