//! The spellings of periods that files have.

use jiff::civil::Date;
use kandrel_core::time::{Frequency, Period, Spelled, month_number, spelled};

use super::days;

/// Which of two numbers is the day, where a date leaves it open.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum DateOrder {
    /// 30/09/2004
    DayFirst,
    /// 9/30/2004
    MonthFirst,
}

/// What a column of cells says.
#[derive(Debug, PartialEq, Eq)]
pub enum ColumnSpelling {
    /// These periods, all of one frequency, and how their dates are written where one number may be the day.
    Periods(Vec<Period>, Option<DateOrder>),
    /// Dates that may be read either way: the day first, the month first.
    Open { day_first: Vec<Period>, month_first: Vec<Period> },
}

/// Reads a whole column; `None` if it does not hold periods of one frequency.
pub fn read<'a>(cells: impl Iterator<Item = &'a str>, order: Option<DateOrder>) -> Option<ColumnSpelling> {
    let spelled: Vec<Spelled> = cells.map(spelled).collect::<Option<_>>()?;
    match spelled.first()? {
        Spelled::Period(_) => settled(&spelled, |cell| match cell {
            Spelled::Period(period) => Some(period),
            _ => None,
        })
        .map(plain),
        Spelled::YearAndPart(..) => colons(&spelled).map(plain),
        Spelled::DayAndMonth(..) => day_and_month(&spelled, order),
    }
}

fn plain(periods: Vec<Period>) -> ColumnSpelling {
    ColumnSpelling::Periods(periods, None)
}

fn settled(spelled: &[Spelled], read: impl Fn(Spelled) -> Option<Period>) -> Option<Vec<Period>> {
    let periods: Vec<Period> = spelled.iter().map(|cell| read(*cell)).collect::<Option<_>>()?;
    let first = periods.first()?.frequency();
    periods.iter().all(|period| period.frequency() == first).then_some(periods)
}

/// Quarters, unless a number beyond four indicates that they are months.
fn colons(spelled: &[Spelled]) -> Option<Vec<Period>> {
    let quarters = spelled.iter().all(|cell| matches!(cell, Spelled::YearAndPart(_, 1..=4)));
    settled(spelled, |cell| match cell {
        Spelled::YearAndPart(year, part) if quarters => Period::quarter(year, part),
        Spelled::YearAndPart(year, part) => Period::month(year, part),
        _ => None,
    })
}

/// The reading that is named, that is possible, or that alone is regular.
fn day_and_month(spelled: &[Spelled], order: Option<DateOrder>) -> Option<ColumnSpelling> {
    let reading = |order: DateOrder| {
        settled(spelled, |cell| match (cell, order) {
            (Spelled::DayAndMonth(day, month, year), DateOrder::DayFirst)
            | (Spelled::DayAndMonth(month, day, year), DateOrder::MonthFirst) => date(year, month, day),
            _ => None,
        })
    };
    if let Some(order) = order {
        return reading(order).map(|days| ColumnSpelling::Periods(days, Some(order)));
    }
    let first = |days: Vec<Period>| ColumnSpelling::Periods(days, Some(DateOrder::DayFirst));
    let second = |days: Vec<Period>| ColumnSpelling::Periods(days, Some(DateOrder::MonthFirst));
    match (reading(DateOrder::DayFirst), reading(DateOrder::MonthFirst)) {
        (Some(day_first), Some(month_first)) => match (is_regular(&day_first), is_regular(&month_first)) {
            _ if day_first == month_first => Some(plain(day_first)),
            (true, false) => Some(first(day_first)),
            (false, true) => Some(second(month_first)),
            _ => Some(ColumnSpelling::Open { day_first, month_first }),
        },
        (one, other) => one.map(first).or(other.map(second)),
    }
}

/// Days are regular if they are equally spaced, or represent periods most of
/// which are there.
fn is_regular(days: &[Period]) -> bool {
    let mut sorted = days.to_vec();
    sorted.sort_unstable();
    let mut gaps = sorted.windows(2).filter_map(|pair| pair[1].steps_since(pair[0]));
    let first = gaps.next();
    if first.is_some_and(|gap| gap > 0) && gaps.all(|gap| Some(gap) == first) {
        return true;
    }
    let days::Reading::Periods { mut periods, .. } = days::read(days) else {
        return false;
    };
    periods.sort_unstable();
    periods.dedup();
    let span = periods.last().zip(periods.first()).and_then(|(last, first)| last.steps_since(*first));
    span.is_some_and(|span| periods.len() as f64 > MOST * (span + 1) as f64)
}

/// The share of periods that must be there.
const MOST: f64 = 0.6;

fn date(year: i16, month: i8, day: i8) -> Option<Period> {
    Period::day(Date::new(year, month, day).ok()?)
}

/// A date whose day and month are in the order of the file as `2004-09-30`; any other text as it is.
pub fn standard(text: &str, order: DateOrder) -> String {
    let period = match (spelled(text), order) {
        (Some(Spelled::DayAndMonth(day, month, year)), DateOrder::DayFirst)
        | (Some(Spelled::DayAndMonth(month, day, year)), DateOrder::MonthFirst) => date(year, month, day),
        _ => None,
    };
    period.map_or_else(|| text.to_owned(), |period| period.to_string())
}

