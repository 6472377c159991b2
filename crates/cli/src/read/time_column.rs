//! Finding the column of periods and its frequency.

use kandrel_core::time::{Frequency, Period, WeekForm};

use super::days::{self, Reading};
use super::spelling::{self, DateOrder};
use super::table::Table;
use super::time_numbers;
use crate::error::CliError;
use crate::visible::visible_name;
use crate::wording;

/// The time column and the period of each row.
pub struct TimeColumn {
    pub place: usize,
    /// A second column that holds months or quarters.
    pub beside: Option<usize>,
    pub periods: Vec<Period>,
    /// How its dates are written, where one number may be the day.
    pub order: Option<DateOrder>,
    /// Why the data have the frequency of these periods.
    pub reason: String,
}

/// How the rows of a table are placed in time.
pub enum TimeIndex {
    Column(TimeColumn),
    /// Periods counted from a first one that was given.
    Counted {
        periods: Vec<Period>,
    },
    /// No periods: rows are numbered. The column of dates, if there is one.
    Undated {
        dates: Option<usize>,
        note: Option<String>,
    },
}

const NAMES: &[&str] = &["year", "date", "time", "period", "month", "quarter", "day", "t"];

/// What the user says of the time column.
#[derive(Debug, Clone, Default)]
pub struct TimeOptions {
    pub column: Option<String>,
    pub order: Option<DateOrder>,
    /// The period of the first row, where no column holds periods.
    pub start: Option<String>,
    pub every: Option<Every>,
}

/// The distance between rows, where no column holds periods.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum Every {
    #[value(aliases = ["yearly", "annual"])]
    Year,
    #[value(alias = "quarterly")]
    Quarter,
    #[value(alias = "monthly")]
    Month,
    #[value(alias = "weekly")]
    Week,
    #[value(alias = "daily")]
    Day,
    #[value(alias = "workdays")]
    Workday,
    /// Numbered observations
    Step,
}

/// Looks for the time column, or reads the one that is named.
pub fn find(source: &str, table: &Table, options: &TimeOptions) -> Result<TimeIndex, CliError> {
    if options.start.is_some() || options.every.is_some() {
        return counted(table, options);
    }
    if let Some(name) = &options.column {
        return named_column(source, table, name, options.order);
    }
    let joined = year_and_part(table);
    for place in 0..table.header.len() {
        let Some(column) = read_column(table, place, options.order) else {
            continue;
        };
        let (raw, order) = settled_order(source, table, place, column)?;
        let years = raw.first().map(|period| period.frequency()) == Some(Frequency::Year);
        if years && let Some(joined) = joined {
            return Ok(joined);
        }
        let are_numbers = years || numbers_run_together(table, place);
        if !are_numbers || numbers_are_plausible(table, place, &raw) {
            return Ok(settled(table, place, raw, order));
        }
    }
    if let Some(found) = (0..table.header.len()).find_map(|place| of_the_column(table, place, false)) {
        return Ok(found);
    }
    if let Some(joined) = joined {
        return Ok(joined);
    }
    for place in 0..table.header.len() {
        refuse_nearly_periods(source, table, place, options.order)?;
    }
    Ok(TimeIndex::Undated { dates: None, note: None })
}

/// Rows from which it is inferred whether a column is meant to hold periods.
const ASKED: usize = 2000;

/// A column most of whose cells are periods is meant as the time column: the first cell
/// that is none is a fault, and rows must not silently lose their dates.
fn refuse_nearly_periods(
    source: &str,
    table: &Table,
    place: usize,
    order: Option<DateOrder>,
) -> Result<(), CliError> {
    let order = order.or(Some(DateOrder::DayFirst));
    let is_period = |cell: &str| {
        let plain_number = cell.bytes().all(|byte| byte.is_ascii_digit());
        !plain_number && spelling::read(std::iter::once(cell), order).is_some()
    };
    let rows = table.rows.len().min(ASKED);
    let periods = table.rows.rows().take(ASKED).filter(|row| is_period(row.cell(place))).count();
    if rows < 3 || 3 * periods < 2 * rows {
        return Ok(());
    }
    let bad = table.rows.rows().find(|row| !is_period(row.cell(place)));
    let name = table.header.get(place).map_or("", String::as_str);
    let word = table.row_word;
    let message = match bad {
        Some(row) if row.cell(place).is_empty() => {
            format!("{source}, {word} {}, column `{name}`: no period where most rows have one", row.line)
        }
        Some(row) => format!(
            "{source}, {word} {}, column `{name}`: {:?} is not a period like the others",
            row.line,
            row.cell(place)
        ),
        None => format!("{source}, column `{name}`: its periods are not all of one kind"),
    };
    Err(CliError::data(message).advise("correct the cell, or count the rows with --every step"))
}

