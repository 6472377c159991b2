//! Lag orders: facts and text.

pub mod facts;
mod text;

pub use facts::{Checked, Influences, LagOrderFindings, LagsResult, recommended, result};
pub use text::document;
