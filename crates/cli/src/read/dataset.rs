//! A dataset: the columns of a table in order of time, with what was found out about them.

use std::collections::{BTreeMap, HashMap};

use kandrel_core::expr::{Node, NodeKind};
use kandrel_core::series::{self, Column, Fill, Frame, SeriesWithGaps, Span};
use kandrel_core::time::{Frequency, Period};
use rayon::prelude::*;
use schemars::JsonSchema;
use serde::Serialize;

use super::budget::Budget;
use super::number::{self, CellValue, Style};
use super::record;
use super::spelling::{self, DateOrder};
use super::table::{Table, nameless};
use super::time_column::{self, TimeIndex, TimeOptions};
use super::unlaid;
use crate::error::CliError;
use crate::threads;
use crate::wording;

/// Up to this number of cells, reading takes less time than starting threads.
const FEW_CELLS: usize = 10_000;

/// What a column holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum ColumnContent {
    Time,
    Number,
    #[default]
    Text,
}

/// A column of the file.
#[derive(Debug, Clone)]
pub struct ColumnInfo {
    pub name: String,
    pub kind: ColumnContent,
    /// Cells that are neither missing nor of the wrong kind.
    pub observations: usize,
    pub missing: usize,
    /// The first cell of a text column.
    pub text: Option<Fault>,
}

/// A cell of text in a column of numbers.
#[derive(Debug, Clone)]
pub struct Fault {
    pub line: u64,
    /// What a line is called: a line or a record.
    pub word: &'static str,
    pub column: String,
    pub text: String,
}

/// A file that was read.
pub struct Dataset {
    /// As named by the user.
    pub source: String,
    /// The same with the sheet, for messages about cells.
    pub place: String,
    /// SHA-256 of its bytes.
    pub sha256: String,
    /// The numeric columns over consecutive periods.
    pub frame: Frame,
    pub columns: Vec<ColumnInfo>,
    pub time: Option<String>,
    /// Why the data have their frequency.
    pub reason: Option<String>,
    pub rows: usize,
    pub faults: Vec<Fault>,
    /// Periods without a row.
    pub absent: Vec<Period>,
    pub notes: Vec<String>,
    /// Periods filled in the columns in use, in order, each once.
    pub filled: Vec<Period>,
    /// How the dates of the file are written, where one number may be the day.
    pub date_order: Option<DateOrder>,
    /// What the values of its only series were headed in a long table.
    pub only_value: Option<String>,
    /// What the record says that it was read from.
    pub record: Option<record::About>,
}

/// Puts the rows in order of time and the cells into columns.
pub fn build(
    source: &str,
    table: &Table,
    style: &Style,
    time: &TimeOptions,
    budget: &Budget,
) -> Result<Dataset, CliError> {
    let found = time_column::find(source, table, time)?;
    let (mut reason, mut date_order) = (None, None);
    let (time_place, beside, periods, note) = match found {
        TimeIndex::Column(time) => {
            (reason, date_order) = (Some(time.reason), time.order);
            (Some(time.place), time.beside, time.periods, None)
        }
        TimeIndex::Counted { periods } => {
            reason = Some("the call says so".to_owned());
            (None, None, periods, None)
        }
        TimeIndex::Undated { dates, note } => {
            let numbers = (1..).take(table.rows.len()).map(Period::observation);
            (dates, None, numbers.collect(), note)
        }
    };
    let places: Vec<usize> = time_place.into_iter().chain(beside).collect();
    let order = Order::new(source, table, &periods, &places)?;
    // Periods without a row have a place as well.
    budget.take_table(source, order.length.saturating_sub(table.rows.len()), table.header.len())?;
    // Room for the numbers of a large file.
    drop(periods);
    let is_time = |place: usize| Some(place) == time_place || Some(place) == beside;
    let others: Vec<usize> = (0..table.header.len()).filter(|place| !is_time(*place)).collect();
    let one = |place: &usize| read_column(table, *place, style, &order);
    let mut read: Vec<ReadColumn> = if table.rows.len().saturating_mul(others.len()) > FEW_CELLS {
        threads::prepare();
        others.par_iter().rev().map(one).collect()
    } else {
        others.iter().rev().map(one).collect()
    };
    let mut faults = Vec::new();
    let mut columns = Vec::new();
    let mut numeric = Vec::new();
    let mut marked: Vec<String> = Vec::new();
    for (place, name) in table.header.iter().enumerate() {
        if is_time(place) {
            columns.push(ColumnInfo {
                name: name.clone(),
                kind: ColumnContent::Time,
                observations: table.rows.len(),
                missing: 0,
                text: None,
            });
            continue;
        }
        let Some(ReadColumn { info, cells, faults: mut own, note }) = read.pop() else {
            continue;
        };
        let is_blank = info.observations == 0 && info.text.is_none();
        if is_blank && *name == nameless(place) {
            // Of a delimiter too many, or of a cell far from the table: there is nothing in it.
            continue;
        }
        faults.append(&mut own);
        marked.extend(note);
        if info.kind == ColumnContent::Number {
            numeric.push(Column { name: name.clone(), cells });
        }
        columns.push(info);
    }
    let marks = (!marked.is_empty()).then(|| marked.join("; "));
    Ok(Dataset {
        source: source.to_owned(),
        place: source.to_owned(),
        sha256: String::new(),
        frame: Frame { start: order.start, length: order.length, columns: numeric, dates: None },
        columns,
        time: time_place.and_then(|place| table.header.get(place).cloned()),
        rows: table.rows.len(),
        faults,
        reason,
        absent: order.absent(),
        notes: table.notes.iter().cloned().chain(note).chain(order.note).chain(marks).collect(),
        filled: Vec::new(),
        date_order,
        only_value: table.only_value.clone(),
        record: table.record.clone(),
    })
}

