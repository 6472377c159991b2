//! `kandrel orders`.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, monthly, noise};

fn one(words: &str) -> Value {
    Folder::new().json(words)["results"][0].clone()
}

fn number(value: &Value) -> f64 {
    value.as_f64().expect("a number")
}

#[test]
fn the_true_orders_of_freight_are_first() {
    let result = one("orders demo:harbour freight:perday,ln");
    assert_eq!(
        (result["d"].clone(), result["D"].clone(), result["season"].clone()),
        (1.into(), 1.into(), 12.into())
    );
    assert_eq!(
        (result["chosen"].clone(), result["searched"].clone()),
        ("(0,1,1)(0,1,1)12".into(), 144.into())
    );
    // Without the days of the months it is first or within two.
    let raw = one("orders demo:harbour freight:ln");
    let own = raw["candidates"]
        .as_array()
        .expect("candidates")
        .iter()
        .find(|one| one["model"] == "(0,1,1)(0,1,1)12");
    assert!(number(&own.expect("among the best")["delta"]) < 2.0);
    let text = Folder::new().run("orders demo:harbour freight:perday,ln");
    fits_80_columns(&text.succeeds().stdout).expect("no wide line");
    let words = text.running_text();
    assert!(
        words.starts_with("freight:perday,ln: (0,1,1)(0,1,1)12 has the lowest AICc of 144 models"),
        "{words}"
    );
    assert!(words.contains("suggest (1,1,0)(0,1,1)12") && words.contains("(rank 1)"), "{words}");
    assert!(words.contains("--model '(0,1,1)(0,1,1)12'"), "{words}");
}

#[test]
fn candidates_stand_in_order_and_agree_with_fit() {
    let result = one("orders demo:harbour waiting --top 6");
    let candidates = result["candidates"].as_array().expect("candidates");
    assert_eq!(candidates.len(), 6);
    let deltas: Vec<f64> = candidates.iter().map(|one| number(&one["delta"])).collect();
    assert!(deltas.windows(2).all(|pair| pair[0] <= pair[1]) && deltas[0].abs() < 1e-12, "{deltas:?}");
    for candidate in candidates.iter().take(3) {
        let model = candidate["model"].as_str().expect("a model");
        let words = ["fit", "demo:harbour", "waiting", "--model", model, "--as", "json"];
        let json: Value = serde_json::from_str(&Folder::new().run_words(&words, "").stdout).expect("JSON");
        let fit = &json["results"][0];
        for name in ["log_likelihood", "aicc", "bic"] {
            assert!((number(&fit[name]) - number(&candidate[name])).abs() < 1e-6, "{model} {name}");
        }
    }
}

#[test]
fn models_with_warnings_are_shown_but_not_chosen() {
    let result = one("orders demo:harbour claims");
    assert_eq!(result["chosen"], "(0,0,0)");
    // Models without a warning come first, whatever their criterion.
    let candidates = result["candidates"].as_array().expect("candidates");
    let warned: Vec<bool> =
        candidates.iter().map(|one| !one["warnings"].as_array().expect("warnings").is_empty()).collect();
    assert!(!warned[0] && warned.is_sorted() && warned.contains(&true), "{warned:?}");
    assert!(candidates.iter().any(|one| number(&one["delta"]) < number(&candidates[0]["delta"])));
    let text = Folder::new().run("orders demo:harbour claims");
    fits_80_columns(&text.succeeds().stdout).expect("no wide line");
    assert!(text.running_text().contains("without a warning"), "{}", text.stdout);
    // The chosen one is shown, whatever its rank.
    let far = one("orders demo:harbour claims --top 2");
    assert_eq!(far["candidates"].as_array().expect("candidates").len(), 3);
    assert_eq!(far["candidates"][0]["model"], "(0,0,0)");
}

#[test]
fn differences_criterion_and_limits_can_be_given() {
    let result =
        one("orders demo:harbour berth_fee --differences 1,0 --criterion bic --limit 1,1,0,0 --top 3");
    assert_eq!((result["searched"].clone(), result["criterion"].clone()), (4.into(), "BIC".into()));
    // Every model has the drift, or none has: they are models of the same mean.
    let drifts: Vec<bool> =
        result["candidates"].as_array().expect("candidates").iter().map(|one| one["drift"] == true).collect();
    assert!(drifts.iter().all(|one| *one == drifts[0]), "{drifts:?}");
    assert_eq!(one("orders demo:harbour waiting --differences auto,1 --limit 1,1,1,1")["D"], 1);
    let folder = Folder::new();
    for (option, text) in [
        ("--differences 3,0", "two differences at most"),
        ("--differences 1", "write d,D"),
        ("--limit 9,1,1,1", "each from 0 to 8"),
        ("--limit 1,1", "write p,q,P,Q"),
        ("--top 0", "--top"),
    ] {
        folder.run(&format!("orders demo:harbour waiting {option}")).fails_call(text);
    }
    folder.run("orders demo:timber cut --differences 1,1").fails(2, &["annual data have no season"]);
}

