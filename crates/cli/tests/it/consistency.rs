//! What one command says, another says too, or plain arithmetic on what others say.

use serde_json::Value;

use crate::harness::{Folder, monthly, noise};

fn number(value: &Value) -> f64 {
    value.as_f64().unwrap_or_else(|| panic!("a number, not {value}"))
}

fn result(folder: &Folder, words: &str) -> Value {
    folder.json(words)["results"][0].clone()
}

fn near(a: f64, b: f64, within: f64) -> bool {
    (a - b).abs() <= within * (1.0 + b.abs())
}

/// Months of a walk with a drift and a season in its changes.
fn seasonal_walk(n: usize) -> Vec<f64> {
    let e = noise(n, 77);
    let mut y: Vec<f64> = Vec::with_capacity(n);
    for t in 0..n {
        let past = |lag: usize| t.checked_sub(lag).map_or(100.0, |at| y[at]);
        let shock = |lag: usize| t.checked_sub(lag).map_or(0.0, |at| e[at]);
        let own = past(1) + past(12) - past(13);
        y.push(own + e[t] - 0.4 * shock(1) - 0.6 * shock(12) + 0.24 * shock(13));
    }
    y
}

fn period(t: usize) -> String {
    format!("{:04}-{:02}", 2010 + t / 12, t % 12 + 1)
}

fn named<'a>(list: &'a Value, key: &str, name: &str) -> &'a Value {
    let all = list.as_array().expect("a list");
    all.iter().find(|one| one[key] == name).unwrap_or_else(|| panic!("no {name} in {list}"))
}

#[test]
fn rolling_errors_are_those_of_forecasts_from_each_origin() {
    let (n, origins, ahead) = (90, 6, 2);
    let folder = Folder::with("a.csv", monthly(&seasonal_walk(n)));
    let model = "(0,1,1)(0,1,1)12";
    let compared = result(
        &folder,
        &format!("compare a.csv x --model {model} --model (0,1,0) --rolling {origins} --ahead {ahead}"),
    );
    let own = named(&compared["candidates"], "candidate", &format!("x {model}"));
    let mut squares = [(0.0, 0.0); 2];
    for origin in 0..origins {
        // The last value known: from the last origin only one more is.
        let last = n - 1 - (origins - origin);
        let words = format!("forecast a.csv x --model {model} --ahead {ahead} --sample ..{}", period(last));
        let predicted = result(&folder, &words);
        let known =
            predicted["steps"].as_array().expect("steps").iter().filter(|step| !step["actual"].is_null());
        for ((sum, count), step) in squares.iter_mut().zip(known) {
            *sum += (number(&step["actual"]) - number(&step["point"])).powi(2);
            *count += 1.0;
        }
    }
    let horizons = own["rolling"]["by_horizon"].as_array().expect("horizons");
    for ((sum, count), horizon) in squares.iter().zip(horizons) {
        let plain = (sum / count).sqrt();
        assert!(near(number(&horizon["count"]), *count, 0.0), "{horizon}");
        assert!(near(number(&horizon["rmse"]), plain, 1e-4), "{horizon} {plain}");
    }
}

#[test]
fn criteria_of_compare_are_those_of_fit() {
    let folder = Folder::with("a.csv", monthly(&seasonal_walk(120)));
    let compared = result(&folder, "compare a.csv x --model (0,1,1) --model (1,1,0) --hold 6");
    for model in ["(0,1,1)", "(1,1,0)"] {
        let fitted = result(&folder, &format!("fit a.csv x --model {model}"));
        let own = named(&compared["candidates"], "candidate", &format!("x {model}"));
        for key in ["log_likelihood", "aic", "aicc", "bic", "hq"] {
            assert!(near(number(&own[key]), number(&fitted[key]), 1e-7), "{model} {key}");
        }
    }
}

#[test]
fn differences_of_the_model_are_those_of_the_steps() {
    let folder = Folder::with("a.csv", monthly(&seasonal_walk(120)));
    for (whole, series, rest) in [
        ("(0,1,1)", "x:d1", "(0,0,1)+none"),
        ("(1,0,0)(0,1,1)12", "x:d12", "(1,0,0)(0,0,1)12+none"),
        ("(0,1,1)(0,1,1)12", "x:d12,d1", "(0,0,1)(0,0,1)12+none"),
    ] {
        let one = result(&folder, &format!("fit a.csv x --model {whole}"));
        let other = result(&folder, &format!("fit a.csv {series} --model {rest}"));
        assert!(near(number(&one["log_likelihood"]), number(&other["log_likelihood"]), 1e-7), "{whole}");
        for parameter in one["parameters"].as_array().expect("parameters") {
            let name = parameter["name"].as_str().expect("a name");
            let same = named(&other["parameters"], "name", name);
            assert!(near(number(&parameter["estimate"]), number(&same["estimate"]), 1e-4), "{whole} {name}");
            assert!(
                near(number(&parameter["std_error"]), number(&same["std_error"]), 1e-3),
                "{whole} {name}"
            );
        }
    }
}

