//! Options that few calls need: marks between columns, degrees of local polynomials, how much of
//! the past is drawn, how much is said next to a result.

use serde_json::Value;

use crate::harness::{Folder, monthly};

/// A pattern of a year that sums to zero.
const PATTERN: [f64; 12] = [3.0, 1.0, -2.0, 4.0, 0.0, -1.0, 2.0, -3.0, 1.0, -4.0, -2.0, 1.0];

fn ten_years(of: impl Fn(f64, f64, f64) -> f64) -> String {
    let value = |t: usize| of(t as f64, (t / 12) as f64, PATTERN[t % 12]);
    monthly(&(0..120).map(value).collect::<Vec<_>>())
}

/// The largest remainder of a decomposition.
fn left_over(file: &str, options: &str) -> f64 {
    let result = Folder::with("x.csv", file).json(&format!("decompose x.csv x {options}"));
    let parts = result["results"][0]["components"].as_array().expect("components").clone();
    let sizes = parts.iter().map(|part| part["irregular"].as_f64().expect("a number").abs());
    sizes.fold(0.0, f64::max)
}

#[test]
fn a_trend_of_degree_two_follows_a_parabola() {
    let file = ten_years(|t, _, season| 5.0 + 0.3 * t + 0.01 * t * t + season);
    let [level, line, parabola] =
        [0, 1, 2].map(|degree| left_over(&file, &format!("--trend-degree {degree}")));
    assert!(level > 5.0 && line > 0.1 && parabola < 0.01, "{level} {line} {parabola}");
}

#[test]
fn a_season_of_degree_one_follows_a_swing_that_grows_evenly() {
    let file = ten_years(|t, year, season| 5.0 + 0.3 * t + (1.0 + 0.1 * year) * season);
    let [level, line] =
        [0, 1].map(|degree| left_over(&file, &format!("--seasonal-window 7 --seasonal-degree {degree}")));
    assert!(level > 0.1 && line < 1e-9, "{level} {line}");
}

#[test]
fn degrees_are_nought_one_or_two() {
    let folder = Folder::new();
    for option in ["--trend-degree", "--seasonal-degree"] {
        folder.run(&format!("decompose demo:harbour freight {option} 3")).fails_call(option);
    }
}

#[test]
fn so_many_observations_are_drawn_before_a_forecast() {
    let longest = |show: usize| {
        let folder = Folder::new();
        let model = ["--model", "(0,1,1)(0,1,1)12", "--ahead", "12"].join(" ");
        folder
            .run(&format!("forecast demo:harbour freight:ln {model} --show {show} --figure f.svg"))
            .succeeds();
        let svg = String::from_utf8(folder.read("f.svg")).expect("UTF-8");
        let lines = svg.split("<polyline").skip(1).filter_map(|line| line.split("points=\"").nth(1));
        lines.filter_map(|line| line.split('"').next()).map(|points| points.split(' ').count()).max()
    };
    assert_eq!((longest(40), longest(150)), (Some(40), Some(150)));
    // More than there are: all of them.
    assert_eq!(longest(5_000), Some(288));
}

#[test]
fn a_mark_between_columns_can_be_named() {
    let rows = |mark: &str| format!("a{mark}b\n1,5{mark}20\n2,5{mark}30\n4,5{mark}10\n");
    for (option, mark) in [(";", ";"), ("|", "|"), ("tab", "\t")] {
        let folder = Folder::with("x.csv", rows(mark));
        let outcome = folder.run_words(&["inspect", "x.csv", "--delimiter", option, "--as", "json"], "");
        let found: Value = serde_json::from_str(&outcome.stdout).expect("valid JSON");
        let columns = found["results"][0]["columns"].as_array().expect("columns").clone();
        let names: Vec<&str> = columns.iter().filter_map(|column| column["name"].as_str()).collect();
        assert_eq!(names, ["a", "b"], "{option}");
        // The other mark is that of decimals.
        assert_eq!(columns[0]["max"], 4.5, "{option}: {found}");
    }
    // Commas between columns leave none for decimals.
    let folder = Folder::with("x.csv", rows(";"));
    let text = folder.run_words(&["inspect", "x.csv", "--delimiter", ","], "").stdout;
    assert!(!text.contains("4.5"), "{text}");
    for bad in ["ab", "", " "] {
        folder.run_words(&["inspect", "x.csv", "--delimiter", bad], "").fails_call("--delimiter");
    }
}

#[test]
fn notes_are_kept_back_or_more_of_them_given_and_the_result_is_the_same() {
    let folder = Folder::with("x.csv", "a;b\n1,5;20\n2,5;30\n4,5;10\n3,5;40\n");
    let plain = folder.run("inspect x.csv");
    let [quiet, verbose] =
        ["--quiet", "--verbose"].map(|option| folder.run(&format!("inspect x.csv {option}")));
    assert_eq!(quiet.stderr, "");
    assert!(plain.stderr.contains("note: "), "{}", plain.stderr);
    assert!(verbose.stderr.contains("sha256"), "{}", verbose.stderr);
    assert!(verbose.stderr.lines().count() > plain.stderr.lines().count());
    assert_eq!(plain.stdout, quiet.stdout);
    // The details of the result come with more notes.
    assert!(verbose.stdout.contains("2.5") && !plain.stdout.contains("2.5"), "{}", verbose.stdout);
    // An error is no note.
    folder.run("inspect y.csv --quiet").fails(3, &["y.csv"]);
}

#[test]
fn every_model_of_a_short_series_is_looked_at_anyway() {
    let folder = Folder::new();
    let found = |option: &str| {
        let mut result = folder.json(&format!("orders demo:harbour freight:ln --differences 1,1 {option}"));
        let result = result["results"][0].take();
        (result["search"].clone(), result["searched"].clone(), result["candidates"].clone())
    };
    let (usual, whole) = (found(""), found("--exhaustive"));
    assert_eq!(usual, whole);
    assert_eq!((&usual.0, &usual.1), (&"whole".into(), &144.into()));
}
