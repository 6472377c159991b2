//! Least squares for a reader: coefficients with robust errors, diagnostics, restrictions,
//! breaks.

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
pub use covariance::ErrorKind;
pub use diagnostics::{Diagnostic, breusch_godfrey, reset, white};
pub use error::RegressionError;
pub use fit::{Coefficient, FTest, Regression, RegressionOptions, regression};
pub use restriction::{Restriction, RestrictionError};
pub use solve::{LeastSquares, least_squares};
pub use wald::WaldTest;
