//! Short mixtures of autoregression and moving average, exactly.

mod fit;
mod whiten;

pub use fit::{ChangesModel, fit_changes};
pub use whiten::{Mixture, Whitening};
