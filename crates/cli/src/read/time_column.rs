//! Finding the column of periods and its frequency.

use jiff::civil::Weekday;
use kandrel_core::time::{Frequency, Period};

use super::csv::Table;
use crate::error::CliError;
use crate::words;

/// The time column and the period of each row.
pub struct TimeColumn {
    pub place: usize,
    pub periods: Vec<Period>,
}

/// What was found, and what is worth telling.
pub enum Found {
    Column(TimeColumn),
    /// No periods: rows are numbered. The column of dates, if there is one.
    Undated {
        dates: Option<usize>,
        note: Option<String>,
    },
}

const NAMES: &[&str] = &["year", "date", "time", "period", "month", "quarter", "day", "t"];

/// Looks for the time column, or reads the one that is named.
pub fn find(source: &str, table: &Table, named: Option<&str>) -> Result<Found, CliError> {
    if let Some(name) = named {
        return named_column(source, table, name);
    }
    for place in 0..table.header.len() {
        if let Some(raw) = read_column(table, place)
            && (raw.first().map(|p| p.frequency()) != Some(Frequency::Year)
                || years_are_plausible(table, place, &raw))
        {
            return Ok(settle(table, place, raw));
        }
    }
    Ok(Found::Undated { dates: None, note: None })
}

fn named_column(source: &str, table: &Table, name: &str) -> Result<Found, CliError> {
    let place = table.header.iter().position(|known| known == name).ok_or_else(|| {
        let error = CliError::data(format!("{source} has no column `{name}`"));
        match words::nearest(name, &table.header) {
            Some(near) => error.advise(format!("did you mean `{near}`?")),
            None => error.advise(format!("it has {}", words::list(&table.header))),
        }
    })?;
    if let Some(raw) = read_column(table, place) {
        return Ok(settle(table, place, raw));
    }
    let bad = table.rows.iter().find(|row| Period::parse(cell(row, place)).is_err());
    let text = bad.map_or("", |row| cell(row, place));
    let line = bad.map_or(1, |row| row.line);
    let message = format!("{source}, line {line}, column `{name}`: {text:?} is not a period like the others");
    Err(CliError::data(message).advise("write periods as 2004, 2004-Q3, 2004-09 or 2004-09-30"))
}

/// Every cell as a period of one frequency.
fn read_column(table: &Table, place: usize) -> Option<Vec<Period>> {
    let periods: Vec<Period> =
        table.rows.iter().map(|row| Period::parse(cell(row, place)).ok()).collect::<Option<_>>()?;
    let first = periods.first()?.frequency();
    periods.iter().all(|period| period.frequency() == first).then_some(periods)
}

fn cell(row: &super::csv::Row, place: usize) -> &str {
    row.cells.get(place).unwrap_or("")
}

/// Four-digit numbers are years only if they are named so, or stand first and
/// count up (or, newest first, down) one by one.
fn years_are_plausible(table: &Table, place: usize, years: &[Period]) -> bool {
    let name = table.header.get(place).map(|name| name.to_lowercase()).unwrap_or_default();
    let counts = |step| years.windows(2).all(|pair| pair[1].steps_since(pair[0]) == Some(step));
    NAMES.contains(&name.as_str()) || (place == 0 && (counts(1) || counts(-1)))
}

/// Days that are a month, quarter or year apart stand for those periods.
fn settle(table: &Table, place: usize, raw: Vec<Period>) -> Found {
    if raw.first().map(|period| period.frequency()) != Some(Frequency::Day) {
        return Found::Column(TimeColumn { place, periods: raw });
    }
    let mut days = raw.clone();
    days.sort_unstable();
    let gaps = days.windows(2).filter_map(|pair| pair[1].steps_since(pair[0]));
    let shortest = gaps.filter(|gap| *gap > 0).min().unwrap_or(1);
    let coarser = match shortest {
        360.. => Some(Frequency::Year),
        88..360 => Some(Frequency::Quarter),
        28..88 => Some(Frequency::Month),
        _ => None,
    };
    if let Some(frequency) = coarser {
        let inside = |day: &Period| day.first_day().and_then(|date| Period::containing(date, frequency));
        if let Some(periods) = raw.iter().map(inside).collect::<Option<Vec<_>>>() {
            return Found::Column(TimeColumn { place, periods });
        }
    }
    let name = table.header.get(place).map_or("", String::as_str);
    let weekend = |day: &Period| {
        day.first_day().is_some_and(|date| matches!(date.weekday(), Weekday::Saturday | Weekday::Sunday))
    };
    let numbered = |how: &str| Found::Undated {
        dates: Some(place),
        note: Some(format!(
            "the dates in `{name}` {how}: rows are taken as observations 1, 2, … in the file's order"
        )),
    };
    if shortest > 1 {
        return numbered(&format!("are at least {shortest} days apart"));
    }
    if days.len() > 10 && !days.iter().any(weekend) {
        return numbered("leave out every weekend");
    }
    Found::Column(TimeColumn { place, periods: raw })
}
