//! Seasonal mixtures of autoregression and moving average: exact likelihood and its slope.
//!
//! # Example
//! ```
//! use kandrel_core::arima::{Data, Model, fit};
//! use kandrel_core::num::rng::NormalStream;
//!
//! let mut y = NormalStream::new(2, 0).take(300);
//! for t in 1..y.len() {
//!     y[t] += 0.7 * y[t - 1];
//! }
//! let model = Model::parse("(1,0,0)").expect("a model");
//! let found = fit(&Data::complete(&y), model)?;
//! assert!((found.coefficients.ar[0] - 0.7).abs() < 0.15);
//! # Ok::<(), kandrel_core::arima::FitError>(())
//! ```

mod coefficients;
mod data;
mod diagnose;
mod engine;
mod fit;
mod fixed_season;
mod forecast;
mod model;
mod roots;
mod search;
mod transform;
mod walk;

pub use coefficients::Coefficients;
pub use data::Data;
pub use diagnose::{Diagnosis, diagnose};
pub use engine::{Likelihood, Sample, likelihood, likelihood_with_gaps};
pub use fit::{Criteria, Fit, FitError, fit, fit_at, fit_near};
pub use fixed_season::season_changes;
pub use forecast::{ForecastError, Known, forecast};
pub use model::{Level, Model, ModelError};
pub use roots::{Root, roots};
pub use search::{Candidate, Doubt, FEW_GAPS, Grid, OVER_GAPS, chosen, doubts, search};
pub use walk::walk;
