//! Readers: bytes in, a table of periods and columns out.

mod apart;
mod budget;
mod csv;
mod dataset;
mod days;
mod decode;
mod edges;
mod grid;
mod guard;
mod json;
mod long;
mod number;
mod once;
mod quotes;
pub mod record;
mod spelling;
mod table;
mod time_column;
mod time_numbers;
mod unlaid;
mod workbook;
mod year_table;

use std::fs::File;
use std::io::Read;
use std::sync::Arc;

use sha2::{Digest, Sha256};

pub use apart::{APART, allow as allow_apart, serve as serve_apart};
pub use budget::{Budget, Memory};
pub use csv::CsvOptions;
pub use dataset::{ColumnContent, Dataset};
pub use long::LongOptions;
pub use number::Decimal;
use number::Style;
pub use spelling::DateOrder;
use table::Table;
pub use time_column::{Every, TimeOptions};
use year_table::WideOptions;

use crate::demo;
use crate::error::CliError;
use crate::wording;

/// What the user says of a file; the rest is found.
#[derive(Debug, Clone, Default)]
pub struct ReadOptions {
    pub time: TimeOptions,
    pub encoding: Option<String>,
    /// A sheet's name or its number, from 1.
    pub sheet: Option<String>,
    pub csv: CsvOptions,
    pub long: LongOptions,
    /// The table is said to have a row for each year and a column for each month or quarter.
    pub is_wide: bool,
    /// Marks of a missing value in addition to the usual ones.
    pub missing: Vec<String>,
    /// What reading may take; half of the machine's memory if not said.
    pub memory: Option<Memory>,
}

/// Reads a file, standard input (`-`) or demo data (`demo:NAME`).
pub fn open(name: &str, options: &ReadOptions, stdin: &mut dyn Read) -> Result<Dataset, CliError> {
    let budget = Budget::new(options.memory);
    let bytes = Arc::new(bytes_of(name, stdin, &budget)?);
    // The digest takes as long as the reading, so it is made next to it, where there is a thread to be had.
    let (own, later) = (Arc::clone(&bytes), Arc::clone(&bytes));
    std::thread::scope(|scope| {
        let thread = std::thread::Builder::new().spawn_scoped(scope, move || digest(&own));
        let mut dataset = dataset_of(name, bytes, options, &budget)?;
        let made = thread.ok().and_then(|thread| thread.join().ok());
        dataset.sha256 = made.unwrap_or_else(|| digest(&later));
        Ok(dataset)
    })
}

fn dataset_of(
    name: &str,
    bytes: Arc<Vec<u8>>,
    options: &ReadOptions,
    budget: &Budget,
) -> Result<Dataset, CliError> {
    let table = table_of(name, &decode::unpack(name, bytes, budget)?, options, budget)?;
    let style = Style { decimal: table.decimal, missing: options.missing.clone() };
    let place = table.sheet.clone().unwrap_or_else(|| name.to_owned());
    let table = long::widen(&place, table, &options.long, &options.time, &style, budget)?;
    let (table, time) = match year_table::unfold(&place, &table, &wide_options(options), &style, budget)? {
        Some(unfolded) => (unfolded, TimeOptions::default()),
        None => (table, options.time.clone()),
    };
    let dataset = dataset::build(&place, &table, &style, &time, budget)?;
    Ok(Dataset { source: name.to_owned(), ..dataset })
}

fn wide_options(options: &ReadOptions) -> WideOptions {
    WideOptions {
        is_wide: options.is_wide,
        years: options.time.column.clone(),
        is_counted: options.time.start.is_some() || options.time.every.is_some(),
    }
}

/// How files begin that are often named by mistake, and what they are.
const FOREIGN: &[(&[u8], &str)] = &[
    (b"PAR1", "a Parquet file"),
    (b"ARROW1", "an Arrow file"),
    (b"%PDF", "a PDF document"),
    (b"\x89PNG", "an image"),
    (b"\xFF\xD8\xFF", "an image"),
    (b"SQLite format 3", "a database"),
    (b"Rar!", "an archive"),
    (b"7z\xBC\xAF", "an archive"),
    (b"BZh", "a .bz2 archive"),
    (b"\xFD7zXZ", "an .xz archive"),
    (b"\x28\xB5\x2F\xFD", "a .zst archive"),
];

fn table_of(
    name: &str,
    bytes: &Arc<Vec<u8>>,
    options: &ReadOptions,
    budget: &Budget,
) -> Result<Table, CliError> {
    if workbook::is_workbook(bytes) {
        return apart::parse(name, bytes, options.sheet.as_deref(), budget);
    }
    if let Some((start, kind)) = FOREIGN.iter().find(|(start, _)| bytes.starts_with(start)) {
        let error = CliError::data(format!("{name} is {kind}, which kandrel does not read"));
        return Err(error.advise(match *start {
            b"PAR1" => format!("convert it, as by: duckdb -csv -c \"from '{name}'\" > table.csv"),
            b"ARROW1" => format!(
                "convert it, as by: python3 -c \"from pyarrow import csv, feather; \
                 csv.write_csv(feather.read_table('{name}'), 'table.csv')\""
            ),
            _ => "save the table as CSV, XLSX, ODS or JSON".to_owned(),
        }));
    }
    if options.sheet.is_some() {
        return Err(CliError::call(format!("--sheet: {name} is no workbook")).advise("leave --sheet out"));
    }
    let decoded = decode::decode(name, bytes, options.encoding.as_deref(), budget)?;
    let text = decoded.text.as_str();
    let mut table = if json::is_json(name, text) {
        json::parse(name, text, budget)?
    } else {
        csv::parse(name, &decoded.text, &options.csv, budget)?
    };
    table.notes.splice(0..0, decoded.notes);
    Ok(table)
}

fn bytes_of(name: &str, stdin: &mut dyn Read, budget: &Budget) -> Result<Vec<u8>, CliError> {
    if let Some(set) = name.strip_prefix("demo:") {
        let known: Vec<String> = demo::names().map(|name| format!("demo:{name}")).collect();
        return demo::find(set).map(<[u8]>::to_vec).ok_or_else(|| {
            CliError::data(format!("there is no demo data {name}"))
                .advise(format!("there is {}", wording::list(&known)))
        });
    }
    if name == "-" {
        let bytes = decode::whole("standard input", stdin, 0, budget)?;
        return bytes.map_err(|e| CliError::data(format!("standard input cannot be read: {e}")));
    }
    let read = match File::open(name) {
        Ok(mut file) => {
            // A file says what it takes before it is read; a pipe does not.
            let length = file.metadata().map_or(0, |about| about.len());
            decode::whole(name, &mut file, length, budget)?
        }
        Err(error) => Err(error),
    };
    read.map_err(|e| match e.kind() {
        std::io::ErrorKind::NotFound => {
            CliError::data(format!("there is no file {name}")).advise("check the path, or try demo:harbour")
        }
        _ => CliError::data(format!("{name} cannot be read: {e}")),
    })
}

/// The SHA-256 of bytes, as hexadecimal digits.
pub fn digest(bytes: &[u8]) -> String {
    use std::fmt::Write as _;
    Sha256::digest(bytes).iter().fold(String::new(), |mut text, byte| {
        // Writing to a string cannot fail.
        let _ = write!(text, "{byte:02x}");
        text
    })
}