/// Periods counted from the first row on.
fn counted(table: &Table, options: &TimeOptions) -> Result<TimeIndex, CliError> {
    let start = match (options.start.as_deref(), options.every) {
        (None, Some(Every::Step)) => Period::observation(1),
        (None, _) => {
            return Err(CliError::call("--every needs the period of the first row")
                .advise("write it with --start, as --start 2004-01 --every month"));
        }
        (Some(text), every) => first_period(text, every)?,
    };
    let steps = (0..).take(table.rows.len());
    let periods = steps.map(|step| start.offset(step)).collect();
    Ok(TimeIndex::Counted { periods })
}

fn first_period(text: &str, every: Option<Every>) -> Result<Period, CliError> {
    let named = Period::parse(text);
    let frequency = match (every, &named) {
        (Some(Every::Year), _) => Frequency::Year,
        (Some(Every::Quarter), _) => Frequency::Quarter,
        (Some(Every::Month), _) => Frequency::Month,
        (Some(Every::Day), _) => Frequency::Day,
        (Some(Every::Workday), _) => Frequency::Workday,
        (Some(Every::Week), Ok(day)) if day.frequency() == Frequency::Day => days::week_of(*day),
        (Some(Every::Week), _) => Frequency::Week(WeekForm::Number),
        (None, Ok(period)) => period.frequency(),
        (Some(Every::Step), _) | (None, Err(_)) => Frequency::Undated,
    };
    // A day is no beginning of years: it leaves open which part of them a row is.
    if let Ok(period) = &named
        && period.frequency() > frequency
        && !matches!(frequency, Frequency::Undated | Frequency::Week(_) | Frequency::Workday)
    {
        return Err(CliError::call(format!(
            "--start: {text:?} is finer than {} data",
            frequency.adjective()
        ))
        .advise("write it in the unit of --every"));
    }
    let range = Period::parse_range(text, frequency);
    range.map(|(first, _)| first).map_err(|error| {
        CliError::call(format!("--start: {error}"))
            .advise("write it as 2004, 2004-Q3, 2004-09, 2004-W07 or 2004-09-30, in the unit of --every")
    })
}

/// A column of years next to one of months or quarters.
fn year_and_part(table: &Table) -> Option<TimeIndex> {
    let place_of =
        |names: &[&str]| table.header.iter().position(|name| names.contains(&name.to_lowercase().as_str()));
    let year = place_of(&["year", "yr"])?;
    let parts = [(["month", "mon"], Frequency::Month), (["quarter", "qtr"], Frequency::Quarter)];
    parts.into_iter().find_map(|(names, frequency)| {
        let part = place_of(&names)?;
        let cells = table.rows.rows().map(|row| (row.cell(year), row.cell(part)));
        let periods = spelling::joined(cells, frequency)?;
        let reason = format!(
            "`{}` and `{}` contain years and {}s",
            table.header[year],
            table.header[part],
            frequency.noun()
        );
        Some(TimeIndex::Column(TimeColumn { place: year, beside: Some(part), periods, order: None, reason }))
    })
}

fn named_column(
    source: &str,
    table: &Table,
    name: &str,
    order: Option<DateOrder>,
) -> Result<TimeIndex, CliError> {
    let name = &visible_name(name);
    let place = table.header.iter().position(|known| known == name).ok_or_else(|| {
        let error = CliError::data(format!("{source} has no column `{name}`"));
        match wording::nearest(name, &table.header) {
            Some(near) => error.advise(format!("did you mean `{near}`?")),
            None => error.advise(format!("it has {}", wording::list(&table.header))),
        }
    })?;
    if let Some(column) = read_column(table, place, order) {
        let (raw, order) = settled_order(source, table, place, column)?;
        return Ok(settled(table, place, raw, order));
    }
    if let Some(found) = of_the_column(table, place, true) {
        return Ok(found);
    }
    let bad = table.rows.rows().find(|row| spelling::read(std::iter::once(row.cell(place)), order).is_none());
    let text = bad.map_or("", |row| row.cell(place));
    let line = bad.map_or(1, |row| row.line);
    let message = format!(
        "{source}, {} {line}, column `{name}`: {text:?} is not a period like the others",
        table.row_word
    );
    Err(CliError::data(message).advise("write periods as 2004, 2004-Q3, 2004-09 or 2004-09-30"))
}

