//! The schemas in `docs/schema` are those of the types, and what the program writes
//! holds to them.

use std::collections::BTreeSet;
use std::path::Path;

use kandrel_core::num::rng::NormalStream;
use serde_json::Value;

use crate::harness::{Folder, monthly};

/// A call of each command that fills as many fields as it can.
const CALLS: [&str; 67] = [
    "stationarity demo:harbour waiting freight",
    "stationarity demo:harbour tug_hours --robustness",
    "stationarity demo:harbour tug_hours --rolling 250",
    "power demo:harbour waiting --draws 50 --lags 1 --sample ..2008-12",
    "acf demo:harbour freight:ln",
    "acf demo:harbour freight:ln,d1,d12",
    "acf demo:harbour claims",
    "acf demo:region output:d1",
    "acf demo:harbour tug_hours",
    "acf demo:gate lorries --gaps keep",
    "stationarity demo:gate lorries --gaps seasonal",
    "orders demo:gate lorries --gaps keep --limit 0,1,0,0",
    "acf demo:harbour claims --sample 2001-01..2001-06",
    "orders demo:harbour ice --limit 2,2,1,1",
    "forecast demo:timber cut",
    "forecast demo:harbour berth_fee --average --ahead 3",
    "inspect demo:harbour",
    "inspect demo:messy.xlsx",
    "plot demo:harbour freight ice:d12",
    "plot demo:harbour ice --boxes",
    "plot demo:harbour ice --by-year",
    "transform demo:messy.csv freight:boxcox waiting[t-1] --gaps keep",
    "acf demo:harbour freight:ln,d1",
    "stationarity demo:harbour berth_fee claims",
    "acf demo:messy.csv waiting --gaps linear",
    "randomness demo:harbour claims waiting",
    "decompose demo:harbour ice",
    "decompose demo:gate lorries --seasons 7,365 --gaps keep",
    "decompose demo:harbour freight --method classical --kind multiplicative",
    "outliers demo:harbour ice tug_hours",
    "fit demo:harbour waiting claims --model (2,0,0)",
    "orders demo:harbour waiting --limit 2,2,1,1",
    "fit demo:harbour freight:ln --model (0,1,1)(0,1,1)12 --residuals",
    "inspect demo:gate",
    "plot demo:harbour ice --by-season",
    "relate demo:harbour bookings sailings --prewhiten",
    "relate demo:harbour bookings sailings --scatter --curve",
    "relate demo:harbour bookings sailings",
    "relate demo:harbour freight berth_fee ice",
    "randomness demo:region prices",
    "stationarity demo:harbour tug_hours --tests all --break-at 2012-05 --breaks 2 --regression",
    "stationarity demo:harbour freight:ln --tests all --bootstrap 99",
    "stationarity demo:harbour waiting claims --panel",
    "outliers demo:harbour ice --repair model",
    "fit demo:messy.csv freight:ln --model (1,1,1)(0,1,1)12 --gaps keep --with workdays",
    "fit demo:harbour waiting --model (2,0,0)",
    "orders demo:harbour freight:ln --limit 1,1,1,1",
    "orders demo:harbour tug_hours --limit 1,1,0,0",
    "forecast demo:harbour freight:ln --model (0,1,1)(0,1,1)12 --sample ..2022-12",
    "forecast demo:harbour tug_hours --model (1,0,0) --with trend --mean --paths 3",
    "compare demo:harbour ice --model (0,1,1)(0,1,1)12 --repaired --rolling 12",
    "compare demo:harbour waiting --model (2,0,0) --model (1,0,0) --hold 24",
    "lags demo:region wages rents output --causality",
    "lags demo:harbour sailings --exogenous bookings[t-2]",
    "ols demo:harbour sailings --on bookings[t-2] --restrict bookings[t-2]=0.5 --break-at 2012-05 --residuals",
    "ols demo:region wages --on rents --restrict rents=1.6",
    "ols demo:region wages:pct4 --on rents:pct4",
    "cointegration demo:region wages rents --bartlett",
    "cointegration demo:region wages rents output --terms restricted-constant",
    "orders demo:gate lorries --gaps seasonal --season 365 --sample 2023-06-01..",
    "forecast demo:gate lorries --gaps seasonal --season 365 --sample 2023-06-01.. --ahead 2",
    "forecast demo:harbour freight --ahead 2",
    "forecast demo:region output:growth4 --model (1,0,0) --bootstrap 200 --ahead 2",
    "screen demo:harbour",
    "screen demo:gate --quick",
    "compare demo:harbour waiting --model (2,0,0) --model (1,0,0) --rolling 40",
    "stationarity demo:harbour claims --sample 2001-01..2002-09 --tests all",
];

