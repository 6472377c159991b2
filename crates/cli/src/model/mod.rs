//! What several commands compute from a session: models and their estimates, autocorrelations, systems of series.

mod correlation;
mod estimate;
mod refusal;
mod several;

pub use correlation::{correlations, correlations_of_only, diagnosis};
pub use estimate::{Estimated, ModelOrAuto, estimated, identified, model, model_or_auto, of_season};
pub use refusal::{ahead_refusal, fit_refusal, missing_regressor, trial_refusal, unit_root_refusal};
pub use several::{checked, coint_refusal, diagnoses, var_refusal};
