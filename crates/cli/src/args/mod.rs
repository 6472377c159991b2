//! Option groups that several commands share.

mod data;
mod output;
mod with;

pub use data::{DataArgs, Gaps};
pub use output::{Color, FigureArgs, Format, OutputArgs, alpha};
pub use with::WithArgs;
