//! Predictive distribution of the next values of a series: jointly normal on the scale of a model, and transformed back to
//! the scale on which the series was given.

mod accuracy;
mod comparison;
mod horizon;
mod inverse;
mod joint;
mod marginal;
mod simulate;

pub use accuracy::{Accuracy, accuracy, mean_change};
pub use comparison::{Comparison, diebold_mariano};
pub use horizon::{HorizonForecast, PredictionInterval};
pub use inverse::{InverseStep, Map};
pub use joint::Joint;
pub use marginal::{Marginal, marginals};
pub use simulate::{Shocks, paths, simulated};
