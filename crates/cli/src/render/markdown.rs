//! A document as Markdown.

use super::text::shown;
use crate::document::{Align, Block, Document, Table};
use crate::wording::legends;

/// The document as Markdown.
pub fn markdown(document: &Document) -> String {
    let pieces: Vec<String> = document.blocks.iter().filter_map(block).collect();
    pieces.join("\n")
}

fn block(block: &Block) -> Option<String> {
    Some(match block {
        Block::Paragraph(text) => format!("{}\n", escaped(text)),
        Block::Table(rows) => table(rows),
        Block::List { title, items } => {
            let body: Vec<String> = items.iter().map(|item| format!("- {}\n", escaped(item))).collect();
            format!("**{title}**\n\n{}", body.concat())
        }
        Block::Commands { title, calls } => {
            let lines: Vec<String> = calls.iter().map(ToString::to_string).collect();
            format!("**{title}**\n\n```sh\n{}\n```\n", lines.join("\n"))
        }
        Block::EvidenceLegend => format!("{}\n", legends::CIRCLES),
        // Figures are files of their own.
        Block::Plot(_) | Block::Detail { .. } => return None,
    })
}

fn table(table: &Table) -> String {
    let row = |cells: Vec<String>| format!("| {} |\n", cells.join(" | "));
    let rule = |align: Align| match align {
        Align::Left => "---".to_owned(),
        Align::Decimal => "---:".to_owned(),
    };
    let mut out = row(table.columns.iter().map(|column| escaped(&column.label)).collect());
    out.push_str(&row(table.columns.iter().map(|column| rule(column.align)).collect()));
    for texts in table.texts(|cell| escaped(&shown(cell))) {
        out.push_str(&row(texts));
    }
    out
}

/// Marks that Markdown would take for its own.
fn escaped(text: &str) -> String {
    text.replace('\\', "\\\\").replace('|', "\\|").replace('*', "\\*").replace('_', "\\_").replace('<', "\\<")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::document::TableCell;

    #[test]
    fn tables_have_their_bars_and_names_keep_theirs() {
        let mut table = Table::new(&[("a_b", Align::Left), ("x|y", Align::Decimal)]);
        table.rows.push(vec![TableCell::text("p"), TableCell::number(-1.25, 1)]);
        table.rows.push(vec![TableCell::text("…")]);
        let expected = "| a\\_b | x\\|y |\n| --- | ---: |\n| p | −1.2 |\n| … |  |\n";
        assert_eq!(super::table(&table), expected);
    }
}
