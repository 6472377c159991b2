//! The observations that a result rests on.

use std::fmt;

use kandrel_core::series::{Lost, Series, SeriesWithGaps};
use kandrel_core::time::Period;
use schemars::JsonSchema;
use serde::Serialize;

use crate::wording;

/// From when to when, how many, and what lags, differences and averages cost. It displays as results say it.
#[derive(Debug, Clone, Default, PartialEq, Eq, JsonSchema, Serialize)]
pub struct Sample {
    pub first: String,
    pub last: String,
    pub observations: usize,
    /// Missing values inside.
    pub missing: usize,
    /// Values lost to lags, differences and averages.
    pub lost: Lost,
}

/// From when to when, and how many.
#[derive(JsonSchema, Serialize)]
pub struct Stretch {
    pub first: String,
    pub last: String,
    pub observations: usize,
}

impl Sample {
    /// Of a series without gaps.
    pub fn of(series: &Series) -> Self {
        Self::new([series.start, series.last()], series.values.len(), 0, series.lost)
    }

    /// Of a series that may have gaps.
    pub fn with_gaps(series: &SeriesWithGaps) -> Self {
        let last = series.period(series.cells.len().saturating_sub(1));
        let missing = series.cells.iter().filter(|cell| cell.is_none()).count();
        Self::new([series.start, last], series.cells.len() - missing, missing, series.lost)
    }

    /// Of the first of several series over the same periods.
    pub fn of_first(all: &[Series]) -> Self {
        all.first().map_or_else(Self::default, Self::of)
    }

    /// A sample over `periods`, of which `observations` have a value.
    pub fn of_periods(periods: &[Period], observations: usize) -> Self {
        let ends = periods.first().zip(periods.last());
        let missing = periods.len().saturating_sub(observations);
        ends.map_or_else(Self::default, |(first, last)| {
            Self::new([*first, *last], observations, missing, Lost::default())
        })
    }

    fn new([first, last]: [Period; 2], observations: usize, missing: usize, lost: Lost) -> Self {
        Self { first: first.to_string(), last: last.to_string(), observations, missing, lost }
    }
}

impl fmt::Display for Sample {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Self { first, last, observations, missing, lost } = self;
        write!(f, "{}, {first} to {last}", wording::count(*observations, "observation"))?;
        match (lost.start, lost.end) {
            (0, 0) => Ok(()),
            (start, 0) => write!(f, " ({start} dropped at the start because of lags and differences)"),
            (start, end) => {
                write!(f, " ({start} dropped at the start and {end} at the end because of lags and averages)")
            }
        }?;
        if *missing > 0 {
            write!(f, ", {} missing inside", wording::count(*missing, "value"))?;
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_sample_says_what_it_lost() {
        let start = Period::month(2001, 2).expect("a month");
        let lost = Lost { start: 1, end: 0 };
        let series = Series { name: "x".to_owned(), start, values: vec![1.0, 2.0, 3.0], dates: None, lost };
        let text =
            "3 observations, 2001-02 to 2001-04 (1 dropped at the start because of lags and differences)";
        assert_eq!(Sample::of(&series).to_string(), text);
        let mut gaps = SeriesWithGaps::from(Series { lost: Lost::default(), ..series });
        gaps.cells[1] = None;
        let text = "2 observations, 2001-02 to 2001-04, 1 value missing inside";
        assert_eq!(Sample::with_gaps(&gaps).to_string(), text);
        gaps.lost = Lost { start: 3, end: 3 };
        assert!(Sample::with_gaps(&gaps).to_string().contains("(3 dropped at the start and 3 at the end"));
    }
}
