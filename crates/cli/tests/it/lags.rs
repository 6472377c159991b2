//! `kandrel lags`.

use crate::harness::{Folder, fits_80_columns, monthly, noise};

#[test]
fn the_true_order_of_the_regions_changes_is_found() {
    let folder = Folder::new();
    let call = "lags demo:region wages:d1 rents:d1 output:d1";
    let found = folder.json(call)["results"][0].clone();
    assert_eq!((&found["chosen"]["bic"], &found["chosen"]["hq"]), (&2.into(), &2.into()));
    assert_eq!(found["max_lags"], 8);
    assert_eq!(found["residual_check"]["white"], true);
    let rows = found["rows"].as_array().expect("rows");
    assert_eq!(rows.len(), 9);
    let value = |row: usize, name: &str| rows[row][name].as_f64().expect("a number");
    // Totals: -2 log L + 2 k with 3 (1 + 3 p) coefficients and six covariances.
    for lag in 0..9 {
        let k = (3 * (1 + 3 * lag) + 6) as f64;
        assert!((value(lag, "aic") - (-2.0 * value(lag, "log_likelihood") + 2.0 * k)).abs() < 1e-8);
        let n = found["sample"]["observations"].as_f64().expect("a number");
        assert!((value(lag, "bic") - (-2.0 * value(lag, "log_likelihood") + n.ln() * k)).abs() < 1e-8);
    }
    let text = folder.run(call);
    text.succeeds();
    assert!(
        text.running_text().starts_with("wages:d1, rents:d1 and output:d1: 2 lags by BIC, HQ, AIC and FPE"),
        "{}",
        text.stdout
    );
    fits_80_columns(&text.stdout).expect("no wide line");
    assert!(text.stdout.contains("min.   min.   min."), "{}", text.stdout);
}

#[test]
fn one_series_is_an_autoregression_and_leads_to_its_model() {
    let folder = Folder::new();
    let found = folder.json("lags demo:harbour waiting")["results"][0].clone();
    assert_eq!((&found["chosen"]["bic"], &found["recommended"]), (&2.into(), &2.into()));
    assert_eq!(found["max_lags"], 24);
    let text = folder.run("lags demo:harbour waiting");
    assert!(text.stdout.contains("kandrel fit demo:harbour waiting --model '(2,0,0)'"), "{}", text.stdout);
}

#[test]
fn who_helps_to_predict_whom() {
    let folder = Folder::new();
    let call = "lags demo:region wages rents output --causality";
    let causality = folder.json(call)["results"][0]["causality"].clone();
    assert_eq!(causality["augmented"], 1, "integrated series get a lag more");
    let pairs = causality["pairs"].as_array().expect("pairs");
    assert_eq!(pairs.len(), 6);
    let p = |cause: &str, effect: &str| {
        let pair = pairs.iter().find(|one| one["causes"][0] == cause && one["effect"] == effect);
        pair.expect("a pair")["p_value"].as_f64().expect("a number")
    };
    // Wages follow rents, and rents follow nothing.
    assert!(p("rents", "wages") < 1e-4 && p("wages", "rents") > 0.01);
    assert_eq!(causality["blocks"].as_array().expect("blocks").len(), 3);
    assert!(causality["without_added_lags"].is_array());
    let text = folder.run(call).running_text();
    assert!(
        text.contains("rents Granger-causes wages")
            && text.contains("1 extra lag is included but not tested"),
        "{text}"
    );
}

#[test]
fn terms_and_columns_with_the_lags_are_taken_in() {
    let folder = Folder::new();
    let e = noise(240, 3);
    let season = |t: usize| [3.0, -1.0, 0.0, 4.0, 2.0, -3.0, 1.0, 0.0, -4.0, 2.0, -2.0, -2.0][t % 12];
    let mut y = vec![0.0; 240];
    for t in 1..240 {
        y[t] = 0.5 * y[t - 1] + season(t) + e[t];
    }
    folder.write("s.csv", monthly(&y));
    let with = folder.json("lags s.csv --terms seasonal")["results"][0].clone();
    let without = folder.json("lags s.csv")["results"][0].clone();
    assert_eq!(with["chosen"]["bic"], 1);
    assert!(without["chosen"]["bic"].as_u64().expect("a number") > 1);
    let regressed = folder.json("lags demo:harbour sailings --exogenous bookings[t-2]")["results"][0].clone();
    assert_eq!(regressed["exogenous"][0], "bookings[t-2]");
    assert_eq!(regressed["chosen"]["bic"], 0, "bookings explain all that sailings remember");
}

#[test]
fn the_figure_has_the_criteria_and_names_the_orders_of_their_minima() {
    let folder = Folder::new();
    let call = "lags demo:region wages:d1 rents:d1";
    folder.run(&format!("{call} --figure a.svg")).succeeds();
    let svg = String::from_utf8(folder.read("a.svg")).expect("text");
    let chosen = folder.json(call)["results"][0]["chosen"].clone();
    for (name, field) in [("AIC", "aic"), ("HQ", "hq"), ("BIC", "bic")] {
        assert!(svg.contains(&format!("<title>{name}</title>")), "no line of {name}");
        let order = chosen[field].as_u64().expect("an order");
        let is_named = |title: &str| {
            title.split_once(": ").is_some_and(|(names, lags)| {
                names.split(", ").any(|one| one == name) && lags.starts_with(&format!("{order} lag"))
            })
        };
        let titles = svg.split("<title>").skip(1).filter_map(|rest| rest.split('<').next());
        assert!(titles.clone().any(is_named), "{name} is not named at {order}");
    }
    assert!(svg.contains("aria-label=\"Likelihood ratio against one lag less: p-value\""));
}

#[test]
fn what_cannot_be_is_refused_with_names() {
    let folder = Folder::new();
    let fails = |call: &str, status: i32, texts: &[&str]| {
        folder.run(call).fails(status, texts);
    };
    fails("lags demo:region wages rents --max 60", 2, &["60 lags are too many", "at most 53"]);
    fails("lags demo:region wages rents wages", 2, &["wages is named twice"]);
    fails("lags demo:region wages rents wages[t-1]", 4, &["exact combination"]);
    fails("lags demo:region wages --causality", 2, &["--causality needs at least two series"]);
    fails("lags demo:timber cut --terms seasonal", 2, &["the data have no season"]);
    folder.write("c.csv", monthly(&[4.0; 60]));
    fails("lags c.csv", 3, &["the series is constant"]);
    folder.write("short.csv", monthly(&noise(6, 1)));
    fails("lags short.csv --max 3", 2, &["3 lags are too many"]);
}
