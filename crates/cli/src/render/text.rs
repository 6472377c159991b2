//! Plain text for terminals of 80 columns and more.

use std::fmt::Write as _;

use unicode_width::UnicodeWidthStr;

use super::chart::{Charts, chart};
use crate::document::{Align, Block, Document, Table, TableCell};
use crate::wording::{legends, number, p_value};

/// Running text is wrapped at this width.
const WIDTH: usize = 80;

/// What a text may hold next to its letters.
#[derive(Debug, Clone, Copy)]
pub struct Style {
    pub charts: Charts,
    /// Titles in bold print.
    pub bold: bool,
}

/// The document as text. Its first paragraph and the titles of lists are bold where
/// bold print is wanted.
pub fn text(document: &Document, style: Style) -> String {
    let shown = |block: &&Block| match block {
        Block::Plot(_) => style.charts != Charts::None,
        Block::Detail { .. } => false,
        _ => true,
    };
    let pieces: Vec<String> = document
        .blocks
        .iter()
        .filter(shown)
        .enumerate()
        .map(|(place, one)| match one {
            Block::Paragraph(text) if place == 0 => bold(&wrap(text, "", ""), style),
            other => block(other, style),
        })
        .collect();
    let mut out = pieces.join("\n");
    if !out.ends_with('\n') {
        out.push('\n');
    }
    out
}

/// The document as text without charts and bold print.
pub fn plain_text(document: &Document) -> String {
    text(document, Style { charts: Charts::None, bold: false })
}

/// Every line between the marks for bold print, which end with the line.
fn bold(lines: &str, style: Style) -> String {
    if !style.bold {
        return lines.to_owned();
    }
    lines.lines().map(|line| format!("\u{1b}[1m{line}\u{1b}[0m\n")).collect::<Vec<_>>().concat()
}

fn block(block: &Block, style: Style) -> String {
    match block {
        Block::Paragraph(text) => wrap(text, "", ""),
        Block::Table(rows) => table(rows),
        Block::List { title, items } => {
            let body: String = items.iter().map(|item| wrap(item, "  - ", "    ")).collect();
            bold(&format!("{title}\n"), style) + &body
        }
        Block::Commands { title, calls } => {
            let body = calls.iter().fold(String::new(), |body, call| format!("{body}  {call}\n"));
            bold(&format!("{title}\n"), style) + &body
        }
        Block::Plot(plot) => chart(plot, style.charts),
        Block::EvidenceLegend => format!("{}\n", legends::CIRCLES),
        Block::Detail { .. } => String::new(),
    }
}

fn wrap(text: &str, first: &str, rest: &str) -> String {
    let options = textwrap::Options::new(WIDTH)
        .initial_indent(first)
        .subsequent_indent(rest)
        .break_words(false)
        .word_splitter(textwrap::WordSplitter::NoHyphenation);
    // An equation is not broken at a line's end.
    let bound = text.replace(" = ", "\u{a0}=\u{a0}");
    let mut out = textwrap::wrap(&bound, options).join("\n").replace('\u{a0}', " ");
    out.push('\n');
    out
}

fn table(table: &Table) -> String {
    let columns: Vec<Vec<String>> = (0..table.columns.len())
        .map(|place| {
            let cells: Vec<Option<&TableCell>> = table.rows.iter().map(|row| row.get(place)).collect();
            align(&table.columns[place].label, table.columns[place].align, &cells)
        })
        .collect();
    let widths: Vec<usize> =
        columns.iter().map(|cells| cells.first().map_or(0, |cell| cell.width())).collect();
    let total = widths.iter().sum::<usize>() + 2 * widths.len().saturating_sub(1);
    let mut out = String::new();
    for line in 0..=table.rows.len() {
        let cells: Vec<&str> =
            columns.iter().filter_map(|cells| cells.get(line)).map(String::as_str).collect();
        let _ = writeln!(out, "{}", cells.join("  ").trim_end());
        if line == 0 {
            let _ = writeln!(out, "{}", "─".repeat(total));
        }
    }
    out
}

