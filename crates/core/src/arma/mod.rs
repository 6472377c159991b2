//! Short mixtures of autoregression and moving average, exactly.

mod fit;
mod shared;
mod whiten;

pub use fit::{ChangesModel, fit_changes};
pub use shared::SharedMovingAverage;
pub use whiten::{Mixture, Whitening};
