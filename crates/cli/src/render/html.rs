//! A document as a piece of a web page; every text is escaped.

use std::fmt::Write as _;

use super::text::{at_points, shown};
use crate::document::{Align, Block, Document, Table};
use crate::wording::legends;

/// As wide as a digit.
const FIGURE_SPACE: char = '\u{2007}';
/// As wide as a point.
const PUNCTUATION_SPACE: char = '\u{2008}';

/// The document as HTML without a page around it.
pub fn html(document: &Document) -> String {
    document.blocks.iter().filter_map(block).collect()
}

/// A text with the marks of HTML taken out of it.
pub fn escaped(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for letter in text.chars() {
        match letter {
            '&' => out.push_str("&amp;"),
            '<' => out.push_str("&lt;"),
            '>' => out.push_str("&gt;"),
            '"' => out.push_str("&quot;"),
            '\'' => out.push_str("&#39;"),
            // Marks that turn the direction of what follows stay inside their own text.
            '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}' => {}
            other => out.push(other),
        }
    }
    out
}

/// Running text, whose equations are not broken at a line's end.
fn running(text: &str) -> String {
    escaped(text).replace(" = ", "\u{a0}=\u{a0}")
}

fn block(block: &Block) -> Option<String> {
    Some(match block {
        Block::Paragraph(text) => format!("<p>{}</p>\n", running(text)),
        Block::Table(rows) => table(rows),
        Block::List { title, items } => html_list(title, items),
        Block::Commands { title, calls } => {
            let lines: Vec<String> = calls.iter().map(ToString::to_string).collect();
            format!("<h4>{}</h4>\n<pre>{}</pre>\n", escaped(title), escaped(&lines.join("\n")))
        }
        Block::EvidenceLegend => format!("<p class=\"legend\">{}</p>\n", escaped(legends::CIRCLES)),
        Block::Plot(_) | Block::Detail { .. } => return None,
    })
}

/// A titled list.
pub fn html_list(title: &str, items: &[String]) -> String {
    let mut out = format!("<h4>{}</h4>\n<ul>\n", escaped(title));
    for item in items {
        // Writing to a string cannot fail, here and below.
        let _ = writeln!(out, "<li>{}</li>", running(item));
    }
    out.push_str("</ul>\n");
    out
}

fn table(table: &Table) -> String {
    let rows = table.texts(shown);
    let columns: Vec<Vec<String>> = (0..table.columns.len())
        .map(|place| {
            let cells: Vec<String> =
                rows.iter().map(|row| row.get(place).cloned().unwrap_or_default()).collect();
            match table.columns[place].align {
                Align::Left => cells,
                Align::Decimal => at_points(&cells, [PUNCTUATION_SPACE, FIGURE_SPACE]),
            }
        })
        .collect();
    let class = |place: usize| match table.columns[place].align {
        Align::Left => "",
        Align::Decimal => " class=\"n\"",
    };
    let mut out = String::from("<div class=\"table\"><table>\n<thead><tr>");
    for (place, column) in table.columns.iter().enumerate() {
        let _ = write!(out, "<th{}>{}</th>", class(place), escaped(&column.label));
    }
    out.push_str("</tr></thead>\n<tbody>\n");
    for row in 0..rows.len() {
        out.push_str("<tr>");
        for (place, column) in columns.iter().enumerate() {
            let _ = write!(out, "<td{}>{}</td>", class(place), escaped(&column[row]));
        }
        out.push_str("</tr>\n");
    }
    out.push_str("</tbody></table></div>\n");
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::document::TableCell;

    #[test]
    fn nothing_in_a_name_is_run() {
        let mut document = Document::default();
        document.paragraph("<script>alert(\"x\")</script> & more\u{202e}txet");
        let mut table = Table::new(&[("a<b", Align::Left), ("x", Align::Decimal)]);
        table.rows.push(vec![TableCell::text("<img src=x>"), TableCell::number(1.25, 2)]);
        table.rows.push(vec![TableCell::text("'"), TableCell::Count(3)]);
        document.table(table);
        let html = html(&document);
        assert!(!html.contains("<script>") && !html.contains("<img") && !html.contains('\u{202e}'), "{html}");
        assert!(html.contains("&lt;script&gt;alert(&quot;x&quot;)&lt;/script&gt; &amp; more"));
        assert!(html.contains("<td class=\"n\">3\u{2008}\u{2007}\u{2007}</td>"), "{html}");
    }
}
