//! What stands beside a model, and the choice among models.

mod choice;
mod regressors;

pub use choice::{By, Choice, Differencing};
pub use regressors::{Regressor, Regressors, Source};
