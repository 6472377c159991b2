//! Sheets of workbooks: XLSX, XLS, ODS.

use std::io::Cursor;

use calamine::{Data, Range, Reader, Sheets, open_workbook_auto_from_rs};

use super::grid::Grid;
use super::number::{Decimal, with_point};
use super::table::{Table, assemble, found_decimal};
use crate::error::CliError;
use crate::wording;

/// A zipped workbook may not claim more than this when unpacked: 2 GiB.
const LARGEST: u64 = 1 << 31;

/// More cells than this, empty ones between others counted, are not laid out.
const MOST_CELLS: u64 = 40_000_000;

/// Whether the bytes are those of a workbook: a zip archive, or the compound
/// file of older ones.
pub fn is_workbook(bytes: &[u8]) -> bool {
    bytes.starts_with(b"PK\x03\x04") || bytes.starts_with(b"\xD0\xCF\x11\xE0")
}

/// Reads one sheet: the one that is named (or numbered, from 1), else the first
/// that holds a table.
pub fn parse(source: &str, bytes: &[u8], named: Option<&str>) -> Result<Table, CliError> {
    check_size(source, bytes)?;
    let damaged = |reason: &dyn std::fmt::Display| {
        CliError::data(format!("{source} cannot be read as a workbook: {reason}"))
            .advise("open it in a spreadsheet program and save the sheet as CSV")
    };
    let mut book = open_workbook_auto_from_rs(Cursor::new(bytes)).map_err(|e| damaged(&e))?;
    let names = book.sheet_names();
    let wanted = match named {
        Some(named) => vec![named_sheet(source, named, &names)?],
        None => names.clone(),
    };
    let mut empty = None;
    for name in &wanted {
        check_extent(source, name, &mut book)?;
        let range = book.worksheet_range(name).map_err(|e| damaged(&e))?;
        let place = format!("{source}, sheet `{name}`");
        match assemble(&place, records(&range, |cell| text(cell, Decimal::Point))) {
            Ok(table) if named.is_some() || table.header.len() > 1 => {
                // Numbers are numbers; only those kept as text have a decimal mark.
                let decimal = found_decimal(&place, &records(&range, only_text), true)?;
                let mut table = match decimal {
                    Decimal::Point => table,
                    Decimal::Comma => assemble(&place, records(&range, |cell| text(cell, decimal)))?,
                };
                table.sheet = Some(place);
                table.notes.insert(0, chosen(source, name, &names));
                return Ok(table);
            }
            Ok(_) => {}
            Err(error) if named.is_some() => return Err(error),
            Err(error) => empty = empty.or(Some(error)),
        }
    }
    Err(empty.unwrap_or_else(|| CliError::data(format!("{source} has no sheet with a table in it"))))
}

/// Refuses an archive that claims to unpack to more than can be meant.
fn check_size(source: &str, bytes: &[u8]) -> Result<(), CliError> {
    let Ok(mut archive) = zip::ZipArchive::new(Cursor::new(bytes)) else {
        // Not a zip archive: an older workbook, or one that will not open anyway.
        return Ok(());
    };
    let mut claimed: u64 = 0;
    for place in 0..archive.len() {
        claimed = claimed.saturating_add(archive.by_index_raw(place).map_or(0, |file| file.size()));
    }
    if claimed > LARGEST {
        return Err(CliError::data(format!("{source} would unpack to {claimed} bytes: more than {LARGEST}")));
    }
    Ok(())
}

/// A sheet is laid out whole in memory, so a lone cell in its last corner would
/// take all there is: such a sheet is refused.
fn check_extent(source: &str, name: &str, book: &mut Sheets<Cursor<&[u8]>>) -> Result<(), CliError> {
    let Sheets::Xlsx(book) = book else {
        // The older formats have small sheets, and ODS is laid out row by row.
        return Ok(());
    };
    // What cannot be read here is reported when the sheet itself is.
    let Ok(mut cells) = book.worksheet_cells_reader(name) else {
        return Ok(());
    };
    let (mut last_row, mut last_column) = (0, 0);
    while let Ok(Some(cell)) = cells.next_cell() {
        let (row, column) = cell.get_position();
        last_row = last_row.max(u64::from(row));
        last_column = last_column.max(u64::from(column));
    }
    if (last_row + 1) * (last_column + 1) > MOST_CELLS {
        return Err(CliError::data(format!(
            "{source}, sheet `{name}`: its last cell is in row {}, column {}, too far out to read",
            last_row + 1,
            last_column + 1
        ))
        .advise("delete stray cells far from the table, or save the sheet as CSV"));
    }
    Ok(())
}

fn named_sheet(source: &str, named: &str, names: &[String]) -> Result<String, CliError> {
    let by_number = || named.parse::<usize>().ok().and_then(|number| names.get(number.checked_sub(1)?));
    let found = names.iter().find(|name| *name == named).or_else(by_number);
    found.cloned().ok_or_else(|| {
        let error = CliError::data(format!("{source} has no sheet `{named}`"));
        match wording::nearest(named, names) {
            Some(near) => error.advise(format!("did you mean `{near}`?")),
            None => error.advise(format!("it has {}", wording::list(names))),
        }
    })
}

fn chosen(source: &str, name: &str, names: &[String]) -> String {
    match names {
        [_] => format!("{source}: sheet `{name}`"),
        _ => format!("{source}: sheet `{name}` of {} (--sheet takes another)", wording::list(names)),
    }
}

/// Rows as texts, with their numbers in the sheet.
fn records(range: &Range<Data>, write: impl Fn(&Data) -> String) -> Grid {
    let first = u64::from(range.start().map_or(0, |(row, _)| row)) + 1;
    let mut grid = Grid::default();
    for (cells, line) in range.rows().zip(first..) {
        let texts: Vec<String> = cells.iter().map(&write).collect();
        grid.push(line, texts.iter().map(String::as_str));
    }
    grid
}

fn only_text(cell: &Data) -> String {
    match cell {
        Data::String(text) => text.trim().to_owned(),
        _ => String::new(),
    }
}

/// A cell as it would be in a text file: numbers with all their digits and a
/// decimal point (those kept as text have the mark `decimal`), dates as ISO 8601
/// writes them.
fn text(cell: &Data, decimal: Decimal) -> String {
    match cell {
        Data::Empty => String::new(),
        Data::String(text) if decimal == Decimal::Comma => with_point(text.trim()),
        Data::String(text) => text.trim().to_owned(),
        Data::Float(value) => value.to_string(),
        Data::Int(value) => value.to_string(),
        Data::Bool(value) => value.to_string(),
        Data::DateTime(moment) if moment.is_datetime() => {
            let (year, month, day, hour, minute, second, _) = moment.to_ymd_hms_milli();
            let date = format!("{year:04}-{month:02}-{day:02}");
            if (hour, minute, second) == (0, 0, 0) {
                date
            } else {
                format!("{date}T{hour:02}:{minute:02}:{second:02}")
            }
        }
        Data::DateTime(span) => span.as_f64().to_string(),
        Data::DateTimeIso(text) | Data::DurationIso(text) => text.clone(),
        Data::Error(error) => error.to_string(),
    }
}
