//! Tables with a row for each year and a column for each month or quarter, or the other way round: one series.

use kandrel_core::time::{Frequency, Period, month_number};

use super::budget::Budget;
use super::grid::{Grid, Row};
use super::long::{self, Shape};
use super::number::Style;
use super::table::Table;
use crate::call::shell_word;
use crate::error::CliError;
use crate::wording;

/// What the user says of a table of years.
#[derive(Debug, Clone, Default)]
pub struct WideOptions {
    /// Whether the table is said to be one.
    pub is_wide: bool,
    /// The column of years; a table whose column of periods is named without more is none.
    pub years: Option<String>,
    /// Whether the rows are counted, so that none holds a period.
    pub is_counted: bool,
}

/// What heads a column of the whole year, which is no month.
const WHOLE_YEAR: [&str; 7] = ["total", "annual", "average", "mean", "sum", "avg", "ann"];

/// Years that a number may mean.
const YEARS: std::ops::RangeInclusive<i64> = 1000..=2999;

/// What a cell takes while the table is laid out.
const CELL: u64 = 2 * size_of::<Cell<'_>>() as u64;

/// One cell of the table with its period.
struct Cell<'a> {
    period: Period,
    keys: Vec<&'a str>,
    line: u64,
    text: &'a str,
}

/// Where years and parts of the year are.
struct Layout {
    /// Column of the years, or of the parts where the header has the years.
    rows: usize,
    /// The other of each column.
    heads: Vec<(usize, i64)>,
    frequency: Frequency,
    /// Whether the header has the years.
    has_years_across: bool,
    /// Columns that name one of several series.
    keys: Vec<usize>,
    /// Columns that are left out.
    left_out: Vec<usize>,
}

/// The table as a column of periods and one of values, if it is a table of years by parts of the year.
///
/// # Errors
/// The user says that it is one and it is not; two values of one period.
pub fn unfold(
    source: &str,
    table: &Table,
    options: &WideOptions,
    style: &Style,
    budget: &Budget,
) -> Result<Option<Table>, CliError> {
    let is_excluded = options.is_counted || options.years.is_some();
    if is_excluded && !options.is_wide {
        return Ok(None);
    }
    let Some(layout) = years_down(table, options).or_else(|| years_across(table, options.is_wide)) else {
        return if options.is_wide { Err(unlike(source, table)) } else { Ok(None) };
    };
    let count = (table.rows.len() as u64).saturating_mul(layout.heads.len() as u64);
    budget.take(source, count.saturating_mul(CELL))?;
    let mut cells = cells(table, &layout);
    cells.sort_by_key(|cell| cell.period);
    let is_filled = |cell: &Cell<'_>| !cell.text.is_empty();
    let (first, last) =
        (cells.iter().find(|cell| is_filled(cell)), cells.iter().rfind(|cell| is_filled(cell)));
    let Some((first, last)) = first.zip(last).map(|(first, last)| (first.period, last.period)) else {
        return Err(CliError::data(format!("{source}: the table of years has no values")));
    };
    let mut rows = Grid::default();
    let mut lines = Vec::new();
    for cell in cells.iter().filter(|cell| (first..=last).contains(&cell.period)) {
        let period = cell.period.to_string();
        let texts = cell.keys.iter().copied().chain([period.as_str(), cell.text]);
        rows.push(cell.line, texts);
        lines.push(cell.line);
    }
    let noun = layout.frequency.noun().to_owned();
    let heads = layout.keys.iter().map(|place| table.header[*place].clone());
    let header = heads.chain([noun, "value".to_owned()]).collect();
    let mut unfolded = Table { rows, ..table.emptied(header) };
    unfolded.notes.push(note(source, table, &layout, options));
    let keys = layout.keys.len();
    let shape = Shape { keys: (0..keys).collect(), value: keys + 1, time: vec![keys] };
    long::side_by_side(source, &unfolded, &shape, style, budget).map(Some)
}

