//! The expression language: columns joined by arithmetic, lags, and chains of
//! steps.
//!
//! # Example
//! ```
//! use kandrel_core::expr;
//!
//! let growth = expr::parse("sales - sales[t-1]").expect("an expression");
//! assert_eq!(growth.node.columns(), ["sales"]);
//! ```

mod error;
mod names;
mod node;
mod parse;
mod step;
mod terms;
mod token;

pub use error::ParseError;
pub use names::with_names;
pub use node::{Node, NodeKind, Operator};
pub use parse::{Expression, parse, with_steps};
pub use step::{STEPS, Step, StepSpec, Takes};
pub use terms::{steps_of, terms, without_steps};
