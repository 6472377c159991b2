//! Least squares for a reader: coefficients with robust errors, diagnostics, restrictions,
//! breaks.
//!
//! # Example
//! ```
//! use kandrel_core::regression::{ErrorKind, RegressionOptions, regression};
//!
//! let x: Vec<f64> = (0..20).map(f64::from).collect();
//! let y: Vec<f64> = x.iter().enumerate().map(|(t, x)| 1.0 + 3.0 * x + [0.1, -0.1][t % 2]).collect();
//! let options = RegressionOptions { constant: Some(0), errors: ErrorKind::Hc3, alpha: 0.05 };
//! let found = regression(&[vec![1.0; 20], x], &y, &options)?;
//! assert!((found.coefficients[1].estimate - 3.0).abs() < 0.01);
//! # Ok::<(), kandrel_core::regression::RegressionError>(())
//! ```

mod breaks;
mod covariance;
mod diagnostics;
mod error;
mod exact;
mod fit;
mod restriction;
mod solve;
mod wald;

pub use breaks::{BreakTest, break_test};
pub use covariance::{ErrorKind, ErrorKindError};
pub use diagnostics::{Diagnostic, breusch_godfrey, reset, white};
pub use error::RegressionError;
pub use fit::{Coefficient, FTest, Regression, RegressionOptions, regression};
pub use restriction::{Restriction, RestrictionError};
pub use solve::{LeastSquares, least_squares};
pub use wald::WaldTest;
