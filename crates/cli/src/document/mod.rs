//! What a result says, before it takes a form: sentences and tables of typed
//! cells. Renderers see nothing else.

mod envelope;
mod extent;
mod plot;
mod rows;

pub use envelope::{Data, Envelope, Program};
pub use extent::{Extent, Shown};
pub use plot::{Along, BoxMark, Heat, Ink, Interval, Line, Mark, Panel, Plot};
pub use rows::Rows;

use serde::Serialize;

use crate::call::Call;
use crate::error::CliError;
use crate::visible::visible;
use crate::wording::{Finite, titles};

/// A whole result.
#[derive(Debug, Default, Clone)]
pub struct Document {
    pub blocks: Vec<Block>,
}

/// A piece of it.
#[derive(Debug, Clone)]
pub enum Block {
    /// Running text.
    Paragraph(String),
    /// A table.
    Table(Table),
    /// A titled list of sentences.
    List { title: String, items: Vec<String> },
    /// Commands to paste, never wrapped.
    Commands { title: String, calls: Vec<Call> },
    /// The legend of the evidence circles.
    EvidenceLegend,
    /// A plot, for readers who have a screen.
    Plot(Plot),
    /// What only the whole document shows, and what the usual one calls it.
    Detail { name: &'static str, blocks: Vec<Block> },
}

/// Columns and rows.
#[derive(Debug, Clone, Default)]
pub struct Table {
    pub columns: Vec<TableColumn>,
    pub rows: Vec<Vec<TableCell>>,
    /// The rows of the usual text; all if not given.
    pub shown: Option<Shown>,
}

/// A column's head.
#[derive(Debug, Clone)]
pub struct TableColumn {
    pub label: String,
    pub align: Align,
}

/// How the cells of a column are aligned.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Align {
    Left,
    /// Numbers, at their decimal points.
    Decimal,
}

/// A cell.
#[derive(Debug, Clone, PartialEq)]
pub enum TableCell {
    Text(String),
    /// A number shown with a given number of decimals.
    Number {
        value: Finite,
        decimals: usize,
    },
    Count(usize),
    /// A number with all its digits.
    Exact(Finite),
    /// A probability with its evidence circle.
    PValue(Finite),
    Missing,
}

/// What a command found, in both forms.
#[derive(Clone, Default)]
pub struct Report {
    pub command: &'static str,
    pub documents: Vec<Document>,
    pub results: Vec<serde_json::Value>,
    /// The model that was chosen, where the command chooses one.
    pub chosen: Option<ChosenModel>,
}

/// A model that a command chose, as further calls name it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ChosenModel {
    pub model: String,
    /// Its regressors as a list of terms.
    pub terms: Option<String>,
}

impl Report {
    /// Of results and their documents.
    pub fn of<R: Serialize>(
        command: &'static str,
        results: impl IntoIterator<Item = R>,
        documents: Vec<Document>,
    ) -> Result<Self, CliError> {
        let results = results.into_iter().map(|result| to_json(&result)).collect::<Result<_, _>>()?;
        Ok(Self { command, documents, results, chosen: None })
    }
}

/// A result as JSON.
pub fn to_json<T: Serialize>(result: &T) -> Result<serde_json::Value, CliError> {
    serde_json::to_value(result)
        .map_err(|e| CliError::computation(format!("the result cannot be written as JSON: {e}")))
}

impl Document {
    /// Adds running text.
    pub fn paragraph(&mut self, text: impl Into<String>) {
        self.blocks.push(Block::Paragraph(visible(&text.into())));
    }

    /// Adds a paragraph for each of these.
    pub fn paragraphs(&mut self, all: impl IntoIterator<Item = String>) {
        self.blocks.extend(all.into_iter().map(|text| Block::Paragraph(visible(&text))));
    }

    /// Adds the interpretation, unless it is empty: the most important point first.
    pub fn interpretation(&mut self, points: Vec<String>) {
        self.list(titles::INTERPRETATION, points);
    }

