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

/// The first line of the unfinished file of a call.
fn fingerprint(form: &str, call: &str) -> Vec<u8> {
    let line = serde_json::json!({"kandrel": env!("CARGO_PKG_VERSION"), "rows": form, "call": call});
    format!("{line}\n").into_bytes()
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
        let own = fingerprint(form, "kandrel screen t.csv --quick");
        let mut left = [&own, rows[..4].concat().as_slice()].concat();
        left.extend_from_slice(&rows[4][..rows[4].len() / 2]);
        folder.write(&part, &left);
        let call = format!("screen t.csv --quick --out rest.{form}");
        folder.run(&call).fails(2, &["is an unfinished screening", "--resume"]);
        folder.run(&format!("{call} --resume")).succeeds();
        assert_eq!(folder.read(&format!("rest.{form}")), bytes, "{form}");
        // Done is done.
        folder.run(&format!("{call} --resume")).succeeds();
        folder.run(&call).fails(2, &["exists already"]);
        assert!(!folder.names().contains(&part));
    }
}

#[test]
fn an_unfinished_screening_is_continued_by_the_same_call_on_the_same_data_only() {
    let folder = Folder::with("t.csv", table(6));
    for form in ["jsonl", "csv"] {
        folder.run(&format!("screen t.csv --quick --out all.{form}")).succeeds();
        let bytes = folder.read(&format!("all.{form}"));
        let left = [fingerprint(form, "kandrel screen t.csv --quick --season 4"), bytes].concat();
        let part = format!("rest.{form}.part");
        let call = |options: &str| format!("screen t.csv {options} --out rest.{form} --resume");
        folder.write(&part, &left);
        for options in [
            "--quick",
            "--season 4",
            "--quick --season 12",
            "--quick --season 4 --sample 2002..",
            "s1 --quick --season 4",
            "--quick --season 4 --missing x",
        ] {
            let refused = folder.run(&call(options));
            refused.fails(2, &["was begun by `kandrel screen t.csv --quick --season 4`", "--force"]);
            assert_eq!(folder.read(&part), left, "{options}");
        }
        // The order of options, threads and quiet are none of it.
        folder.run(&call("--season 4 -q --jobs 1 --quick")).succeeds();
        let version = String::from_utf8(left.clone()).expect("text").replacen("0.", "9.", 1);
        folder.write(&part, version);
        folder.run(&format!("{} --force", call("--season 4 --quick"))).fails(2, &["was begun by version 9."]);
        folder.run(&format!("screen t.csv --quick --out rest.{form} --force")).succeeds();
        assert!(!folder.names().contains(&part), "begun again");
    }
}

#[test]
fn other_data_under_the_same_name_are_noticed() {
    for form in ["jsonl", "csv"] {
        let folder = Folder::with("t.csv", table(4));
        let call = format!("screen t.csv --quick --out rows.{form}");
        folder.run(&call).succeeds();
        let done = folder.read(&format!("rows.{form}"));
        for (data, word) in [
            (table(4).replacen("50.", "51.", 1), "had other values"),
            (table(3), "had other values"),
            (table(4).replacen("s0", "t0", 1), "where t0 of t.csv is next"),
        ] {
            folder.write("t.csv", data);
            // A finished file says so as an unfinished one does.
            folder.run(&format!("{call} --resume")).fails(3, &["is finished and was made from other", word]);
            assert_eq!(folder.read(&format!("rows.{form}")), done);
            folder.write(
                &format!("new.{form}.part"),
                [fingerprint(form, "kandrel screen t.csv --quick"), done.clone()].concat(),
            );
            folder
                .run(&format!("screen t.csv --quick --out new.{form} --resume"))
                .fails(3, &["was made from other data", word]);
        }
    }
}

#[test]
fn records_are_known_by_what_they_hold() {
    let folder = Folder::new();
    let line = |name: &str, first: f64| {
        let values: Vec<f64> = std::iter::once(first).chain(noise(60, 4)).collect();
        format!("{}\n", serde_json::json!({"series": name, "values": values}))
    };
    let (two, call) = (line("a", 1.0) + &line("b", 2.0), "screen r.jsonl --quick --out rows.jsonl");
    folder.write("r.jsonl", &two);
    folder.run(call).succeeds();
    folder.run(&format!("{call} --resume")).succeeds();
    for (records, word) in [
        (line("a", 1.0) + &line("b", 2.5), "its b of r.jsonl had other values"),
        (line("a", 1.0), "it has b of r.jsonl, which they lack"),
        (two + &line("c", 3.0), "it has no c of r.jsonl"),
    ] {
        folder.write("r.jsonl", records);
        folder.run(&format!("{call} --resume")).fails(3, &[word]);
    }
}

#[test]
fn names_of_records_are_harmless_like_those_of_columns() {
    let record = serde_json::json!({"series": "a\u{1b}]52;c;aGk=\u{7}\u{202e}b", "values": noise(40, 4)});
    for form in ["text", "jsonl", "csv", "markdown", "latex"] {
        let words = ["screen", "-", "--quick", "--as", form];
        let found = Folder::new().run_words(&words, &format!("{record}\n"));
        found.succeeds();
        assert!(!found.stdout.contains(['\u{1b}', '\u{7}', '\u{202e}']), "{form}: {}", found.stdout);
    }
}

