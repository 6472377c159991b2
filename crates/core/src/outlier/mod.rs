//! Outliers: found in several ways, marked where these agree, replaced.
//!
//! # Example
//! ```
//! use kandrel_core::num::rng::NormalStream;
//! use kandrel_core::outlier::{Method, OutlierOptions, find};
//!
//! let mut y = NormalStream::new(6, 0).take(100);
//! y[60] += 12.0;
//! let methods = vec![Method::Expanding, Method::Likelihood];
//! let found = find(&y, &OutlierOptions { season: 1, methods })?;
//! assert!(found.marked().any(|one| one.place == 60));
//! # Ok::<(), kandrel_core::outlier::OutlierError>(())
//! ```

mod background;
mod error;
mod event;
mod expanding;
mod likelihood;
mod remainder;
mod repair;
mod same_season;
mod scale;
mod scarce;
mod search;

pub use error::OutlierError;
pub use event::{Event, EventKind};
pub use repair::{Repair, Repaired, repair};
pub use scale::ScaledOutliers;
pub use search::{Method, OutlierOptions, Outliers, OutlyingValue, find};
