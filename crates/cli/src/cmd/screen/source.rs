//! Where the series of a screening come from: columns of files, or one record a line.

use std::collections::VecDeque;
use std::fs::File;
use std::io::{BufRead, BufReader, Cursor, Read};

use kandrel_core::num::scale::is_too_small;
use kandrel_core::series::{Lost, Series};
use kandrel_core::time::Period;

use crate::args::DataArgs;
use crate::error::CliError;
use crate::read::record::{self, Record};
use crate::read::{Budget, digest};
use crate::session::{Session, check_season};
use crate::visible::visible_name;
use crate::wording;

/// A series to be screened, or why there is none.
pub struct Item {
    pub source: String,
    pub series: String,
    /// Of the file, or of the line, that it is from.
    pub sha256: Option<String>,
    pub season: usize,
    pub data: Result<Series, String>,
}

/// What is still to be screened.
pub struct Source<'a> {
    data: &'a DataArgs,
    files: VecDeque<String>,
    /// Expressions asked for; all columns if there are none.
    wanted: Vec<String>,
    open: Option<Open<'a>>,
    stdin: Option<&'a mut dyn Read>,
    /// What a record may take.
    budget: Budget,
    /// The last file that was opened as a whole.
    pub session: Option<Session<'a>>,
    pub notes: Vec<String>,
    /// Files, or streams of records, that were opened.
    pub opened: usize,
}

/// What is open.
enum Open<'a> {
    Columns { names: VecDeque<String> },
    Lines { name: String, reader: Box<dyn BufRead + 'a>, first: VecDeque<Vec<u8>>, number: usize },
}

impl<'a> Source<'a> {
    /// Of files and what is wanted of each.
    pub fn new(data: &'a DataArgs, files: Vec<String>, wanted: Vec<String>, stdin: &'a mut dyn Read) -> Self {
        Self {
            data,
            files: files.into(),
            wanted,
            open: None,
            stdin: Some(stdin),
            budget: Budget::new(data.memory),
            session: None,
            notes: Vec::new(),
            opened: 0,
        }
    }

    /// The next few items; none when all are done.
    pub fn block(&mut self, size: usize) -> Result<Vec<Item>, CliError> {
        let mut items = Vec::with_capacity(size);
        while items.len() < size {
            match self.next()? {
                Some(item) => items.push(item),
                None => break,
            }
        }
        Ok(items)
    }

    /// How many are left of the open file; none for records a line.
    pub fn left(&self) -> Option<usize> {
        match &self.open {
            Some(Open::Columns { names }) if self.files.is_empty() => Some(names.len()),
            _ => None,
        }
    }

    fn next(&mut self) -> Result<Option<Item>, CliError> {
        loop {
            match &mut self.open {
                None => {
                    let Some(file) = self.files.pop_front() else {
                        return Ok(None);
                    };
                    self.open = Some(self.opened(&file)?);
                    self.opened += 1;
                }
                Some(Open::Columns { names }) => match names.pop_front() {
                    Some(name) => return Ok(Some(self.column(&name))),
                    None => self.open = None,
                },
                Some(Open::Lines { name, reader, first, number }) => {
                    let line = match first.pop_front() {
                        Some(line) => Some(line),
                        None => record::line(name, reader.as_mut(), &self.budget)?,
                    };
                    match line {
                        Some(line) => {
                            *number += 1;
                            if !line.trim_ascii().is_empty() {
                                return Ok(Some(item_of_line(name, *number, &line)));
                            }
                        }
                        None => self.open = None,
                    }
                }
            }
        }
    }

