//! `kandrel screen`.

use std::fmt::Write as _;

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, noise};

/// Columns of walks and of noise, one of them short.
fn table(columns: usize) -> String {
    let mut text = String::from("month");
    let series: Vec<Vec<f64>> = (0..columns as u64)
        .map(|k| {
            let mut level = 50.0;
            let walk = noise(120, k + 1).into_iter().map(|e| {
                level += e;
                if k % 2 == 0 { level } else { 50.0 + e }
            });
            walk.collect()
        })
        .collect();
    for k in 0..columns {
        let _ = write!(text, ",s{k}");
    }
    text.push('\n');
    for t in 0..120 {
        let _ = write!(text, "{}-{:02}", 2001 + t / 12, t % 12 + 1);
        for (k, values) in series.iter().enumerate() {
            // The third ends after a year.
            let cell = if k == 2 && t >= 12 { String::new() } else { format!("{:.4}", values[t]) };
            let _ = write!(text, ",{cell}");
        }
        text.push('\n');
    }
    text
}

fn rows(text: &str) -> Vec<Value> {
    text.lines().map(|line| serde_json::from_str(line).expect("a row")).collect()
}

#[test]
fn the_harbour_in_one_table() {
    let folder = Folder::new();
    let found = folder.json("screen demo:harbour")["results"].clone();
    let of = |name: &str| {
        let row = found.as_array().expect("rows").iter().find(|row| row["series"] == name);
        row.expect("a row").clone()
    };
    let freight = of("freight");
    assert_eq!((&freight["transform"], &freight["model"]), (&"ln".into(), &"(0,1,1)(0,1,1)12".into()));
    assert_eq!((&of("claims")["class"], &of("claims")["review"]), (&"stationary".into(), &false.into()));
    assert!(of("ice")["outliers"].as_array().expect("periods").contains(&"2017-08".into()));
    assert!(of("tug_hours")["reasons"].to_string().contains("a break after 2012-05"));
    let text = folder.run("screen demo:harbour");
    text.succeeds();
    assert!(text.first_line().starts_with("Of 8 series: "), "{}", text.stdout);
    fits_80_columns(&text.stdout).expect("no wide line");
    let quick = folder.json("screen demo:harbour --quick")["results"][0].clone();
    assert!(quick["model"].is_null() && quick["outliers"].is_null());
    assert_eq!(quick["class"], freight["class"]);
}

#[test]
fn one_bad_series_does_not_stop_the_rest() {
    let folder = Folder::with("t.csv", table(5));
    let output = folder.run("screen t.csv --as jsonl");
    output.succeeds();
    let rows = rows(&output.stdout);
    assert_eq!(rows.len(), 5);
    assert!(rows[2]["error"].as_str().expect("a reason").contains("12 observations are too few"));
    assert!(rows[2]["review"] == true && rows[3]["error"].is_null());
    let mixed = folder.run("screen t.csv s0 nothing --as jsonl --quick");
    mixed.succeeds();
    let mixed = self::rows(&mixed.stdout);
    assert!(mixed[0]["error"].is_null());
    assert!(mixed[1]["error"].as_str().expect("a reason").contains("no column `nothing`"));
}

#[test]
fn the_same_bytes_whatever_the_threads() {
    let folder = Folder::with("t.csv", table(8));
    let of = |jobs: &str| folder.run(&format!("screen t.csv --as jsonl --jobs {jobs}")).stdout;
    let one = of("1");
    assert_eq!(one, of("2"));
    assert_eq!(one, of("5"));
}

#[test]
fn an_interrupted_screening_goes_on_where_it_was() {
    let folder = Folder::with("t.csv", table(6));
    for form in ["jsonl", "csv"] {
        let (whole, part) = (format!("all.{form}"), format!("rest.{form}.part"));
        folder.run(&format!("screen t.csv --quick --out {whole}")).succeeds();
        let bytes = folder.read(&whole);
        assert!(!folder.names().contains(&format!("{whole}.part")));
        // Cut in the middle of a row, as a killed run leaves it.
        let rows = bytes.split_inclusive(|byte| *byte == b'\n').collect::<Vec<_>>();
        let mut left = rows[..4].concat();
        left.extend_from_slice(&rows[4][..rows[4].len() / 2]);
        folder.write(&part, &left);
        let call = format!("screen t.csv --quick --out rest.{form}");
        folder.run(&call).fails(2, &["is an unfinished screening", "--resume"]);
        folder.run(&format!("{call} --resume")).succeeds();
        assert_eq!(folder.read(&format!("rest.{form}")), bytes, "{form}");
        // Done is done.
        folder.run(&format!("{call} --resume")).succeeds();
        folder.run(&call).fails(2, &["exists already"]);
        // Other data are not gone on with.
        folder.write(&format!("other.{form}.part"), &left);
        folder.write("u.csv", table(6).replace("50.", "51."));
        folder
            .run(&format!("screen u.csv --quick --out other.{form} --resume"))
            .fails(3, &["was made from other data"]);
    }
}

