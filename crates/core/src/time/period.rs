//! Periods of each frequency, and their arithmetic.

use std::borrow::Cow;
use std::fmt;

use jiff::civil::{Date, ISOWeekDate, Weekday};
use schemars::{JsonSchema, Schema, SchemaGenerator};
use serde::{Serialize, Serializer};
use thiserror::Error;

use super::spelling::{Spelled, spelled};
use super::{Frequency, WeekForm};

/// Why a text is not a period.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum PeriodError {
    /// No spelling of a period.
    #[error("{0:?} is not a period")]
    Unreadable(String),
    /// Two periods are possible: a quarter or a month, the day or the month first.
    #[error("{0:?} can be two periods")]
    Ambiguous(String),
}

/// One period of a frequency, as its running number.
///
/// Years count from 0, quarters and months from the first of year 0, days from
/// 1970-01-01, weeks and their workdays from Monday, 1969-12-29; observations are
/// their own numbers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Period {
    frequency: Frequency,
    number: i64,
}

const EPOCH: Date = Date::constant(1970, 1, 1);

/// Days from the Monday of week 0 to 1970-01-01, a Thursday.
const EPOCH_IN_WEEK: i64 = 3;

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

    /// A week of ISO 8601, 1 to 52 or 53.
    pub fn week(year: i64, week: i64) -> Option<Self> {
        let (year, week) = (i16::try_from(year).ok()?, i8::try_from(week).ok()?);
        let monday = ISOWeekDate::new(year, week, Weekday::Monday).ok()?.date();
        Self::containing(monday, Frequency::Week(WeekForm::Number))
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

    /// The place of the period within the year or week, from 0: January, the first
    /// week or Monday is 0.
    pub fn season_place(self) -> Option<usize> {
        let place = match self.frequency {
            Frequency::Quarter => self.number.rem_euclid(4),
            Frequency::Month => self.number.rem_euclid(12),
            Frequency::Day => (self.number + EPOCH_IN_WEEK).rem_euclid(7),
            Frequency::Workday => self.number.rem_euclid(5),
            Frequency::Week(_) => i64::from(self.first_day()?.iso_week_date().week()) - 1,
            Frequency::Year | Frequency::Undated => return None,
        };
        usize::try_from(place).ok()
    }

    /// The year or week that [`season_place`](Self::season_place) counts in.
    pub fn season_cycle(self) -> Option<i64> {
        match self.frequency {
            Frequency::Quarter => Some(self.number.div_euclid(4)),
            Frequency::Month => Some(self.number.div_euclid(12)),
            Frequency::Day => Some((self.number + EPOCH_IN_WEEK).div_euclid(7)),
            Frequency::Workday => Some(self.number.div_euclid(5)),
            Frequency::Week(_) => self.first_day().map(|day| i64::from(day.iso_week_date().year())),
            Frequency::Year | Frequency::Undated => None,
        }
    }

    /// The year, and the place within it from 0: days count through the year.
    pub fn year_place(self) -> Option<(i64, usize)> {
        match self.frequency {
            Frequency::Day | Frequency::Workday => {
                let date = self.first_day()?;
                Some((i64::from(date.year()), usize::try_from(date.day_of_year() - 1).ok()?))
            }
            _ => self.season_cycle().zip(self.season_place()),
        }
    }

    /// Reads what [`spelled`] reads, as `2004`, `2004-Q3`, `2004Q3`, `2004-09`, `200409`, `Sep 2004`, `2004-W07` or
    /// `2004-09-30`.
    ///
    /// # Errors
    /// [`PeriodError::Unreadable`] for anything else, [`PeriodError::Ambiguous`] for what can be two periods.
    pub fn parse(text: &str) -> Result<Self, PeriodError> {
        let found = spelled(text).ok_or_else(|| PeriodError::Unreadable(text.to_owned()))?;
        found.only().ok_or_else(|| PeriodError::Ambiguous(text.to_owned()))
    }

    /// Reads a period as it is written here: `2004`, `2004-Q3`, `2004-09`, `2004-M09`, `2004-W07` or `2004-09-30`.
    pub fn parse_standard(text: &str) -> Option<Self> {
        parse(text.trim())
    }

    /// The first and last period of frequency `data` inside the period that the text names: `2004` on monthly data is
    /// 2004-01 and 2004-12. A finer period than the data have is the one that it lies in.
    ///
    /// # Errors
    /// [`PeriodError`] if it cannot be read.
    pub fn parse_range(text: &str, data: Frequency) -> Result<(Self, Self), PeriodError> {
        if data == Frequency::Undated {
            let number = text.trim().parse().map_err(|_| PeriodError::Unreadable(text.to_owned()))?;
            return Ok((Self::observation(number), Self::observation(number)));
        }
        let named = Self::of_data(text, data)?;
        let unreadable = || PeriodError::Unreadable(text.to_owned());
        let is_finer = named.frequency > data && !matches!(data, Frequency::Week(_) | Frequency::Workday);
        if is_finer || named.frequency == Frequency::Day && data == Frequency::Week(WeekForm::Number) {
            let around =
                named.first_day().and_then(|day| Self::containing(day, data)).ok_or_else(unreadable)?;
            return Ok((around, around));
        }
        let from = |period: Self| period.first_day().and_then(|day| Self::from_day_on(day, data));
        let (first, next) = from(named).zip(from(named.offset(1))).ok_or_else(unreadable)?;
        // A weekend has no workday of its own: as a first period it is the Monday
        // after, as a last one the Friday before.
        Ok((first, next.offset(-1)))
    }

    /// What a text names on data of a frequency: `2004:3` is the quarter of quarterly data, else the month.
    fn of_data(text: &str, data: Frequency) -> Result<Self, PeriodError> {
        let of_frequency = match (spelled(text), data) {
            (Some(Spelled::YearAndPart(year, part)), Frequency::Quarter) => Self::quarter(year, part),
            (Some(Spelled::YearAndPart(year, part)), Frequency::Month) => Self::month(year, part),
            _ => None,
        };
        of_frequency.map_or_else(|| Self::parse(text), Ok)
    }

    /// The first period that belongs to the time from a day on: the one that
    /// contains it; a workday or (as it is written by a day, or belongs to the year
    /// of its Thursday) a week not before it.
    fn from_day_on(date: Date, frequency: Frequency) -> Option<Self> {
        let later = match (frequency, date.weekday()) {
            (Frequency::Workday, Weekday::Saturday) => 2,
            (Frequency::Workday, Weekday::Sunday) => 1,
            (Frequency::Week(WeekForm::Number), _) => 3,
            (Frequency::Week(WeekForm::Day(day)), _) => 6 - i64::from(day.min(6)),
            _ => 0,
        };
        let date = date.checked_add(jiff::Span::new().days(later)).ok()?;
        Self::containing(date, frequency)
    }

    /// The period of the given frequency that contains a day; a weekend lies in no
    /// workday.
    pub fn containing(date: Date, frequency: Frequency) -> Option<Self> {
        let (year, month) = (i64::from(date.year()), i64::from(date.month()));
        match frequency {
            Frequency::Year => Some(Self::year(year)),
            Frequency::Quarter => Self::quarter(year, (month - 1) / 3 + 1),
            Frequency::Month => Self::month(year, month),
            Frequency::Day => Self::day(date),
            Frequency::Week(_) => {
                let days = Self::day(date)?.number + EPOCH_IN_WEEK;
                Some(Self { frequency, number: days.div_euclid(7) })
            }
            Frequency::Workday => {
                let days = Self::day(date)?.number + EPOCH_IN_WEEK;
                let workday = days.rem_euclid(7);
                (workday < 5).then(|| Self { frequency, number: 5 * days.div_euclid(7) + workday })
            }
            Frequency::Undated => None,
        }
    }

    /// The days in it, if it is dated; a workday has one.
    pub fn days(self) -> Option<u32> {
        if self.frequency == Frequency::Workday {
            return Some(1);
        }
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
            Frequency::Day => day_after_epoch(self.number),
            Frequency::Week(_) => day_after_epoch(self.number.checked_mul(7)? - EPOCH_IN_WEEK),
            Frequency::Workday => day_after_epoch(
                self.number.div_euclid(5).checked_mul(7)? + self.number.rem_euclid(5) - EPOCH_IN_WEEK,
            ),
            Frequency::Undated => None,
        }
    }
}

