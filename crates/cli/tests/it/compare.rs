//! `kandrel compare`.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, monthly, noise};

fn number(value: &Value) -> f64 {
    value.as_f64().unwrap_or_else(|| panic!("a number, not {value}"))
}

fn run(folder: &Folder, words: &[&str]) -> Value {
    let outcome = folder.run_words(&[words, &["--as", "json"]].concat(), "");
    assert_eq!(outcome.status, 0, "{}", outcome.stderr);
    serde_json::from_str::<Value>(&outcome.stdout).expect("JSON")["results"][0].clone()
}

fn of<'a>(result: &'a Value, name: &str) -> &'a Value {
    let all = result["candidates"].as_array().expect("candidates");
    all.iter().find(|one| one["candidate"] == name).unwrap_or_else(|| panic!("no {name} in {result}"))
}

/// A walk of 60 months.
fn walk() -> Vec<f64> {
    let mut level = 50.0;
    let step = |shock: &f64| {
        level += shock;
        level
    };
    noise(60, 5).iter().map(step).collect()
}

#[test]
fn held_out_errors_are_those_by_hand() {
    let y = walk();
    let folder = Folder::with("a.csv", monthly(&y));
    let result = run(&folder, &["compare", "a.csv", "x", "--model", "(0,1,0)", "--hold", "6"]);
    let errors: Vec<f64> = y[54..].iter().map(|value| value - y[53]).collect();
    let rmse = (errors.iter().map(|e| e * e).sum::<f64>() / 6.0).sqrt();
    // A walk without drift is the naive forecast.
    for name in ["naive", "x (0,1,0)"] {
        let own = &of(&result, name)["held_out"];
        assert!((number(&own["rmse"]) - rmse).abs() < 1e-9, "{name}");
        let mape: f64 = errors.iter().zip(&y[54..]).map(|(e, v)| 100.0 * (e / v).abs()).sum::<f64>() / 6.0;
        assert!((number(&own["mape"]) - mape).abs() < 1e-9);
    }
    let drift = (y[53] - y[0]) / 53.0;
    let by_drift = (1..=6).map(|h| (y[53 + h] - y[53] - h as f64 * drift).powi(2)).sum::<f64>() / 6.0;
    assert!((number(&of(&result, "drift")["held_out"]["rmse"]) - by_drift.sqrt()).abs() < 1e-9);
    let seasonal = (0..6).map(|h| (y[54 + h] - y[42 + h]).powi(2)).sum::<f64>() / 6.0;
    assert!((number(&of(&result, "seasonal naive")["held_out"]["rmse"]) - seasonal.sqrt()).abs() < 1e-9);
    assert!(of(&result, "naive")["rolling"].is_null() && of(&result, "naive")["model"].is_null());
    // MASE is relative to the mean absolute seasonal difference before the hold-out sample.
    let scale = (12..54).map(|t| (y[t] - y[t - 12]).abs()).sum::<f64>() / 42.0;
    let own = &of(&result, "naive")["held_out"];
    assert!((number(&own["mase"]) - number(&own["mae"]) / scale).abs() < 1e-9);
}

#[test]
fn rolling_errors_are_those_by_hand_at_every_horizon() {
    let y = walk();
    let folder = Folder::with("a.csv", monthly(&y));
    let words = ["compare", "a.csv", "x", "--model", "(0,1,0)", "--rolling", "10", "--ahead", "3"];
    let result = run(&folder, &words);
    let own = &of(&result, "x (0,1,0)")["rolling"];
    assert_eq!(
        (own["origins"].clone(), own["ahead"].clone(), own["count"].clone()),
        (10.into(), 3.into(), 27.into())
    );
    for h in 1..=3 {
        let errors: Vec<f64> = (49..59).filter(|o| o + h < 60).map(|o| y[o + h] - y[o]).collect();
        let rmse = (errors.iter().map(|e| e * e).sum::<f64>() / errors.len() as f64).sqrt();
        let one = &own["by_horizon"][h - 1];
        assert_eq!(one["count"], errors.len());
        assert!((number(&one["rmse"]) - rmse).abs() < 1e-9, "{h}");
    }
    assert_eq!(
        of(&result, "x (0,1,0)")["diebold_mariano"].is_null(),
        result["best"]["candidate"] == "x (0,1,0)"
    );
}