/// The figures of a forecast.
const FORECAST: [&str; 5] =
    ["/point", "/intervals/0/lower", "/intervals/0/upper", "/intervals/1/lower", "/intervals/1/upper"];

#[test]
fn forecasts_of_a_logarithm_are_those_of_its_column() {
    let y: Vec<f64> = seasonal_walk(96).iter().map(|value| (value / 50.0).exp()).collect();
    let folder = Folder::with("a.csv", monthly(&y));
    folder.write("ln.csv", monthly(&y.iter().map(|value| value.ln()).collect::<Vec<_>>()));
    let model = "(0,1,1)(0,1,1)12";
    let own = result(&folder, &format!("forecast a.csv x:ln --model {model} --ahead 15"));
    let logs = result(&folder, &format!("forecast ln.csv x --model {model} --ahead 15"));
    let (own, logs) = (own["steps"].as_array().expect("steps"), logs["steps"].as_array().expect("steps"));
    assert_eq!((own.len(), logs.len()), (15, 15));
    for (own, log) in own.iter().zip(logs) {
        for key in FORECAST {
            let [own, log] = [own, log].map(|step| number(step.pointer(key).expect("a field")));
            assert!(near(own, log.exp(), 1e-6), "{key} {own} {log}");
        }
    }
}

#[test]
fn a_model_moves_with_the_units_of_its_series() {
    let y = seasonal_walk(100);
    let folder = Folder::with("a.csv", monthly(&y));
    folder.write("b.csv", monthly(&y.iter().map(|value| 25.0 * value - 300.0).collect::<Vec<_>>()));
    let model = "(1,1,1)(0,1,1)12";
    let fits = ["a.csv", "b.csv"].map(|file| result(&folder, &format!("fit {file} x --model {model}")));
    for parameter in fits[0]["parameters"].as_array().expect("parameters") {
        let other = named(&fits[1]["parameters"], "name", parameter["name"].as_str().expect("a name"));
        assert!(
            near(number(&parameter["estimate"]), number(&other["estimate"]), 1e-3),
            "{parameter} {other}"
        );
    }
    assert!(near(number(&fits[1]["sigma2"]), 625.0 * number(&fits[0]["sigma2"]), 1e-5));
    // The density of a value in other units is less by their size, for each of 87 differenced values.
    let moved = number(&fits[0]["log_likelihood"]) - 87.0 * 25.0_f64.ln();
    assert!(near(number(&fits[1]["log_likelihood"]), moved, 1e-7));
    let ahead = ["a.csv", "b.csv"].map(|file| {
        result(&folder, &format!("forecast {file} x --model {model} --ahead 13"))["steps"].clone()
    });
    for (one, other) in ahead[0].as_array().expect("steps").iter().zip(ahead[1].as_array().expect("steps")) {
        for key in FORECAST {
            let [other, one] = [other, one].map(|step| number(step.pointer(key).expect("a field")));
            assert!(near(other, 25.0 * one - 300.0, 1e-4), "{key}");
        }
    }
}

#[test]
fn the_residual_test_of_fit_is_that_of_acf_on_its_residuals() {
    let folder = Folder::with("a.csv", monthly(&seasonal_walk(132)));
    let fitted = result(&folder, "fit a.csv x --model (0,1,1)(0,1,1)12 --residuals");
    let residuals: Vec<f64> =
        fitted["residuals"].as_array().expect("residuals").iter().map(|one| number(&one["value"])).collect();
    assert_eq!(residuals.len(), 132 - 13);
    folder.write("e.csv", monthly(&residuals));
    let test = named(&fitted["residual_tests"], "test", "ljung_box");
    let lags = test["detail"]["lags"].as_u64().expect("lags");
    let read = result(&folder, &format!("acf e.csv x --lags {lags} --fitted 2"));
    let last = read["lags"].as_array().expect("lags").last().expect("a lag").clone();
    assert!(near(number(&last["q"]), number(&test["statistic"]), 1e-8), "{last} {test}");
    assert!(near(number(&last["p_value"]), number(&test["p_value"]), 1e-8), "{last} {test}");
}