/// As it is written.
impl Serialize for Period {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }
}

impl JsonSchema for Period {
    fn inline_schema() -> bool {
        true
    }

    fn schema_name() -> Cow<'static, str> {
        "Period".into()
    }

    fn json_schema(generator: &mut SchemaGenerator) -> Schema {
        String::json_schema(generator)
    }
}

impl fmt::Display for Period {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let n = self.number;
        match self.frequency {
            Frequency::Year => write!(f, "{n:04}"),
            Frequency::Quarter => write!(f, "{:04}-Q{}", n.div_euclid(4), n.rem_euclid(4) + 1),
            Frequency::Month => write!(f, "{:04}-{:02}", n.div_euclid(12), n.rem_euclid(12) + 1),
            Frequency::Week(WeekForm::Number) => match self.first_day().map(Date::iso_week_date) {
                Some(week) => write!(f, "{:04}-W{:02}", week.year(), week.week()),
                None => write!(f, "week {n}"),
            },
            Frequency::Week(WeekForm::Day(day)) => {
                match n.checked_mul(7).and_then(|days| day_after_epoch(days - EPOCH_IN_WEEK + i64::from(day)))
                {
                    Some(date) => write!(f, "{date}"),
                    None => write!(f, "week {n}"),
                }
            }
            Frequency::Day | Frequency::Workday => match self.first_day() {
                Some(date) => write!(f, "{date}"),
                None => write!(f, "day {n}"),
            },
            Frequency::Undated => write!(f, "{n}"),
        }
    }
}

