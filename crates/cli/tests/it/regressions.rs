//! What once was printed wrong, each case held to what is right.

use serde_json::Value;

use crate::harness::{Folder, monthly, noise};

fn result(words: &str) -> Value {
    Folder::new().json(words)["results"][0].clone()
}

fn random_walk(n: usize, seed: u64) -> Vec<f64> {
    let add = |level: &mut f64, shock: f64| {
        *level += shock;
        Some(*level)
    };
    noise(n, seed).into_iter().scan(100.0, |level, shock| add(level, shock)).collect()
}

#[test]
fn the_steps_of_a_composed_expression_are_its_last_chain() {
    let folder = Folder::new();
    for command in ["fit", "orders", "forecast"] {
        let mut words = vec![command, "demo:harbour", "(freight:ln - ice:ln):d1", "--as", "json"];
        if command != "orders" {
            words.extend(["--model", "(1,0,0)"]);
        }
        if command == "forecast" {
            // A difference of two series has no units of its own.
            words.push("--transformed");
        }
        let outcome = folder.run_words(&words, "");
        let json: Value =
            serde_json::from_str(&outcome.stdout).unwrap_or_else(|_| panic!("{}", outcome.stderr));
        if command != "forecast" {
            assert_eq!(json["results"][0]["transform"], "d1", "{command}");
        }
    }
    assert_eq!(result("fit demo:harbour freight:ln,d1 --model (1,0,0)")["transform"], "ln,d1");
    assert!(result("fit demo:harbour waiting --model (1,0,0)")["transform"].is_null());
}

#[test]
fn no_p_value_is_equal_to_a_bound() {
    let folder = Folder::new();
    for call in [
        "stationarity demo:region wages output",
        "stationarity demo:region wages",
        "ols demo:region wages --on rents",
        "inspect demo:region",
        "relate demo:region wages rents",
    ] {
        let text = folder.run(call).running_text();
        assert!(!text.contains("= <") && !text.contains("= ."), "{call}\n{text}");
    }
}

#[test]
fn outliers_are_replaced_once_however_the_chain_was_typed() {
    let compared = |series: &str| {
        let result = result(&format!("compare demo:harbour {series} --repaired --model (1,0,0) --hold 12"));
        let all = result["candidates"].as_array().expect("candidates").clone();
        let mut names: Vec<(String, bool)> = all
            .iter()
            .filter(|one| one["series"].as_str().is_some_and(|name| !name.is_empty()))
            .map(|one| (one["series"].as_str().expect("a name").to_owned(), one["outlier_adjusted"] == true))
            .collect();
        names.sort();
        names
    };
    assert_eq!(compared("ice:repair"), compared("ice"));
    let own = |name: &str, is_repaired: bool| (name.to_owned(), is_repaired);
    assert_eq!(compared("ice:ln,repair"), [own("ice:ln", false), own("ice:ln,repair", true)]);
}

#[test]
fn a_transformation_is_printed_as_a_program_reads_it() {
    // The square of a series of even variance: λ near a half.
    let values: Vec<f64> =
        noise(480, 8).iter().enumerate().map(|(t, e)| (4.0 + 0.05 * t as f64 + 0.8 * e).powi(2)).collect();
    let folder = Folder::with("a.csv", monthly(&values));
    let row = folder.json("screen a.csv --quick")["results"][0].clone();
    let step = row["transform"].as_str().expect("a step").to_owned();
    assert!(step.starts_with("boxcox=0."), "{step}");
    folder.run(&format!("acf a.csv x:{step}")).succeeds();
    let text = folder.run("screen a.csv --quick").stdout;
    let next = text.lines().last().expect("a line").trim().trim_start_matches("kandrel ").to_owned();
    assert!(next.contains(&step), "{next}");
    assert_eq!(folder.run_shell(&next).status, 0, "{next}");
}

#[test]
fn regressors_are_named_in_json_as_the_option_takes_them() {
    for call in [
        "fit demo:harbour waiting --model (1,0,0) --with seasons,trend",
        "forecast demo:harbour waiting --model (1,0,0) --with seasons,trend --ahead 3",
        "orders demo:harbour waiting --with seasons,trend --limit 1,1,0,0",
    ] {
        assert_eq!(result(call)["with"], serde_json::json!(["seasons", "trend"]), "{call}");
    }
    let compared = result("compare demo:harbour waiting --model (1,0,0) --with seasons,trend --hold 3");
    let candidates = compared["candidates"].as_array().expect("candidates");
    let own = candidates.iter().find(|one| one["model"] == "(1,0,0)").expect("the model");
    assert_eq!(own["with"], serde_json::json!(["seasons", "trend"]));
}

#[test]
fn a_model_that_is_chosen_can_be_typed() {
    let folder = Folder::with("a.csv", monthly(&random_walk(120, 3)));
    folder.run("fit a.csv x --model (0,2,1)(0,1,1)12").succeeds();
    let result = folder.json("orders a.csv x --differences 2,1 --limit 1,1,1,1")["results"][0].clone();
    let chosen = result["chosen"].as_str().expect("a model").to_owned();
    assert!(chosen.contains(",2,") && chosen.contains(",1,"), "{chosen}");
    folder.run(&format!("forecast a.csv x --model {chosen}")).succeeds();
    folder.run("fit a.csv x --model (0,3,0)").fails_call("at most two");
}

