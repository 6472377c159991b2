//! Seasonal mixtures of autoregression and moving average: exact likelihood and its slope.

mod adjoint;
mod coefficients;
mod columns;
mod cross;
mod diagnose;
mod dual;
mod fit;
mod likelihood;
mod model;
mod roots;
mod search;
mod seasonal;
mod transform;

pub use coefficients::Coefficients;
pub use diagnose::{Diagnosis, diagnose};
pub use fit::{Criteria, Fit, FitError, fit};
pub use likelihood::{Likelihood, likelihood};
pub use model::{Level, Model, ModelError};
pub use roots::{Root, roots};
pub use search::{Candidate, Doubt, Grid, doubts, search};
