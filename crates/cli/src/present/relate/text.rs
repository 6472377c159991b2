//! Relations as tables.

use super::{CrossResult, Function, MatrixResult, RelateResult, Unit, reading, scatter, sentence};
use crate::call::{Call, Name};
use crate::document::{Align, Along, Cell, Document, Panel, Plot, Table};
use crate::wording;

/// A matrix of more series than this is shown as its closest pairs.
const WIDEST: usize = 8;
/// So many pairs are shown.
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
    document.list("Reading", result.reading.clone());
    document.commands("Next", next(result, call));
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
            pair_of_matrices(document, levels, changes, result.unit.noun);
        }
        Some(changes) => {
            matrix(document, "Correlations of the levels", levels);
            let title = format!("Correlations of the changes from one {} to the next", result.unit.noun);
            matrix(document, &title, changes);
        }
        None if result.is_of_changes => matrix(document, "Correlations of the changes", levels),
        None => matrix(document, "Correlations of the levels", levels),
    }
}

/// Of two series there is one number each.
fn pair_of_matrices(document: &mut Document, levels: &MatrixResult, changes: &MatrixResult, noun: &str) {
    let mut table = Table::new(&[("Of the", Align::Left), ("r", Align::Decimal), ("n", Align::Decimal)]);
    for (what, matrix) in
        [("levels".to_owned(), levels), (format!("changes from one {noun} to the next"), changes)]
    {
        let r = matrix.closest().map_or(Cell::Missing, |(_, _, r)| Cell::number(r, 3));
        table.rows.push(vec![Cell::text(what), r, Cell::Count(matrix.observations)]);
    }
    document.table(table);
}

fn matrix(document: &mut Document, title: &str, matrix: &MatrixResult) {
    let count = matrix.names.len();
    if count > WIDEST {
        document.paragraph(format!(
            "{title}: the closest {} of {} pairs",
            PAIRS.min(count * (count - 1) / 2),
            count * (count - 1) / 2
        ));
        let mut pairs = matrix.pairs();
        pairs.sort_by(|a, b| b.2.abs().total_cmp(&a.2.abs()));
        let mut table = Table::new(&[("Series", Align::Left), ("and", Align::Left), ("r", Align::Decimal)]);
        for (first, second, r) in pairs.into_iter().take(PAIRS) {
            table.rows.push(vec![Cell::text(first), Cell::text(second), Cell::number(r, 2)]);
        }
        document.table(table);
        return;
    }
    document.paragraph(title.to_owned());
    // Columns carry the rows' numbers, so that long names do not widen them.
    let numbers: Vec<String> = (1..=count).map(|number| number.to_string()).collect();
    let mut heads = vec![("", Align::Decimal), ("Series", Align::Left)];
    heads.extend(numbers.iter().map(|number| (number.as_str(), Align::Decimal)));
    let mut table = Table::new(&heads);
    for ((name, values), row) in matrix.names.iter().zip(&matrix.matrix).zip(1..) {
        let mut cells = vec![Cell::Count(row), Cell::text(name.clone())];
        cells.extend(values.iter().take(row).map(|r| Cell::number(*r, 2)));
        table.rows.push(cells);
    }
    document.table(table);
}

/// Lags of both directions beside each other.
fn cross_table(document: &mut Document, pair: &CrossResult) {
    let heads = [format!("{} ahead", pair.first), format!("{} ahead", pair.second)];
    let mut table = Table::new(&[
        ("Lag", Align::Decimal),
        (&heads[0], Align::Decimal),
        ("", Align::Left),
        (&heads[1], Align::Decimal),
        ("", Align::Left),
    ]);
    let marks = |lag: i64| {
        let strongest = lag == pair.of.strongest.lag && pair.of.strongest.stands_out;
        let outside = pair.of.cross.at(lag).is_some_and(|r| r.abs() > pair.of.cross.band);
        let echo = pair.of.echoes.contains(&lag);
        Cell::text(match (strongest, echo, outside) {
            (true, ..) => "* strongest",
            (_, true, _) => "* echo",
            (_, _, true) => "*",
            _ => "",
        })
    };
    let value = |lag: i64| pair.of.cross.at(lag).map_or(Cell::Missing, |r| Cell::number(r, 3));
    for one in pair.of.cross.lags.iter().filter(|one| one.lag >= 0) {
        let lag = one.lag;
        let mut row = vec![Cell::text(lag.to_string()), value(lag), marks(lag)];
        if lag > 0 {
            row.extend([value(-lag), marks(-lag)]);
        }
        table.rows.push(row);
    }
    document.table(table);
    document.paragraph(format!("* outside the band of unrelated series, ±{:.3}", pair.of.cross.band));
}

fn pairs_table(document: &mut Document, all: &[CrossResult]) {
    let mut table = Table::new(&[
        ("First", Align::Left),
        ("Second", Align::Left),
        ("Strongest r", Align::Decimal),
        ("Lag", Align::Decimal),
        ("Leads", Align::Left),
    ]);
    for pair in all {
        let strongest = &pair.of.strongest;
        let leads = match (&strongest.leads, strongest.stands_out) {
            (Some(name), _) => name.clone(),
            (None, true) => "neither".to_owned(),
            (None, false) => "nothing stands out".to_owned(),
        };
        table.rows.push(vec![
            Cell::text(pair.first.clone()),
            Cell::text(pair.second.clone()),
            Cell::number(strongest.r, 2),
            Cell::text(reading::signed(strongest.lag)),
            Cell::text(leads),
        ]);
    }
    document.table(table);
    document.paragraph("Lag: how much earlier the first series moves; negative if the second moves first.");
}

fn scatter_table(document: &mut Document, result: &scatter::ScatterResult) {
    let mut table = Table::new(&[("Lag", Align::Decimal), ("r", Align::Decimal), ("Points", Align::Decimal)]);
    for panel in &result.panels {
        table.rows.push(vec![
            Cell::Count(panel.lag),
            Cell::number(panel.r, 3),
            Cell::Count(panel.observations),
        ]);
    }
    document.table(table);
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
            closest.map(|(first, second, _)| prewhitened([first, second])).into_iter().collect()
        }
        _ => Vec::new(),
    }
}
