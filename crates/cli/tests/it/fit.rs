//! `kandrel fit`.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, monthly, noise};

fn one(series: &str, model: &str) -> Value {
    let words = ["fit", "demo:harbour", series, "--model", model, "--as", "json"];
    let outcome = Folder::new().run_words(&words, "");
    assert_eq!(outcome.status, 0, "{}", outcome.stderr);
    serde_json::from_str::<Value>(&outcome.stdout).expect("JSON")["results"][0].clone()
}

fn number(value: &Value) -> f64 {
    value.as_f64().expect("a number")
}

#[test]
fn the_rhythm_of_waiting_comes_back_with_its_mean_and_intercept() {
    let result = one("waiting", "(2,0,0)");
    let estimates: Vec<(&str, f64, f64)> = result["parameters"]
        .as_array()
        .expect("parameters")
        .iter()
        .map(|one| {
            (one["name"].as_str().expect("a name"), number(&one["estimate"]), number(&one["std_error"]))
        })
        .collect();
    for ((name, estimate, error), (expected, truth)) in
        estimates.iter().zip([("phi_1", 1.2), ("phi_2", -0.6), ("mean", 14.0)])
    {
        assert_eq!(*name, expected);
        assert!((estimate - truth).abs() < 2.5 * error, "{name}: {estimate} ± {error}");
    }
    let (mean, intercept) = (number(&result["mean"]), number(&result["intercept"]));
    let (first, second) = (estimates[0].1, estimates[1].1);
    assert!((intercept / (mean * (1.0 - first - second)) - 1.0).abs() < 1e-9);
    // A cycle: both roots have the same modulus, and the coefficients are their products.
    let roots = result["roots"]["ar"].as_array().expect("two roots");
    let modulus = number(&roots[0]["modulus"]);
    assert!((modulus * modulus * -second - 1.0).abs() < 1e-6 && roots.len() == 2);
}

#[test]
fn criteria_follow_from_the_likelihood() {
    let result = one("freight:ln", "(0,1,1)(0,1,1)12");
    let [log_likelihood, used] = ["log_likelihood", "used"].map(|name| number(&result[name]));
    assert!((used - 275.0).abs() < 1e-9);
    let k = 3.0;
    for (name, expected) in [
        ("aic", 2.0 * k),
        ("aicc", 2.0 * k + 2.0 * k * (k + 1.0) / (used - k - 1.0)),
        ("bic", k * used.ln()),
        ("hq", 2.0 * k * used.ln().ln()),
    ] {
        assert!((number(&result[name]) - (expected - 2.0 * log_likelihood)).abs() < 1e-9, "{name}");
    }
    assert_eq!(result["transform"], "ln");
    assert!(result["mean"].is_null() && result["residuals"].is_null());
    assert_eq!(result["roots"]["ma"].as_array().expect("roots").len(), 13);
}

#[test]
fn signs_are_written_out_and_the_sentence_says_whether_it_is_enough() {
    let run = |series: &str, model: &str| {
        let outcome = Folder::new().run_words(&["fit", "demo:harbour", series, "--model", model], "");
        outcome.succeeds();
        fits_80_columns(outcome.stdout.split("Next").next().expect("text")).expect("no wide line");
        outcome.running_text()
    };
    let good = run("freight:perday,ln", "(0,1,1)(0,1,1)12");
    assert!(
        good.starts_with("freight:perday,ln (0,1,1)(0,1,1)12 leaves no residual autocorrelation."),
        "{good}"
    );
    assert!(good.contains("(1 − B)(1 − B^12) y = (1 − 0.4") && good.contains("B^12) e"), "{good}");
    let poor = run("waiting", "(1,0,0)");
    assert!(poor.contains("is misspecified: its residuals are autocorrelated (Ljung-Box, p <"), "{poor}");
    let over = run("claims", "(0,1,1)");
    assert!(
        over.contains("but it is overdifferenced: the series has d = 0 (probability above 0.99)"),
        "{over}"
    );
    let cancels = run("claims", "(1,0,1)");
    assert!(
        cancels.contains("near common factors") || cancels.contains("Not significantly different from zero"),
        "{cancels}"
    );
    let drift = run("berth_fee", "(0,1,0)+drift");
    assert!(drift.contains("(1 − B) (y − 0.3"), "{drift}");
}

#[test]
fn residuals_are_given_with_their_periods_where_asked_for() {
    let folder = Folder::new();
    let words =
        ["fit", "demo:harbour", "freight:ln", "--model", "(0,1,1)(0,1,1)12", "--residuals", "--as", "json"];
    let json: Value = serde_json::from_str(&folder.run_words(&words, "").stdout).expect("JSON");
    let residuals = json["results"][0]["residuals"].as_array().expect("residuals").clone();
    assert_eq!((residuals.len(), residuals[0]["period"].clone()), (275, "2002-02".into()));
    let squares: f64 = residuals.iter().map(|one| number(&one["value"]).powi(2)).sum();
    assert!((squares / 275.0 / number(&json["results"][0]["sigma2"]) - 1.0).abs() < 1e-8);
}

#[test]
fn the_figure_shows_the_residuals() {
    let folder = Folder::new();
    let words = ["fit", "demo:harbour", "waiting", "--model", "(2,0,0)", "--figure", "residuals.svg"];
    folder.run_words(&words, "").succeeds();
    let text = String::from_utf8(folder.read("residuals.svg")).expect("text");
    assert!(text.contains("waiting (2,0,0) leaves no residual autocorrelation."));
}

#[test]
fn models_and_series_that_do_not_go_together_are_refused() {
    let folder = Folder::with("a.csv", monthly(&noise(30, 2)));
    let refused = |model: &str, status: i32, text: &str| {
        let outcome = folder.run_words(&["fit", "a.csv", "x", "--model", model], "");
        assert_eq!((outcome.status, outcome.stdout.as_str()), (status, ""), "{model}");
        assert!(outcome.stderr.contains(text), "{model}: {}", outcome.stderr);
    };
    refused("(1,0", 2, "a model is written");
    refused("(1,0,0)(1,0,0)1", 2, "followed by the seasonal period");
    refused("(0,3,0)", 2, "at most two");
    refused("(0,1,1)+mean", 2, "a mean belongs to a series that is not differenced");
    refused("(3,1,3)(2,1,2)12", 3, "are needed");
    folder.write("b.csv", monthly(&[4.0; 60]));
    folder.run("fit b.csv x --model (1,0,0)").fails(3, &["the series is constant"]);
    folder.run("fit demo:harbour waiting").fails_call("--model");
}
