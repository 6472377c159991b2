//! Long tables that were given as they are: what to type to have a column for each series.

use std::collections::HashSet;

use kandrel_core::time::Period;

use super::number;
use super::table::Table;
use crate::call::shell_word;
use crate::error::CliError;
use crate::wording;

/// The refusal of a table whose periods repeat because it has a row for each series and period, with the option that
/// reads it; none of a table whose periods repeat for another reason.
pub fn refusal(source: &str, table: &Table, periods: &[Period], time: &[usize]) -> Option<CliError> {
    let rows = table.rows.len();
    let different: HashSet<&Period> = periods.iter().collect();
    // Where few periods repeat, a column that differs there is a remark, not the name of a series.
    if 2 * rows < 3 * different.len() {
        return None;
    }
    let others = || (0..table.header.len()).filter(|place| !time.contains(place));
    let (values, labels): (Vec<usize>, Vec<usize>) = others().partition(|place| holds_numbers(table, *place));
    let numbers = values.iter().copied().filter(|place| counts(table, *place));
    // A series has two rows at least.
    let is_repeated = |place: &usize| 2 * distinct(table, *place).len() <= rows;
    let keys: Vec<usize> = labels.into_iter().chain(numbers).filter(is_repeated).collect();
    let has_value = |key: &usize| values.iter().any(|value| value != key);
    if let Some(key) = keys.iter().find(|key| has_value(key) && is_unique(table, periods, &[**key])) {
        let number = distinct(table, *key).len();
        let error = CliError::data(format!(
            "{source} is a long table: a row for each period and each of {number} series in `{}`",
            table.header[*key]
        ));
        return Some(error.advise(format!("write {}", long_option(table, *key, &values))));
    }
    if values.is_empty() {
        return None;
    }
    let labelled: Vec<usize> = keys.iter().copied().filter(|place| !values.contains(place)).collect();
    if labelled.len() < 2 || !is_unique(table, periods, &labelled) {
        return None;
    }
    let key = *labelled.iter().max_by_key(|place| distinct(table, **place).len())?;
    let pick = |place: &usize| {
        let first = table.rows.row(0).map_or("", |row| row.cell(*place));
        format!("--pick {}", shell_word(&format!("{}={first}", table.header[*place])))
    };
    let picks: Vec<String> = labelled
        .iter()
        .filter(|place| **place != key && distinct(table, **place).len() > 1)
        .map(pick)
        .collect();
    let names: Vec<String> = labelled.iter().map(|place| table.header[*place].clone()).collect();
    let error = CliError::data(format!(
        "{source} is a long table: a row for each period and each {}",
        wording::list(&names)
    ));
    Some(error.advise(format!("write {} {}", picks.join(" "), long_option(table, key, &values))))
}

/// The option with the first column of values, and which others could take its place.
fn long_option(table: &Table, key: usize, values: &[usize]) -> String {
    let mut names = values.iter().filter(|place| **place != key).map(|place| table.header[*place].clone());
    let first = names.next().unwrap_or_default();
    let option = format!("--long {}", shell_word(&format!("{}:{first}", table.header[key])));
    let others: Vec<String> = names.collect();
    if others.is_empty() {
        option
    } else {
        format!("{option} (or {} in place of {first})", wording::first_few(&others))
    }
}

/// Whether most of the cells are numbers, and any is.
fn holds_numbers(table: &Table, place: usize) -> bool {
    let style = number::Style { decimal: table.decimal, missing: Vec::new() };
    let (mut numbers, mut texts) = (0, 0);
    for row in table.rows.rows() {
        match number::read(row.cell(place), &style) {
            number::CellValue::Number(_) => numbers += 1,
            number::CellValue::Text => texts += 1,
            number::CellValue::Missing => {}
        }
    }
    numbers > texts
}

/// Whether a column of numbers may number the series: whole, and few.
fn counts(table: &Table, place: usize) -> bool {
    let is_whole = |cell: &str| !cell.is_empty() && cell.bytes().all(|byte| byte.is_ascii_digit());
    table.rows.rows().all(|row| is_whole(row.cell(place)))
        && 3 * distinct(table, place).len() <= table.rows.len()
}

fn distinct(table: &Table, place: usize) -> HashSet<&str> {
    table.rows.rows().map(|row| row.cell(place)).collect()
}

/// Whether each period occurs once for each value of these columns.
fn is_unique(table: &Table, periods: &[Period], keys: &[usize]) -> bool {
    let mut seen = HashSet::with_capacity(periods.len());
    let rows = table.rows.rows().zip(periods);
    rows.map(|(row, period)| (*period, keys.iter().map(|place| row.cell(*place)).collect::<Vec<_>>()))
        .all(|one| seen.insert(one))
}
