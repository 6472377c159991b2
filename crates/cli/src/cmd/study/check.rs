//! What has changed since a study was done.

use serde_json::{Map, Value, json};

use super::chain::Part;
use super::report::About;
use crate::wording;

/// Figures closer to each other than this are the same.
const SAME: f64 = 1e-9;
/// Changed figures named for each call.
const NAMED: usize = 3;

/// Everything that was found, to be compared with later.
pub fn record(about: &About, parts: &[Part]) -> Value {
    let steps: Vec<Value> = parts
        .iter()
        .flat_map(|part| part.steps.iter().map(move |step| (part, step)))
        .map(|(part, step)| {
            json!({
                "part": part.title,
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
        "data": {"source": about.source, "sha256": about.sha256, "span": about.span},
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
        all.push(data_change(before, now));
    }
    let steps = |value: &Value| value["steps"].as_array().cloned().unwrap_or_default();
    let (mut old, new) = (steps(before), steps(now));
    let partners = partners(&mut old, &new);
    all.extend(old.iter().map(|step| format!("{} is no longer part of the study.", label(step))));
    all.extend(new.iter().zip(&partners).filter_map(|(step, partner)| match partner {
        None => Some(format!(
            "{} is new in the study: {}",
            label(step),
            plain(step.get("answer").filter(|answer| !answer.is_null()).or(step.get("failure")))
        )),
        Some(other) => between(other, step),
    }));
    all
}

/// For each step that of the earlier record with the same call, or else the first of the same part and command that no
/// other step has; they are taken out of the earlier ones.
fn partners(old: &mut Vec<Value>, new: &[Value]) -> Vec<Option<Value>> {
    let mut take = |is_it: &dyn Fn(&Value) -> bool| {
        let place = old.iter().position(is_it)?;
        Some(old.remove(place))
    };
    let mut found: Vec<Option<Value>> =
        new.iter().map(|step| take(&|other| other["call"] == step["call"])).collect();
    let command = |step: &Value| plain(Some(&step["call"])).split(' ').nth(1).map(str::to_owned);
    for (step, partner) in new.iter().zip(&mut found).filter(|(_, partner)| partner.is_none()) {
        *partner = take(&|other| other["part"] == step["part"] && command(other) == command(step));
    }
    found
}

/// A step as sentences name it: its part and its call.
fn label(step: &Value) -> String {
    let call = plain(Some(&step["call"]));
    match step["part"].as_str() {
        Some(part) => format!("{part} ({call})"),
        None => call,
    }
}

/// What has changed from one step to its partner.
fn between(old: &Value, new: &Value) -> Option<String> {
    let label = label(new);
    if old["call"] == new["call"] {
        return change_of(old, new).map(|change| format!("{label}: {change}."));
    }
    // Another expression or model: its numbers are others by themselves.
    let change = if old["answer"] == new["answer"] && old["failure"] == new["failure"] {
        "the same answer".to_owned()
    } else {
        change_of(old, new)?
    };
    Some(format!("{label}: {change}; the call was {}.", plain(Some(&old["call"]))))
}

/// What is known of changed data: their span and their rows, where these differ.
fn data_change(before: &Value, now: &Value) -> String {
    let source = plain(now.pointer("/data/source"));
    match (before.pointer("/data/span"), now.pointer("/data/span")) {
        (Some(Value::String(was)), Some(Value::String(is))) if was != is => {
            format!("The data in {source} have changed: they were {was}, and are {is}.")
        }
        _ => format!("The data in {source} have changed: other values in the same periods."),
    }
}

fn plain(value: Option<&Value>) -> String {
    match value {
        Some(Value::String(text)) => text.clone(),
        Some(other) => other.to_string(),
        None => "nothing".to_owned(),
    }
}

/// The change of an answer, or of numbers behind the same answer.
fn change_of(old: &Value, new: &Value) -> Option<String> {
    if old["failure"] != new["failure"] {
        return Some(match (old["failure"].as_str(), new["failure"].as_str()) {
            (None, Some(why)) => format!("cannot be done any more: {why}"),
            (Some(_), None) => format!("could not be done, and is now: {}", answer_of(new)),
            (was, is) => format!(
                "could not be done then ({}) and cannot now ({})",
                was.unwrap_or_default(),
                is.unwrap_or_default()
            ),
        });
    }
    if old["answer"] != new["answer"] {
        return Some(format!("the answer was “{}” and is “{}”", answer_of(old), answer_of(new)));
    }
    let mut found = Vec::new();
    compare("", &old["results"], &new["results"], &mut found);
    let more = found.len().saturating_sub(NAMED);
    found.truncate(NAMED);
    let rest = match more {
        0 => String::new(),
        1 => "; 1 number more".to_owned(),
        many => format!("; {many} numbers more"),
    };
    (!found.is_empty()).then(|| format!("the same answer with other numbers: {}{rest}", found.join("; ")))
}

/// The answer without the point at its end.
fn answer_of(step: &Value) -> String {
    plain(Some(&step["answer"])).trim_end_matches('.').to_owned()
}

/// Fields that name an element of a list, the first that it has.
const NAMES: [&str; 11] = [
    "period",
    "name",
    "test",
    "series",
    "candidate",
    "label",
    "regressor",
    "parameter",
    "model",
    "lag",
    "horizon",
];

/// The place of an element in words: after what names it, else by its number.
fn place_of(path: &str, element: &Value, place: usize) -> String {
    let named = NAMES.iter().find_map(|field| match &element[*field] {
        Value::String(text) => Some(text.clone()),
        Value::Number(number) if *field == "lag" || *field == "horizon" => Some(format!("{field} {number}")),
        _ => None,
    });
    // Of the results themselves there is one for each series.
    match (path.is_empty(), named) {
        (_, Some(name)) => within(path, &name),
        (true, None) => String::new(),
        (false, None) => within(path, &format!("number {}", place + 1)),
    }
}

/// A path with one more part.
fn within(path: &str, part: &str) -> String {
    let part = part.replace('_', " ");
    if path.is_empty() { part } else { format!("{path}, {part}") }
}

/// A number with six digits.
fn rounded(value: f64) -> String {
    format!("{value:.5e}").parse::<f64>().map_or_else(|_| value.to_string(), |value| value.to_string())
}

/// Where two values differ by more than rounding, in words.
fn compare(path: &str, old: &Value, new: &Value, out: &mut Vec<String>) {
    match (old, new) {
        (Value::Object(a), Value::Object(b)) => {
            for (name, value) in a {
                compare(&within(path, name), value, b.get(name).unwrap_or(&Value::Null), out);
            }
            let added = b.keys().filter(|name| !a.contains_key(*name));
            out.extend(added.map(|name| format!("{} is new", within(path, name))));
        }
        (Value::Array(a), Value::Array(b)) if a.len() == b.len() => {
            for (place, (x, y)) in a.iter().zip(b).enumerate() {
                compare(&place_of(path, y, place), x, y, out);
            }
        }
        (Value::Array(a), Value::Array(b)) => {
            out.push(format!("{path}: {}, now {}", wording::count(a.len(), "element"), b.len()));
        }
        (Value::Number(a), Value::Number(b)) => {
            let (x, y) = (a.as_f64().unwrap_or(f64::NAN), b.as_f64().unwrap_or(f64::NAN));
            let near = (x - y).abs() <= SAME * x.abs().max(y.abs()).max(SAME);
            if !near {
                out.push(format!("{path} was {} and is {}", rounded(x), rounded(y)));
            }
        }
        _ if old == new => {}
        _ => out.push(format!("{path} was {} and is {}", in_short(old), in_short(new))),
    }
}

/// A value in a sentence.
fn in_short(value: &Value) -> String {
    match value {
        Value::Null => "nothing".to_owned(),
        Value::Array(_) | Value::Object(_) => "a list".to_owned(),
        other => plain(Some(other)),
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
        assert!(changes(&of(0.5, "a"), &of(0.6, "a"))[0].contains("other numbers: p was 0.5 and is 0.6."));
        assert!(changes(&of(0.5, "a"), &of(0.5, "b"))[0].contains("the answer was “a” and is “b”."));
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
            [
                "The data in a.csv have changed: other values in the same periods.",
                "kandrel fit is no longer part of the study.",
                "kandrel forecast is new in the study: c"
            ]
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
        assert!(
            found[0].starts_with("c: the same answer with other numbers: p was 0 and is 0.5"),
            "{found:?}"
        );
        assert!(found[0].ends_with("; 3 numbers more."), "{found:?}");
    }

    #[test]
    fn lists_of_other_lengths_and_fields_that_came_are_changes() {
        let differ = |old: Value, new: Value| {
            let mut out = Vec::new();
            compare("", &old, &new, &mut out);
            out
        };
        assert_eq!(differ(json!({"a": [1]}), json!({"a": [1, 2]})), ["a: 1 element, now 2"]);
        assert_eq!(differ(json!({"a": 1}), json!({"a": 1, "b_c": 2})), ["b c is new"]);
        assert_eq!(differ(json!({"a": "x"}), json!({"a": null})), ["a was x and is nothing"]);
        assert!(differ(json!([null, true, "x"]), json!([null, true, "x"])).is_empty());
    }

    #[test]
    fn a_part_with_another_call_is_compared_with_what_it_was() {
        let of = |call: &str, answer: &str| {
            json!({"steps": [
                {"part": "Model", "call": "kandrel orders a.csv x", "answer": "o", "failure": null, "results": []},
                {"part": "Model", "call": call, "answer": answer, "failure": null, "results": [1]}
            ]})
        };
        let (before, now) = (of("kandrel fit a.csv x", "good."), of("kandrel fit a.csv x:ln", "bad."));
        assert_eq!(
            changes(&before, &now),
            [
                "Model (kandrel fit a.csv x:ln): the answer was “good” and is “bad”; the call was kandrel fit a.csv x."
            ]
        );
        let same = of("kandrel fit a.csv x:ln", "good.");
        assert_eq!(
            changes(&before, &same),
            ["Model (kandrel fit a.csv x:ln): the same answer; the call was kandrel fit a.csv x."]
        );
        let other = of("kandrel acf a.csv x", "good.");
        assert_eq!(changes(&before, &other).len(), 2, "another command is another step");
    }

    #[test]
    fn a_changed_number_is_found_by_the_names_around_it() {
        let of = |value: f64| {
            json!([{"series": "x", "forecasts": [{"period": "2025-01", "value": 1.0}, {"period": "2025-02", "value": value}],
                "rows": [[1.0], [value]]}])
        };
        let mut out = Vec::new();
        compare("", &of(2.0), &of(2.123_456_789), &mut out);
        assert_eq!(
            out,
            [
                "x, forecasts, 2025-02, value was 2 and is 2.12346",
                "x, rows, number 2, number 1 was 2 and is 2.12346"
            ]
        );
    }

    #[test]
    fn what_failed_then_or_fails_now_is_said() {
        let of = |failure: Option<&str>| {
            let answer = failure.is_none().then_some("Yes.");
            json!({"steps": [{"call": "c", "answer": answer, "failure": failure, "results": []}]})
        };
        let between = |old, new| changes(&of(old), &of(new)).concat();
        assert_eq!(between(None, Some("too short")), "c: cannot be done any more: too short.");
        assert_eq!(between(Some("too short"), None), "c: could not be done, and is now: Yes.");
        assert_eq!(between(Some("a"), Some("b")), "c: could not be done then (a) and cannot now (b).");
        let mut longer = study(&[], "2");
        longer["data"]["span"] = json!("monthly data, 70 rows");
        let mut shorter = study(&[], "1");
        shorter["data"]["span"] = json!("monthly data, 60 rows");
        assert_eq!(
            changes(&shorter, &longer),
            [
                "The data in a.csv have changed: they were monthly data, 60 rows, and are monthly data, 70 rows."
            ]
        );
    }
}
