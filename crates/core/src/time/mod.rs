//! Calendar arithmetic without a clock: frequencies and periods.

mod frequency;
mod period;
mod spelling;

pub use frequency::{Frequency, WeekForm};
pub use period::{Period, PeriodError};
pub use spelling::{Spelled, month_number, spelled};
