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
            assert_eq!(row["integration"], orders["d"], "{file} {series}");
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

#[test]
fn no_two_commands_contradict_each_other_on_simulated_series() {
    let folder = Folder::new();
    // Every second column is a random walk, every third has a pattern, the rest is stationary.
    let columns: Vec<Vec<f64>> = (0..12)
        .map(|number| {
            let e = noise(120, 4_000 + number);
            let mut level = 0.0;
            let walk = e.iter().map(|e| {
                level += e;
                level
            });
            let values: Vec<f64> = if number % 2 == 0 { walk.collect() } else { e.clone() };
            let pattern = |t: usize| [3.0, -1.0, 0.5, -2.5][t % 12 % 4];
            values
                .iter()
                .enumerate()
                .map(|(t, v)| 50.0 + v + if number % 3 == 0 { pattern(t) } else { 0.0 })
                .collect()
        })
        .collect();
    let names: Vec<String> = (0..columns.len()).map(|number| format!("x{number}")).collect();
    let row = |t: usize| {
        let cells: Vec<String> = columns.iter().map(|values| values[t].to_string()).collect();
        format!("{}-{:02},{}\n", 2001 + t / 12, t % 12 + 1, cells.join(","))
    };
    let text = format!("month,{}\n", names.join(",")) + &(0..120).map(row).collect::<String>();
    folder.write("a.csv", text);
    let all = |command: &str| folder.json(&format!("{command} a.csv {}", names.join(" ")))["results"].clone();
    let [stationarity, acf, decompose] = ["stationarity", "acf", "decompose"].map(all);
    for (place, own) in stationarity.as_array().expect("results").iter().enumerate() {
        assert_eq!(acf[place]["diagnosis"], own["diagnosis"], "{place}");
        assert_eq!(decompose[place]["diagnosis"], own["diagnosis"], "{place}");
    }
    assert_eq!(stationarity.as_array().map(Vec::len), Some(12));
}
