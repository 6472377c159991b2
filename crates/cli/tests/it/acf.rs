//! `kandrel acf`.

use crate::harness::{Folder, fits_80_columns, monthly, noise, scattered};

#[test]
fn the_contract_of_the_json() {
    let result = Folder::new().json("acf demo:harbour waiting --lags 5");
    assert_eq!(result["kandrel"]["command"], "acf");
    assert_eq!(
        result["kandrel"]["arguments"],
        serde_json::json!(["acf", "demo:harbour", "waiting", "--lags", "5", "--as", "json"])
    );
    let data = &result["data"];
    assert_eq!((data["frequency"].as_str(), data["season"].as_u64()), (Some("monthly"), Some(12)));
    assert_eq!(data["sha256"].as_str().map(str::len), Some(64));
    assert_eq!(data["filled"], serde_json::json!([]));
    let one = &result["results"][0];
    assert_eq!((one["series"].as_str(), one["observations"].as_u64()), (Some("waiting"), Some(288)));
    assert_eq!(one["significant"], serde_json::json!([1, 2, 3, 4, 5]));
    assert!((one["band"].as_f64().expect("a band") - 1.959_963_984_540_054 / 288_f64.sqrt()).abs() < 1e-15);
    let lags = one["lags"].as_array().expect("lags");
    assert_eq!(lags.len(), 5);
    for field in ["lag", "acf", "acf_se", "pacf", "q", "p_value"] {
        assert!(lags[4][field].is_number(), "{field}");
    }
    assert!(one["reading"].as_array().is_some_and(|reading| !reading.is_empty()));
}

#[test]
fn autocorrelations_of_a_file_are_those_of_the_formula() {
    let values = scattered(40);
    let folder = Folder::with("a.csv", monthly(&values));
    let result = folder.json("acf a.csv x --lags 3");
    let mean = values.iter().sum::<f64>() / 40.0;
    let product = |k: usize| (k..40).map(|t| (values[t] - mean) * (values[t - k] - mean)).sum::<f64>();
    for k in 1..=3 {
        let ours = result["results"][0]["lags"][k - 1]["acf"].as_f64().expect("a number");
        assert!((ours - product(k) / product(0)).abs() < 1e-12, "lag {k}");
    }
}

#[test]
fn the_reading_finds_what_the_demo_series_really_are() {
    let folder = Folder::new();
    let first = |series: &str| {
        let outcome = folder.run(&format!("acf demo:harbour {series}"));
        outcome.succeeds();
        fits_80_columns(&outcome.stdout).expect("narrow");
        outcome.running_text()
    };
    assert!(
        first("waiting")
            .starts_with("The autocorrelation of waiting decays to zero; its pattern is that of AR(2).")
    );
    assert!(first("claims").starts_with("claims shows no autocorrelation."));
    assert!(
        first("berth_fee")
            .starts_with("The autocorrelation of berth_fee decays slowly, consistent with a unit root.")
    );
    assert!(
        first("bookings")
            .starts_with("The autocorrelation of bookings decays to zero; its pattern is that of AR(1).")
    );
    let differenced = first("freight:ln,d1,d12");
    assert!(differenced.contains("its pattern is that of MA(1) with a seasonal moving average at lag 12."));
    assert!(!first("berth_fee").contains("AR("), "a random walk is no autoregression");
}

#[test]
fn several_series_make_several_results_in_one_call() {
    let folder = Folder::new();
    let result = folder.json("acf demo:harbour claims waiting:d1");
    let names: Vec<&str> = result["results"]
        .as_array()
        .expect("results")
        .iter()
        .filter_map(|one| one["series"].as_str())
        .collect();
    assert_eq!(names, ["claims", "waiting:d1"]);
    assert!(folder.run("acf demo:harbour claims waiting").stdout.contains("waiting decays to zero"));
}

#[test]
fn the_next_command_it_prints_runs() {
    let folder = Folder::with("my data.csv", monthly(&scattered(60)).replace(",x", ",ship hours"));
    let outcome = folder.run_words(&["acf", "my data.csv", "`ship hours`"], "");
    outcome.succeeds();
    assert!(
        outcome.stdout.contains("kandrel stationarity 'my data.csv' '`ship hours`'"),
        "{}",
        outcome.stdout
    );
    folder.run_words(&["stationarity", "my data.csv", "`ship hours`"], "").succeeds();
}

#[test]
fn fitted_parameters_and_the_other_estimate_of_the_pacf() {
    let folder = Folder::new();
    let plain = folder.json("acf demo:harbour waiting --lags 6")["results"][0].clone();
    let residuals = folder.json("acf demo:harbour waiting --lags 6 --fitted 2")["results"][0].clone();
    assert!(residuals["lags"][1]["p_value"].is_null() && residuals["fitted"] == 2);
    assert_eq!(plain["lags"][5]["q"], residuals["lags"][5]["q"]);
    let squares = folder.json("acf demo:harbour waiting --lags 6 --pacf least-squares")["results"][0].clone();
    let pacf =
        |result: &serde_json::Value, lag: usize| result["lags"][lag - 1]["pacf"].as_f64().expect("a number");
    // Two estimates of one thing, apart by terms of order 1/n.
    assert!((pacf(&plain, 2) - pacf(&squares, 2)).abs() < 0.03);
    let text = folder.run("acf demo:harbour waiting --fitted 2 --pacf least-squares").running_text();
    assert!(
        text.contains("less 2 for the parameters fitted. The PACF is estimated by least squares."),
        "{text}"
    );
}

