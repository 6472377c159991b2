//! A screen of many series in words and a table.

use kandrel_core::verdict::Class;

use super::facts::ScreenRow;
use crate::call::{Call, Name};
use crate::document::{Document, Table};
use crate::wording;
use crate::wording::{heads, legends, test_names, titles};

/// All rows as a document.
pub fn document(rows: &[ScreenRow], typed: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(rows));
    document.paragraph(legends::SCREEN);
    document.table(table(rows));
    document.interpretation(rows.iter().filter(|row| row.review).map(look).collect());
    let first = rows.iter().find(|row| row.review && row.error.is_none());
    let first = first.or(rows.iter().find(|row| row.error.is_none()));
    let next = first.map(|row| {
        let steps: Vec<&str> =
            row.transform.as_deref().filter(|steps| *steps != "none").into_iter().collect();
        let call = typed.next(Name::Stationarity, [wording::with_steps(&row.series, &steps)]);
        let one_file = rows.iter().all(|other| other.source == row.source);
        if one_file { call } else { call.of_file(&row.source) }
    });
    document.commands(titles::NEXT, next.into_iter().collect());
    document
}

fn table(rows: &[ScreenRow]) -> Table {
    let modelled = rows.iter().any(|row| row.model.is_some());
    Table::of(rows)
        .text(heads::SERIES, |row| row.series.clone())
        .text(heads::TRANSFORM, |row| row.transform.clone())
        .text(heads::CLASS, |row| row.class.map(test_names::class))
        .count(heads::ORDER_OF_INTEGRATION, |row| row.integration)
        .count(heads::SEASONAL_ORDER, |row| row.seasonal_integration)
        .only_if(modelled, |rows| {
            let rows = rows.text(heads::MODEL, |row| row.model.clone());
            rows.count(heads::OUTLIERS, |row| row.outliers.as_ref().map(Vec::len))
        })
        .text("", |row| if row.review { "●" } else { "" })
        .table()
}

fn look(row: &ScreenRow) -> String {
    match &row.error {
        Some(error) => format!("{}: {error}", row.series),
        None => format!("{}: {}", row.series, row.reasons.join("; ")),
    }
}

fn answer(rows: &[ScreenRow]) -> String {
    let of = |wanted: Class| rows.iter().filter(|row| row.class == Some(wanted)).count();
    let failed = rows.iter().filter(|row| row.error.is_some()).count();
    let parts: Vec<String> = [
        (of(Class::Stationary), "stationary"),
        (of(Class::TrendStationary), "trend-stationary"),
        (of(Class::TrendBreak), "stationary with a structural break"),
        (of(Class::DifferenceStationary), "with a unit root"),
        (of(Class::SeasonalUnitRoot), "with seasonal unit roots"),
        (of(Class::LongMemory), "with long memory"),
        (of(Class::Inconclusive), "inconclusive"),
        (failed, "without a diagnosis"),
    ]
    .into_iter()
    .filter(|(count, _)| *count > 0)
    .map(|(count, what)| format!("{count} {what}"))
    .collect();
    let look = rows.iter().filter(|row| row.review).count();
    let wants = match look {
        0 => "none flagged for review".to_owned(),
        1 => "1 flagged for review".to_owned(),
        many => format!("{many} flagged for review"),
    };
    format!("Of {} series: {}; {wants}.", rows.len(), parts.join(", "))
}
