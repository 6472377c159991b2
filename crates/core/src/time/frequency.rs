use serde::Serialize;

/// How often a series is observed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Frequency {
    /// Once a year.
    #[serde(rename = "annual")]
    Year,
    /// Four times a year.
    #[serde(rename = "quarterly")]
    Quarter,
    /// Twelve times a year.
    #[serde(rename = "monthly")]
    Month,
    /// Every day of the week.
    #[serde(rename = "daily")]
    Day,
    /// Numbered observations without dates.
    Undated,
}

impl Frequency {
    /// The usual number of observations in a season; 1 for none.
    pub fn season(self) -> usize {
        match self {
            Self::Quarter => 4,
            Self::Month => 12,
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
            Self::Day => "day",
            Self::Undated => "observation",
        }
    }
}
