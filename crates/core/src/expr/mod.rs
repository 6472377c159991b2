//! The expression language: columns joined by arithmetic, lags, and chains of
//! steps.

mod apply;
mod cells;
mod error;
mod evaluate;
mod names;
mod node;
mod parse;
mod resolve;
mod step;
mod terms;
#[cfg(test)]
mod tests;
mod token;
mod undo;

pub use cells::Undefined;
pub use error::ParseError;
pub use evaluate::{EvaluateError, evaluate, evaluate_with_gaps};
pub use names::with_names;
pub use node::{Kind, Node, Operator};
pub use parse::{Expression, parse, with_steps};
pub use resolve::{Resolved, resolve};
pub use step::{STEPS, Step, StepSpec, Takes};
pub use terms::{terms, without_steps};
pub use undo::{UndoError, Undoing};
