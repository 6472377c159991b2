//! `kandrel outliers`.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, monthly, noise};

fn one(words: &str) -> Value {
    Folder::new().json(words)["results"][0].clone()
}

fn periods(list: &Value) -> Vec<String> {
    list.as_array()
        .expect("a list")
        .iter()
        .map(|one| one["period"].as_str().expect("a period").to_owned())
        .collect()
}

#[test]
fn the_outlier_of_ice_and_nothing_else_is_marked() {
    let result = one("outliers demo:harbour ice");
    assert_eq!(periods(&result["outliers"]), ["2017-08"]);
    let found = &result["outliers"][0];
    assert_eq!(
        (found["kind"].clone(), found["methods"].as_array().expect("methods").len()),
        ("additive".into(), 4)
    );
    assert!(
        found["expected"].as_f64().expect("a number") - found["value"].as_f64().expect("a number") > 25.0
    );
    assert_eq!(periods(&result["replaced"]), ["2017-08"]);
    let text = Folder::new().run("outliers demo:harbour ice");
    fits_80_columns(&text.succeeds().stdout).expect("no wide line");
    assert!(text.first_line().starts_with("ice has 1 outlier: 2017-08"), "{}", text.stdout);
    assert!(text.running_text().contains("tests observations from 2003-09 on"), "{}", text.stdout);
}

#[test]
fn the_level_shift_of_tug_hours_is_found_in_its_month() {
    let result = one("outliers demo:harbour tug_hours");
    assert_eq!(periods(&result["outliers"]), ["2012-06"]);
    assert_eq!(result["outliers"][0]["kind"], "level_shift");
    assert!(result["replaced"].as_array().expect("a list").is_empty());
    let text = Folder::new().run("outliers demo:harbour tug_hours").running_text();
    assert!(
        text.starts_with("tug_hours has 1 level shift: by 8") && text.contains("down from 2012-06 on."),
        "{text}"
    );
    assert!(text.contains("is not an outlier and is not adjusted"), "{text}");
}

#[test]
fn series_without_outliers_have_none() {
    for name in ["claims", "waiting", "berth_fee", "bookings", "sailings"] {
        let outcome = Folder::new().run(&format!("outliers demo:harbour {name}"));
        assert_eq!(outcome.first_line(), format!("{name} has no outliers."));
    }
    let outcome = Folder::new().run("outliers demo:timber cut planted");
    assert_eq!(outcome.stdout.matches("has no outliers.").count(), 2);
}

#[test]
fn a_swing_that_grows_with_the_level_is_looked_at_in_logarithms() {
    let text = Folder::new().run("outliers demo:harbour freight").running_text();
    assert!(text.starts_with("freight has 1 outlier: 2020-02"), "{text}");
    assert!(text.contains("2024-12; outliers detected in freight:ln."), "{text}");
    // In logarithms what is significant is a February of 29 days, which the days of the month explain.
    let logs = Folder::new().run("outliers demo:harbour freight:ln").running_text();
    assert!(logs.starts_with("freight:ln has 1 outlier: 2020-02") && logs.contains("had 29 days"), "{logs}");
    let per_day = Folder::new().run("outliers demo:harbour freight:perday,ln");
    assert_eq!(per_day.first_line(), "freight:perday,ln has no outliers.");
}

#[test]
fn the_repaired_series_is_written_with_its_marks() {
    let folder = Folder::new();
    for rule in ["seasonal-mean", "interpolate", "model"] {
        let file = format!("{rule}.csv");
        folder.run(&format!("outliers demo:harbour ice claims --repair {rule} --out {file}")).succeeds();
        let text = String::from_utf8(folder.read(&file)).expect("text");
        assert!(text.starts_with("month,ice,ice type,claims,claims type\n"), "{text:.60}");
        let row = text.lines().find(|row| row.starts_with("2017-08")).expect("the row");
        let cells: Vec<&str> = row.split(',').collect();
        let value: f64 = cells[1].parse().expect("a number");
        // It was made as 28 less than it would have been; the month before and after are near 87.
        assert!((84.0..96.0).contains(&value), "{rule}: {value}");
        assert_eq!(cells[2], "AO");
        assert_eq!(text.lines().filter(|row| row.contains(",AO")).count(), 1);
        // What was not odd is what it was.
        assert!(text.contains("\n2017-07,86"), "{text:.20}");
    }
    folder.run("outliers demo:harbour ice --out seasonal-mean.csv").fails(2, &["exists already"]);
}

#[test]
fn the_step_mends_what_the_command_marks() {
    let folder = Folder::new();
    let outcome = folder.run("transform demo:harbour ice:repair --sample 2017-06..2017-10");
    assert_eq!(outcome.status, 3, "five values are too few to judge: {}", outcome.stdout);
    let outcome = folder.run("transform demo:harbour ice:repair");
    assert!(
        outcome.stderr.contains("ice:repair: 1 outlier replaced: 2017-08 61.60 → 9"),
        "{}",
        outcome.stderr
    );
    let repaired = one("outliers demo:harbour ice")["replaced"][0]["to"].as_f64().expect("a number");
    let row = outcome.stdout.lines().find(|row| row.starts_with("2017-08")).expect("the row");
    assert!((row[8..].parse::<f64>().expect("a number") - repaired).abs() < 1e-9);
    let clean = folder.run("transform demo:harbour claims:repair");
    assert!(clean.stderr.contains("no outliers, nothing replaced"), "{}", clean.stderr);
}

