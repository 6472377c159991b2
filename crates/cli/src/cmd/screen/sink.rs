//! Where rows go as they are done: standard output, or a file that takes its name when all are.

use std::collections::VecDeque;
use std::fs::{self, File, OpenOptions};
use std::io::Write;
use std::path::{Path, PathBuf};

use crate::error::CliError;
use crate::output::unwritable;
use crate::present::screen::{COLUMNS, ScreenRow};
use crate::wording::unguarded;

/// How rows are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
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
    fn keys(self, bytes: &[u8]) -> (Vec<Key>, usize) {
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

/// A file in the making.
pub struct Pending {
    path: PathBuf,
    part: PathBuf,
    file: File,
    /// Rows that an earlier run has written, in order.
    pub done: VecDeque<Key>,
}

impl Pending {
    /// Begins a file, or goes on with one; `None` where there is nothing left to do.
    pub fn open(path: &Path, form: Form, resume: bool, force: bool) -> Result<Option<Self>, CliError> {
        let mut name = path.file_name().unwrap_or_default().to_owned();
        name.push(".part");
        let part = path.with_file_name(name);
        let shown = part.display();
        if resume && !part.exists() && path.exists() {
            return Ok(None);
        }
        if !resume {
            crate::output::check_target(path, force)?;
            if part.exists() && !force {
                return Err(CliError::call(format!("{shown} is an unfinished screening"))
                    .advise("continue with --resume, or start again with --force"));
            }
        }
        let unwritable = |error: std::io::Error| unwritable(&part, &error);
        if resume && part.exists() {
            let (done, used) = form.keys(&fs::read(&part).map_err(unwritable)?);
            let mut file = OpenOptions::new().write(true).open(&part).map_err(unwritable)?;
            // A row that was cut off in the middle goes.
            file.set_len(used as u64).map_err(unwritable)?;
            std::io::Seek::seek(&mut file, std::io::SeekFrom::End(0)).map_err(unwritable)?;
            if used == 0 {
                file.write_all(&form.head()?).map_err(unwritable)?;
            }
            return Ok(Some(Self { path: path.to_owned(), part, file, done: done.into() }));
        }
        crate::output::check_target(path, true)?;
        let mut file = File::create(&part).map_err(unwritable)?;
        file.write_all(&form.head()?).map_err(unwritable)?;
        Ok(Some(Self { path: path.to_owned(), part, file, done: VecDeque::new() }))
    }

    /// Whether an earlier run has done this series; an error where it had others.
    pub fn has(&mut self, key: &Key) -> Result<bool, CliError> {
        match self.done.pop_front() {
            None => Ok(false),
            Some(done) if done == *key => Ok(true),
            Some(done) => Err(CliError::data(format!(
                "{} was made from other data: it has {} of {} where {} of {} is next",
                self.part.display(),
                done.series,
                done.source,
                key.series,
                key.source
            ))
            .advise("start again with --force instead of --resume")),
        }
    }

    /// Adds whole rows.
    pub fn add(&mut self, lines: &[u8]) -> Result<(), CliError> {
        self.file.write_all(lines).and_then(|()| self.file.flush()).map_err(|error| {
            CliError::data(format!("{} cannot be written: {error}", self.part.display()))
                .advise("the rows so far are kept: make room and go on with --resume")
        })
    }

    /// Gives the file its name.
    pub fn finish(self) -> Result<(), CliError> {
        let named = self.file.sync_all().and_then(|()| fs::rename(&self.part, &self.path));
        named.map_err(|error| unwritable(&self.path, &error))
    }
}
