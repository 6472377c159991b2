//! Autocorrelations: facts and text.

mod facts;
mod text;

pub use facts::{AcfResult, result};
pub use text::{answer, document, sentence};
