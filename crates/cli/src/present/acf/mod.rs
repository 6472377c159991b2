//! Autocorrelations: facts and text.

mod facts;
mod text;
mod together;

pub use facts::{AcfResult, result};
pub use text::{answer, document, sentence};
pub use together::together;
