//! `kandrel power`.

use crate::harness::{Folder, fits_80_columns, monthly, noise};

/// An autoregression of the first order as a file.
fn folder(rho: f64) -> Folder {
    let mut last = 0.0;
    let values: Vec<String> = noise(90, 31)
        .iter()
        .map(|e| {
            last = rho * last + e;
            format!("{:.5}", 10.0 + last)
        })
        .collect();
    Folder::with("a.csv", monthly(&values))
}

#[test]
fn shares_fall_with_the_root_and_the_sentence_agrees_with_the_table() {
    let folder = folder(0.5);
    let call = "power a.csv --season 1 --draws 60 --lags 0";
    let found = folder.json(call)["results"][0].clone();
    let rows = found["rows"].as_array().expect("rows").clone();
    let share = |row: usize, test: &str| rows[row][test].as_f64().expect("a share");
    assert_eq!(rows.len(), 11);
    assert!(share(0, "adf") > 0.9 && share(10, "adf") < 0.2);
    assert!(share(0, "verdict") > 0.8 && share(10, "kpss") > 0.5);
    let root = found["found"].as_f64().expect("a root that is found");
    for (place, row) in rows.iter().enumerate() {
        let own = row["root"].as_f64().expect("a root");
        assert!(own <= root || share(place, "adf") < 0.8, "{own} {root}");
    }
    let text = folder.run(call);
    text.succeeds();
    assert!(text.running_text().contains(&format!("whose largest root is {root:.2}")), "{}", text.stdout);
    fits_80_columns(&text.stdout).expect("no wide line");
}

#[test]
fn the_same_seed_gives_the_same_table_and_another_one_another() {
    let folder = folder(0.9);
    let of = |seed: u32| {
        let call = format!("power a.csv --season 1 --draws 50 --lags 0 --seed {seed}");
        folder.json(&call)["results"][0]["rows"].clone()
    };
    assert_eq!(of(3), of(3));
    assert_ne!(of(3), of(4));
}

#[test]
fn a_figure_is_drawn_and_wrong_calls_are_refused() {
    let folder = folder(0.7);
    folder.run("power a.csv --season 1 --draws 50 --lags 0 --figure p.svg").succeeds();
    let svg = String::from_utf8(folder.read("p.svg")).expect("text");
    assert!(svg.contains("Largest autoregressive root") && svg.contains("ADF-GLS"));
    for (call, status) in
        [("power a.csv --draws 10", 2), ("power a.csv --terms season", 2), ("power a.csv nowhere", 3)]
    {
        let outcome = folder.run(call);
        assert_eq!(outcome.status, status, "{call}: {}", outcome.stderr);
    }
}
