//! A decomposition as a document and as data.

use kandrel_core::decomp::{Kind, SeasonWindow};
use kandrel_core::series::SeriesWithGaps;
use kandrel_core::shape::{SpreadAdvice, spread};

use super::picture::parts_plot;
use super::sentence::{answer, signed};
use super::{Component, DecomposeResult, MethodName, PatternResult, PlaceResult};
use crate::call::{Call, Name};
use crate::document::{Align, Cell, Document, Table};
use crate::wording;

/// A season of more places than this is told by its ends only.
const MOST_PLACES: usize = 24;
/// A season that changes by less than this share of its size has hardly changed.
const HARDLY: f64 = 0.1;

/// The result as a document.
pub fn document(result: &DecomposeResult, series: &SeriesWithGaps, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(format!("{}; {}.", result.sample, method(result)));
    document.plot(parts_plot(result, series, "").of_first_lines());
    document.table(parts(result));
    for pattern in result.patterns.iter().filter(|pattern| pattern.places.len() <= MOST_PLACES) {
        document.table(places(result, pattern));
    }
    document.list("Reading", reading(result, series));
    document.commands("Next", next(result, series, call));
    document
}

fn method(result: &DecomposeResult) -> String {
    let kind = match result.kind {
        Kind::Additive => "parts add up to the series",
        Kind::Multiplicative => "parts multiply to the series",
    };
    let windows: Vec<String> = result
        .windows
        .iter()
        .map(|one| {
            let own = match one.season_window {
                SeasonWindow::Periodic => "season the same every time".to_owned(),
                SeasonWindow::Evolving(window) => format!("season evolving over {window} seasons at a time"),
            };
            let of = if result.windows.len() > 1 { format!(" of {}", one.season) } else { String::new() };
            format!(
                "{}, trend over {}",
                own.replacen("season", &format!("season{of}"), 1),
                wording::count(one.trend_window, "observation")
            )
        })
        .collect();
    match result.method {
        MethodName::Loess => {
            let robust = if result.robust { ", odd values weighed down" } else { "" };
            format!("by local polynomials{robust}, {}; {kind}", windows.join(", "))
        }
        MethodName::Classical => {
            format!("by moving averages over {}; {kind}", wording::count(result.period, "observation"))
        }
    }
}

/// Lowest and highest of each part, and its strength.
fn parts(result: &DecomposeResult) -> Table {
    let mut table = Table::new(&[
        ("Part", Align::Left),
        ("Lowest", Align::Decimal),
        ("in", Align::Left),
        ("Highest", Align::Decimal),
        ("in", Align::Left),
        ("Strength", Align::Decimal),
    ]);
    let mut row = |name: String, value: &dyn Fn(&Component) -> Option<f64>, strength: Option<f64>| {
        let known: Vec<(&str, f64)> =
            result.components.iter().filter_map(|one| Some((one.period.as_str(), value(one)?))).collect();
        let low = known.iter().min_by(|a, b| a.1.total_cmp(&b.1));
        let high = known.iter().max_by(|a, b| a.1.total_cmp(&b.1));
        let (Some(low), Some(high)) = (low, high) else {
            return;
        };
        let decimals = wording::decimals(high.1 - low.1);
        table.rows.push(vec![
            Cell::text(name),
            Cell::number(low.1, decimals),
            Cell::text(low.0),
            Cell::number(high.1, decimals),
            Cell::text(high.0),
            strength.map_or(Cell::text(""), |strength| Cell::number(strength, 2)),
        ]);
    };
    row("series".to_owned(), &|one| one.value, None);
    row("trend".to_owned(), &|one| one.trend, Some(result.strength.trend));
    if result.patterns.len() > 1 {
        for (number, pattern) in result.patterns.iter().enumerate() {
            let strength = result.strength.seasons.get(number).copied();
            row(format!("season of {}", pattern.season), &|one| one.seasons.get(number).copied(), strength);
        }
    } else {
        row("season".to_owned(), &|one| Some(one.season), Some(result.strength.season));
    }
    row("remainder".to_owned(), &|one| one.remainder, None);
    table
}