#[test]
fn methods_can_be_named_and_one_alone_marks() {
    let result = one("outliers demo:harbour ice --methods irregular");
    assert_eq!(
        (result["methods_required"].clone(), periods(&result["outliers"])),
        (1.into(), vec!["2017-08".to_owned()])
    );
    let two = one("outliers demo:harbour waiting --methods seasonal,irregular");
    assert_eq!(two["methods_required"], 2);
    assert_eq!(periods(&two["outliers"]), ["2022-04"], "blind to neighbours that are alike");
    let folder = Folder::new();
    folder.run("outliers demo:harbour ice --methods season").fails_call("seasonal");
    folder
        .run("outliers demo:timber cut --methods seasonal")
        .fails(2, &["no seasonal period for the comparison"]);
    folder.run("outliers demo:timber cut --repair seasonal-mean").succeeds();
}

#[test]
fn the_figure_marks_what_was_found() {
    let folder = Folder::new();
    folder.run("outliers demo:harbour ice --figure odd.svg").succeeds();
    let text = String::from_utf8(folder.read("odd.svg")).expect("text");
    assert_eq!(text.matches("<title>2017-08: ").count(), 2, "one mark in each panel");
    assert_eq!(text.matches("<polyline").count(), 3);
}

#[test]
fn series_that_cannot_be_judged_are_refused() {
    let folder = Folder::with("a.csv", monthly(&noise(30, 1)));
    folder
        .run("outliers a.csv x")
        .fails(3, &["30 observations are fewer than the 36 of three seasons of 12", "--season 1"]);
    folder.write("b.csv", monthly(&[4.0; 60]));
    folder.run("outliers b.csv x").fails(3, &["the series is constant"]);
    let line: Vec<f64> = (0..60).map(|t| f64::from(t) * 0.5).collect();
    folder.write("c.csv", monthly(&line));
    folder.run("outliers c.csv x").fails(4, &["has no irregular component"]);
    folder.run("outliers demo:messy.csv waiting").fails(3, &["values are missing"]);
    folder.run("outliers demo:messy.csv waiting --gaps keep").fails(2, &["takes no gaps"]);
}

#[test]
fn a_season_that_grows_does_not_list_every_year() {
    // From the eleventh year the amplitude grows with time, not with the level, so that no transformation evens it out.
    let e = noise(240, 5);
    let values: Vec<f64> = e
        .iter()
        .zip(0..)
        .map(|(e, t): (&f64, i32)| {
            let angle = 2.0 * std::f64::consts::PI * f64::from(t % 12) / 12.0;
            (2.0 + 0.2 * f64::from((t - 120).max(0))) * angle.sin() + 0.3 * e
        })
        .collect();
    let folder = Folder::with("a.csv", monthly(&values));
    let found = folder.json("outliers a.csv x")["results"][0].clone();
    let listed = periods(&found["outliers"]).len() + periods(&found["candidates"]).len();
    let alone: u64 =
        found["flagged_alone"].as_object().expect("counts").values().filter_map(Value::as_u64).sum();
    assert!(listed <= 6 && alone > 40, "{listed} listed, {alone} by one method");
    let text = folder.run("outliers a.csv x").running_text();
    assert!(
        text.contains(&format!("{alone} further values detected by one method only are not listed")),
        "{text}"
    );
}

#[test]
fn one_bad_december_among_four_is_found_by_its_month() {
    let mut values = noise(48, 9);
    values[23] -= 12.0;
    let folder = Folder::with("a.csv", monthly(&values));
    let found = folder.json("outliers a.csv x --season 12 --methods seasonal")["results"][0].clone();
    assert_eq!(periods(&found["outliers"]), ["2011-12"]);
}

#[test]
fn what_the_outliers_do_to_the_diagnosis_is_said_as_the_repaired_series_has_it() {
    let folder = Folder::new();
    let found = folder.json("outliers demo:harbour ice")["results"][0].clone();
    let repaired = folder.json("stationarity demo:harbour ice:repair")["results"][0]["diagnosis"].clone();
    let after = &found["diagnosis_after_replacement"];
    for field in ["integration", "seasonal_integration", "class", "probability"] {
        assert_eq!(after[field], repaired[field], "{field}");
    }
    let text = folder.run("outliers demo:harbour ice").running_text();
    assert!(text.contains("With the outliers replaced"), "{text}");
    // Without an outlier there is nothing to be replaced.
    let none = folder.json("outliers demo:harbour claims")["results"][0].clone();
    assert!(none["outliers"].as_array().expect("a list").is_empty());
    assert!(none["diagnosis_after_replacement"].is_null());
}
