//! Outliers in words, tables and a figure.

use std::collections::{BTreeMap, BTreeSet};

use kandrel_core::outlier::{EventKind, Method, Repair};
use kandrel_core::series::Series;
use kandrel_core::shape::{SpreadAdvice, spread};
use kandrel_core::time::{Frequency, Period};

use super::facts::{FoundResult, OutliersResult, name};
use crate::call::{Call, Name};
use crate::document::{Align, Along, Cell, Document, Ink, Line, Mark, Panel, Plot, Table};
use crate::present::diagnosis::DiagnosisResult;
use crate::wording;

/// The finding in one sentence, also the figure's title.
pub fn answer(result: &OutliersResult) -> String {
    let name = &result.series;
    let of = |wanted: fn(EventKind) -> bool| {
        result.found.iter().filter(|one| wanted(one.kind)).collect::<Vec<_>>()
    };
    let values = of(|kind| kind != EventKind::LevelShift);
    let shifts = of(|kind| kind == EventKind::LevelShift);
    let by = |one: &&FoundResult| wording::short(one.value - one.expected).replace('−', "");
    let side = |one: &FoundResult| if one.value > one.expected { "above" } else { "below" };
    let each = |all: &[&FoundResult], tail: &dyn Fn(&&FoundResult) -> String| {
        wording::first_few(&all.iter().map(tail).collect::<Vec<_>>())
    };
    let odd = match values.len() {
        0 => String::new(),
        count => format!(
            "{}: {}",
            wording::count(count, "odd value"),
            each(&values, &|one| format!("{} ({} {} what was expected)", one.period, by(one), side(one)))
        ),
    };
    let moved = match shifts.len() {
        0 => String::new(),
        count => format!(
            "{}: {}",
            wording::count(count, "level shift"),
            each(&shifts, &|one| format!(
                "by {} {} from {} on",
                by(one),
                if one.value > one.expected { "up" } else { "down" },
                one.period
            ))
        ),
    };
    match (odd.is_empty(), moved.is_empty()) {
        (true, true) => format!("{name} has no odd values."),
        (false, true) => format!("{name} has {odd}."),
        (true, false) => format!("{name} has {moved}."),
        (false, false) => format!("{name} has {odd}; and {moved}."),
    }
}

/// The result as a document.
pub fn document(result: &OutliersResult, series: &Series, season: usize, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(format!("{}.", result.sample));
    document.paragraphs(result.diagnosis.iter().map(DiagnosisResult::line));
    document.plot(plot(result, series, "").of_first_lines());
    if !result.found.is_empty() || !result.suspected.is_empty() {
        document.table(table(result));
        document.paragraph(
            "● marked as odd, ○ not enough methods agree. Below each method: how far off it finds the value, in standard deviations; \
             nothing where it finds nothing odd.",
        );
    }
    document.list("Reading", reading(result, series, season));
    document.commands("Next", next(result, call));
    document
}

fn table(result: &OutliersResult) -> Table {
    let mut all: Vec<(&FoundResult, &str)> = result.found.iter().map(|one| (one, "●")).collect();
    all.extend(result.suspected.iter().map(|one| (one, "○")));
    all.sort_by_key(|(one, _)| one.place);
    let farthest = all.iter().map(|(one, _)| (one.value - one.expected).abs()).fold(0.0, f64::max);
    let decimals = wording::decimals(farthest);
    let score = |one: &FoundResult, method: Method| {
        one.scores.get(name(method)).map_or(Cell::text(""), |score| Cell::number(*score, 1))
    };
    Table::of(all)
        .text("", |(_, mark)| *mark)
        .text("Period", |(one, _)| one.period.clone())
        .text("What", |(one, _)| kind(one.kind))
        .number("Value", decimals, |(one, _)| one.value)
        .number("Expected", decimals, |(one, _)| one.expected)
        .each(
            result.methods.iter().copied(),
            Align::Decimal,
            |method| wording::capitalised(name(*method)),
            |(one, _), method| score(one, *method),
        )
        .table()
}

fn kind(kind: EventKind) -> &'static str {
    match kind {
        EventKind::Additive => "value",
        EventKind::LevelShift => "shift",
        EventKind::TemporaryChange => "fading",
    }
}

/// A February of a leap year that stands out points at the days of the months.
fn leap_days(result: &OutliersResult, series: &Series) -> Option<String> {
    let monthly = series.start.frequency() == Frequency::Month;
    let long_february = |one: &&FoundResult| {
        let period = series.period(one.place);
        one.period.ends_with("-02") && period.days() == Some(29) && one.value > one.expected
    };
    let found = result.found.iter().chain(&result.suspected).find(long_february).filter(|_| monthly)?;
    let already = series.name.contains("perday") || series.name.contains("perworkday");
    (!already).then(|| {
        format!(
            "{} had 29 days: sums over a month grow with its days; the step perday, first in the chain, takes that out.",
            found.period
        )
    })
}

/// A spread that grows with the level makes late values look odd.
fn spread_with_level(series: &Series, season: usize) -> Option<String> {
    let found = spread(&series.values, season)?;
    (found.advice == SpreadAdvice::Logarithm).then(|| {
        format!(
            "The spread grows in proportion to the level, so late values look odder than they are: look at {} instead.",
            wording::with_steps(&series.name, &["ln"])
        )
    })
}

