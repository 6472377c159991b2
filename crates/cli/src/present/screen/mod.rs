//! A screen of many series: facts and text.

mod facts;
mod text;

pub use facts::{COLUMNS, ScreenRow, failed, row};
pub use text::document;
