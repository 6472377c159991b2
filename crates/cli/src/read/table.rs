//! The cells of a file as text: where the header is, which decimal mark.

use std::collections::HashMap;

use kandrel_core::time::Period;

use super::budget::Budget;
use super::edges;
use super::grid::{Grid, Row};
use super::number::{Decimal, Evidence, evidence};
use super::record;
use crate::error::CliError;
use crate::visible::visible_name;
use crate::wording;

/// Records from which the shape of a table is inferred.
pub const SAMPLE: usize = 200;
/// Rows that are asked for their decimal mark.
const ASKED: usize = 5000;

/// The cells of a file as text.
#[derive(Debug)]
pub struct Table {
    pub header: Vec<String>,
    pub rows: Grid,
    pub decimal: Decimal,
    pub notes: Vec<String>,
    /// The sheet it is on, with its file, for messages.
    pub sheet: Option<String>,
    /// What a row is called in messages: a line or a record.
    pub row_word: &'static str,
    /// Lines of single cells (row, column) that stood elsewhere than their row.
    pub lines: HashMap<(usize, usize), u64>,
    /// What the values of its only series were headed, where they stood below each other.
    pub only_value: Option<String>,
    /// What the record says that it was read from.
    pub record: Option<record::About>,
}

/// Finds the header among the records.
pub fn assemble(source: &str, mut records: Grid, budget: &Budget) -> Result<Table, CliError> {
    let head = header_place(&records);
    let mut skipped = Vec::new();
    if head > 0 {
        skipped.push(format!("{} above the header", lines(head)));
    }
    let first = records.row(head).ok_or_else(|| CliError::data(format!("{source} is empty")))?;
    budget.take_table(source, records.len(), first.len())?;
    let (header, width) = (header(first), first.len());
    if head == 0 && is_data(first) {
        // Nothing of the table may be lost to a header that is not there.
        return Err(CliError::data(format!(
            "{source}, line {}: no header: the first line contains data ({})",
            first.line,
            first.cells().take(3).collect::<Vec<_>>().join(", ")
        ))
        .advise("write a line of names above it, as month,rate"));
    }
    records.pass_over(head + 1);
    let units = edges::unit_rows(&records);
    if units > 0 {
        let first: Vec<&str> = records.row(0).map(filled).unwrap_or_default();
        skipped.push(format!("{} with units ({})", lines(units), shown(&first.join(", "))));
        records.pass_over(units);
    }
    let footers = edges::footers(&records, width);
    if footers > 0 {
        let first = records.row(records.len() - footers).map(filled).unwrap_or_default();
        let label = shown(first.first().unwrap_or(&""));
        skipped.push(format!("{} below the table ({label})", lines(footers)));
        records.drop_last(footers);
    }
    if let Some(row) = records.rows().find(|row| row.len() != width) {
        return Err(unequal(source, row.line, row.len(), width));
    }
    if records.is_empty() {
        return Err(CliError::data(format!("{source} has a header and no rows")));
    }
    let notes = note(source, &skipped).into_iter().collect();
    Ok(Table { rows: records, notes, ..Table::new(header) })
}

impl Table {
    /// A table without rows.
    pub fn new(header: Vec<String>) -> Self {
        Self {
            header,
            rows: Grid::default(),
            decimal: Decimal::Point,
            notes: Vec::new(),
            sheet: None,
            row_word: "line",
            lines: HashMap::new(),
            only_value: None,
            record: None,
        }
    }

    /// A table without rows, read the same way.
    pub fn emptied(&self, header: Vec<String>) -> Self {
        Self {
            decimal: self.decimal,
            notes: self.notes.clone(),
            sheet: self.sheet.clone(),
            row_word: self.row_word,
            ..Self::new(header)
        }
    }

    /// The line of a cell.
    pub fn line_of(&self, row: usize, column: usize) -> u64 {
        let own = self.lines.get(&(row, column)).copied();
        own.or_else(|| self.rows.row(row).map(|row| row.line)).unwrap_or(0)
    }

    /// Sets the decimal mark: as named, or as the cells speak for it. Where
    /// commas are `open` to be either, cells that leave it so are refused.
    pub fn settle_decimal(
        &mut self,
        source: &str,
        named: Option<Decimal>,
        open: bool,
    ) -> Result<(), CliError> {
        self.decimal = match named {
            Some(decimal) => decimal,
            None => found_decimal(source, &self.rows, open)?,
        };
        Ok(())
    }
}

fn header(record: Row<'_>) -> Vec<String> {
    let named = |(place, name): (usize, &str)| {
        if name.is_empty() { nameless(place) } else { visible_name(&without_guard(name)) }
    };
    record.cells().enumerate().map(named).collect()
}