#[test]
fn later_values_are_not_seen_at_an_origin() {
    // The same series with another end: forecasts from the first origin must not change.
    let mut y = walk();
    let folder = Folder::with("a.csv", monthly(&y));
    for value in &mut y[50..] {
        *value += 7.0;
    }
    folder.write("b.csv", monthly(&y));
    let point = |file: &str, series: &str, sample: &str| {
        let words = ["forecast", file, series, "--model", "(1,1,0)", "--sample", sample, "--ahead", "1"];
        number(&run(&folder, &words)["steps"][0]["point"])
    };
    for series in ["x", "x:standardize", "x:boxcox", "x:detrend"] {
        let [a, b] = ["a.csv", "b.csv"].map(|file| point(file, series, "..2014-02"));
        assert!((a - b).abs() < 1e-9 * a.abs(), "{series}: {a} {b}");
    }
    // And compare forecasts as forecast does.
    let words = ["compare", "a.csv", "x:standardize", "--model", "(1,1,0)", "--hold", "1"];
    let result = run(&folder, &words);
    let own = number(&of(&result, "x:standardize (1,1,0)")["held_out"]["me"]);
    let expected = walk()[59] - point("a.csv", "x:standardize", "..2014-11");
    assert!((own - expected).abs() < 1e-6, "{own} {expected}");
}

#[test]
fn criteria_are_ranked_within_groups_only() {
    let folder = Folder::new();
    let words = [
        "compare",
        "demo:harbour",
        "freight",
        "freight:ln",
        "--model",
        "(0,1,1)(0,1,1)12",
        "--model",
        "(1,1,0)(0,1,1)12",
        "--model",
        "(1,0,0)(0,1,1)12",
        "--hold",
        "12",
    ];
    let result = run(&folder, &words);
    let groups = result["comparable_groups"].as_array().expect("groups");
    assert_eq!(groups.len(), 4, "{groups:?}");
    assert!(groups.iter().any(|group| group["name"] == "freight:ln, d = 1, D = 1 at lag 12, 275 values"
        && group["candidates"].as_array().is_some_and(|all| all.len() == 2)
        && group["best"] == "freight:ln (0,1,1)(0,1,1)12"));
    assert_eq!(
        of(&result, "freight:ln (0,1,1)(0,1,1)12")["group"],
        of(&result, "freight:ln (1,1,0)(0,1,1)12")["group"]
    );
    // In the column's original scale whatever the steps.
    let inside = |name: &str| number(&of(&result, name)["in_sample"]["rmse"]);
    let ratio = inside("freight:ln (0,1,1)(0,1,1)12") / inside("freight (0,1,1)(0,1,1)12");
    assert!((0.7..1.1).contains(&ratio), "{ratio}");
    let text = folder.run_words(&words, "");
    fits_80_columns(text.stdout.split("Next").next().expect("text")).expect("no wide line");
    let whole = folder.run_words(&[&words[..], &["-v"]].concat(), "");
    fits_80_columns(whole.stdout.split("Next").next().expect("text")).expect("no wide line");
    assert!(whole.running_text().contains("criteria are not comparable across groups"), "{}", whole.stdout);
}

#[test]
fn fixed_parameters_and_fresh_ones_differ_only_a_little() {
    let folder = Folder::new();
    let words =
        ["compare", "demo:harbour", "waiting", "--model", "(2,0,0)", "--rolling", "12", "--ahead", "2"];
    let [again, fixed] = [&[][..], &["--fixed"]].map(|more| {
        let result = run(&folder, &[&words[..], more].concat());
        let own = of(&result, "waiting (2,0,0)")["rolling"].clone();
        (own["fixed"].clone(), number(&own["rmse"]))
    });
    assert_eq!((again.0, fixed.0), (false.into(), true.into()));
    assert!(
        (again.1 / fixed.1 - 1.0).abs() < 0.05 && (again.1 - fixed.1).abs() > 1e-9,
        "{} {}",
        again.1,
        fixed.1
    );
}

