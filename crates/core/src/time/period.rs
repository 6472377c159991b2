use std::fmt;

use jiff::civil::{Date, Weekday};
use thiserror::Error;

use super::Frequency;

/// Why a text is not a period.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum PeriodError {
    /// Not one of the forms `2004`, `2004-Q3`, `2004-09`, `2004-09-30`.
    #[error("{0:?} is not a period")]
    Unreadable(String),
    /// A finer period than the data have.
    #[error("{text:?} is finer than {} data", data.adjective())]
    TooFine {
        /// The text.
        text: String,
        /// The frequency of the data.
        data: Frequency,
    },
}

/// One period of a frequency, as its running number.
///
/// Years count from 0, quarters and months from the first of year 0, days from
/// 1970-01-01; observations are their own numbers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Period {
    frequency: Frequency,
    number: i64,
}

const EPOCH: Date = Date::constant(1970, 1, 1);

impl Period {
    /// A year.
    pub fn year(year: i64) -> Self {
        Self { frequency: Frequency::Year, number: year }
    }

    /// A quarter, 1 to 4.
    pub fn quarter(year: i64, quarter: i64) -> Option<Self> {
        let valid = (1..=4).contains(&quarter);
        valid.then_some(Self { frequency: Frequency::Quarter, number: 4 * year + quarter - 1 })
    }

    /// A month, 1 to 12.
    pub fn month(year: i64, month: i64) -> Option<Self> {
        let valid = (1..=12).contains(&month);
        valid.then_some(Self { frequency: Frequency::Month, number: 12 * year + month - 1 })
    }

    /// A day.
    pub fn day(date: Date) -> Option<Self> {
        let days = date.since(EPOCH).ok()?.get_days();
        Some(Self { frequency: Frequency::Day, number: i64::from(days) })
    }

    /// An observation number.
    pub fn observation(number: i64) -> Self {
        Self { frequency: Frequency::Undated, number }
    }

    /// Its frequency.
    pub fn frequency(self) -> Frequency {
        self.frequency
    }

    /// The period `steps` later (earlier, if negative).
    #[must_use]
    pub fn offset(self, steps: i64) -> Self {
        Self { number: self.number.saturating_add(steps), ..self }
    }

    /// How many periods after `earlier` this one is; `None` for unlike frequencies.
    pub fn steps_since(self, earlier: Self) -> Option<i64> {
        (self.frequency == earlier.frequency).then(|| self.number - earlier.number)
    }

    /// Whether its running number is a multiple of `step`: with 12, a month is
    /// a January.
    pub fn is_multiple_of(self, step: i64) -> bool {
        step != 0 && self.number.rem_euclid(step) == 0
    }

    /// The place of the period within the year or week, from 0: January or
    /// Monday is 0.
    pub fn season_place(self) -> Option<usize> {
        let place = match self.frequency {
            Frequency::Quarter => self.number.rem_euclid(4),
            Frequency::Month => self.number.rem_euclid(12),
            // 1970-01-01 was a Thursday.
            Frequency::Day => (self.number + 3).rem_euclid(7),
            Frequency::Year | Frequency::Undated => return None,
        };
        usize::try_from(place).ok()
    }

    /// Reads `2004`, `2004-Q3`, `2004-09`, `2004-M09` or `2004-09-30`.
    ///
    /// # Errors
    /// [`PeriodError::Unreadable`] for anything else.
    pub fn parse(text: &str) -> Result<Self, PeriodError> {
        parse(text.trim()).ok_or_else(|| PeriodError::Unreadable(text.to_owned()))
    }

    /// The first and last period of frequency `data` inside the period that
    /// the text names: `2004` on monthly data is 2004-01 and 2004-12.
    ///
    /// # Errors
    /// [`PeriodError`] if it cannot be read, or is finer than the data.
    pub fn parse_range(text: &str, data: Frequency) -> Result<(Self, Self), PeriodError> {
        if data == Frequency::Undated {
            let number = text.trim().parse().map_err(|_| PeriodError::Unreadable(text.to_owned()))?;
            return Ok((Self::observation(number), Self::observation(number)));
        }
        let named = Self::parse(text)?;
        let too_fine = || PeriodError::TooFine { text: text.to_owned(), data };
        if named.frequency > data {
            return Err(too_fine());
        }
        let first = named.first_day().and_then(|day| Self::containing(day, data));
        let next = named.offset(1).first_day().and_then(|day| Self::containing(day, data));
        first.zip(next.map(|period| period.offset(-1))).ok_or_else(too_fine)
    }

    /// The period of the given frequency that contains a day.
    pub fn containing(date: Date, frequency: Frequency) -> Option<Self> {
        let (year, month) = (i64::from(date.year()), i64::from(date.month()));
        match frequency {
            Frequency::Year => Some(Self::year(year)),
            Frequency::Quarter => Self::quarter(year, (month - 1) / 3 + 1),
            Frequency::Month => Self::month(year, month),
            Frequency::Day => Self::day(date),
            Frequency::Undated => None,
        }
    }

    /// The days in it, if it is dated.
    pub fn days(self) -> Option<u32> {
        let (first, next) = (self.first_day()?, self.offset(1).first_day()?);
        u32::try_from(next.since(first).ok()?.get_days()).ok()
    }

    /// The Mondays to Fridays in it, if it is dated.
    pub fn workdays(self) -> Option<u32> {
        let (first, days) = (self.first_day()?, self.days()?);
        // Whole weeks have five; the days that are left are counted.
        let left =
            (0..days % 7).filter_map(|day| first.checked_add(jiff::Span::new().days(i64::from(day))).ok());
        let extra =
            left.filter(|date| !matches!(date.weekday(), Weekday::Saturday | Weekday::Sunday)).count();
        u32::try_from(extra).ok().map(|extra| days / 7 * 5 + extra)
    }

