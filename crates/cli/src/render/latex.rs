//! The tables of a document as LaTeX, to be put into a paper; sentences are
//! above them as comments.

use super::text::shown;
use crate::document::{Align, Block, Document, Table};

/// The document as LaTeX.
pub fn latex(document: &Document) -> String {
    let pieces: Vec<String> = document.blocks.iter().filter_map(block).collect();
    pieces.join("\n")
}

fn block(block: &Block) -> Option<String> {
    match block {
        Block::Paragraph(text) => Some(format!("% {text}\n")),
        Block::Table(rows) => Some(table(rows)),
        Block::List { title, items } => {
            let body: Vec<String> = items.iter().map(|item| format!("%   {item}\n")).collect();
            Some(format!("% {title}\n{}", body.concat()))
        }
        Block::Commands { .. } | Block::EvidenceLegend | Block::Plot(_) | Block::Detail { .. } => None,
    }
}

fn table(table: &Table) -> String {
    let columns: String = table
        .columns
        .iter()
        .map(|column| match column.align {
            Align::Left => 'l',
            Align::Decimal => 'r',
        })
        .collect();
    let row = |cells: Vec<String>| format!("{} \\\\\n", cells.join(" & "));
    let mut out = format!("\\begin{{tabular}}{{{columns}}}\n");
    out.push_str(&row(table.columns.iter().map(|column| escaped(&column.label)).collect()));
    out.push_str("\\hline\n");
    for texts in table.texts(|cell| escaped(&shown(cell))) {
        out.push_str(&row(texts));
    }
    out.push_str("\\end{tabular}\n");
    out
}

/// Characters that LaTeX takes for its own, and those its usual fonts lack.
fn escaped(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for letter in text.chars() {
        match letter {
            '\\' => out.push_str("\\textbackslash{}"),
            '&' | '%' | '$' | '#' | '_' | '{' | '}' => out.extend(['\\', letter]),
            '~' => out.push_str("\\textasciitilde{}"),
            '^' => out.push_str("\\textasciicircum{}"),
            '<' => out.push_str("$<$"),
            '>' => out.push_str("$>$"),
            '−' => out.push_str("$-$"),
            '±' => out.push_str("$\\pm$"),
            '≤' => out.push_str("$\\le$"),
            'Δ' => out.push_str("$\\Delta$"),
            'λ' => out.push_str("$\\lambda$"),
            '²' => out.push_str("$^2$"),
            '·' => out.push_str("$\\cdot$"),
            '…' => out.push_str("\\dots{}"),
            // Stars indicate the strength of evidence where circles cannot be set.
            '●' => out.push_str("***"),
            '◕' => out.push_str("**"),
            '◑' => out.push('*'),
            '○' => {}
            other => out.push(other),
        }
    }
    out.trim_end().to_owned()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::document::TableCell;

    #[test]
    fn a_table_compiles_whatever_the_names() {
        let mut table = Table::new(&[("tug_hours & more", Align::Left), ("5 %", Align::Decimal)]);
        table.rows.push(vec![TableCell::text("Δ² {x}"), TableCell::number(-1.5, 1)]);
        table.rows.push(vec![TableCell::text("p"), TableCell::p_value(0.02)]);
        let expected = "\\begin{tabular}{lr}\ntug\\_hours \\& more & 5 \\% \\\\\n\\hline\n\
                        $\\Delta$$^2$ \\{x\\} & $-$1.5 \\\\\np & 0.0200 ** \\\\\n\\end{tabular}\n";
        assert_eq!(super::table(&table), expected);
    }
}
