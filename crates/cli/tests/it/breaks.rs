//! `stationarity` with breaks, deterministic seasonality, long memory and the bootstrap.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns};

fn tests(words: &str) -> Vec<Value> {
    let result = Folder::new().json(&format!("stationarity demo:harbour {words}"));
    result["results"][0]["tests"].as_array().expect("tests").clone()
}

fn named<'a>(all: &'a [Value], name: &str) -> Vec<&'a Value> {
    all.iter().filter(|test| test["test"] == name).collect()
}

#[test]
fn a_known_break_has_three_models_and_is_the_last_period_before() {
    let all = tests("tug_hours --tests adf --at 0 --break-at 2012-05");
    let perron = named(&all, "perron");
    let models: Vec<&str> = perron.iter().filter_map(|test| test["detail"]["model"].as_str()).collect();
    assert_eq!(models, ["intercept", "trend", "both"]);
    assert!(perron.iter().all(|test| test["detail"]["break_at"] == "2012-05"));
    assert_eq!(perron[0]["decision"], "rejected");
    assert!(perron[0]["notes"][0].as_str().expect("a note").contains("2999 series drawn"));
}

#[test]
fn a_known_break_that_is_none_is_refused() {
    let folder = Folder::new();
    let fails = |words: &str, status: i32, part: &str| {
        let outcome = folder.run(&format!("stationarity demo:harbour tug_hours {words}"));
        assert!(outcome.status == status && outcome.stderr.contains(part), "{words}: {}", outcome.stderr);
    };
    fails("--tests perron", 2, "--break-at PERIOD");
    fails("--break-at 2030-01", 2, "has no such period");
    fails("--break-at soon", 2, "--break-at");
    fails("--break-at 2001-02", 2, "leaves fewer than 5");
    fails("--breaks 3", 2, "--breaks");
    fails("--trim 0.5", 2, "0.05 to 0.3");
    fails("--trim x", 2, "write a number");
    fails("--wild", 2, "--bootstrap");
    fails("--bootstrap 5", 2, "99");
}

#[test]
fn one_break_and_two_are_searched_for() {
    let all = tests("tug_hours --tests adf --at 0 --breaks 1 --lags 0");
    assert_eq!((named(&all, "zivot_andrews").len(), named(&all, "lee_strazicich").len()), (3, 2));
    let level = named(&all, "lee_strazicich")[0];
    assert_eq!((&level["detail"]["break_at"], &level["decision"]), (&"2012-05".into(), &"rejected".into()));
    assert!(level["detail"]["second_break_at"].is_null());
    let two = tests("tug_hours --tests adf --at 0 --breaks 2 --lags 0 --sample 2008-01..2016-12");
    let level = named(&two, "lee_strazicich")[0];
    let dates = [&level["detail"]["break_at"], &level["detail"]["second_break_at"]];
    assert!(dates.iter().any(|date| **date == "2012-05") && dates[0].as_str() < dates[1].as_str());
}

#[test]
fn another_trimming_is_held_against_series_of_its_own() {
    let words = "tug_hours --tests zivot_andrews --at 0 --lags 0 --sample 2005-01..2016-12";
    let usual = tests(words);
    let wide = tests(&format!("{words} --trim 0.25"));
    assert!(wide[0]["notes"][0].as_str().expect("a note").contains("1999 series drawn"));
    assert!(usual[0]["notes"].as_array().expect("notes").iter().all(|n| !n.to_string().contains("drawn")));
    // Fewer dates to choose from: the 5 % point lies nearer to zero.
    let five = |tests: &[Value]| tests[0]["critical"]["5%"].as_f64().expect("a number");
    assert!(five(&wide) > five(&usual), "{} {}", five(&wide), five(&usual));
}

#[test]
fn a_season_is_tested_from_both_sides() {
    let all = tests("freight:ln --tests hegy,canova_hansen");
    let stays = named(&all, "canova_hansen")[0];
    assert_eq!((&stays["null"], &stays["differenced"]), (&"constant pattern".into(), &1.into()));
    assert_eq!(stays["detail"]["frequencies"].as_array().expect("frequencies").len(), 6);
    assert_eq!(stays["detail"]["joint"][0]["name"], "seasonal");
    assert_eq!(stays["decision"], "rejected");
    // Another even season has no table.
    let six = tests("claims --tests hegy,canova_hansen --season 6 --at 0");
    for name in ["hegy", "canova_hansen"] {
        let test = named(&six, name)[0];
        let notes = test["notes"].to_string();
        assert!(notes.contains("series drawn for this length"), "{name}: {notes}");
    }
    assert_eq!(named(&six, "hegy")[0]["decision"], "rejected");
    assert_eq!(named(&six, "canova_hansen")[0]["decision"], "not rejected");
}

