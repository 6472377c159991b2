//! A screen of many series: facts, text and figure.

mod facts;
mod picture;
mod text;

pub use facts::{COLUMNS, ScreenRow, failed, row};
pub use picture::Flagged;
pub use text::document;
