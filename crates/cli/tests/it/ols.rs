//! `kandrel ols`.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, noise};

const CHANGES: &str = "coaster:d1, feeder:d1, bulker:d1";

fn number(value: &Value) -> f64 {
    value.as_f64().expect("a number")
}

fn json(folder: &Folder, words: &[&str]) -> Value {
    let outcome = folder.run_words(&[words, &["--as", "json"]].concat(), "");
    outcome.succeeds();
    serde_json::from_str::<Value>(&outcome.stdout).expect("JSON")["results"][0].clone()
}

#[test]
fn the_true_restriction_holds_and_a_false_one_does_not() {
    let folder = Folder::new();
    let sum = |value: &str| format!("coaster:d1 + feeder:d1 + bulker:d1 = {value}");
    let (right, wrong) = (sum("0.8"), sum("1"));
    let words =
        ["ols", "demo:charters", "lighter:d1", "--on", CHANGES, "--restrict", &right, "--restrict", &wrong];
    let found = json(&folder, &words);
    let restrictions = found["restrictions"].as_array().expect("restrictions");
    // They contradict each other, so that there is no joint test.
    assert_eq!(restrictions.len(), 2);
    assert!(number(&restrictions[0]["p_f"]) > 0.1 && number(&restrictions[1]["p_f"]) < 1e-4);
    assert!((number(&restrictions[0]["f"]) - number(&restrictions[0]["chi2"])).abs() < 1e-12);
    let joint = json(
        &folder,
        &[
            "ols",
            "demo:charters",
            "lighter:d1",
            "--on",
            CHANGES,
            "--restrict",
            &right,
            "--restrict",
            "coaster:d1 = 2*bulker:d1",
        ],
    );
    assert_eq!(joint["restrictions"][2]["text"], "all together");
    assert_eq!(joint["restrictions"][2]["df1"], 2);
    let text = folder.run_words(&words, "");
    assert!(text.running_text().contains("= 0.8: not rejected at 5 %"), "{}", text.stdout);
    assert!(text.running_text().contains("= 1: rejected at 5 %"), "{}", text.stdout);
    fits_80_columns(text.stdout.split("Next").next().expect("a text")).expect("no wide line");
}

#[test]
fn a_lead_is_a_regressor_and_its_coefficients_have_their_meaning() {
    let folder = Folder::new();
    let found = json(&folder, &["ols", "demo:harbour", "sailings", "--on", "bookings[t-2]"]);
    assert_eq!((&found["observations"], &found["first"]), (&286.into(), &"2001-03".into()));
    let line = &found["coefficients"][1];
    assert_eq!(line["name"], "bookings[t-2]");
    assert!((number(&line["estimate"]) - 0.5).abs() < 3.0 * number(&line["std_error"]));
    assert!((number(&line["estimate"]) / number(&line["std_error"]) - number(&line["t"])).abs() < 1e-9);
    let f = &found["f"];
    assert!((number(&f["statistic"]) - number(&line["t"]).powi(2)).abs() < 1e-6);
    let n = 286.0;
    let likelihood = -0.5 * n * (1.0 + (2.0 * std::f64::consts::PI).ln() + (number(&found["ssr"]) / n).ln());
    assert!((number(&found["log_likelihood"]) - likelihood).abs() < 1e-8);
    assert!((number(&found["bic"]) - (-2.0 * likelihood + 3.0 * n.ln())).abs() < 1e-8);
}

#[test]
fn levels_with_unit_roots_are_called_spurious_and_cointegrated_ones_are_not() {
    let folder = Folder::new();
    let spurious = json(&folder, &["ols", "demo:region", "wages", "--on", "output"]);
    assert_eq!(spurious["spurious"], true);
    let tied = json(&folder, &["ols", "demo:region", "wages", "--on", "rents"]);
    assert_eq!(tied["spurious"], false);
    let tests = tied["diagnostics"].as_array().expect("tests");
    let root = tests.iter().find(|test| test["test"] == "residual_unit_root").expect("asked for");
    assert!(number(&root["p_value"]) < 0.01);
    let text = folder.run_words(&["ols", "demo:region", "wages", "--on", "output"], "");
    assert!(
        text.running_text().starts_with("wages on these regressors may be a spurious regression"),
        "{}",
        text.stdout
    );
    assert!(text.stdout.contains("kandrel cointegration demo:region wages output"), "{}", text.stdout);
}

