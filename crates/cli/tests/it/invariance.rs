//! What must not change a verdict: the order of columns, their names, the dates, the units.

use std::fmt::Write as _;

use serde_json::Value;

use crate::harness::{Folder, noise};

/// Columns with their names, months from a year on.
fn table(columns: &[(&str, Vec<f64>)], year: usize) -> String {
    let mut text = String::from("month");
    for (name, _) in columns {
        let _ = write!(text, ",{name}");
    }
    text.push('\n');
    for t in 0..columns[0].1.len() {
        let _ = write!(text, "{}-{:02}", year + t / 12, t % 12 + 1);
        for (_, values) in columns {
            let _ = write!(text, ",{}", values[t]);
        }
        text.push('\n');
    }
    text
}

/// A walk, a series about a trend, a seasonal one, noise.
fn examples() -> Vec<(&'static str, Vec<f64>)> {
    let n = 144;
    let e = |seed| noise(n, seed);
    let mut level = 30.0;
    let walk: Vec<f64> = e(1)
        .into_iter()
        .map(|e| {
            level += 0.2 + e;
            level
        })
        .collect();
    let trend: Vec<f64> = e(2).into_iter().enumerate().map(|(t, e)| 40.0 + 0.3 * t as f64 + e).collect();
    let season: Vec<f64> =
        e(3).into_iter().enumerate().map(|(t, e)| 60.0 + 4.0 * ((t % 12) as f64 - 5.5).abs() + e).collect();
    let tied: Vec<f64> = walk.iter().zip(e(4)).map(|(x, e)| 5.0 + 2.0 * x + e).collect();
    vec![("walk", walk), ("trend", trend), ("season", season), ("tied", tied)]
}

/// What a screening says of each series, by name.
fn verdicts(folder: &Folder, file: &str, names: &[&str]) -> Vec<[Value; 6]> {
    let found = folder.json(&format!("screen {file}"))["results"].clone();
    let rows = found.as_array().expect("rows").clone();
    names
        .iter()
        .map(|name| {
            let row = rows.iter().find(|row| row["series"] == **name).expect("a row");
            ["integration", "seasonal_integration", "class", "confidence", "model", "review"]
                .map(|field| row[field].clone())
        })
        .collect()
}

#[test]
fn order_names_dates_and_units_leave_verdicts_alone() {
    let columns = examples();
    let folder = Folder::with("plain.csv", table(&columns, 2001));
    let names: Vec<&str> = columns.iter().map(|(name, _)| *name).collect();
    let plain = verdicts(&folder, "plain.csv", &names);

    let turned: Vec<(&str, Vec<f64>)> = columns.iter().rev().cloned().collect();
    folder.write("turned.csv", table(&turned, 2001));
    assert_eq!(verdicts(&folder, "turned.csv", &names), plain, "permuted columns");

    let others = ["alpha", "beta", "gamma", "delta"];
    let renamed: Vec<(&str, Vec<f64>)> =
        columns.iter().zip(others).map(|((_, values), name)| (name, values.clone())).collect();
    folder.write("renamed.csv", table(&renamed, 2001));
    assert_eq!(verdicts(&folder, "renamed.csv", &others), plain, "renamed series");

    folder.write("later.csv", table(&columns, 1971));
    assert_eq!(verdicts(&folder, "later.csv", &names), plain, "shifted dates");

    // Powers of two scale without rounding.
    let scaled: Vec<(&str, Vec<f64>)> = columns
        .iter()
        .map(|(name, values)| (*name, values.iter().map(|value| 1024.0 * value).collect()))
        .collect();
    folder.write("scaled.csv", table(&scaled, 2001));
    assert_eq!(verdicts(&folder, "scaled.csv", &names), plain, "rescaled data");
}

#[test]
fn relations_do_not_depend_on_order_dates_or_units() {
    let columns = examples();
    let folder = Folder::with("plain.csv", table(&columns, 2001));
    let moved: Vec<(&str, Vec<f64>)> = columns
        .iter()
        .rev()
        .map(|(name, values)| (*name, values.iter().map(|value| 100.0 + 8.0 * value).collect()))
        .collect();
    folder.write("moved.csv", table(&moved, 1950));
    let of = |file: &str| {
        folder.json(&format!("cointegration {file} tied walk trend --lags 2"))["results"][0]["johansen"]
            .clone()
    };
    let (plain, other) = (of("plain.csv"), of("moved.csv"));
    assert_eq!(plain["rank"], other["rank"]);
    for rank in 0..3 {
        let p = |found: &Value| found["rows"][rank]["trace"].as_f64().expect("a number");
        assert!((p(&plain) - p(&other)).abs() < 1e-6 * (1.0 + p(&plain)), "{rank}");
    }
    let lags = |file: &str| folder.json(&format!("lags {file} walk tied"))["results"][0]["chosen"].clone();
    assert_eq!(lags("plain.csv"), lags("moved.csv"));
    let slope = |file: &str| {
        let found = folder.json(&format!("ols {file} tied --on walk"));
        found["results"][0]["coefficients"][1]["t"].as_f64().expect("a number")
    };
    assert!((slope("plain.csv") / slope("moved.csv") - 1.0).abs() < 1e-8);
}
