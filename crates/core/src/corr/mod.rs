//! Autocorrelation and how to read it.

mod acf;
mod extended;
mod lagged;
mod partial;
mod reading;

pub use acf::{Acf, AcfError, AcfLag, AcfOptions, PacfMethod, acf, acf_with_gaps, default_lags};
pub use extended::{ExtendedAcf, extended_acf};
pub use lagged::lagged_products;
pub use partial::{partial_autocorrelations, partial_by_least_squares};
pub use reading::{Finding, Pattern, read};
