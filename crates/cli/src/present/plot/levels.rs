//! Line plots of one or several series.

use std::cmp::Ordering;
use std::collections::BTreeMap;

use kandrel_core::series::{Lost, SeriesWithGaps, periods_together};
use kandrel_core::time::Period;
use schemars::JsonSchema;
use serde::Serialize;

use super::{PlotResult, Plotted, Setting, known};
use crate::document::to_json;
use crate::document::{Align, Along, Document, Ink, Line, Panel, Plot, Table, TableCell};
use crate::error::CliError;
use crate::present::diagnosis::DiagnosisResult;
use crate::present::signs::SignCounts;
use crate::present::steps;
use crate::wording;
use crate::wording::{heads, titles};

/// How series share the sheet.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Arrangement {
    /// All in one panel.
    Together,
    /// One panel each.
    Panels,
    /// Level and step next to each other, a row for each series.
    Pairs,
}

/// The result of a plot of levels.
#[derive(JsonSchema, Serialize)]
pub struct LevelsResult {
    series: String,
    first: String,
    last: String,
    observations: usize,
    missing: usize,
    lost: Lost,
    mean: f64,
    min: f64,
    min_at: String,
    max: f64,
    max_at: String,
    /// Signs and zero crossings of a series with both signs.
    signs: Option<SignCounts>,
    /// The joint assessment of the series.
    diagnosis: Option<Box<DiagnosisResult>>,
    first_value: f64,
    last_value: f64,
}

/// Lines over time.
pub fn levels(
    all: &[SeriesWithGaps],
    arrangement: Arrangement,
    setting: Setting<'_>,
    diagnoses: Vec<Option<DiagnosisResult>>,
) -> Result<Plotted, CliError> {
    let periods = periods_together(all);
    let with = |(series, diagnosis): (&SeriesWithGaps, Option<DiagnosisResult>)| LevelsResult {
        diagnosis: diagnosis.map(Box::new),
        ..summary(series)
    };
    let summaries: Vec<LevelsResult> = all.iter().zip(diagnoses).map(with).collect();
    let title = answer(all, &summaries, arrangement);
    let (first, last) = (periods.first().copied(), periods.last().copied());
    let span = first.zip(last).map_or(String::new(), |(first, last)| format!(", {first} to {last}"));
    let frequency = all.first().map_or("", |series| series.start.frequency().adjective());
    let gaps = if summaries.iter().any(|summary| summary.missing > 0) { "; gaps are left open" } else { "" };
    let plot = Plot {
        title: title.clone(),
        subtitle: format!("{}{span}, {frequency}{gaps}", setting.source),
        foot: String::new(),
        columns: columns(all.len(), arrangement),
        panels: panels(all, arrangement, &periods),
    };
    let mut document = Document::default();
    document.paragraph(title);
    document.plot(plot.clone());
    document.table(table(&summaries));
    let assessed =
        |one: &LevelsResult| one.diagnosis.as_ref().map(|own| format!("{}: {}.", one.series, own.summary()));
    document.list(titles::JOINT_ASSESSMENT, summaries.iter().filter_map(assessed).collect());
    document.list(titles::DROPPED_VALUES, wording::losses(all));
    let results =
        summaries.into_iter().map(|one| to_json(&PlotResult::Levels(one))).collect::<Result<_, _>>()?;
    Ok(Plotted { plot, document, results })
}

fn columns(count: usize, arrangement: Arrangement) -> usize {
    match arrangement {
        Arrangement::Together => 1,
        Arrangement::Pairs => 2,
        Arrangement::Panels if count <= 4 => 1,
        Arrangement::Panels if count <= 8 => 2,
        Arrangement::Panels => 3,
    }
}

fn panels(all: &[SeriesWithGaps], arrangement: Arrangement, periods: &[Period]) -> Vec<Panel> {
    let panel = |title: String, about: String, lines: Vec<Line>| Panel {
        title,
        about,
        along: Along::Periods(periods.to_vec()),
        axis: periods.first().map_or(String::new(), |first| wording::capitalised(first.frequency().noun())),
        lines,
        ..Panel::default()
    };
    let line = |(number, series): (usize, &SeriesWithGaps)| line(series, periods, Ink::Series(number));
    match (arrangement, all) {
        (Arrangement::Together, [_, _, ..]) => {
            let names: Vec<String> = all.iter().map(|series| series.name.clone()).collect();
            vec![panel(names.join(", "), String::new(), all.iter().enumerate().map(line).collect())]
        }
        _ => all
            .iter()
            .map(|series| {
                panel(
                    series.name.clone(),
                    steps::in_words(&series.name, series.start),
                    vec![line((0, series))],
                )
            })
            .collect(),
    }
}

fn line(series: &SeriesWithGaps, periods: &[Period], ink: Ink) -> Line {
    let start = periods.binary_search(&series.start).unwrap_or(0);
    // Periods of the sheet that the series leaves out are no gaps of its own.
    let place = |t: usize| match &series.dates {
        None => start + t,
        Some(_) => periods.binary_search(&series.period(t)).unwrap_or(start + t),
    };
    let points = series.cells.iter().enumerate().map(|(t, cell)| cell.map(|value| (place(t) as f64, value)));
    Line::with_gaps(&series.name, ink, points)
}

