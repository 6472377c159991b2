//! Option groups that several commands share.

mod data;
mod output;

pub use data::{DataArgs, Gaps};
pub use output::{Color, FigureArgs, Format, OutputArgs, alpha};
