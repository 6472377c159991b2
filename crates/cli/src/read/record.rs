//! A series as one record: its name, its values one after the other, and where they begin.

use std::io::{BufRead, Read};

use kandrel_core::time::Period;
use serde::Deserialize;
use serde_json::{Map, Value};

use super::budget::{Budget, Memory};
use crate::error::CliError;

/// One record, usually a line of many.
#[derive(Deserialize)]
pub struct Record {
    pub series: String,
    pub values: Vec<Option<f64>>,
    /// Period of the first value; observations are numbered without it.
    #[serde(default)]
    pub start: Option<String>,
    /// Observations in a season; by the frequency without it.
    #[serde(default)]
    pub season: Option<usize>,
}

/// Lines that are looked at for a record: the first may be damaged.
const LOOKED_AT: usize = 3;

/// The first lines of a stream, and whether it is one of records: no record takes more memory than there is.
///
/// # Errors
/// It cannot be read.
pub fn beginning(
    name: &str,
    reader: &mut dyn BufRead,
    budget: &Budget,
) -> Result<(Vec<Vec<u8>>, bool), CliError> {
    let most = budget.left() / PER_BYTE;
    let mut first = Vec::new();
    while first.len() < LOOKED_AT {
        let line = up_to(name, reader, most)?;
        if line.is_empty() {
            break;
        }
        let is_whole = (line.len() as u64) < most;
        let is_record = is_whole && is_meant(&line);
        first.push(line);
        if is_record || !is_whole {
            return Ok((first, is_record));
        }
    }
    Ok((first, false))
}

/// A line, or as much of it as is allowed.
fn up_to(name: &str, reader: &mut dyn BufRead, most: u64) -> Result<Vec<u8>, CliError> {
    let mut bytes = Vec::new();
    let read = reader.take(most).read_until(b'\n', &mut bytes);
    read.map_err(|error| CliError::data(format!("{name} cannot be read: {error}")))?;
    Ok(bytes)
}

/// Whether a line is a record with series and values, be they wrong.
fn is_meant(line: &[u8]) -> bool {
    serde_json::from_slice::<Map<String, Value>>(line).is_ok_and(|object| has_series(&object))
}

fn has_series(object: &Map<String, Value>) -> bool {
    object.contains_key("series") && object.contains_key("values")
}

/// What a byte of a record may take in memory: the shortest value has two.
const PER_BYTE: u64 = 16;

/// The next line of a stream; none at its end.
///
/// # Errors
/// It cannot be read, or takes more memory than is left.
pub fn line(name: &str, reader: &mut dyn BufRead, budget: &Budget) -> Result<Option<Vec<u8>>, CliError> {
    let most = budget.left() / PER_BYTE;
    let bytes = up_to(name, reader, most)?;
    if bytes.len() as u64 == most {
        return Err(budget.refusal(name, Memory(0)));
    }
    Ok((!bytes.is_empty()).then_some(bytes))
}

/// What a record says of its series beyond the values.
#[derive(Debug, Clone)]
pub struct About {
    pub season: Option<usize>,
}

/// What the series of every record answers to.
pub const SERIES: &str = "values";

/// A series as the records of a table, one for each value, and what else is said of it.
pub type Rows = (Vec<Map<String, Value>>, About);

/// Those of the one record that is a series; none of any other.
///
/// # Errors
/// Its parts are not what they should be.
pub fn rows(source: &str, values: &[Value]) -> Result<Option<Rows>, CliError> {
    let [Value::Object(object)] = values else {
        return Ok(None);
    };
    if !has_series(object) {
        return Ok(None);
    }
    let wrong = |why: &dyn std::fmt::Display| {
        CliError::data(format!("{source}: not a record with series and values: {why}"))
            .advise("write {\"series\": \"a\", \"start\": \"2001-01\", \"values\": [1.2, null, 1.5]}")
    };
    let record: Record =
        serde_json::from_value(Value::Object(object.clone())).map_err(|error| wrong(&error))?;
    let start = record.start.as_deref().map(Period::parse).transpose().map_err(|error| wrong(&error))?;
    let time = if record.series == "period" { "time" } else { "period" };
    let row = |(t, value): (i64, Option<f64>)| {
        let mut row = Map::new();
        if let Some(start) = start {
            row.insert(time.to_owned(), Value::from(start.offset(t).to_string()));
        }
        row.insert(record.series.clone(), Value::from(value));
        row
    };
    let rows = (0..).zip(record.values.iter().copied()).map(row).collect();
    Ok(Some((rows, About { season: record.season })))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_line_too_long_for_a_record_is_left_to_those_who_read_the_whole() {
        let budget = Budget::new(Some(Memory(16 * 40)));
        let of = |text: &str| {
            let mut reader = text.as_bytes();
            let (first, is_record) = beginning("-", &mut reader, &budget).expect("bytes");
            (first.concat().len() + reader.len(), is_record)
        };
        let record = r#"{"series":"a","values":[1,2]}"#;
        assert_eq!(of(record), (record.len(), true));
        assert_eq!(of(&format!("x\n{record}\n")), (record.len() + 3, true));
        let long = format!("[{}]\n", "1,".repeat(100));
        assert_eq!(of(&long), (long.len(), false));
        assert!(line("-", &mut long.as_bytes(), &budget).is_err());
    }

    fn table(text: &str) -> Result<Option<String>, String> {
        let value = serde_json::from_str(text).expect("JSON");
        let rows = rows("-", &[value]).map_err(|error| error.to_string())?;
        Ok(rows.map(|(rows, _)| serde_json::to_string(&rows).expect("JSON")))
    }

    #[test]
    fn a_record_is_a_table_of_its_periods() {
        let text = r#"{"series":"a","start":"2001-Q4","values":[1.5,null]}"#;
        let wanted = r#"[{"period":"2001-Q4","a":1.5},{"period":"2002-Q1","a":null}]"#;
        assert_eq!(table(text).ok().flatten().as_deref(), Some(wanted));
        assert_eq!(
            table(r#"{"series":"a","values":[2.0]}"#).ok().flatten().as_deref(),
            Some(r#"[{"a":2.0}]"#)
        );
        assert_eq!(table(r#"{"month":"2001-01","a":1}"#), Ok(None));
    }

    #[test]
    fn a_wrong_record_says_what_is_wrong() {
        for text in [
            r#"{"series":"a","start":"Monday","values":[1.5]}"#,
            r#"{"series":"a","values":["x"]}"#,
            r#"{"series":3,"values":[1]}"#,
        ] {
            let refusal = table(text).expect_err("a refusal");
            assert!(refusal.contains("not a record with series and values"), "{refusal}");
        }
    }
}
