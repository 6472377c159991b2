//! One document in every form.

use kandrel_core::time::Period;

use super::text::Style;
use super::*;
use crate::call::{Call, Name};
use crate::document::{Along, Block, BoxMark, Document, Ink, Line, Panel, Plot, Table, TableCell};

/// A document with a block of every kind.
fn document() -> Document {
    let mut document = Document::default();
    document.paragraph("freight has a unit root (p = 0.41).");
    let rows = [("level", -1.5, 0.41), ("Δ", -12.25, 0.0004)];
    let table = Table::of(rows)
        .text("Of", |row| row.0)
        .number("Stat.", 2, |row| row.1)
        .p_value("p", |row| row.2)
        .table();
    document.table(table);
    document.blocks.push(Block::EvidenceLegend);
    document.list("Interpretation", vec!["one".to_owned(), "two".to_owned()]);
    document.commands("Next", vec![Call::new(Name::Acf, "my data.csv").with("lags", 24)]);
    document.plot(plot());
    document
}

fn plot() -> Plot {
    let line = Line::with_gaps("x", Ink::Series(0), (0..12).map(|t| Some((f64::from(t), f64::from(t * t)))));
    let first = Period::month(2001, 1).expect("a month");
    let panel = Panel {
        title: "x".to_owned(),
        along: Along::Periods((0..12).map(|t| first.offset(t)).collect()),
        lines: vec![line],
        ..Panel::default()
    };
    Plot {
        title: String::new(),
        subtitle: String::new(),
        foot: String::new(),
        columns: 1,
        panels: vec![panel],
    }
}

fn with(charts: Charts, bold: bool) -> String {
    text(&document(), Style { charts, bold })
}

#[test]
fn text_has_every_block_in_order_and_no_chart_unless_asked() {
    let plain = plain_text(&document());
    let at = |what: &str| plain.find(what).unwrap_or_else(|| panic!("{what:?} is not in {plain}"));
    let places = [
        at("freight has a unit root"),
        at("Of "),
        at("Evidence against"),
        at("Interpretation"),
        at("  - one"),
        at("kandrel acf 'my data.csv' --lags 24"),
    ];
    assert!(places.is_sorted(), "{plain}");
    assert!(!plain.contains("2001-12"), "{plain}");
    assert!(plain.lines().all(|line| line.chars().count() <= 80), "{plain}");
}

#[test]
fn numbers_stand_at_their_points() {
    let plain = plain_text(&document());
    let point = |row: &str| {
        let line = plain.lines().find(|line| line.starts_with(row)).expect("a row");
        line.chars().position(|letter| letter == '.').expect("a point")
    };
    assert_eq!(point("level"), point("Δ"));
}

#[test]
fn bold_print_ends_with_its_line() {
    let bold = with(Charts::None, true);
    assert!(bold.starts_with("\u{1b}[1mfreight"), "{bold}");
    assert_eq!(bold.matches("\u{1b}[1m").count(), bold.matches("\u{1b}[0m").count());
    assert!(!plain_text(&document()).contains('\u{1b}'));
}

#[test]
fn a_chart_comes_where_it_is_wanted_with_its_first_and_last_period() {
    for charts in [Charts::Braille, Charts::Ascii] {
        let text = with(charts, false);
        assert!(text.contains("2001-01") && text.contains("2001-12"), "{text}");
    }
    assert!(with(Charts::Ascii, false).lines().skip(20).all(|line| !line.contains('⠀')));
}

#[test]
fn long_sentences_are_wrapped_but_calls_and_equations_are_not_torn() {
    let mut document = Document::default();
    document.paragraph(format!("{} p = 0.0001 {}", "word ".repeat(15), "word ".repeat(15)));
    let long = "x".repeat(100);
    document.commands("Next", vec![Call::new(Name::Acf, long.clone())]);
    let text = plain_text(&document);
    assert!(text.contains("p = 0.0001"), "{text}");
    assert!(text.lines().any(|line| line.contains(&long)));
}

#[test]
fn csv_has_the_tables_alone_with_all_their_digits() {
    let both = [document(), document()];
    let text = csv(&both);
    assert_eq!(
        text,
        "Of,Stat.,p\nlevel,-1.5,0.41\nΔ,-12.25,0.0004\n\nOf,Stat.,p\nlevel,-1.5,0.41\nΔ,-12.25,0.0004\n"
    );
}

