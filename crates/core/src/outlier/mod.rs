//! Odd values: found in several ways, marked where these agree, replaced.

mod background;
mod error;
mod event;
mod growing;
mod likelihood;
mod remainder;
mod repair;
mod same_season;
mod search;

pub use error::OutlierError;
pub use event::{Event, EventKind};
pub use repair::{Repair, Repaired, repair};
pub use search::{Method, OddValue, OutlierOptions, Outliers, find};
