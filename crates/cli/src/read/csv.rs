//! Delimited text: which delimiter, where the header is, which decimal mark.

use ::csv::{ErrorKind, ReaderBuilder, StringRecord, Trim};
use kandrel_core::time::Period;

use super::number::{Decimal, Evidence, evidence};
use crate::error::CliError;
use crate::words;

/// What the user says of a text file; the rest is found.
#[derive(Debug, Clone, Default)]
pub struct CsvOptions {
    pub delimiter: Option<u8>,
    pub decimal: Option<Decimal>,
}

/// The cells of a file as text.
#[derive(Debug)]
pub struct Table {
    pub header: Vec<String>,
    pub rows: Vec<Row>,
    pub decimal: Decimal,
    pub notes: Vec<String>,
}

/// One row and the line it begins on.
#[derive(Debug)]
pub struct Row {
    pub line: u64,
    pub cells: StringRecord,
}

/// Records from which the delimiter and the header are told.
const SAMPLE: usize = 200;
/// Rows that are asked for their decimal mark.
const ASKED: usize = 5000;

/// Delimiters in the order of preference: a comma may also stand in numbers.
const DELIMITERS: [(u8, &str); 4] = [(b'\t', "tabs"), (b';', "semicolons"), (b'|', "bars"), (b',', "commas")];

/// Reads delimited text with a header.
pub fn parse(source: &str, text: &str, options: &CsvOptions) -> Result<Table, CliError> {
    if text.chars().all(char::is_whitespace) {
        return Err(CliError::data(format!("{source} is empty")));
    }
    let delimiter = options.delimiter.unwrap_or_else(|| likely_delimiter(text));
    let mut records = Vec::new();
    for record in reader(text, delimiter).records() {
        let record = record.map_err(|error| reading_error(source, &error))?;
        // Rows of nothing but delimiters are blank rows.
        if record.iter().any(|cell| !cell.is_empty()) {
            records.push(record);
        }
    }
    let head = header_place(&records);
    let mut notes = Vec::new();
    if head > 0 {
        notes.push(format!("{source}: {} above the header passed over", words::count(head, "line")));
    }
    let mut records = records.into_iter().skip(head);
    let first = records.next().ok_or_else(|| CliError::data(format!("{source} is empty")))?;
    let width = first.len();
    let mut rows = Vec::new();
    for cells in records {
        let line = cells.position().map_or(0, ::csv::Position::line);
        if cells.len() != width {
            return Err(unequal(source, line, cells.len(), width));
        }
        rows.push(Row { line, cells });
    }
    if rows.is_empty() {
        return Err(CliError::data(format!("{source} has a header and no rows")));
    }
    let decimal = match options.decimal {
        Some(decimal) => decimal,
        None => found_decimal(source, &rows, delimiter)?,
    };
    if let Some((_, name)) = DELIMITERS.iter().find(|(mark, _)| *mark == delimiter && *mark != b',') {
        let commas = if decimal == Decimal::Comma { ", decimal commas" } else { "" };
        notes.push(format!("{source}: columns separated by {name}{commas}"));
    }
    Ok(Table { header: header(&first), rows, decimal, notes })
}