/// Where each row of the file goes.
struct Order {
    start: Period,
    length: usize,
    places: Vec<usize>,
    note: Option<String>,
}

/// More empty periods than this for each row is a misread column, not a gap.
const SPARSEST: usize = 100;

impl Order {
    fn new(source: &str, table: &Table, periods: &[Period], time: &[usize]) -> Result<Self, CliError> {
        let empty = || CliError::data(format!("{source} has no rows"));
        let start = *periods.iter().min().ok_or_else(empty)?;
        let places: Vec<usize> = periods
            .iter()
            .filter_map(|period| period.steps_since(start).and_then(|steps| usize::try_from(steps).ok()))
            .collect();
        let length = places.iter().max().map_or(0, |last| last + 1);
        if length > SPARSEST.saturating_mul(periods.len()) {
            return Err(CliError::data(format!(
                "{source}: {} rows between {start} and {}: nearly every period is missing",
                periods.len(),
                start.offset(i64::try_from(length).unwrap_or(i64::MAX) - 1)
            ))
            .advise("name the right time column with --time"));
        }
        let mut taken = vec![false; length];
        let repeated = places
            .iter()
            .any(|place| taken.get_mut(*place).is_some_and(|taken| std::mem::replace(taken, true)));
        if repeated {
            return Err(duplicates(source, table, periods, time));
        }
        let rising = places.windows(2).all(|pair| pair[0] < pair[1]);
        let note =
            (!rising).then(|| "the rows were not in order of time and have been put in order".to_owned());
        Ok(Self { start, length, places, note })
    }

    fn absent(&self) -> Vec<Period> {
        let mut present = vec![false; self.length];
        for place in &self.places {
            if let Some(mark) = present.get_mut(*place) {
                *mark = true;
            }
        }
        let absent = present.iter().zip(0..).filter(|(there, _)| !**there);
        absent.map(|(_, step)| self.start.offset(step)).collect()
    }
}

fn duplicates(source: &str, table: &Table, periods: &[Period], time: &[usize]) -> CliError {
    if let Some(error) = unlaid::refusal(source, table, periods, time) {
        return error;
    }
    let mut seen: HashMap<Period, u64> = HashMap::with_capacity(periods.len());
    let mut twice = Vec::new();
    for (row, period) in table.rows.rows().zip(periods) {
        if let Some(earlier) = seen.insert(*period, row.line) {
            twice.push(format!("{period} ({}s {earlier} and {})", table.row_word, row.line));
        }
    }
    CliError::data(format!("{source}: duplicated periods: {}", wording::first_few(&twice)))
        .advise("leave one row for each period")
}

/// A column's cells in order of time, and what is wrong with them.
struct ReadColumn {
    info: ColumnInfo,
    cells: Vec<Option<f64>>,
    faults: Vec<Fault>,
    /// What was done with percent signs, currencies and brackets.
    note: Option<String>,
}

/// How many cells of a column have each mark, and the first of them.
#[derive(Default)]
struct MarkCounts([(usize, String); 3]);