fn places(result: &DecomposeResult, pattern: &PatternResult) -> Table {
    let evolves = result
        .windows
        .iter()
        .any(|one| one.season == pattern.season && one.season_window != SeasonWindow::Periodic);
    let mut heads = vec![("Place", Align::Left), ("Mean", Align::Decimal)];
    if evolves {
        heads.extend([("First", Align::Decimal), ("Last", Align::Decimal), ("Change", Align::Decimal)]);
    }
    let mut table = Table::new(&heads);
    let decimals = wording::decimals(pattern.first_swing.max(pattern.last_swing))
        .max(if result.kind == Kind::Multiplicative { 3 } else { 0 });
    for place in &pattern.places {
        let mut row = vec![Cell::text(place.place.clone()), Cell::number(place.mean, decimals)];
        if evolves {
            row.extend(
                [place.first, place.last, place.last - place.first]
                    .map(|value| Cell::number(value, decimals)),
            );
        }
        table.rows.push(row);
    }
    table
}

fn reading(result: &DecomposeResult, series: &SeriesWithGaps) -> Vec<String> {
    let mut lines: Vec<String> =
        result.patterns.iter().filter_map(|pattern| change(result, pattern)).collect();
    lines.push(
        "Strength is the share of the variance of part and remainder together that the part explains: 0 for none, \
         1 for all."
            .to_owned(),
    );
    lines.push(remainder(result));
    lines.extend(spread_with_level(result, series));
    if result.method == MethodName::Classical {
        let half = result.period / 2;
        lines.push(format!("The first and the last {half} observations have no trend, so no remainder."));
    } else {
        lines.push(
            "Trend and season of the latest periods rest on one side only and will move as data are added."
                .to_owned(),
        );
    }
    lines
}

/// How a season has changed, and why it was or was not allowed to.
fn change(result: &DecomposeResult, pattern: &PatternResult) -> Option<String> {
    let window = result.windows.iter().find(|one| one.season == pattern.season)?;
    if !pattern.evident {
        return Some(format!(
            "No season of {} is evident: left-out values are foretold no better with it than without; what is shown \
             as one is noise.",
            pattern.season
        ));
    }
    let of = if result.patterns.len() > 1 { format!(" of {}", pattern.season) } else { String::new() };
    let chosen = window.chosen;
    let SeasonWindow::Evolving(years) = window.season_window else {
        let why =
            if chosen { "allowing it to change foretells left-out values no better" } else { "as asked for" };
        return Some(format!("The season{of} is the same every time: {why}."));
    };
    let why =
        if chosen { format!(" (a window of {years} foretells left-out values best)") } else { String::new() };
    if pattern.change < HARDLY {
        return Some(format!(
            "The season{of} has hardly changed, by {:.0} % of its size{why}.",
            100.0 * pattern.change
        ));
    }
    let end = |value: fn(&PlaceResult) -> f64, sign: f64| {
        let order = |a: &&PlaceResult, b: &&PlaceResult| (sign * value(a)).total_cmp(&(sign * value(b)));
        pattern.places.iter().max_by(order).map_or("", |place| place.place.as_str())
    };
    let moved = |name: &str, first: &str, last: &str| {
        if first == last {
            format!("its {name} stayed in {last}")
        } else {
            format!("its {name} moved from {first} to {last}")
        }
    };
    let peak = moved("peak", end(|place| place.first, 1.0), end(|place| place.last, 1.0));
    let trough = moved("trough", end(|place| place.first, -1.0), end(|place| place.last, -1.0));
    Some(format!(
        "From its first to its last time the season{of} changed by {:.0} % of its size{why}: {peak}, {trough}, and \
         its swing went from {} to {}.",
        100.0 * pattern.change,
        wording::short(pattern.first_swing),
        wording::short(pattern.last_swing)
    ))
}

