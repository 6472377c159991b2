//! Vector autoregressions: lag orders on one sample from one factorisation, checks of the
//! residuals, who helps to predict whom.
//!
//! # Example
//! ```
//! use kandrel_core::num::rng::NormalStream;
//! use kandrel_core::var::{LagTerms, VarInput, lag_table};
//!
//! let mut x = NormalStream::new(3, 0).take(200);
//! let mut y = NormalStream::new(3, 1).take(200);
//! for t in 1..200 {
//!     x[t] += 0.6 * x[t - 1];
//!     y[t] += 0.5 * x[t - 1];
//! }
//! let series: [&[f64]; 2] = [&x, &y];
//! let input = VarInput { series: &series, exogenous: &[], terms: LagTerms::Constant, season: 1 };
//! assert_eq!(lag_table(input, 6)?.chosen.bic, 1);
//! # Ok::<(), kandrel_core::var::VarError>(())
//! ```

mod causality;
mod checks;
mod column;
mod design;
mod error;
mod estimate;
mod roots;
mod table;

pub use causality::{Causality, Influence, causality};
pub use checks::{Check, ResidualChecks, residual_checks};
pub use column::SystemColumn;
pub use design::{LagTerms, VarInput};
pub use error::VarError;
pub use estimate::{Var, estimate};
pub use roots::eigenvalues;
pub use table::{ChosenLags, LagRow, LagTable, default_most_lags, lag_table};
