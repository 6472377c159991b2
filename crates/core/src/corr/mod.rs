//! Autocorrelation and how to read it.
//!
//! # Example
//! ```
//! use kandrel_core::corr::{AcfOptions, acf};
//! use kandrel_core::num::rng::NormalStream;
//!
//! let noise = NormalStream::new(1, 0).take(120);
//! let found = acf(&noise, &AcfOptions { lags: Some(12), ..AcfOptions::default() })?;
//! assert_eq!(found.lags.len(), 12);
//! assert!(found.lags[0].acf.abs() < 0.3);
//! # Ok::<(), kandrel_core::corr::AcfError>(())
//! ```

mod acf;
mod definite;
mod extended;
mod lagged;
mod partial;
mod reading;

pub use acf::{Acf, AcfError, AcfLag, AcfOptions, PacfMethod, acf, acf_with_gaps, default_lags};
pub use extended::{ExtendedAcf, extended_acf};
pub use lagged::lagged_products;
pub use partial::{partial_autocorrelations, partial_by_least_squares};
pub use reading::{Finding, Pattern, read};
