//! Calendar arithmetic without a clock: frequencies and periods.

mod frequency;
mod period;

pub use frequency::{Frequency, WeekForm};
pub use period::{Period, PeriodError};
