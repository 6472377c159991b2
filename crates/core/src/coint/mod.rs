//! Cointegration: unit roots in the residuals of a regression, and likelihood ratios of the
//! number of relations in a system.

mod bartlett;
mod case;
mod error;
mod relation;
mod residual;
mod system;

pub use bartlett::{BartlettRow, bartlett};
pub use case::{CaseReason, Suggestion, drift, suggested_terms};
pub use error::CointError;
pub use relation::{Relations, relations, trend_in_relations};
pub use residual::{ResidualOptions, ResidualTest, fewest_observations, residual_tests};
pub use system::{System, SystemInput, SystemRow, system};
