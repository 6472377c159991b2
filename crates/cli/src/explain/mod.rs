//! What each test and criterion assumes, how it is read, when it misleads, where it is
//! from.

mod breaks;
mod correlation;
mod decomposition;
pub mod glossary;
mod model;
mod multivariate;
mod panel;
mod randomness;
pub mod steps;
mod unit_root;

use schemars::JsonSchema;
use serde::Serialize;

use crate::call::Call;
use crate::document::{Align, Document, Table, TableCell};
use crate::wording;
use crate::wording::titles;

/// What there is to say about one topic.
#[derive(JsonSchema, Serialize)]
pub struct Topic {
    /// As in JSON results.
    pub name: &'static str,
    pub title: &'static str,
    /// What is computed.
    pub what: &'static str,
    /// None for what is not a test.
    pub null: Option<&'static str>,
    pub alternative: Option<&'static str>,
    pub reading: &'static str,
    pub misleads: &'static str,
    /// How often a true null is rejected at 5 %, where that is not 5 %.
    pub size: Option<&'static str>,
    pub source: &'static str,
    /// A call that shows it.
    pub example: &'static str,
}

/// What is no test has neither hypotheses nor a size.
const NO_TEST: Topic = Topic {
    name: "",
    title: "",
    what: "",
    null: None,
    alternative: None,
    reading: "",
    misleads: "",
    size: None,
    source: "",
    example: "",
};

/// Every topic, by the part of the trade it belongs to.
pub const PARTS: &[(&str, &[Topic])] = &[
    ("Correlation", correlation::TOPICS),
    ("Randomness", randomness::TOPICS),
    ("Unit roots and stationarity", unit_root::TOPICS),
    ("Breaks, memory, bootstrap", breaks::TOPICS),
    ("Panels of series", panel::TOPICS),
    ("Regression, systems, cointegration", multivariate::TOPICS),
    ("Decomposition and outliers", decomposition::TOPICS),
    ("Seasonal models", model::TOPICS),
];

/// All topics in order.
pub fn topics() -> impl Iterator<Item = &'static Topic> {
    PARTS.iter().flat_map(|(_, topics)| topics.iter())
}

/// The topic of that name, however its words are joined and whatever its case.
pub fn topic(name: &str) -> Option<&'static Topic> {
    let plain = |text: &str| text.to_lowercase().replace(['-', ' '], "_");
    topics().find(|topic| plain(topic.name) == plain(name) || plain(topic.title) == plain(name))
}

/// The topic whose name is nearest, if any is near.
pub fn nearest(name: &str) -> Option<String> {
    let names: Vec<String> = topics().map(|topic| topic.name.to_owned()).collect();
    wording::nearest(name, &names)
}

/// One topic as a document, with the call of its example.
pub fn document(topic: &Topic, example: Call) -> Document {
    let mut document = Document::default();
    document.paragraph(format!("{}. {}", topic.title, topic.what));
    let parts = [
        ("Null hypothesis", topic.null),
        ("Alternative", topic.alternative),
        ("How to read it", Some(topic.reading)),
        ("When it misleads", Some(topic.misleads)),
        ("Size", topic.size),
        ("Source", Some(topic.source)),
    ];
    for (title, text) in parts {
        document.list(title, text.map(str::to_owned).into_iter().collect());
    }
    document.commands(titles::EXAMPLE, vec![example]);
    document
}

/// The list of topics as a document.
pub fn contents() -> Document {
    let mut document = Document::default();
    document.paragraph("Kandrel explains these: kandrel explain TOPIC.");
    for (part, topics) in PARTS {
        document.paragraph(*part);
        let mut table = Table::new(&[("Topic", Align::Left), ("What it is", Align::Left)]);
        for topic in *topics {
            table.rows.push(vec![TableCell::text(topic.name), TableCell::text(topic.title)]);
        }
        document.table(table);
    }
    document
}