    /// Adds a titled list, unless it is empty.
    pub fn list(&mut self, title: &str, items: Vec<String>) {
        if !items.is_empty() {
            let items = items.into_iter().map(|item| visible(&item)).collect();
            self.blocks.push(Block::List { title: title.to_owned(), items });
        }
    }

    /// Adds commands to paste.
    pub fn commands(&mut self, title: &str, calls: Vec<Call>) {
        if !calls.is_empty() {
            self.blocks.push(Block::Commands { title: title.to_owned(), calls });
        }
    }

    /// Shows every number of its tables with a given number of decimals.
    pub fn set_decimals(&mut self, wanted: usize) {
        let tables = self.blocks.iter_mut().filter_map(|block| match block {
            Block::Table(table) => Some(table),
            _ => None,
        });
        for cell in tables.flat_map(|table| table.rows.iter_mut().flatten()) {
            if let TableCell::Number { decimals, .. } = cell {
                *decimals = wanted;
            }
        }
    }

    /// Its tables.
    pub fn tables(&self) -> impl Iterator<Item = &Table> {
        self.blocks.iter().filter_map(|block| match block {
            Block::Table(table) => Some(table),
            _ => None,
        })
    }

    /// Adds a plot.
    pub fn plot(&mut self, plot: Plot) {
        self.blocks.push(Block::Plot(plot));
    }

    /// Adds a table.
    pub fn table(&mut self, table: Table) {
        self.blocks.push(Block::Table(table));
    }
}

impl Table {
    /// A table with these heads.
    pub fn new(heads: &[(&str, Align)]) -> Self {
        let columns = heads.iter().map(|(label, align)| TableColumn { label: visible(label), align: *align });
        Self { columns: columns.collect(), rows: Vec::new(), shown: None }
    }
}

impl Table {
    /// The same with that number of rows in the usual text.
    #[must_use]
    pub fn showing(mut self, rows: usize, others: &'static str) -> Self {
        self.shown = Some(Shown { rows, others });
        self
    }

    /// Every row as texts, one for each column; a short row ends in empty ones.
    pub fn texts(&self, write: impl Fn(&TableCell) -> String) -> Vec<Vec<String>> {
        let full = |row: &Vec<TableCell>| {
            let mut texts: Vec<String> = row.iter().map(&write).collect();
            texts.resize(self.columns.len(), String::new());
            texts
        };
        self.rows.iter().map(full).collect()
    }
}

impl TableCell {
    /// Text.
    pub fn text(text: impl Into<String>) -> Self {
        Self::Text(visible(&text.into()))
    }

    /// A number with a given number of decimals; missing if it is none.
    pub fn number(value: impl Into<Option<f64>>, decimals: usize) -> Self {
        Finite::of(value).map_or(Self::Missing, |value| Self::Number { value, decimals })
    }

    /// A number with all its digits; missing if it is none.
    pub fn exact(value: impl Into<Option<f64>>) -> Self {
        Finite::of(value).map_or(Self::Missing, Self::Exact)
    }

    /// A probability with its evidence circle; missing if it is none.
    pub fn p_value(value: impl Into<Option<f64>>) -> Self {
        Finite::of(value).map_or(Self::Missing, Self::PValue)
    }
}

impl From<Table> for Document {
    fn from(table: Table) -> Self {
        Self { blocks: vec![Block::Table(table)] }
    }
}

impl From<&str> for TableCell {
    fn from(text: &str) -> Self {
        Self::Text(text.to_owned())
    }
}

impl From<String> for TableCell {
    fn from(text: String) -> Self {
        Self::Text(text)
    }
}

impl<T: Into<String>> From<Option<T>> for TableCell {
    fn from(text: Option<T>) -> Self {
        text.map_or(Self::Missing, Self::text)
    }
}

#[cfg(test)]
mod tests;