/// What a column without a name is called.
pub fn nameless(place: usize) -> String {
    format!("column {}", place + 1)
}

/// One note of all that was skipped.
fn note(source: &str, skipped: &[String]) -> Option<String> {
    let (last, others) = skipped.split_last()?;
    let list = if others.is_empty() { last.clone() } else { format!("{} and {last}", others.join(", ")) };
    Some(format!("{source}: {list} skipped"))
}

fn lines(count: usize) -> String {
    wording::count(count, "line")
}

/// The cells of a row that hold something.
fn filled(row: Row<'_>) -> Vec<&str> {
    row.cells().filter(|cell| !cell.is_empty()).collect()
}

/// The beginning of a skipped line.
fn shown(text: &str) -> String {
    match text.char_indices().nth(SHOWN) {
        Some((end, _)) => format!("{}…", &text[..end]),
        None => text.to_owned(),
    }
}

/// Letters of a skipped line that a note repeats.
const SHOWN: usize = 60;

/// An apostrophe that keeps a spreadsheet from running a name as a formula is no
/// part of the name.
fn without_guard(name: &str) -> String {
    let guarded = name.strip_prefix('\'').filter(|rest| rest.starts_with(['=', '+', '-', '@']));
    guarded.unwrap_or(name).to_owned()
}

/// The most frequent number, the larger of equally frequent ones.
pub fn usual(counts: &[usize]) -> usize {
    let frequency = |wanted: usize| counts.iter().filter(|count| **count == wanted).count();
    let mut distinct = counts.to_vec();
    distinct.sort_unstable();
    distinct.dedup();
    distinct.into_iter().max_by_key(|count| (frequency(*count), *count)).unwrap_or(0)
}

/// The first record as wide as most and not mostly empty. A title is narrower or
/// mostly empty; a row of data is never taken for the header below a title.
fn header_place(records: &Grid) -> usize {
    let widths: Vec<usize> = records.rows().take(SAMPLE).map(|row| row.len()).collect();
    let width = usual(&widths);
    let filled = |row: Row<'_>| row.cells().filter(|cell| !cell.is_empty()).count();
    let place = records
        .rows()
        .take(SAMPLE)
        .position(|row| row.len() == width && 2 * filled(row) > width)
        .unwrap_or(0);
    let data_row = records.row(place).is_some_and(|row| row.cells().any(is_value) && !heads_years(row));
    if data_row { 0 } else { place }
}

/// Whether every cell is a number or a period, and not all of them years, which may
/// be names.
fn is_data(row: Row<'_>) -> bool {
    row.cells().all(is_value) && !row.cells().all(is_year)
}

/// Whether a row heads a column of labels and a column for each of several years.
fn heads_years(row: Row<'_>) -> bool {
    let mut cells = row.cells();
    cells.next().is_some_and(|first| !is_value(first)) && row.len() > 2 && cells.all(is_year)
}

fn is_year(cell: &str) -> bool {
    cell.len() == 4 && cell.bytes().all(|byte| byte.is_ascii_digit())
}

fn is_value(cell: &str) -> bool {
    evidence(cell) != Evidence::Nothing
        || cell.parse::<f64>().is_ok()
        || Period::parse_standard(cell).is_some()
}

/// The decimal mark that the cells speak for.
pub fn found_decimal(source: &str, rows: &Grid, open: bool) -> Result<Decimal, CliError> {
    let mut unsettled = None;
    let (mut points, mut commas) = (0, 0);
    for row in rows.rows().take(ASKED) {
        for cell in row.cells() {
            match evidence(cell) {
                Evidence::Point => points += 1,
                Evidence::Comma => commas += 1,
                Evidence::Either => unsettled = unsettled.or(Some((row.line, cell.to_owned()))),
                Evidence::Nothing => {}
            }
        }
    }
    match (points, commas, unsettled) {
        (0, 0, Some((line, cell))) if open => {
            let (thousand, one) = (cell.replace(',', ""), cell.replace(',', "."));
            Err(CliError::data(format!(
                "{source}, line {line}: {cell} may be {thousand} or {one}, and no cell settles it"
            ))
            .advise("write --decimal . for the first reading, --decimal , for the second"))
        }
        _ if commas > points => Ok(Decimal::Comma),
        _ => Ok(Decimal::Point),
    }
}

/// A row with another number of fields than the header.
pub fn unequal(source: &str, line: u64, found: usize, wanted: usize) -> CliError {
    CliError::data(format!("{source}, line {line}: {found} fields where the header has {wanted}"))
        .advise("every line needs as many fields as the header; numbers with commas in them need quotes")
}
