//! Series, tables of series, and the one policy on missing values.

mod common;
mod frame;
mod gaps;
mod season;
mod span;
mod together;

pub use common::common_periods;
pub use frame::{Column, Frame};
pub use gaps::{Fill, Filled, GapsAdvice, fill, gaps_advice, longest_stretch};
pub use season::{FiveNumbers, Place, five_numbers, season_places};
pub use span::{Span, SpanError};
pub use together::periods_together;

use crate::time::Period;
use schemars::JsonSchema;
use serde::Serialize;
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
    /// The period of each value, where periods were left out and the rest are taken
    /// as consecutive.
    pub dates: Option<Vec<Period>>,
    /// Values that its columns have and it has not.
    pub lost: Lost,
}

/// Periods for which the columns of a series have values and the series has none,
/// as its lags, differences and averages reach beyond the columns' ends.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, JsonSchema, Serialize)]
pub struct Lost {
    /// At the start.
    pub start: usize,
    /// At the end.
    pub end: usize,
}

/// A series that may have gaps; its first and last values are known.
#[derive(Debug, Clone, PartialEq)]
pub struct SeriesWithGaps {
    /// What it is called.
    pub name: String,
    /// Period of the first value.
    pub start: Period,
    /// One cell per period.
    pub cells: Vec<Option<f64>>,
    /// The period of each cell, where periods were left out.
    pub dates: Option<Vec<Period>>,
    /// Values that its columns have and it has not.
    pub lost: Lost,
}

impl SeriesWithGaps {
    /// The cells of consecutive rows, the first of them in `start`, with missing ends
    /// trimmed.
    ///
    /// # Errors
    /// [`SeriesError::Empty`] without any value.
    pub fn trimmed(
        name: &str,
        start: Period,
        cells: &[Option<f64>],
        dates: Option<&[Period]>,
    ) -> Result<Self, SeriesError> {
        let first = cells.iter().position(Option::is_some).ok_or(SeriesError::Empty)?;
        let last = cells.iter().rposition(Option::is_some).ok_or(SeriesError::Empty)?;
        Ok(Self {
            name: name.to_owned(),
            start: frame::dated(start, dates, first),
            cells: cells[first..=last].to_vec(),
            dates: dates.and_then(|dates| dates.get(first..=last)).map(<[_]>::to_vec),
            lost: Lost::default(),
        })
    }

    /// The period of place `t` (0-based).
    pub fn period(&self, t: usize) -> Period {
        frame::dated(self.start, self.dates.as_deref(), t)
    }

    /// The series, if no value is missing.
    ///
    /// # Errors
    /// [`SeriesError::Gaps`] with the periods without a value.
    pub fn complete(self) -> Result<Series, SeriesError> {
        let missing = self.cells.iter().enumerate().filter(|(_, cell)| cell.is_none());
        let periods: Vec<Period> = missing.map(|(t, _)| self.period(t)).collect();
        if !periods.is_empty() {
            return Err(SeriesError::Gaps { periods });
        }
        let values = self.cells.into_iter().flatten().collect();
        Ok(Series { name: self.name, start: self.start, values, dates: self.dates, lost: self.lost })
    }
}

/// A series without gaps is one that has none.
impl From<Series> for SeriesWithGaps {
    fn from(series: Series) -> Self {
        let cells = series.values.into_iter().map(Some).collect();
        Self { name: series.name, start: series.start, cells, dates: series.dates, lost: series.lost }
    }
}

impl Series {
    /// Numbered observations.
    pub fn undated(name: &str, values: Vec<f64>) -> Self {
        Self {
            name: name.to_owned(),
            start: Period::observation(1),
            values,
            dates: None,
            lost: Lost::default(),
        }
    }

    /// The period of place `t` (0-based).
    pub fn period(&self, t: usize) -> Period {
        frame::dated(self.start, self.dates.as_deref(), t)
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ends_are_trimmed_and_inner_gaps_are_named() {
        let start = Period::year(2000);
        let of = |cells: &[Option<f64>]| {
            SeriesWithGaps::trimmed("x", start, cells, None).and_then(SeriesWithGaps::complete)
        };
        let trimmed = of(&[None, Some(1.0), Some(2.0), None]).expect("no gaps");
        assert_eq!((trimmed.start, trimmed.last()), (Period::year(2001), Period::year(2002)));
        assert_eq!(
            of(&[Some(1.0), None, None, Some(2.0)]),
            Err(SeriesError::Gaps { periods: vec![Period::year(2001), Period::year(2002)] })
        );
        assert_eq!(of(&[None]), Err(SeriesError::Empty));
    }

    #[test]
    fn rows_left_out_keep_the_dates_of_the_others() {
        let column = |name: &str, cells: &[Option<f64>]| Column { name: name.into(), cells: cells.to_vec() };
        let columns = vec![
            column("x", &[None, Some(1.0), None, Some(2.0)]),
            column("y", &[Some(1.0), Some(1.0), Some(3.0), None]),
        ];
        let frame = Frame { start: Period::year(2000), length: 4, columns, dates: None };
        let reduced = frame.without_gaps_in(&["x"]);
        assert_eq!(reduced.length, 3);
        assert_eq!(reduced.period(2), Period::year(2003));
        assert_eq!(reduced.column("y").map(|y| y.cells.clone()), Some(vec![Some(1.0), Some(1.0), None]));
        assert_eq!(frame.without_gaps_in(&["y"]), frame);
    }
}