impl MarkCounts {
    fn add(&mut self, text: &str) {
        // Most cells begin and end with a digit.
        let ends = |letter: Option<char>| letter.is_some_and(|letter| letter.is_ascii_digit());
        if ends(text.chars().next()) && ends(text.chars().last()) {
            return;
        }
        let (_, marks) = number::without_marks(text);
        let each = [marks.percent, marks.currency, marks.brackets];
        for ((count, first), is_there) in self.0.iter_mut().zip(each) {
            if is_there && *count == 0 {
                text.trim().clone_into(first);
            }
            *count += usize::from(is_there);
        }
    }

    fn note(&self, name: &str, numbers: usize) -> Option<String> {
        let said = ["a percent sign is left out", "a currency sign is left out", "brackets are a minus sign"];
        let clauses: Vec<String> = self
            .0
            .iter()
            .zip(said)
            .filter(|((count, _), _)| *count > 0)
            .map(|((count, first), said)| format!("{said} in {count} of {numbers} cells (first: {first})"))
            .collect();
        (!clauses.is_empty()).then(|| format!("`{name}`: {}", clauses.join("; ")))
    }
}

fn read_column(table: &Table, place: usize, style: &Style, order: &Order) -> ReadColumn {
    let name = table.header.get(place).map_or("", String::as_str);
    let mut cells = vec![None; order.length];
    let (mut numbers, mut missing) = (0, 0);
    let mut marks = MarkCounts::default();
    let mut wrong = Vec::new();
    for ((number, row), position) in table.rows.rows().enumerate().zip(&order.places) {
        let text = row.cell(place);
        match number::read(text, style) {
            CellValue::Number(value) => {
                numbers += 1;
                marks.add(text);
                if let Some(cell) = cells.get_mut(*position) {
                    *cell = Some(value);
                }
            }
            CellValue::Missing => missing += 1,
            CellValue::Text => {
                wrong.push(Fault {
                    line: table.line_of(number, place),
                    word: table.row_word,
                    column: name.to_owned(),
                    text: text.to_owned(),
                });
            }
        }
    }
    let kind = if wrong.len() > numbers { ColumnContent::Text } else { ColumnContent::Number };
    let observations = if kind == ColumnContent::Text { numbers + wrong.len() } else { numbers };
    let text = if kind == ColumnContent::Text { wrong.first().cloned() } else { None };
    let faults = if kind == ColumnContent::Number { wrong } else { Vec::new() };
    let note = if kind == ColumnContent::Number { marks.note(name, numbers) } else { None };
    ReadColumn {
        note,
        info: ColumnInfo { name: name.to_owned(), kind, observations, missing, text },
        cells,
        faults,
    }
}

impl Dataset {
    /// Whether any column has that name.
    pub fn has_column(&self, name: &str) -> bool {
        self.columns.iter().any(|column| column.name == name)
    }

    /// Names of the columns of numbers.
    pub fn numeric_names(&self) -> Vec<String> {
        self.frame.columns.iter().map(|column| column.name.clone()).collect()
    }

    /// The name of its values in a long table, to which its only series answers as well.
    pub fn other_name(&self) -> Option<(String, Node)> {
        let name = self.only_value.clone().filter(|name| !self.has_column(name))?;
        match self.frame.columns.as_slice() {
            [only] => Some((name, Node { at: 0, kind: NodeKind::Column(only.name.clone()) })),
            _ => None,
        }
    }

    /// An expression of the series of a record, whose own name tells it from those of others.
    pub fn in_own_name(&self, text: &str) -> String {
        let steps = text.strip_prefix(record::SERIES).filter(|rest| rest.is_empty() || rest.starts_with(':'));
        match (&self.record, self.other_name(), steps, self.frame.columns.as_slice()) {
            (Some(_), Some(_), Some(steps), [only]) => format!("{}{steps}", wording::column(&only.name)),
            _ => text.to_owned(),
        }
    }

    /// A period that was typed as the file's own dates are written, in the form that is read everywhere.
    pub fn standard(&self, text: &str) -> String {
        self.date_order.map_or_else(|| text.to_owned(), |order| spelling::standard(text, order))
    }

    /// Puts plain years among the columns that an expression may use, once one names them.
    pub fn add_years(&mut self, names: &[&str]) {
        let is_years = self.frame.frequency() == Frequency::Year;
        let Some(name) = self.time.clone().filter(|name| is_years && names.contains(&name.as_str())) else {
            return;
        };
        if self.frame.columns.iter().any(|column| column.name == name) {
            return;
        }
        let year = |row: usize| self.frame.period(row).to_string().parse().ok();
        let cells = (0..self.frame.length).map(year).collect();
        self.frame.columns.push(Column { name, cells });
    }

