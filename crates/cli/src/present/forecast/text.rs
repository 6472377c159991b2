//! A forecast in words, tables and a figure.

use kandrel_core::time::Period;

use super::facts::{
    ALPHA, ForecastResult, IntervalResult, MemberResult, Outcome, ScaleResult, StepResult, WeightedModel,
};
use crate::call::{Call, Name};
use crate::document::{Align, Along, Document, Ink, Interval, Line, Panel, Plot, Rows, Table, TableCell};
use crate::present::diagnosis::DiagnosisResult;
use crate::present::orders::{compared, too_many_parameters, without_season};
use crate::wording;
use crate::wording::{heads, titles};

/// A level as it is written: 95, 99.5.
fn level(level: f64) -> String {
    level.to_string()
}

/// An interval in words.
fn interval(own: &IntervalResult) -> String {
    let limits = match (own.lower, own.upper) {
        (Some(lower), Some(upper)) => format!("{} to {}", wording::short(lower), wording::short(upper)),
        (None, Some(upper)) => format!("below {}", wording::short(upper)),
        (Some(lower), None) => format!("above {}", wording::short(lower)),
        (None, None) => "without limits".to_owned(),
    };
    format!("{} % prediction interval {limits}", level(own.level))
}

/// The model with its regressors and the series that it is fitted to.
fn from(result: &ForecastResult) -> String {
    match result.average.len() {
        0 | 1 => format!("{}{} fitted to {}", result.model, wording::with_terms(&result.with), result.series),
        many => {
            let name = |own: &WeightedModel| {
                let MemberResult { series, model, with: terms } = &own.model;
                format!(
                    "{model}{} fitted to {series} ({})",
                    wording::with_terms(terms),
                    wording::probability(own.weight)
                )
            };
            let names: Vec<String> = result.average.iter().map(name).collect();
            format!("the weighted average of {many} models: {}", wording::joined(&names))
        }
    }
}

/// The finding in one sentence.
pub fn answer(result: &ForecastResult) -> String {
    let Some(last) = result.steps.last() else {
        return format!("{} has no forecast.", result.series);
    };
    let interval = last.widest().map_or_else(String::new, |own| format!(" ({})", interval(own)));
    format!(
        "Forecast of {} for {}: {}{interval}, from {}.",
        result.units,
        last.period,
        wording::short(last.point),
        from(result)
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
    document.interpretation(reading(result));
    document.commands(titles::NEXT, next(result, call));
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

/// Positions of the intervals from the widest to the narrowest.
fn from_widest(result: &ForecastResult) -> Vec<(usize, f64)> {
    let levels = result.steps.first().map_or(&[][..], |step| &step.intervals);
    levels.iter().map(|own| own.level).enumerate().rev().collect()
}

/// Lower limits from the widest interval inwards, the point forecast, and the upper limits outwards.
fn fan<'a>(
    rows: Rows<&'a StepResult>,
    result: &ForecastResult,
    heads: [&str; 3],
    cell: impl Fn(f64) -> TableCell + Copy,
) -> Rows<&'a StepResult> {
    let [lower, point, upper] = heads;
    let limit = |of: fn(&IntervalResult) -> Option<f64>| {
        move |step: &&StepResult, (place, _): &(usize, f64)| {
            step.intervals.get(*place).and_then(of).map_or(TableCell::Missing, cell)
        }
    };
    let outwards = from_widest(result).into_iter().rev();
    rows.each(from_widest(result), Align::Decimal, |(_, own)| named(lower, *own), limit(|own| own.lower))
        .column(point, Align::Decimal, |step| cell(step.point))
        .each(outwards, Align::Decimal, |(_, own)| named(upper, *own), limit(|own| own.upper))
}

/// A head with its level in place of the mark.
fn named(head: &str, own: f64) -> String {
    head.replace('#', &level(own))
}

fn table(result: &ForecastResult) -> Table {
    let point = if result.point == "mean" { "Mean" } else { "Median" };
    let scale = result.steps.first().and_then(|step| step.std_error).unwrap_or(1.0);
    let decimals = wording::decimals(scale);
    let number = |value| TableCell::number(value, decimals);
    let rows = Table::of(&result.steps).text(heads::PERIOD, |step| step.period.to_string());
    fan(rows, result, ["Lower # %", point, "Upper # %"], number)
        .only_if(result.accuracy.is_some(), |rows| rows.number(heads::ACTUAL, decimals, |step| step.actual))
        .table()
}