#[test]
fn robust_errors_breaks_and_terms_without_a_column() {
    let folder = Folder::new();
    let of = |more: &[&str]| json(&folder, &[&["ols", "demo:harbour", "tug_hours", "--on"], more].concat());
    let plain = of(&["trend"]);
    let robust = of(&["trend", "--errors", "newey-west=6"]);
    assert_eq!(robust["errors"], "newey-west=6");
    let error = |found: &Value| number(&found["coefficients"][1]["std_error"]);
    assert!(error(&robust) > 1.2 * error(&plain), "autocorrelation widens errors");
    let broken = of(&["trend", "--break-at", "2012-05"]);
    let tests = broken["diagnostics"].as_array().expect("tests");
    let chow = tests.iter().find(|test| test["test"] == "chow").expect("asked for");
    assert!(number(&chow["p_value"]) < 1e-6);
    let step = of(&["trend, step=2012-06, seasons"]);
    let names: Vec<&str> = step["coefficients"]
        .as_array()
        .expect("lines")
        .iter()
        .filter_map(|line| line["name"].as_str())
        .collect();
    assert_eq!(&names[..4], ["constant", "trend", "step=2012-06", "season_2"]);
    let drop = number(&step["coefficients"][2]["estimate"]);
    assert!((drop + 90.0).abs() < 12.0, "{drop}");
    let bare = of(&["waiting", "--no-constant"]);
    assert_eq!(bare["coefficients"].as_array().expect("lines").len(), 1);
}

#[test]
fn residuals_are_saved_and_given() {
    let folder = Folder::new();
    let words =
        ["ols", "demo:harbour", "sailings", "--on", "bookings[t-2]", "--save", "r.csv", "--residuals"];
    let found = json(&folder, &words);
    let text = String::from_utf8(folder.read("r.csv")).expect("text");
    let lines: Vec<&str> = text.lines().collect();
    assert_eq!((lines.len(), lines[0]), (287, "month,sailings,fitted,residual"));
    let first = &found["residuals"][0];
    let cells: Vec<&str> = lines[1].split(',').collect();
    assert_eq!(cells[0], "2001-03");
    for (cell, name) in cells[1..].iter().zip(["value", "fitted", "residual"]) {
        assert!((cell.parse::<f64>().expect("a number") - number(&first[name])).abs() < 1e-12);
    }
    assert!((number(&first["value"]) - number(&first["fitted"]) - number(&first["residual"])).abs() < 1e-9);
    folder.run_words(&words, "").fails(2, &["r.csv exists already"]);
    let figure = ["ols", "demo:harbour", "sailings", "--on", "bookings[t-2]", "--figure", "r.svg"];
    folder.run_words(&figure, "").succeeds();
    assert!(String::from_utf8(folder.read("r.svg")).expect("text").contains("Against fitted"));
}

#[test]
fn what_cannot_be_estimated_is_refused_by_name() {
    let folder = Folder::new();
    let fails = |more: &[&str], status: i32, texts: &[&str]| {
        folder.run_words(&[&["ols", "demo:charters"], more].concat(), "").fails(status, texts);
    };
    fails(
        &["lighter", "--on", "coaster, feeder, coaster - feeder"],
        4,
        &["coaster - feeder is an exact combination of `coaster` and `feeder`"],
    );
    fails(&["lighter", "--on", "lighter - 0*coaster"], 4, &["lighter is an exact combination of"]);
    fails(&["lighter - lighter", "--on", "coaster"], 3, &["the target is constant"]);
    fails(
        &["lighter", "--on", "coaster - coaster + 3"],
        3,
        &["the regressor coaster - coaster + 3 is constant"],
    );
    fails(&["lighter", "--on", "step=2030-W01"], 3, &["step=2030-W01 is zero throughout"]);
    fails(&["lighter", "--on", "coaster, coaster"], 2, &["named twice"]);
    fails(
        &["lighter", "--on", "coaster", "--restrict", "coaster + x = 1"],
        2,
        &["^", "`constant` and `coaster`"],
    );
    fails(&["lighter", "--on", "coaster", "--restrict", "coaster"], 2, &["one equals sign"]);
    fails(&["lighter", "--on", "nothing"], 3, &["no column `nothing`"]);
    fails(&["lighter", "--on", "coaster", "--sample", "2020-W01..2020-W02"], 3, &["2 observations"]);
    fails(&["lighter", "--on", "coaster", "--break-at", "2020-W02"], 2, &["at least 3 are needed"]);
    fails(&["lighter", "--on", "pulse=2021-W05", "--errors", "hc3"], 4, &["2021-W05 is fitted exactly"]);
    fails(&["lighter", "--on", ","], 2, &["--on names nothing"]);
}

#[test]
fn a_robust_error_of_nought_is_refused() {
    let folder = Folder::with("t.csv", "x,y\n0,0\n2,0\n0,1\n3,0\n0,2\n0,1.5\n0,0.4\n0,0.9\n");
    let call = "ols t.csv y --on x --no-constant --errors";
    folder.run(&format!("{call} hc1")).fails(4, &["zero wherever x is not", "--errors classical"]);
    folder.run(&format!("{call} classical")).succeeds();
}

/// A regression whose errors are autocorrelated: an AR(1) with 0.7 added to a line in a random regressor.
fn autocorrelated(n: usize) -> String {
    let (x, e) = (noise(n, 11), noise(n, 12));
    let mut error = 0.0;
    let rows = (0..n).map(|t| {
        error = 0.7 * error + e[t];
        format!("{:04}-{:02},{:.6},{:.6}\n", 2000 + t / 12, t % 12 + 1, 1.0 + 0.5 * x[t] + error, x[t])
    });
    format!("month,y,x\n{}", rows.collect::<String>())
}

