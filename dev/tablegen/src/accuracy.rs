//! How far automatic forecasts are off: simulated series of known models, and series of a folder.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;

use kandrel_core::arima::{Data, Fit, fit};
use kandrel_core::evaluate::{AheadOptions, Benchmark, Estimates, ahead, averaged};
use kandrel_core::expr;
use kandrel_core::identify::{self, Identified, IdentifyOptions, identify, reference_model};
use kandrel_core::outlook::{Step, mean_change};
use kandrel_core::regressor::Regressors;
use kandrel_core::series::{Column, Frame, Span};
use kandrel_core::shape::advised_transformation;
use kandrel_core::time::Period;
use kandrel_core::transform::{Transformed, evaluate_with_gaps};
use rayon::prelude::*;

use crate::seasons::random_path;

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

/// A forecast and the model that it is from.
struct Made {
    steps: Vec<Step>,
    model: String,
}

/// A series with the models of its search.
struct Searched {
    target: Transformed,
    found: Identified,
}

impl Searched {
    fn of(target: Transformed) -> Option<Self> {
        let options = IdentifyOptions { season: target.season, ..IdentifyOptions::default() };
        let found = identify(&target.series, Regressors::default(), None, &options, |_, _| {}).ok()?;
        Some(Self { target, found })
    }

    fn next(&self, fit: &Fit, data: &Data, regressors: &Regressors, count: usize) -> Option<Vec<Step>> {
        let options = AheadOptions { ahead: count, keep_scale: false };
        ahead(&self.target, data, Estimates::Uncertain(fit), regressors, options).ok().map(|next| next.steps)
    }

    fn chosen(&self, count: usize) -> Option<Made> {
        let fit = self.found.chosen()?.fit(&self.found.data).ok()?;
        let steps = self.next(&fit, &self.found.data, &self.found.regressors, count)?;
        let beside = self.found.regressors.names().len();
        let text = &self.target.typed.text;
        Some(Made { steps, model: format!("{} of {text} beside {beside}", fit.model).replace(',', ".") })
    }

    fn rival(&self, count: usize) -> Option<Vec<Step>> {
        let rival = self.found.rivals.get(1)?;
        self.next(&rival.model.fit(&rival.data).ok()?, &rival.data, &rival.regressors, count)
    }

    fn reference(&self, count: usize) -> Option<Vec<Step>> {
        let data = identify::data(&self.target.series, &Regressors::default()).ok()?;
        let fit = fit(&data, reference_model(self.target.season)).ok()?;
        self.next(&fit, &data, &Regressors::default(), count)
    }
}

/// What `forecast` does, and what it does with `--average`: on the scale that the diagnosis advises, the mean with the
/// column's own scale as the rival.
fn made(values: &[f64], season: usize, count: usize) -> Option<[Made; 2]> {
    let plain = transformed(values, season, "x")?;
    let step = advised_transformation(values, season).transformation.step();
    let other = step.and_then(|step| transformed(values, season, &format!("x:{step}")));
    let (own, plain) = match other {
        Some(own) => (Searched::of(own)?, Searched::of(plain)),
        None => (Searched::of(plain)?, None),
    };
    let chosen = own.chosen(count)?;
    let rival = match &plain {
        Some(plain) => plain.chosen(count).map(|made| made.steps),
        None => own.rival(count),
    };
    let all: Vec<Vec<Step>> =
        [Some(chosen.steps.clone()), rival, own.reference(count)].into_iter().flatten().collect();
    let average = Made { steps: averaged(&all), model: chosen.model.clone() };
    Some([chosen, average])
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
    for (name, own) in
        ["auto", "average"].into_iter().zip(made(past, case.season, count).into_iter().flatten())
    {
        all.push((name, score(&own.steps, actual, scale, own.model)));
    }
    all
}

/// The origins of a case: the end less one to five horizons, of a simulated series less one.
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

/// Seasonal periods and lengths of the simulated series.
const SIZES: [(usize, usize); 10] =
    [(12, 72), (12, 120), (12, 180), (12, 300), (4, 60), (4, 120), (4, 240), (1, 40), (1, 80), (1, 200)];

/// Simulated series of random differences and parameters.
fn simulated(place: usize, draws: u64) -> Vec<Case> {
    let (season, n) = SIZES[place];
    let of = |draw| Case {
        name: format!("s{season}-{n}-{draw}"),
        season,
        values: random_path(season, n + horizon(season), 1_000_000 * place as u64 + draw),
    };
    (0..draws).map(of).collect()
}

/// The table of simulated series, so many of each period and length.
pub fn section(draws: u64) -> String {
    let mut out = HEAD.replace("DRAWS", &draws.to_string());
    for (place, (season, n)) in SIZES.iter().enumerate() {
        let cases = simulated(place, draws);
        let all: Vec<Vec<(&str, Score)>> = cases.par_iter().map(|case| scores(case, *n)).collect();
        let of = |method: &str| -> Vec<[f64; 3]> {
            let ratio = |one: &Vec<(&str, Score)>| {
                let own = |name: &str| one.iter().find(|(known, _)| *known == name).map(|(_, own)| own);
                let (own, naive) = (own(method)?, own("naive")?);
                Some([(own.mase / naive.mase).ln(), own.inside[0], own.inside[1]])
            };
            all.iter().filter_map(ratio).collect()
        };
        let cell = |method: &str| {
            let own = of(method);
            let mean = |k: usize| own.iter().map(|one| one[k]).sum::<f64>() / own.len() as f64;
            format!("{:.3} | {:.1} | {:.1}", mean(0).exp(), 100.0 * mean(1), 100.0 * mean(2))
        };
        let _ = writeln!(out, "| {season} | {n} | {} | {} |", cell("auto"), cell("average"));
    }
    out
}

const HEAD: &str = "\
## Automatic forecasts

DRAWS series of random differences and parameters (those of the section before) of each period and length, forecast 18, 8
or 6 periods ahead (s = 12, 4, 1) as `forecast` does with its defaults, and with `--average`: geometric mean of the
mean absolute error over that of the seasonal naive (s = 1: naive) forecast, and per cent of the values inside the 80 % and
95 % intervals. The seeds are used nowhere else.

| s | n | auto: ratio | 80 % | 95 % | average: ratio | 80 % | 95 % |
| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: |
";