fn reading(result: &ForecastResult) -> Vec<String> {
    let mut lines = Vec::new();
    if let Some(chosen) = &result.search {
        lines.push(format!(
            "{} {} has the lowest AICc of {} models.",
            chosen.why, result.model, chosen.searched
        ));
    }
    lines.extend(compared(&result.rivals));
    if let Some(own) = &result.search {
        lines.extend(without_season(own.season, own.needed_for_season));
        lines.extend(too_many_parameters(own.parameters, result.sample.observations));
    }
    lines.extend(scale(result));
    lines.extend(result.accuracy.as_ref().map(outcome));
    lines.extend(cautions(result));
    lines.push(coverage(result));
    lines.extend(simulated(result));
    lines
}

/// On which scale the model is, and on which the forecasts are.
fn scale(result: &ForecastResult) -> Option<String> {
    if let Some(scale) = &result.scale {
        return Some(compared_scales(result, scale));
    }
    let lag = result.overlap?;
    let only = if result.transform.is_none() {
        " The forecast is of these changes (--original for the level)."
    } else {
        ""
    };
    Some(format!(
        "{} is a change over {lag} periods: consecutive values overlap and are autocorrelated by construction, so a model \
         of changes over one period is usually more efficient.{only}",
        result.series
    ))
}

/// Which of two scales the model is on, and why.
fn compared_scales(result: &ForecastResult, scale: &ScaleResult) -> String {
    let (units, advised) = (&result.units, &scale.advised);
    let errors = scale.advised_mae.zip(scale.original_mae).map_or_else(String::new, |(own, original)| {
        let [own, original] = [own, original].map(wording::short);
        format!(" Mean absolute errors from rolling origins: {own} for {advised}, {original} for {units}.")
    });
    if scale.used {
        format!(
            "The variance of {units} depends on its level: the model is fitted to {advised}, and its forecasts are \
             back-transformed (--transform none models the original scale).{errors}"
        )
    } else {
        format!(
            "The variance of {units} depends on its level, but the model on the original scale forecasts better and is \
             used.{errors}"
        )
    }
}

/// What the point forecasts and the intervals are.
fn coverage(result: &ForecastResult) -> String {
    let point = match result.point {
        "mean" => "Point forecasts are expected values.",
        _ => "Point forecasts are medians (--mean for expected values).",
    };
    let innovations = match result.bootstrap {
        Some(paths) => format!("innovations resampled from the residuals ({paths} paths)"),
        None => "future innovations".to_owned(),
    };
    let model = match result.mixture.as_slice() {
        [] => String::new(),
        all => {
            let names: Vec<String> = all
                .iter()
                .map(|own| format!("{} {}", member(&own.model, result), wording::probability(own.weight)))
                .collect();
            format!(" They are those of a mixture of models: {}.", wording::joined(&names))
        }
    };
    let model = if result.average.len() > 1 {
        " Their limits are averaged with the weights of the models, which are inverse to squared errors from rolling origins."
            .to_owned()
    } else {
        model
    };
    format!("{point} Intervals allow for {innovations} and for the estimation of all parameters.{model}")
}

/// A model with its regressors, and with its series where that is another than the one of the result.
fn member(own: &MemberResult, result: &ForecastResult) -> String {
    let of = if own.series == result.series { String::new() } else { format!(" fitted to {}", own.series) };
    format!("{}{}{of}", own.model, wording::with_terms(&own.with))
}

/// Where the simulated paths are.
fn simulated(result: &ForecastResult) -> Option<String> {
    let (paths, seed) = (result.paths.as_ref()?, result.seed?);
    let count = wording::count(paths.len(), "path");
    Some(format!(
        "{count} simulated from {} (seed {seed}), in the JSON and with --save as CSV.",
        result.model
    ))
}

/// The simulated paths, one column each.
pub fn paths(result: &ForecastResult, time: &str) -> Document {
    let all = result.paths.iter().flatten().zip(1..);
    let value = |path: &[Option<f64>], h: usize| path.get(h).copied().flatten();
    Table::of(result.steps.iter().enumerate())
        .text(time, |(_, step)| step.period.to_string())
        .each(
            all,
            Align::Decimal,
            |(_, number)| format!("path_{number}"),
            |(h, _), (path, _)| TableCell::exact(value(path, *h)),
        )
        .table()
        .into()
}

