//! Documents, and plots before they are drawn.

use super::*;
use kandrel_core::time::Period;

fn line(values: &[Option<f64>]) -> Line {
    let points = values.iter().enumerate().map(|(t, value)| value.map(|value| (t as f64, value)));
    Line::with_gaps("x", Ink::Series(0), points)
}

#[test]
fn empty_lists_and_commands_leave_nothing_behind() {
    let mut document = Document::default();
    document.list("Interpretation", Vec::new());
    document.commands("Next", Vec::new());
    assert!(document.blocks.is_empty());
    document.list("Interpretation", vec!["a".to_owned()]);
    document.paragraph("b");
    assert!(matches!(&document.blocks[..], [Block::List { .. }, Block::Paragraph(text)] if text == "b"));
}

#[test]
fn decimals_asked_for_are_those_of_every_number_and_of_nothing_else() {
    let table = Table::of([0.123_456]).number("a", 2, |x| *x).p_value("p", |x| *x).count("n", |_| 3).table();
    let mut document = Document::from(table);
    document.set_decimals(5);
    let cells = &document.tables().next().expect("one table").rows[0];
    assert_eq!(cells[0], TableCell::number(0.123_456, 5));
    assert_eq!(cells[1..], [TableCell::p_value(0.123_456), TableCell::Count(3)]);
}

#[test]
fn a_short_row_ends_in_empty_cells() {
    let mut table = Table::of([1_usize]).count("a", |n| *n).count("b", |n| *n).table();
    table.rows.push(vec![TableCell::text("…")]);
    let texts = table.texts(|cell| format!("{cell:?}"));
    assert_eq!(texts[1], [format!("{:?}", TableCell::text("…")), String::new()]);
}

#[test]
fn what_is_no_number_is_missing() {
    for value in [f64::NAN, f64::INFINITY, f64::NEG_INFINITY] {
        assert_eq!(TableCell::number(value, 2), TableCell::Missing);
    }
    assert_eq!(TableCell::from(None::<String>), TableCell::Missing);
    assert_eq!(TableCell::from(Some("a")), TableCell::text("a"));
}

#[test]
fn a_report_holds_each_result_as_json_and_what_cannot_be_json_is_an_error() {
    let report = Report::of("fit", [1.5, 2.5], vec![Document::default()]).expect("numbers");
    assert_eq!(report.results, [serde_json::json!(1.5), serde_json::json!(2.5)]);
    assert_eq!((report.command, report.documents.len()), ("fit", 1));
    let pairs = std::collections::BTreeMap::from([((1, 2), 3)]);
    assert!(to_json(&pairs).is_err());
}

#[test]
fn a_line_breaks_where_values_are_missing() {
    let pieces = |values: &[Option<f64>]| line(values).pieces.iter().map(Vec::len).collect::<Vec<_>>();
    assert_eq!(pieces(&[Some(1.0), None, None, Some(2.0), Some(3.0), None]), [1, 2]);
    assert!(pieces(&[None, None]).is_empty());
    assert_eq!(line(&[Some(1.0), None, Some(2.0)]).points().count(), 2);
}

#[test]
fn a_panel_reaches_as_far_as_anything_in_it() {
    let panel = Panel {
        lines: vec![line(&[Some(2.0), Some(5.0)])],
        bars: vec![(0.0, 3.0)],
        dots: vec![(0.0, 7.0)],
        band: Some(1.5),
        intervals: vec![Interval { name: String::new(), ends: vec![(1.0, -4.0, 6.0)] }],
        marks: vec![Mark { at: 0.0, value: 8.0, name: String::new(), filled: true }],
        boxes: vec![BoxMark {
            at: 0.0,
            name: String::new(),
            values: [0.0, 1.0, 2.0, 3.0, 4.0],
            beyond: vec![(-9.0, String::new())],
        }],
        ..Panel::default()
    };
    assert_eq!(panel.reach(), (-9.0, 8.0));
    // Bars start at zero, which is in sight with them.
    let bars = Panel { bars: vec![(0.0, 3.0), (1.0, 2.0)], ..Panel::default() };
    assert_eq!(bars.reach(), (0.0, 3.0));
}

#[test]
fn places_along_the_bottom_depend_on_what_stands_there() {
    let extent = |along: Along| Panel { along, ..Panel::default() }.extent();
    let names = |count: usize| vec![String::new(); count];
    assert_eq!(extent(Along::Points(names(5))), (0.0, 4.0));
    assert_eq!(extent(Along::Strips(names(5))), (0.0, 5.0));
    assert_eq!(extent(Along::Values(-2.0, 3.0)), (-2.0, 3.0));
    let first = Period::month(2001, 1).expect("a month");
    assert_eq!(extent(Along::Periods((0..12).map(|t| first.offset(t)).collect())), (0.0, 11.0));
    // A single place still has a width.
    assert_eq!(extent(Along::Points(names(1))), (0.0, 1.0));
}

#[test]
fn a_terminal_sees_the_first_line_of_each_panel() {
    let panel = Panel { lines: vec![line(&[Some(1.0)]), line(&[Some(2.0)])], ..Panel::default() };
    let plot = Plot {
        title: String::new(),
        subtitle: String::new(),
        foot: String::new(),
        columns: 1,
        panels: vec![panel.clone(), panel],
    };
    assert!(plot.of_first_lines().panels.iter().all(|panel| panel.lines.len() == 1));
}
