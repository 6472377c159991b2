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
    if let Some(diagnosis) = &result.diagnosis {
        document.paragraph(diagnosis.line());
    }
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
    let strength = &result.strength;
    let mut parts = vec![
        part(result, "series".to_owned(), &|one| one.value, None),
        part(result, "trend".to_owned(), &|one| one.trend, Some(strength.trend)),
    ];
    if result.patterns.len() > 1 {
        for (number, pattern) in result.patterns.iter().enumerate() {
            let name = format!("season of {}", pattern.season);
            let own = strength.seasons.get(number).copied();
            parts.push(part(result, name, &|one| one.seasons.get(number).copied(), own));
        }
    } else {
        parts.push(part(result, "season".to_owned(), &|one| Some(one.season), Some(strength.season)));
    }
    parts.push(part(result, "remainder".to_owned(), &|one| one.remainder, None));
    let cell = |part: &Part<'_>, value: f64| Cell::number(value, wording::decimals(part.high.1 - part.low.1));
    Table::of(parts.into_iter().flatten())
        .text("Part", |part| part.name.clone())
        .column("Lowest", Align::Decimal, |part| cell(part, part.low.1))
        .text("in", |part| part.low.0)
        .column("Highest", Align::Decimal, |part| cell(part, part.high.1))
        .text("in", |part| part.high.0)
        .column("Strength", Align::Decimal, |part| {
            part.strength.map_or(Cell::text(""), |strength| Cell::number(strength, 2))
        })
        .table()
}

/// A part's lowest and highest value, each with its period.
struct Part<'a> {
    name: String,
    low: (&'a str, f64),
    high: (&'a str, f64),
    strength: Option<f64>,
}

fn part<'a>(
    result: &'a DecomposeResult,
    name: String,
    value: &dyn Fn(&Component) -> Option<f64>,
    strength: Option<f64>,
) -> Option<Part<'a>> {
    let known = || result.components.iter().filter_map(|one| Some((one.period.as_str(), value(one)?)));
    let low = known().min_by(|a, b| a.1.total_cmp(&b.1))?;
    let high = known().max_by(|a, b| a.1.total_cmp(&b.1))?;
    Some(Part { name, low, high, strength })
}

fn places(result: &DecomposeResult, pattern: &PatternResult) -> Table {
    let evolves = result
        .windows
        .iter()
        .any(|one| one.season == pattern.season && one.season_window != SeasonWindow::Periodic);
    let decimals = wording::decimals(pattern.first_swing.max(pattern.last_swing))
        .max(if result.kind == Kind::Multiplicative { 3 } else { 0 });
    Table::of(&pattern.places)
        .text("Place", |place| place.place.clone())
        .number("Mean", decimals, |place| place.mean)
        .only_if(evolves, |rows| {
            rows.number("First", decimals, |place| place.first)
                .number("Last", decimals, |place| place.last)
                .number("Change", decimals, |place| place.last - place.first)
        })
        .table()
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
    let seasons = result.patterns.iter().map(|pattern| pattern.season).enumerate();
    let several = result.patterns.len() > 1;
    let season = |one: &Component, number: usize| {
        one.seasons.get(number).map_or(Cell::Missing, |value| Cell::Exact(*value))
    };
    Table::of(&result.components)
        .text(time, |one| one.period.clone())
        .exact(result.series.clone(), |one| one.value)
        .exact("trend", |one| one.trend)
        .only_if(!several, |rows| rows.exact("season", |one| one.season))
        .only_if(several, |rows| {
            rows.each(
                seasons,
                Align::Decimal,
                |(_, length)| format!("season_{length}"),
                |one, (number, _)| season(one, *number),
            )
        })
        .exact("remainder", |one| one.remainder)
        .exact("adjusted", |one| one.adjusted)
        .table()
        .into()
}
