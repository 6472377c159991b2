//! `kandrel study`.

use std::fmt::Write as _;

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, monthly, noise};

#[test]
fn from_a_file_of_ones_own_to_a_report_in_two_calls() {
    let folder =
        Folder::with("sales.csv", monthly(&noise(96, 3).iter().map(|e| 50.0 + e).collect::<Vec<_>>()));
    let new = folder.run("study --new sales.csv --out sales.toml");
    new.succeeds();
    assert!(new.stdout.contains("kandrel study sales.toml"), "{}", new.stdout);
    let output = folder.run("study sales.toml");
    output.succeeds();
    assert!(output.first_line().contains("report.html is written"), "{}", output.stdout);
    fits_80_columns(&output.stdout).expect("no wide line");
    let page = String::from_utf8(folder.read("sales-report/report.html")).expect("text");
    for part in [
        "Data",
        "Charts",
        "Transformation",
        "Trend and seasonality",
        "Outliers",
        "Autocorrelation",
        "Stationarity",
        "Model",
        "Evaluation",
        "Forecast",
        "How to do it again",
    ] {
        assert!(page.contains(&format!(">{part}</h2>")), "{part}");
    }
    // One file that holds everything.
    assert_eq!(page.matches("<script").count(), 2, "its own");
    assert!(!page.contains("src=") && !page.contains("http://localhost"));
    assert_eq!(page.matches("<figure>").count(), 8);
    let digest = folder.json("inspect sales.csv")["data"]["sha256"].as_str().expect("a digest").to_owned();
    assert!(page.contains(&digest));
    let markdown = String::from_utf8(folder.read("sales-report/report.md")).expect("text");
    for line in markdown.lines().filter(|line| line.starts_with("![")) {
        let file = line.split('(').nth(1).and_then(|rest| rest.strip_suffix(')')).expect("a file");
        assert!(!folder.read(&format!("sales-report/{file}")).is_empty());
    }
    folder.run("study sales.toml").fails(2, &["exists already", "--force"]);
    folder.run("study sales.toml --force").succeeds();
}

#[test]
fn the_calls_of_a_report_give_its_answers() {
    let folder = Folder::new();
    folder.run("study demo:freight.toml --into r").succeeds();
    let record: Value = serde_json::from_slice(&folder.read("r/results.json")).expect("JSON");
    let steps = record["steps"].as_array().expect("steps");
    assert!(steps.len() >= 10);
    for step in steps {
        let call = step["call"].as_str().expect("a call").strip_prefix("kandrel ").expect("a call");
        let words: Vec<&str> = call.split_whitespace().map(|word| word.trim_matches('\'')).collect();
        let answer = step["answer"].as_str().expect("an answer");
        let output = folder.run_words(&words, "");
        output.succeeds();
        assert!(
            output.running_text().starts_with(&answer.split_whitespace().collect::<Vec<_>>().join(" ")),
            "{call}"
        );
    }
}

#[test]
fn what_has_changed_is_said() {
    let folder = Folder::with("x.csv", monthly(&noise(80, 5)));
    folder.write(
        "x.toml",
        "file = \"x.csv\"\nseries = \"value\"\nparts = [\"autocorrelation\", \"stationarity\"]\n",
    );
    let column =
        folder.json("inspect x.csv")["results"][0]["columns"][1]["name"].as_str().expect("a name").to_owned();
    let toml = String::from_utf8(folder.read("x.toml")).expect("text").replace("value", &column);
    folder.write("x.toml", toml);
    folder.run("study x.toml").succeeds();
    let same = folder.run("study x.toml --check");
    same.succeeds();
    assert!(same.first_line().starts_with("Nothing has changed"), "{}", same.stdout);
    let mut other = noise(80, 5);
    other[40] += 30.0;
    folder.write("x.csv", monthly(&other));
    let changed = folder.run("study x.toml --check").running_text();
    assert!(
        changed.contains("changes since")
            && changed.contains("The data in")
            && changed.contains("x.csv have changed."),
        "{changed}"
    );
}

#[test]
fn what_a_part_refuses_is_said_and_the_rest_is_done() {
    // Eighteen months are too few for a verdict and enough for a look.
    let folder = Folder::with("s.csv", monthly(&noise(18, 9)));
    folder.run("study --new s.csv --out s.toml").succeeds();
    let output = folder.run("study s.toml");
    output.succeeds();
    assert!(output.running_text().contains("Not done: "), "{}", output.stdout);
    let page = String::from_utf8(folder.read("s-report/report.html")).expect("text");
    assert!(page.contains("class=\"failure\"") && page.contains("Charts"));
}

#[test]
fn errors_point_at_line_and_column() {
    let folder = Folder::with("x.csv", monthly(&noise(60, 1)));
    let fails = |text: &str, status: i32, texts: &[&str]| {
        folder.write("s.toml", text);
        folder.run("study s.toml").fails(status, texts);
        assert!(!folder.names().iter().any(|name| name.ends_with("-report")));
    };
    fails("file = \"x.csv\"\nseris = \"x\"\n", 2, &["s.toml, line 2, column 1", "seris", "^"]);
    fails("file = \"x.csv\"\nseries = 5\n", 2, &["line 2, column 10"]);
    fails("file = \"x.csv\nseries = \"x\"\n", 2, &["line 1"]);
    fails("file = \"x.csv\"\n", 2, &["series"]);
    fails(
        "file = \"x.csv\"\nseries = \"x\"\nparts = [\"dance\"]\n",
        2,
        &["no part \"dance\"", "stationarity"],
    );
    fails("file = \"x.csv\"\nseries = \"nothing\"\n", 3, &["no column `nothing`"]);
    fails("file = \"y.csv\"\nseries = \"x\"\n", 3, &["there is no file"]);
    fails("file = \"x.csv\"\nseries = \"x\"\ndata = [\"--colour\"]\n", 2, &["--colour"]);
    fails("file = \"x.csv\"\nseries = \"x\"\nhorizon = 0\n", 2, &["horizon"]);
    folder.run("study none.toml").fails(3, &["none.toml cannot be read", "--new"]);
    folder.run("study --new demo:harbour").fails(2, &["which series?"]);
}

#[test]
fn names_are_never_run() {
    let evil = "<script>alert(1)</script>\"&'";
    let mut text = format!("month,\"{}\"\n", evil.replace('"', "\"\""));
    for (t, e) in noise(60, 2).into_iter().enumerate() {
        let _ = writeln!(text, "{}-{:02},{}", 2001 + t / 12, t % 12 + 1, e + 9.0);
    }
    let folder = Folder::with("e.csv", text);
    folder.run("study --new e.csv --out e.toml").succeeds();
    folder.run("study e.toml").succeeds();
    let page = String::from_utf8(folder.read("e-report/report.html")).expect("text");
    assert_eq!(page.matches("<script").count(), 2, "its own");
    assert!(page.contains("&lt;script&gt;alert(1)"));
}