#[test]
fn robust_standard_errors_lead_where_the_diagnostics_reject_the_classical_ones() {
    let folder = Folder::with("a.csv", autocorrelated(240));
    let of = |more: &str| {
        folder.json(&format!("ols a.csv y --on x --restrict x=0.6 {more}"))["results"][0].clone()
    };
    let (auto, classical, robust) = (of(""), of("--errors classical"), of("--errors newey-west"));
    assert_eq!(auto["errors_reason"], "autocorrelation");
    assert_eq!(classical["errors_reason"], Value::Null);
    for row in [0, 1] {
        let (ours, first, second) =
            (&auto["coefficients"][row], &classical["coefficients"][row], &robust["coefficients"][row]);
        assert_eq!(ours["std_error"], second["std_error"]);
        assert_eq!(ours["classical"]["std_error"], first["std_error"]);
        assert_eq!(ours["estimate"], first["estimate"]);
    }
    assert_eq!(auto["restrictions"][0]["p_f"], robust["restrictions"][0]["p_f"]);
    assert_eq!(auto["restrictions"][0]["classical"]["p_f"], classical["restrictions"][0]["p_f"]);
    let text = folder.run("ols a.csv y --on x --restrict x=0.6").running_text();
    assert!(
        text.contains("Newey-West with") && text.contains("as the residuals are autocorrelated"),
        "{text}"
    );
    assert!(!text.contains("Classical standard errors are invalid"), "{text}");
    let typed = folder.run("ols a.csv y --on x --errors classical").running_text();
    assert!(typed.contains("Classical standard errors are invalid under autocorrelation"), "{typed}");
    // Where nothing is rejected the classical ones stay.
    let clean = Folder::new().json("ols demo:harbour sailings --on bookings[t-2]")["results"][0].clone();
    assert_eq!((clean["errors"].as_str(), clean["errors_reason"].as_str()), (Some("classical"), None));
}

#[test]
fn a_formula_is_the_same_as_target_and_regressors() {
    let folder = Folder::new();
    let of = |words: &[&str]| {
        let outcome = folder.run_words(&[words, &["--as", "json"]].concat(), "");
        assert_eq!(outcome.status, 0, "{}", outcome.stderr);
        let json: Value = serde_json::from_str(&outcome.stdout).expect("JSON");
        json["results"].clone()
    };
    let start = ["ols", "demo:region"];
    let formula = of(&[&start[..], &["wages:d1 ~ rents:d1 + (output + rents):d1 + 0"]].concat());
    let named =
        of(&[&start[..], &["wages:d1", "--on", "rents:d1, (output + rents):d1", "--no-constant"]].concat());
    assert_eq!(formula, named);
    let text = folder.run_words(&["ols", "demo:region", "wages:d1 ~ rents:d1 + 0"], "").stdout;
    assert!(text.contains("wages:d1 --on rents:d1 --no-constant"), "{text}");
    let refused = |words: &[&str], part: &str| {
        let outcome = folder.run_words(&[&start[..], words].concat(), "");
        assert!(outcome.status == 2 && outcome.stderr.contains(part), "{}", outcome.stderr);
    };
    refused(&["wages"], "'wages ~ a + b'");
    refused(&["wages ~ rents +"], "a term is missing");
    refused(&["wages ~ rents", "--on", "output"], "in one of the two");
}

#[test]
fn a_sum_of_lags_is_restricted_by_the_name_of_their_series() {
    let folder = Folder::new();
    let call = "ols demo:harbour sailings --on bookings,bookings[t-1],bookings[t-2]";
    let test = |text: &str| {
        folder.json(&format!("{call} --restrict {text}"))["results"][0]["restrictions"][0]["p_f"].clone()
    };
    assert_eq!(test("sum(bookings)=0.5"), test("bookings+bookings[t-1]+bookings[t-2]=0.5"));
}

#[test]
fn a_change_over_several_periods_is_said_to_overlap() {
    let folder = Folder::new();
    let text = folder.run_words(&["ols", "demo:region", "wages:pct4 ~ rents:pct4"], "").running_text();
    assert!(text.contains("wages:pct4 is a change over 4 periods: consecutive values overlap"), "{text}");
    assert!(text.contains("autocorrelated up to lag 3 by construction"), "{text}");
    let given =
        folder.run_words(&["ols", "demo:region", "wages:pct4 ~ rents:pct4", "--errors", "newey-west=2"], "");
    assert!(given.running_text().contains("use --errors newey-west=3 or more lags"), "{}", given.stdout);
    let enough =
        folder.run_words(&["ols", "demo:region", "wages:pct4 ~ rents:pct4", "--errors", "newey-west=3"], "");
    assert!(enough.running_text().contains("the 3 lags of Newey-West allow for it"), "{}", enough.stdout);
    let plain = folder.run_words(&["ols", "demo:region", "wages:pct ~ rents:pct"], "").running_text();
    assert!(!plain.contains("overlap"), "{plain}");
}
