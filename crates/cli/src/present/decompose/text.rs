//! A decomposition as a document and as data.

use kandrel_core::decomp::{DecompositionKind, SeasonWindow};
use kandrel_core::series::SeriesWithGaps;

use super::picture::parts_plot;
use super::sentence::{answer, signed};
use super::{Component, DecomposeResult, MethodName, PatternResult, PositionResult, Rule};
use crate::call::{Call, Name};
use crate::document::{Align, Document, Table, TableCell};
use crate::wording;
use crate::wording::{heads, titles};

/// A seasonal component with more positions than this is described by its extremes only.
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
    document.detail("seasonal pattern", |inner| {
        let short = result.patterns.iter().filter(|pattern| pattern.positions.len() <= MOST_PLACES);
        short.for_each(|pattern| inner.table(places(result, pattern)));
    });
    document.interpretation(reading(result));
    document.commands(titles::NEXT, next(result, series, call));
    document
}

fn method(result: &DecomposeResult) -> String {
    let kind = match (result.kind, result.kind_from) {
        (DecompositionKind::Additive, _) => "additive",
        (DecompositionKind::Multiplicative, Some(Rule::Assessment)) => {
            "multiplicative, as the variance increases with the level"
        }
        (DecompositionKind::Multiplicative, _) => "multiplicative",
    };
    let windows: Vec<String> = result
        .windows
        .iter()
        .map(|one| {
            let own = match one.seasonal_window {
                SeasonWindow::Periodic => "fixed seasonal pattern".to_owned(),
                SeasonWindow::Evolving(window) => format!("seasonal window of {window} years"),
            };
            let of =
                if result.windows.len() > 1 { format!(" (period {})", one.season) } else { String::new() };
            format!("{own}{of}, trend window of {}", wording::count(one.trend_window, "observation"))
        })
        .collect();
    match result.method {
        MethodName::Loess => {
            let robust = if result.robust { ", outliers down-weighted" } else { "" };
            format!("local polynomials{robust}, {}; {kind}", windows.join(", "))
        }
        MethodName::Classical => {
            format!("moving averages over {}; {kind}", wording::count(result.period, "observation"))
        }
    }
}