    /// Has these series for its columns of numbers.
    pub fn keep_only(&mut self, series: &[SeriesWithGaps]) {
        self.columns.retain(|info| info.kind == ColumnContent::Time);
        self.frame.columns.clear();
        for one in series {
            // Rows that were left out have no place in the series.
            let of: BTreeMap<Period, Option<f64>> =
                one.cells.iter().enumerate().map(|(t, cell)| (one.period(t), *cell)).collect();
            let cells: Vec<Option<f64>> = (0..self.frame.length)
                .map(|row| of.get(&self.frame.period(row)).copied().flatten())
                .collect();
            let observations = cells.iter().flatten().count();
            self.columns.push(ColumnInfo {
                name: one.name.clone(),
                kind: ColumnContent::Number,
                observations,
                missing: self.rows.saturating_sub(observations),
                text: None,
            });
            self.frame.columns.push(Column { name: one.name.clone(), cells });
        }
    }

    /// Keeps only the periods of a sample.
    pub fn restrict(&mut self, span: Span) -> Result<(), CliError> {
        let rows: Vec<usize> =
            (0..self.frame.length).filter(|row| span.holds(self.frame.period(*row))).collect();
        let (Some(first), Some(last)) = (rows.first().copied(), rows.last().copied()) else {
            return Err(CliError::data(format!("{}: no rows in the periods asked for", self.source))
                .advise(format!("the data run from {} to {}", self.frame.start, self.frame.last())));
        };
        if rows.len() == self.frame.length {
            return Ok(());
        }
        self.absent.retain(|period| span.holds(*period));
        self.rows = rows.len() - self.absent.len();
        self.frame.start = self.frame.period(first);
        self.frame.length = rows.len();
        let mut cut = Vec::new();
        for column in &mut self.frame.columns {
            column.cells = column.cells.get(first..=last).map(<[_]>::to_vec).unwrap_or_default();
            cut.push(column.cells.iter().flatten().count());
        }
        let numeric = self.columns.iter_mut().filter(|info| info.kind == ColumnContent::Number);
        for (info, observations) in numeric.zip(cut) {
            info.observations = observations;
            info.missing = self.rows.saturating_sub(observations);
        }
        for info in self.columns.iter_mut().filter(|info| info.kind == ColumnContent::Time) {
            info.observations = self.rows;
        }
        Ok(())
    }

    /// Fills the gaps of a column and notes what was filled.
    pub fn fill(&mut self, name: &str, how: Fill, season: usize) {
        let start = self.frame.start;
        let Some(column) = self.frame.columns.iter_mut().find(|column| column.name == name) else {
            return;
        };
        let filled = series::fill(&column.cells, how, season);
        column.cells = filled.cells;
        let at = |place: &usize| start.offset(i64::try_from(*place).unwrap_or(i64::MAX));
        let periods: Vec<Period> = filled.places.iter().map(at).collect();
        if periods.is_empty() {
            return;
        }
        let rule = match how {
            Fill::Previous => "the last known value",
            Fill::Linear => "linear interpolation",
            Fill::Seasonal => "linear interpolation plus the seasonal component",
        };
        self.notes.push(format!("`{name}` filled with {rule} in {}", wording::periods(&periods)));
        self.filled.extend(periods);
        self.filled.sort_unstable();
        self.filled.dedup();
    }

    /// Notes how many periods each column loses when its gaps are left out.
    pub fn note_left_out(&mut self, names: &[&str]) {
        let mut names = names.to_vec();
        names.sort_unstable();
        names.dedup();
        for name in names {
            let kept = self.frame.without_gaps_in(&[name]).length;
            if kept < self.frame.length {
                let count = wording::count(self.frame.length - kept, "period");
                let note =
                    format!("`{name}`: {count} without a value left out, the others taken as consecutive");
                self.notes.push(note);
            }
        }
    }

    /// Some of its columns, without the rows in which one has a gap if these are left out.
    pub fn frame_of(&self, names: &[&str], without_gaps: bool) -> Frame {
        let own = self.frame.columns.iter().filter(|column| names.contains(&column.name.as_str()));
        let columns: Vec<Column> = own.cloned().collect();
        let part = Frame {
            columns,
            start: self.frame.start,
            length: self.frame.length,
            dates: self.frame.dates.clone(),
        };
        if without_gaps { part.without_gaps_in(names) } else { part }
    }

