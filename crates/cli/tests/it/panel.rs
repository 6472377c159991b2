//! `stationarity --panel`, and several series one by one.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, noise};

fn p_of(result: &Value, name: &str) -> f64 {
    let tests = result["tests"].as_array().expect("tests");
    let found = tests.iter().find(|test| test["test"] == name).expect("the test");
    found["p_value"].as_f64().expect("a number")
}

/// Series of one kind, each with its own noise and a share of a common one.
fn csv(root: f64, common: f64, count: usize) -> String {
    let mut drawn = noise(90 * (count + 1), 12_345).into_iter();
    let mut draw = || drawn.next().expect("enough");
    let mut levels = vec![0.0; count];
    let mut rows =
        vec![format!("year,{}", (0..count).map(|k| format!("s{k}")).collect::<Vec<_>>().join(","))];
    for t in 0..90 {
        let shared = draw();
        for level in &mut levels {
            *level = root * *level + draw() + common * shared;
        }
        let cells: Vec<String> = levels.iter().map(|level| format!("{level:.4}")).collect();
        rows.push(format!("{},{}", 1930 + t, cells.join(",")));
    }
    rows.join("\n")
}

const ALL: &str = "stationarity a.csv s0 s1 s2 s3 s4 s5 s6 s7 --panel";

#[test]
fn stationary_series_are_seen_together_and_the_contract_holds() {
    let folder = Folder::with("a.csv", csv(0.8, 0.0, 8));
    let result = folder.json(ALL)["results"][0].clone();
    assert_eq!((&result["observations"], &result["first"]), (&90.into(), &"1930".into()));
    for name in ["im_pesaran_shin", "fisher", "levin_lin_chu", "cips"] {
        assert!(p_of(&result, name) < 0.05, "{name}");
    }
    assert!(p_of(&result, "hadri") > 0.01);
    assert!(result["dependence"]["p_value"].as_f64().expect("p") > 0.01);
    let member = &result["members"][3];
    assert_eq!(member["series"], "s3");
    assert!(member["adf"]["statistic"].is_number() && member["kpss"]["bandwidth"].is_number());
    assert!(result["sentence"].as_str().expect("words").contains("8 series together are stationary"));
}

#[test]
fn walks_have_unit_roots_and_what_comes_next_can_be_run() {
    let folder = Folder::with("a.csv", csv(1.0, 0.0, 8));
    let result = folder.json(ALL)["results"][0].clone();
    assert!(p_of(&result, "im_pesaran_shin") > 0.05 && p_of(&result, "hadri") < 0.01);
    assert!(result["sentence"].as_str().expect("words").contains("unit roots: difference them"));
    let next = result["next"][0].as_str().expect("a call").strip_prefix("kandrel ").expect("a call");
    let after = folder.json(next)["results"][0].clone();
    assert!(after["sentence"].as_str().expect("words").contains("together are stationary"), "{after}");
}

#[test]
fn common_shocks_are_found_and_turn_the_reading_to_the_test_that_bears_them() {
    let folder = Folder::with("a.csv", csv(1.0, 1.5, 8));
    let result = folder.json(ALL)["results"][0].clone();
    assert!(result["dependence"]["mean_correlation"].as_f64().expect("r") > 0.4);
    assert!(result["reasons"][1].as_str().expect("words").contains("CIPS (Pesaran)"));
    let text = folder.run(ALL);
    text.succeeds();
    // Commands are never wrapped.
    let before = text.stdout.split("Next").next().expect("a part");
    fits_80_columns(before).expect("no wide line");
}

#[test]
fn what_is_no_panel_is_refused() {
    let folder = Folder::new();
    let fails = |words: &str, part: &str| {
        let outcome = folder.run(&format!("stationarity demo:harbour {words}"));
        assert!(outcome.status == 2 && outcome.stderr.contains(part), "{words}: {}", outcome.stderr);
    };
    fails("claims --panel", "two series at least");
    fails("claims waiting --panel --tests adf", "--tests is for one series");
    fails("claims waiting --panel --bootstrap 199", "--bootstrap is for one series");
    fails("claims waiting --panel --figure a.svg", "--figure is for one series");
}

#[test]
fn several_series_have_a_row_each_and_every_figure_in_json() {
    let folder = Folder::new();
    let outcome = folder.run("stationarity demo:harbour claims tug_hours freight:ln");
    outcome.succeeds();
    assert!(outcome.first_line().starts_with("Of 3 series: 2 I(0), 1 I(1)."), "{}", outcome.first_line());
    for part in ["structural break", "2012-05", "seasonal unit roots", "Confidence"] {
        assert!(outcome.stdout.contains(part), "{part}");
    }
    fits_80_columns(&outcome.stdout).expect("no wide line");
    let results = folder.json("stationarity demo:harbour claims tug_hours");
    assert_eq!(results["results"][1]["verdict"]["models"].as_array().expect("models").len(), 12);
}

#[test]
fn short_series_get_no_more_certainty_than_they_bear() {
    let folder = Folder::new();
    let results = folder.json("stationarity demo:timber cut planted");
    let verdict = |place: usize| results["results"][place]["verdict"].clone();
    // An autoregression with 0.9, 75 years long: no unit root, or nothing settled.
    let cut = verdict(0);
    assert_eq!((&cut["class"], &cut["confidence"]), (&"inconclusive".into(), &"low".into()));
    assert!(
        cut["reasons"][0]
            .as_str()
            .expect("words")
            .contains("a root of 0.9 is hard to distinguish from a unit root")
    );
    // A random walk.
    let planted = verdict(1);
    assert_eq!((&planted["integration"], &planted["class"]), (&1.into(), &"difference_stationary".into()));
    assert_ne!(planted["confidence"], "high");
}
