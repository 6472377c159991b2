//! Axes of figures: every one has labels, whatever the frequency of the data.

use std::fmt::Write as _;

use crate::harness::{Folder, noise};

/// The line that an axis of periods, lags or values lies on.
const AXIS: &str = "stroke=\"#8a8a84\"";
/// Fewest labels of an axis.
const LABELS: usize = 3;

/// A text of a figure and where it begins.
#[derive(Debug)]
struct Label {
    words: String,
    x: f64,
    y: f64,
}

/// A horizontal axis: its ends and its height.
#[derive(Debug)]
struct Axis {
    left: f64,
    right: f64,
    y: f64,
}

/// Two coordinates at one place of the sheet.
fn same(a: f64, b: f64) -> bool {
    (a - b).abs() < 1e-9
}

fn attribute(line: &str, name: &str) -> f64 {
    let wanted = format!(" {name}=\"");
    let value = line.split(&wanted).nth(1).and_then(|rest| rest.split('"').next()).unwrap_or_default();
    value.parse().unwrap_or_else(|_| panic!("{name} in {line}"))
}

fn labels(svg: &str) -> Vec<Label> {
    let of = |line: &str| {
        let words = line.strip_prefix("<g aria-label=\"")?.split('"').next()?.to_owned();
        let (x, y) = line.split("translate(").nth(1)?.split(')').next()?.split_once(' ')?;
        Some(Label { words, x: x.parse().ok()?, y: y.parse().ok()? })
    };
    svg.lines().filter_map(of).filter(|label| !label.words.is_empty()).collect()
}

/// Bottom axes; the lines of zero are stronger.
fn bottom_axes(svg: &str) -> Vec<Axis> {
    let is_axis =
        |line: &&str| line.starts_with("<line") && line.contains(AXIS) && line.contains("stroke-width=\"1\"");
    let ends = |line: &str| ["x1", "y1", "x2", "y2"].map(|name| attribute(line, name));
    svg.lines()
        .filter(is_axis)
        .map(ends)
        .filter(|[left, y, right, also]| same(*y, *also) && right > left)
        .map(|[left, y, right, _]| Axis { left, right, y })
        .collect()
}

/// Both axes of every panel have labels enough; gives the number of panels.
fn axes_are_labelled(what: &str, svg: &str) -> usize {
    let (labels, axes) = (labels(svg), bottom_axes(svg));
    for axis in &axes {
        let below = labels
            .iter()
            .filter(|one| one.y > axis.y + 6.0 && one.y < axis.y + 28.0)
            .filter(|one| one.x > axis.left - 60.0 && one.x < axis.right + 20.0)
            .count();
        assert!(below >= LABELS, "{what}: {below} labels below {axis:?}");
        let above = axes.iter().filter(|other| same(other.left, axis.left) && other.y < axis.y);
        let top = above.map(|other| other.y + 30.0).fold(80.0, f64::max);
        let beside = labels
            .iter()
            .filter(|one| {
                one.x < axis.left && one.x > axis.left - 100.0 && one.y > top && one.y < axis.y + 8.0
            })
            .count();
        assert!(beside >= LABELS, "{what}: {beside} labels beside {axis:?}");
    }
    axes.len()
}

/// Names of the periods of 64 observations at each frequency, and whether there is a season.
fn calendars() -> Vec<(&'static str, Vec<String>, bool)> {
    let day = |number: i64| {
        let date = jiff::civil::date(2019, 1, 7).checked_add(jiff::Span::new().days(number));
        date.expect("a date").to_string()
    };
    let of = |name: &dyn Fn(i64) -> String| (0..64).map(name).collect::<Vec<String>>();
    vec![
        ("annual", of(&|t| (1950 + t).to_string()), false),
        ("quarterly", of(&|t| format!("{}-Q{}", 1990 + t / 4, 1 + t % 4)), true),
        ("monthly", of(&|t| format!("{}-{:02}", 1990 + t / 12, 1 + t % 12)), true),
        ("weekly", of(&|t| day(7 * t)), false),
        ("daily", of(&day), true),
        ("workdays", of(&|t| day(t / 5 * 7 + t % 5)), true),
        ("undated", of(&|t| (1 + t).to_string()), false),
    ]
}