/// Years in one column and their parts in another.
pub fn joined<'a>(cells: impl Iterator<Item = (&'a str, &'a str)>, part: Frequency) -> Option<Vec<Period>> {
    cells
        .map(|(year, cell)| {
            let year: i64 = year.trim().parse().ok().filter(|year| (1000..=3000).contains(year))?;
            let cell = cell.trim();
            let number = || cell.trim_start_matches(['Q', 'q', 'M', 'm']).parse().ok();
            match part {
                Frequency::Quarter => Period::quarter(year, number()?),
                _ => Period::month(year, month_number(cell).or_else(number)?),
            }
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn one(cell: &str) -> String {
        match read([cell].into_iter(), Some(DateOrder::DayFirst)) {
            Some(ColumnSpelling::Periods(periods, _)) => periods[0].to_string(),
            other => format!("{other:?}"),
        }
    }

    #[test]
    fn every_spelling_is_the_period_it_means() {
        for cell in ["2004-Q3", "2004Q3", "2004 q3", "Q3 2004", "Q3/2004", "Q3-2004", "2004:3"] {
            assert_eq!(one(cell), "2004-Q3", "{cell}");
        }
        for cell in [
            "2004-09",
            "2004M09",
            "2004m9",
            "2004/09",
            "09/2004",
            "Sep-2004",
            "September 2004",
            "2004 Sept",
            "sep. 2004",
        ] {
            assert_eq!(one(cell), "2004-09", "{cell}");
        }
        for cell in [
            "30/09/2004",
            "30.09.2004",
            "30-09-2004",
            "2004/09/30",
            "30 Sep 2004",
            "Sep 30, 2004",
            "2004-09-30 00:00:00",
        ] {
            assert_eq!(one(cell), "2004-09-30", "{cell}");
        }
        assert_eq!(one("2004"), "2004");
    }

    #[test]
    fn what_is_no_period_is_none() {
        for cell in [
            "",
            "abc",
            "12",
            "1.5",
            "30/13/2004",
            "Okt 2004",
            "2004Q5",
            "2004:13",
            "1/2/3/2004",
            "2004-09-30 12:30",
            // A number with four decimals is no month.
            "9.2004",
        ] {
            assert_eq!(read([cell].into_iter(), Some(DateOrder::DayFirst)), None, "{cell}");
        }
        assert_eq!(read(["2004", "2004-09"].into_iter(), None), None);
    }

    #[test]
    fn a_number_beyond_four_makes_months_of_the_whole_column() {
        let Some(ColumnSpelling::Periods(periods, _)) = read(["2004:1", "2004:12"].into_iter(), None) else {
            panic!("periods")
        };
        assert_eq!(periods[0].to_string(), "2004-01");
    }

    #[test]
    fn the_column_settles_day_and_month_where_it_can() {
        let first = |cells: &[&str]| match read(cells.iter().copied(), None) {
            Some(ColumnSpelling::Periods(periods, _)) => periods[0].to_string(),
            other => format!("{other:?}"),
        };
        // Only one reading is possible.
        assert_eq!(first(&["03/04/2004", "30/04/2004"]), "2004-04-03");
        assert_eq!(first(&["03/04/2004", "03/30/2004"]), "2004-03-04");
        // Only one is regular: first days of months, over more than a year.
        let months: Vec<(i32, i32)> = (1..14).map(|k| (2004 + k / 12, k % 12 + 1)).collect();
        let day_first: Vec<String> =
            months.iter().map(|(year, month)| format!("01/{month:02}/{year}")).collect();
        let month_first: Vec<String> =
            months.iter().map(|(year, month)| format!("{month}/1/{year}")).collect();
        for cells in [day_first, month_first] {
            assert_eq!(first(&cells.iter().map(String::as_str).collect::<Vec<_>>()), "2004-02-01");
        }
        // Months with a gap, newest first: as days they would be twelve of each January.
        let gap: Vec<String> = (1..60)
            .rev()
            .filter(|k| !(20..22).contains(k))
            .map(|k| format!("01/{:02}/{}", k % 12 + 1, 2004 + k / 12))
            .collect();
        assert_eq!(first(&gap.iter().map(String::as_str).collect::<Vec<_>>()), "2008-12-01");
        // Three of them may be days as well: both readings are regular.
        let open = read(["01/02/2004", "01/03/2004", "01/04/2004"].into_iter(), None);
        assert!(matches!(open, Some(ColumnSpelling::Open { .. })), "{open:?}");
        let open = read(["01/02/2004", "05/03/2004", "11/04/2004"].into_iter(), None);
        assert!(matches!(open, Some(ColumnSpelling::Open { .. })), "{open:?}");
    }

    #[test]
    fn years_and_their_parts_in_two_columns() {
        let cells = [("2004", "1"), ("2004", "Feb"), ("2004", "12")];
        let months = joined(cells.into_iter(), Frequency::Month).expect("months");
        assert_eq!(
            months.iter().map(ToString::to_string).collect::<Vec<_>>(),
            ["2004-01", "2004-02", "2004-12"]
        );
        assert_eq!(joined([("2004", "13")].into_iter(), Frequency::Month), None);
        assert_eq!(
            joined([("2004", "Q4")].into_iter(), Frequency::Quarter).map(|p| p[0].to_string()),
            Some("2004-Q4".into())
        );
    }
}
