//! Cointegration: facts and text.

mod facts;
mod text;

pub use facts::{CointegrationFindings, CointegrationResult, SystemFound, result};
pub use text::document;