#[test]
fn orders_of_fractional_integration_have_their_errors() {
    let all = tests("berth_fee --tests log_periodogram,local_whittle");
    assert_eq!(all.len(), 4);
    for test in &all {
        let detail = &test["detail"];
        let (d, error) = (detail["d"].as_f64().expect("d"), detail["std_error"].as_f64().expect("an error"));
        assert!((test["statistic"].as_f64().expect("z") - d / error).abs() < 1e-9);
        assert_eq!((&detail["bandwidth"], &test["null"]), (&39.into(), &"d = 0".into()));
        let expected = if test["differenced"] == 0 { 1.0 } else { 0.0 };
        assert!((d - expected).abs() < 3.0 * error, "{test}");
    }
}

#[test]
fn other_weights_take_another_kernel() {
    let all = tests("waiting --tests kpss,pp --at 0 --kernel quadratic");
    for test in &all {
        assert_eq!(test["kernel"], "quadratic");
        assert!(test["notes"].to_string().contains("series drawn"));
    }
    assert_eq!(named(&all, "kpss")[0]["decision"], "not rejected");
    assert_eq!(named(&all, "pp")[0]["decision"], "rejected");
}

#[test]
fn bootstrap_p_values_depend_on_the_seed_alone() {
    let folder = Folder::new();
    let words = "stationarity demo:harbour waiting --tests adf,kpss --at 0 --bootstrap 199";
    let first = folder.json(words);
    assert_eq!(first["results"][0], folder.json(words)["results"][0]);
    let result = &first["results"][0];
    assert_eq!((&result["bootstrap"]["draws"], &result["bootstrap"]["seed"]), (&199.into(), &1.into()));
    for test in result["tests"].as_array().expect("tests") {
        let p = test["bootstrap_p_value"].as_f64().expect("a number");
        // Ranks among 199 draws.
        assert!((p * 200.0 - (p * 200.0).round()).abs() < 1e-9 && p > 0.0);
    }
    let other = folder.json(&format!("{words} --seed 9 --wild"));
    assert_ne!(result["tests"][1], other["results"][0]["tests"][1]);
    assert_eq!(other["results"][0]["bootstrap"]["wild"], true);
    let text = folder.run(words).stdout;
    assert!(text.contains("Boot. p") && folder.run(words).running_text().contains("seed 1"), "{text}");
    fits_80_columns(&text).expect("no wide line");
    assert!(
        folder.json("stationarity demo:harbour waiting --tests adf")["results"][0]["bootstrap"].is_null()
    );
}

#[test]
fn everything_at_once_fits_a_terminal() {
    let words =
        "stationarity demo:harbour tug_hours --tests all --breaks 1 --break-at 2012-05 --bootstrap 99";
    let outcome = Folder::new().run(words);
    outcome.succeeds();
    fits_80_columns(&outcome.stdout).unwrap_or_else(|wide| panic!("{wide}"));
    // Each once, though options ask for some of them a second time.
    for name in ["Perron A", "LS level", "GPH d", "LW d", "ZA slope"] {
        let rows = outcome.stdout.lines().take_while(|line| !line.starts_with("Δ"));
        assert_eq!(rows.filter(|line| line.contains(&format!(" {name} "))).count(), 1, "{name}");
    }
}

#[test]
fn the_figure_shows_the_break_the_tests_and_both_functions() {
    let folder = Folder::new();
    folder.run("stationarity demo:harbour tug_hours --figure a.svg").succeeds();
    let text = String::from_utf8(folder.read("a.svg")).expect("UTF-8");
    for words in
        ["last before the break: 2012-05", "Tests and critical values", "ACF of the level", "ACF of Δ"]
    {
        assert!(text.contains(words), "{words}");
    }
    // One mark a test, filled where the null is rejected.
    let result = folder.json("stationarity demo:harbour tug_hours");
    for test in
        result["results"][0]["tests"].as_array().expect("tests").iter().filter(|t| t["test"] == "kpss")
    {
        let name = if test["differenced"] == 0 { "KPSS: " } else { "KPSS of Δ: " };
        let mark = text.split("<g><title>").find(|mark| mark.starts_with(name)).expect("a mark");
        let rejected = test["decision"] == "rejected";
        assert_eq!(
            mark.split("</g>").next().expect("a group").contains("fill=\"#0f4c5c\""),
            rejected,
            "{name}"
        );
    }
    let several = folder.run("stationarity demo:harbour waiting claims --figure b.svg");
    assert!(several.status == 2 && several.stderr.contains("draws one series"));
}
