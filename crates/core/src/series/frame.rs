//! Columns over the same periods.

use crate::time::{Frequency, Period};

/// A column of numbers; a missing value is `None`.
#[derive(Debug, Clone, PartialEq)]
pub struct Column {
    /// Its name.
    pub name: String,
    /// One cell per period of the frame.
    pub cells: Vec<Option<f64>>,
}

/// The period of row `t`: its own date, or counted from the first.
pub(super) fn dated(start: Period, dates: Option<&[Period]>, t: usize) -> Period {
    let own = dates.and_then(|dates| dates.get(t)).copied();
    own.unwrap_or_else(|| start.offset(i64::try_from(t).unwrap_or(i64::MAX)))
}

/// Columns over consecutive periods.
#[derive(Debug, Clone, PartialEq)]
pub struct Frame {
    /// The first period.
    pub start: Period,
    /// Number of periods.
    pub length: usize,
    /// The columns, each of `length` cells.
    pub columns: Vec<Column>,
    /// The period of each row, where rows were left out and the rest are taken as
    /// consecutive.
    pub dates: Option<Vec<Period>>,
}

impl Frame {
    /// The frequency of its periods.
    pub fn frequency(&self) -> Frequency {
        self.start.frequency()
    }

    /// The period of row `t` (0-based).
    pub fn period(&self, t: usize) -> Period {
        dated(self.start, self.dates.as_deref(), t)
    }

    /// The frame without the rows in which a named column has a gap: a missing value
    /// between known ones. The other rows are taken as consecutive.
    #[must_use]
    pub fn without_gaps_in(&self, names: &[&str]) -> Self {
        let mut left_out = vec![false; self.length];
        for column in self.columns.iter().filter(|column| names.contains(&column.name.as_str())) {
            let first = column.cells.iter().position(Option::is_some).unwrap_or(0);
            let last = column.cells.iter().rposition(Option::is_some).unwrap_or(0);
            let marks = left_out.iter_mut().zip(&column.cells).take(last).skip(first);
            marks.for_each(|(mark, cell)| *mark |= cell.is_none());
        }
        let kept: Vec<usize> = (0..self.length).filter(|row| !left_out[*row]).collect();
        if kept.len() == self.length {
            return self.clone();
        }
        let column = |column: &Column| Column {
            name: column.name.clone(),
            cells: kept.iter().map(|row| column.cells.get(*row).copied().flatten()).collect(),
        };
        let dates: Vec<Period> = kept.iter().map(|row| self.period(*row)).collect();
        Self {
            start: dates.first().copied().unwrap_or(self.start),
            length: kept.len(),
            columns: self.columns.iter().map(column).collect(),
            dates: Some(dates),
        }
    }

    /// The frame with that number of rows more, in which no column has a value.
    #[must_use]
    pub fn extended(&self, more: usize) -> Self {
        let length = self.length + more;
        let columns = self.columns.iter().map(|column| {
            let mut cells = column.cells.clone();
            cells.resize(length, None);
            Column { name: column.name.clone(), cells }
        });
        let last = self.last();
        let next = (1..).take(more).map(|steps| last.offset(steps));
        let dates = self.dates.as_ref().map(|dates| dates.iter().copied().chain(next).collect());
        Self { start: self.start, length, columns: columns.collect(), dates }
    }

    /// The last period.
    pub fn last(&self) -> Period {
        self.period(self.length.saturating_sub(1))
    }

    /// The column of that name.
    pub fn column(&self, name: &str) -> Option<&Column> {
        self.columns.iter().find(|column| column.name == name)
    }
}
