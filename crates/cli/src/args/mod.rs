//! Option groups that several commands share.

mod choice;
mod data;
mod output;
mod with;

pub use choice::{Choices, one_of};
pub use data::{DataArgs, Gaps};
pub use output::{Color, FigureArgs, FigureRequest, Format, OutputArgs, alpha};
pub use with::WithArgs;
