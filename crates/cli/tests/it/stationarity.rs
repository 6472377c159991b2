use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, monthly, scattered};

fn verdict(series: &str) -> Value {
    Folder::new().json(&format!("stationarity demo:harbour {series}"))["results"][0]["verdict"].clone()
}

#[test]
fn the_demo_series_are_what_they_were_made_to_be() {
    let freight = verdict("freight");
    assert_eq!(freight["class"], "difference_stationary");
    assert_ne!(freight["integration"], 0);
    for stationary in ["claims", "waiting"] {
        let verdict = verdict(stationary);
        assert_eq!((&verdict["class"], &verdict["integration"]), (&"stationary".into(), &0.into()));
        assert_eq!(verdict["confidence"], "high");
    }
    let fee = verdict("berth_fee");
    assert_eq!((&fee["class"], &fee["integration"]), (&"difference_stationary".into(), &1.into()));
}

#[test]
fn a_season_is_not_taken_for_a_second_unit_root() {
    let verdict = verdict("freight");
    assert_eq!(verdict["integration"], 1);
    assert!(verdict["sentence"].as_str().is_some_and(|s| s.contains("leaves a season of 12 in")));
    assert_eq!(verdict["next"][0], "kandrel stationarity demo:harbour freight:d1,d12");
}

#[test]
fn the_contract_of_the_json() {
    let result = Folder::new().json("stationarity demo:harbour berth_fee");
    let one = &result["results"][0];
    let tests = one["tests"].as_array().expect("tests");
    let which: Vec<(&str, u64)> = tests
        .iter()
        .map(|t| (t["test"].as_str().expect("a name"), t["differenced"].as_u64().expect("a count")))
        .collect();
    assert_eq!(which, [("adf", 0), ("kpss", 0), ("adf", 1), ("kpss", 1)]);
    let adf = &tests[0];
    assert_eq!(
        (&adf["null"], &adf["terms"], &adf["lag_rule"]),
        (&"unit root".into(), &"trend".into(), &"aic".into())
    );
    let rules: Vec<&str> = tests.iter().filter_map(|test| test["terms_rule"].as_str()).collect();
    assert_eq!(rules, ["auto", "auto", "given", "given"]);
    assert!(adf["bandwidth"].is_null() && adf["kernel"].is_null());
    assert_eq!(adf["decision"], "not rejected");
    assert_eq!(adf["max_lags"], 15);
    assert_eq!(adf["sample"]["last"], "2024-12");
    let lines = adf["detail"]["regression"].as_array().expect("a regression");
    let names: Vec<&str> = lines.iter().filter_map(|line| line["name"].as_str()).collect();
    assert_eq!(names, ["constant", "trend", "level[t-1]", "change[t-1]", "change[t-2]"]);
    let level = &lines[2];
    let ratio =
        level["estimate"].as_f64().expect("a number") / level["std_error"].as_f64().expect("a number");
    assert!((ratio - adf["statistic"].as_f64().expect("a number")).abs() < 1e-12);
    let kpss = &tests[1];
    assert_eq!((&kpss["null"], &kpss["kernel"]), (&"stationary".into(), &"bartlett".into()));
    assert!(kpss["lags"].is_null() && kpss["bandwidth"].is_number());
    for level in ["1%", "5%", "10%"] {
        assert!(kpss["critical"][level].is_number(), "{level}");
    }
    for field in ["seasonal_integration", "break_at", "fractional_d"] {
        assert!(one["verdict"][field].is_null(), "{field}");
    }
}

#[test]
fn the_text_begins_with_the_answer_and_fits_a_terminal() {
    let outcome = Folder::new().run("stationarity demo:harbour berth_fee");
    outcome.succeeds();
    assert_eq!(
        outcome.first_line(),
        "berth_fee is not stationary, it has a unit root: difference once (I(1))."
    );
    for part in
        ["unit root", "stationary", "not rejected", "● p ≤ 0.01", "Reasons", "Next", "Confidence: high."]
    {
        assert!(outcome.stdout.contains(part), "{part}");
    }
    for series in ["freight", "waiting", "claims", "ice", "tug_hours"] {
        let text = Folder::new().run(&format!("stationarity demo:harbour {series}")).stdout;
        fits_80_columns(&text).unwrap_or_else(|wide| panic!("{series}: {wide}"));
    }
}

#[test]
fn lags_terms_and_bandwidth_are_taken_as_typed() {
    let folder = Folder::new();
    let result = folder.json("stationarity demo:harbour waiting --lags 3 --terms none --bandwidth 7");
    let tests = &result["results"][0]["tests"];
    assert_eq!((&tests[0]["lags"], &tests[0]["lag_rule"]), (&3.into(), &"given".into()));
    assert_eq!((&tests[0]["terms"], &tests[1]["terms"]), (&"none".into(), &"constant".into()));
    assert_eq!(tests[1]["bandwidth"], 7);
    let lags = |rule: &str| {
        let result =
            folder.json(&format!("stationarity demo:harbour freight:ln --lags {rule} --max-lags 14"));
        result["results"][0]["tests"][0]["lags"].as_u64().expect("a count")
    };
    assert!(lags("bic") <= lags("hq") && lags("hq") <= lags("aic"));
    assert!(lags("aic") <= 14);
}

#[test]
fn a_stricter_level_changes_the_decision_and_not_the_p_value() {
    let folder = Folder::new();
    let test = |alpha: &str| {
        let words = format!("stationarity demo:harbour ice --terms constant --alpha {alpha}");
        folder.json(&words)["results"][0]["tests"][0].clone()
    };
    let (wide, strict) = (test("0.05"), test("0.001"));
    assert_eq!(wide["p_value"], strict["p_value"]);
    assert_eq!((&wide["decision"], &strict["decision"]), (&"rejected".into(), &"not rejected".into()));
}

#[test]
fn p_values_are_for_the_length_of_the_series() {
    // The same statistic means more in a longer series.
    let folder = Folder::with("a.csv", monthly(&scattered(24)));
    folder.write("b.csv", monthly(&scattered(240)));
    let critical = |file: &str| {
        let result = folder.json(&format!("stationarity {file} x --terms constant --lags 0"));
        result["results"][0]["tests"][0]["critical"]["5%"].as_f64().expect("a number")
    };
    let (short, long) = (critical("a.csv"), critical("b.csv"));
    assert!(short < long - 0.08, "{short} {long}");
    // MacKinnon (2010): -2.8615 - 2.89/23 - 4.23/23² and -2.8615 - 2.89/239.
    assert!((short + 2.998).abs() < 0.02 && (long + 2.874).abs() < 0.02, "{short} {long}");
}

#[test]
fn short_series_are_never_called_with_high_confidence() {
    let folder = Folder::with("a.csv", monthly(&scattered(60)));
    let result = folder.json("stationarity a.csv x");
    assert_eq!(result["results"][0]["verdict"]["class"], "stationary");
    assert_eq!(result["results"][0]["verdict"]["confidence"], "moderate");
}

#[test]
fn a_smoothed_series_is_warned_of() {
    let folder = Folder::new();
    let smooth = folder.run("stationarity demo:harbour claims:trail12");
    assert!(smooth.stderr.contains("claims:trail12 is a moving average"), "{}", smooth.stderr);
    let json = folder.json("acf demo:harbour claims:ln,avg3");
    assert!(json["notes"][0].as_str().expect("a note").contains("test the series before averaging"));
    folder.run("stationarity demo:harbour claims").succeeds();
    folder.run("transform demo:harbour claims:avg3").succeeds();
}
