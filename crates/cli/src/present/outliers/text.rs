//! Outliers in words, tables and a figure.

use std::collections::{BTreeMap, BTreeSet};

use kandrel_core::outlier::{EventKind, Method, Repair};
use kandrel_core::series::Series;
use kandrel_core::time::{Frequency, Period};

use super::facts::{FoundResult, OutliersResult, name};
use crate::call::{Call, Name};
use crate::document::{Align, Along, Document, Ink, Line, Mark, Panel, Plot, Table, TableCell};
use crate::present::diagnosis::DiagnosisResult;
use crate::wording;
use crate::wording::{heads, legends, titles};

/// The finding in one sentence, also the figure's title.
pub fn answer(result: &OutliersResult) -> String {
    let name = &result.series;
    let of = |wanted: fn(EventKind) -> bool| {
        result.outliers.iter().filter(|one| wanted(one.kind)).collect::<Vec<_>>()
    };
    let values = of(|kind| kind != EventKind::LevelShift);
    let shifts = of(|kind| kind == EventKind::LevelShift);
    let by = |one: &&FoundResult| wording::short((one.value - one.expected).abs());
    let side = |one: &FoundResult| if one.value > one.expected { "above" } else { "below" };
    let each = |all: &[&FoundResult], tail: &dyn Fn(&&FoundResult) -> String| {
        wording::first_few(&all.iter().map(tail).collect::<Vec<_>>())
    };
    let odd = match values.len() {
        0 => String::new(),
        count => format!(
            "{}: {}",
            wording::count(count, "outlier"),
            each(&values, &|one| format!("{} ({} {} its expected value)", one.period, by(one), side(one)))
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
        (true, true) => format!("{name} has no outliers."),
        (false, true) => format!("{name} has {odd}."),
        (true, false) => format!("{name} has {moved}."),
        (false, false) => format!("{name} has {odd}; and {moved}."),
    }
}

/// The result as a document.
pub fn document(result: &OutliersResult, series: &Series, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    let scale = match result.transformation.as_str() {
        "none" => String::new(),
        step => format!("; outliers detected in {}", wording::with_steps(&result.series, &[step])),
    };
    document.paragraph(format!("{}{scale}.", result.sample));
    document.paragraphs(result.diagnosis.iter().map(DiagnosisResult::line));
    document.paragraphs(effect(result));
    document.plot(plot(result, series, "").of_first_lines());
    if !result.outliers.is_empty() || !result.candidates.is_empty() {
        document.table(table(result));
        document.paragraph(legends::OUTLIERS);
    }
    document.interpretation(reading(result, series));
    document.commands(titles::NEXT, next(result, call));
    document
}

/// What replacing the outliers makes of the joint assessment.
fn effect(result: &OutliersResult) -> Option<String> {
    let (own, after) = (result.diagnosis.as_ref()?, result.diagnosis_after_replacement.as_ref()?);
    let [before, then] = [own.summary(), after.summary()];
    Some(if before == then {
        "With the outliers replaced the joint assessment is the same.".to_owned()
    } else {
        format!("With the outliers replaced: {then}.")
    })
}

fn table(result: &OutliersResult) -> Table {
    let mut all: Vec<(&FoundResult, &str)> = result.outliers.iter().map(|one| (one, "●")).collect();
    all.extend(result.candidates.iter().map(|one| (one, "○")));
    all.sort_by_key(|(one, _)| one.place);
    let farthest = all.iter().map(|(one, _)| (one.value - one.expected).abs()).fold(0.0, f64::max);
    let decimals = wording::decimals(farthest);
    let score = |one: &FoundResult, method: Method| {
        one.scores.get(name(method)).map_or(TableCell::text(""), |score| TableCell::number(*score, 1))
    };
    Table::of(all)
        .text("", |(_, mark)| *mark)
        .text(heads::PERIOD, |(one, _)| one.period.clone())
        .text(heads::TYPE, |(one, _)| kind(one.kind))
        .number(heads::VALUE, decimals, |(one, _)| one.value)
        .number(heads::EXPECTED, decimals, |(one, _)| one.expected)
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
        EventKind::Additive => "AO",
        EventKind::LevelShift => "LS",
        EventKind::TemporaryChange => "TC",
    }
}

/// An outlying February of a leap year points to the length of the months.
fn leap_days(result: &OutliersResult, series: &Series) -> Option<String> {
    let monthly = series.start.frequency() == Frequency::Month;
    let long_february = |one: &&FoundResult| {
        let period = series.period(one.place);
        one.period.ends_with("-02") && period.days() == Some(29) && one.value > one.expected
    };
    let found = result.outliers.iter().chain(&result.candidates).find(long_february).filter(|_| monthly)?;
    let already = series.name.contains("perday") || series.name.contains("perworkday");
    (!already).then(|| {
        format!(
            "{} had 29 days; monthly totals depend on the number of days, which the step perday, first in the chain, adjusts for.",
            found.period
        )
    })
}

