//! A fitted model: facts and text.

mod facts;
pub mod text;

pub use facts::{FitResult, residuals, result};
pub use text::{answer, document};