#[test]
fn the_effect_of_replaced_values_is_shown() {
    let mut y: Vec<f64> = noise(96, 11).iter().map(|e| 100.0 + e).collect();
    y[70] = 140.0;
    let folder = Folder::with("a.csv", monthly(&y));
    let words =
        ["compare", "a.csv", "x", "--model", "(1,0,0)", "--repaired", "--rolling", "20", "--ahead", "1"];
    let result = run(&folder, &words);
    let rmse = |name: &str| number(&of(&result, name)["rolling"]["rmse"]);
    assert_eq!(of(&result, "x:repair (1,0,0)")["outlier_adjusted"], true);
    assert!(rmse("x:repair (1,0,0)") < rmse("x (1,0,0)"));
    let text = folder.run_words(&words, "").running_text();
    assert!(
        text.contains("With outliers replaced the RMSE of x:repair (1,0,0) is") && text.contains("lower"),
        "{text}"
    );
}

#[test]
fn the_sentence_says_whether_a_model_beats_the_benchmarks() {
    let text = Folder::new().run("compare demo:harbour freight:perday,ln --hold 12 -q").running_text();
    assert!(
        text.starts_with("freight:perday,ln (0,1,1)(0,1,1)12 has the lowest RMSE for freight ("),
        "{text}"
    );
    assert!(text.contains("% below the best benchmark forecast"), "{text}");
    // Steps of nearly the same size: the rule that carries them on cannot be beaten.
    let line: Vec<f64> = (0..60).map(|t| 10.0 + 3.0 * f64::from(t) + 0.01 * f64::from(t % 7)).collect();
    let folder = Folder::with("a.csv", monthly(&line));
    let text = folder.run("compare a.csv x --model (1,0,0) --hold 6").running_text();
    assert!(text.starts_with("No model forecasts x better than the drift forecast (RMSE 0."), "{text}");
}

#[test]
fn what_cannot_be_compared_is_refused() {
    let folder = Folder::with("a.csv", monthly(&walk()));
    folder.run("compare demo:harbour freight waiting").fails(2, &["freight and waiting", "one column"]);
    folder.run("compare a.csv x --model (0,1,0) --hold 50").fails(3, &["too few", "hold out 44 at most"]);
    folder.run("compare a.csv x --hold 0").fails_call("--hold");
    folder.run("compare a.csv x:abs --model (0,1,0) --hold 2").fails(2, &["has no inverse"]);
}

#[test]
fn steps_at_an_origin_take_nothing_from_later_values() {
    // Only the last value differs; the forecast of it must not.
    let mut y: Vec<f64> =
        walk().iter().enumerate().map(|(t, v)| v + 6.0 * f64::from(u8::from(t % 12 < 3))).collect();
    let folder = Folder::with("a.csv", monthly(&y));
    y[59] += 25.0;
    folder.write("b.csv", monthly(&y));
    for series in ["x:boxcox", "x:standardize", "x:deseason", "x:repair", "x:detrend"] {
        for more in [&[][..], &["--fixed"]] {
            let error = |file: &str| {
                let words = ["compare", file, series, "--model", "(1,1,0)", "--rolling", "1", "--ahead", "1"];
                let result = run(&folder, &[&words[..], more].concat());
                number(&of(&result, &format!("{series} (1,1,0)"))["rolling"]["me"])
            };
            let moved = error("b.csv") - error("a.csv");
            assert!((moved - 25.0).abs() < 1e-6, "{series} {more:?}: {moved}");
        }
    }
}

#[test]
fn a_fixed_and_an_evolving_pattern_meet_in_one_table() {
    let pattern = [4.0, -2.0, 0.0, 1.0, -3.0, 2.0, 5.0, -4.0, 0.5, -1.5, 3.0, -5.0];
    let values: Vec<f64> =
        noise(96, 31).iter().enumerate().map(|(t, e)| 50.0 + pattern[t % 12] + 0.5 * e).collect();
    let folder = Folder::with("a.csv", monthly(&values));
    let fixed = "(0,0,0) with seasons";
    let words = ["compare", "a.csv", "x", "--model", fixed, "--model", "(0,0,0)", "--rolling", "24"];
    let result = run(&folder, &words);
    let with = |name: &str| of(&result, name)["with"].clone();
    assert_eq!(with("x (0,0,0) with seasons"), serde_json::json!(["seasons"]));
    assert_eq!(with("x (0,0,0)"), serde_json::json!([]));
    // The pattern is all there is: its model errs by the noise alone, the other by the pattern too.
    assert_eq!(result["best"]["candidate"], "x (0,0,0) with seasons");
    let rmse = |name: &str| number(&of(&result, name)["rolling"]["geometric_mean_rmse"]);
    let (own, other) = (rmse("x (0,0,0) with seasons"), rmse("x (0,0,0)"));
    assert!(own < 0.25 * other, "{own} {other}");
    // The next calls carry the regressors of the best.
    let text = folder.run_words(&words, "");
    assert!(text.stdout.contains("kandrel fit a.csv x --model '(0,0,0)' --with seasons"), "{}", text.stdout);
    folder
        .run_words(&["compare", "a.csv", "x", "--model", "(0,0,0) with nothing"], "")
        .fails(3, &["no column `nothing`"]);
}

