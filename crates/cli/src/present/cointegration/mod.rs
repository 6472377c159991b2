//! Cointegration: facts and text.

mod facts;
mod text;

pub use facts::{CointegrationResult, Found, SystemFound, result};
pub use text::document;
