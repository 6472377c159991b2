//! How far automatic forecasts are off: simulated series of known models, and series of a folder.

use std::fmt::Write as _;
use std::fs;
use std::ops::Range;
use std::path::Path;

use kandrel_core::arima::{Model, fit};
use kandrel_core::evaluate::{
    AheadOptions, Benchmark, Member, average_weights, averaged, members_of_average, mixture,
    rivals_with_weights,
};
use kandrel_core::expr;
use kandrel_core::identify::{self, Identified, IdentifyOptions, ScaleComparison, identify};
use kandrel_core::predictive::{HorizonForecast, mean_change};
use kandrel_core::regressor::{Deterministic, Regressor, Regressors};
use kandrel_core::series::{Column, Frame, Span};
use kandrel_core::shape::advised_transformation;
use kandrel_core::time::Period;
use kandrel_core::transform::{Transformed, evaluate_with_gaps};
use rayon::prelude::*;

use crate::seasons::{Truth, random_path};

/// A series whose end is held out.
#[derive(Debug, Clone)]
pub struct Case {
    name: String,
    season: usize,
    values: Vec<f64>,
    /// Of a simulated series.
    truth: Option<Truth>,
}

/// What one method made of one case.
#[derive(Debug, Clone)]
struct Score {
    mase: f64,
    /// Whether each held-out value is inside the intervals of 80 and of 95 per cent.
    inside: Vec<[bool; 2]>,
    model: String,
}

/// Periods ahead that are compared.
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
    steps: Vec<HorizonForecast>,
    model: String,
}

/// Levels of the intervals.
const LEVELS: [f64; 2] = [80.0, 95.0];

/// A series with the models of its search.
struct Searched {
    target: Transformed,
    found: Identified,
}

impl Searched {
    fn of(target: Transformed) -> Option<Self> {
        let options =
            IdentifyOptions { season: target.season, only_choice: true, ..IdentifyOptions::default() };
        let found = identify(&target.series, Regressors::default(), None, &options, |_, _| {}).ok()?;
        Some(Self { target, found })
    }

    fn chosen(&self, options: AheadOptions) -> Option<Member> {
        let fit = self.found.chosen()?.fit(&self.found.data).ok()?;
        Member::of(&self.target, &fit, &self.found.data, &self.found.regressors, options).ok()
    }

    /// The chosen model's centre, with the intervals of the mixture over its rivals.
    fn automatic(
        &self,
        chosen: &Member,
        other: Option<(f64, Member)>,
        options: AheadOptions,
    ) -> Vec<HorizonForecast> {
        let own = chosen.ahead.steps(&LEVELS);
        let (weight, rivals) = rivals_with_weights(&self.target, &self.found, other, options);
        let parts: Vec<_> = std::iter::once((weight, chosen.marginals(None)))
            .chain(rivals.iter().map(|(weight, rival)| (*weight, rival.marginals(None))))
            .collect();
        let mixed = mixture(&parts);
        let with = |(own, mixed): (HorizonForecast, _)| HorizonForecast {
            intervals: HorizonForecast::of(mixed, &LEVELS).intervals,
            ..own
        };
        own.into_iter().zip(&mixed).map(with).collect()
    }
}

/// What `forecast` does (with the intervals of the mixture, and of the chosen model alone), and what it does with
/// `--average`: on the scale that the diagnosis advises unless the other forecasts better, which is its rival.
fn made(values: &[f64], season: usize, count: usize) -> Option<[Made; 3]> {
    let options = AheadOptions { ahead: count, transformed: false };
    let plain = Searched::of(transformed(values, season, "x")?)?;
    let advice = advised_transformation(values, season).transformation;
    let advised =
        advice.step().and_then(|step| Searched::of(transformed(values, season, &format!("x:{step}"))?));
    let compared = advised
        .as_ref()
        .zip(advice.inverse())
        .and_then(|(advised, inverse)| ScaleComparison::of(&advised.found, &plain.found, inverse, season));
    let (own, other) = match advised {
        Some(advised) if compared.is_none_or(ScaleComparison::prefers_advised) => (advised, Some(plain)),
        advised => (plain, advised),
    };
    let inverse = |of: &Searched| (of.target.typed.text != "x").then(|| advice.inverse()).flatten();
    let chosen = own.chosen(options)?.on_scale_of(inverse(&own));
    let with = chosen.regressors.names().len();
    let model = format!("{} of {} with {with}", chosen.model, chosen.series).replace(',', ".");
    let other_of =
        || other.as_ref().and_then(|other| Some(other.chosen(options)?.on_scale_of(inverse(other))));
    let others = members_of_average(&own.target, &own.found, &chosen, other_of(), options);
    let members = || std::iter::once(&chosen).chain(&others);
    let steps = |member: &Member| member.ahead.steps(&LEVELS);
    let all: Vec<_> = average_weights(members()).into_iter().zip(members().map(steps)).collect();
    let weighted = compared.zip(other_of()).map(|(own, member)| (own.probability_of_other(), member));
    let mixed = own.automatic(&chosen, weighted, options);
    let of = |steps| Made { steps, model: model.clone() };
    Some([of(mixed), of(chosen.ahead.steps(&LEVELS)), of(averaged(&all))])
}