    /// Takes the values of another file for later periods, of the columns both have but for those
    /// named.
    pub fn continue_with(&mut self, later: &Self, but: &[String]) -> Result<(), CliError> {
        let steps = later.frame.start.steps_since(self.frame.start).ok_or_else(|| {
            CliError::data(format!(
                "{}: its data are {}, those of {} are {}",
                later.source,
                later.frame.frequency().adjective(),
                self.source,
                self.frame.frequency().adjective()
            ))
            .advise("give the future in the same periods")
        })?;
        let Ok(first) = usize::try_from(steps) else {
            return Err(CliError::data(format!(
                "{}: it begins in {}, before the data of {}",
                later.source, later.frame.start, self.source
            ))
            .advise("give later periods only"));
        };
        let more = (first + later.frame.length).saturating_sub(self.frame.length);
        self.frame = self.frame.extended(more);
        let columns = self.frame.columns.iter_mut().filter(|column| !but.contains(&column.name));
        for column in columns {
            let Some(own) = later.frame.column(&column.name) else {
                continue;
            };
            let free = column.cells.iter_mut().skip(first).zip(&own.cells).filter(|(cell, _)| cell.is_none());
            free.for_each(|(cell, value)| *cell = *value);
        }
        Ok(())
    }

    /// Its source without the folders on the way to it, for titles.
    pub fn file_name(&self) -> &str {
        self.source.rsplit(['/', '\\']).next().unwrap_or(&self.source)
    }

    /// What a column of its periods is called.
    pub fn time_name(&self) -> String {
        self.time.clone().filter(|_| self.is_dated()).unwrap_or_else(|| "observation".to_owned())
    }

    /// Whether periods are dates rather than observation numbers.
    pub fn is_dated(&self) -> bool {
        self.frame.frequency() != Frequency::Undated
    }

    /// Refuses a column that does not exist, exists twice, is text, or has text
    /// among its numbers.
    pub fn check_usable(&self, name: &str) -> Result<(), CliError> {
        let source = &self.place;
        let own: Vec<&ColumnInfo> = self.columns.iter().filter(|column| column.name == name).collect();
        match own.as_slice() {
            [] => return Err(self.unknown_column(name)),
            [only] if only.kind == ColumnContent::Text => {
                let example = only
                    .text
                    .as_ref()
                    .map(|fault| format!(": {:?} in {} {}", fault.text, fault.word, fault.line));
                return Err(CliError::data(format!(
                    "{source}: column `{name}` contains text, not numbers{}",
                    example.unwrap_or_default()
                ))
                .advise(match self.numeric_names().as_slice() {
                    [] => "if these are numbers, see --decimal, --delimiter and --missing".to_owned(),
                    names => format!("columns of numbers: {}", wording::list(names)),
                }));
            }
            [only] if only.kind == ColumnContent::Time && self.frame.frequency() == Frequency::Year => {
                return Ok(());
            }
            [only] if only.kind == ColumnContent::Time => {
                return Err(CliError::data(format!("{source}: `{name}` is the time column"))
                    .advise(format!("columns of numbers: {}", wording::list(&self.numeric_names()))));
            }
            [_] => {}
            _ => {
                return Err(CliError::data(format!("{source}: {} columns are named `{name}`", own.len()))
                    .advise("give each its own name in the header"));
            }
        }
        let faults: Vec<&Fault> = self.faults.iter().filter(|fault| fault.column == name).collect();
        let Some(first) = faults.first() else {
            return Ok(());
        };
        let more = match faults.len() - 1 {
            0 => String::new(),
            1 => " (and one cell more)".to_owned(),
            count => format!(" (and {count} cells more)"),
        };
        Err(CliError::data(format!(
            "{source}, {} {}, column `{name}`: {:?} is not a number{more}",
            first.word, first.line, first.text
        ))
        .advise("correct the cell, or empty it if the value is missing"))
    }

    /// The error for a column that does not exist.
    pub fn unknown_column(&self, name: &str) -> CliError {
        let names: Vec<String> = self.columns.iter().map(|column| column.name.clone()).collect();
        let error = CliError::data(format!("{} has no column `{name}`", self.source));
        match wording::nearest(name, &names) {
            Some(near) => error.advise(format!("did you mean `{near}`?")),
            None => error.advise(format!("it has {}", wording::list(&names))),
        }
    }
}
