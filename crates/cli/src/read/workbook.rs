//! Sheets of workbooks: XLSX, XLS, ODS.

use std::io::{BufReader, Cursor};

use calamine::{Cell, Data, DataRef, Ods, Range, Reader, Sheets, Xls, Xlsb, Xlsx, open_workbook_from_rs};
use quick_xml::events::Event;

use super::budget::Budget;
use super::decode::DENSEST;
use super::grid::Grid;
use super::number::{Decimal, with_point};
use super::table::{Table, assemble, found_decimal};
use crate::error::CliError;
use crate::wording;

/// Formats of workbooks.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Format {
    Xls,
    Xlsb,
    Xlsx,
    Ods,
}

/// Whether the bytes are those of a workbook: a zip archive, or the compound
/// file of older ones.
pub fn is_workbook(bytes: &[u8]) -> bool {
    bytes.starts_with(b"PK\x03\x04") || is_compound(bytes)
}

fn is_compound(bytes: &[u8]) -> bool {
    bytes.starts_with(b"\xD0\xCF\x11\xE0")
}

/// The format, by what the archive holds; none of an archive that is no workbook.
fn format_of(bytes: &[u8]) -> Option<Format> {
    if is_compound(bytes) {
        return Some(Format::Xls);
    }
    let archive = zip::ZipArchive::new(Cursor::new(bytes)).ok()?;
    let parts =
        [("xl/workbook.xml", Format::Xlsx), ("xl/workbook.bin", Format::Xlsb), ("content.xml", Format::Ods)];
    let holds = |name: &str| archive.file_names().flatten().any(|own| own.eq_ignore_ascii_case(name));
    parts.into_iter().find(|(name, _)| holds(name)).map(|(_, format)| format)
}

/// What a byte of a sheet's text may take in memory: the shortest cell has four letters.
const CELL: u64 = 16;

/// Whether a workbook cannot take more than is left: its sheets are read cell by cell, and it would not be
/// enough if all of it unpacked as far as anything can.
pub fn is_harmless(bytes: &[u8], budget: &Budget) -> bool {
    let most = (bytes.len() as u64).saturating_mul(DENSEST * CELL);
    most <= budget.left() && format_of(bytes) == Some(Format::Xlsx)
}