/// Minimum, maximum and strength of each component.
fn parts(result: &DecomposeResult) -> Table {
    let strength = &result.strength;
    let mut parts = vec![
        part(result, "series".to_owned(), &|one| one.value, None),
        part(result, "trend".to_owned(), &|one| one.trend, Some(strength.trend)),
    ];
    if result.patterns.len() > 1 {
        for (number, pattern) in result.patterns.iter().enumerate() {
            let name = format!("seasonal, period {}", pattern.season);
            let own = strength.seasons.get(number).copied();
            parts.push(part(result, name, &|one| one.seasons.get(number).copied(), own));
        }
    } else {
        parts.push(part(result, "seasonal".to_owned(), &|one| Some(one.seasonal), Some(strength.season)));
    }
    parts.push(part(result, "irregular".to_owned(), &|one| one.irregular, None));
    let cell =
        |part: &Part<'_>, value: f64| TableCell::number(value, wording::decimals(part.high.1 - part.low.1));
    Table::of(parts.into_iter().flatten())
        .text(heads::COMPONENT, |part| part.name.clone())
        .column(heads::MINIMUM, Align::Decimal, |part| cell(part, part.low.1))
        .text(heads::DATE, |part| part.low.0)
        .column(heads::MAXIMUM, Align::Decimal, |part| cell(part, part.high.1))
        .text(heads::DATE, |part| part.high.0)
        .column(heads::STRENGTH, Align::Decimal, |part| {
            part.strength.map_or(TableCell::text(""), |strength| TableCell::number(strength, 2))
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
        .any(|one| one.season == pattern.season && one.seasonal_window != SeasonWindow::Periodic);
    let decimals = wording::decimals(pattern.first_amplitude.max(pattern.last_amplitude))
        .max(if result.kind == DecompositionKind::Multiplicative { 3 } else { 0 });
    Table::of(&pattern.positions)
        .text(heads::POSITION, |place| place.position.clone())
        .number(heads::MEAN, decimals, |place| place.mean)
        .only_if(evolves, |rows| {
            rows.number(heads::FIRST, decimals, |place| place.first)
                .number(heads::LAST, decimals, |place| place.last)
                .number(heads::CHANGE, decimals, |place| place.last - place.first)
        })
        .table()
}

fn reading(result: &DecomposeResult) -> Vec<String> {
    let mut lines: Vec<String> =
        result.patterns.iter().filter_map(|pattern| change(result, pattern)).collect();
    lines.push(
        "Strength: proportion of the variance of component and irregular together that the component \
          explains, from 0 to 1."
            .to_owned(),
    );
    lines.push(remainder(result));
    if result.method == MethodName::Classical {
        let half = result.period / 2;
        lines.push(format!(
            "The first and the last {half} observations have no trend and so no irregular component."
        ));
    } else {
        lines.push(
            "Trend and seasonal component of the latest periods are one-sided estimates and will be revised \
              as data are added."
                .to_owned(),
        );
    }
    lines
}

/// How a season has changed, and why it was or was not allowed to.
fn change(result: &DecomposeResult, pattern: &PatternResult) -> Option<String> {
    let window = result.windows.iter().find(|one| one.season == pattern.season)?;
    if !pattern.seasonality_detected {
        return Some(format!(
            "No seasonality of period {} is detected ({}); the component shown is noise.",
            pattern.season,
            if result.diagnosis.as_ref().is_some_and(|found| found.season == pattern.season) {
                "joint assessment"
            } else {
                "cross-validation"
            }
        ));
    }
    let of = if result.patterns.len() > 1 { format!(" of {}", pattern.season) } else { String::new() };
    let chosen = window.chosen;
    let SeasonWindow::Evolving(years) = window.seasonal_window else {
        let own = result.own_diagnosis().filter(|own| own.season == pattern.season);
        if let Some(at) = own.and_then(|own| own.pattern_changes_at.as_ref()) {
            return Some(format!(
                "One seasonal pattern{of} is shown; the joint assessment finds that it changes in {at}: decompose both \
                 parts with --sample."
            ));
        }
        let why = match result.seasonal_window_from {
            Rule::Option => "as requested",
            Rule::Assessment => "the joint assessment finds deterministic seasonality",
            Rule::CrossValidation => "an evolving pattern has no lower cross-validation error",
        };
        return Some(format!("The seasonal pattern{of} is constant: {why}."));
    };
    let why = if chosen {
        format!(" (seasonal window of {years}, chosen by cross-validation)")
    } else {
        String::new()
    };
    if pattern.change < HARDLY {
        return Some(format!(
            "The seasonal pattern{of} is nearly constant: it changed by {} % of its magnitude{why}.",
            wording::number(100.0 * pattern.change, 0)
        ));
    }
    let end = |value: fn(&PositionResult) -> f64, sign: f64| {
        let order =
            |a: &&PositionResult, b: &&PositionResult| (sign * value(a)).total_cmp(&(sign * value(b)));
        pattern.positions.iter().max_by(order).map_or("", |place| place.position.as_str())
    };
    let moved = |name: &str, first: &str, last: &str| {
        if first == last {
            format!("{name} in {last} throughout")
        } else {
            format!("{name} from {first} to {last}")
        }
    };
    let peak = moved("peak", end(|place| place.first, 1.0), end(|place| place.last, 1.0));
    let trough = moved("trough", end(|place| place.first, -1.0), end(|place| place.last, -1.0));
    Some(format!(
        "Between the first and the last cycle the seasonal pattern{of} changed by {} % of its \
          magnitude{why}: {peak}, {trough}, amplitude from {} to {}.",
        wording::number(100.0 * pattern.change, 0),
        wording::short(pattern.first_amplitude),
        wording::short(pattern.last_amplitude)
    ))
}

fn remainder(result: &DecomposeResult) -> String {
    let known: Vec<(&str, f64)> =
        result.components.iter().filter_map(|one| Some((one.period.as_str(), one.irregular?))).collect();
    let centre = if result.kind == DecompositionKind::Multiplicative { 1.0 } else { 0.0 };
    let farthest = known.iter().max_by(|a, b| (a.1 - centre).abs().total_cmp(&(b.1 - centre).abs()));
    let squares: f64 = known.iter().map(|(_, rest)| (rest - centre).powi(2)).sum();
    let sd = (squares / known.len().max(1) as f64).sqrt();
    let farthest = farthest.map_or(String::new(), |(period, rest)| match result.kind {
        DecompositionKind::Additive => format!(", largest deviation in {period} ({})", signed(*rest)),
        DecompositionKind::Multiplicative => format!(", largest deviation in {period} ({rest:.3})"),
    });
    match result.kind {
        DecompositionKind::Additive => format!(
            "The irregular component has mean zero and a standard deviation of {}{farthest}.",
            wording::short(sd)
        ),
        DecompositionKind::Multiplicative => format!(
            "The irregular component is a factor with mean one and a standard deviation of {sd:.3}{farthest}."
        ),
    }
}

fn next(result: &DecomposeResult, series: &SeriesWithGaps, call: &Call) -> Vec<Call> {
    let logged: Vec<&str> =
        (result.kind == DecompositionKind::Multiplicative).then_some("ln").into_iter().collect();
    let parts = call.next(Name::Decompose, [series.name.clone()]).keeping(
        call,
        &[
            "method",
            "kind",
            "seasonal-window",
            "trend-window",
            "seasonal-degree",
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
    let season = |one: &Component, number: usize| TableCell::exact(one.seasons.get(number).copied());
    Table::of(&result.components)
        .text(time, |one| one.period.clone())
        .exact(result.series.clone(), |one| one.value)
        .exact(heads::CSV_TREND, |one| one.trend)
        .only_if(!several, |rows| rows.exact(heads::CSV_SEASONAL, |one| one.seasonal))
        .only_if(several, |rows| {
            rows.each(
                seasons,
                Align::Decimal,
                |(_, length)| format!("seasonal_{length}"),
                |one, (number, _)| season(one, *number),
            )
        })
        .exact(heads::CSV_IRREGULAR, |one| one.irregular)
        .exact(heads::CSV_SEASONALLY_ADJUSTED, |one| one.seasonally_adjusted)
        .table()
        .into()
}
