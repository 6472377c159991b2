//! The frequencies of data.

use serde::{Serialize, Serializer};

/// How often a series is observed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Frequency {
    /// Once a year.
    Year,
    /// Four times a year.
    Quarter,
    /// Twelve times a year.
    Month,
    /// Once a week.
    Week(WeekForm),
    /// Monday to Friday.
    Workday,
    /// Every day of the week.
    Day,
    /// Numbered observations without dates.
    Undated,
}

/// How the weeks of a series are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum WeekForm {
    /// By their number in the year of ISO 8601: `2004-W07`.
    Number,
    /// By one of their days, 0 for Monday to 6 for Sunday: `2004-02-09`.
    Day(u8),
}

impl Frequency {
    /// The usual number of observations in a season; 1 for none.
    pub fn season(self) -> usize {
        match self {
            Self::Quarter => 4,
            Self::Month => 12,
            Self::Week(_) => 52,
            Self::Workday => 5,
            Self::Day => 7,
            Self::Year | Self::Undated => 1,
        }
    }

    /// Periods in a year, if it has dates.
    pub fn per_year(self) -> Option<f64> {
        match self {
            Self::Year => Some(1.0),
            Self::Quarter => Some(4.0),
            Self::Month => Some(12.0),
            Self::Week(_) => Some(365.25 / 7.0),
            Self::Workday => Some(365.25 * 5.0 / 7.0),
            Self::Day => Some(365.25),
            Self::Undated => None,
        }
    }

    /// The adjective: `monthly`.
    pub fn adjective(self) -> &'static str {
        match self {
            Self::Year => "annual",
            Self::Quarter => "quarterly",
            Self::Month => "monthly",
            Self::Week(_) => "weekly",
            Self::Workday => "workday",
            Self::Day => "daily",
            Self::Undated => "undated",
        }
    }

    /// One period of it, as a noun: `month`.
    pub fn noun(self) -> &'static str {
        match self {
            Self::Year => "year",
            Self::Quarter => "quarter",
            Self::Month => "month",
            Self::Week(_) => "week",
            Self::Workday => "workday",
            Self::Day => "day",
            Self::Undated => "observation",
        }
    }
}

/// As its adjective.
impl Serialize for Frequency {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.adjective())
    }
}