/// Head and cells of a column, padded to one width.
fn align(label: &str, align: Align, cells: &[Option<&TableCell>]) -> Vec<String> {
    let shown: Vec<String> = cells.iter().map(|cell| cell.map(shown).unwrap_or_default()).collect();
    let placed = match align {
        Align::Left => shown,
        Align::Decimal => at_points(&shown, [' ', ' ']),
    };
    let width = placed.iter().map(|cell| cell.width()).max().unwrap_or(0).max(label.width());
    let pad = |text: &str| {
        let blank = " ".repeat(width - text.width());
        match align {
            Align::Left => format!("{text}{blank}"),
            Align::Decimal => format!("{blank}{text}"),
        }
    };
    std::iter::once(pad(label)).chain(placed.iter().map(|cell| pad(cell))).collect()
}

/// Pads numbers on the right, by blanks as wide as a point and a digit, so that their points fall
/// together.
pub fn at_points(cells: &[String], [point, digit]: [char; 2]) -> Vec<String> {
    let after = |cell: &str| cell.find('.').map_or(0, |place| cell[place..].width());
    let most = cells.iter().map(|cell| after(cell)).max().unwrap_or(0);
    let blank = |place: usize| if place == 0 { point } else { digit };
    cells.iter().map(|cell| cell.chars().chain((after(cell)..most).map(blank)).collect()).collect()
}

/// A cell as it is shown to people.
pub fn shown(cell: &TableCell) -> String {
    match cell {
        TableCell::Text(text) => text.clone(),
        TableCell::Number { value, decimals } => number(value.get(), *decimals),
        TableCell::Count(count) => count.to_string(),
        TableCell::Exact(value) => value.get().to_string().replace('-', "−"),
        TableCell::PValue(p) => format!("{} {}", p_value(p.get()), circle(p.get())),
        TableCell::Missing => "·".to_owned(),
    }
}

fn circle(p: f64) -> char {
    match p {
        _ if p <= 0.01 => '●',
        _ if p <= 0.05 => '◕',
        _ if p <= 0.10 => '◑',
        _ => '○',
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_the_answer_and_titles_are_bold() {
        let mut document = Document::default();
        document.paragraph("Answer.");
        document.paragraph("Sample.");
        document.list("Interpretation", vec!["one".to_owned()]);
        let text = |bold| text(&document, Style { charts: Charts::None, bold });
        assert_eq!(text(false), "Answer.\n\nSample.\n\nInterpretation\n  - one\n");
        assert_eq!(
            text(true),
            "\u{1b}[1mAnswer.\u{1b}[0m\n\nSample.\n\n\u{1b}[1mInterpretation\u{1b}[0m\n  - one\n"
        );
    }

    #[test]
    fn numbers_stand_at_their_points_and_minus_is_a_minus() {
        let mut table = Table::new(&[("Name", Align::Left), ("Value", Align::Decimal)]);
        table.rows.push(vec![TableCell::text("a"), TableCell::number(-1.5, 2)]);
        table.rows.push(vec![TableCell::text("bcd"), TableCell::number(12.0, 1)]);
        table.rows.push(vec![TableCell::text("e"), TableCell::Count(100)]);
        let text = super::table(&table);
        let expected = "Name   Value\n────────────\na      −1.50\nbcd    12.0\ne     100\n";
        assert_eq!(text, expected);
    }

    #[test]
    fn no_negative_zero_and_no_p_value_of_nought() {
        assert_eq!(number(-0.0004, 2), "0.00");
        assert_eq!(p_value(0.00002), "<0.0001");
        assert_eq!(p_value(0.04996), "0.0500");
    }

    #[test]
    fn what_is_not_a_number_is_shown_as_missing() {
        assert_eq!(shown(&TableCell::number(f64::NAN, 2)), "·");
    }
}
