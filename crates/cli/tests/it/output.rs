//! Where results go: whole or not at all, never over another file.

use crate::harness::{Folder, monthly, scattered};

#[test]
fn a_result_goes_to_a_file_in_the_form_of_its_ending() {
    let folder = Folder::new();
    let outcome = folder.run("acf demo:harbour claims --out result.json");
    outcome.succeeds();
    assert!(outcome.stdout.is_empty());
    let result: serde_json::Value = serde_json::from_slice(&folder.read("result.json")).expect("JSON");
    assert_eq!(result["results"][0]["series"], "claims");
    folder.run("acf demo:harbour claims --out result.txt").succeeds();
    assert!(folder.read("result.txt").starts_with(b"claims shows no autocorrelation."));
    folder.run("acf demo:harbour claims --as json --out plain.txt").succeeds();
    assert!(folder.read("plain.txt").starts_with(b"{"));
}

#[test]
fn a_file_that_exists_is_left_alone_without_force() {
    let folder = Folder::with("result.json", "precious");
    folder.run("acf demo:harbour claims --out result.json").fails(2, &["result.json exists", "--force"]);
    assert_eq!(folder.read("result.json"), b"precious");
    folder.run("acf demo:harbour claims --out result.json --force").succeeds();
    assert!(folder.read("result.json").starts_with(b"{"));
}

#[test]
fn nothing_is_written_if_anything_is_wrong() {
    let folder = Folder::with("taken.svg", "precious");
    folder.run("acf demo:harbour claims --figure taken.svg --out new.json").fails(2, &["taken.svg exists"]);
    folder.run("acf demo:harbour nothing --figure new.svg --out new.json").fails(3, &["no column"]);
    folder.run("acf demo:harbour claims --out away/new.json").fails(2, &["there is no folder away"]);
    folder
        .run("stationarity demo:harbour claims waiting --figure new.svg")
        .fails(2, &["--figure draws one series"]);
    let nine = ["claims"; 9].join(" ");
    folder.run(&format!("acf demo:harbour {nine} --figure new.svg")).fails(2, &["9 series are too many"]);
    folder
        .run("acf demo:harbour claims --figure new.gif")
        .fails(2, &["the ending is none of .svg, .png and .html"]);
    folder
        .run("acf demo:harbour claims --figure a.svg --out a.svg --as json")
        .fails(2, &["named for two results"]);
    assert_eq!(folder.names(), ["taken.svg"]);
}

#[test]
fn standard_input_is_a_file_too() {
    let folder = Folder::new();
    let outcome = folder.run_words(&["acf", "-"], &monthly(&scattered(50)));
    assert_eq!(outcome.status, 0, "{}", outcome.stderr);
    assert!(outcome.stdout.contains("50 observations, 2010-01 to 2014-02"));
}

#[test]
fn numbers_in_json_keep_their_digits_and_none_is_missing() {
    let text = Folder::new().run("stationarity demo:harbour freight --as json").stdout;
    let result: serde_json::Value = serde_json::from_str(&text).expect("JSON");
    let statistic = result["results"][0]["tests"][0]["statistic"].to_string();
    assert!(statistic.len() >= 15, "{statistic}");
    assert!(!text.contains("NaN") && !text.contains("inf"));
}

#[test]
fn a_unique_beginning_of_a_command_is_enough() {
    let folder = Folder::new();
    let short = folder.run("stat demo:harbour claims");
    assert_eq!(short.succeeds().stdout, folder.run("stationarity demo:harbour claims").stdout);
}

#[test]
fn the_same_call_gives_the_same_bytes() {
    let folder = Folder::new();
    for words in ["stationarity demo:harbour freight --as json", "acf demo:harbour ice"] {
        let words: Vec<&str> = words.split(' ').collect();
        assert_eq!(folder.run_anew(&words, "").stdout, folder.run_anew(&words, "").stdout);
    }
    folder.run("acf demo:harbour ice --figure a.png").succeeds();
    folder.run("acf demo:harbour ice --figure b.png").succeeds();
    assert_eq!(folder.read("a.png"), folder.read("b.png"));
}

#[test]
fn every_form_holds_every_table() {
    let folder = Folder::new();
    for command in
        ["inspect demo:harbour", "acf demo:harbour claims", "stationarity demo:harbour berth_fee --tests adf"]
    {
        let form = |name: &str| folder.run(&format!("{command} --as {name}")).succeeds().stdout.clone();
        let whole = folder.run(&format!("{command} -v"));
        assert_eq!(whole.status, 0, "{command}: {}", whole.stderr);
        let rules = whole.stdout.lines().filter(|line| line.starts_with('─')).count();
        assert!(rules > 0, "{command}");
        let markdown = form("markdown");
        assert_eq!(markdown.lines().filter(|line| line.starts_with("| ---")).count(), rules, "{command}");
        let latex = form("latex");
        assert_eq!(latex.matches("\\begin{tabular}").count(), rules, "{command}");
        assert_eq!(latex.matches("\\end{tabular}").count(), rules, "{command}");
        assert_eq!(form("csv").split("\n\n").count(), rules, "{command}");
    }
}

#[test]
fn csv_gives_numbers_at_full_precision() {
    let folder = Folder::new();
    let csv = folder.run("acf demo:harbour claims --lags 1 --as csv").stdout;
    let acf = folder.json("acf demo:harbour claims --lags 1")["results"][0]["lags"][0]["acf"].as_f64();
    let line = csv.lines().nth(1).expect("a row");
    assert!(line.split(',').any(|cell| cell.parse().ok() == acf), "{csv}");
}

#[test]
fn endings_name_the_form() {
    let folder = Folder::new();
    for (name, begins) in [("a.md", "tug\\_hours is"), ("a.tex", "% tug_hours is"), ("a.csv", "Data,Test")] {
        folder.run(&format!("stationarity demo:harbour tug_hours --out {name}")).succeeds();
        let text = String::from_utf8(folder.read(name)).expect("UTF-8");
        assert!(text.starts_with(begins), "{name}: {text:.60}");
    }
}

#[test]
fn decimals_bold_print_and_notes_are_as_asked_for() {
    let folder = Folder::with("x.csv", "year;x\n2000;1,5\n2001;2,25\n2002;4\n");
    let plain = folder.run("plot x.csv");
    assert!(plain.stderr.starts_with("note: x.csv: columns separated by semicolons"));
    folder.run("plot x.csv -q").succeeds();
    let more = folder.run("plot x.csv -v").stderr;
    assert!(
        more.contains("3 rows, 1 column of numbers, 2000 to 2002, sha256 ")
            && more.contains("annual because")
    );
    assert!(folder.run("plot x.csv --digits 5").stdout.contains("1.50000"));
    assert!(!plain.stdout.contains('\u{1b}'));
    assert!(folder.run("plot x.csv --color always").stdout.starts_with("\u{1b}[1mx lies between"));
    assert_eq!(folder.run("plot x.csv --color never").stdout, plain.stdout);
}
