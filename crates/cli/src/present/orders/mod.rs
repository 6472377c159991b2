//! Orders: facts and text.

pub mod facts;
pub mod text;

pub use facts::{Found, OrdersResult, chosen, result, shown, why_differences};
pub use text::document;