#[test]
fn a_row_cut_in_the_middle_of_a_letter_goes_on_too() {
    let folder = Folder::with("t.csv", table(3).replacen(",s1", ",größe", 1));
    for form in ["jsonl", "csv"] {
        folder.run(&format!("screen t.csv --quick --out all.{form}")).succeeds();
        let bytes = folder.read(&format!("all.{form}"));
        let letter = bytes.iter().position(|byte| *byte >= 0x80).expect("a letter of two bytes");
        folder.write(&format!("rest.{form}.part"), &bytes[..=letter]);
        folder.run(&format!("screen t.csv --quick --out rest.{form} --resume")).succeeds();
        assert_eq!(folder.read(&format!("rest.{form}")), bytes, "{form}");
    }
}

#[test]
fn records_a_line_go_through() {
    let folder = Folder::new();
    let values: Vec<f64> = noise(100, 4);
    let mut lines = String::new();
    let _ = writeln!(lines, "{}", serde_json::json!({"series": "a", "start": "2001-Q1", "values": values}));
    let _ = writeln!(lines, "{}", serde_json::json!({"series": "b", "values": values, "season": 7}));
    lines.push_str("{\"series\": \"c\", \"values\": [1, null, 2]}\nno record\n\n");
    let output = folder.run_words(&["screen", "-", "--as", "jsonl"], &lines);
    output.succeeds();
    let found = rows(&output.stdout);
    assert_eq!(found.len(), 4);
    assert_eq!((&found[0]["season"], &found[0]["last"]), (&4.into(), &"2025-Q4".into()));
    assert_eq!((&found[1]["season"], &found[1]["first"]), (&7.into(), &"1".into()));
    assert!(found[2]["error"].as_str().expect("a reason").contains("1 value missing inside"));
    assert_eq!(found[3]["series"], "line 4");
    // A table on standard input is a table still.
    let table = folder.run_words(&["screen", "-", "--as", "jsonl", "--quick"], &table(2));
    table.succeeds();
    assert_eq!(rows(&table.stdout).len(), 2);
}

#[test]
fn names_cannot_break_out_of_a_row() {
    let mut text = String::from("month,\"=1+1\",\"a,\"\"b\"\"\",\"two\nlines\"\n");
    for (t, e) in noise(60, 2).into_iter().enumerate() {
        let _ = writeln!(text, "{}-{:02},{e},{},{}", 2001 + t / 12, t % 12 + 1, 2.0 * e, e + 1.0);
    }
    let folder = Folder::with("t.csv", text);
    folder.run("screen t.csv --quick --out rows.csv").succeeds();
    let table = String::from_utf8(folder.read("rows.csv")).expect("text");
    let mut reader = csv::Reader::from_reader(table.as_bytes());
    let names: Vec<String> =
        reader.records().map(|row| row.expect("a whole row").get(1).expect("a name").to_owned()).collect();
    // As expressions that can be pasted, which no spreadsheet runs, each in one line.
    assert_eq!(names, ["`=1+1`", "`a,\"b\"`", "`two lines`"]);
    // All rows are known again.
    let kept = table.clone();
    folder.write("again.csv.part", &kept);
    folder.run("screen t.csv --quick --out again.csv --resume").succeeds();
    assert_eq!(folder.read("again.csv"), kept.as_bytes());
}

#[test]
fn several_files_are_one_screening() {
    let folder = Folder::with("a.csv", table(2));
    folder.write("b.csv", table(3));
    let found = rows(&folder.run("screen a.csv b.csv --quick --as jsonl").stdout);
    let sources: Vec<&str> = found.iter().map(|row| row["source"].as_str().expect("a source")).collect();
    assert_eq!(sources, ["a.csv", "a.csv", "b.csv", "b.csv", "b.csv"]);
    folder.run("screen a.csv b.csv --quick").succeeds();
    folder.run("screen a.csv b.csv --quick --as json").fails(2, &["--as jsonl"]);
    folder.run("screen a.csv --resume --out x.txt").fails(2, &["--resume goes with rows"]);
}
