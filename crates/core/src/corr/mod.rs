//! Autocorrelation and how to read it.

mod acf;
mod partial;
mod reading;

pub use acf::{Acf, AcfError, AcfLag, AcfOptions, acf, default_lags};
pub use partial::partial_autocorrelations;
pub use reading::{Finding, Pattern, read};
