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
mod words;

use kandrel_core::expr::StepSpec;
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

/// What a word leads to.
#[derive(Clone, Copy)]
pub enum Meaning {
    Topic(&'static Topic),
    Term(&'static glossary::Term),
    Step(&'static StepSpec),
}

/// What these words mean, however they are joined and whatever their case.
pub fn meaning(words: &str) -> Option<Meaning> {
    let wanted = plain(words);
    let led_to = || {
        let (name, _) = words::WORDS.iter().find(|(_, own)| own.iter().any(|word| plain(word) == wanted))?;
        named(name)
    };
    let by_name = || glossary::by_name(words).map(Meaning::Term);
    let step = || steps::step(words).map(Meaning::Step);
    let singular = || meaning(wanted.strip_suffix('s')?);
    named(words).or_else(led_to).or_else(by_name).or_else(step).or_else(singular)
}

fn named(words: &str) -> Option<Meaning> {
    let term = || glossary::by_noun(words).map(Meaning::Term);
    topic(words).map(Meaning::Topic).or_else(term)
}

/// Words in one case and with single blanks between them.
fn plain(words: &str) -> String {
    words.trim().to_lowercase().replace(['-', '_'], " ")
}

fn topic(name: &str) -> Option<&'static Topic> {
    topics().find(|topic| plain(topic.name) == plain(name) || plain(topic.title) == plain(name))
}

/// The name of a topic or term that is nearest, if any is near.
pub fn nearest(words: &str) -> Option<String> {
    let terms = glossary::TERMS.iter().map(|term| term.noun);
    let more = words::WORDS.iter().flat_map(|(_, words)| words.iter().copied());
    let names: Vec<String> =
        topics().map(|topic| topic.name).chain(terms).chain(more).map(str::to_owned).collect();
    wording::nearest(words, &names)
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

#[cfg(test)]
mod tests {
    use super::*;

    /// Heads of tables that are plain words.
    const PLAIN: [&str; 43] = [
        "Actual",
        "Coefficient",
        "Estimate",
        "and",
        "Change",
        "Column",
        "actual",
        "horizon",
        "origin",
        "period",
        "seasonal",
        "Cycle",
        "Data",
        "Date",
        "df",
        "Expected",
        "First",
        "5 %",
        "From",
        "Group",
        "Kind",
        "Last",
        "to",
        "Lag",
        "Maximum",
        "Mean",
        "Meaning",
        "Median",
        "Minimum",
        "n",
        "Points",
        "Position",
        "Sample",
        "Second",
        "Series",
        "Test",
        "To",
        "Type",
        "Value",
        "Values",
        "Warnings",
        "Period",
        "Parameter",
    ];

    #[test]
    fn every_head_of_a_table_is_explained_or_a_plain_word() {
        let heads = include_str!("../wording/heads.rs");
        let heads: Vec<&str> = heads.lines().filter_map(|line| line.split('"').nth(1)).collect();
        assert!(heads.len() > 100);
        let unknown: Vec<&&str> =
            heads.iter().filter(|head| !PLAIN.contains(head) && meaning(head).is_none()).collect();
        assert!(unknown.is_empty(), "{unknown:?}");
    }

    #[test]
    fn words_lead_to_what_is_there_and_hide_nothing() {
        let mut seen = std::collections::HashSet::new();
        for (name, words) in words::WORDS {
            assert!(named(name).is_some(), "{name} is neither topic nor term");
            for word in *words {
                assert!(seen.insert(plain(word)), "{word} is listed twice");
                let own = topic(word).map(|topic| topic.name);
                assert!(own.is_none_or(|own| own == *name), "{word} is a topic itself");
            }
        }
    }
}
