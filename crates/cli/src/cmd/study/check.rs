//! What has changed since a study was done.

use serde_json::{Map, Value, json};

use super::chain::Part;
use super::report::About;

/// Figures closer to each other than this are the same.
const SAME: f64 = 1e-9;
/// Changed figures named for each call.
const NAMED: usize = 3;

/// Everything that was found, to be compared with later.
pub fn record(about: &About, parts: &[Part]) -> Value {
    let steps: Vec<Value> = parts
        .iter()
        .flat_map(|part| &part.steps)
        .map(|step| {
            json!({
                "call": step.call,
                "answer": step.answer(),
                "failure": step.failure,
                "notes": step.notes,
                "results": step.results.iter().map(without_clock).collect::<Vec<_>>(),
            })
        })
        .collect();
    json!({
        "kandrel": {"version": env!("CARGO_PKG_VERSION"), "command": "study"},
        "study": about.study,
        "data": {"source": about.source, "sha256": about.sha256},
        "steps": steps,
    })
}

/// A result without what differs from run to run: how long it took.
fn without_clock(value: &Value) -> Value {
    match value {
        Value::Object(fields) => {
            let kept: Map<String, Value> = fields
                .iter()
                .filter(|(name, _)| *name != "seconds")
                .map(|(name, value)| (name.clone(), without_clock(value)))
                .collect();
            Value::Object(kept)
        }
        Value::Array(items) => Value::Array(items.iter().map(without_clock).collect()),
        other => other.clone(),
    }
}

/// What differs, in sentences; nothing if nothing does.
pub fn changes(before: &Value, now: &Value) -> Vec<String> {
    let mut all = Vec::new();
    let differs = |path: &str| before.pointer(path) != now.pointer(path);
    if differs("/kandrel/version") {
        all.push(format!(
            "Kandrel was {}, and is {} now.",
            plain(before.pointer("/kandrel/version")),
            plain(now.pointer("/kandrel/version"))
        ));
    }
    if differs("/study") {
        all.push("The study file has changed.".to_owned());
    }
    if differs("/data/sha256") {
        all.push(format!("The data in {} have changed.", plain(now.pointer("/data/source"))));
    }
    let steps = |value: &Value| value["steps"].as_array().cloned().unwrap_or_default();
    let (old, new) = (steps(before), steps(now));
    for step in &old {
        if !new.iter().any(|other| other["call"] == step["call"]) {
            all.push(format!("Step removed: {}", plain(Some(&step["call"]))));
        }
    }
    for step in &new {
        match old.iter().find(|other| other["call"] == step["call"]) {
            None => all.push(format!("Step added: {}", plain(Some(&step["call"])))),
            Some(other) => all.extend(change_of(other, step)),
        }
    }
    all
}

fn plain(value: Option<&Value>) -> String {
    match value {
        Some(Value::String(text)) => text.clone(),
        Some(other) => other.to_string(),
        None => "nothing".to_owned(),
    }
}

fn change_of(old: &Value, new: &Value) -> Option<String> {
    let call = plain(Some(&new["call"]));
    for field in ["failure", "answer"] {
        if old[field] != new[field] {
            return Some(format!(
                "{call}: was {:?}, is {:?}",
                plain(Some(&old[field])),
                plain(Some(&new[field]))
            ));
        }
    }
    let mut paths = Vec::new();
    compare("", &old["results"], &new["results"], &mut paths);
    if paths.is_empty() {
        return None;
    }
    let more = paths.len().saturating_sub(NAMED);
    paths.truncate(NAMED);
    let rest = if more > 0 { format!(" and {more} more") } else { String::new() };
    Some(format!("{call}: same answer, different numbers: {}{rest}", paths.join(", ")))
}

