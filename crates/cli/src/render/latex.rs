//! A document as LaTeX: its tables, to be put into a paper, or all of it as running text.

use std::fmt::Write as _;

use super::text::shown;
use crate::document::{Align, Block, Document, Table};
use crate::wording::legends;

/// The tables, with sentences above them as comments.
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

/// Everything as running text; tables break over pages.
pub fn latex_running(document: &Document) -> String {
    let pieces: Vec<String> = document.blocks.iter().filter_map(running_block).collect();
    pieces.join("\n")
}

fn running_block(block: &Block) -> Option<String> {
    match block {
        Block::Paragraph(text) => Some(format!("{}\n", escaped(text))),
        Block::Table(table) => Some(long_table(table)),
        Block::List { title, items } => {
            let items: Vec<String> = items.iter().map(|item| format!("\\item {}\n", escaped(item))).collect();
            let body = format!("\\begin{{itemize}}\n{}\\end{{itemize}}\n", items.concat());
            Some(format!("\\textbf{{{}}}\n{body}", escaped(title)))
        }
        Block::EvidenceLegend => Some(format!("{}\n", escaped(legends::STARS))),
        Block::Commands { .. } | Block::Plot(_) | Block::Detail { .. } => None,
    }
}

/// Widths of a table in letters from which smaller print is needed, and which.
const SIZES: [(usize, &str); 3] = [(150, "\\tiny"), (105, "\\scriptsize"), (0, "\\footnotesize")];

/// Room between two columns, in letters.
const BETWEEN: usize = 2;

fn long_table(table: &Table) -> String {
    let texts = table.texts(shown);
    let widest = |place: usize| {
        let cells = texts.iter().filter_map(|row| row.get(place)).map(|cell| cell.chars().count());
        cells.chain(table.columns.get(place).map(|column| column.label.chars().count())).max().unwrap_or(0)
    };
    let width: usize = (0..table.columns.len()).map(|place| widest(place) + BETWEEN).sum();
    let size = SIZES.iter().find(|(least, _)| width >= *least).map_or("", |(_, size)| size);
    let body = rows(table).replacen("\\hline\n", "\\hline\n\\endhead\n", 1);
    format!(
        "{{{size}\\setlength{{\\tabcolsep}}{{3pt}}\n\\begin{{longtable}}{{{}}}\n{body}\\end{{longtable}}}}\n",
        alignment(table)
    )
}

fn alignment(table: &Table) -> String {
    let columns: String = table
        .columns
        .iter()
        .map(|column| match column.align {
            Align::Left => 'l',
            Align::Decimal => 'r',
        })
        .collect();
    columns
}

fn table(table: &Table) -> String {
    format!("\\begin{{tabular}}{{{}}}\n{}\\end{{tabular}}\n", alignment(table), rows(table))
}

/// Heads, a line, rows.
fn rows(table: &Table) -> String {
    let row = |cells: Vec<String>| {
        let joined = cells.join(" & ");
        // At the beginning of a row these would belong to the end of the one before.
        let guard = if joined.starts_with(['*', '[']) { "{}" } else { "" };
        format!("{guard}{joined} \\\\\n")
    };
    let mut out = String::new();
    out.push_str(&row(table.columns.iter().map(|column| escaped(&column.label)).collect()));
    out.push_str("\\hline\n");
    for texts in table.texts(|cell| escaped(&shown(cell))) {
        out.push_str(&row(texts));
    }
    out
}

/// What is typed: lines as they are, in letters of one width.
pub fn code(text: &str) -> String {
    let line = |line: &str| {
        let plain = escaped(line).replace('\'', "\\textquotesingle{}");
        // Blanks at the beginning of a line, and empty lines, are kept.
        let indent = line.chars().take_while(|letter| *letter == ' ').count();
        format!("\\strut{{}}{}{}", "~".repeat(indent), plain.trim_start())
    };
    let lines: Vec<String> = text.lines().map(line).collect();
    format!("{{\\raggedright\\ttfamily\\small\n{}\\par}}\n", lines.join("\\\\\n"))
}

