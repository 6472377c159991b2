//! What results say: each sentence decided by facts that are set by hand, or by a series whose truth is known.

mod models;
mod relations;
mod series;

use kandrel_core::num::rng::NormalStream;
use kandrel_core::predictive::Accuracy;
use kandrel_core::series::{Lost, Series};
use kandrel_core::time::Period;

use super::sample::Sample;
use crate::call::{Call, Name};
use crate::document::{Block, Document, Extent};

/// Every sentence, list and call of a document, one a line.
fn said(document: &Document) -> String {
    let mut lines = Vec::new();
    for block in document.at(Extent::Whole).blocks {
        match block {
            Block::Paragraph(text) => lines.push(text),
            Block::List { title, items } => lines.extend(items.iter().map(|item| format!("{title}: {item}"))),
            Block::Commands { title, calls } => {
                lines.extend(calls.iter().map(|call| format!("{title}: {call}")));
            }
            Block::Table(_) | Block::EvidenceLegend | Block::Plot(_) | Block::Detail { .. } => {}
        }
    }
    lines.join("\n")
}

fn says(document: &Document, texts: &[&str]) {
    let said = said(document);
    for text in texts {
        assert!(said.contains(text), "{text:?} is not in:\n{said}");
    }
}

fn never_says(document: &Document, texts: &[&str]) {
    let said = said(document);
    for text in texts {
        assert!(!said.contains(text), "{text:?} is in:\n{said}");
    }
}

/// The words below a head of the first table that has it.
fn column(document: &Document, head: &str) -> Vec<String> {
    let whole = document.at(Extent::Whole);
    let table = whole.tables().find(|table| table.columns.iter().any(|column| column.label == head));
    let table = table.unwrap_or_else(|| panic!("no table has {head}"));
    let place = table.columns.iter().position(|column| column.label == head).expect("it was found");
    table.texts(|cell| format!("{cell:?}")).into_iter().map(|row| row[place].clone()).collect()
}

fn typed(command: Name) -> Call {
    Call::new(command, "a.csv").sample("2001..")
}

fn sample() -> Sample {
    Sample {
        first: "2001-01".to_owned(),
        last: "2010-12".to_owned(),
        observations: 120,
        missing: 0,
        lost: Lost::default(),
    }
}

fn accuracy(rmse: f64) -> Accuracy {
    Accuracy {
        count: 12,
        me: 0.1,
        rmse,
        mae: 0.8 * rmse,
        mpe: None,
        mape: Some(4.0),
        smape: None,
        mase: Some(0.9),
    }
}

/// Monthly values under the name `x`.
fn monthly(values: Vec<f64>) -> Series {
    let start = Period::month(2001, 1).expect("a month");
    Series { start, ..Series::undated("x", values) }
}

fn noise(n: usize, stream: u64) -> Vec<f64> {
    NormalStream::new(2_026, stream).take(n)
}

fn walk(n: usize, stream: u64) -> Vec<f64> {
    let mut level = 0.0;
    let step = |e: f64| {
        level += e;
        level
    };
    noise(n, stream).into_iter().map(step).collect()
}
