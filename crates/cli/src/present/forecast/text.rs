//! A forecast in words, tables and a figure.

use kandrel_core::time::Period;

use super::facts::{ALPHA, ForecastResult, Outcome, StepResult};
use crate::call::{Call, Name};
use crate::document::{Align, Along, Cell, Document, Ink, Interval, Line, Panel, Plot, Table};
use crate::present::diagnosis::DiagnosisResult;
use crate::present::orders::compared;
use crate::wording;

/// An end of an interval in words.
fn end(value: Option<f64>, without: &str) -> String {
    value.map_or_else(|| without.to_owned(), wording::short)
}

/// How the model is called with its transformation and regressors.
fn by(result: &ForecastResult) -> String {
    let of =
        result.transform.as_ref().map_or_else(String::new, |steps| format!(" of {}:{steps}", result.units));
    let beside = match result.with.len() {
        0 => String::new(),
        1..=3 => format!(" beside {}", result.with.join(", ")),
        many => format!(" beside {many} regressors"),
    };
    match result.average.len() {
        0 | 1 => format!("{}{of}{beside}", result.model),
        many => {
            let names: Vec<String> =
                result.average.iter().map(|own| format!("{} of {}", own.model, own.series)).collect();
            format!("the mean of {many} models: {}", wording::joined(&names))
        }
    }
}

/// The finding in one sentence.
pub fn answer(result: &ForecastResult) -> String {
    let Some(last) = result.steps.last() else {
        return format!("{} has no forecast.", result.series);
    };
    format!(
        "{} is foretold at {} for {}, in 95 of 100 cases between {} and {}, by {}.",
        result.units,
        wording::short(last.point),
        last.period,
        end(last.low95, "any low value"),
        end(last.high95, "any high one"),
        by(result)
    )
}

/// The result as a document.
pub fn document(result: &ForecastResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(format!("{}; exact maximum likelihood.", result.sample));
    document.paragraphs(result.diagnosis.iter().map(DiagnosisResult::line));
    document.table(table(result));
    document.plot(as_one_line(plot(result, "")));
    document.list("Reading", reading(result));
    document.commands("Next", next(result, call));
    document
}

/// History and forecast as a terminal draws them: one after the other in one chart.
fn as_one_line(mut plot: Plot) -> Plot {
    for panel in &mut plot.panels {
        panel.lines.truncate(2);
        for line in &mut panel.lines {
            line.ink = Ink::Series(0);
        }
        panel.intervals.clear();
        "Values, then the forecast".clone_into(&mut panel.title);
    }
    plot
}

fn table(result: &ForecastResult) -> Table {
    let label = if result.point == "mean" { "Mean" } else { "Median" };
    let spread = result.steps.first().and_then(|step| step.std_error).unwrap_or(1.0);
    let decimals = wording::decimals(spread);
    Table::of(&result.steps)
        .text("Period", |step| step.period.to_string())
        .number(label, decimals, |step| step.point)
        .number("80 % from", decimals, |step| step.low80)
        .number("to", decimals, |step| step.high80)
        .number("95 % from", decimals, |step| step.low95)
        .number("to", decimals, |step| step.high95)
        .only_if(result.accuracy.is_some(), |rows| rows.number("Actual", decimals, |step| step.actual))
        .table()
}

fn reading(result: &ForecastResult) -> Vec<String> {
    let mut lines = Vec::new();
    if let Some(chosen) = &result.search {
        lines.push(format!(
            "{} {} is the best of {} models by AICc.",
            chosen.why, result.model, chosen.searched
        ));
    }
    lines.extend(compared(&result.rivals));
    if let Some(steps) = result.transform.as_ref().filter(|_| result.transform_advised) {
        lines.push(format!(
            "The spread of {} changes with its level, so the model is of {}:{steps} and carried back (--transform none \
             stays on its own scale).",
            result.units, result.units
        ));
    }
    lines.push(width(result));
    lines.push(match result.point {
        "mean" => "Points are expected values, which lie above the medians where the scale bends upwards."
            .to_owned(),
        _ => {
            "Points are medians: half of what may come lies above (--mean gives expected values).".to_owned()
        }
    });
    lines.extend(result.accuracy.as_ref().map(met));
    if let (Some(paths), Some(seed)) = (&result.paths, result.seed) {
        let count = wording::count(paths.len(), "path");
        lines.push(format!("{count} drawn with seed {seed}: in the JSON, and with --save as CSV."));
    }
    lines.extend(cautions(result));
    lines.push(
        "The intervals count the innovations yet to come and the errors of all estimates, not the choice of the model."
            .to_owned(),
    );
    lines
}

/// How wide the intervals are, and how they grow.
fn width(result: &ForecastResult) -> String {
    let reach = |step: &StepResult| step.low95.zip(step.high95).map(|(low, high)| high - low);
    let ends = result.steps.first().zip(result.steps.last());
    match ends.and_then(|(first, last)| Some((first, reach(first)?, last, reach(last)?))) {
        Some((first, near, last, far)) if result.steps.len() > 1 && near > 0.0 => format!(
            "The 95 % interval is {} wide in {} and {:.1} times as wide in {}.",
            wording::short(near),
            first.period,
            far / near,
            last.period
        ),
        Some((first, near, ..)) => {
            format!("The 95 % interval is {} wide in {}.", wording::short(near), first.period)
        }
        None => "An interval without an end is one whose end the steps cannot carry back.".to_owned(),
    }
}

/// The drawn paths, one column each.
pub fn paths(result: &ForecastResult, time: &str) -> Document {
    let all = result.paths.iter().flatten().zip(1..);
    let value = |path: &[Option<f64>], h: usize| path.get(h).copied().flatten();
    Table::of(result.steps.iter().enumerate())
        .text(time, |(_, step)| step.period.to_string())
        .each(
            all,
            Align::Decimal,
            |(_, number)| format!("path_{number}"),
            |(h, _), (path, _)| value(path, *h).map_or(Cell::Missing, Cell::Exact),
        )
        .table()
        .into()
}