/// Fields of a test that only some tests have: `cointegration` has tests of two kinds, `stationarity`
/// has all of them.
const OF_OTHER_TESTS: [&str; 13] = [
    "bootstrap_p_value",
    "break_at",
    "d",
    "frequencies",
    "joint",
    "kind",
    "model",
    "mpt",
    "msb",
    "mza",
    "mzt",
    "period",
    "second_break_at",
];

/// Fields of a diagnosis that only some series fill: `stationarity` has series with each of them.
const OF_SOME_SERIES: [&str; 8] = [
    "cycle",
    "fractional_d",
    "pattern_changes_at",
    "period",
    "seasonal_coefficient",
    "seasonal_integration",
    "suggested_season",
    "transformed",
];

/// Names of all fields that a schema has.
fn fields(schema: &Value, out: &mut BTreeSet<String>) {
    match schema {
        Value::Object(parts) => {
            if let Some(Value::Object(properties)) = parts.get("properties") {
                out.extend(properties.keys().cloned());
            }
            parts.values().for_each(|part| fields(part, out));
        }
        Value::Array(items) => items.iter().for_each(|item| fields(item, out)),
        _ => {}
    }
}

/// Names of all fields that hold something.
fn filled(value: &Value, out: &mut BTreeSet<String>) {
    match value {
        Value::Object(parts) => {
            for (name, part) in parts {
                if !part.is_null() {
                    out.insert(name.clone());
                }
                filled(part, out);
            }
        }
        Value::Array(items) => items.iter().for_each(|item| filled(item, out)),
        _ => {}
    }
}

/// Fractional noise with d = 0.4.
fn long_memory(n: usize) -> Vec<f64> {
    let e = NormalStream::new(8, 0).take(2 * n);
    let mut weights = vec![1.0];
    for j in 1..n {
        weights.push(weights[j - 1] * (j as f64 - 1.0 + 0.4) / j as f64);
    }
    (n..2 * n).map(|t| weights.iter().enumerate().map(|(j, w)| w * e[t - j]).sum()).collect()
}

/// A stationary seasonal autoregression.
fn seasonal(n: usize) -> Vec<f64> {
    let e = NormalStream::new(9, 0).take(n + 120);
    let mut stationary = e;
    for t in 12..stationary.len() {
        stationary[t] += 0.7 * stationary[t - 12];
    }
    stationary.split_off(120)
}

/// Noise about a pattern that changes once.
fn changing(n: usize) -> Vec<f64> {
    let patterns = [[3.0, -1.0, 0.0, -2.0, 1.0, -1.0], [-2.0, 1.0, 2.0, 0.0, -2.0, 1.0]];
    let e = NormalStream::new(11, 0).take(n);
    e.iter().enumerate().map(|(t, e)| e + 2.0 * patterns[usize::from(2 * t >= n)][t % 12 / 2]).collect()
}