/// Reads one sheet: the one that is named (or numbered, from 1), else the first
/// that holds a table.
pub fn parse(source: &str, bytes: &[u8], named: Option<&str>, budget: &Budget) -> Result<Table, CliError> {
    check_size(source, bytes, budget)?;
    let mut book = open(source, bytes)?;
    let names = book.sheet_names();
    let wanted = match named {
        Some(named) => vec![named_sheet(source, named, &names)?],
        None => names.clone(),
    };
    let mut empty = None;
    for name in &wanted {
        let place = format!("{source}, sheet `{name}`");
        let range = cells(source, &place, name, &mut book, budget)?;
        match assemble(&place, records(&range, |cell| text(cell, Decimal::Point)), budget) {
            Ok(table) if named.is_some() || table.header.len() > 1 => {
                // Numbers are numbers; only those kept as text have a decimal mark.
                let decimal = found_decimal(&place, &records(&range, only_text), true)?;
                let mut table = match decimal {
                    Decimal::Point => table,
                    Decimal::Comma => assemble(&place, records(&range, |cell| text(cell, decimal)), budget)?,
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

fn open<'a>(source: &str, bytes: &'a [u8]) -> Result<Sheets<Cursor<&'a [u8]>>, CliError> {
    let from = Cursor::new(bytes);
    let Some(format) = format_of(bytes) else {
        return Err(damaged(source, &"it is an archive without sheets, or not complete"));
    };
    match format {
        Format::Xls => {
            open_workbook_from_rs::<Xls<_>, _>(from).map(Sheets::Xls).map_err(|e| damaged(source, &e))
        }
        Format::Xlsb => {
            open_workbook_from_rs::<Xlsb<_>, _>(from).map(Sheets::Xlsb).map_err(|e| damaged(source, &e))
        }
        Format::Xlsx => {
            open_workbook_from_rs::<Xlsx<_>, _>(from).map(Sheets::Xlsx).map_err(|e| damaged(source, &e))
        }
        Format::Ods => {
            check_ends(source, bytes)?;
            open_workbook_from_rs::<Ods<_>, _>(from).map(Sheets::Ods).map_err(|e| damaged(source, &e))
        }
    }
}

fn damaged(source: &str, reason: &dyn std::fmt::Display) -> CliError {
    CliError::data(format!("{source} cannot be read as a workbook: {reason}"))
        .advise("open it in a spreadsheet program and save the sheet as CSV")
}

/// Refuses an ODS whose elements do not all end: its reader would look for their ends for ever.
fn check_ends(source: &str, bytes: &[u8]) -> Result<(), CliError> {
    let archive = zip::ZipArchive::new(Cursor::new(bytes));
    let Some(mut archive) = archive.ok() else {
        return Ok(());
    };
    let Ok(content) = archive.by_name("content.xml") else {
        // Its reader says what is missing.
        return Ok(());
    };
    let mut reader = quick_xml::Reader::from_reader(BufReader::new(content));
    let (mut buffer, mut open) = (Vec::new(), 0_u64);
    loop {
        match reader.read_event_into(&mut buffer).map_err(|e| damaged(source, &e))? {
            Event::Start(_) => open += 1,
            Event::End(_) => open = open.saturating_sub(1),
            Event::Eof if open > 0 => return Err(damaged(source, &"its content is not complete")),
            Event::Eof => return Ok(()),
            _ => {}
        }
        buffer.clear();
    }
}

/// Refuses an archive that claims to unpack to more than may be taken.
fn check_size(source: &str, bytes: &[u8], budget: &Budget) -> Result<(), CliError> {
    let Ok(mut archive) = zip::ZipArchive::new(Cursor::new(bytes)) else {
        // Not a zip archive: an older workbook, or one that will not open anyway.
        return Ok(());
    };
    let mut claimed: u64 = 0;
    for place in 0..archive.len() {
        claimed = claimed.saturating_add(archive.by_index_raw(place).map_or(0, |file| file.size()));
    }
    budget.take(source, claimed)
}

/// The cells of a sheet, laid out whole.
fn cells(
    source: &str,
    place: &str,
    name: &str,
    book: &mut Sheets<Cursor<&[u8]>>,
    budget: &Budget,
) -> Result<Range<Data>, CliError> {
    let Sheets::Xlsx(book) = book else {
        // The others are laid out by their reader as soon as they are opened.
        return book.worksheet_range(name).map_err(|e| damaged(source, &e));
    };
    let mut reader = book.worksheet_cells_reader(name).map_err(|e| damaged(source, &e))?;
    let mut cells: Vec<Cell<Data>> = Vec::new();
    let (mut last_row, mut last_column) = (0, 0);
    while let Some(cell) = reader.next_cell().map_err(|e| damaged(source, &e))? {
        let (row, column) = cell.get_position();
        let text = match cell.get_value() {
            DataRef::Empty => continue,
            // A text that many cells share is written out for each.
            DataRef::SharedString(text) => text.len() as u64,
            _ => 0,
        };
        // Once as a cell, once in the sheet that is laid out, once as a text of its own.
        budget.take(place, size_of::<Cell<Data>>() as u64 + 3 * text)?;
        last_row = last_row.max(row);
        last_column = last_column.max(column);
        cells.push(Cell::new((row, column), cell.get_value().clone().into()));
    }
    // A lone cell in its last corner makes a sheet of all that lies between.
    let all = (u64::from(last_row) + 1).saturating_mul(u64::from(last_column) + 1);
    budget.take(place, all.saturating_mul(size_of::<Data>() as u64)).map_err(|refusal| {
        let at = format!("its last cell is in row {}, column {}", last_row + 1, last_column + 1);
        refusal.advise(format!("{at}: delete stray cells far from the table"))
    })?;
    Ok(Range::from_sparse(cells))
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