#[test]
fn a_unit_root_test_is_a_regression() {
    let folder = Folder::with("a.csv", monthly(&seasonal_walk(110)));
    let tested = result(&folder, "stationarity a.csv x --tests adf --terms trend --lags 2 --season 1");
    let adf = named(&tested["tests"], "test", "adf");
    let plain = result(&folder, "ols a.csv x:d1 --on x[t-1],x:d1[t-1],x:d1[t-2],trend --errors classical");
    let level = named(&plain["coefficients"], "name", "x[t-1]");
    assert!(near(number(&adf["statistic"]), number(&level["t"]), 1e-7), "{adf} {level}");
    assert_eq!(adf["sample"]["observations"], plain["observations"]);
    let text =
        folder.run("ols a.csv x:d1 --on x[t-1],x:d1[t-1],x:d1[t-2],trend --errors classical").running_text();
    assert!(text.contains("(3 dropped at the start because of lags and differences)"), "{text}");
    let regression = adf["detail"]["regression"].as_array().expect("a regression");
    for (ours, name) in regression
        .iter()
        .filter(|one| one["name"] != "constant" && one["name"] != "trend")
        .zip(["x[t-1]", "x:d1[t-1]", "x:d1[t-2]"])
    {
        let theirs = named(&plain["coefficients"], "name", name);
        assert!(near(number(&ours["estimate"]), number(&theirs["estimate"]), 1e-7), "{ours} {theirs}");
        assert!(near(number(&ours["std_error"]), number(&theirs["std_error"]), 1e-7), "{ours} {theirs}");
    }
}

#[test]
fn every_order_of_a_lag_table_is_a_regression_on_one_sample() {
    let folder = Folder::with("a.csv", monthly(&noise(80, 9)));
    let table = result(&folder, "lags a.csv x --max 3");
    for lag in 1..=3 {
        let past: Vec<String> = (1..=lag).map(|j| format!("x[t-{j}]")).collect();
        let words = format!("ols a.csv x --on {} --sample {}..", past.join(","), period(3));
        let plain = result(&folder, &words);
        let row = named_lag(&table, lag);
        assert_eq!(plain["observations"], table["sample"]["observations"]);
        assert!(near(number(&row["log_likelihood"]), number(&plain["log_likelihood"]), 1e-8), "{lag}");
    }
    let (one, two) = (named_lag(&table, 1), named_lag(&table, 2));
    let ratio = 2.0 * (number(&two["log_likelihood"]) - number(&one["log_likelihood"]));
    assert!(near(number(&two["lr"]), ratio, 1e-8));
}

fn named_lag(table: &Value, lag: usize) -> Value {
    table["rows"].as_array().expect("rows").iter().find(|row| row["lag"] == lag).expect("the lag").clone()
}

#[test]
fn a_test_of_cointegration_is_a_unit_root_test_on_residuals() {
    let n = 120;
    let walk: Vec<f64> = noise(n, 3)
        .iter()
        .scan(0.0, |level, shock| {
            *level += shock;
            Some(*level)
        })
        .collect();
    let rows: String = walk
        .iter()
        .zip(noise(n, 4))
        .enumerate()
        .map(|(t, (x, e))| format!("{},{x},{}\n", period(t), 2.0 * x + 1.0 + e))
        .collect();
    let folder = Folder::with("a.csv", format!("month,x,y\n{rows}"));
    let tested = result(&folder, "cointegration a.csv y x --target y");
    let found = &tested["engle_granger"];
    let lags = found["lags"].as_u64().expect("lags");
    let outcome = folder.run("ols a.csv y --on x --save e.csv");
    assert_eq!(outcome.status, 0, "{}", outcome.stderr);
    let words = format!("stationarity e.csv residual --tests adf --terms none --lags {lags}");
    let plain = named(&result(&folder, &words)["tests"], "test", "adf").clone();
    assert!(near(number(&plain["statistic"]), number(&found["statistic"]), 1e-6), "{plain} {found}");
    // Estimated residuals look more like a stationary series than they are.
    assert!(number(&plain["p_value"]) <= number(&found["p_value"]));
}

#[test]
fn the_parts_of_a_series_sum_to_it() {
    let y: Vec<f64> =
        seasonal_walk(120).iter().enumerate().map(|(t, v)| v + 10.0 * ((t % 12) as f64)).collect();
    let folder = Folder::with("a.csv", monthly(&y));
    let outcome = folder.run("decompose a.csv x --as csv");
    assert_eq!(outcome.status, 0, "{}", outcome.stderr);
    let text = outcome.stdout;
    let names: Vec<&str> = text.lines().next().expect("a header").split(',').collect();
    let place =
        |name: &str| names.iter().position(|own| own.contains(name)).unwrap_or_else(|| panic!("{names:?}"));
    let (trend, season, rest) = (place("trend"), place("seasonal"), place("irregular"));
    for (line, value) in text.lines().skip(1).zip(&y) {
        let cells: Vec<&str> = line.split(',').collect();
        let sum: f64 =
            [trend, season, rest].iter().map(|at| cells[*at].parse::<f64>().expect("a number")).sum();
        assert!(near(sum, *value, 1e-9), "{line}");
    }
}
