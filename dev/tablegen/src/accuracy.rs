//! How far automatic forecasts are off: simulated series of known models, and series of a folder.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;

use kandrel_core::arima::Known;
use kandrel_core::evaluate::{AheadOptions, Benchmark, ahead};
use kandrel_core::expr;
use kandrel_core::identify::{IdentifyOptions, identify};
use kandrel_core::outlook::{Step, mean_change};
use kandrel_core::regressor::Regressors;
use kandrel_core::series::{Column, Frame, Span};
use kandrel_core::time::Period;
use kandrel_core::transform::{Transformed, evaluate_with_gaps};
use rayon::prelude::*;

/// A series whose end is held out.
#[derive(Debug, Clone)]
pub struct Case {
    name: String,
    season: usize,
    values: Vec<f64>,
}

/// What one method made of one case.
#[derive(Debug, Clone)]
struct Score {
    mase: f64,
    /// Shares of the held-out values inside the intervals of 80 and of 95 per cent.
    inside: [f64; 2],
    model: String,
}

/// Periods ahead that are judged.
fn horizon(season: usize) -> usize {
    match season {
        12 => 18,
        4 => 8,
        _ => 6,
    }
}

fn transformed(values: &[f64], season: usize) -> Option<Transformed> {
    let cells = values.iter().copied().map(Some).collect();
    let columns = vec![Column { name: "x".to_owned(), cells }];
    let start = match season {
        12 => Period::month(1900, 1)?,
        4 => Period::quarter(1900, 1)?,
        _ => Period::year(1700),
    };
    let frame = Frame { start, length: values.len(), columns, dates: None };
    let typed = expr::parse("x").ok()?;
    let series = evaluate_with_gaps(&typed, &frame, Span::default()).ok()?;
    Some(Transformed { expression: typed.clone(), typed, frame, span: Span::default(), season, series })
}

fn automatic(values: &[f64], season: usize, count: usize) -> Option<(Vec<Step>, String)> {
    let target = transformed(values, season)?;
    let options = IdentifyOptions { season, ..IdentifyOptions::default() };
    let found = identify(&target.series, Regressors::default(), None, &options, |_, _| {}).ok()?;
    let fit = found.chosen()?.fit(&found.data).ok()?;
    let options = AheadOptions { ahead: count, keep_scale: false };
    let next = ahead(&target, &found.data, &Known::from(&fit), &found.regressors, options).ok()?;
    let names = found.regressors.names().len();
    Some((next.steps, format!("{} {names}", fit.model).replace(',', ".")))
}

fn score(steps: &[Step], actual: &[f64], scale: f64, model: String) -> Score {
    let n = actual.len() as f64;
    let errors: f64 = steps.iter().zip(actual).map(|(step, own)| (step.median - own).abs()).sum();
    let share = |ends: &dyn Fn(&Step) -> [Option<f64>; 2]| {
        let holds = |(step, own): &(&Step, &f64)| {
            let [low, high] = ends(step);
            low.is_none_or(|low| **own >= low) && high.is_none_or(|high| **own <= high)
        };
        steps.iter().zip(actual).filter(holds).count() as f64 / n
    };
    Score { mase: errors / n / scale, inside: [share(&|step| step.inner), share(&|step| step.outer)], model }
}

/// Each method's score of a case from one origin.
fn scores(case: &Case, origin: usize) -> Vec<(&'static str, Score)> {
    let count = horizon(case.season);
    let (past, rest) = case.values.split_at(origin);
    let actual = &rest[..count];
    let cells: Vec<Option<f64>> = past.iter().copied().map(Some).collect();
    let Some(scale) = mean_change(&cells, case.season).filter(|scale| *scale > 0.0) else {
        return Vec::new();
    };
    let rule = if case.season > 1 { Benchmark::SeasonalNaive } else { Benchmark::Naive };
    let naive: Vec<f64> = rule.ahead(&cells, case.season, count).into_iter().flatten().collect();
    let error = naive.iter().zip(actual).map(|(own, actual)| (own - actual).abs()).sum::<f64>();
    let naive = Score { mase: error / count as f64 / scale, inside: [0.0; 2], model: String::new() };
    let mut all = vec![("naive", naive)];
    if let Some((steps, model)) = automatic(past, case.season, count) {
        all.push(("auto", score(&steps, actual, scale, model)));
    }
    all
}

/// Two origins each: the end less one horizon and less two.
fn origins(case: &Case) -> Vec<usize> {
    let count = horizon(case.season);
    let least = (3 * case.season).max(30);
    [1, 2]
        .iter()
        .filter_map(|times| case.values.len().checked_sub(times * count))
        .filter(|n| *n >= least)
        .collect()
}

/// Every score as a line: case, origin, method, MASE, shares inside, model.
pub fn table(cases: &[Case]) -> String {
    let pairs: Vec<(&Case, usize)> =
        cases.iter().flat_map(|case| origins(case).into_iter().map(move |origin| (case, origin))).collect();
    let of = |(case, origin): &(&Case, usize)| {
        let mut out = String::new();
        for (method, own) in scores(case, *origin) {
            let [inner, outer] = own.inside;
            // Writing to a string cannot fail.
            let _ = writeln!(
                out,
                "{},{origin},{method},{:.5},{inner:.3},{outer:.3},{}",
                case.name, own.mase, own.model
            );
        }
        out
    };
    pairs.par_iter().map(of).collect()
}

/// The series of a folder: CSV files of a time and a value.
pub fn folder(path: &Path) -> Result<Vec<Case>, String> {
    let mut files: Vec<_> = fs::read_dir(path)
        .map_err(|error| error.to_string())?
        .filter_map(|entry| Some(entry.ok()?.path()))
        .filter(|path| path.extension().is_some_and(|ending| ending == "csv"))
        .collect();
    files.sort();
    files.iter().map(|path| case(path)).collect()
}

fn case(path: &Path) -> Result<Case, String> {
    let text = fs::read_to_string(path).map_err(|error| error.to_string())?;
    let rows: Vec<(&str, f64)> = text
        .lines()
        .skip(1)
        .filter_map(|line| line.split_once(','))
        .filter_map(|(time, value)| Some((time, value.trim().parse().ok()?)))
        .collect();
    let season = match rows.first() {
        Some((time, _)) if time.contains('Q') => 4,
        Some((time, _)) if time.contains('-') => 12,
        _ => 1,
    };
    let name = path.file_stem().map(|stem| stem.to_string_lossy().into_owned()).unwrap_or_default();
    Ok(Case { name, season, values: rows.into_iter().map(|(_, value)| value).collect() })
}