#[test]
fn the_lags_asked_for_are_those_of_the_seasonal_test() {
    let lags = |more: &str| {
        let tests = result(&format!("stationarity demo:harbour ice --tests hegy {more}"))["tests"].clone();
        (tests[0]["lags"].clone(), tests[0]["lag_rule"].clone())
    };
    assert_eq!(lags("--lags 1"), (1.into(), "given".into()));
    assert_eq!(lags("--lags 5"), (5.into(), "given".into()));
    assert_eq!(lags("").1, "aic");
}

#[test]
fn years_can_be_named_in_an_expression() {
    let rows: String = noise(40, 2)
        .iter()
        .enumerate()
        .map(|(t, e)| format!("{},{:.4}\n", 1980 + t, 3.0 * t as f64 + e))
        .collect();
    let folder = Folder::with("a.csv", format!("year,gnp\n{rows}"));
    let json = folder.json("ols a.csv gnp --on year");
    let slope = json["results"][0]["coefficients"][1].clone();
    assert_eq!(slope["name"], "year");
    assert!((slope["estimate"].as_f64().expect("a number") - 3.0).abs() < 0.1);
    let squared = folder.json("transform a.csv year/10 --sample ..1980");
    assert_eq!(squared["results"][0]["values"][0]["value"], 198.0);
    // It does not become a column that other commands take by themselves.
    assert_eq!(folder.json("screen a.csv --quick")["results"].as_array().expect("rows").len(), 1);
}

#[test]
fn a_table_without_rows_is_not_printed() {
    let text = Folder::new().run("stationarity demo:region wages --tests hegy,canova_hansen").stdout;
    assert!(!text.contains("Rejected") && text.contains("long run"), "{text}");
    assert_eq!(text.matches("Evidence against the null").count(), 1, "{text}");
    let usual = Folder::new().run("stationarity demo:region wages").stdout;
    assert_eq!(usual.matches("Evidence against the null").count(), 1, "{usual}");
}

#[test]
fn a_form_that_is_not_written_is_refused() {
    let folder = Folder::new();
    for (call, name) in [
        ("acf demo:harbour waiting --out x.xlsx", ".xlsx"),
        ("orders demo:harbour waiting --out x.html", ".html"),
        ("transform demo:harbour waiting --out x.parquet", ".parquet"),
        ("screen demo:timber --out x.xlsx", ".xlsx"),
        ("decompose demo:harbour ice --out x.pdf", ".pdf"),
    ] {
        folder.run(call).fails(2, &[name, "name the form with --as"]);
    }
    assert!(folder.names().is_empty());
    folder.run("acf demo:harbour waiting --out x.dat --as json").succeeds();
    folder.run("acf demo:harbour waiting --out plain").succeeds();
}

#[test]
fn where_no_null_distribution_was_simulated_there_is_no_decision() {
    let tests = result(
        "stationarity demo:harbour ice --lags 60 --tests adf,kpss,pp,adf_gls,ng_perron --at 0",
    )["tests"]
        .as_array()
        .expect("tests")
        .clone();
    for name in ["adf", "adf_gls", "ng_perron"] {
        let test = tests.iter().find(|test| test["test"] == name).expect(name);
        let bare = [&test["p_value"], &test["decision"], &test["critical"]];
        assert!(bare.iter().all(|value| value.is_null()), "{test}");
        assert!(test["statistic"].is_number());
        let notes = test["notes"].to_string();
        assert!(notes.contains("was not simulated"), "{notes}");
    }
    let kpss = tests.iter().find(|test| test["test"] == "kpss").expect("kpss");
    assert!(kpss["p_value"].is_number());
    let text = Folder::new().run("stationarity demo:harbour ice --lags 60 --tests adf,adf_gls --at 0");
    assert!(text.succeeds().running_text().contains("no p-value"), "{}", text.stdout);
    // A figure shows the tests that have one.
    let folder = Folder::new();
    folder.run("stationarity demo:harbour ice --lags 60 --tests adf,kpss --figure a.svg").succeeds();
    assert!(!String::from_utf8_lossy(&folder.read("a.svg")).contains("NaN"));
}

#[test]
fn a_stray_quote_loses_no_lines() {
    let rows = |stray: &[usize]| -> String {
        let row = |t: usize| {
            let quote = if stray.contains(&t) { "\"" } else { "" };
            format!("{},{quote}gauge {t},{}.25\n", 1100 + t, t % 7)
        };
        format!("year,place,x\n{}", (0..900).map(row).collect::<String>())
    };
    let folder = Folder::with("a.csv", rows(&[400]));
    folder.run("acf a.csv x").fails(3, &["a.csv, line 402", "never closed"]);
    folder.write("a.csv", rows(&[400, 700]));
    folder.run("acf a.csv x").fails(3, &["a.csv", "lines of data stand inside a cell"]);
    folder.write("a.csv", rows(&[]));
    assert_eq!(folder.json("acf a.csv x")["data"]["observations"], 900);
}

#[test]
fn a_constant_is_drawn_as_a_line() {
    for value in [5.0, -3.0e6, 1e-9, 0.0] {
        let folder = Folder::with("a.csv", monthly(&[value; 36]));
        for option in ["", " --by-season", " --by-year", " --boxes"] {
            folder.run(&format!("plot a.csv x --figure a.svg --force{option}")).succeeds();
            let svg = String::from_utf8_lossy(&folder.read("a.svg")).into_owned();
            assert!(!svg.contains("NaN") && !svg.contains("inf"), "{value}{option}");
        }
        let text = folder.run("plot a.csv x --chart").succeeds().stdout.clone();
        assert!(!text.contains("NaN") && text.starts_with("x is constant at"), "{text}");
    }
}
