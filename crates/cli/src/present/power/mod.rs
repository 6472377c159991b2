//! Power of the tests: facts and text.

pub mod facts;
mod text;

pub use facts::{PowerResult, result};
pub use text::{document, plot};