fn read_column(table: &Table, place: usize, order: Option<DateOrder>) -> Option<spelling::ColumnSpelling> {
    spelling::read(table.rows.rows().map(|row| row.cell(place)), order)
}

/// The periods and the order of their dates; dates that may be read either way are refused with both readings.
fn settled_order(
    source: &str,
    table: &Table,
    place: usize,
    column: spelling::ColumnSpelling,
) -> Result<(Vec<Period>, Option<DateOrder>), CliError> {
    match column {
        spelling::ColumnSpelling::Periods(periods, order) => Ok((periods, order)),
        spelling::ColumnSpelling::Open { day_first, month_first } => {
            let name = table.header.get(place).map_or("", String::as_str);
            let first = table.rows.row(0).map_or("", |row| row.cell(place));
            let shown = |periods: &[Period]| periods.first().map(ToString::to_string).unwrap_or_default();
            Err(CliError::data(format!(
                "{source}, column `{name}`: {first} may be {} or {}, and the column does not settle it",
                shown(&day_first),
                shown(&month_first)
            ))
            .advise("write --dates day-first or --dates month-first"))
        }
    }
}

/// Whether a column holds months or days as numbers: `194901`.
fn numbers_run_together(table: &Table, place: usize) -> bool {
    table.rows.row(0).is_some_and(|row| row.cell(place).bytes().all(|byte| byte.is_ascii_digit()))
}

/// Numbers are periods only if they are named so, or are first and count up (or, newest first, down): years one by one,
/// months and days without turning back.
fn numbers_are_plausible(table: &Table, place: usize, periods: &[Period]) -> bool {
    let counts = |sign: i64| {
        periods.windows(2).all(|pair| match pair[1].steps_since(pair[0]) {
            Some(step) if pair[0].frequency() == Frequency::Year => step == sign,
            Some(step) => step * sign > 0,
            None => false,
        })
    };
    is_named_so(table, place) || (place == 0 && (counts(1) || counts(-1)))
}

fn is_named_so(table: &Table, place: usize) -> bool {
    let name = table.header.get(place).map(|name| name.to_lowercase()).unwrap_or_default();
    NAMES.contains(&name.as_str())
}

/// Decimal years, and years of two digits; decimal years that nobody named must be first or have the name of a time.
fn of_the_column(table: &Table, place: usize, is_named: bool) -> Option<TimeIndex> {
    let cells = || table.rows.rows().map(|row| row.cell(place));
    let name = table.header.get(place).map_or("", String::as_str);
    let is_meant = is_named || place == 0 || is_named_so(table, place);
    let decimals = || time_numbers::decimal_years(cells()).filter(|_| is_meant);
    let (periods, reason) = if let Some(periods) = time_numbers::two_digit_years(cells()) {
        let (first, last) = (periods.first()?, periods.last()?);
        let reason = format!("`{name}` has years of two digits, read as {first} to {last}");
        (periods, reason)
    } else {
        let periods = decimals()?;
        let noun = periods.first()?.frequency().noun();
        (periods, format!("`{name}` contains {noun}s as decimal years"))
    };
    Some(TimeIndex::Column(TimeColumn { place, beside: None, periods, order: None, reason }))
}

/// The periods as they are; days may represent weeks, months or longer.
fn settled(table: &Table, place: usize, raw: Vec<Period>, order: Option<DateOrder>) -> TimeIndex {
    let name = table.header.get(place).map_or("", String::as_str);
    let frequency = raw.first().map(|period| period.frequency());
    if frequency != Some(Frequency::Day) {
        let noun = frequency.map_or("period", Frequency::noun);
        let reason = format!("`{name}` contains {noun}s");
        return TimeIndex::Column(TimeColumn { place, beside: None, periods: raw, order, reason });
    }
    match days::read(&raw) {
        Reading::Periods { periods, because } => {
            let reason = format!("the dates in `{name}` {because}");
            TimeIndex::Column(TimeColumn { place, beside: None, periods, order, reason })
        }
        Reading::Irregular { how } => TimeIndex::Undated {
            dates: Some(place),
            note: Some(format!(
                "the dates in `{name}` {how}: rows are taken as observations 1, 2, … in the file's order"
            )),
        },
    }
}
