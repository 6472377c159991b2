use ::csv::{ErrorKind, ReaderBuilder, StringRecord, Trim};

use crate::error::CliError;

/// The cells of a file as text.
pub struct Table {
    pub header: Vec<String>,
    pub rows: Vec<Row>,
}

/// One row and the line it begins on.
pub struct Row {
    pub line: u64,
    pub cells: StringRecord,
}

/// Reads comma-separated values with a header.
pub fn parse(source: &str, bytes: &[u8]) -> Result<Table, CliError> {
    let bytes = bytes.strip_prefix(b"\xEF\xBB\xBF").unwrap_or(bytes);
    if bytes.iter().all(u8::is_ascii_whitespace) {
        return Err(CliError::data(format!("{source} is empty")));
    }
    let mut reader = ReaderBuilder::new().trim(Trim::All).from_reader(bytes);
    let header: Vec<String> = reader
        .headers()
        .map_err(|error| reading_error(source, &error))?
        .iter()
        .enumerate()
        .map(
            |(place, name)| {
                if name.is_empty() { format!("column {}", place + 1) } else { without_guard(name) }
            },
        )
        .collect();
    check_delimiter(source, &header)?;
    let mut rows = Vec::new();
    for record in reader.records() {
        let cells = record.map_err(|error| reading_error(source, &error))?;
        let line = cells.position().map_or(0, ::csv::Position::line);
        rows.push(Row { line, cells });
    }
    if rows.is_empty() {
        return Err(CliError::data(format!("{source} has a header and no rows")));
    }
    Ok(Table { header, rows })
}

/// An apostrophe that keeps a spreadsheet from running a name as a formula is no
/// part of the name.
fn without_guard(name: &str) -> String {
    let guarded = name.strip_prefix('\'').filter(|rest| rest.starts_with(['=', '+', '-', '@']));
    guarded.unwrap_or(name).to_owned()
}

/// One column whose name holds another delimiter is a file split wrongly.
fn check_delimiter(source: &str, header: &[String]) -> Result<(), CliError> {
    let [only] = header else {
        return Ok(());
    };
    let other = [(';', "semicolons"), ('\t', "tabs"), ('|', "bars")]
        .into_iter()
        .find(|(mark, _)| only.contains(*mark));
    match other {
        None => Ok(()),
        Some((_, name)) => {
            Err(CliError::data(format!("{source}, line 1: the columns are separated by {name}"))
                .advise("save the file with commas between the columns and points in the numbers"))
        }
    }
}

fn reading_error(source: &str, error: &::csv::Error) -> CliError {
    let line = error.position().map_or(0, ::csv::Position::line);
    match error.kind() {
        ErrorKind::UnequalLengths { expected_len, len, .. } => {
            CliError::data(format!("{source}, line {line}: {len} fields where the header has {expected_len}"))
                .advise(
                    "every line needs as many fields as the header; numbers with commas in them need quotes",
                )
        }
        ErrorKind::Utf8 { .. } => CliError::data(format!("{source}, line {line}: this is not UTF-8 text"))
            .advise("save the file as CSV in UTF-8"),
        _ => CliError::data(format!("{source}, line {line}: {error}")),
    }
}
