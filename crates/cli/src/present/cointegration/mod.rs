//! Cointegration: facts, text and figure.

mod facts;
mod picture;
mod text;

pub use facts::{CointegrationFindings, CointegrationResult, SystemFound, result};
pub use picture::plot;
pub use text::document;
