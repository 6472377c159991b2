//! A file of rows: unfinished under the name with `.part`, known by the call that began it, whole under its own.

use std::collections::VecDeque;
use std::fs::{self, File, OpenOptions};
use std::io::{self, BufRead, BufReader, Read, Seek, SeekFrom, Write};
use std::path::{Path, PathBuf};

use serde::{Deserialize, Serialize};

use super::form::{Form, Key};
use crate::call::Call;
use crate::error::CliError;
use crate::output::{check_target, unwritable, write_whole};

/// Options that change no row.
const IDLE: &[&str] = &["as", "out", "resume", "force", "jobs", "quiet", "memory", "figure", "title", "size"];

/// What the first line of an unfinished file says of the call that began it. The data are known by the digest of
/// each row.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Fingerprint {
    kandrel: String,
    rows: Form,
    call: String,
}

impl Fingerprint {
    /// Of a call, whatever the order of its options.
    pub fn new(call: &Call, rows: Form) -> Self {
        let call = call.sorted_without(IDLE).to_string();
        Self { kandrel: env!("CARGO_PKG_VERSION").to_owned(), rows, call }
    }
}

/// A file of rows in the making.
pub struct RowsFile {
    path: PathBuf,
    part: PathBuf,
    fingerprint: Fingerprint,
    force: bool,
    state: State,
    /// Rows that an earlier run has written, in order.
    done: VecDeque<Key>,
}

/// How far a file is.
enum State {
    /// There is no row yet, and no file.
    Empty,
    Unfinished(File),
    Finished,
}

impl RowsFile {
    /// A new file.
    ///
    /// # Errors
    /// There is one already, finished or not, and no leave to replace it.
    pub fn begin(path: &Path, fingerprint: Fingerprint, force: bool) -> Result<Self, CliError> {
        check_target(path, force)?;
        let part = part_of(path);
        if part.symlink_metadata().is_ok() {
            begun(&part)?;
            if !force {
                return Err(CliError::call(format!("{} is an unfinished screening", part.display()))
                    .advise("continue with --resume, or start again with --force"));
            }
            fs::remove_file(&part).map_err(|error| unwritable(&part, &error))?;
        }
        Ok(Self::of(path, fingerprint, force, State::Empty, Vec::new()))
    }

    /// Goes on with a file that an earlier run of the same call has begun, or finished.
    ///
    /// # Errors
    /// Another call or another version has begun it; it is no unfinished file at all.
    pub fn resume(path: &Path, fingerprint: Fingerprint, force: bool) -> Result<Self, CliError> {
        let part = part_of(path);
        if part.symlink_metadata().is_err() {
            if !path.is_file() {
                return Self::begin(path, fingerprint, force);
            }
            let bytes = fs::read(path).map_err(|error| unreadable(path, &error))?;
            let (done, _) = fingerprint.rows.keys(&bytes);
            return Ok(Self::of(path, fingerprint, force, State::Finished, done));
        }
        let (found, head) = begun(&part)?;
        if found != fingerprint {
            return Err(other_call(&part, &found, &fingerprint));
        }
        check_target(path, force)?;
        let bytes = fs::read(&part).map_err(|error| unreadable(&part, &error))?;
        let (done, used) = fingerprint.rows.keys(bytes.get(head..).unwrap_or_default());
        // A row that was cut off in the middle goes.
        let end = if used == 0 { 0 } else { head + used };
        let file = OpenOptions::new().write(true).open(&part).and_then(|mut file| {
            file.set_len(end as u64)?;
            file.seek(SeekFrom::End(0))?;
            if end == 0 {
                file.write_all(&fingerprint.head()?)?;
            }
            Ok(file)
        });
        let file = file.map_err(|error| unwritable(&part, &error))?;
        Ok(Self::of(path, fingerprint, force, State::Unfinished(file), done))
    }

    fn of(path: &Path, fingerprint: Fingerprint, force: bool, state: State, done: Vec<Key>) -> Self {
        Self { path: path.to_owned(), part: part_of(path), fingerprint, force, state, done: done.into() }
    }

    /// Whether an earlier run has done this series.
    ///
    /// # Errors
    /// It had another in its place, or is finished without it.
    pub fn has(&mut self, key: &Key) -> Result<bool, CliError> {
        match self.done.pop_front() {
            Some(done) if done == *key => Ok(true),
            Some(done) if done.source == key.source && done.series == key.series => {
                Err(self.other_data(&format!("its {} of {} had other values", key.series, key.source)))
            }
            Some(done) => Err(self.other_data(&format!(
                "it has {} of {} where {} of {} is next",
                done.series, done.source, key.series, key.source
            ))),
            None if matches!(self.state, State::Finished) => {
                Err(self.other_data(&format!("it has no {} of {}", key.series, key.source)))
            }
            None => Ok(false),
        }
    }

