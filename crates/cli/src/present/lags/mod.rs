//! Lag orders: facts, text and figure.

pub mod facts;
mod picture;
mod text;

pub use facts::{Checked, Influences, LagOrderFindings, LagsResult, recommended, result};
pub use picture::plot;
pub use text::document;