fn cells<'a>(table: &'a Table, layout: &Layout) -> Vec<Cell<'a>> {
    let mut found = Vec::new();
    for row in table.rows.rows() {
        let Some(own) = label(row.cell(layout.rows), layout) else {
            continue;
        };
        for (place, head) in &layout.heads {
            let (year, part) = if layout.has_years_across { (*head, own) } else { (own, *head) };
            let period = if layout.frequency == Frequency::Month {
                Period::month(year, part)
            } else {
                Period::quarter(year, part)
            };
            let keys = layout.keys.iter().map(|key| row.cell(*key)).collect();
            found.extend(period.map(|period| Cell { period, keys, line: row.line, text: row.cell(*place) }));
        }
    }
    found
}

/// What the first column of a row says: its year, or its part of the year.
fn label(cell: &str, layout: &Layout) -> Option<i64> {
    if layout.has_years_across { part(cell, layout.frequency, true) } else { year(cell) }
}

/// A row for each year.
fn years_down(table: &Table, options: &WideOptions) -> Option<Layout> {
    let are_years = |place: &usize| {
        !table.rows.is_empty() && table.rows.rows().all(|row| year(row.cell(*place)).is_some())
    };
    let rows = match &options.years {
        Some(name) => table.header.iter().position(|head| head == name).filter(are_years)?,
        None => (0..table.header.len()).find(are_years)?,
    };
    let frequencies = [Frequency::Month, Frequency::Quarter];
    let (frequency, heads) = frequencies.into_iter().find_map(|frequency| {
        let heads: Vec<(usize, i64)> = (0..table.header.len())
            .filter(|place| *place != rows)
            .filter_map(|place| Some((place, part(&table.header[place], frequency, options.is_wide)?)))
            .collect();
        is_plausible(&heads, frequency, options.is_wide).then_some((frequency, heads))
    })?;
    let others: Vec<usize> = (0..table.header.len())
        .filter(|place| *place != rows && heads.iter().all(|(own, _)| own != place))
        .collect();
    let mut seen = std::collections::HashSet::new();
    let repeats = !table.rows.rows().all(|row| seen.insert(row.cell(rows)));
    let is_key = |place: &usize| repeats && varies(table, *place) && !is_whole_year(&table.header[*place]);
    let (keys, left_out) = others.into_iter().partition(is_key);
    Some(Layout { rows, heads, frequency, has_years_across: false, keys, left_out })
}

/// A row for each part of the year, years in the header.
fn years_across(table: &Table, is_wide: bool) -> Option<Layout> {
    let heads: Vec<(usize, i64)> =
        table.header.iter().enumerate().filter_map(|(place, head)| Some((place, year(head)?))).collect();
    let step = heads.windows(2).map(|pair| pair[1].1 - pair[0].1);
    let is_run = step.clone().all(|step| step == 1) || step.clone().all(|step| step == -1);
    if heads.len() < 2 || !is_run {
        return None;
    }
    let others: Vec<usize> =
        (0..table.header.len()).filter(|place| heads.iter().all(|(own, _)| own != place)).collect();
    let frequencies = [Frequency::Month, Frequency::Quarter];
    let (rows, frequency) = others.iter().find_map(|place| {
        let found = frequencies.into_iter().find(|frequency| {
            let labels: Option<Vec<(usize, i64)>> = table
                .rows
                .rows()
                .filter(|row| !is_whole_year(row.cell(*place)))
                .map(|row| Some((*place, part(row.cell(*place), *frequency, is_wide)?)))
                .collect();
            labels.is_some_and(|labels| is_plausible(&labels, *frequency, is_wide))
        })?;
        Some((*place, found))
    })?;
    let left_out = others.into_iter().filter(|place| *place != rows).collect();
    Some(Layout { rows, heads, frequency, has_years_across: true, keys: Vec::new(), left_out })
}

