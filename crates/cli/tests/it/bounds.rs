//! What is asked for beyond any sense: refused at once, in one line.

use crate::harness::{Folder, monthly, scattered};

#[test]
fn a_season_longer_than_half_the_series_is_refused() {
    let folder = Folder::with("a.csv", monthly(&scattered(60)));
    for command in
        ["stationarity a.csv x", "forecast a.csv x", "acf a.csv x", "screen a.csv", "decompose a.csv x"]
    {
        for season in ["31", "100000", "4000000000"] {
            folder
                .run(&format!("{command} --season {season}"))
                .fails(3, &[&format!("60 rows are fewer than two seasonal cycles of {season}")]);
        }
    }
    assert_eq!(folder.run("acf a.csv x --season 30").status, 0);
    let values: Vec<String> = scattered(40).iter().map(f64::to_string).collect();
    let record = |name: &str, season: u64| {
        format!("{{\"series\":\"{name}\",\"season\":{season},\"values\":[{}]}}\n", values.join(","))
    };
    let records = record("a", 9_000_000_000_000_000_000) + &record("b", 4);
    let found = folder.run_words(&["screen", "-", "--as", "jsonl"], &records);
    assert_eq!(found.stdout.lines().count(), 2, "{}", found.stdout);
    assert!(
        found.stdout.contains("40 rows are fewer than two seasonal cycles of 9000000000000000000"),
        "{}",
        found.stdout
    );
    let last: serde_json::Value =
        serde_json::from_str(found.stdout.lines().last().expect("a row")).expect("JSON");
    assert_eq!(last["series"], "b");
}

#[test]
fn the_shortest_season_has_its_verdict_too() {
    let folder = Folder::with("a.csv", monthly(&scattered(60)));
    for command in ["lags", "stationarity", "screen", "orders"] {
        let series = if command == "screen" { "" } else { "x" };
        for season in ["2", "3"] {
            folder.run(&format!("{command} a.csv {series} --season {season} --quiet")).succeeds();
        }
    }
}

#[test]
fn expressions_without_end_are_refused_and_do_not_take_the_program() {
    let folder = Folder::with("a.csv", monthly(&scattered(60)));
    let sum = format!("x{}", "+x".repeat(20_000));
    let brackets = format!("{}x{}", "(".repeat(20_000), ")".repeat(20_000));
    let functions = format!("{}x{}", "log(".repeat(20_000), ")".repeat(20_000));
    let chain = format!("x:{}d1", "d1,".repeat(20_000));
    let power = format!("x{}", "^x".repeat(20_000));
    for text in [&sum, &brackets, &functions, &chain, &power] {
        folder.run_words(&["acf", "a.csv", text], "").fails(2, &["the series"]);
    }
    let mut words = vec!["acf".to_owned(), "a.csv".to_owned(), "v40".to_owned()];
    let mut last = "x".to_owned();
    for number in 1..=40 {
        words.extend(["--let".to_owned(), format!("v{number}={last} + {last}")]);
        last = format!("v{number}");
    }
    let words: Vec<&str> = words.iter().map(String::as_str).collect();
    folder.run_words(&words, "").fails(2, &["--let v", "more than 4000 parts"]);
    // What a person may write is read.
    let long = format!("x{}", " + x".repeat(300));
    assert_eq!(folder.run_words(&["acf", "a.csv", &long], "").status, 0);
}
