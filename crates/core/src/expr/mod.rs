//! The expression language: a column and a chain of steps.

mod evaluate;
mod parse;
mod steps;

pub use evaluate::{EvaluateError, evaluate};
pub use parse::{Expression, ParseError, parse};
pub use steps::{STEPS, Step, StepSpec};
