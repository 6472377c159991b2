//! `kandrel randomness`.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, monthly, noise, scattered};

fn test<'a>(result: &'a Value, name: &str) -> &'a Value {
    let tests = result["tests"].as_array().expect("tests");
    tests.iter().find(|test| test["test"] == name).expect("the test")
}

#[test]
fn the_demo_series_are_what_they_are_known_to_be() {
    let folder = Folder::new();
    let claims = folder.run("randomness demo:harbour claims");
    claims.succeeds();
    assert_eq!(
        claims.first_line(),
        "Randomness of claims is not rejected by any test at 5 %, allowing for 9 tests."
    );
    fits_80_columns(&claims.stdout).expect("no wide line");
    let waiting = folder.run("randomness demo:harbour waiting").running_text();
    assert!(
        waiting.starts_with("waiting is not random: its values depend on earlier ones (at 5 %"),
        "{waiting}"
    );
    assert!(waiting.contains("Rank von Neumann: positive autocorrelation"), "{waiting}");
    let freight = folder.json("randomness demo:harbour freight")["results"][0].clone();
    assert_eq!(freight["departures"], serde_json::json!(["trend", "dependence", "not_normal"]));
}

#[test]
fn every_test_of_the_contract_is_there_with_its_detail() {
    let result =
        Folder::new().json("randomness demo:harbour claims --about 40 --horizons 2,6 --lags 9")["results"][0]
            .clone();
    for (name, keys) in [
        ("runs", vec!["about", "cut", "runs", "above", "below", "expected", "sd"]),
        ("turning_points", vec![]),
        ("difference_sign", vec![]),
        ("rank_trend", vec![]),
        ("rank_von_neumann", vec![]),
        ("ljung_box", vec!["lags"]),
        ("variance_ratio", vec!["horizon", "ratio", "z", "z_robust"]),
        ("mcleod_li", vec!["lags"]),
        ("jarque_bera", vec!["skewness", "kurtosis"]),
    ] {
        let found = test(&result, name);
        assert!(found["statistic"].is_number() && found["p_value"].is_number(), "{name}");
        assert!(keys.iter().all(|key| !found["detail"][key].is_null()), "{name}: {found}");
    }
    assert_eq!(test(&result, "runs")["detail"]["cut"], 40.0);
    assert_eq!(test(&result, "ljung_box")["detail"]["lags"], 9);
    let ratios =
        result["tests"].as_array().expect("tests").iter().filter(|test| test["test"] == "variance_ratio");
    assert_eq!(ratios.map(|test| test["detail"]["horizon"].clone()).collect::<Vec<_>>(), [2, 6]);
}

#[test]
fn the_same_statistics_as_acf() {
    let folder = Folder::new();
    let ours = folder.json("randomness demo:harbour waiting --lags 12")["results"][0].clone();
    let acf = folder.json("acf demo:harbour waiting --lags 12")["results"][0].clone();
    assert_eq!(test(&ours, "ljung_box")["p_value"], acf["lags"][11]["p_value"]);
}

#[test]
fn a_short_series_has_exact_runs() {
    let folder = Folder::with("x.csv", monthly(&scattered(24)));
    let result = folder.json("randomness x.csv --about median")["results"][0].clone();
    let runs = test(&result, "runs");
    assert_eq!((&runs["detail"]["exact"], &runs["detail"]["above"]), (&true.into(), &12.into()));
}

#[test]
fn the_figure_shows_the_cut_and_the_runs() {
    let folder = Folder::new();
    folder.run("randomness demo:harbour waiting --figure w.svg").succeeds();
    let text = String::from_utf8(folder.read("w.svg")).expect("text");
    let runs = folder.json("randomness demo:harbour waiting")["results"][0]["tests"][0]["detail"]["runs"]
        .as_u64()
        .expect("runs");
    // Every other run is shaded, and each of the two functions has a strip for its band.
    let strips = text.matches("fill=\"#efe6d2\"").count() as u64;
    assert!(strips == runs / 2 + 2 || strips == runs / 2 + 3, "{strips} {runs}");
    folder.run("randomness demo:harbour waiting claims --figure two.svg").fails(2, &["draws one series"]);
}

#[test]
fn what_cannot_be_tested_is_refused() {
    let folder = Folder::with("x.csv", monthly(&scattered(40)));
    folder.run("randomness x.csv --about 1000").fails(2, &["--about", "one side of the cut"]);
    folder.run("randomness x.csv --horizons 2,30").fails(2, &["--horizons", "between 2 and 20"]);
    folder.run("randomness x.csv --lags 40").fails(2, &["--lags", "between 1 and 39"]);
    folder.write("short.csv", monthly(&scattered(6)));
    folder.run("randomness short.csv").fails(3, &["6 observations are too few"]);
    folder.write("flat.csv", monthly(&[3.0; 30]));
    folder.run("randomness flat.csv").fails(3, &["the series is constant"]);
    assert_eq!(folder.run("randomness x.csv --about tall").status, 2);
}

#[test]
fn unbalanced_rises_and_falls_are_an_asymmetry_and_not_a_trend() {
    // A pulse: a jump up every six periods, then five small steps down, with a little noise.
    let e = noise(120, 3);
    let values: Vec<f64> = (0..120).map(|t| 10.0 - (t % 6) as f64 + 0.01 * e[t]).collect();
    let folder = Folder::with("a.csv", monthly(&values));
    let result = folder.json("randomness a.csv x")["results"][0].clone();
    let departures = result["departures"].as_array().expect("departures");
    assert!(
        departures.contains(&"asymmetry".into()) && !departures.contains(&"trend".into()),
        "{departures:?}"
    );
    let outcome = folder.run("randomness a.csv x");
    let text = outcome.running_text();
    assert!(text.contains("rises and falls are asymmetric") && !text.contains("has a trend"), "{text}");
    // The runs are in the text as in the data.
    let detail = result["tests"].as_array().expect("tests")[0]["detail"].clone();
    let runs = format!("{} runs, ", detail["runs"]);
    assert!(text.contains(&runs) && text.contains(&format!("{} below", detail["below"])), "{text}");
}
