//! What the next values of a series may be: jointly normal on the scale of a model, and carried
//! back to the scale on which the series was given.

mod accuracy;
mod comparison;
mod joint;
mod stage;
mod step;

pub use accuracy::{Accuracy, accuracy, mean_change};
pub use comparison::{Comparison, diebold_mariano};
pub use joint::Joint;
pub use stage::{Map, Stage};
pub use step::{Step, paths, steps};