#[test]
fn markdown_keeps_calls_in_a_block_and_tables_as_tables() {
    let text = markdown(&document());
    assert!(text.contains("| Of | Stat. | p |"), "{text}");
    assert!(text.contains("kandrel acf 'my data.csv' --lags 24"), "{text}");
    assert!(text.contains("- one"), "{text}");
}

#[test]
fn latex_has_the_sentences_as_comments() {
    let text = latex(&document());
    assert!(text.starts_with("% freight has a unit root"), "{text}");
    assert!(text.contains("\\begin{tabular}{lrl}") && !text.contains("kandrel acf"), "{text}");
    assert_eq!(text.matches("\\begin{tabular}").count(), text.matches("\\end{tabular}").count());
}

/// Every tag that is opened is closed, in turn.
fn is_balanced(html: &str) -> bool {
    let mut open: Vec<&str> = Vec::new();
    for piece in html.split('<').skip(1) {
        let tag = piece.split('>').next().unwrap_or_default();
        let name = tag.trim_start_matches('/').split_whitespace().next().unwrap_or_default();
        if tag.starts_with('/') {
            if open.pop() != Some(name) {
                return false;
            }
        } else if !tag.ends_with('/') && !tag.starts_with(['!', '?']) {
            open.push(name);
        }
    }
    open.is_empty()
}

#[test]
fn html_closes_what_it_opens_whatever_the_names() {
    let mut document = document();
    document.paragraph("</p><b>");
    let rows = ["</td>", "a & b", "\"quoted\""];
    document.table(Table::of(rows).text("<th>", |name| *name).table());
    document.list("<ul>", vec!["</li>".to_owned()]);
    let text = html(&document);
    assert!(is_balanced(&text), "{text}");
    assert!(!is_balanced("<p><b></p></b>"));
    assert!(text.contains("&lt;/td&gt;") && text.contains("a &amp; b"), "{text}");
}

#[test]
fn boxes_and_bars_are_charts_too() {
    let mark = |at: f64, middle: f64| BoxMark {
        at,
        name: "Q".to_owned(),
        values: [-1.0, -0.5, 0.0, 0.5, 1.0].map(|value| middle + value),
        beyond: vec![(middle + 3.0, "2001Q1".to_owned())],
    };
    let boxes = Panel {
        title: "boxes".to_owned(),
        along: Along::Strips(["Q1", "Q2"].map(str::to_owned).into()),
        boxes: vec![mark(0.5, 0.0), mark(1.5, 2.0)],
        ..Panel::default()
    };
    let bars = Panel {
        title: "bars".to_owned(),
        along: Along::Points((0..9).map(|lag| lag.to_string()).collect()),
        bars: (1..9).map(|lag| (f64::from(lag), 0.8_f64.powi(lag))).collect(),
        band: Some(0.2),
        ..Panel::default()
    };
    let mut document = Document::default();
    document.plot(Plot { columns: 2, panels: vec![boxes, bars], ..plot() });
    let text = text(&document, Style { charts: Charts::Ascii, bold: false });
    assert!(text.contains("boxes\n") && text.contains("bars\n"), "{text}");
    assert!(text.contains("Q1") && text.contains("Q2"), "{text}");
    // The highest box reaches five, the lowest minus one.
    assert!(text.contains("5.0") && text.contains("−1.0"), "{text}");
    assert!(text.is_ascii() || text.replace('−', "-").is_ascii(), "{text}");
}

#[test]
fn p_values_of_simulations_claim_no_more_than_was_simulated() {
    let cells = [1e-9, 0.0005, 0.03, 0.2];
    let table = Table::of(cells).p_value("p", |p| *p).p_value("q", |p| *p).table();
    let mut document = Document::default();
    document.table(table);
    let text = plain_text(&document);
    let rows: Vec<&str> = text.lines().skip(2).collect();
    assert!(rows[0].matches("<0.0001").count() == 2, "{text}");
    let circles = ['●', '●', '◕', '○'];
    for (row, circle) in rows.iter().zip(circles) {
        assert_eq!(row.matches(circle).count(), 2, "{text}");
    }
    assert!(matches!(document.tables().next().expect("one").rows[0][0], TableCell::PValue(_)));
}