#[test]
fn a_foreign_file_is_left_as_it_is() {
    let folder = Folder::with("t.csv", table(2));
    folder.write("rows.csv.part", "a letter to my aunt\n");
    let call = "screen t.csv --quick --out rows.csv";
    for option in ["", " --resume", " --force", " --resume --force"] {
        folder.run(&format!("{call}{option}")).fails(3, &["is no unfinished screening", "rename it"]);
        assert_eq!(folder.names(), ["rows.csv.part", "t.csv"]);
    }
    #[cfg(unix)]
    {
        let (whole, own) = (folder.path("own"), fingerprint("csv", "kandrel screen t.csv --quick"));
        std::fs::write(&whole, &own).expect("writable");
        std::fs::remove_file(folder.path("rows.csv.part")).expect("there");
        std::os::unix::fs::symlink(&whole, folder.path("rows.csv.part")).expect("a link");
        for option in [" --resume", " --force"] {
            folder.run(&format!("{call}{option}")).fails(3, &["is no unfinished screening"]);
            assert_eq!(folder.read("own"), own);
        }
    }
}

#[test]
fn nothing_is_written_before_the_first_row() {
    let folder = Folder::with("t.csv", table(2));
    folder.run("screen t.csv --time nix --out rows.csv").fails(3, &["nix"]);
    folder.run("screen nothing.csv --out rows.csv").fails(3, &["no file"]);
    assert_eq!(folder.names(), ["t.csv"]);
    // Nor is nothing a result.
    folder.write("words.csv", "month,x\n2001-01,a\n2001-02,b\n");
    folder.run("screen words.csv --as jsonl").fails(3, &["words.csv has no column of numbers", "inspect"]);
}

#[test]
fn a_bad_first_record_is_a_row_like_any_other() {
    let good = serde_json::json!({"series": "b", "values": noise(60, 4)});
    for first in [r#"{"series": "a", "values": ["x", 2]}"#, r#"{"series": "a", "val"#, "\u{fffd}", "oops"] {
        let found = Folder::new()
            .run_words(&["screen", "-", "--as", "jsonl", "--quick"], &format!("{first}\n{good}\n"));
        found.succeeds();
        let found = rows(&found.stdout);
        assert_eq!(
            (found.len(), &found[0]["series"], &found[1]["series"]),
            (2, &"line 1".into(), &"b".into())
        );
        assert!(found[0]["error"].as_str().expect("a reason").starts_with("not a record"), "{first}");
    }
}

#[test]
fn a_row_cut_in_the_middle_of_a_letter_goes_on_too() {
    let folder = Folder::with("t.csv", table(3).replacen(",s1", ",größe", 1));
    for form in ["jsonl", "csv"] {
        folder.run(&format!("screen t.csv --quick --out all.{form}")).succeeds();
        let bytes = folder.read(&format!("all.{form}"));
        let letter = bytes.iter().position(|byte| *byte >= 0x80).expect("a letter of two bytes");
        let own = fingerprint(form, "kandrel screen t.csv --quick");
        folder.write(&format!("rest.{form}.part"), [&own, &bytes[..=letter]].concat());
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
    let own = fingerprint("csv", "kandrel screen t.csv --quick");
    folder.write("again.csv.part", [&own, kept.as_bytes()].concat());
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

#[test]
fn a_figure_has_a_panel_for_each_flagged_series_in_every_form_of_rows() {
    let folder = Folder::new();
    let call = "screen demo:harbour --quick";
    let rows = folder.json(call)["results"].as_array().expect("rows").clone();
    for (form, name) in [("text", "a.svg"), ("jsonl", "b.svg"), ("csv", "c.svg")] {
        folder.run(&format!("{call} --as {form} --out rows.{form} --figure {name}")).succeeds();
        let svg = String::from_utf8(folder.read(name)).expect("text");
        for row in &rows {
            let label = format!("aria-label=\"{}\"", row["series"].as_str().expect("a name"));
            assert_eq!(svg.contains(&label), row["review"] == true, "{form}: {label}");
        }
        let flagged = rows.iter().filter(|row| row["review"] == true).count();
        assert!(svg.contains(&format!("{flagged} of {} series flagged for review", rows.len())));
    }
}

#[test]
fn a_figure_of_a_screening_never_replaces_its_rows() {
    let folder = Folder::new();
    folder
        .run("screen demo:harbour claims --quick --as csv --out a.svg --figure ./a.svg --force")
        .fails(2, &["a.svg is named for two results"]);
    folder
        .run("screen demo:harbour claims --quick --as csv --out a.csv --resume --figure a.svg")
        .fails_call("--figure");
    folder.write("taken.svg", "mine");
    folder
        .run("screen demo:harbour claims --quick --as csv --out a.csv --figure taken.svg")
        .fails(2, &["taken.svg exists"]);
    assert_eq!(folder.read("taken.svg"), b"mine");
    assert!(!folder.path("a.csv").exists() && !folder.path("a.svg").exists());
}
