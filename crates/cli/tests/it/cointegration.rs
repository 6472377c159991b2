//! `kandrel cointegration`.

use std::fmt::Write as _;

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, noise};

fn number(value: &Value) -> f64 {
    value.as_f64().expect("a number")
}

#[test]
fn johansen_finds_one_relation_in_the_demo_region() {
    let folder = Folder::new();
    let call = "cointegration demo:region wages rents output";
    let found = folder.json(call)["results"][0].clone();
    let johansen = &found["johansen"];
    assert_eq!(johansen["rank"], 1);
    let vector = johansen["vectors"][0].as_array().expect("a relation");
    assert_eq!((vector[0]["name"].as_str(), number(&vector[0]["estimate"])), (Some("wages"), 1.0));
    // In truth -1.6 and zero.
    for (place, truth) in [(1, -1.6), (2, 0.0)] {
        let (own, error) = (number(&vector[place]["estimate"]), number(&vector[place]["std_error"]));
        assert!((own - truth).abs() < 3.0 * error, "{own} {error}");
    }
    // In truth wages make up a quarter of a gap, and the others nothing.
    let loadings = johansen["loadings"][0].as_array().expect("loadings");
    for (place, truth) in [(0, -0.25), (1, 0.0), (2, 0.0)] {
        let (own, error) = (number(&loadings[place]["estimate"]), number(&loadings[place]["std_error"]));
        assert!((own - truth).abs() < 3.0 * error, "{own} {error}");
    }
    assert!(number(&found["engle_granger"]["p_value"]) < 0.01);
    assert!(number(&found["phillips_ouliaris"]["p_value"]) < 0.01);
    for pair in ["wages output", "rents output"] {
        let other = folder.json(&format!("cointegration demo:region {pair}"))["results"][0].clone();
        assert_eq!(other["johansen"]["rank"], 0, "{pair}");
    }
    let text = folder.run(call);
    text.succeeds();
    let running = text.running_text();
    assert!(
        running.starts_with("One cointegrating relation among wages, rents and output: wages = "),
        "{running}"
    );
    assert!(
        running.contains(
            "of a deviation from equilibrium each quarter; the adjustment coefficients of rents and output are not significant"
        ),
        "{running}"
    );
    assert!(running.contains("output has no significant coefficient in the relation"), "{running}");
    fits_80_columns(text.stdout.split("Next").next().expect("a text")).expect("no wide line");
    // The command it proposes runs.
    let next = text.stdout.lines().rfind(|line| line.contains("kandrel ols")).expect("a command");
    let on = next.split('\'').nth(1).expect("regressors");
    folder.run_words(&["ols", "demo:region", "wages:d1", "--on", on], "").succeeds();
}

#[test]
fn four_charters_share_one_trend() {
    let folder = Folder::new();
    let call = "cointegration demo:charters lighter coaster feeder bulker";
    let found = folder.json(call)["results"][0].clone();
    assert_eq!(found["johansen"]["rank"], 3);
    assert_eq!(found["johansen"]["vectors"].as_array().expect("relations").len(), 3);
    assert!(folder.run(call).running_text().contains("1 common trend"));
    let first = folder.json(&format!("{call} --target feeder"))["results"][0].clone();
    assert_eq!(first["variables"][0], "feeder");
    assert_eq!(first["johansen"]["rank"], 3);
}

#[test]
fn walks_on_their_own_have_no_relation_and_units_do_not_matter() {
    let folder = Folder::new();
    let walk = |seed: u64| {
        let mut level = 0.0;
        noise(150, seed)
            .into_iter()
            .map(|e| {
                level += e;
                level
            })
            .collect::<Vec<f64>>()
    };
    let (x, y) = (walk(1), walk(2));
    let mut text = String::from("month,x,y,z\n");
    for t in 0..150 {
        let _ = writeln!(text, "{}-{:02},{},{},{}", 2001 + t / 12, t % 12 + 1, x[t], y[t], 1e4 - 50.0 * y[t]);
    }
    folder.write("w.csv", text);
    let of = |call: &str| folder.json(&format!("cointegration w.csv {call}"))["results"][0].clone();
    let (plain, scaled) = (of("x y --lags 2 --terms constant"), of("x z --lags 2 --terms constant"));
    assert_eq!(plain["johansen"]["rank"], 0);
    assert_eq!(plain["engle_granger"]["lags"], 1, "one lag of the changes for two of the levels");
    for row in 0..2 {
        let trace = |found: &Value| number(&found["johansen"]["rows"][row]["trace"]);
        assert!((trace(&plain) - trace(&scaled)).abs() < 1e-7);
    }
    let statistic = |found: &Value| number(&found["engle_granger"]["statistic"]);
    assert!((statistic(&plain) - statistic(&scaled)).abs() < 1e-7);
}