fn reading(result: &OutliersResult, series: &Series, season: usize) -> Vec<String> {
    let mut lines = Vec::new();
    let rule = match (result.methods.as_slice(), result.methods.contains(&Method::Likelihood)) {
        ([only], _) => format!("A value is marked where the method {} calls it odd.", name(*only)),
        (_, true) => format!(
            "A value is marked where the likelihood, which alone allows for neighbours that are alike, and another \
             method call it odd, or the likelihood alone is clear ({:.2} standard errors; {:.2} for a level shift, \
             which only it can tell).",
            result.clear, result.clear_shift
        ),
        (_, false) => "A value is marked where two methods call it odd.".to_owned(),
    };
    lines.extend(spread_with_level(series, season));
    lines.push(rule);
    lines.extend(leap_days(result, series));
    if !result.repaired.is_empty() {
        let by = match result.repair {
            Repair::Season => "the mean of the same season in the other years, about the trend",
            Repair::Interpolate => "a straight line between their neighbours, beside the season",
            Repair::Model => "what a model of the other values says",
        };
        let each: Vec<String> = result
            .repaired
            .iter()
            .map(|one| format!("{} {} → {}", one.period, wording::short(one.from), wording::short(one.to)))
            .collect();
        lines.push(format!("Replaced by {by}: {}.", wording::first_few(&each)));
    }
    if result.found.iter().any(|one| one.kind == EventKind::LevelShift) {
        lines.push(
            "A level shift is no odd value and is not repaired: tests and models should know of it instead (see \
             stationarity, or a step as a regressor)."
                .to_owned(),
        );
    }
    if result.found.iter().any(|one| one.kind == EventKind::TemporaryChange) {
        lines.push("Of a temporary change, a jump that fades over the next periods, only the first value is replaced.".to_owned());
    }
    if let Some(period) = &result.judged_from {
        lines.push(format!(
            "The growing window needs a start: it judges no value before {period}; the other methods judge all of them."
        ));
    }
    lines
}

fn next(result: &OutliersResult, typed: &Call) -> Vec<Call> {
    if result.repaired.is_empty() {
        return vec![typed.next(Name::Stationarity, [&result.series])];
    }
    vec![
        typed
            .next(Name::Outliers, [&result.series])
            .keeping(typed, &["methods", "repair"])
            .with("out", "mended.csv"),
        typed.next(Name::Stationarity, [wording::with_steps(&result.series, &["mend"])]),
    ]
}

/// The series with its marks and what was expected; below, how far off each value is.
pub fn plot(result: &OutliersResult, series: &Series, source: &str) -> Plot {
    let periods: Vec<Period> = (0..series.values.len()).map(|t| series.period(t)).collect();
    let line = |name: &str, ink: usize, values: &[f64]| {
        Line::with_gaps(
            name,
            Ink::Series(ink),
            values.iter().enumerate().map(|(t, value)| Some((t as f64, *value))),
        )
    };
    let gaps: Vec<f64> =
        series.values.iter().zip(&result.expected).map(|(value, expected)| value - expected).collect();
    let marks = |value: &dyn Fn(&FoundResult) -> f64| -> Vec<Mark> {
        let mark = |(one, filled): (&FoundResult, bool)| Mark {
            at: one.place as f64,
            value: value(one),
            name: one.period.clone(),
            filled,
        };
        let found = result.found.iter().map(|one| (one, true));
        found.chain(result.suspected.iter().map(|one| (one, false))).map(mark).collect()
    };
    let panel = |title: String, lines: Vec<Line>, marks: Vec<Mark>| Panel {
        title,
        along: Along::Periods(periods.clone()),
        axis: format!("{}s", series.start.frequency().noun()),
        lines,
        marks,
        ..Panel::default()
    };
    let gap_at = |one: &FoundResult| gaps.get(one.place).copied().unwrap_or_default();
    let last = series.last();
    Plot {
        title: answer(result),
        subtitle: format!("{source}, {} to {last}, {}", series.start, wording::count(result.observations, "observation")),
        foot: "Filled: marked as odd. Outlined: called odd by too few methods. Expected: trend and season that odd \
               values do not move, with level shifts."
            .to_owned(),
        columns: 1,
        panels: vec![
            panel(
                "Values".to_owned(),
                vec![line(&result.series, 0, &series.values), line("expected", 1, &result.expected)],
                marks(&|one| one.value),
            ),
            panel("Value less expected".to_owned(), vec![line("value less expected", 4, &gaps)], marks(&gap_at)),
        ],
    }
}

/// Every series repaired, with a column of marks each.
pub fn data(all: &[OutliersResult], series: &[Series], time: &str) -> Document {
    let columns: Vec<BTreeMap<Period, [Cell; 2]>> =
        all.iter().zip(series).map(|(one, own)| repaired(one, own)).collect();
    let periods: BTreeSet<Period> = columns.iter().flat_map(|column| column.keys().copied()).collect();
    let cell = |column: &BTreeMap<Period, [Cell; 2]>, period: &Period, which: usize| {
        column.get(period).map_or(Cell::Missing, |cells| cells[which].clone())
    };
    let rows = Table::of(periods).text(time, Period::to_string);
    let both = all.iter().zip(&columns).fold(rows, |rows, (one, column)| {
        rows.column(one.series.clone(), Align::Decimal, |period| cell(column, period, 0)).column(
            format!("{} mark", one.series),
            Align::Left,
            |period| cell(column, period, 1),
        )
    });
    both.table().into()
}

fn repaired(result: &OutliersResult, series: &Series) -> BTreeMap<Period, [Cell; 2]> {
    let cells = series.values.iter().enumerate().map(|(t, value)| {
        let to = result.repaired.iter().find(|one| one.place == t).map_or(*value, |one| one.to);
        let mark = result
            .found
            .iter()
            .find(|one| one.place == t)
            .map_or(Cell::Missing, |one| Cell::text(kind(one.kind)));
        (series.period(t), [Cell::Exact(to), mark])
    });
    cells.collect()
}
