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
    let mut before = None;
    for part in [
        "Transformation",
        "Diagnosis",
        "Robustness of the diagnosis",
        "Power of the tests",
        "Data",
        "Charts",
        "Trend and seasonality",
        "Outliers",
        "Autocorrelation",
        "Model",
        "Evaluation",
        "Forecast",
        "How to do it again",
    ] {
        let place = page.find(&format!(">{part}</h2>"));
        assert!(place > before, "{part} is not after the part before it");
        before = place;
    }
    // One file that holds everything.
    assert_eq!(page.matches("<script").count(), 2, "its own");
    assert!(!page.contains("src=") && !page.contains("http://localhost"));
    assert_eq!(page.matches("<figure>").count(), 10);
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
            && changed.contains("x.csv have changed: other values in the same periods."),
        "{changed}"
    );
    assert!(
        changed.contains("the answer was “") || changed.contains("the same answer with other numbers: "),
        "{changed}"
    );
    folder.write("x.csv", monthly(&noise(84, 5)));
    let longer = folder.run("study x.toml --check").running_text();
    assert!(
        longer.contains("they were monthly data from") && longer.contains("80 rows, and are"),
        "{longer}"
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

#[test]
fn several_series_are_studied_one_by_one_and_together() {
    let folder = Folder::new();
    folder.run("study --new demo:region wages rents output --out m.toml").succeeds();
    let toml = String::from_utf8(folder.read("m.toml")).expect("text");
    assert!(toml.contains("series = [\"wages\", \"rents\", \"output\"]"), "{toml}");
    let parts =
        "parts = [\"transformation\", \"stationarity\", \"relations\", \"lags\", \"cointegration\"]\n";
    folder.write("m.toml", toml + parts);
    let output = folder.run("study m.toml --into r");
    output.succeeds();
    fits_80_columns(&output.stdout).expect("no wide line");
    let record: Value = serde_json::from_slice(&folder.read("r/results.json")).expect("JSON");
    let calls: Vec<&str> =
        record["steps"].as_array().expect("steps").iter().filter_map(|step| step["call"].as_str()).collect();
    assert_eq!(
        calls,
        [
            "kandrel stationarity demo:region wages",
            "kandrel stationarity demo:region rents",
            "kandrel stationarity demo:region output",
            "kandrel relate demo:region wages:d1 rents:d1 output:d1",
            "kandrel lags demo:region wages rents output --causality",
            "kandrel cointegration demo:region wages rents output",
        ]
    );
    let page = String::from_utf8(folder.read("r/report.html")).expect("text");
    for title in [
        "wages: Diagnosis",
        "output: Transformation",
        "Relations",
        "Lag order and Granger causality",
        "Cointegration",
    ] {
        assert!(page.contains(&format!(">{title}</h2>")), "{title}");
    }
    for figure in ["1-wages-stationarity", "3-output-stationarity", "relations", "lags", "cointegration"] {
        for ending in ["svg", "png"] {
            assert!(!folder.read(&format!("r/figures/{figure}.{ending}")).is_empty(), "{figure}.{ending}");
        }
    }
}

#[test]
fn series_without_unit_roots_have_nothing_to_be_cointegrated() {
    let (a, b) = (noise(90, 21), noise(90, 22));
    let mut text = String::from("month,x,y\n");
    for (t, (x, y)) in a.iter().zip(&b).enumerate() {
        let _ = writeln!(text, "{}-{:02},{:.4},{:.4}", 2001 + t / 12, t % 12 + 1, 9.0 + x, 9.0 + y);
    }
    let folder = Folder::with("n.csv", text);
    folder.write("n.toml", "file = \"n.csv\"\nseries = [\"x\", \"y\"]\nparts = [\"cointegration\"]\n");
    let output = folder.run("study n.toml");
    output.succeeds();
    assert!(
        output.running_text().contains("Cointegration: Fewer than two of the series have a unit root"),
        "{}",
        output.stdout
    );
}

/// A file whose names are as LaTeX does not like them.
fn names_for_latex() -> Folder {
    let names = ["50 % & more_x", "日本 Жук \\end{document}", "[a] --b 'c'"];
    let columns: Vec<Vec<f64>> = (0..3).map(|k| noise(72, 50 + k)).collect();
    let mut text = format!("month,{}\n", names.map(|name| format!("\"{name}\"")).join(","));
    for t in 0..72 {
        let row: Vec<String> = columns.iter().map(|values| format!("{:.3}", 20.0 + values[t])).collect();
        let _ = writeln!(text, "{}-{:02},{}", 2001 + t / 12, t % 12 + 1, row.join(","));
    }
    Folder::with("n.csv", text)
}

#[test]
fn the_report_compiles_as_latex_whatever_the_names() {
    let folder = names_for_latex();
    folder.run("study --new n.csv --out n.toml").fails(2, &["which series?"]);
    let names = folder.json("inspect n.csv")["results"][0]["columns"].clone();
    let quoted = |name: &Value| format!("`{}`", name["name"].as_str().expect("a name"));
    let mut words: Vec<String> = ["study", "--new", "n.csv"].map(str::to_owned).into();
    words.extend(names.as_array().expect("columns").iter().skip(1).map(quoted));
    words.extend(["--out", "n.toml"].map(str::to_owned));
    folder.run_words(&words.iter().map(String::as_str).collect::<Vec<_>>(), "").succeeds();
    let parts = "parts = [\"stationarity\", \"plot\", \"outliers\", \"relations\", \"lags\"]\n";
    let toml = String::from_utf8(folder.read("n.toml")).expect("text") + parts;
    folder.write("n.toml", toml);
    folder.run("study n.toml --into r").succeeds();
    let article = String::from_utf8(folder.read("r/report.tex")).expect("text");
    assert!(
        article.starts_with("\\documentclass[11pt,a4paper]{article}")
            && article.ends_with("\\end{document}\n")
    );
    assert_eq!(article.matches("\\end{document}").count(), 1, "a name ends the document");
    assert!(article.contains("[U+65E5]"), "a letter without a sign is lost");
    let Ok(done) = std::process::Command::new("pdflatex")
        .args(["-interaction=nonstopmode", "-halt-on-error", "report.tex"])
        .current_dir(folder.path("r"))
        .output()
    else {
        eprintln!("skipped: there is no LaTeX here");
        return;
    };
    let log = String::from_utf8_lossy(&done.stdout).into_owned();
    let mistakes: Vec<&str> = log.lines().filter(|line| line.starts_with('!')).collect();
    assert!(
        done.status.success() && mistakes.is_empty(),
        "{mistakes:?}\n{}",
        &log[log.len().saturating_sub(600)..]
    );
    assert!(!folder.read("r/report.pdf").is_empty());
}
