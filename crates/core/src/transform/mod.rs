//! Expressions on data: what their steps take from the data, their values, and the way back to the original units.
//!
//! # Example
//! ```
//! use kandrel_core::series::{Column, Frame, Span};
//! use kandrel_core::time::Period;
//! use kandrel_core::{expr, transform};
//!
//! let cells = [1.0, 2.0, 4.0, 8.0].map(Some).to_vec();
//! let columns = vec![Column { name: "x".into(), cells }];
//! let frame = Frame { start: Period::year(2001), length: 4, columns, dates: None };
//! let growth = expr::parse("x - x[t-1]").expect("an expression");
//! let series = transform::evaluate_with_gaps(&growth, &frame, Span::default()).expect("values");
//! assert_eq!(series.cells, [1.0, 2.0, 4.0].map(Some));
//! ```

mod apply;
mod cells;
mod evaluate;
mod evaluate_error;
mod inverse;
mod resolve;
#[cfg(test)]
mod tests;
mod transformed;

pub use cells::Undefined;
pub use evaluate::{evaluate, evaluate_with_gaps};
pub use evaluate_error::EvaluateError;
pub use inverse::{InverseError, InverseTransform};
pub use resolve::{Resolved, resolve};
pub use transformed::Transformed;