fn day_after_epoch(days: i64) -> Option<Date> {
    EPOCH.checked_add(jiff::Span::new().try_days(days).ok()?).ok()
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
        (b'W' | b'w', None) => Period::week(year, digits(&second[1..], 2)?),
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
        for text in ["0987", "2004", "2004-Q3", "2004-09", "1969-12-31", "2024-02-29", "2004-W53", "1969-W01"]
        {
            assert_eq!(Period::parse(text).expect("valid").to_string(), text);
        }
        assert_eq!(Period::parse("2004-M09"), Period::parse("2004-09"));
    }

    proptest! {
        #[test]
        fn any_period_in_reach_reads_back_as_it_is_written(number in -700_000_i64..2_900_000, which in 0_usize..6) {
            let frequency =
                [Frequency::Year, Frequency::Quarter, Frequency::Month, Frequency::Day,
                 Frequency::Week(WeekForm::Number), Frequency::Workday][which];
            // From year 53 to 9909, whatever the frequency.
            let number = match which {
                0..3 => {
                    let per_year = [1, 4, 12][which];
                    number.rem_euclid(9800 * per_year) + 53 * per_year
                }
                3 => number,
                _ => number / 7,
            };
            let period = Period { frequency, number };
            if frequency != Frequency::Workday {
                prop_assert_eq!(Period::parse(&period.to_string()), Ok(period));
            }
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
        for text in ["", "04", "2004-13", "2004-Q5", "2004-02-30", "2004-01-01-01", "n/a", "20é4", "200413"]
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
        // 2005 began on a Saturday: its first workday is the third.
        assert_eq!(range("2005-01", Frequency::Workday), "2005-01-03 2005-01-31");
        assert_eq!(range("2005-01-05", Frequency::Workday), "2005-01-05 2005-01-05");
        assert_eq!(range("2005-W02", Frequency::Day), "2005-01-10 2005-01-16");
        // Weeks given by their Friday.
        let fridays = Frequency::Week(WeekForm::Day(4));
        assert_eq!(range("2005-W02", fridays), "2005-01-14 2005-01-14");
        assert_eq!(range("2005-01", fridays), "2005-01-07 2005-01-28");
        // 2005 began on a Saturday, in the last week of 2004.
        let weeks = Frequency::Week(WeekForm::Number);
        assert_eq!(range("2005", weeks), "2005-W01 2005-W52");
        assert_eq!(range("2005-01-01", weeks), "2004-W53 2004-W53");
    }

    #[test]
    fn a_finer_period_is_the_one_it_lies_in_and_an_open_spelling_is_settled_by_the_data() {
        let range = |text, data| Period::parse_range(text, data).map(|(a, b)| format!("{a} {b}"));
        assert_eq!(range("2004-09-17", Frequency::Month).as_deref(), Ok("2004-09 2004-09"));
        assert_eq!(range("Sep 2004", Frequency::Quarter).as_deref(), Ok("2004-Q3 2004-Q3"));
        assert_eq!(range("2004-09", Frequency::Year).as_deref(), Ok("2004 2004"));
        assert_eq!(range("2004:3", Frequency::Quarter).as_deref(), Ok("2004-Q3 2004-Q3"));
        assert_eq!(range("2004:3", Frequency::Month).as_deref(), Ok("2004-03 2004-03"));
        assert_eq!(range("2004:11", Frequency::Day).as_deref(), Ok("2004-11-01 2004-11-30"));
        assert_eq!(range("2004:3", Frequency::Day), Err(PeriodError::Ambiguous("2004:3".to_owned())));
        assert_eq!(range("2004:5", Frequency::Quarter).as_deref(), Ok("2004-Q2 2004-Q2"));
    }

    #[test]
    fn weeks_and_workdays_step_over_year_ends() {
        let step = |text: &str, k| Period::parse(text).expect("valid").offset(k).to_string();
        assert_eq!(step("2004-W53", 1), "2005-W01");
        assert_eq!(step("2024-W52", 1), "2025-W01");
        assert!(Period::parse("2005-W53").is_err());
        let friday = Date::constant(2004, 12, 31);
        let workday = Period::containing(friday, Frequency::Workday).expect("a Friday");
        assert_eq!((workday.offset(1).to_string().as_str(), workday.season_place()), ("2005-01-03", Some(4)));
        assert_eq!(Period::containing(Date::constant(2005, 1, 1), Frequency::Workday), None);
    }

    #[test]
    fn january_and_monday_are_place_zero() {
        assert_eq!(Period::parse("2004-01").expect("valid").season_place(), Some(0));
        assert_eq!(Period::parse("2024-01-01").expect("valid").season_place(), Some(0));
        assert_eq!(Period::year(2004).season_place(), None);
    }
}
