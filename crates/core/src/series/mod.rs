//! Series, tables of series, and the one policy on missing values.

mod frame;
mod gaps;
mod span;

pub use frame::{Column, Frame};
pub use gaps::{Fill, Filled, fill};
pub use span::{Span, SpanError};

use crate::time::Period;
use thiserror::Error;

/// A series without gaps.
#[derive(Debug, Clone, PartialEq)]
pub struct Series {
    /// What it is called.
    pub name: String,
    /// Period of the first value.
    pub start: Period,
    /// The values, one per period.
    pub values: Vec<f64>,
}

impl Series {
    /// The period of place `t` (0-based).
    pub fn period(&self, t: usize) -> Period {
        self.start.offset(i64::try_from(t).unwrap_or(i64::MAX))
    }

    /// The period of the last value.
    pub fn last(&self) -> Period {
        self.period(self.values.len().saturating_sub(1))
    }
}

/// Why cells do not make a series.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum SeriesError {
    /// No value at all.
    #[error("there are no values")]
    Empty,
    /// Values are missing between others.
    #[error("values are missing inside the series")]
    Gaps {
        /// The periods without a value.
        periods: Vec<Period>,
    },
}

/// Makes a series of the cells from `start`: missing ends are trimmed, missing
/// values inside are refused.
///
/// # Errors
/// [`SeriesError`]: no values, or gaps with their periods.
pub fn without_gaps(name: &str, start: Period, cells: &[Option<f64>]) -> Result<Series, SeriesError> {
    let first = cells.iter().position(Option::is_some).ok_or(SeriesError::Empty)?;
    let last = cells.iter().rposition(Option::is_some).ok_or(SeriesError::Empty)?;
    let at = |t: usize| start.offset(i64::try_from(t).unwrap_or(i64::MAX));
    let inside = &cells[first..=last];
    let periods: Vec<Period> =
        inside.iter().enumerate().filter(|(_, cell)| cell.is_none()).map(|(t, _)| at(first + t)).collect();
    if !periods.is_empty() {
        return Err(SeriesError::Gaps { periods });
    }
    Ok(Series {
        name: name.to_owned(),
        start: at(first),
        values: inside.iter().filter_map(|cell| *cell).collect(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ends_are_trimmed_and_inner_gaps_are_named() {
        let start = Period::year(2000);
        let trimmed = without_gaps("x", start, &[None, Some(1.0), Some(2.0), None]).expect("no gaps");
        assert_eq!((trimmed.start, trimmed.last()), (Period::year(2001), Period::year(2002)));
        assert_eq!(
            without_gaps("x", start, &[Some(1.0), None, None, Some(2.0)]),
            Err(SeriesError::Gaps { periods: vec![Period::year(2001), Period::year(2002)] })
        );
        assert_eq!(without_gaps("x", start, &[None]), Err(SeriesError::Empty));
    }
}