fn summary(series: &SeriesWithGaps) -> LevelsResult {
    let values: Vec<(usize, f64)> = known(series).collect();
    let at = |place: Option<&(usize, f64)>| place.copied().unwrap_or((0, 0.0));
    let lowest = at(values.iter().min_by(|a, b| a.1.total_cmp(&b.1)));
    let highest = at(values.iter().max_by(|a, b| a.1.total_cmp(&b.1)));
    let numbers: Vec<f64> = values.iter().map(|(_, value)| *value).collect();
    let period = |t: usize| series.period(t).to_string();
    LevelsResult {
        series: series.name.clone(),
        first: series.start.to_string(),
        last: period(series.cells.len().saturating_sub(1)),
        observations: values.len(),
        missing: series.cells.len() - values.len(),
        lost: series.lost,
        mean: kandrel_core::num::scale::mean(&numbers),
        min: lowest.1,
        min_at: period(lowest.0),
        max: highest.1,
        max_at: period(highest.0),
        first_value: at(values.first()).1,
        last_value: at(values.last()).1,
        signs: SignCounts::of(numbers.iter().copied()),
        diagnosis: None,
    }
}

/// One period of the first series.
fn noun(all: &[SeriesWithGaps]) -> &'static str {
    all.first().map_or("observation", |series| series.start.frequency().noun())
}

fn answer(all: &[SeriesWithGaps], summaries: &[LevelsResult], arrangement: Arrangement) -> String {
    match summaries {
        [one] if one.max <= one.min => format!("{} is constant at {}.", one.series, wording::short(one.min)),
        [one] => format!(
            "{} lies between {} ({}) and {} ({}){}.",
            one.series,
            wording::short(one.min),
            one.min_at,
            wording::short(one.max),
            one.max_at,
            one.signs
                .map_or_else(String::new, |own| format!("; {}", own.clause(one.observations, noun(all))))
        ),
        [_, _] if arrangement == Arrangement::Together => above(&all[0], &all[1]),
        several => differences_of(several),
    }
}

/// The differences of several series, those with the same ones together.
fn differences_of(summaries: &[LevelsResult]) -> String {
    let mut groups: Vec<(String, Vec<String>)> = Vec::new();
    for one in summaries {
        let own = one.diagnosis.as_ref().map_or_else(
            || "cannot be assessed:".to_owned(),
            |found| format!("{} for", found.differences_clause()),
        );
        match groups.iter_mut().find(|(differences, _)| *differences == own) {
            Some((_, names)) => names.push(one.series.clone()),
            None => groups.push((own, vec![one.series.clone()])),
        }
    }
    let clauses: Vec<String> =
        groups.iter().map(|(own, names)| format!("{own} {}", wording::joined(names))).collect();
    format!("Differences: {}.", clauses.join("; "))
}

/// Which of two series lies above the other, how often, and since when without a change.
fn above(one: &SeriesWithGaps, other: &SeriesWithGaps) -> String {
    let theirs: BTreeMap<Period, f64> = known(other).map(|(t, value)| (other.period(t), value)).collect();
    let pairs: Vec<(Period, Ordering)> = known(one)
        .filter_map(|(t, value)| Some((one.period(t), value.total_cmp(theirs.get(&one.period(t))?))))
        .collect();
    let noun = one.start.frequency().noun();
    let count = |side: Ordering| pairs.iter().filter(|(_, own)| *own == side).count();
    let (greater, less) = (count(Ordering::Greater), count(Ordering::Less));
    let (side, upper, lower) = if greater >= less {
        (Ordering::Greater, &one.name, &other.name)
    } else {
        (Ordering::Less, &other.name, &one.name)
    };
    let times = greater.max(less);
    match (pairs.len(), times) {
        (0, _) => format!("{} and {} have no {noun} in common.", one.name, other.name),
        (all, 0) => format!("{} and {} are equal in all {all} {noun}s.", one.name, other.name),
        (all, times) if all == times => format!("{upper} lies above {lower} in all {all} {noun}s."),
        (all, times) => {
            let since = since(&pairs).map_or_else(String::new, |(period, now)| match now {
                Ordering::Equal => format!("; equal since {period}"),
                now if now == side => format!(", without a change since {period}"),
                _ => format!("; {lower} lies above since {period}"),
            });
            format!("{upper} lies above {lower} in {times} of {all} {noun}s{since}.")
        }
    }
}

/// The period from which on the order of two series does not change, and that order.
fn since(pairs: &[(Period, Ordering)]) -> Option<(Period, Ordering)> {
    let (_, now) = *pairs.last()?;
    pairs.iter().rev().take_while(|(_, own)| *own == now).last().copied()
}

fn table(summaries: &[LevelsResult]) -> Table {
    let number =
        |one: &LevelsResult, value: f64| TableCell::number(value, wording::decimals(one.max - one.min));
    Table::of(summaries)
        .text(heads::SERIES, |one| one.series.clone())
        .count(heads::VALUES, |one| one.observations)
        .column(heads::FIRST, Align::Decimal, |one| number(one, one.first_value))
        .column(heads::LAST, Align::Decimal, |one| number(one, one.last_value))
        .column(heads::MINIMUM, Align::Decimal, |one| number(one, one.min))
        .text(heads::DATE, |one| one.min_at.clone())
        .column(heads::MAXIMUM, Align::Decimal, |one| number(one, one.max))
        .text(heads::DATE, |one| one.max_at.clone())
        .table()
}