/// Letters and signs that LaTeX has by another name.
const SIGNS: [(char, &str); 52] = [
    ('\\', "\\textbackslash{}"),
    ('&', "\\&"),
    ('%', "\\%"),
    ('$', "\\$"),
    ('#', "\\#"),
    ('_', "\\_"),
    ('{', "\\{"),
    ('}', "\\}"),
    ('~', "\\textasciitilde{}"),
    ('^', "\\textasciicircum{}"),
    ('<', "$<$"),
    ('>', "$>$"),
    ('−', "$-$"),
    ('±', "$\\pm$"),
    ('×', "$\\times$"),
    ('÷', "$\\div$"),
    ('≤', "$\\le$"),
    ('≥', "$\\ge$"),
    ('≠', "$\\neq$"),
    ('≈', "$\\approx$"),
    ('∞', "$\\infty$"),
    ('→', "$\\to$"),
    ('√', "$\\surd$"),
    ('∑', "$\\sum$"),
    ('Δ', "$\\Delta$"),
    ('Θ', "$\\Theta$"),
    ('Σ', "$\\Sigma$"),
    ('Φ', "$\\Phi$"),
    ('Ω', "$\\Omega$"),
    ('α', "$\\alpha$"),
    ('β', "$\\beta$"),
    ('γ', "$\\gamma$"),
    ('δ', "$\\delta$"),
    ('ε', "$\\varepsilon$"),
    ('η', "$\\eta$"),
    ('θ', "$\\theta$"),
    ('λ', "$\\lambda$"),
    ('μ', "$\\mu$"),
    ('ρ', "$\\rho$"),
    ('σ', "$\\sigma$"),
    ('τ', "$\\tau$"),
    ('φ', "$\\varphi$"),
    ('χ', "$\\chi$"),
    ('ω', "$\\omega$"),
    ('¹', "$^1$"),
    ('²', "$^2$"),
    ('³', "$^3$"),
    ('·', "$\\cdot$"),
    ('…', "\\dots{}"),
    // Stars indicate the strength of evidence where circles cannot be set.
    ('●', "***"),
    ('◕', "**"),
    ('◑', "*"),
];

/// Characters that LaTeX takes for its own, and those its usual fonts lack: what neither is has its number in the place
/// of its sign.
pub fn escaped(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for letter in text.chars() {
        match (SIGNS.iter().find(|(own, _)| *own == letter), letter) {
            (Some((_, name)), _) => out.push_str(name),
            // Two of them would become a dash.
            (None, '-') if out.ends_with('-') => out.push_str("{}-"),
            (None, '○') => {}
            (None, '\u{a0}' | '\u{2007}' | '\u{2008}' | '\u{2009}' | '\u{202f}') => out.push('~'),
            (None, letter) if is_set(letter) => out.push(letter),
            (None, letter) => {
                // Writing to a string cannot fail.
                let _ = write!(out, "[U+{:04X}]", u32::from(letter));
            }
        }
    }
    out.trim_end().to_owned()
}

/// Whether the usual fonts have a letter: those of Latin alphabets, and a few marks of print.
fn is_set(letter: char) -> bool {
    let accented = ('\u{c0}'..='\u{ff}').contains(&letter)
        || "ĂăĄąĆćČčĎďĐđĘęĚěĞğİıĹĺĽľŁłŃńŇňŐőŒœŔŕŘřŚśŞşŠšŢţŤťŮůŰűŸŹźŻżŽž".contains(letter);
    letter.is_ascii() || accented || "–—‘’“”«»§£¡¿".contains(letter)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::document::TableCell;

    #[test]
    fn a_table_compiles_whatever_the_names() {
        let mut table = Table::new(&[("tug_hours & more", Align::Left), ("5 %", Align::Decimal)]);
        table.rows.push(vec![TableCell::text("Δ² {x}"), TableCell::number(-1.5, 1)]);
        table.rows.push(vec![TableCell::text("●"), TableCell::p_value(0.02)]);
        let expected = "\\begin{tabular}{lr}\ntug\\_hours \\& more & 5 \\% \\\\\n\\hline\n\
                        $\\Delta$$^2$ \\{x\\} & $-$1.5 \\\\\n{}*** & 0.0200 ** \\\\\n\\end{tabular}\n";
        assert_eq!(super::table(&table), expected);
    }

    #[test]
    fn every_letter_is_one_that_latex_sets() {
        assert_eq!(escaped("Müller & Söhne 50 %"), "Müller \\& Söhne 50 \\%");
        assert_eq!(escaped("χ² ≥ ρ → 日 \u{416}"), "$\\chi$$^2$ $\\ge$ $\\rho$ $\\to$ [U+65E5] [U+0416]");
        assert_eq!(escaped("a\u{a0}=\u{a0}b"), "a~=~b");
        assert_eq!(
            code("a --b 'c'\n  d"),
            "{\\raggedright\\ttfamily\\small\n\\strut{}a -{}-b \\textquotesingle{}c\\textquotesingle{}\\\\\n\\strut{}~~d\\par}\n"
        );
    }

    #[test]
    fn running_text_has_tables_that_break_and_are_small_enough() {
        let mut document = Document::default();
        document.paragraph("50 % of x_1");
        let heads: Vec<(&str, Align)> = (0..20).map(|_| ("a head of some", Align::Left)).collect();
        document.table(Table::new(&heads));
        document.table(Table::new(&[("a", Align::Decimal)]));
        let text = latex_running(&document);
        assert!(text.starts_with("50 \\% of x\\_1\n"), "{text}");
        assert!(text.contains("{\\tiny\\setlength") && text.contains("{\\footnotesize\\setlength"), "{text}");
        assert_eq!(text.matches("\\endhead").count(), 2);
    }
}
