//! Relations as tables.

use super::{CrossResult, Function, MatrixResult, RelateResult, Unit, reading, scatter, sentence};
use crate::call::{Call, Name};
use crate::document::{Align, Along, Document, Panel, Plot, Table, TableCell};
use crate::wording;
use crate::wording::{heads, legends, titles};

/// A matrix of more series than this is shown as its closest pairs.
const WIDEST: usize = 8;
/// That number of pairs are shown.
const PAIRS: usize = 20;

/// The result as a document.
pub fn document(result: &RelateResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(sentence(result));
    document.paragraph(sample(result));
    if let Some(panels) = &result.scatter {
        document.plot(scatter::plot(panels, &result.unit, "", true));
        scatter_table(&mut document, panels);
    } else if let [pair] = result.cross.as_slice() {
        document.plot(cross_plot(pair, &result.unit));
        cross_table(&mut document, pair);
    } else if !result.cross.is_empty() {
        pairs_table(&mut document, &result.cross);
    } else {
        matrices(&mut document, result);
    }
    document.interpretation(result.reading.clone());
    document.commands(titles::NEXT, next(result, call));
    document
}

fn sample(result: &RelateResult) -> String {
    let observations = result.correlations.as_ref().map(|matrix| matrix.observations);
    let observations = observations.or_else(|| {
        result
            .scatter
            .as_ref()
            .and_then(|scatter| scatter.panels.first())
            .map(|panel| panel.observations + panel.lag)
    });
    let many = wording::count(observations.unwrap_or(0), "observation");
    match result.correlations.as_ref().map_or(1, |matrix| matrix.names.len()) {
        1 => format!("{many}, {} to {}.", result.first, result.last),
        series => format!("{series} series, {many} in common, {} to {}.", result.first, result.last),
    }
}

fn matrices(document: &mut Document, result: &RelateResult) {
    let Some(levels) = &result.correlations else {
        return;
    };
    match &result.changes {
        Some(changes) if levels.names.len() == 2 => {
            pair_of_matrices(document, levels, changes);
        }
        Some(changes) => {
            matrix(document, "Correlations of the levels", levels);
            let title = "Correlations of first differences".to_owned();
            matrix(document, &title, changes);
        }
        None if result.is_of_changes => matrix(document, "Correlations of first differences", levels),
        None => matrix(document, "Correlations of the levels", levels),
    }
}

/// Of two series there is one number each.
fn pair_of_matrices(document: &mut Document, levels: &MatrixResult, changes: &MatrixResult) {
    let both = [("levels".to_owned(), levels), ("first differences".to_owned(), changes)];
    let table = Table::of(both)
        .text(heads::DATA, |(what, _)| what.clone())
        .number(heads::R, 3, |(_, matrix)| matrix.closest().map(|(_, _, r)| r))
        .count(heads::N, |(_, matrix)| matrix.observations);
    document.table(table.table());
}

fn matrix(document: &mut Document, title: &str, matrix: &MatrixResult) {
    let count = matrix.names.len();
    if count > WIDEST {
        let pairs = count * (count - 1) / 2;
        document.paragraph(format!("{title}: the closest {} of {pairs} pairs", PAIRS.min(pairs)));
        document.table(closest_pairs(matrix));
        return;
    }
    document.paragraph(title.to_owned());
    // Columns carry the rows' numbers, so that long names do not widen them.
    let below_diagonal = |(row, values): (usize, &[f64]), column: usize| {
        values
            .get(column - 1)
            .filter(|_| column <= row)
            .map_or(TableCell::text(""), |r| TableCell::number(*r, 2))
    };
    let rows = matrix.names.iter().zip(&matrix.matrix).zip(1..);
    let table = Table::of(rows)
        .count("", |(_, row)| *row)
        .text(heads::SERIES, |((name, _), _)| name.as_str())
        .each(1..=count, Align::Decimal, usize::to_string, |((_, values), row), column| {
            below_diagonal((*row, values), *column)
        });
    document.table(table.table());
}

fn closest_pairs(matrix: &MatrixResult) -> Table {
    let mut pairs = matrix.pairs();
    pairs.sort_by(|a, b| b.2.abs().total_cmp(&a.2.abs()));
    Table::of(pairs.into_iter().take(PAIRS))
        .text(heads::SERIES, |(first, ..)| *first)
        .text(heads::AND, |(_, second, _)| *second)
        .number(heads::R, 2, |(_, _, r)| *r)
        .table()
}

/// Lags of the usual text; more where the strongest lies beyond.
const SHOWN_LAGS: usize = 12;