/// How the forecasts met what came to be.
fn met(outcome: &Outcome) -> String {
    let share = outcome.errors.mape.map_or_else(String::new, |mape| format!(", {mape:.2} % of the value"));
    format!(
        "Of {} known values the 80 % interval holds {}, the 95 % interval {}; the forecasts are off by {} on average{share}.",
        outcome.known,
        outcome.inside80,
        outcome.inside95,
        wording::short(outcome.errors.mae)
    )
}

fn cautions(result: &ForecastResult) -> Vec<String> {
    let mut lines = Vec::new();
    if let Some(p) = result.white_noise_p.filter(|p| *p <= ALPHA) {
        lines.push(format!(
            "The residuals of the model are autocorrelated (Ljung-Box, {}): it leaves out something, and the \
             intervals may not hold.",
            wording::p_equals(p)
        ));
    }
    if result.heteroskedastic {
        lines.push(
            "Large errors follow large ones (McLeod-Li): the intervals are right on average, too narrow in rough times \
             and too wide in calm ones."
                .to_owned(),
        );
    }
    if let Some(doubt) = result.warnings.first() {
        lines.push(format!("Against the model speaks that {doubt} (see kandrel fit)."));
    }
    let was_positive = result.history.iter().all(|past| past.value.is_none_or(|value| value > 0.0));
    let below = result.steps.iter().any(|step| step.low95.is_some_and(|low| low < 0.0));
    if was_positive && below {
        lines.push(format!(
            "The interval reaches below nought, where {} never was: on the scale of its logarithm it cannot ({}).",
            result.units,
            wording::with_steps(&result.units, &["ln"])
        ));
    }
    if result.history.len() < result.steps.len() {
        lines.push("So far ahead the model has little to go by: take it as a sketch.".to_owned());
    }
    lines
}

fn next(result: &ForecastResult, typed: &Call) -> Vec<Call> {
    let of_model = |name| {
        typed
            .next(name, [&result.series])
            .with("model", &result.model)
            .with_some("with", wording::term_list(&result.with))
    };
    vec![
        of_model(Name::Forecast)
            .keeping(typed, &["future", "mean", "keep-scale"])
            .with("ahead", result.steps.len())
            .with("figure", "forecast.svg"),
        of_model(Name::Compare),
        of_model(Name::Fit),
    ]
}

/// The forecasts as a table of numbers.
pub fn data(result: &ForecastResult, time: &str) -> Document {
    Table::of(&result.steps)
        .text(time, |step| step.period.to_string())
        .exact("point", |step| step.point)
        .exact("low80", |step| step.low80)
        .exact("high80", |step| step.high80)
        .exact("low95", |step| step.low95)
        .exact("high95", |step| step.high95)
        .exact("std_error", |step| step.std_error)
        .only_if(result.accuracy.is_some(), |rows| rows.exact("actual", |step| step.actual))
        .table()
        .into()
}

/// History, forecast and its two intervals, joined to the last value.
pub fn plot(result: &ForecastResult, source: &str) -> Plot {
    let past = result.history.len();
    let periods: Vec<Period> = result
        .history
        .iter()
        .map(|past| past.period)
        .chain(result.steps.iter().map(|step| step.period))
        .collect();
    let known = result.history.iter().enumerate();
    let history = Line::with_gaps(
        &result.units,
        Ink::Series(0),
        known.map(|(t, past)| past.value.map(|value| (t as f64, value))),
    );
    let origin = result.history.iter().rposition(|past| past.value.is_some());
    let joint = origin.and_then(|t| result.history.get(t)?.value.map(|value| (t as f64, value)));
    let ahead = |value: &dyn Fn(&StepResult) -> Option<f64>| -> Vec<(f64, f64)> {
        let each = result.steps.iter().enumerate();
        each.filter_map(|(h, step)| value(step).map(|value| ((past + h) as f64, value))).collect()
    };
    let forecast = Line {
        name: format!("forecast ({})", result.point),
        ink: Ink::Series(1),
        pieces: vec![joint.into_iter().chain(ahead(&|step| Some(step.point))).collect()],
    };
    let strip =
        |name: &str, low: &dyn Fn(&StepResult) -> Option<f64>, high: &dyn Fn(&StepResult) -> Option<f64>| {
            let ends = result.steps.iter().enumerate();
            let ends = ends.filter_map(|(h, step)| Some(((past + h) as f64, low(step)?, high(step)?)));
            let first = joint.map(|(at, value)| (at, value, value));
            Interval { name: name.to_owned(), ends: first.into_iter().chain(ends).collect() }
        };
    let mut lines = vec![history, forecast];
    if result.accuracy.is_some() {
        let first = joint.into_iter();
        lines.push(Line {
            name: "what came to be".to_owned(),
            ink: Ink::Series(2),
            pieces: vec![first.chain(ahead(&|step| step.actual)).collect()],
        });
    }
    let panel = Panel {
        title: result.units.clone(),
        axis: format!("{}s", result.steps.first().map_or("period", |step| step.period.frequency().noun())),
        along: Along::Periods(periods),
        lines,
        intervals: vec![
            strip("95 of 100 cases", &|step| step.low95, &|step| step.high95),
            strip("80 of 100 cases", &|step| step.low80, &|step| step.high80),
        ],
        ..Panel::default()
    };
    Plot {
        title: answer(result),
        subtitle: format!("{source}: {}; exact maximum likelihood", result.sample),
        foot: String::new(),
        columns: 1,
        panels: vec![panel],
    }
}