#[test]
fn the_average_is_a_candidate_and_the_forecasts_of_every_origin_can_be_saved() {
    let folder = Folder::with("a.csv", monthly(&walk()));
    let words = [
        "compare",
        "a.csv",
        "x",
        "--model",
        "(0,1,0)",
        "--model",
        "(1,0,0)",
        "--rolling",
        "8",
        "--ahead",
        "3",
    ];
    let result = run(&folder, &[&words[..], &["--save", "f.csv", "--figure", "f.svg"]].concat());
    let average = of(&result, "average");
    assert_eq!((average["kind"].clone(), average["model"].clone()), ("average".into(), Value::Null));
    let members = average["members"].as_array().expect("models");
    assert_eq!(
        (members[0]["model"].clone(), members[1]["model"].clone()),
        ("x (0,1,0)".into(), "x (1,0,0)".into())
    );
    let [own, other] = [0, 1].map(|k| number(&members[k]["weight"]));
    assert!((own + other - 1.0).abs() < 1e-12 && own > 0.0 && other > 0.0, "{members:?}");
    let csv = String::from_utf8(folder.read("f.csv")).expect("text");
    let rows: Vec<Vec<&str>> = csv.lines().map(|line| line.split(',').collect()).collect();
    assert!(
        csv.starts_with("origin,period,horizon,actual,\"x (0,1,0)\",\"x (1,0,0)\",average,naive,"),
        "{csv}"
    );
    // Eight origins three ahead, less those beyond the end.
    assert_eq!(rows.len(), 1 + 8 * 3 - 3);
    let mut squares = [0.0; 3];
    for line in csv.lines().skip(1) {
        let cells: Vec<f64> = line.split(',').skip(3).map(|cell| cell.parse().expect("a number")).collect();
        assert!((cells[3] - (own * cells[1] + other * cells[2])).abs() < 1e-9, "{line}");
        squares.iter_mut().zip(&cells[1..]).for_each(|(sum, cell)| *sum += (cell - cells[0]).powi(2));
    }
    for (name, sum) in ["x (0,1,0)", "x (1,0,0)", "average"].iter().zip(squares) {
        let rmse = number(&of(&result, name)["rolling"]["rmse"]);
        assert!((rmse - (sum / 21.0).sqrt()).abs() < 1e-9, "{name}");
    }
    let figure = String::from_utf8(folder.read("f.svg")).expect("text");
    assert!(figure.contains("forecasts from rolling origins") && figure.contains("(RMSE "), "no paths");
    let text = folder.run_words(&words, "").running_text();
    assert!(text.contains("Average: the weighted mean of the forecasts of x (0,1,0) ("), "{text}");
    folder.run("compare a.csv x --hold 6 --save g.csv").fails_call("cannot be used with");
    folder
        .run("compare a.csv x --model (0,1,0) --hold 6 --figure g.svg")
        .fails(2, &["rolling origins", "--rolling N"]);
}

#[test]
fn a_search_on_a_column_compares_the_scale_that_the_diagnosis_advises() {
    let result =
        run(&Folder::new(), &["compare", "demo:harbour", "freight", "--rolling", "12", "--ahead", "12"]);
    let members = of(&result, "average")["members"].as_array().expect("members").clone();
    let of_log = members
        .iter()
        .filter_map(|own| own["model"].as_str())
        .filter(|name| name.starts_with("freight:ln "))
        .count();
    assert!(members.len() >= 2 && of_log >= 1, "{members:?}");
    assert!(result["candidates"].as_array().expect("all").iter().any(|one| one["series"] == "freight:ln"));
}