#[test]
fn bartletts_correction_is_seeded_and_said() {
    let folder = Folder::new();
    let call = "cointegration demo:region wages rents --sample 2010-Q1.. --bartlett --seed 7";
    let one = folder.json(call);
    let words: Vec<&str> = call.split(' ').chain(["--as", "json"]).collect();
    let again: Value = serde_json::from_str(&folder.run_anew(&words, "").stdout).expect("JSON");
    assert_eq!(one["results"], again["results"]);
    let rows = one["results"][0]["johansen"]["rows"].clone();
    let factor = number(&rows[0]["bartlett_factor"]);
    assert!(factor > 0.8 && factor < 2.0, "{factor}");
    assert!(folder.run(call).running_text().contains("999 simulated systems, seed 7"));
}

#[test]
fn what_cannot_be_tested_is_refused_with_names() {
    let folder = Folder::new();
    let fails = |call: &str, status: i32, texts: &[&str]| {
        folder.run(call).fails(status, texts);
    };
    fails("cointegration demo:region wages", 2, &["at least two series"]);
    fails("cointegration demo:region wages rents --lags 0", 2, &["one lag at least"]);
    fails("cointegration demo:region wages rents --lags 70", 2, &["70 lags are too many", "at most"]);
    fails("cointegration demo:region wages rents --target output", 2, &["output is not among the series"]);
    fails("cointegration demo:region wages rents wages", 2, &["named twice"]);
    fails("cointegration demo:region wages rents wages-rents", 4, &["exact combination"]);
    fails("cointegration demo:region wages rents --sample 2022-Q1..", 3, &["too few"]);
    folder.run("cointegration demo:region wages rents --seed 3").fails_call("--bartlett");
    let mut text = String::from("x,y\n");
    let mut level = 1.0;
    for (e, gap) in noise(80, 3).into_iter().zip(noise(80, 9)) {
        level += e;
        let _ = writeln!(text, "{level}e100,{}e-250", level + gap);
    }
    folder.write("far.csv", text);
    fails("cointegration far.csv x y", 3, &["far.csv, y", "too small to compute with", "rescale"]);
}

#[test]
fn the_figure_shows_each_relation_or_the_residuals_where_there_is_none() {
    let folder = Folder::new();
    folder.run("cointegration demo:region wages rents output --figure a.svg").succeeds();
    let tied = String::from_utf8(folder.read("a.svg")).expect("text");
    assert!(tied.contains("aria-label=\"Equilibrium error of wages = "), "no relation");
    assert!(
        tied.contains("<title>± 1.96 standard deviations</title>") && tied.contains("<polygon"),
        "no band"
    );
    let mut levels = [20.0, 50.0];
    let mut text = String::from("x,y\n");
    for (a, b) in noise(160, 31).into_iter().zip(noise(160, 32)) {
        levels = [levels[0] + a, levels[1] + b];
        let _ = writeln!(text, "{:.4},{:.4}", levels[0], levels[1]);
    }
    folder.write("walks.csv", text);
    assert_eq!(folder.json("cointegration walks.csv x y")["results"][0]["johansen"]["rank"], 0);
    folder.run("cointegration walks.csv x y --figure b.svg").succeeds();
    let untied = String::from_utf8(folder.read("b.svg")).expect("text");
    assert!(untied.contains("Residuals of the static regression (no cointegrating relation is found)"));
}

#[test]
fn stationarity_of_several_series_says_what_follows_together() {
    let folder = Folder::new();
    let text = folder.run("stationarity demo:region wages rents output").running_text();
    assert!(text.contains("All are I(1)"), "{text}");
    assert!(text.contains("kandrel cointegration demo:region wages rents output"), "{text}");
    let mixed = folder.run("stationarity demo:region wages rents prices").running_text();
    assert!(mixed.contains("Integrated of order 2: prices"), "{mixed}");
    assert!(mixed.contains("I(1): wages and rents. Test these together"), "{mixed}");
    let level = folder.run("stationarity demo:harbour waiting claims").running_text();
    assert!(level.contains("All are I(0)"), "{level}");
}