#[test]
fn results_hold_to_the_schemas_and_every_field_is_produced() {
    let folder = Folder::with("memory.csv", monthly(&long_memory(900)));
    folder.write("stationary.csv", monthly(&seasonal(240)));
    folder.write("changing.csv", monthly(&changing(240)));
    let wave = |t: usize| 10.0 * (std::f64::consts::TAU * t as f64 / 12.0).cos();
    let e = NormalStream::new(10, 0).take(144);
    let undated: String = (0..144).map(|t| format!("{}\n", wave(t) + e[t])).collect();
    folder.write("undated.csv", format!("x\n{undated}"));
    let mut missing = Vec::new();
    for (name, _) in kandrel::schemas() {
        let (mut wanted, mut found) = (BTreeSet::new(), BTreeSet::new());
        fields(&schema(name), &mut wanted);
        let calls = CALLS.iter().filter(|call| call.split(' ').next() == Some(name));
        for call in calls {
            let json = folder.json(call);
            holds_to_its_schema(call, &json);
            filled(&json, &mut found);
        }
        if ["acf", "decompose", "orders", "stationarity"].contains(&name) {
            let limit = if name == "orders" { " --limit 1,1,0,0" } else { "" };
            filled(&folder.json(&format!("{name} stationary.csv{limit}")), &mut found);
        }
        if name == "stationarity" {
            filled(&folder.json("stationarity changing.csv"), &mut found);
        }
        if name == "inspect" {
            filled(&folder.json("inspect undated.csv"), &mut found);
        }
        if name == "plot" {
            filled(&folder.json("plot undated.csv"), &mut found);
        }
        if name == "stationarity" {
            filled(&folder.json("stationarity memory.csv --season 1"), &mut found);
            filled(&folder.json("stationarity undated.csv"), &mut found);
        }
        let elsewhere = |field: &str| {
            let of_other_tests = name == "cointegration" && OF_OTHER_TESTS.contains(&field);
            of_other_tests || name != "stationarity" && OF_SOME_SERIES.contains(&field)
        };
        let left = wanted.difference(&found).filter(|field| !elsewhere(field));
        missing.extend(left.map(|field| format!("{name}: {field}")));
    }
    assert!(missing.is_empty(), "never filled:\n{}", missing.join("\n"));
}

fn schema(name: &str) -> Value {
    let known = kandrel::schemas();
    let text = known.iter().find(|(known, _)| *known == name).map(|(_, text)| text.clone());
    serde_json::from_str(&text.expect("a schema")).expect("JSON")
}

#[test]
fn the_committed_schemas_are_those_of_the_types() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/schema");
    for (name, text) in kandrel::schemas() {
        let committed = std::fs::read_to_string(folder.join(format!("{name}.json"))).unwrap_or_default();
        assert!(committed == text, "{name}: run cargo run -p xtask -- schema");
    }
    let files = std::fs::read_dir(folder).expect("the folder").count();
    assert_eq!(files, kandrel::schemas().len());
}

/// What a call writes holds to its command's schema, and without its names it would not.
fn holds_to_its_schema(call: &str, json: &Value) {
    let command = call.split(' ').next().unwrap_or("");
    let validator = jsonschema::validator_for(&schema(command)).expect("a valid schema");
    let errors: Vec<String> = validator.iter_errors(json).map(|error| error.to_string()).collect();
    assert!(errors.is_empty(), "{call}: {}", errors.join("; "));
    let mut without = json.clone();
    for field in ["series", "columns", "first", "variables", "target", "source"] {
        without["results"][0].as_object_mut().expect("a result").remove(field);
    }
    assert!(!validator.is_valid(&without), "{call}: a missing field goes unseen");
}

/// The schemas of the first release: what a reader of that output relies on stays.
#[test]
fn the_schemas_of_the_first_release_accept_what_is_written_now() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR"));
    let mut accepted = 0;
    for call in kandrel_fixtures::golden::calls() {
        let command = &call.words[0];
        let schema = folder.join("tests/schema_first").join(format!("{command}.json"));
        let output = folder.join("tests/golden/json").join(format!("{}.json", call.name));
        let (Ok(schema), Ok(output)) = (std::fs::read_to_string(schema), std::fs::read_to_string(output))
        else {
            continue;
        };
        let schema: Value = serde_json::from_str(&schema).expect("a schema");
        let mut output: Value = serde_json::from_str(&output).expect("JSON");
        // What golden files leave out.
        output["kandrel"]["version"] = Value::from("0.1.0");
        restore_clock(&mut output);
        let validator = jsonschema::validator_for(&schema).expect("a valid schema");
        let faults: Vec<String> =
            validator.iter_errors(&output).map(|error| format!("{}: {error}", error.instance_path)).collect();
        assert!(faults.is_empty(), "{}: {}", call.name, faults.join("\n"));
        accepted += 1;
    }
    assert!(accepted > 50, "{accepted}");
}

/// Puts a duration where results have one.
fn restore_clock(output: &mut Value) {
    for result in output["results"].as_array_mut().into_iter().flatten() {
        if result.get("candidates").is_some()
            || result.get("flags").is_some()
            || result.get("review").is_some()
        {
            result["seconds"] = Value::from(0.5);
        }
    }
}