fn reading(result: &OutliersResult, series: &Series) -> Vec<String> {
    let mut lines = Vec::new();
    let rule = match (result.methods.as_slice(), result.methods.contains(&Method::Likelihood)) {
        ([only], _) => format!("An observation is flagged if the method {} detects it.", name(*only)),
        (_, true) => format!(
            "An observation is flagged if the likelihood-ratio method (the only one that allows for autocorrelation) and at \
             least one other method detect it, or if the likelihood-ratio statistic alone exceeds {:.2} standard errors \
             ({:.2} for a level shift, which only it detects).",
            result.threshold, result.threshold_level_shift
        ),
        (_, false) => "An observation is flagged if two methods detect it.".to_owned(),
    };
    lines.push(rule);
    lines.extend(alone(result));
    lines.extend(leap_days(result, series));
    if !result.replaced.is_empty() {
        let by = match result.replacement {
            Repair::SeasonalMean => match series.start.frequency() {
                Frequency::Month => {
                    "the mean of the same month in other years (their middle half), around the trend"
                }
                Frequency::Quarter => {
                    "the mean of the same quarter in other years (their middle half), around the trend"
                }
                _ => "the mean of the same position in other seasonal cycles, around the trend",
            },
            Repair::Interpolate => {
                "linear interpolation between neighbouring values, plus the seasonal component"
            }
            Repair::Model => "the prediction of a model estimated from the other values",
        };
        let each: Vec<String> = result
            .replaced
            .iter()
            .map(|one| format!("{} {} → {}", one.period, wording::short(one.from), wording::short(one.to)))
            .collect();
        lines.push(format!("Replaced by {by}: {}.", wording::first_few(&each)));
    }
    if result.outliers.iter().any(|one| one.kind == EventKind::LevelShift) {
        lines.push(
            "A level shift is not an outlier and is not adjusted; allow for it in tests and models (--with step=PERIOD)."
                .to_owned(),
        );
    }
    if result.outliers.iter().any(|one| one.kind == EventKind::TemporaryChange) {
        lines.push(
            "A temporary change decays over the following periods; only its first value is replaced."
                .to_owned(),
        );
    }
    if let Some(period) = &result.first_tested {
        lines.push(format!(
            "The expanding-window method tests observations from {period} on; the other methods test all."
        ));
    }
    lines
}

/// Values that one method flags without the others, which the table does not list.
fn alone(result: &OutliersResult) -> Option<String> {
    let all: usize = result.flagged_alone.values().sum();
    let by = result.flagged_alone.iter().map(|(method, count)| format!("{count} by {method}"));
    (all > 0).then(|| {
        format!(
            "{} detected by one method only {} not listed ({}).",
            wording::count(all, "further value"),
            if all == 1 { "is" } else { "are" },
            by.collect::<Vec<_>>().join(", ")
        )
    })
}

fn next(result: &OutliersResult, typed: &Call) -> Vec<Call> {
    if result.replaced.is_empty() {
        return vec![typed.next(Name::Stationarity, [&result.series])];
    }
    vec![
        typed
            .next(Name::Outliers, [&result.series])
            .keeping(typed, &["methods", "repair"])
            .with("out", "repaired.csv"),
        typed.next(Name::Stationarity, [wording::with_steps(&result.series, &["repair"])]),
    ]
}

/// The series with its outliers and expected values; below, the deviations.
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
        let found = result.outliers.iter().map(|one| (one, true));
        found.chain(result.candidates.iter().map(|one| (one, false))).map(mark).collect()
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
        foot: "Filled: outliers. Outlined: candidates (one more method would flag them). Expected: robust trend and seasonal component, \
               with level shifts."
            .to_owned(),
        columns: 1,
        panels: vec![
            panel(
                "Values".to_owned(),
                vec![line(&result.series, 0, &series.values), line("expected", 1, &result.expected)],
                marks(&|one| one.value),
            ),
            panel("Deviation from expected value".to_owned(), vec![line("deviation", 4, &gaps)], marks(&gap_at)),
        ],
    }
}

/// Every outlier-adjusted series with a column of flags.
pub fn data(all: &[OutliersResult], series: &[Series], time: &str) -> Document {
    let columns: Vec<BTreeMap<Period, [TableCell; 2]>> =
        all.iter().zip(series).map(|(one, own)| repaired(one, own)).collect();
    let periods: BTreeSet<Period> = columns.iter().flat_map(|column| column.keys().copied()).collect();
    let cell = |column: &BTreeMap<Period, [TableCell; 2]>, period: &Period, which: usize| {
        column.get(period).map_or(TableCell::Missing, |cells| cells[which].clone())
    };
    let rows = Table::of(periods).text(time, Period::to_string);
    let both = all.iter().zip(&columns).fold(rows, |rows, (one, column)| {
        rows.column(one.series.clone(), Align::Decimal, |period| cell(column, period, 0)).column(
            format!("{} type", one.series),
            Align::Left,
            |period| cell(column, period, 1),
        )
    });
    both.table().into()
}

fn repaired(result: &OutliersResult, series: &Series) -> BTreeMap<Period, [TableCell; 2]> {
    let cells = series.values.iter().enumerate().map(|(t, value)| {
        let to = result.replaced.iter().find(|one| one.place == t).map_or(*value, |one| one.to);
        let mark = result
            .outliers
            .iter()
            .find(|one| one.place == t)
            .map_or(TableCell::Missing, |one| TableCell::text(kind(one.kind)));
        (series.period(t), [TableCell::exact(to), mark])
    });
    cells.collect()
}
