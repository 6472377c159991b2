//! Series as they come: `stationarity` answers sensibly or refuses clearly.

use std::fmt::Write as _;

use serde_json::Value;

use crate::harness::{Folder, noise};

fn walk(n: usize, seed: u64) -> Vec<f64> {
    let mut level = 0.0;
    noise(n, seed)
        .into_iter()
        .map(|step| {
            level += step;
            level
        })
        .collect()
}

fn folder_of(values: &[f64]) -> Folder {
    let rows: Vec<String> = values.iter().map(|value| format!("{value}")).collect();
    Folder::with("a.csv", format!("x\n{}\n", rows.join("\n")))
}

fn verdict(values: &[f64], words: &str) -> Value {
    folder_of(values).json(&format!("stationarity a.csv x {words}"))["results"][0]["verdict"].clone()
}

#[test]
fn one_outlier_does_not_make_a_walk_stationary() {
    let mut values = walk(200, 1);
    values[90] += 25.0;
    assert_eq!(verdict(&values, "")["integration"], 1);
}

#[test]
fn whole_numbers_are_numbers() {
    let walk: Vec<f64> = walk(200, 2).iter().map(|value| (3.0 * value).round()).collect();
    assert_eq!(verdict(&walk, "")["integration"], 1);
    let noise: Vec<f64> = noise(200, 3).iter().map(|value| (5.0 * value).round()).collect();
    assert_eq!(verdict(&noise, "")["class"], "stationary");
}

#[test]
fn twenty_values_get_an_answer_of_low_confidence_and_nineteen_none() {
    let values = walk(20, 4);
    let found = verdict(&values, "--tests all");
    let text = folder_of(&values).run("stationarity a.csv x --tests all").stdout;
    assert!(text.contains("Left out: GPH d, 20 observations are too few"), "{text}");
    assert_ne!(found["confidence"], "high");
    assert!(found["reasons"][0].as_str().expect("words").contains("With 20 observations the power"));
    folder_of(&values[..19]).run("stationarity a.csv x").fails(3, &["at least 20 are needed"]);
}

#[test]
fn a_hundred_thousand_values_are_judged() {
    let found = verdict(&walk(100_000, 5), "--tests adf,kpss,zivot_andrews");
    assert_eq!((&found["integration"], &found["class"]), (&1.into(), &"difference_stationary".into()));
    assert_eq!(found["confidence"], "high");
}

#[test]
fn a_stretch_that_does_not_move_is_no_obstacle() {
    let mut values = walk(240, 6);
    let held = values[100];
    values[100..140].iter_mut().for_each(|value| *value = held);
    let after = values[140] - held;
    values[140..].iter_mut().for_each(|value| *value -= after);
    assert_eq!(verdict(&values, "--tests all")["integration"], 1);
}

#[test]
fn ties_in_a_third_of_the_values_leave_noise_what_it_is() {
    let mut values = noise(240, 7);
    values.iter_mut().step_by(3).for_each(|value| *value = 0.0);
    assert_eq!(verdict(&values, "--tests all")["class"], "stationary");
}

#[test]
fn a_series_of_two_values_is_answered_or_refused_without_a_panic() {
    let values: Vec<f64> = (0..120).map(|t| f64::from(t % 2)).collect();
    let outcome = folder_of(&values).run("stationarity a.csv x --tests all");
    assert!(outcome.status == 0 || outcome.stderr.starts_with("kandrel: a.csv, x:"), "{}", outcome.stderr);
}

#[test]
fn undated_data_with_a_season_say_what_is_assumed_and_what_to_type() {
    let pattern = [5.0, 3.0, 0.0, -2.0, -4.0, -5.0, -4.0, -1.0, 0.0, 2.0, 3.0, 3.0];
    let e = noise(144, 17);
    let rows: String = (0..144).map(|t| format!("{:.4}\n", 20.0 + pattern[t % 12] + 0.5 * e[t])).collect();
    let folder = Folder::with("a.csv", format!("x\n{rows}"));
    for command in ["stationarity", "acf"] {
        let text = folder.run(&format!("{command} a.csv x")).running_text();
        assert!(text.contains("seasonality of period 12: use --season 12"), "{command}: {text}");
        let typed = folder.run(&format!("{command} a.csv x --season 12")).running_text();
        assert!(!typed.contains("use --season"), "{command}: {typed}");
    }
    let json = folder.json("acf a.csv x")["results"][0]["diagnosis"].clone();
    assert_eq!(json["suggested_season"], 12);
}

/// Series without any error: one status for one reason, no rounding taken for a value, no ratio to nothing.
#[test]
fn series_that_follow_a_rule_are_refused_alike_and_never_divided_by_nothing() {
    let mut text = String::from("month,line,pattern\n");
    for t in 0..96 {
        let _ = writeln!(text, "{}-{:02},{t},{}", 2001 + t / 12, t % 12 + 1, t % 12);
    }
    let folder = Folder::with("t.csv", text);
    for series in ["line", "pattern"] {
        for command in ["stationarity", "orders", "forecast", "compare"] {
            folder.run(&format!("{command} t.csv {series}")).fails(4, &["follows a rule without any error"]);
        }
        folder.run(&format!("outliers t.csv {series}")).fails(4, &["no irregular component"]);
    }
    let trend = folder.run("decompose t.csv line");
    assert!(trend.first_line().contains("strong trend (from 0.00000 to 95.00)"), "{}", trend.stdout);
    let compared =
        folder.run_words(&["compare", "t.csv", "pattern", "--model", "(1,0,0)", "--hold", "24"], "");
    assert_eq!(compared.status, 0, "{}", compared.stderr);
    assert!(compared.running_text().contains("The RMSE of pattern (1,0,0) is 3.935."), "{}", compared.stdout);
    assert!(!compared.stdout.contains("inf %"), "{}", compared.stdout);
}
