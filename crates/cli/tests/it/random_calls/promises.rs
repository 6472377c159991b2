//! What the program promises of every call.

use std::collections::HashMap;

use jsonschema::Validator;
use serde_json::Value;

use super::Ended;

/// The schema of each command's JSON.
pub struct Schemas(HashMap<&'static str, Validator>);

impl Schemas {
    pub fn read() -> Self {
        let validator = |text: &str| {
            let schema = serde_json::from_str(text).expect("a schema in JSON");
            jsonschema::validator_for(&schema).expect("a valid schema")
        };
        Self(kandrel::schemas().iter().map(|(name, text)| (*name, validator(text))).collect())
    }
}

/// Seconds that no call on some hundred rows may take.
const LONGEST: f64 = 120.0;

/// The first promise that is broken.
pub fn broken(call: &Ended, schemas: &Schemas) -> Option<String> {
    let Ok(stdout) = std::str::from_utf8(&call.stdout) else {
        return Some("standard output is not UTF-8".to_owned());
    };
    let Ok(stderr) = std::str::from_utf8(&call.stderr) else {
        return Some("standard error is not UTF-8".to_owned());
    };
    if call.seconds > LONGEST {
        return Some(format!("{:.0} s", call.seconds));
    }
    if let Some(line) = stderr.lines().find(|line| line.chars().count() > 420) {
        return Some(format!("a line of {} letters on standard error", line.chars().count()));
    }
    if let Some(fault) = unsafe_text(stderr) {
        return Some(format!("standard error has {fault}"));
    }
    match call.status {
        Some(0) => of_result(call, stdout, schemas),
        Some(2..=4) => of_refusal(call, stdout, stderr),
        status => Some(format!("status {status:?}: {}", first_line(stderr))),
    }
}

fn first_line(text: &str) -> &str {
    text.lines().next().unwrap_or_default()
}

/// One message, no result, no file.
fn of_refusal(call: &Ended, stdout: &str, stderr: &str) -> Option<String> {
    if !stdout.is_empty() {
        return Some("a refusal with a result".to_owned());
    }
    if !stderr.lines().any(|line| line.starts_with("kandrel: ")) || stderr.matches("kandrel: ").count() != 1 {
        return Some(format!("not one message: {stderr}"));
    }
    if stderr.contains("panicked") {
        return Some("a panic".to_owned());
    }
    call.new.first().map(|(name, _)| format!("a refusal leaves {name}"))
}

/// Something was written, and all of it is sound.
fn of_result(call: &Ended, stdout: &str, schemas: &Schemas) -> Option<String> {
    if let Some((name, _)) = call.new.iter().find(|(name, _)| !call.words.contains(name)) {
        return Some(format!("a file nobody named: {name}"));
    }
    if stdout.is_empty() && call.new.is_empty() {
        return Some("neither result nor message".to_owned());
    }
    let texts = call.new.iter().filter(|(name, _)| name != "f.png");
    let texts = texts.map(|(name, bytes)| (name.as_str(), std::str::from_utf8(bytes)));
    for (place, text) in std::iter::once(("standard output", Ok(stdout))).chain(texts) {
        let Ok(text) = text else {
            return Some(format!("{place} is not UTF-8"));
        };
        if let Some(fault) = unsafe_text(text).or_else(|| no_number(text)) {
            return Some(format!("{place} has {fault}"));
        }
    }
    let is_json = call.words.windows(2).any(|pair| pair == ["--as", "json"]);
    let to_file = call.words.iter().any(|word| word == "--out");
    if is_json && !to_file { of_json(call, stdout, schemas) } else { None }
}

fn of_json(call: &Ended, stdout: &str, schemas: &Schemas) -> Option<String> {
    let Ok(json) = serde_json::from_str::<Value>(stdout) else {
        return Some("no JSON".to_owned());
    };
    let validator = schemas.0.get(call.words.first()?.as_str())?;
    if let Err(error) = validator.validate(&json) {
        return Some(format!("against its schema: {} at {}", error, error.instance_path));
    }
    out_of_range("", &json)
}

/// Control characters but line ends and tabs, and marks of direction.
fn unsafe_text(text: &str) -> Option<String> {
    let is_unsafe = |letter: &char| {
        (letter.is_control() && !matches!(letter, '\n' | '\t'))
            || matches!(letter, '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}')
    };
    text.chars().find(is_unsafe).map(|letter| format!("U+{:04X}", u32::from(letter)))
}

/// Words that stand for no number, outside of what the file itself holds.
fn no_number(text: &str) -> Option<String> {
    let is_word = |word: &&str| matches!(*word, "NaN" | "inf" | "-inf" | "−inf" | "nan");
    let quoted =
        |line: &&str| !line.contains("not a number") && !line.contains("text") && !line.contains('`');
    let found = text
        .lines()
        .filter(quoted)
        .find(|line| line.split([' ', ',', '"', '=', '(', ')', '|', '&']).any(|word| is_word(&word)));
    found.map(|line| format!("a number that is none: {line}"))
}

/// Probabilities, correlations and intervals that cannot be.
fn out_of_range(name: &str, value: &Value) -> Option<String> {
    match value {
        Value::Object(fields) => {
            let number = |name: &str| fields.get(name).and_then(Value::as_f64);
            if let (Some(low), Some(high)) = (number("lower"), number("upper"))
                && low > high
            {
                return Some(format!("an interval from {low} to {high}"));
            }
            fields.iter().find_map(|(name, value)| out_of_range(name, value))
        }
        Value::Array(values) => values.iter().find_map(|value| out_of_range(name, value)),
        Value::Number(number) => {
            let value = number.as_f64()?;
            let (low, high) = match name {
                "p_value" | "probability" | "bootstrap_p_value" | "r2" => (0.0, 1.0),
                "acf" | "pacf" | "correlation" => (-1.0, 1.0),
                "variance" | "sd" | "std_error" | "acf_se" => (0.0, f64::MAX),
                _ => return None,
            };
            // Rounding of the last bits is no fault.
            let slack = 1e-9;
            (value < low - slack || value > high + slack).then(|| format!("{name} of {value}"))
        }
        _ => None,
    }
}