#[test]
fn kept_gaps_leave_pairs_out() {
    let folder = Folder::new();
    let kept = folder.json("acf demo:messy.csv waiting --gaps keep")["results"][0].clone();
    let whole = folder.json("acf demo:harbour waiting")["results"][0].clone();
    assert_eq!((&kept["observations"], &kept["missing"]), (&284.into(), &4.into()));
    let first = |result: &serde_json::Value| result["lags"][0]["acf"].as_f64().expect("a number");
    assert!((first(&kept) - first(&whole)).abs() < 0.01);
    folder.run("acf demo:messy.csv waiting").fails(3, &["missing in 2001-05 to 2001-06"]);
}

#[test]
fn several_series_stand_in_rows_of_one_figure() {
    let folder = Folder::new();
    folder.run("acf demo:harbour freight:ln freight:ln,d1 freight:ln,d1,d12 --figure three.svg").succeeds();
    let text = String::from_utf8(folder.read("three.svg")).expect("text");
    assert_eq!(text.matches("aria-label=\"PACF\"").count(), 3);
    assert_eq!(text.matches("<g><title>lag ").count(), 3 * 72);
}

/// An AR(1) with φ = 0.5.
fn autoregression(seed: u64) -> Vec<f64> {
    let mut level = 0.0;
    let values = noise(260, seed).into_iter().map(|e| {
        level = 0.5 * level + e;
        level
    });
    values.skip(60).collect()
}

#[test]
fn the_reading_does_not_depend_on_how_many_lags_are_shown() {
    let folder = Folder::new();
    for seed in 0..20 {
        folder.write("a.csv", monthly(&autoregression(100 + seed)));
        let findings = |lags: u32| {
            let result = folder.json(&format!("acf a.csv x --season 1 --lags {lags}"))["results"][0].clone();
            let all = result["findings"].as_array().expect("findings").clone();
            // The count of lags outside the band is of those shown.
            all.into_iter().filter(|one| one.get("chance").is_none()).collect::<Vec<_>>()
        };
        let (few, many) = (findings(6), findings(24));
        assert_eq!(few, many, "{seed}");
        assert!(!few.iter().any(|one| one.get("does_not_die_out").is_some()), "{seed}: {few:?}");
    }
}

#[test]
fn a_cycle_that_is_not_the_calendars_is_named() {
    // Complex roots of modulus 0.93 and period 11.
    let (first, second) = (2.0 * 0.93 * (std::f64::consts::TAU / 11.0).cos(), -0.93_f64.powi(2));
    let (mut a, mut b) = (0.0, 0.0);
    let values = noise(240, 9).into_iter().map(|e| {
        (a, b) = (first * a + second * b + e, a);
        a
    });
    let values: Vec<f64> = values.skip(40).collect();
    let rows: String = values.iter().enumerate().map(|(t, x)| format!("{},{x}\n", 1800 + t)).collect();
    let folder = Folder::with("a.csv", format!("year,x\n{rows}"));
    let text = folder.run("acf a.csv x").running_text();
    let period =
        text.split("a cycle of about ").nth(1).and_then(|rest| rest.split(' ').next()).expect("a cycle");
    assert!((9.0..13.0).contains(&period.parse::<f64>().expect("a number")), "{text}");
    // The limits that widen with the lag are in the figure.
    folder.run("acf a.csv x --figure a.svg").succeeds();
    let svg = String::from_utf8(folder.read("a.svg")).expect("text");
    assert!(svg.contains("Bartlett"), "no word on the limits");
}

#[test]
fn several_series_share_one_correlogram_before_their_own() {
    let folder = Folder::new();
    let outcome = folder.run("acf demo:harbour freight claims");
    outcome.succeeds();
    let text = outcome.running_text();
    assert!(
        text.starts_with("The autocorrelations at lag 1 lie between 0.05 (claims) and 0.96 (freight)."),
        "{text}"
    );
    let json = folder.json("acf demo:harbour freight claims");
    let at =
        |series: usize, lag: usize| json["results"][series]["lags"][lag - 1]["acf"].as_f64().expect("acf");
    let row = outcome.stdout.lines().find(|line| line.trim_start().starts_with("3 ")).expect("lag 3");
    let numbers: Vec<f64> =
        row.replace('−', "-").split_whitespace().filter_map(|word| word.parse().ok()).collect();
    assert_eq!(numbers.len(), 3, "{row}");
    assert!((numbers[1] - at(0, 3)).abs() < 5e-4 && (numbers[2] - at(1, 3)).abs() < 5e-4, "{row}");
    fits_80_columns(&outcome.stdout).expect("no wide line");
    assert!(!folder.run("acf demo:harbour claims").stdout.contains("at lag 1 lie between"));
}