fn score(steps: &[HorizonForecast], actual: &[f64], scale: f64, model: String) -> Score {
    let errors: f64 = steps.iter().zip(actual).map(|(step, own)| (step.median - own).abs()).sum();
    let inside = |(step, own): (&HorizonForecast, &f64)| [0, 1].map(|k| step.intervals[k].contains(*own));
    Score {
        mase: errors / actual.len() as f64 / scale,
        inside: steps.iter().zip(actual).map(inside).collect(),
        model,
    }
}

impl Score {
    /// Proportion of the values inside the intervals of 80 (0) or of 95 per cent (1).
    fn proportion(&self, level: usize) -> f64 {
        let inside = self.inside.iter().filter(|own| own[level]).count();
        inside as f64 / self.inside.len().max(1) as f64
    }
}

/// The forecast of a model with the true orders and deterministic terms.
fn oracle(values: &[f64], case: &Case, truth: &Truth, count: usize) -> Option<Made> {
    let (season, [p, d, q], [sp, sd, sq]) = (case.season, truth.orders, truth.seasonal);
    let target = transformed(values, season, "x")?;
    let start = target.series.start;
    let mut terms = Vec::new();
    if truth.has_slope && d + sd == 0 {
        terms.push(Deterministic::Trend { origin: start });
    }
    if truth.has_pattern {
        terms.extend(Deterministic::seasons(season, start));
    }
    if truth.has_shift {
        terms.push(Deterministic::Step { from: target.series.period((3 * case.values.len()).div_ceil(5)) });
    }
    let regressors = Regressors { all: terms.into_iter().map(Regressor::deterministic).collect() };
    let drift = if truth.has_slope && d + sd == 1 { "+drift" } else { "" };
    let seasonal = if season > 1 { format!("({sp},{sd},{sq}){season}") } else { String::new() };
    let model = Model::parse(&format!("({p},{d},{q}){seasonal}{drift}")).ok()?;
    let data = identify::data(&target.series, &regressors).ok()?;
    let fit = fit(&data, model).ok()?;
    let options = AheadOptions { ahead: count, transformed: false };
    let member = Member::of(&target, &fit, &data, &regressors, options).ok()?;
    Some(Made { steps: member.ahead.steps(&LEVELS), model: model.to_string() })
}

/// The methods of [`made`].
const METHODS: [&str; 3] = ["auto", "chosen", "average"];

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
    let naive = Score { mase: error / count as f64 / scale, inside: Vec::new(), model: String::new() };
    let mut all = vec![("naive", naive)];
    if let Some(own) = case.truth.as_ref().and_then(|truth| oracle(past, case, truth, count)) {
        all.push(("oracle", score(&own.steps, actual, scale, own.model)));
    }
    for (name, own) in METHODS.into_iter().zip(made(past, case.season, count).into_iter().flatten()) {
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
            let [inner, outer] = [0, 1].map(|level| own.proportion(level));
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
    Ok(Case { name, season, values: rows.into_iter().map(|(_, value)| value).collect(), truth: None })
}

/// Seasonal periods and lengths of the simulated series.
const SIZES: [(usize, usize); 10] =
    [(12, 72), (12, 120), (12, 180), (12, 300), (4, 60), (4, 120), (4, 240), (1, 40), (1, 80), (1, 200)];