/// All parts of the year in order, each once; any of them, each once, where the user says so.
fn is_plausible(found: &[(usize, i64)], frequency: Frequency, is_wide: bool) -> bool {
    let count = if frequency == Frequency::Month { 12 } else { 4 };
    let mut parts: Vec<i64> = found.iter().map(|(_, part)| *part).collect();
    if !is_wide {
        return parts.iter().copied().eq(1..=count);
    }
    let all = parts.len();
    parts.sort_unstable();
    parts.dedup();
    parts.len() == all && all > 1
}

fn year(cell: &str) -> Option<i64> {
    (cell.len() == 4).then(|| cell.parse().ok()).flatten().filter(|year| YEARS.contains(year))
}

/// The month or quarter that a head or label names; plain numbers only where the user says what they are.
fn part(text: &str, frequency: Frequency, takes_numbers: bool) -> Option<i64> {
    let plain = text.trim().trim_end_matches('.').to_lowercase();
    let number = |text: &str, most: i64| {
        text.trim().parse::<i64>().ok().filter(|part| (1..=most).contains(part) && text.trim().len() <= 2)
    };
    let numbered = |most: i64| number(&plain, most).filter(|_| takes_numbers);
    if frequency == Frequency::Month {
        let coded = || plain.strip_prefix('m').and_then(|rest| number(rest, 12));
        return month_number(&plain).or_else(coded).or_else(|| numbered(12));
    }
    let prefixed = ["quarter", "qtr", "q"].iter().find_map(|word| plain.strip_prefix(word));
    let suffixed = || ["quarter", "qtr", "q"].iter().find_map(|word| plain.strip_suffix(word));
    let roman = || ["i", "ii", "iii", "iv"].iter().zip(1..).find(|(own, _)| **own == plain).map(|(_, at)| at);
    let ordinal = |rest: &str| number(rest.trim_end_matches(['s', 't', 'n', 'd', 'r', 'h', ' ', '.']), 4);
    let coded = prefixed.or_else(suffixed).and_then(ordinal);
    coded.or_else(roman).or_else(|| numbered(4))
}

fn is_whole_year(text: &str) -> bool {
    let words = text.to_lowercase();
    words.split(|c: char| !c.is_alphanumeric()).any(|word| WHOLE_YEAR.contains(&word) || word == "year")
}

fn varies(table: &Table, place: usize) -> bool {
    let first = table.rows.row(0).map_or("", |row: Row<'_>| row.cell(place));
    table.rows.rows().any(|row| row.cell(place) != first)
}

/// What was recognised, what is left out, and how to have it otherwise.
fn note(source: &str, table: &Table, layout: &Layout, options: &WideOptions) -> String {
    let (noun, adjective) = (layout.frequency.noun(), layout.frequency.adjective());
    let names = |places: &[usize]| -> Vec<String> {
        places.iter().map(|place| table.header[*place].clone()).collect()
    };
    let shape = if layout.has_years_across {
        format!("a table of {noun}s by years")
    } else {
        format!("a table of years by {noun}s")
    };
    let read = match names(&layout.keys).as_slice() {
        [] => format!("one {adjective} series, `value`"),
        keys => format!("one {adjective} series for each {}", wording::list(keys)),
    };
    let labels = table.rows.rows().map(|row| row.cell(layout.rows));
    let rows = labels.filter(|own| label(own, layout).is_none()).map(str::to_owned);
    let left_out: Vec<String> = names(&layout.left_out).into_iter().chain(rows).collect();
    let without = match left_out.as_slice() {
        [] => String::new(),
        names => format!("; {} left out", wording::list(names)),
    };
    let otherwise = if options.is_wide || layout.has_years_across {
        String::new()
    } else {
        format!(" (--time {} keeps the columns apart)", shell_word(&table.header[layout.rows]))
    };
    format!("{source}: {shape}, read as {read}{without}{otherwise}")
}

fn unlike(source: &str, table: &Table) -> CliError {
    let heads = wording::first_few(&table.header);
    CliError::data(format!("--wide: {source} is no table of years by months or quarters (its columns: {heads})"))
        .advise("it needs a column of years and columns headed Jan to Dec or Q1 to Q4, or months down and years across")
}