fn reader(text: &str, delimiter: u8) -> ::csv::Reader<&[u8]> {
    ReaderBuilder::new()
        .delimiter(delimiter)
        .trim(Trim::All)
        .flexible(true)
        .has_headers(false)
        .from_reader(text.as_bytes())
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

/// The delimiter that cuts most of the first records into one number of fields;
/// a comma if none cuts them at all.
fn likely_delimiter(text: &str) -> u8 {
    let mut best = (b',', 0.0);
    for (mark, _) in DELIMITERS {
        let counts: Vec<usize> = reader(text, mark)
            .records()
            .take(SAMPLE)
            .map_while(Result::ok)
            .map(|record| record.len())
            .collect();
        let usual = usual(&counts);
        let share =
            counts.iter().filter(|count| **count == usual).count() as f64 / counts.len().max(1) as f64;
        if usual > 1 && share > best.1 {
            best = (mark, share);
        }
    }
    best.0
}

/// The most frequent number, the larger of equally frequent ones.
fn usual(counts: &[usize]) -> usize {
    let frequency = |wanted: usize| counts.iter().filter(|count| **count == wanted).count();
    let mut distinct = counts.to_vec();
    distinct.sort_unstable();
    distinct.dedup();
    distinct.into_iter().max_by_key(|count| (frequency(*count), *count)).unwrap_or(0)
}

/// The first record as wide as most and not mostly empty. A title is narrower or
/// mostly empty; a row of data is never taken for the header below a title.
fn header_place(records: &[StringRecord]) -> usize {
    let widths: Vec<usize> = records.iter().take(SAMPLE).map(StringRecord::len).collect();
    let width = usual(&widths);
    let filled = |record: &StringRecord| record.iter().filter(|cell| !cell.is_empty()).count();
    let place = records
        .iter()
        .take(SAMPLE)
        .position(|record| record.len() == width && 2 * filled(record) > width)
        .unwrap_or(0);
    let is_data = |cell: &str| evidence_or_digits(cell) || Period::parse(cell).is_ok();
    let data_row = records.get(place).is_some_and(|record| record.iter().any(is_data));
    if data_row { 0 } else { place }
}

fn evidence_or_digits(cell: &str) -> bool {
    evidence(cell) != Evidence::Nothing || cell.parse::<f64>().is_ok()
}

/// The decimal mark that the cells speak for.
fn found_decimal(source: &str, rows: &[Row], delimiter: u8) -> Result<Decimal, CliError> {
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
        (0, 0, Some((line, cell))) if delimiter != b',' => {
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

fn unequal(source: &str, line: u64, found: usize, wanted: usize) -> CliError {
    CliError::data(format!("{source}, line {line}: {found} fields where the header has {wanted}"))
        .advise("every line needs as many fields as the header; numbers with commas in them need quotes")
}

fn reading_error(source: &str, error: &::csv::Error) -> CliError {
    let line = error.position().map_or(0, ::csv::Position::line);
    match error.kind() {
        ErrorKind::UnequalLengths { expected_len, len, .. } => unequal(
            source,
            line,
            usize::try_from(*len).unwrap_or(0),
            usize::try_from(*expected_len).unwrap_or(0),
        ),
        _ => CliError::data(format!("{source}, line {line}: {error}")),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn table(text: &str) -> Table {
        parse("a.csv", text, &CsvOptions::default()).unwrap_or_else(|error| panic!("{error}"))
    }

    #[test]
    fn the_delimiter_is_the_one_that_cuts_evenly() {
        for (text, columns) in [
            ("a,b\n1,2\n", 2),
            ("a;b;c\n1,5;2,5;3\n4;5;6\n", 3),
            ("a\tb\n1,5\t2\n", 2),
            ("a|b\n1|2\n", 2),
            ("a\n1\n2\n", 1),
            ("a,\"b;c;d\"\n1,2\n", 2),
        ] {
            assert_eq!(table(text).header.len(), columns, "{text}");
        }
    }

    #[test]
    fn titles_and_blank_rows_above_the_header_are_passed_over() {
        for text in [
            "Harbour office\n\nmonth,x\n2001-01,1\n2001-02,2\n",
            "Harbour office,\n,\nmonth,x\n2001-01,1\n2001-02,2\n",
        ] {
            let table = table(text);
            assert_eq!(table.header, ["month", "x"], "{text}");
            assert_eq!((table.rows.len(), table.notes.len()), (2, 1));
        }
        // A header too narrow for its rows is a fault, not a title.
        let narrow = parse("a.csv", "month,x\n2001-01,1,5\n2001-02,2,5\n", &CsvOptions::default());
        assert!(
            narrow.is_err_and(|error| error.to_string().contains("line 2: 3 fields where the header has 2"))
        );
    }

    #[test]
    fn the_decimal_mark_is_the_one_the_cells_speak_for() {
        assert_eq!(table("a;b\n1,5;2\n").decimal, Decimal::Comma);
        assert_eq!(table("a;b\n1.5;2\n").decimal, Decimal::Point);
        assert_eq!(table("a;b\n1.234,5;1.234\n").decimal, Decimal::Comma);
        assert_eq!(table("a,b\n\"1,234\",2\n").decimal, Decimal::Point);
        let open = parse("a.csv", "a;b\n1,234;2\n", &CsvOptions::default());
        assert!(open.is_err_and(|error| error.to_string().contains("may be 1234 or 1.234")));
        let told = CsvOptions { decimal: Some(Decimal::Comma), ..CsvOptions::default() };
        assert_eq!(
            parse("a.csv", "a;b\n1,234;2\n", &told).map(|table| table.decimal).ok(),
            Some(Decimal::Comma)
        );
    }
}