    /// Its first day, if it is dated.
    pub fn first_day(self) -> Option<Date> {
        let date = |months: i64| {
            let year = i16::try_from(months.div_euclid(12)).ok()?;
            let month = i8::try_from(months.rem_euclid(12) + 1).ok()?;
            Date::new(year, month, 1).ok()
        };
        match self.frequency {
            Frequency::Year => date(self.number.checked_mul(12)?),
            Frequency::Quarter => date(self.number.checked_mul(3)?),
            Frequency::Month => date(self.number),
            Frequency::Day => EPOCH.checked_add(jiff::Span::new().try_days(self.number).ok()?).ok(),
            Frequency::Undated => None,
        }
    }
}

impl fmt::Display for Period {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let n = self.number;
        match self.frequency {
            Frequency::Year => write!(f, "{n:04}"),
            Frequency::Quarter => write!(f, "{:04}-Q{}", n.div_euclid(4), n.rem_euclid(4) + 1),
            Frequency::Month => write!(f, "{:04}-{:02}", n.div_euclid(12), n.rem_euclid(12) + 1),
            Frequency::Day => match self.first_day() {
                Some(date) => write!(f, "{date}"),
                None => write!(f, "day {n}"),
            },
            Frequency::Undated => write!(f, "{n}"),
        }
    }
}

fn parse(text: &str) -> Option<Period> {
    let mut parts = text.split('-');
    let year = digits(parts.next()?, 4)?;
    let Some(second) = parts.next() else {
        return Some(Period::year(year));
    };
    let third = parts.next();
    if parts.next().is_some() {
        return None;
    }
    match (second.as_bytes().first()?, third) {
        (b'Q' | b'q', None) => Period::quarter(year, digits(&second[1..], 1)?),
        (b'M' | b'm', None) => Period::month(year, digits(&second[1..], 2)?),
        (_, None) => Period::month(year, digits(second, 2)?),
        (_, Some(day)) => {
            let month = i8::try_from(digits(second, 2)?).ok()?;
            let day = i8::try_from(digits(day, 2)?).ok()?;
            Period::day(Date::new(i16::try_from(year).ok()?, month, day).ok()?)
        }
    }
}

fn digits(text: &str, count: usize) -> Option<i64> {
    let plain = text.len() == count && text.bytes().all(|b| b.is_ascii_digit());
    plain.then(|| text.parse().ok()).flatten()
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    #[test]
    fn every_form_reads_back_as_it_is_written() {
        for text in ["0987", "2004", "2004-Q3", "2004-09", "1969-12-31", "2024-02-29"] {
            assert_eq!(Period::parse(text).expect("valid").to_string(), text);
        }
        assert_eq!(Period::parse("2004-M09"), Period::parse("2004-09"));
    }

    proptest! {
        #[test]
        fn any_period_in_reach_reads_back_as_it_is_written(number in -700_000_i64..2_900_000, which in 0_usize..4) {
            let frequency =
                [Frequency::Year, Frequency::Quarter, Frequency::Month, Frequency::Day][which];
            // From year 53 to 9909, whatever the frequency.
            let per_year = [1, 4, 12, 365][which];
            let number = if which == 3 { number } else { number.rem_euclid(9800 * per_year) + 53 * per_year };
            let period = Period { frequency, number };
            prop_assert_eq!(Period::parse(&period.to_string()), Ok(period));
            let day = period.first_day().expect("in reach");
            prop_assert_eq!(Period::containing(day, frequency), Some(period));
        }

        #[test]
        fn any_text_is_a_period_or_is_not(text in "[0-9QqMm-]{0,12}|[ -~é]{0,12}") {
            if let Ok(period) = Period::parse(&text) {
                prop_assert_eq!(Period::parse(&period.to_string()), Ok(period));
            }
        }
    }

    #[test]
    fn what_is_no_period_is_refused() {
        for text in ["", "04", "2004-13", "2004-Q5", "2004-02-30", "2004-1", "2004-01-01-01", "n/a", "20é4"]
        {
            assert!(Period::parse(text).is_err(), "{text}");
        }
    }

    #[test]
    fn periods_step_over_year_ends_and_leap_days() {
        let step = |text: &str, k| Period::parse(text).expect("valid").offset(k).to_string();
        assert_eq!(step("2023-11", 3), "2024-02");
        assert_eq!(step("2024-Q1", -1), "2023-Q4");
        assert_eq!(step("2024-02-28", 2), "2024-03-01");
        let (a, b) = (Period::parse("2001-01").expect("valid"), Period::parse("2024-12").expect("valid"));
        assert_eq!(b.steps_since(a), Some(287));
        assert_eq!(b.steps_since(Period::year(2001)), None);
    }

    #[test]
    fn a_coarser_period_names_a_range_and_a_finer_one_is_refused() {
        let range = |text, data| {
            let (a, b) = Period::parse_range(text, data).expect("valid");
            format!("{a} {b}")
        };
        assert_eq!(range("2004", Frequency::Month), "2004-01 2004-12");
        assert_eq!(range("2004-Q1", Frequency::Day), "2004-01-01 2004-03-31");
        assert_eq!(range("12", Frequency::Undated), "12 12");
        assert!(matches!(Period::parse_range("2004-09", Frequency::Year), Err(PeriodError::TooFine { .. })));
    }

    #[test]
    fn january_and_monday_are_place_zero() {
        assert_eq!(Period::parse("2004-01").expect("valid").season_place(), Some(0));
        assert_eq!(Period::parse("2024-01-01").expect("valid").season_place(), Some(0));
        assert_eq!(Period::year(2004).season_place(), None);
    }
}
