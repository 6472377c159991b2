//! The harbour data as people really get them give the harbour's own figures.

use serde_json::Value;

use crate::harness::{Folder, Outcome};

const COLUMNS: [&str; 8] =
    ["freight", "berth_fee", "waiting", "claims", "tug_hours", "ice", "bookings", "sailings"];

fn values(json: &Value) -> Vec<(String, u64)> {
    let values = json["results"][0]["values"].as_array().expect("values");
    values
        .iter()
        .filter_map(|value| {
            let number = value["value"].as_f64()?;
            Some((value["period"].as_str().expect("a period").to_owned(), number.to_bits()))
        })
        .collect()
}

#[test]
fn every_value_is_the_same_to_the_last_digit() {
    let folder = Folder::new();
    for name in COLUMNS {
        let clean = values(&folder.json(&format!("transform demo:harbour {name}")));
        for file in ["demo:messy.csv", "demo:messy.xlsx"] {
            let messy = values(&folder.json(&format!("transform {file} {name} --gaps keep")));
            assert!(messy.len() >= 284, "{file} {name}: {}", messy.len());
            assert!(messy.iter().all(|value| clean.contains(value)), "{file} {name}");
        }
    }
}

/// The option after `with` in the last line of advice.
fn suggested(outcome: &Outcome) -> String {
    let advice = outcome.stderr.lines().last().unwrap_or("");
    advice.split("with ").last().unwrap_or("").to_owned()
}

#[test]
fn the_option_that_is_suggested_gives_the_same_series() {
    let folder = Folder::new();
    for name in ["freight", "waiting", "berth_fee:ln,d1,d12", "bookings[t-2] - sailings"] {
        for file in ["demo:messy.csv", "demo:messy.xlsx"] {
            let refused = folder.run_words(&["transform", file, name], "");
            assert_eq!(refused.status, 3, "{file} {name}");
            let option = suggested(&refused);
            assert!(option.starts_with("--sample 200"), "{option}");
            let mut words = vec!["transform", file, name, "--as", "json"];
            words.extend(option.split(' '));
            let messy = folder.run_words(&words, "");
            assert_eq!(messy.status, 0, "{}", messy.stderr);
            words[1] = "demo:harbour";
            let clean = folder.run_words(&words, "");
            let read = |outcome: &Outcome| values(&serde_json::from_str(&outcome.stdout).expect("JSON"));
            assert_eq!(read(&messy), read(&clean), "{file} {name}");
            assert!(read(&messy).len() > 240, "{file} {name}");
        }
    }
}
