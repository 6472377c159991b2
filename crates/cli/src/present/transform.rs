//! Computed series, side by side.

use kandrel_core::series::Series;
use kandrel_core::time::Period;
use serde::Serialize;

use crate::document::{Align, Cell, Document, Table};
use crate::words;

/// The contract's result of `transform`.
#[derive(Serialize)]
pub struct TransformResult {
    pub series: String,
    pub values: Vec<PeriodValue>,
}

/// One value and its period.
#[derive(Serialize)]
pub struct PeriodValue {
    pub period: String,
    pub value: f64,
}

/// Puts a result together.
pub fn result(series: &Series) -> TransformResult {
    let value =
        |(t, value): (usize, &f64)| PeriodValue { period: series.period(t).to_string(), value: *value };
    TransformResult {
        series: series.name.clone(),
        values: series.values.iter().enumerate().map(value).collect(),
    }
}

/// One row for each period in which any series has a value.
pub fn document(all: &[Series], time: &str) -> Document {
    let mut document = Document::default();
    let span = all.iter().map(|series| series.start).min().zip(all.iter().map(Series::last).max());
    let Some((first, last)) = span else {
        return document;
    };
    document.paragraph(format!("{} from {first} to {last}.", words::count(all.len(), "column")));
    let names: Vec<String> = all.iter().map(|series| header(&series.name)).collect();
    let mut heads = vec![(time, Align::Left)];
    heads.extend(names.iter().map(|name| (name.as_str(), Align::Decimal)));
    let mut table = Table::new(&heads);
    let length = last.steps_since(first).unwrap_or(0);
    for step in 0..=length {
        let period = first.offset(step);
        let mut row = vec![Cell::text(period.to_string())];
        row.extend(all.iter().map(|series| at(series, period).map_or(Cell::Missing, Cell::Exact)));
        table.rows.push(row);
    }
    document.table(table);
    document
}

/// A column's name alone needs no back-quotes in a header.
fn header(expression: &str) -> String {
    let inner = expression.strip_prefix('`').and_then(|rest| rest.strip_suffix('`'));
    inner.filter(|name| !name.contains('`')).unwrap_or(expression).to_owned()
}

fn at(series: &Series, period: Period) -> Option<f64> {
    let place = period.steps_since(series.start).and_then(|steps| usize::try_from(steps).ok())?;
    series.values.get(place).copied()
}
