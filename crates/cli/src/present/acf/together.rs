//! The correlograms of several series in one table.

use super::facts::AcfResult;
use super::text::shown_lags;
use crate::document::{Align, Document, Table, TableCell};
use crate::wording;
use crate::wording::{heads, legends};

/// One row a lag, one column a series, before the correlograms of each; none of a single series.
pub fn together(results: &[AcfResult]) -> Option<Document> {
    if results.len() < 2 {
        return None;
    }
    let mut document = Document::default();
    document.paragraph(format!(
        "The autocorrelations at lag 1 lie between {} and {}.",
        at_first_lag(results.iter().min_by(|a, b| first(a).total_cmp(&first(b)))?),
        at_first_lag(results.iter().max_by(|a, b| first(a).total_cmp(&first(b)))?)
    ));
    document.table(table(results));
    document.paragraph(legends::CORRELOGRAMS);
    Some(document)
}

fn first(result: &AcfResult) -> f64 {
    result.acf.lags.first().map_or(0.0, |lag| lag.acf)
}

fn at_first_lag(result: &AcfResult) -> String {
    format!("{} ({})", wording::number(first(result), 2), result.series)
}

fn table(results: &[AcfResult]) -> Table {
    let lags = results.iter().map(|result| result.acf.lags.len()).max().unwrap_or(0);
    let cell = |result: &AcfResult, lag: usize| {
        result.acf.lags.get(lag - 1).map_or(TableCell::Missing, |own| TableCell::number(own.acf, 3))
    };
    let star = |result: &AcfResult, lag: usize| {
        let own = result.acf.lags.get(lag - 1).is_some_and(|own| own.acf.abs() > result.acf.band);
        if own { "*" } else { "" }
    };
    let rows = Table::of(1..=lags).count(heads::LAG, |lag| *lag);
    let season = results.iter().map(|one| one.season).max().unwrap_or(1);
    results
        .iter()
        .fold(rows, |rows, result| {
            rows.column(result.series.clone(), Align::Decimal, |lag| cell(result, *lag))
                .text("", |lag| star(result, *lag))
        })
        .table()
        .showing(shown_lags(season), "further lags")
}
