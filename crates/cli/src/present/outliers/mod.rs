//! Outliers: facts and text.

pub mod facts;
pub mod text;

pub use facts::{OutliersResult, result};
pub use text::{data, document, plot};