fn remainder(result: &DecomposeResult) -> String {
    let known: Vec<(&str, f64)> =
        result.components.iter().filter_map(|one| Some((one.period.as_str(), one.remainder?))).collect();
    let centre = if result.kind == Kind::Multiplicative { 1.0 } else { 0.0 };
    let farthest = known.iter().max_by(|a, b| (a.1 - centre).abs().total_cmp(&(b.1 - centre).abs()));
    let squares: f64 = known.iter().map(|(_, rest)| (rest - centre).powi(2)).sum();
    let sd = (squares / known.len().max(1) as f64).sqrt();
    let farthest = farthest.map_or(String::new(), |(period, rest)| match result.kind {
        Kind::Additive => format!(", farthest from it in {period} ({})", signed(*rest)),
        Kind::Multiplicative => format!(", farthest from it in {period} ({rest:.3})"),
    });
    match result.kind {
        Kind::Additive => format!(
            "The remainder is centred on nought, with a standard deviation of {}{farthest}.",
            wording::short(sd)
        ),
        Kind::Multiplicative => format!(
            "The remainder is a factor centred on one, as the season is, with a standard deviation of {sd:.3}{farthest}."
        ),
    }
}

/// Whether a product would serve better than a sum.
fn spread_with_level(result: &DecomposeResult, series: &SeriesWithGaps) -> Option<String> {
    let values: Vec<f64> = series.cells.iter().flatten().copied().collect();
    let grows = result.kind == Kind::Additive && result.missing == 0;
    let found = spread(&values, result.period).filter(|_| grows)?;
    (found.advice == SpreadAdvice::Logarithm).then(|| {
        "The swing grows in proportion to the level: --kind multiplicative keeps the season's shape apart from the \
         level."
            .to_owned()
    })
}

fn next(result: &DecomposeResult, series: &SeriesWithGaps, call: &Call) -> Vec<Call> {
    let logged: Vec<&str> = (result.kind == Kind::Multiplicative).then_some("ln").into_iter().collect();
    let parts = call.next(Name::Decompose, [series.name.clone()]).keeping(
        call,
        &[
            "method",
            "kind",
            "season-window",
            "trend-window",
            "season-degree",
            "trend-degree",
            "robust",
            "seasons",
        ],
    );
    let mut calls = vec![parts.with("out", "parts.csv")];
    if result.missing == 0 && result.patterns.len() == 1 {
        let adjusted: Vec<&str> = logged.iter().copied().chain(["deseason"]).collect();
        calls.push(call.next(Name::Outliers, [wording::with_steps(&series.name, &logged)]));
        calls.push(call.next(Name::Stationarity, [wording::with_steps(&series.name, &adjusted)]));
    }
    calls
}

/// Every part of every period, for a file.
pub fn data(result: &DecomposeResult, time: &str) -> Document {
    let several = result.patterns.len() > 1;
    let names: Vec<String> = if several {
        result.patterns.iter().map(|pattern| format!("season_{}", pattern.season)).collect()
    } else {
        vec!["season".to_owned()]
    };
    let mut heads =
        vec![(time, Align::Left), (result.series.as_str(), Align::Decimal), ("trend", Align::Decimal)];
    heads.extend(names.iter().map(|name| (name.as_str(), Align::Decimal)));
    heads.extend([("remainder", Align::Decimal), ("adjusted", Align::Decimal)]);
    let mut table = Table::new(&heads);
    let cell = |value: Option<f64>| value.map_or(Cell::Missing, Cell::Exact);
    for one in &result.components {
        let mut row = vec![Cell::text(one.period.clone()), cell(one.value), cell(one.trend)];
        if several {
            row.extend(one.seasons.iter().map(|season| Cell::Exact(*season)));
        } else {
            row.push(Cell::Exact(one.season));
        }
        row.extend([cell(one.remainder), cell(one.adjusted)]);
        table.rows.push(row);
    }
    let mut document = Document::default();
    document.table(table);
    document
}
