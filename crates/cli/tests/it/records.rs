//! Series as records: one as a file, many as a stream that every command answers line by line.

use std::fmt::Write as _;

use serde_json::Value;

use crate::harness::{Folder, noise};

/// The level of a random walk.
fn walk(seed: u64) -> Vec<f64> {
    let mut level = 100.0;
    let step = |e: &f64| {
        level += e;
        (1000.0 * level).round() / 1000.0
    };
    noise(72, seed).iter().map(step).collect()
}

fn record(name: &str, values: &[f64]) -> String {
    let values: Vec<String> = values.iter().map(f64::to_string).collect();
    format!("{{\"series\":\"{name}\",\"start\":\"2001-01\",\"values\":[{}]}}\n", values.join(","))
}

fn table(name: &str, values: &[f64]) -> String {
    let mut text = format!("month,{name}\n");
    for (t, value) in values.iter().enumerate() {
        let _ = writeln!(text, "{}-{:02},{value}", 2001 + t / 12, t % 12 + 1);
    }
    text
}

/// Commands of one series.
const COMMANDS: [&str; 8] =
    ["acf", "stationarity", "randomness", "decompose", "outliers", "lags", "forecast --ahead 6", "transform"];

#[test]
fn a_record_is_read_like_the_table_of_its_values() {
    let values = walk(3);
    let folder = Folder::with("a.csv", table("rate", &values));
    folder.write("a.json", record("rate", &values));
    for command in COMMANDS {
        let (command, options) = command.split_once(' ').unwrap_or((command, ""));
        // Further calls name the file.
        let of = |file: &str| {
            let results = folder.json(&format!("{command} {file} rate {options}"))["results"].clone();
            results.to_string().replace(file, "FILE")
        };
        assert_eq!(of("a.json"), of("a.csv"), "{command}");
    }
    let season = "{\"series\":\"x\",\"season\":4,\"values\":[1,2,3,4,1,2,3,5,1,2,4,4]}";
    folder.write("s.json", season);
    assert_eq!(folder.json("inspect s.json")["data"]["season"], 4);
    folder.write("s.json", season.replace(":4,", ":7,"));
    folder.run("inspect s.json").fails(3, &["12 rows are fewer than two seasonal cycles of 7"]);
    folder.write("w.json", "{\"series\":\"x\",\"start\":\"soon\",\"values\":[1,2]}");
    folder.run("inspect w.json").fails(3, &["w.json: not a record with series and values"]);
}

#[test]
fn every_record_of_a_stream_has_its_lines_in_order() {
    let folder = Folder::new();
    let mut stream = String::new();
    let mut wanted = Vec::new();
    for k in 0..25 {
        let name = format!("s{k}");
        let values = walk(k);
        stream.push_str(&record(&name, &values));
        folder.write("one.csv", table(&name, &values));
        // Further calls name the file.
        wanted.push(folder.run("stationarity one.csv --as jsonl").stdout.replace("one.csv", "-"));
    }
    let answered = folder.run_words(&["stationarity", "-", "--as", "jsonl"], &stream);
    answered.succeeds();
    assert_eq!(answered.stdout.lines().count(), 25);
    assert_eq!(answered.stdout, wanted.concat());
    // With steps, the series of every record has one name.
    let stepped = folder.run_words(&["transform", "-", "values:ln,d1", "--as", "jsonl"], &stream);
    stepped.succeeds();
    let names: Vec<Value> = stepped
        .stdout
        .lines()
        .map(|line| serde_json::from_str::<Value>(line).expect("JSON")["series"].clone())
        .collect();
    assert_eq!(names.len(), 25);
    assert_eq!((&names[0], &names[24]), (&Value::from("s0:ln,d1"), &Value::from("s24:ln,d1")));
}

#[test]
fn a_record_without_a_result_has_a_line_that_says_why() {
    let folder = Folder::new();
    let good = record("good", &walk(1));
    let short = record("short", &[1.0, 2.0, 3.0]);
    let stream = format!("{good}{short}\nnot JSON\n{good}");
    let late = folder.run_words(&["acf", "-", "--as", "jsonl"], &format!("not JSON\n{good}"));
    late.succeeds();
    assert_eq!(late.stdout.lines().count(), 2, "{}", late.stdout);
    for command in ["stationarity", "forecast", "outliers"] {
        let answered = folder.run_words(&[command, "-", "--as", "jsonl"], &stream);
        answered.succeeds();
        let lines: Vec<Value> =
            answered.stdout.lines().map(|line| serde_json::from_str(line).expect("JSON")).collect();
        assert_eq!(lines.len(), 4, "{command}: {}", answered.stdout);
        assert_eq!(lines[0], lines[3]);
        assert_eq!(lines[1]["series"], "short");
        assert!(lines[1]["error"].as_str().is_some_and(|why| !why.contains('\n')), "{}", lines[1]);
        assert!(lines[2]["series"].is_null() && lines[2]["error"].is_string(), "{}", lines[2]);
    }
}

#[test]
fn what_is_no_stream_of_records_is_read_as_ever() {
    let folder = Folder::new();
    let table = table("rate", &walk(5));
    let answered = folder.run_words(&["acf", "-", "--as", "jsonl"], &table);
    answered.succeeds();
    assert_eq!(answered.stdout.lines().count(), 1);
    folder.run_words(&["acf", "-", "--as", "jsonl"], "").fails(3, &["-"]);
    let refused =
        folder.run_words(&["acf", "-", "--as", "jsonl", "--out", "a.jsonl"], &record("a", &walk(1)));
    refused.fails(2, &["--out: records are answered on standard output"]);
    assert!(folder.names().is_empty());
}
