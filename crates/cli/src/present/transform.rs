//! Computed series, side by side.

use std::collections::BTreeMap;

use kandrel_core::series::{Lost, SeriesWithGaps, periods_together};
use kandrel_core::time::Period;
use schemars::JsonSchema;
use serde::Serialize;

use crate::document::{Align, Document, Table, TableCell};
use crate::wording;
use crate::wording::titles;

/// The contract's result of `transform`.
#[derive(JsonSchema, Serialize)]
pub struct TransformResult {
    pub series: String,
    pub lost: Lost,
    pub values: Vec<PeriodValue>,
}

/// One value and its period.
#[derive(JsonSchema, Serialize)]
pub struct PeriodValue {
    pub period: String,
    /// None for a gap that is kept.
    pub value: Option<f64>,
}

/// Puts a result together.
pub fn result(series: &SeriesWithGaps) -> TransformResult {
    let value = |(t, value): (usize, &Option<f64>)| PeriodValue {
        period: series.period(t).to_string(),
        value: *value,
    };
    TransformResult {
        series: series.name.clone(),
        lost: series.lost,
        values: series.cells.iter().enumerate().map(value).collect(),
    }
}

/// One row for each period from the first in which any series has a value to the
/// last.
pub fn document(all: &[SeriesWithGaps], time: &str) -> Document {
    let mut document = Document::default();
    let periods = periods_together(all);
    let (Some(first), Some(last)) = (periods.first(), periods.last()) else {
        return document;
    };
    document.paragraph(format!("{} from {first} to {last}.", wording::count(all.len(), "column")));
    document.list(titles::DROPPED_VALUES, wording::losses(all));
    let columns = all.iter().map(|series| (header(&series.name), known(series)));
    let table = Table::of(&periods).text(time, ToString::to_string).each(
        columns,
        Align::Decimal,
        |(name, _)| name.clone(),
        |period, (_, known)| TableCell::exact(known.get(period).copied()),
    );
    document.table(table.table());
    document
}

fn known(series: &SeriesWithGaps) -> BTreeMap<Period, f64> {
    let cells = series.cells.iter().enumerate();
    cells.filter_map(|(t, cell)| cell.map(|value| (series.period(t), value))).collect()
}

/// A column's name alone needs no back-quotes in a header.
fn header(expression: &str) -> String {
    let inner = expression.strip_prefix('`').and_then(|rest| rest.strip_suffix('`'));
    inner.filter(|name| !name.contains('`')).unwrap_or(expression).to_owned()
}
