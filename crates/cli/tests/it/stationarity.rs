//! `kandrel stationarity`.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, monthly, scattered};

fn verdict(series: &str) -> Value {
    Folder::new().json(&format!("stationarity demo:harbour {series}"))["results"][0]["verdict"].clone()
}

#[test]
fn the_demo_series_are_what_they_were_made_to_be() {
    for stationary in ["claims", "waiting"] {
        let verdict = verdict(stationary);
        assert_eq!((&verdict["class"], &verdict["integration"]), (&"stationary".into(), &0.into()));
        assert_eq!(verdict["confidence"], "high");
    }
    let tugs = verdict("tug_hours");
    assert_eq!((&tugs["class"], &tugs["integration"]), (&"trend_break".into(), &0.into()));
    // The level shifts in 2012-06: the last period before is the month before.
    assert_eq!((&tugs["break_at"], &tugs["confidence"]), (&"2012-05".into(), &"high".into()));
    // A walk whose steps happen to be smaller later on: its order is found, its kind is not sure.
    let fee = verdict("berth_fee");
    assert_eq!((&fee["class"], &fee["integration"]), (&"difference_stationary".into(), &1.into()));
    let models = fee["models"].as_array().expect("models");
    let walks = models.iter().filter(|one| {
        ["random_walk", "random_walk_with_drift", "drift_with_slope_break"].iter().any(|w| one["model"] == *w)
    });
    let together: f64 = walks.map(|one| one["probability"].as_f64().expect("a number")).sum();
    assert!(together > 0.2, "{together}");
}

#[test]
fn a_season_with_unit_roots_is_differenced_at_its_lag_too() {
    let verdict = verdict("freight:ln");
    assert_eq!(verdict["class"], "seasonal_unit_root");
    assert_eq!((&verdict["integration"], &verdict["seasonal_integration"]), (&1.into(), &1.into()));
    assert_eq!(verdict["next"][0], "kandrel acf demo:harbour freight:ln,d1,d12");
}

#[test]
fn the_contract_of_the_json() {
    let result = Folder::new().json("stationarity demo:harbour berth_fee --tests adf,kpss --at 0,1");
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
    let joint: Vec<&str> = adf["detail"]["joint"]
        .as_array()
        .expect("joint tests")
        .iter()
        .filter_map(|one| one["name"].as_str())
        .collect();
    assert_eq!(joint, ["phi2", "phi3"]);
    let kpss = &tests[1];
    assert_eq!((&kpss["null"], &kpss["kernel"]), (&"stationary".into(), &"bartlett".into()));
    assert!(kpss["lags"].is_null() && kpss["bandwidth"].is_number());
    for level in ["1%", "5%", "10%"] {
        assert!(kpss["critical"][level].is_number(), "{level}");
    }
    let verdict = &one["verdict"];
    assert!(verdict["seasonal_integration"].is_null() && verdict["fractional_d"].is_null());
    let models = verdict["models"].as_array().expect("models");
    let sum: f64 = models.iter().map(|one| one["probability"].as_f64().expect("a number")).sum();
    assert!(models.len() == 12 && (sum - 1.0).abs() < 1e-9);
    let (low, high) = (&verdict["largest_root"]["low"], &verdict["largest_root"]["high"]);
    assert!(low.as_f64() <= high.as_f64() && high.is_number());
}

#[test]
fn every_test_has_its_detail() {
    let result = Folder::new().json("stationarity demo:harbour freight:ln --tests all --at 0");
    let tests = result["results"][0]["tests"].as_array().expect("tests").clone();
    let found = |name: &str| -> Vec<&Value> { tests.iter().filter(|test| test["test"] == name).collect() };
    for (name, fields) in [
        ("pp", vec!["z_rho", "z_rho_p_value", "z_tau"]),
        ("ng_perron", vec!["mza", "mzt", "msb", "mpt"]),
        ("zivot_andrews", vec!["break_at", "model"]),
        ("hegy", vec!["frequencies", "joint"]),
        ("adf_gls", vec![]),
        ("point_optimal", vec![]),
    ] {
        let of_name = found(name);
        assert!(!of_name.is_empty(), "{name}");
        for test in of_name {
            assert!(fields.iter().all(|field| !test["detail"][field].is_null()), "{name}: {test}");
            let p = test["p_value"].as_f64().expect("a number");
            assert!((0.0..=1.0).contains(&p) && test["statistic"].is_number(), "{name}");
            assert!(test["critical"]["5%"].is_number());
        }
    }
    let models: Vec<&str> =
        found("zivot_andrews").iter().filter_map(|test| test["detail"]["model"].as_str()).collect();
    assert_eq!(models, ["intercept", "trend", "both"]);
    let gls = found("ng_perron")[0];
    assert_eq!(gls["statistic"], gls["detail"]["mzt"]);
    assert_eq!(gls["lag_rule"], "maic");
    let hegy = found("hegy")[0];
    let frequencies = hegy["detail"]["frequencies"].as_array().expect("frequencies");
    let periods: Vec<Option<f64>> = frequencies.iter().map(|one| one["period"].as_f64()).collect();
    assert_eq!(periods, [None, Some(12.0), Some(6.0), Some(4.0), Some(3.0), Some(2.4), Some(2.0)]);
    let kinds: Vec<&str> = frequencies.iter().filter_map(|one| one["kind"].as_str()).collect();
    assert_eq!(kinds, ["t", "F", "F", "F", "F", "F", "t"]);
    assert_eq!(hegy["detail"]["joint"][0]["p_value"], hegy["p_value"]);
}

