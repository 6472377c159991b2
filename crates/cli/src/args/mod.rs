//! Option groups that several commands share.

mod data;
mod output;
mod target;
mod with;

pub use data::{DataArgs, Gaps};
pub use output::{Color, FigureArgs, Format, OutputArgs, alpha};
pub use target::Target;
pub use with::{WithArgs, known_everywhere, regressors};
