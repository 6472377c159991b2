//! How far automatic forecasts are off: simulated series of known models, and series of a folder.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;

use kandrel_core::evaluate::{AheadOptions, Benchmark, Estimates, ahead};
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

fn transformed(values: &[f64], season: usize, text: &str) -> Option<Transformed> {
    let cells = values.iter().copied().map(Some).collect();
    let columns = vec![Column { name: "x".to_owned(), cells }];
    let start = match season {
        12 => Period::month(1900, 1)?,
        4 => Period::quarter(1900, 1)?,
        _ => Period::year(1700),
    };
    let frame = Frame { start, length: values.len(), columns, dates: None };
    let typed = expr::parse(text).ok()?;
    let series = evaluate_with_gaps(&typed, &frame, Span::default()).ok()?;
    Some(Transformed { expression: typed.clone(), typed, frame, span: Span::default(), season, series })
}

struct Made {
    steps: Vec<Step>,
    model: String,
    rival: Option<Vec<f64>>,
}

fn medians(steps: &[Step]) -> Vec<f64> {
    steps.iter().map(|step| step.median).collect()
}

fn made(target: &Transformed, season: usize, count: usize, limit: bool, evolve: bool) -> Option<Made> {
    let n = target.series.cells.len();
    let mut options = IdentifyOptions { season, ..IdentifyOptions::default() };
    if limit && season == 12 && n < 200 {
        options.limit = Some([1, 1, 1, 1]);
    }
    let mut found = identify(&target.series, Regressors::default(), None, &options, |_, _| {}).ok()?;
    if evolve && found.regressors.names().len() >= season - 1 && season > 1 {
        options.differences = [Some(1), Some(1)];
        found = identify(&target.series, Regressors::default(), None, &options, |_, _| {}).ok()?;
    }
    let fit = found.chosen()?.fit(&found.data).ok()?;
    let options = AheadOptions { ahead: count, keep_scale: false };
    let next = ahead(target, &found.data, Estimates::Uncertain(&fit), &found.regressors, options).ok()?;
    let names = found.regressors.names().len();
    let rival = found.rivals.get(1).and_then(|rival| {
        let fit = rival.model.fit(&rival.data).ok()?;
        Some(medians(
            &ahead(target, &rival.data, Estimates::Uncertain(&fit), &rival.regressors, options).ok()?.steps,
        ))
    });
    Some(Made { steps: next.steps, model: format!("{} {names}", fit.model).replace(',', "."), rival })
}

fn reference(target: &Transformed, season: usize, count: usize) -> Option<Vec<f64>> {
    let name = if season > 1 { format!("(0,1,1)(0,1,1){season}") } else { "(1,1,2)".to_owned() };
    let model = kandrel_core::arima::Model::parse(&name).ok()?;
    let data = kandrel_core::identify::data(&target.series, &Regressors::default()).ok()?;
    let fit = kandrel_core::arima::fit(&data, model).ok()?;
    let options = AheadOptions { ahead: count, keep_scale: false };
    Some(medians(
        &ahead(target, &data, Estimates::Uncertain(&fit), &Regressors::default(), options).ok()?.steps,
    ))
}

fn averaged(steps: &[Step], others: &[Vec<f64>]) -> Vec<Step> {
    let mut out = steps.to_vec();
    for (h, step) in out.iter_mut().enumerate() {
        let sum: f64 = others.iter().map(|own| own[h]).sum();
        step.median = (step.median + sum) / (1.0 + others.len() as f64);
    }
    out
}

fn methods(values: &[f64], season: usize, count: usize) -> Vec<(&'static str, Vec<Step>, String)> {
    let mut all = Vec::new();
    let Some(target) = transformed(values, season, "x") else { return all };
    let mut add = |name: &'static str, made: &Option<Made>| {
        if let Some(made) = made {
            all.push((name, made.steps.clone(), made.model.clone()));
        }
    };
    let auto = made(&target, season, count, false, false);
    add("auto", &auto);
    add("lim", &made(&target, season, count, true, false));
    add("ev", &made(&target, season, count, false, true));
    let step = kandrel_core::shape::advised_transformation(values, season).transformation.step();
    let other = step.and_then(|step| transformed(values, season, &format!("x:{step}")));
    let scale = other.as_ref().unwrap_or(&target);
    let trans = made(scale, season, count, true, false);
    add("trans", &trans);
    let own = reference(&target, season, count);
    if let (Some(auto), Some(own)) = (&auto, &own) {
        all.push(("avg2", averaged(&auto.steps, &[own.clone()]), auto.model.clone()));
        let mut others = vec![own.clone()];
        others.extend(auto.rival.clone());
        all.push(("avg3", averaged(&auto.steps, &others), auto.model.clone()));
    }
    if let (Some(trans), Some(own)) = (&trans, reference(scale, season, count)) {
        let mut others = vec![own.clone()];
        others.extend(trans.rival.clone());
        all.push(("tavg2", averaged(&trans.steps, &[own]), trans.model.clone()));
        all.push(("tavg3", averaged(&trans.steps, &others), trans.model.clone()));
    }
    all
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
    for (name, steps, model) in methods(past, case.season, count) {
        all.push((name, score(&steps, actual, scale, model)));
    }
    all
}

/// Two origins each: the end less one horizon and less two.
fn origins(case: &Case) -> Vec<usize> {
    let count = horizon(case.season);
    let least = (3 * case.season).max(30);
    [1, 2, 3, 4, 5]
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

/// Simulated series of random differences and parameters.
pub fn simulated(draws: u64) -> Vec<Case> {
    let sizes =
        [(12, 72), (12, 120), (12, 180), (12, 300), (4, 60), (4, 120), (4, 240), (1, 40), (1, 80), (1, 200)];
    let of = |(place, (season, n)): (usize, (usize, usize))| {
        (0..draws).map(move |draw| Case {
            name: format!("s{season}-{n}-{draw}"),
            season,
            values: crate::seasons::random_path(season, n + horizon(season), 1_000_000 * place as u64 + draw),
        })
    };
    sizes.into_iter().enumerate().flat_map(of).collect()
}