/// Two series of which the second follows the first.
fn file(periods: &[String], named: &str) -> String {
    let (a, e) = (noise(periods.len(), 41), noise(periods.len(), 42));
    let mut level = 20.0;
    let mut out = format!("{named},x,y\n");
    for (t, period) in periods.iter().enumerate() {
        level += a[t];
        let before = if t > 0 { a[t - 1] } else { 0.0 };
        let _ = writeln!(out, "{period},{:.3},{:.3}", level, 50.0 + 2.0 * before + e[t]);
    }
    out
}

/// Calls with a figure; the second list only where there is a season.
const KINDS: [&str; 16] = [
    "plot a.csv x y",
    "plot a.csv x y --panels --with d1",
    "acf a.csv x",
    "acf a.csv x y",
    "stationarity a.csv y",
    "decompose a.csv x --season 4",
    "outliers a.csv y --season 1",
    "randomness a.csv y",
    "fit a.csv x --model (0,1,1)",
    "forecast a.csv x --model (0,1,1)",
    "relate a.csv x y",
    "relate a.csv y --scatter",
    "ols a.csv y --on x[t-1]",
    "lags a.csv x y",
    "cointegration a.csv x y --lags 1",
    "stationarity a.csv y --rolling 20",
];
const SEASONAL_KINDS: [&str; 4] = [
    "plot a.csv x --by-season",
    "plot a.csv x --boxes",
    "plot a.csv x --by-year",
    "decompose a.csv x --by-season",
];

#[test]
fn every_axis_of_every_kind_of_figure_has_three_labels_at_every_frequency() {
    for (frequency, periods, is_seasonal) in calendars() {
        let named = if frequency == "undated" { "number" } else { "period" };
        let folder = Folder::with("a.csv", file(&periods, named));
        let seasonal = if is_seasonal { SEASONAL_KINDS.as_slice() } else { &[] };
        for call in KINDS.iter().chain(seasonal) {
            folder.run(&format!("{call} --figure a.svg --force")).succeeds();
            let svg = String::from_utf8(folder.read("a.svg")).expect("UTF-8");
            let panels = axes_are_labelled(&format!("{frequency}: {call}"), &svg);
            assert!(panels > 0, "{frequency}: {call}: no axis is found");
        }
    }
}

#[test]
fn axes_without_periods_have_three_labels_too() {
    let (_, periods, _) = calendars().remove(0);
    let folder = Folder::with("a.csv", file(&periods, "period"));
    folder.run("power a.csv y --draws 50 --season 1 --figure a.svg").succeeds();
    let svg = String::from_utf8(folder.read("a.svg")).expect("UTF-8");
    assert!(axes_are_labelled("power", &svg) > 0, "no axis is found");
    for head in ["ADF-GLS, 0.50: ", "Verdict, 1.00: "] {
        assert!(svg.contains(head), "the table has no cell {head}");
    }
}

#[test]
fn a_title_has_the_name_of_the_file_without_its_folders() {
    let folder = Folder::new();
    std::fs::create_dir(folder.path("deep")).expect("a folder");
    let (_, periods, _) = calendars().remove(2);
    folder.write("deep/a.csv", file(&periods, "period"));
    for call in ["plot deep/a.csv x", "acf deep/a.csv x", "forecast deep/a.csv x", "relate deep/a.csv x y"] {
        folder.run(&format!("{call} --figure a.svg --force")).succeeds();
        let svg = String::from_utf8(folder.read("a.svg")).expect("UTF-8");
        assert!(svg.contains("a.csv") && !svg.contains("deep"), "{call}");
    }
}