    /// Opens a file: records a line are read one by one, all else as a whole.
    fn opened(&mut self, file: &str) -> Result<Open<'a>, CliError> {
        let is_lines = file == "-" || file.to_lowercase().ends_with(".jsonl");
        if !is_lines {
            return self.whole(file, &mut std::io::empty());
        }
        let inner: Box<dyn Read + 'a> = if file == "-" {
            match self.stdin.take() {
                Some(stdin) => Box::new(stdin),
                None => return Err(CliError::call("standard input is named twice")),
            }
        } else {
            Box::new(File::open(file).map_err(|error| {
                CliError::data(format!("{file} cannot be read: {error}")).advise("check the path")
            })?)
        };
        let mut reader: Box<dyn BufRead + 'a> = Box::new(BufReader::new(inner));
        let (first, is_records) = record::beginning(file, reader.as_mut(), &self.budget)?;
        if is_records {
            return Ok(Open::Lines { name: file.to_owned(), reader, first: first.into(), number: 0 });
        }
        // What was read already comes first.
        let mut whole = Cursor::new(first.concat()).chain(reader);
        self.whole(file, &mut whole)
    }

    fn whole(&mut self, file: &str, stdin: &mut dyn Read) -> Result<Open<'a>, CliError> {
        let session = Session::of_file(self.data, file, stdin)?;
        let dataset = &session.dataset;
        let names: VecDeque<String> = if self.wanted.is_empty() {
            dataset.numeric_names().iter().map(|name| wording::column(name)).collect()
        } else {
            self.wanted.clone().into()
        };
        if names.is_empty() {
            return Err(CliError::data(format!("{file} has no column of numbers"))
                .advise("see what is in it with kandrel inspect"));
        }
        self.notes.extend(dataset.notes.iter().cloned());
        self.session = Some(session);
        Ok(Open::Columns { names })
    }

    fn column(&mut self, name: &str) -> Item {
        let Some(session) = self.session.as_mut() else {
            return failed("", name, "no file is open".to_owned());
        };
        let season = session.season();
        let (source, sha256) = (session.dataset.source.clone(), Some(session.dataset.sha256.clone()));
        match session.series(&[name.to_owned()]).map(|mut all| all.pop()) {
            Ok(Some(series)) => {
                Item { source, series: series.name.clone(), sha256, season, data: Ok(series) }
            }
            Ok(None) => Item { sha256, ..failed(&source, name, "there is no such series".to_owned()) },
            Err(error) => Item { sha256, ..failed(&source, name, error.in_one_line()) },
        }
    }
}

fn failed(source: &str, series: &str, why: String) -> Item {
    Item { source: source.to_owned(), series: series.to_owned(), sha256: None, season: 1, data: Err(why) }
}

fn item_of_line(source: &str, number: usize, line: &[u8]) -> Item {
    let sha256 = Some(digest(line.trim_ascii()));
    match serde_json::from_slice::<Record>(line) {
        Ok(record) => Item { sha256, ..item_of_record(source, &record) },
        Err(error) => {
            let why = format!("not a record with series and values: {error}");
            Item { sha256, ..failed(source, &format!("line {number}"), why) }
        }
    }
}

fn item_of_record(source: &str, record: &Record) -> Item {
    let name = visible_name(&record.series);
    let start = record.start.as_deref().map_or(Ok(Period::observation(1)), Period::parse);
    let start = match start {
        Ok(start) => start,
        Err(error) => return failed(source, &name, format!("start: {error}")),
    };
    let season = record.season.unwrap_or_else(|| start.frequency().season()).max(1);
    // Missing values at the ends are none of the series.
    let known = |cell: &Option<f64>| cell.is_some();
    let (Some(first), Some(last)) =
        (record.values.iter().position(known), record.values.iter().rposition(known))
    else {
        return failed(source, &name, "there are no values".to_owned());
    };
    let inside = &record.values[first..=last];
    let values: Option<Vec<f64>> = inside.iter().copied().collect();
    let Some(values) = values else {
        let missing = inside.iter().filter(|cell| cell.is_none()).count();
        return failed(source, &name, format!("{} missing inside", wording::count(missing, "value")));
    };
    if let Some(Err(error)) = record.season.map(|season| check_season(season, values.len())) {
        return failed(source, &name, error.in_one_line());
    }
    if is_too_small(values.iter().copied()) {
        return failed(source, &name, wording::too_small(&name).in_one_line());
    }
    let start = start.offset(i64::try_from(first).unwrap_or(i64::MAX));
    let series = Series { name: name.clone(), start, values, dates: None, lost: Lost::default() };
    Item { source: source.to_owned(), series: name, sha256: None, season, data: Ok(series) }
}
