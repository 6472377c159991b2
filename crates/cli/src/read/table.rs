//! The cells of a file as text: where the header is, which decimal mark.

use ::csv::StringRecord;
use kandrel_core::time::Period;

use super::number::{Decimal, Evidence, evidence};
use crate::error::CliError;
use crate::words;

/// Records from which the shape of a table is told.
pub const SAMPLE: usize = 200;
/// Rows that are asked for their decimal mark.
const ASKED: usize = 5000;

/// The cells of a file as text.
#[derive(Debug)]
pub struct Table {
    pub header: Vec<String>,
    pub rows: Vec<Row>,
    pub decimal: Decimal,
    pub notes: Vec<String>,
}

/// One row and the line (or the row of the sheet) it begins on.
#[derive(Debug)]
pub struct Row {
    pub line: u64,
    pub cells: StringRecord,
}

/// Finds the header among the records; rows of nothing are blank rows.
pub fn assemble(source: &str, mut records: Vec<Row>) -> Result<Table, CliError> {
    records.retain(|row| row.cells.iter().any(|cell| !cell.is_empty()));
    let head = header_place(&records);
    let mut notes = Vec::new();
    if head > 0 {
        notes.push(format!("{source}: {} above the header passed over", words::count(head, "line")));
    }
    let mut records = records.into_iter().skip(head);
    let first = records.next().ok_or_else(|| CliError::data(format!("{source} is empty")))?;
    let width = first.cells.len();
    let rows: Vec<Row> = records.collect();
    if let Some(row) = rows.iter().find(|row| row.cells.len() != width) {
        return Err(unequal(source, row.line, row.cells.len(), width));
    }
    if rows.is_empty() {
        return Err(CliError::data(format!("{source} has a header and no rows")));
    }
    Ok(Table { header: header(&first.cells), rows, decimal: Decimal::Point, notes })
}

impl Table {
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

fn header(record: &StringRecord) -> Vec<String> {
    let named = |(place, name): (usize, &str)| {
        if name.is_empty() { format!("column {}", place + 1) } else { without_guard(name) }
    };
    record.iter().enumerate().map(named).collect()
}

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
fn header_place(records: &[Row]) -> usize {
    let widths: Vec<usize> = records.iter().take(SAMPLE).map(|row| row.cells.len()).collect();
    let width = usual(&widths);
    let filled = |row: &Row| row.cells.iter().filter(|cell| !cell.is_empty()).count();
    let place = records
        .iter()
        .take(SAMPLE)
        .position(|row| row.cells.len() == width && 2 * filled(row) > width)
        .unwrap_or(0);
    let is_data = |cell: &str| evidence_or_digits(cell) || Period::parse(cell).is_ok();
    let data_row = records.get(place).is_some_and(|row| row.cells.iter().any(is_data));
    if data_row { 0 } else { place }
}

fn evidence_or_digits(cell: &str) -> bool {
    evidence(cell) != Evidence::Nothing || cell.parse::<f64>().is_ok()
}

/// The decimal mark that the cells speak for.
pub fn found_decimal(source: &str, rows: &[Row], open: bool) -> Result<Decimal, CliError> {
    let mut unsettled = None;
    let (mut points, mut commas) = (0, 0);
    for row in rows.iter().take(ASKED) {
        for cell in &row.cells {
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
