//! Every command that chooses a model chooses the same one, and quotes the same assessment.

use serde_json::Value;

use crate::harness::{Folder, monthly, noise};

/// The demo data whose series are complete.
const FILES: [&str; 4] = ["harbour", "region", "timber", "charters"];

/// A series with the step that `screen` takes, as an expression.
fn expression(row: &Value) -> String {
    let name = row["series"].as_str().expect("a name");
    match row["transform"].as_str() {
        None | Some("none") => name.to_owned(),
        Some(step) => format!("{name}:{step}"),
    }
}

#[test]
fn every_command_names_the_same_model_and_assessment_of_every_demo_series() {
    let folder = Folder::new();
    let mut compared = 0;
    for file in FILES {
        let rows = folder.json(&format!("screen demo:{file}"))["results"].clone();
        for row in rows.as_array().expect("rows") {
            let series = expression(row);
            let orders = folder.json(&format!("orders demo:{file} {series}"))["results"][0].clone();
            let forecast =
                folder.json(&format!("forecast demo:{file} {series} --ahead 2"))["results"][0].clone();
            assert_eq!(row["model"], orders["chosen"], "{file} {series}");
            assert_eq!(row["model"], forecast["model"], "{file} {series}");
            assert_eq!([&orders["with"], &forecast["with"]], [&row["with"]; 2], "{file} {series}");
            // Where the assessment leaves nothing open, the differences are the verdict's.
            let open = !orders["rivals"].as_array().expect("rivals").is_empty();
            assert!(open || row["integration"] == orders["d"], "{file} {series}");
            assert_eq!(orders["rivals"], forecast["rivals"], "{file} {series}");
            // And every command quotes the same assessment.
            let own = folder.json(&format!("stationarity demo:{file} {series}"))["results"][0].clone();
            assert_eq!(orders["diagnosis"], own["diagnosis"], "{file} {series}");
            let acf = folder.json(&format!("acf demo:{file} {series}"))["results"][0].clone();
            assert_eq!(acf["diagnosis"], own["diagnosis"], "{file} {series}");
            assert_eq!(row["class"], own["diagnosis"]["class"], "{file} {series}");
            assert_eq!(own["verdict"]["probability"], own["diagnosis"]["probability"], "{file} {series}");
            compared += 1;
        }
    }
    assert_eq!(compared, 8 + 5 + 2 + 4);
}

#[test]
fn the_report_names_the_model_that_screen_names() {
    let folder = Folder::new();
    let rows = folder.json("screen demo:harbour")["results"].clone();
    for name in ["freight", "waiting", "tug_hours"] {
        let row = rows.as_array().expect("rows").iter().find(|row| row["series"] == name).expect(name);
        folder.write(
            "a.toml",
            format!("file = \"demo:harbour\"\nseries = \"{name}\"\nparts = [\"model\", \"forecast\"]\n"),
        );
        folder.run(&format!("study a.toml --into {name}")).succeeds();
        let record: Value =
            serde_json::from_slice(&folder.read(&format!("{name}/results.json"))).expect("JSON");
        let steps = record["steps"].as_array().expect("steps");
        let of = |command: &str| {
            let step =
                steps.iter().find(|step| step["call"].as_str().is_some_and(|call| call.contains(command)));
            step.unwrap_or_else(|| panic!("no {command} for {name}"))["results"][0].clone()
        };
        assert_eq!(of(" orders ")["chosen"], row["model"], "{name}");
        assert_eq!(of(" fit ")["model"], row["model"], "{name}");
        assert_eq!(of(" forecast ")["model"], row["model"], "{name}");
    }
}

#[test]
fn the_search_does_not_depend_on_the_number_of_threads() {
    let values: Vec<String> = noise(96, 12).iter().map(|value| format!("{:.4}", 20.0 + value)).collect();
    let folder = Folder::with("a.csv", monthly(&values));
    let rows = |jobs: usize| folder.json(&format!("screen a.csv --jobs {jobs}"))["results"][0].clone();
    let (mut one, mut eight) = (rows(1), rows(8));
    for row in [&mut one, &mut eight] {
        row.as_object_mut().expect("a row").remove("seconds");
    }
    assert_eq!(one, eight);
}

/// The diagnosis of every series by a call that takes them all.
fn diagnoses(folder: &Folder, call: &str) -> Vec<Value> {
    let results = folder.json(call)["results"].clone();
    results.as_array().expect("results").iter().map(|one| one["diagnosis"].clone()).collect()
}

