//! Vector autoregressions: lag orders on one sample from one factorisation, checks of the
//! residuals, who helps to predict whom.

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