#[test]
fn a_break_is_found_by_the_test_that_allows_for_one() {
    let result = Folder::new().json("stationarity demo:harbour tug_hours --tests zivot_andrews");
    let tests = result["results"][0]["tests"].as_array().expect("tests").clone();
    let level = tests.iter().find(|test| test["detail"]["model"] == "intercept").expect("the model");
    assert_eq!(level["decision"], "rejected");
    assert_eq!(level["detail"]["break_at"], "2012-05");
}

#[test]
fn segments_show_which_part_of_stationarity_fails() {
    let moments = Folder::new().json("stationarity demo:harbour freight")["results"][0]["moments"].clone();
    let segments = moments["segments"].as_array().expect("segments");
    assert_eq!(segments.len(), 4);
    assert_eq!((&segments[0]["first"], &segments[3]["last"]), (&"2001-01".into(), &"2024-12".into()));
    let rejected: Vec<&str> = moments["tests"]
        .as_array()
        .expect("tests")
        .iter()
        .filter(|test| test["decision"] == "rejected")
        .filter_map(|test| test["test"].as_str())
        .collect();
    assert!(rejected.contains(&"equal_mean") && rejected.contains(&"equal_variance"), "{rejected:?}");
    let claims = Folder::new().json("stationarity demo:harbour claims")["results"][0]["moments"].clone();
    assert!(claims["tests"].as_array().expect("tests").iter().all(|test| test["decision"] == "not rejected"));
    let short = Folder::with("a.csv", monthly(&scattered(30))).json("stationarity a.csv x");
    assert!(short["results"][0]["moments"].is_null());
}

#[test]
fn several_series_keep_their_order_whatever_finishes_first() {
    let result = Folder::new().json("stationarity demo:harbour ice claims freight waiting --tests adf");
    let names: Vec<&str> = result["results"]
        .as_array()
        .expect("results")
        .iter()
        .filter_map(|one| one["series"].as_str())
        .collect();
    assert_eq!(names, ["ice", "claims", "freight", "waiting"]);
}

#[test]
fn the_text_begins_with_the_answer_and_fits_a_terminal() {
    let outcome = Folder::new().run("stationarity demo:harbour tug_hours");
    outcome.succeeds();
    let text = outcome.running_text();
    assert!(
        text.starts_with(
            "tug_hours is stationary around a trend whose level shifts after 2012-05: allow for the break"
        ),
        "{text}"
    );
    for part in [
        "unit root",
        "stationary",
        "● p ≤ 0.01",
        "Interpretation",
        "Next",
        "Confidence: high.",
        "Posterior probabilities of twelve models",
    ] {
        assert!(text.contains(part), "{part}");
    }
    for series in ["freight", "waiting", "claims", "ice", "tug_hours", "berth_fee"] {
        let words = format!("stationarity demo:harbour {series} --tests all --regression");
        let text = Folder::new().run(&words).stdout;
        fits_80_columns(&text).unwrap_or_else(|wide| panic!("{series}: {wide}"));
    }
}

#[test]
fn the_answer_fits_the_screen_and_the_rest_comes_on_request() {
    let folder = Folder::new();
    for series in ["freight", "waiting", "claims", "ice", "tug_hours", "berth_fee"] {
        let call = format!("stationarity demo:harbour {series}");
        let short = folder.run(&call).stdout;
        assert!(short.lines().count() <= 40, "{series}: {} lines\n{short}", short.lines().count());
        assert!(short.contains("More with -v") && !short.contains("by subsample"), "{short}");
        for whole in
            [folder.run(&format!("{call} -v")).stdout, folder.run(&format!("{call} --as markdown")).stdout]
        {
            assert!(whole.contains("by subsample") && !whole.contains("More with -v"), "{whole}");
        }
    }
}

