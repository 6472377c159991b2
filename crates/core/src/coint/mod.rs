//! Cointegration: unit roots in the residuals of a regression, and likelihood ratios of the
//! number of relations in a system.
//!
//! # Example
//! ```
//! use kandrel_core::coint::{SystemInput, relations, system};
//! use kandrel_core::nulldist::{SystemTerms, random_walk};
//! use kandrel_core::num::rng::NormalStream;
//!
//! let x = random_walk(&mut NormalStream::new(4, 0), 200);
//! let noise = NormalStream::new(4, 1).take(200);
//! let y: Vec<f64> = x.iter().zip(&noise).map(|(x, e)| 1.0 + 2.0 * x + e).collect();
//! let series: [&[f64]; 2] = [&y, &x];
//! let found = system(SystemInput { series: &series, lags: 1, terms: SystemTerms::ConstantIn })?;
//! assert_eq!(found.rank(0.05), 1);
//! let tied = relations(&found, 1)?;
//! assert!((tied.vectors[0][1] + 2.0).abs() < 0.1);
//! # Ok::<(), kandrel_core::coint::CointError>(())
//! ```

mod bartlett;
mod case;
mod design;
mod equilibrium;
mod error;
mod relation;
mod residual;
mod size;
mod system;

pub use bartlett::{BartlettRow, bartlett};
pub use case::{CaseReason, Suggestion, drift, suggested_terms};
pub use design::SystemInput;
pub use equilibrium::equilibrium_errors;
pub use error::CointError;
pub use relation::{Relations, relations, trend_in_relations};
pub use residual::{ResidualOptions, ResidualTest, fewest_observations, residual_tests};
pub use system::{System, SystemRow, system};
