//! JSON: a list of records, records one a line, or the results of `transform`.

use serde_json::{Deserializer, Map, Value};

use super::budget::{Budget, Memory};
use super::grid::Grid;
use super::number::Decimal;
use super::once::{self, Once};
use super::record;
use super::table::{Table, assemble};
use crate::error::CliError;

/// Whether a text begins as a list or an object of JSON does.
pub fn is_json(source: &str, text: &str) -> bool {
    let ending = source.rsplit('.').next().unwrap_or("").to_lowercase();
    let start = text.trim_start();
    ending == "json" || ending == "jsonl" || start.starts_with('{') || start.starts_with("[{")
}

/// Reads records into a table with one column for each name.
pub fn parse(source: &str, text: &str, budget: &Budget) -> Result<Table, CliError> {
    let values = values(source, text, budget)?;
    if let Some((rows, about)) = record::rows(source, &values)? {
        let mut table = assemble(source, grid(source, &rows, budget)?, budget)?;
        table.decimal = Decimal::Point;
        table.row_word = "value";
        table.only_value = Some(record::SERIES.to_owned());
        table.record = Some(about);
        return Ok(table);
    }
    let records = records(values).ok_or_else(|| {
        CliError::data(format!("{source} contains no list of records"))
            .advise("write a list of records: [{\"month\": \"2004-01\", \"rate\": 1.5}, …]")
    })?;
    let mut table = assemble(source, grid(source, &records, budget)?, budget)?;
    table.decimal = Decimal::Point;
    table.row_word = "record";
    Ok(table)
}

/// All values of a text, one after the other.
fn values(source: &str, text: &str, budget: &Budget) -> Result<Vec<Value>, CliError> {
    once::allow(budget.left());
    let values: Result<Vec<Once>, _> = Deserializer::from_str(text).into_iter().collect();
    let values = values.map_err(|error| match once::left() {
        0 => budget.refusal(source, Memory(0)),
        _ => CliError::data(format!("{source}, line {}: not JSON: {error}", error.line()))
            .advise("write a list of records: [{\"month\": \"2004-01\", \"rate\": 1.5}, …]"),
    })?;
    budget.take(source, budget.left().saturating_sub(once::left()))?;
    Ok(values.into_iter().map(|Once(value)| value).collect())
}

/// The records: the values themselves, a list of them, the only list of records
/// in an object, or the computed series of `transform`.
fn records(mut values: Vec<Value>) -> Option<Vec<Map<String, Value>>> {
    if values.len() == 1 {
        match values.remove(0) {
            Value::Array(list) => return objects(list),
            Value::Object(object) => return computed(&object).or_else(|| only_list(object)),
            _ => return None,
        }
    }
    objects(values)
}

fn objects(list: Vec<Value>) -> Option<Vec<Map<String, Value>>> {
    let object = |value| match value {
        Value::Object(object) => Some(object),
        _ => None,
    };
    let all: Option<Vec<_>> = list.into_iter().map(object).collect();
    all.filter(|records| !records.is_empty())
}

/// An object that holds one list of records, or is itself the only record.
fn only_list(object: Map<String, Value>) -> Option<Vec<Map<String, Value>>> {
    let flat = object.values().all(|value| !value.is_array() && !value.is_object());
    if flat {
        return Some(vec![object]);
    }
    let mut lists = object.into_iter().filter_map(|(_, value)| match value {
        Value::Array(list) => objects(list),
        _ => None,
    });
    let list = lists.next();
    if lists.next().is_some() { None } else { list }
}

/// Series with their values by period, side by side.
fn computed(object: &Map<String, Value>) -> Option<Vec<Map<String, Value>>> {
    object.get("kandrel")?;
    let mut rows: Map<String, Value> = Map::new();
    for result in object.get("results")?.as_array()? {
        let name = result.get("series")?.as_str()?;
        for value in result.get("values")?.as_array()? {
            let period = value.get("period")?.as_str()?;
            let row = rows.entry(period).or_insert_with(|| Value::Object(Map::new())).as_object_mut()?;
            row.insert("period".to_owned(), Value::from(period));
            row.insert(name.trim_matches('`').to_owned(), value.get("value")?.clone());
        }
    }
    objects(rows.into_iter().map(|(_, row)| row).collect())
}

/// One row for each record, below the names in the order they first appear.
fn grid(source: &str, records: &[Map<String, Value>], budget: &Budget) -> Result<Grid, CliError> {
    let mut names: Map<String, Value> = Map::new();
    for record in records {
        for name in record.keys() {
            if !names.contains_key(name) {
                names.insert(name.clone(), Value::Null);
            }
        }
    }
    budget.check_table(source, records.len(), names.len())?;
    let mut grid = Grid::default();
    grid.push(0, names.keys().map(String::as_str));
    for (record, number) in records.iter().zip(1..) {
        let cell = |name: &String| match record.get(name) {
            None | Some(Value::Null) => Ok(String::new()),
            Some(Value::String(text)) => Ok(text.trim().to_owned()),
            Some(value @ (Value::Number(_) | Value::Bool(_))) => Ok(value.to_string()),
            Some(Value::Array(_) | Value::Object(_)) => {
                Err(CliError::data(format!("{source}, record {number}: `{name}` has more than one value"))
                    .advise("each record needs one value for each name"))
            }
        };
        let cells: Vec<String> = names.keys().map(cell).collect::<Result<_, _>>()?;
        grid.push(number, cells.iter().map(String::as_str));
    }
    Ok(grid)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn shape(text: &str) -> (Vec<String>, Vec<Vec<String>>) {
        let table = parse("a.json", text, &Budget::new(None)).unwrap_or_else(|error| panic!("{error}"));
        let rows = table.rows.rows().map(|row| row.cells().map(str::to_owned).collect()).collect();
        (table.header, rows)
    }

    #[test]
    fn records_in_every_wrapping_give_one_table() {
        let one = r#"{"month": "2004-01", "x": 1.5}"#;
        let two = r#"{"month": "2004-02", "y": null, "x": 0.1}"#;
        let wanted = (
            vec!["month".to_owned(), "x".into(), "y".into()],
            vec![
                vec!["2004-01".to_owned(), "1.5".into(), String::new()],
                vec!["2004-02".into(), "0.1".into(), String::new()],
            ],
        );
        assert_eq!(shape(&format!("[{one}, {two}]")), wanted);
        assert_eq!(shape(&format!("{one}\n{two}\n")), wanted);
        assert_eq!(shape(&format!(r#"{{"source": "b", "data": [{one}, {two}]}}"#)), wanted);
    }

    #[test]
    fn what_is_no_list_of_records_is_refused() {
        for text in [
            "[1, 2]",
            "[]",
            "{\"a\": [{}], \"b\": [{}]}",
            "[{\"a\": [1]}]",
            "[{\"a\": 1},",
            "3",
            "[{\"a\": 1, \"a\": 2}]",
        ] {
            assert!(parse("a.json", text, &Budget::new(None)).is_err(), "{text}");
        }
    }
}
