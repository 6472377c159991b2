//! How much of a document is shown: the answer with one table, the usual text, or everything.

use super::{Block, Document, Table};
use crate::wording::titles::INTERPRETATION;

/// How much of a document is shown.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Extent {
    /// The answer and one table.
    Brief,
    /// The answer, the main table, the most important points of the interpretation, the next calls.
    Usual,
    /// Everything.
    Whole,
}

/// Points of an interpretation in the usual text.
const POINTS: usize = 5;

/// Rows of a table in the usual text, and what the others hold.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Shown {
    pub rows: usize,
    pub others: &'static str,
}

impl Document {
    /// Adds blocks that only the whole document shows; the usual one names them.
    pub fn detail(&mut self, name: &'static str, fill: impl FnOnce(&mut Self)) {
        let mut inner = Self::default();
        fill(&mut inner);
        if !inner.blocks.is_empty() {
            self.blocks.push(Block::Detail { name, blocks: inner.blocks });
        }
    }

    /// The document with as much as is to be shown, without blocks of detail.
    pub fn at(&self, extent: Extent) -> Self {
        match extent {
            Extent::Brief => self.brief(),
            Extent::Usual => self.usual(),
            Extent::Whole => Self { blocks: flat(&self.blocks) },
        }
    }

    fn brief(&self) -> Self {
        let usual = self.usual();
        let answer = usual.blocks.iter().find(|block| matches!(block, Block::Paragraph(_)));
        let table = usual.blocks.iter().find(|block| matches!(block, Block::Table(_)));
        Self { blocks: answer.into_iter().chain(table).cloned().collect() }
    }

    fn usual(&self) -> Self {
        let mut blocks = Vec::new();
        let mut hidden: Vec<&str> = Vec::new();
        for block in &self.blocks {
            match block {
                Block::Detail { name, .. } => hidden.push(name),
                Block::Table(table) => {
                    let (shorter, others) = shortened(table);
                    hidden.extend(others);
                    blocks.push(Block::Table(shorter));
                }
                Block::List { title, items } if title == INTERPRETATION && items.len() > POINTS => {
                    hidden.push("further points");
                    let first = items.iter().take(POINTS).cloned().collect();
                    blocks.push(Block::List { title: title.clone(), items: first });
                }
                other => blocks.push(other.clone()),
            }
        }
        let mut named: Vec<&str> = Vec::new();
        for name in hidden {
            if !named.contains(&name) {
                named.push(name);
            }
        }
        if !named.is_empty() {
            let calls = blocks.iter().position(|block| matches!(block, Block::Commands { .. }));
            let note = Block::Paragraph(format!("More with -v: {}.", named.join(", ")));
            blocks.insert(calls.unwrap_or(blocks.len()), note);
        }
        Self { blocks }
    }
}

/// A table without the rows that only the whole document shows, and what those hold.
fn shortened(table: &Table) -> (Table, Option<&'static str>) {
    match table.shown {
        Some(Shown { rows, others }) if table.rows.len() > rows => {
            let first = table.rows.iter().take(rows).cloned().collect();
            (Table { rows: first, ..table.clone() }, Some(others))
        }
        _ => (table.clone(), None),
    }
}

fn flat(blocks: &[Block]) -> Vec<Block> {
    let each = |block: &Block| match block {
        Block::Detail { blocks, .. } => flat(blocks),
        other => vec![other.clone()],
    };
    blocks.iter().flat_map(each).collect()
}