/// How the forecasts compare with the actual values.
fn outcome(outcome: &Outcome) -> String {
    let inside: Vec<String> = outcome
        .coverage
        .iter()
        .map(|own| format!("the {} % interval contains {}", level(own.level), own.inside))
        .collect();
    let mape =
        outcome.errors.mape.map_or_else(String::new, |mape| format!(", MAPE {} %", wording::number(mape, 2)));
    let mase =
        outcome.errors.mase.map_or_else(String::new, |mase| format!(", MASE {}", wording::number(mase, 2)));
    format!(
        "Of {} actual values, {}; MAE {}{mape}{mase}.",
        outcome.known,
        wording::joined(&inside),
        wording::short(outcome.errors.mae)
    )
}

fn cautions(result: &ForecastResult) -> Vec<String> {
    let mut lines = Vec::new();
    if let Some(p) = result.white_noise_p.filter(|p| *p <= ALPHA) {
        lines.push(format!(
            "The residuals of the model are autocorrelated (Ljung-Box, {}), so the coverage of the intervals may be \
             incorrect.",
            wording::p_equals(p)
        ));
    }
    if result.heteroskedastic {
        lines.push(
            "The residual variance changes over time (McLeod-Li): the intervals are too narrow in periods of high \
             volatility and too wide in calm ones."
                .to_owned(),
        );
    }
    if let Some(warning) = result.warnings.first() {
        lines.push(format!("Warning: {warning} (see kandrel fit)."));
    }
    let was_positive = result.history.iter().all(|past| past.value.is_none_or(|value| value > 0.0));
    let negative =
        |step: &StepResult| step.widest().is_some_and(|own| own.lower.is_some_and(|low| low < 0.0));
    if was_positive && result.steps.iter().any(negative) {
        lines.push(format!(
            "The interval includes negative values, which {} has never taken; a forecast in logarithms ({}) avoids this.",
            result.units,
            wording::with_steps(&result.units, &["ln"])
        ));
    }
    let open =
        |step: &StepResult| step.widest().is_some_and(|own| own.lower.is_none() || own.upper.is_none());
    if result.steps.iter().any(open) {
        lines.push("A missing limit does not exist on the original scale.".to_owned());
    }
    if result.history.len() < result.steps.len() {
        lines.push("At this horizon the forecast is indicative only.".to_owned());
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
            .keeping(typed, &["future", "mean", "levels", "transformed", "original"])
            .with("ahead", result.steps.len())
            .with("figure", "forecast.svg"),
        of_model(Name::Compare),
        of_model(Name::Fit),
    ]
}

/// The forecasts as a table of numbers.
pub fn data(result: &ForecastResult, time: &str) -> Document {
    let rows = Table::of(&result.steps).text(time, |step| step.period.to_string());
    fan(rows, result, ["lower_#", result.point, "upper_#"], TableCell::exact)
        .exact(heads::CSV_STD_ERROR, |step| step.std_error)
        .only_if(result.accuracy.is_some(), |rows| rows.exact(heads::CSV_ACTUAL, |step| step.actual))
        .table()
        .into()
}

/// History, forecast and its intervals, joined to the last value.
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
    let band = |(place, own): (usize, f64)| {
        let limits = result.steps.iter().enumerate().filter_map(|(h, step)| {
            let own = step.intervals.get(place)?;
            Some(((past + h) as f64, own.lower?, own.upper?))
        });
        let first = joint.map(|(at, value)| (at, value, value));
        let name = format!("{} % prediction interval", level(own));
        Interval { name, ends: first.into_iter().chain(limits).collect() }
    };
    let mut lines = vec![history, forecast];
    if result.accuracy.is_some() {
        let first = joint.into_iter();
        lines.push(Line {
            name: "actual".to_owned(),
            ink: Ink::Series(2),
            pieces: vec![first.chain(ahead(&|step| step.actual)).collect()],
        });
    }
    let panel = Panel {
        title: result.units.clone(),
        axis: format!("{}s", result.steps.first().map_or("period", |step| step.period.frequency().noun())),
        along: Along::Periods(periods),
        lines,
        intervals: from_widest(result).into_iter().map(band).collect(),
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