#[test]
fn every_command_quotes_the_same_diagnosis_of_every_demo_series() {
    let folder = Folder::new();
    for file in FILES {
        let inspected = folder.json(&format!("inspect demo:{file}"))["results"][0]["columns"].clone();
        let columns = inspected.as_array().expect("columns").iter();
        let numeric: Vec<&Value> = columns.filter(|one| one["kind"] == "number").collect();
        let names: Vec<&str> = numeric.iter().filter_map(|one| one["name"].as_str()).collect();
        let of = |command: &str, options: &str| {
            diagnoses(&folder, &format!("{command} demo:{file} {} {options}", names.join(" ")))
        };
        let own = of("stationarity", "");
        assert!(own.len() == names.len() && own.iter().all(Value::is_object), "{file}");
        assert_eq!(numeric.iter().map(|one| one["diagnosis"].clone()).collect::<Vec<_>>(), own, "{file}");
        for command in ["acf", "outliers", "plot"] {
            assert_eq!(of(command, ""), own, "{file} {command}");
        }
        assert_eq!(of("fit", "--model (0,1,1)"), own, "{file}");
        assert_eq!(of("forecast", "--model (0,1,1) --ahead 2"), own, "{file}");
    }
    let own = diagnoses(&folder, "stationarity demo:region wages rents output");
    for command in ["lags", "relate", "cointegration"] {
        let call = format!("{command} demo:region wages rents output");
        let several = folder.json(&call)["results"][0]["diagnoses"].clone();
        let several = several.as_array().expect("diagnoses").iter().map(|one| one["diagnosis"].clone());
        assert_eq!(several.collect::<Vec<_>>(), own, "{command}");
    }
}

/// Quarterly series in turn: random walks, stationary, with a fixed pattern, with seasonal unit roots.
fn simulated(number: u64) -> Vec<f64> {
    let e = noise(60, 4_000 + number);
    let mut values = e.clone();
    for t in 0..60_usize {
        values[t] += match number % 4 {
            0 => t.checked_sub(1).map_or(0.0, |before| values[before]),
            1 => t.checked_sub(1).map_or(0.0, |before| 0.6 * values[before]),
            2 => [3.0, -1.0, 0.5, -2.5][t % 4],
            _ => t.checked_sub(4).map_or(0.0, |before| values[before]),
        };
    }
    values.iter().map(|value| 50.0 + value).collect()
}

#[test]
fn no_two_commands_contradict_each_other_on_simulated_series() {
    const COUNT: usize = 200;
    let folder = Folder::new();
    let columns: Vec<Vec<f64>> = (0..COUNT as u64).map(simulated).collect();
    let names: Vec<String> = (0..COUNT).map(|number| format!("x{number}")).collect();
    let row = |t: usize| {
        let cells: Vec<String> = columns.iter().map(|values| values[t].to_string()).collect();
        format!("{}-Q{},{}\n", 2001 + t / 4, t % 4 + 1, cells.join(","))
    };
    let text = format!("quarter,{}\n", names.join(",")) + &(0..60).map(row).collect::<String>();
    folder.write("a.csv", text);
    let series = names.join(" ");
    let results = folder.json(&format!("stationarity a.csv {series}"))["results"].clone();
    let own: Vec<Value> = results.as_array().expect("results").clone();
    assert_eq!(own.len(), COUNT);
    let of_all: Vec<Value> = own.iter().map(|one| one["diagnosis"].clone()).collect();
    for command in ["acf", "decompose", "outliers", "fit --model (0,1,1)"] {
        let (command, options) = command.split_once(' ').unwrap_or((command, ""));
        let call = format!("{command} a.csv {series} {options}");
        assert_eq!(diagnoses(&folder, &call), of_all, "{command}");
    }
    // What is written once more outside the diagnosis is the same.
    let rows = folder.json("screen a.csv --quick")["results"].clone();
    for (row, one) in rows.as_array().expect("rows").iter().zip(&own) {
        let (verdict, diagnosis) = (&one["verdict"], &one["diagnosis"]);
        for field in ["integration", "seasonal_integration", "class", "confidence"] {
            assert_eq!(verdict[field], diagnosis[field], "{field}");
            assert!(row["transform"] != "none" || row[field] == diagnosis[field], "{field}: {row}");
        }
    }
}
