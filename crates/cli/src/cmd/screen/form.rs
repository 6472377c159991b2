//! How rows are written, and how those of an earlier run are known again.

use crate::error::CliError;
use crate::present::screen::{COLUMNS, ScreenRow};
use crate::wording::unguarded;
use serde::{Deserialize, Serialize};

/// How rows are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Form {
    Csv,
    Jsonl,
}

impl Form {
    /// One row, its line's end with it.
    pub fn line(self, row: &ScreenRow) -> Result<Vec<u8>, CliError> {
        match self {
            Self::Jsonl => {
                let mut line = serde_json::to_vec(row).map_err(|error| failed(&error))?;
                line.push(b'\n');
                Ok(line)
            }
            Self::Csv => record(row.cells()),
        }
    }

    /// What is before the first row.
    pub fn head(self) -> Result<Vec<u8>, CliError> {
        match self {
            Self::Jsonl => Ok(Vec::new()),
            Self::Csv => record(COLUMNS.iter().map(|(head, _)| (*head).to_owned())),
        }
    }

    /// Source, series and digest of the rows in a file, and how many of its bytes whole rows take.
    pub fn keys(self, bytes: &[u8]) -> (Vec<Key>, usize) {
        // A line that was cut off may end in the middle of a letter.
        let whole = bytes.iter().rposition(|byte| *byte == b'\n').map_or(0, |end| end + 1);
        let text = std::str::from_utf8(&bytes[..whole]).unwrap_or_default();
        match self {
            Self::Jsonl => {
                let mut keys = Vec::new();
                let mut used = 0;
                for line in text.split_inclusive('\n') {
                    let Ok(row) = serde_json::from_str::<serde_json::Value>(line) else {
                        break;
                    };
                    let field = |name: &str| row[name].as_str().map(str::to_owned);
                    let (Some(source), Some(series)) = (field("source"), field("series")) else {
                        break;
                    };
                    keys.push(Key { source, series, sha256: field("sha256") });
                    used += line.len();
                }
                (keys, used)
            }
            Self::Csv => csv_keys(text),
        }
    }
}

/// Rows of a table whose records may hold line breaks.
fn csv_keys(text: &str) -> (Vec<Key>, usize) {
    let mut reader = csv::ReaderBuilder::new().flexible(true).from_reader(text.as_bytes());
    let place = |name: &str| COLUMNS.iter().position(|(head, _)| *head == name);
    let mut keys = Vec::new();
    if !reader.headers().is_ok_and(|heads| heads.iter().eq(COLUMNS.iter().map(|(head, _)| *head))) {
        return (keys, 0);
    }
    let at = |reader: &csv::Reader<&[u8]>| usize::try_from(reader.position().byte()).unwrap_or(0);
    let mut used = at(&reader);
    let mut record = csv::StringRecord::new();
    while let Ok(true) = reader.read_record(&mut record) {
        if record.len() != COLUMNS.len() {
            break;
        }
        let field = |name: &str| place(name).and_then(|at| record.get(at)).unwrap_or_default();
        let sha256 = Some(field("sha256").to_owned()).filter(|text| !text.is_empty());
        let plain = |name: &str| unguarded(field(name)).to_owned();
        keys.push(Key { source: plain("source"), series: plain("series"), sha256 });
        used = at(&reader);
    }
    (keys, used)
}

/// What a row is known by.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Key {
    pub source: String,
    pub series: String,
    pub sha256: Option<String>,
}

fn failed(reason: &dyn std::fmt::Display) -> CliError {
    CliError::computation(format!("a row cannot be written: {reason}"))
}

fn record(cells: impl IntoIterator<Item = String>) -> Result<Vec<u8>, CliError> {
    let mut writer =
        csv::WriterBuilder::new().terminator(csv::Terminator::Any(b'\n')).from_writer(Vec::new());
    writer.write_record(cells).map_err(|error| failed(&error))?;
    writer.into_inner().map_err(|error| failed(&error))
}