/// Lags of both directions in one table.
fn cross_table(document: &mut Document, pair: &CrossResult) {
    let function = &pair.of;
    let mark = |lag: i64| {
        let strongest = lag == function.strongest.lag && function.strongest.significant;
        let outside = function.cross.at(lag).is_some_and(|r| r.abs() > function.cross.band);
        match (strongest, function.seasonal_repeats.contains(&lag), outside) {
            (true, ..) => "* strongest",
            (_, true, _) => "* seasonal repetition",
            (_, _, true) => "*",
            _ => "",
        }
    };
    let value = |lag: i64| function.cross.at(lag).map_or(TableCell::Missing, |r| TableCell::number(r, 3));
    // Lag 0 has no other direction.
    let other = |lag: i64| if lag > 0 { value(-lag) } else { TableCell::text("") };
    let table = Table::of(function.cross.lags.iter().map(|one| one.lag).filter(|lag| *lag >= 0))
        .column(heads::LAG, Align::Decimal, |lag| TableCell::text(lag.to_string()))
        .column(format!("{} ahead", pair.first), Align::Decimal, |lag| value(*lag))
        .text("", |lag| mark(*lag))
        .column(format!("{} ahead", pair.second), Align::Decimal, |lag| other(*lag))
        .text("", |lag| if *lag > 0 { mark(-lag) } else { "" });
    let shown = usize::try_from(function.strongest.lag.unsigned_abs())
        .map_or(SHOWN_LAGS, |lag| lag.max(SHOWN_LAGS))
        + 1;
    document.table(table.table().showing(shown, "further lags"));
    document.paragraph(legends::cross_correlogram(function.cross.band));
}

fn pairs_table(document: &mut Document, all: &[CrossResult]) {
    let leads = |pair: &CrossResult| match (&pair.of.strongest.leads, pair.of.strongest.significant) {
        (Some(name), _) => name.clone(),
        (None, true) => "neither".to_owned(),
        (None, false) => "not significant".to_owned(),
    };
    let table = Table::of(all)
        .text(heads::FIRST, |pair| pair.first.clone())
        .text(heads::SECOND, |pair| pair.second.clone())
        .number(heads::STRONGEST_R, 2, |pair| pair.of.strongest.r)
        .column(heads::LAG, Align::Decimal, |pair| TableCell::text(reading::signed(pair.of.strongest.lag)))
        .text(heads::LEADING, |pair| leads(pair));
    document.table(table.table());
    document.paragraph(legends::CROSS_CORRELATION_LAG);
}

fn scatter_table(document: &mut Document, result: &scatter::ScatterResult) {
    let table = Table::of(&result.panels)
        .count(heads::LAG, |panel| panel.lag)
        .number(heads::R, 3, |panel| panel.r)
        .count(heads::POINTS, |panel| panel.observations);
    document.table(table.table());
}

/// The function as bars, for the terminal.
fn cross_plot(pair: &CrossResult, unit: &Unit) -> Plot {
    let bars = |function: &Function| -> Vec<(f64, f64)> {
        function.cross.lags.iter().zip(0_u32..).map(|(one, place)| (f64::from(place), one.r)).collect()
    };
    let panel = |title: String, function: &Function| Panel {
        title,
        along: Along::Points(function.cross.lags.iter().map(|one| reading::signed(one.lag)).collect()),
        axis: "Lag".to_owned(),
        bars: bars(function),
        band: Some(function.cross.band),
        ..Panel::default()
    };
    let title =
        format!("Lag: how many {}s {} is ahead of {} (dotted: band)", unit.noun, pair.first, pair.second);
    let mut panels = vec![panel(title, &pair.of)];
    panels.extend(pair.raw.as_ref().map(|raw| panel("Before prewhitening".to_owned(), raw)));
    Plot { title: String::new(), subtitle: String::new(), foot: String::new(), columns: 1, panels }
}

fn next(result: &RelateResult, typed: &Call) -> Vec<Call> {
    let relate = |names: [&str; 2]| typed.next(Name::Relate, names);
    let prewhitened = |names| relate(names).keeping(typed, &["lags"]).flag("cross").flag("prewhiten");
    match (result.cross.as_slice(), &result.scatter, &result.correlations) {
        ([pair], ..) if pair.filter.is_none() => vec![prewhitened([&pair.first, &pair.second])],
        ([pair], ..) if pair.of.strongest.leads.as_ref() == Some(&pair.second) => {
            vec![relate([&pair.second, &pair.first]).flag("scatter")]
        }
        ([pair], ..) => vec![relate([&pair.first, &pair.second]).flag("scatter")],
        ([], None, Some(matrix)) => {
            let closest = result.changes.as_ref().unwrap_or(matrix).closest();
            let both = closest.map(|(first, second, _)| [first, second]);
            // Levels with unit roots may be cointegrated.
            let is_integrated = |name: &str| {
                result.diagnoses.iter().any(|one| one.series == name && one.integration() > Some(0))
            };
            let integrated = both.filter(|names| names.iter().all(|name| is_integrated(name)));
            let cointegration = integrated.map(|names| typed.next(Name::Cointegration, names));
            both.map(prewhitened).into_iter().chain(cointegration).collect()
        }
        _ => Vec::new(),
    }
}