/// Simulated series of random differences and parameters.
fn simulated(place: usize, draws: u64) -> Vec<Case> {
    let (season, n) = SIZES[place];
    let of = |draw| {
        let (values, truth) =
            random_path(season, n + horizon(season), 1_000_000 * (place as u64 + 20) + draw);
        Case { name: format!("s{season}-{n}-{draw}"), season, values, truth: Some(truth) }
    };
    (0..draws).map(of).collect()
}

type Scores = Vec<(&'static str, Score)>;

fn of_method<'a>(scores: &'a Scores, method: &str) -> Option<&'a Score> {
    scores.iter().find(|(known, _)| *known == method).map(|(_, own)| own)
}

/// Geometric mean of the error of one method over that of another.
fn ratio(all: &[Scores], method: &str, to: &str) -> f64 {
    let of = |one: &Scores| Some((of_method(one, method)?.mase / of_method(one, to)?.mase).ln());
    let logs: Vec<f64> = all.iter().filter_map(of).filter(|log| log.is_finite()).collect();
    (logs.iter().sum::<f64>() / logs.len() as f64).exp()
}

/// Per cent of the values at some steps ahead inside the intervals of 80 and of 95 per cent.
fn coverage(all: &[Scores], method: &str, steps: Range<usize>) -> String {
    let inside: Vec<[bool; 2]> = all
        .iter()
        .filter_map(|one| of_method(one, method))
        .flat_map(|own| own.inside.iter().skip(steps.start).take(steps.len()).copied())
        .collect();
    let of = |level: usize| {
        let count = inside.iter().filter(|own| own[level]).count();
        format!("{:.1}", 100.0 * count as f64 / inside.len() as f64)
    };
    format!("{} | {}", of(0), of(1))
}

/// Steps ahead of the second table.
const AHEAD: [(&str, Range<usize>); 6] = [
    ("1", 0..1),
    ("2 to 3", 1..3),
    ("4 to 6", 3..6),
    ("7 to 9", 6..9),
    ("10 to 12", 9..12),
    ("13 to 18", 12..18),
];

/// The tables of simulated series, that number of each period and length.
pub fn section(draws: u64) -> String {
    let mut out = HEAD.replace("DRAWS", &draws.to_string());
    let mut monthly: Vec<Scores> = Vec::new();
    for (place, (season, n)) in SIZES.iter().enumerate() {
        let cases = simulated(place, draws);
        let all: Vec<Scores> = cases.par_iter().map(|case| scores(case, *n)).collect();
        let [auto, oracle, average] = [("auto", "naive"), ("auto", "oracle"), ("average", "auto")]
            .map(|(method, to)| format!("{:.3}", ratio(&all, method, to)));
        let inside = |method: &str| coverage(&all, method, 0..horizon(*season));
        let _ = writeln!(
            out,
            "| {season} | {n} | {auto} | {oracle} | {} | {} | {average} | {} |",
            inside("oracle"),
            inside("auto"),
            inside("average")
        );
        if *season == 12 {
            monthly.extend(all);
        }
    }
    out.push_str(SECOND);
    for (name, steps) in AHEAD {
        let [oracle, auto, average] =
            ["oracle", "auto", "average"].map(|method| coverage(&monthly, method, steps.clone()));
        let _ = writeln!(out, "| {name} | {oracle} | {auto} | {average} |");
    }
    out
}

const HEAD: &str = "\
## Automatic forecasts

DRAWS series of each period and length with random differences and parameters (the processes of the section before; a
fifth with innovations of Student's t with four degrees of freedom, a fifth with a level shift), forecast 18, 8 or 6
periods ahead (s = 12, 4, 1) as `forecast` does with its defaults (auto), with `--average`, and by a model that knows the
orders and the deterministic terms (oracle): geometric means of the ratios of mean absolute errors, and per cent of the
values inside the 80 % and 95 % intervals. Naive: seasonal naive where there is a season. The seeds are used nowhere else.

| s | n | auto to naive | auto to oracle | oracle: 80 % | 95 % | auto: 80 % | 95 % | average to auto | average: 80 % | 95 % |
| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: |
";

const SECOND: &str = "
The monthly series by steps ahead:

| ahead | oracle: 80 % | 95 % | auto: 80 % | 95 % | average: 80 % | 95 % |
| --- | ---: | ---: | ---: | ---: | ---: | ---: |
";