#[test]
fn short_and_constant_series_are_refused_by_name() {
    let folder = Folder::with("a.csv", monthly(&noise(10, 4)));
    folder.run("orders a.csv x").fails(3, &["a.csv, x", "--differences 1,0"]);
    folder.write("b.csv", monthly(&[4.0; 60]));
    folder.run("orders b.csv x --differences 1,0").fails(3, &["constant"]);
}

#[test]
fn what_the_verdict_calls_fixed_is_in_every_model() {
    let values: Vec<f64> = noise(96, 6)
        .iter()
        .enumerate()
        .map(|(t, e)| 50.0 + 0.8 * t as f64 + 9.0 * f64::from(t % 12 == 6) + e)
        .collect();
    let folder = Folder::with("a.csv", monthly(&values));
    let result = folder.json("orders a.csv x --limit 2,2,0,0")["results"][0].clone();
    let with: Vec<&str> =
        result["with"].as_array().expect("names").iter().filter_map(Value::as_str).collect();
    assert_eq!(with, ["trend", "seasons"]);
    assert_eq!(result["chosen"], "(0,0,0)");
    let text = folder.run("orders a.csv x --limit 2,2,0,0").running_text();
    assert!(text.contains("with trend, seasons has the lowest AICc"), "{text}");
    assert!(text.contains("kandrel fit a.csv x --model '(0,0,0)' --with trend,seasons"), "{text}");
    // The model that is named finds what the series was made of.
    let words = ["fit", "a.csv", "x", "--model", "(0,0,0)", "--with", "trend,seasons", "--as", "json"];
    let json: Value = serde_json::from_str(&folder.run_words(&words, "").stdout).expect("JSON");
    let parameters = json["results"][0]["parameters"].as_array().expect("parameters").clone();
    let of = |name: &str| number(&parameters.iter().find(|one| one["name"] == name).expect(name)["estimate"]);
    assert!((of("trend") - 0.8).abs() < 0.02 && (of("season_7") - 9.0 * 11.0 / 12.0).abs() < 1.0);
    // Forced differences leave the choice to the user.
    assert_eq!(folder.json("orders a.csv x --differences 1,1")["results"][0]["with"], serde_json::json!([]));
}

#[test]
fn a_shift_that_the_verdict_finds_becomes_a_step() {
    let result = one("orders demo:harbour tug_hours");
    assert_eq!(
        (result["d"].clone(), result["with"].clone()),
        (0.into(), serde_json::json!(["trend", "step=2012-06"]))
    );
}

#[test]
fn a_season_that_the_sample_is_too_short_for_has_no_terms_and_the_result_says_so() {
    let folder = Folder::new();
    let call = "orders demo:gate lorries --gaps seasonal --season 365 --sample 2023-06-01..";
    let found = folder.json(call)["results"][0].clone();
    assert_eq!((found["needed_for_season"].clone(), found["searched"].clone()), (1095.into(), 16.into()));
    assert!(!found["chosen"].as_str().expect("a model").contains("365"), "{}", found["chosen"]);
    let text = folder.run(call).running_text();
    assert!(text.contains("Seasonal terms at period 365 need at least 1095 observations"), "{text}");
    let weekly =
        folder.json("orders demo:gate lorries --gaps seasonal --sample 2024-06-01..")["results"][0].clone();
    assert_eq!(weekly["needed_for_season"], Value::Null);
}

#[test]
fn the_column_that_ranks_is_the_only_criterion_shown() {
    let values: Vec<f64> =
        noise(96, 6).iter().zip(0..).map(|(e, t): (&f64, i32)| 9.0 * f64::from(t % 12 == 6) + e).collect();
    let folder = Folder::with("a.csv", monthly(&values));
    // With regressors the restricted likelihood ranks, and the criterion of the ordinary one would order otherwise.
    let text = folder.run("orders a.csv x --limit 1,1,0,0").running_text();
    assert!(text.contains("with seasons has the lowest AICc (restricted likelihood)"), "{text}");
    assert!(text.contains("Model ΔAICc log L"), "{text}");
    let text = folder.run("orders a.csv x --limit 1,1,0,0 --differences 1,1").running_text();
    assert!(!text.contains("restricted likelihood") && text.contains("Model AICc ΔAICc log L"), "{text}");
}

#[test]
fn a_variance_that_grows_with_the_level_is_said_and_the_transformed_series_comes_next() {
    let text = Folder::new().run("orders demo:harbour freight").running_text();
    assert!(text.contains("The variance of freight increases with its level: use freight:ln."), "{text}");
    assert!(text.contains("kandrel orders demo:harbour freight:ln"), "{text}");
}
