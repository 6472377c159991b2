//! The conclusions do not depend on the unit: a series times a power of two, from 1e-150 to 1e148, is judged alike; beyond
//! that it is refused.

use std::fmt::Write as _;

use serde_json::Value;

use crate::harness::{Folder, noise};

/// A series with a trend and a season, and one that follows it, both around a hundred.
fn columns() -> [Vec<f64>; 2] {
    let (steps, errors) = (noise(120, 5), noise(120, 6));
    let mut level: f64 = 100.0;
    let first: Vec<f64> = (0..120)
        .map(|t| {
            level *= (0.004 + 0.02 * steps[t]).exp();
            level * (1.0 + 0.1 * (std::f64::consts::TAU * t as f64 / 12.0).sin())
        })
        .collect();
    let second = first.iter().zip(&errors).map(|(value, e)| 0.5 * value + 3.0 * e).collect();
    [first, second]
}

fn table(scale: f64) -> String {
    let [x, y] = columns();
    let mut text = String::from("month,x,y\n");
    for (t, (x, y)) in x.iter().zip(&y).enumerate() {
        let _ = writeln!(text, "{}-{:02},{:e},{:e}", 2001 + t / 12, t % 12 + 1, x * scale, y * scale);
    }
    text
}

const CALLS: [&str; 13] = [
    "acf t.csv x",
    "randomness t.csv x",
    "stationarity t.csv x",
    "decompose t.csv x",
    "outliers t.csv x",
    "lags t.csv x",
    "orders t.csv x --limit 1,1,0,1",
    "fit t.csv x --model (0,1,1)(0,1,1)12",
    "forecast t.csv x --model (0,1,1)(0,1,1)12",
    "compare t.csv x --model (0,1,1) --hold 12",
    "ols t.csv x --on y",
    "relate t.csv x y",
    "cointegration t.csv x y",
];

/// What is concluded: words, decisions, and numbers without a unit.
fn conclusions(path: &str, value: &Value, out: &mut Vec<(String, Value)>) {
    const WITHOUT_UNIT: [&str; 8] =
        ["p_value", "acf", "pacf", "statistic", "probability", "integration", "lags", "correlation"];
    let name = path.rsplit('/').next().unwrap_or_default();
    match value {
        Value::Object(fields) => {
            fields.iter().for_each(|(name, value)| conclusions(&format!("{path}/{name}"), value, out));
        }
        Value::Array(values) => {
            let each = values.iter().enumerate();
            each.for_each(|(place, value)| conclusions(&format!("{path}/{place}"), value, out));
        }
        Value::Number(number) if WITHOUT_UNIT.contains(&name) => {
            // Four digits: what is searched for ends at its tolerance.
            let text = format!("{:.3e}", number.as_f64().unwrap_or_default());
            out.push((path.to_owned(), text.into()));
        }
        // Sentences may quote a number with its unit.
        Value::String(text) if !text.contains(' ') => out.push((path.to_owned(), value.clone())),
        Value::Bool(_) => out.push((path.to_owned(), value.clone())),
        _ => {}
    }
}

#[test]
fn a_series_is_judged_alike_in_every_unit() {
    let folder = Folder::new();
    let of = |scale: f64, call: &str| {
        folder.write("t.csv", table(scale));
        let mut found = Vec::new();
        conclusions("", &folder.json(call)["results"], &mut found);
        found
    };
    for call in CALLS {
        let plain = of(1.0, call);
        assert!(plain.len() > 4, "{call}");
        for power in [-498, 485] {
            assert_eq!(of(2.0_f64.powi(power), call), plain, "{call}, 2^{power}");
        }
    }
}

#[test]
fn beyond_what_can_be_squared_every_command_refuses_on_both_sides() {
    let folder = Folder::new();
    for (power, word) in [(-520, "too small to compute with"), (500, "too large to compute with")] {
        folder.write("t.csv", table(2.0_f64.powi(power)));
        for call in CALLS {
            let refusal = folder.run(call);
            assert!(refusal.status == 3 && refusal.stderr.contains(word), "{call}: {}", refusal.stderr);
        }
        let rows = folder.run("screen t.csv --as jsonl");
        assert_eq!(rows.stdout.matches(word).count(), 2, "{}", rows.stdout);
        let shown = folder.run("inspect t.csv");
        assert_eq!(shown.status, 0, "what is in the file can be said: {}", shown.stderr);
    }
}