#[test]
fn tests_and_differences_are_shown_as_asked_for() {
    let folder = Folder::new();
    let shown = |words: &str| -> Vec<(String, u64)> {
        let result = folder.json(&format!("stationarity demo:harbour claims {words}"));
        let tests = result["results"][0]["tests"].as_array().expect("tests").clone();
        let name = |test: &Value| test["test"].as_str().expect("a name").to_owned();
        tests.iter().map(|t| (name(t), t["differenced"].as_u64().expect("a count"))).collect()
    };
    assert_eq!(shown("--tests kpss --at 2"), [("kpss".to_owned(), 2)]);
    assert_eq!(shown("--tests adf-gls,adf --at 0"), [("adf".to_owned(), 0), ("adf_gls".to_owned(), 0)]);
    let wrong = folder.run("stationarity demo:harbour claims --tests adv");
    assert!(wrong.status == 2 && wrong.stderr.contains("there is no test"), "{}", wrong.stderr);
    let text = folder.run("stationarity demo:harbour claims --regression").stdout;
    assert!(text.contains("Regression of ADF (level)") && text.contains("level[t-1]"), "{text}");
    for rule in ["maic", "t"] {
        let result =
            folder.json(&format!("stationarity demo:harbour waiting --lags {rule} --tests adf --at 0"));
        assert_eq!(result["results"][0]["tests"][0]["lag_rule"], rule);
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
        let words = format!("stationarity demo:harbour tug_hours --tests kpss --at 0 --alpha {alpha}");
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
    assert_ne!(result["results"][0]["verdict"]["confidence"], "high");
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

#[test]
fn robustness_tabulates_samples_terms_lags_and_bandwidths() {
    let folder = Folder::new();
    let call = "stationarity demo:harbour tug_hours --robustness";
    let found = folder.json(call)["results"][0].clone();
    let rows = found["rows"].as_array().expect("rows").clone();
    let count = |varied: &str| rows.iter().filter(|row| row["varied"] == varied).count();
    // The whole sample, six parts, and before and after the break.
    assert_eq!([count("sample"), count("terms"), count("lags"), count("bandwidth")], [9, 2, 4, 3]);
    let whole = folder.json("stationarity demo:harbour tug_hours")["results"][0].clone();
    assert_eq!(rows[0]["d"], whole["verdict"]["integration"]);
    assert_eq!(rows[0]["adf"]["statistic"], whole["tests"][0]["statistic"]);
    let cells = found["cells"].as_u64().expect("a number");
    assert!(found["agreeing"].as_u64().expect("a number") < cells && cells >= 40);
    // A part of the sample is what --sample takes.
    let part = rows.iter().find(|row| row["label"] == "second half").expect("a half");
    let sample =
        format!("{}..{}", part["first"].as_str().expect("first"), part["last"].as_str().expect("last"));
    let half = folder.json(&format!("stationarity demo:harbour tug_hours --sample {sample}"));
    assert_eq!(half["results"][0]["verdict"]["probability"], part["probability"]);
    let text = folder.run(call);
    text.succeeds();
    assert!(text.running_text().starts_with("The verdict on tug_hours, (d, D) = (0, 0), is the same in"));
    fits_80_columns(&text.stdout).expect("no wide line");
    assert!(folder.run(&format!("{call} --as latex")).stdout.contains("last 9/10"));
    assert_eq!(folder.run(&format!("{call} --panel")).status, 2);
}

#[test]
fn rolling_and_recursive_windows_are_the_tests_of_their_samples() {
    let folder = Folder::new();
    let call = "stationarity demo:harbour waiting --season 1 --lags 1 --rolling 120";
    let found = folder.json(call)["results"][0].clone();
    let windows = found["windows"].as_array().expect("windows");
    assert_eq!((windows.len(), found["step"].as_u64()), (288 - 119, Some(1)));
    assert_eq!((&windows[0]["last"], &windows[168]["last"]), (&"2010-12".into(), &"2024-12".into()));
    for (place, sample, kind) in [
        (0, "2001-01..2010-12", "rolling"),
        (24, "2003-01..2012-12", "rolling"),
        (24, "2001-01..2012-12", "recursive"),
    ] {
        let own = folder.json(&format!(
            "stationarity demo:harbour waiting --season 1 --lags 1 --terms constant --sample {sample}"
        ));
        let tests = &own["results"][0]["tests"];
        for (name, place_of_test) in [("adf", 0), ("kpss", 1)] {
            let (window, test) = (&windows[place][kind][name], &tests[place_of_test]);
            assert_eq!(window["statistic"], test["statistic"], "{name} {kind} {sample}");
            assert_eq!(window["p_value"], test["p_value"], "{name} {kind} {sample}");
            assert_eq!(window["critical"], test["critical"]["5%"], "{name} {kind} {sample}");
        }
    }
    let text = folder.run(call);
    text.succeeds();
    assert!(
        text.running_text().starts_with("In rolling windows of 120 months, ADF at 5 % rejects a unit root")
    );
    fits_80_columns(&text.stdout).expect("no wide line");
    let rejected = windows
        .iter()
        .filter(|row| row["rolling"]["adf"]["p_value"].as_f64().is_some_and(|p| p <= 0.05))
        .count();
    assert!(text.running_text().contains(&format!("of waiting in {rejected} of 169")), "{}", text.stdout);
}

#[test]
fn windows_are_drawn_and_refused_where_they_cannot_be() {
    let folder = Folder::new();
    folder.run("stationarity demo:harbour claims --rolling 200 --figure a.svg").succeeds();
    let svg = String::from_utf8(folder.read("a.svg")).expect("text");
    for panel in ["ADF, rolling: a unit root is rejected below", "ADF, recursive", "KPSS, recursive"] {
        assert!(svg.contains(&format!("aria-label=\"{panel}\"")), "no panel {panel}");
    }
    let refused = |call: &str, status: i32, text: &str| {
        folder.run(&format!("stationarity demo:harbour {call}")).fails(status, &[text]);
    };
    refused("claims --rolling 19", 2, "take windows of 20 at least");
    refused("claims --rolling 289", 3, "take windows of 288 at most");
    refused("claims waiting --rolling 200 --figure b.svg", 2, "--figure draws one series");
    assert_eq!(folder.run("stationarity demo:harbour claims --rolling 60 --robustness").status, 2);
}

#[test]
fn no_reason_cites_a_test_that_is_not_shown() {
    let folder = Folder::new();
    for (tests, absent) in [("adf", ["KPSS", "HEGY"]), ("kpss", ["ADF", "HEGY"]), ("pp", ["ADF", "KPSS"])] {
        for series in ["waiting", "freight", "berth_fee", "ice"] {
            let json = folder.json(&format!("stationarity demo:harbour {series} --tests {tests}"));
            for reason in json["results"][0]["verdict"]["reasons"].as_array().expect("reasons") {
                let reason = reason.as_str().expect("a text");
                assert!(absent.iter().all(|test| !reason.contains(test)), "{tests}, {series}: {reason}");
            }
        }
    }
    let reasons = folder.run("stationarity demo:harbour waiting --tests adf -v").running_text();
    assert!(reasons.contains("The level: a unit root is rejected (ADF, p < 0.0001)."), "{reasons}");
}

#[test]
fn kpss_with_a_bandwidth_of_a_quarter_of_the_sample_is_not_counted() {
    let folder = Folder::new();
    let json = folder.json("stationarity demo:harbour tug_hours");
    let tests = json["results"][0]["tests"].as_array().expect("tests");
    let kpss = tests.iter().find(|test| test["test"] == "kpss" && test["differenced"] == 1).expect("KPSS");
    let (bandwidth, rows) = (kpss["bandwidth"].as_u64(), kpss["sample"]["observations"].as_u64());
    assert!(bandwidth.zip(rows).is_some_and(|(bandwidth, rows)| bandwidth >= rows / 4), "{kpss}");
    let text = folder.run("stationarity demo:harbour tug_hours").running_text();
    assert!(
        text.contains("KPSS is not counted: its bandwidth is a quarter of the observations or more."),
        "{text}"
    );
    assert!(!text.contains("Both agree that it is stationary"), "{text}");
}

#[test]
fn the_level_of_a_differenced_series_has_the_same_statistic_and_the_text_says_why_p_differs() {
    let folder = Folder::new();
    let test = |series: &str, differenced: u64| -> Value {
        let json = folder.json(&format!("stationarity demo:harbour {series} --tests adf"));
        let all = json["results"][0]["tests"].as_array().expect("tests").clone();
        all.into_iter().find(|test| test["differenced"] == differenced).expect("a test")
    };
    let (after, before) = (test("tug_hours", 1), test("tug_hours:d1", 0));
    assert_eq!(after["statistic"], before["statistic"]);
    let text = folder.run("stationarity demo:harbour tug_hours:d1 -v").running_text();
    assert!(
        text.contains("(so it differs from that of the same series differenced before the test)"),
        "{text}"
    );
}