/// Where two values differ by more than rounding.
fn compare(path: &str, old: &Value, new: &Value, out: &mut Vec<String>) {
    match (old, new) {
        (Value::Object(a), Value::Object(b)) => {
            for (name, value) in a {
                compare(&format!("{path}.{name}"), value, b.get(name).unwrap_or(&Value::Null), out);
            }
            out.extend(b.keys().filter(|name| !a.contains_key(*name)).map(|name| format!("{path}.{name}")));
        }
        (Value::Array(a), Value::Array(b)) if a.len() == b.len() => {
            for (place, (x, y)) in a.iter().zip(b).enumerate() {
                compare(&format!("{path}[{place}]"), x, y, out);
            }
        }
        (Value::Number(a), Value::Number(b)) => {
            let (x, y) = (a.as_f64().unwrap_or(f64::NAN), b.as_f64().unwrap_or(f64::NAN));
            let near = (x - y).abs() <= SAME * x.abs().max(y.abs()).max(SAME);
            if !near {
                out.push(format!("{} {x} → {y}", path.trim_start_matches('.')));
            }
        }
        _ if old == new => {}
        _ => out.push(path.trim_start_matches('.').to_owned()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rounding_is_no_change_and_other_figures_are() {
        let of = |p: f64, answer: &str| {
            json!({"kandrel": {"version": "1"}, "study": "s", "data": {"sha256": "a"}, "steps":
                [{"call": "kandrel acf", "answer": answer, "failure": null, "results": [{"p": p, "n": [1, 2]}]}]})
        };
        assert!(changes(&of(0.5, "a"), &of(0.5 + 1e-13, "a")).is_empty());
        assert!(changes(&of(0.5, "a"), &of(0.6, "a"))[0].contains("[0].p 0.5 → 0.6"));
        assert!(changes(&of(0.5, "a"), &of(0.5, "b"))[0].contains("was \"a\", is \"b\""));
        assert_eq!(without_clock(&json!({"seconds": 1.0, "x": [{"seconds": 2}]})), json!({"x": [{}]}));
    }

    fn study(calls: &[(&str, &str)], sha256: &str) -> Value {
        let steps: Vec<Value> = calls
            .iter()
            .map(|(call, answer)| json!({"call": call, "answer": answer, "failure": null, "results": []}))
            .collect();
        json!({"kandrel": {"version": "1"}, "study": "s", "data": {"source": "a.csv", "sha256": sha256}, "steps": steps})
    }

    #[test]
    fn calls_that_came_and_went_are_named() {
        let before = study(&[("kandrel acf", "a"), ("kandrel fit", "b")], "1");
        let now = study(&[("kandrel acf", "a"), ("kandrel forecast", "c")], "2");
        assert_eq!(
            changes(&before, &now),
            ["The data in a.csv have changed.", "Step removed: kandrel fit", "Step added: kandrel forecast"]
        );
    }

    #[test]
    fn another_version_and_another_study_are_said_first() {
        let before = study(&[], "1");
        let mut now = before.clone();
        now["kandrel"]["version"] = json!("2");
        now["study"] = json!("other");
        assert_eq!(changes(&before, &now), ["Kandrel was 1, and is 2 now.", "The study file has changed."]);
        assert_eq!(changes(&json!({}), &study(&[], "1"))[0], "Kandrel was nothing, and is 1 now.");
    }

    #[test]
    fn of_many_changed_figures_the_first_are_named_and_the_rest_counted() {
        let of = |value: f64| {
            let results: Vec<Value> = (0..6).map(|k| json!({"p": value + f64::from(k)})).collect();
            json!({"steps": [{"call": "c", "answer": "a", "failure": null, "results": results}]})
        };
        let found = changes(&of(0.0), &of(0.5));
        assert!(found[0].starts_with("c: same answer, different numbers: [0].p 0 → 0.5"), "{found:?}");
        assert!(found[0].ends_with("and 3 more"), "{found:?}");
    }

    #[test]
    fn lists_of_other_lengths_and_fields_that_came_are_changes() {
        let differ = |old: Value, new: Value| {
            let mut out = Vec::new();
            compare("", &old, &new, &mut out);
            out
        };
        assert_eq!(differ(json!({"a": [1]}), json!({"a": [1, 2]})), ["a"]);
        assert_eq!(differ(json!({"a": 1}), json!({"a": 1, "b": 2})), [".b"]);
        assert_eq!(differ(json!({"a": "x"}), json!({"a": null})), ["a"]);
        assert!(differ(json!([null, true, "x"]), json!([null, true, "x"])).is_empty());
    }
}
