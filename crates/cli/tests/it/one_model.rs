//! Every command that chooses a model chooses the same one.

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
fn screen_orders_and_forecast_name_the_same_model_for_every_demo_series() {
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
