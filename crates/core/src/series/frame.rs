use crate::time::{Frequency, Period};

/// A column of numbers; a missing value is `None`.
#[derive(Debug, Clone, PartialEq)]
pub struct Column {
    /// Its name.
    pub name: String,
    /// One cell per period of the frame.
    pub cells: Vec<Option<f64>>,
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
}

impl Frame {
    /// The frequency of its periods.
    pub fn frequency(&self) -> Frequency {
        self.start.frequency()
    }

    /// The period of row `t` (0-based).
    pub fn period(&self, t: usize) -> Period {
        self.start.offset(i64::try_from(t).unwrap_or(i64::MAX))
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