    /// Adds whole rows; the file begins with the first of them.
    pub fn add(&mut self, lines: &[u8]) -> Result<(), CliError> {
        if lines.is_empty() {
            return Ok(());
        }
        let added = match &mut self.state {
            State::Unfinished(file) => file.write_all(lines).and_then(|()| file.flush()),
            State::Empty => self.begun_with(lines).map(|file| self.state = State::Unfinished(file)),
            State::Finished => Ok(()),
        };
        added.map_err(|error| {
            unwritable(&self.part, &error)
                .advise("the rows so far are kept: make room and continue with --resume")
        })
    }

    fn begun_with(&self, lines: &[u8]) -> io::Result<File> {
        let mut file = OpenOptions::new().write(true).create_new(true).open(&self.part)?;
        file.write_all(&[&self.fingerprint.head()?, lines].concat())?;
        Ok(file)
    }

    /// Gives the rows their file.
    ///
    /// # Errors
    /// Rows of an earlier run that the data do not have.
    pub fn finish(self) -> Result<(), CliError> {
        if let Some(left) = self.done.front() {
            return Err(
                self.other_data(&format!("it has {} of {}, which they lack", left.series, left.source))
            );
        }
        match &self.state {
            State::Finished => Ok(()),
            State::Empty => {
                let head = self.fingerprint.rows.head()?;
                write_whole(&self.path, self.force, |file| file.write_all(&head))
            }
            State::Unfinished(_) => {
                write_whole(&self.path, self.force, |file| copied(&self.part, file))?;
                fs::remove_file(&self.part).map_err(|error| unwritable(&self.part, &error))
            }
        }
    }

    fn other_data(&self, how: &str) -> CliError {
        let (path, state) = match self.state {
            State::Finished => (&self.path, "is finished and "),
            _ => (&self.part, ""),
        };
        CliError::data(format!("{} {state}was made from other data: {how}", path.display()))
            .advise("start again with --force instead of --resume")
    }
}

impl Fingerprint {
    /// The first line of an unfinished file, and what is before its first row.
    fn head(&self) -> io::Result<Vec<u8>> {
        let mut line = serde_json::to_vec(self)?;
        line.push(b'\n');
        line.extend(self.rows.head().map_err(|error| io::Error::other(error.in_one_line()))?);
        Ok(line)
    }
}

/// All but the first line of an unfinished file.
fn copied(part: &Path, file: &mut File) -> io::Result<()> {
    let mut rows = BufReader::new(File::open(part)?);
    rows.skip_until(b'\n')?;
    io::copy(&mut rows, file).map(drop)
}

fn part_of(path: &Path) -> PathBuf {
    let mut name = path.file_name().unwrap_or_default().to_owned();
    name.push(".part");
    path.with_file_name(name)
}

/// The longest first line that is looked at.
const LONGEST: u64 = 1 << 20;

/// The fingerprint of an unfinished file and the length of its line.
///
/// # Errors
/// It is a link, a folder, or has no fingerprint: not ours to go on with or to remove.
fn begun(part: &Path) -> Result<(Fingerprint, usize), CliError> {
    let foreign = || {
        CliError::data(format!("{} is no unfinished screening", part.display()))
            .advise("it is left as it is: rename it, or name another file for --out")
    };
    if !part.symlink_metadata().is_ok_and(|file| file.is_file()) {
        return Err(foreign());
    }
    let mut line = Vec::new();
    let file = File::open(part).map_err(|error| unreadable(part, &error))?;
    BufReader::new(file.take(LONGEST))
        .read_until(b'\n', &mut line)
        .map_err(|error| unreadable(part, &error))?;
    let found = serde_json::from_slice(&line).map_err(|_| foreign())?;
    Ok((found, line.len()))
}

fn unreadable(path: &Path, error: &io::Error) -> CliError {
    CliError::data(format!("{} cannot be read: {error}", path.display())).advise("check its permissions")
}

fn other_call(part: &Path, found: &Fingerprint, own: &Fingerprint) -> CliError {
    let begun_by = if found.kandrel == own.kandrel {
        format!("`{}`", found.call)
    } else {
        format!("version {} of kandrel", found.kandrel)
    };
    CliError::call(format!("{} was begun by {begun_by}", part.display()))
        .advise("repeat that call with --resume, or start again with --force instead")
}
