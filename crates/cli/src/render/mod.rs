//! Forms of a document.

mod json;
mod text;

pub use json::json;
pub use text::{OUTERMOST_LEVEL, number, p_value, text};
