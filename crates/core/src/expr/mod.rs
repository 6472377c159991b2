//! The expression language: columns joined by arithmetic, lags, and chains of
//! steps.
//!
//! # Example
//! ```
//! use kandrel_core::expr;
//! use kandrel_core::series::{Column, Frame, Span};
//! use kandrel_core::time::Period;
//!
//! let cells = [1.0, 2.0, 4.0, 8.0].map(Some).to_vec();
//! let columns = vec![Column { name: "x".into(), cells }];
//! let frame = Frame { start: Period::year(2001), length: 4, columns, dates: None };
//! let growth = expr::parse("x - x[t-1]").expect("an expression");
//! let series = expr::evaluate_with_gaps(&growth, &frame, Span::default()).expect("values");
//! assert_eq!(series.cells, [1.0, 2.0, 4.0].map(Some));
//! ```

mod apply;
mod cells;
mod error;
mod evaluate;
mod evaluate_error;
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
pub use evaluate::{evaluate, evaluate_with_gaps};
pub use evaluate_error::EvaluateError;
pub use names::with_names;
pub use node::{Kind, Node, Operator};
pub use parse::{Expression, parse, with_steps};
pub use resolve::{Resolved, resolve};
pub use step::{STEPS, Step, StepSpec, Takes};
pub use terms::{terms, without_steps};
pub use undo::{UndoError, Undoing};
