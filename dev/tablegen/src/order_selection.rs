//! How often the search finds the orders of known models, and how often intervals hold what comes.

use std::fmt::Write as _;

use kandrel_core::arima::{
    Candidate, Coefficients, Criteria, Data, Grid, Known, Model, chosen, fit, forecast, search,
};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::predictive::{HorizonForecast, marginals};
use kandrel_core::verdict::{AssessOptions, assess};
use rayon::prelude::*;

const SEED: u64 = 91_207;
const LENGTH: usize = 200;
const BURN_IN: usize = 400;

/// A model whose coefficients are known.
struct Process {
    model: &'static str,
    /// φ, θ, Φ, Θ.
    coefficients: [&'static [f64]; 4],
    /// The season of the grid.
    season: usize,
}

/// Without a season, with a stationary one, with one that changes.
const PROCESSES: [Process; 8] = [
    Process { model: "(1,0,0)", coefficients: [&[0.6], &[], &[], &[]], season: 1 },
    Process { model: "(2,0,0)", coefficients: [&[1.2, -0.6], &[], &[], &[]], season: 1 },
    Process { model: "(1,0,1)", coefficients: [&[0.8], &[0.4], &[], &[]], season: 1 },
    Process { model: "(0,1,1)", coefficients: [&[], &[-0.5], &[], &[]], season: 1 },
    Process { model: "(1,1,0)", coefficients: [&[0.5], &[], &[], &[]], season: 1 },
    Process { model: "(1,0,0)(1,0,0)4", coefficients: [&[0.5], &[], &[0.6], &[]], season: 4 },
    Process { model: "(0,1,1)(0,1,1)12", coefficients: [&[], &[-0.4], &[], &[-0.6]], season: 12 },
    Process { model: "(1,0,0)(0,1,1)12", coefficients: [&[0.6], &[], &[], &[-0.6]], season: 12 },
];

impl Process {
    fn known(&self) -> Option<Known> {
        let model = Model::parse(self.model).ok()?;
        let [ar, ma, seasonal_ar, seasonal_ma] = self.coefficients.map(<[f64]>::to_vec);
        Some(Known { model, coefficients: Coefficients { ar, ma, seasonal_ar, seasonal_ma }, sigma2: 1.0 })
    }
}

/// A path of that number of values, from a long past.
fn path(known: &Known, n: usize, stream: u64) -> Vec<f64> {
    let model = known.model;
    let (ar, ma) =
        (known.coefficients.long_ar(model.season.max(2)), known.coefficients.long_ma(model.season.max(2)));
    let e = NormalStream::new(SEED, stream).take(n + BURN_IN);
    let mut w: Vec<f64> = Vec::with_capacity(e.len());
    for t in 0..e.len() {
        let own: f64 = ar.iter().enumerate().filter_map(|(i, a)| Some(a * w[t.checked_sub(i + 1)?])).sum();
        let past: f64 = ma.iter().enumerate().filter_map(|(j, b)| Some(b * e[t.checked_sub(j + 1)?])).sum();
        w.push(e[t] + own + past);
    }
    let mut y = w.split_off(BURN_IN);
    let lags = std::iter::repeat_n(1, model.differences)
        .chain(std::iter::repeat_n(model.season, model.seasonal_differences));
    for lag in lags {
        for t in lag..y.len() {
            y[t] += y[t - lag];
        }
    }
    y
}

/// By the criterion that is used unless another is asked for.
fn corrected(criteria: &Criteria) -> f64 {
    criteria.aicc.unwrap_or(f64::INFINITY)
}

/// Where the true model is: whether it is the one chosen, or within two of that one.
#[derive(Clone, Copy, Default)]
struct Place {
    chosen: bool,
    near: bool,
}

fn place(ranked: &[Candidate], truth: Model) -> Place {
    let Some(best) = chosen(ranked, corrected) else {
        return Place::default();
    };
    let same = |one: &Candidate| {
        // A drift or mean with the true orders leaves them what they are.
        Model { level: truth.level, ..one.model } == truth
    };
    let own = ranked.iter().find(|one| same(one));
    Place {
        chosen: same(best),
        near: own.is_some_and(|own| corrected(&own.criteria) - corrected(&best.criteria) <= 2.0),
    }
}

fn found(y: &[f64], grid: Grid, truth: Model) -> Place {
    let ranked = search(&Data::complete(y), grid, corrected, |_| {});
    ranked.map_or_else(|_| Place::default(), |ranked| place(&ranked, truth))
}

/// The table of models.
pub fn section(draws: u64) -> String {
    let mut out = format!(
        "## How often the true orders are found\n\n\
         {draws} series of each model, n = {LENGTH}, by AICc over the usual grid (16 models without a season, 144 or twice \
         that with one). *First*: the true p, q, P, Q (and d, D) are those of the model that `orders` chooses; *within 2*: \
         their AICc is at most 2 above it. With the differences given, and with those of the verdict.\n\n\
         | model | coefficients | first, differences given | within 2 | first, by the verdict | within 2 | differences right |\n\
         | --- | --- | ---: | ---: | ---: | ---: | ---: |\n"
    );
    for (number, process) in PROCESSES.iter().enumerate() {
        let Some(known) = process.known() else {
            continue;
        };
        let truth = known.model;
        let all: Vec<(Place, Place, bool)> = (0..draws)
            .into_par_iter()
            .map(|draw| {
                let y = path(&known, LENGTH, 1_000_000 * number as u64 + draw);
                let given = Grid::usual(truth.differences, truth.seasonal_differences, process.season);
                let options = AssessOptions { season: process.season, ..AssessOptions::default() };
                let verdict = assess(&y, &options)
                    .map(|own| (own.verdict.integration, own.verdict.seasonal_integration.unwrap_or(0)));
                let right = verdict == Ok((truth.differences, truth.seasonal_differences));
                let first = found(&y, given, truth);
                // Other differences can hold the true orders no more.
                (first, if right { first } else { Place::default() }, right)
            })
            .collect();
        let share = |of: &dyn Fn(&(Place, Place, bool)) -> bool| {
            100.0 * all.iter().filter(|one| of(one)).count() as f64 / all.len() as f64
        };
        // Writing to a string cannot fail.
        let _ = writeln!(
            out,
            "| {} | {} | {:.0} % | {:.0} % | {:.0} % | {:.0} % | {:.0} % |",
            process.model,
            written(process.coefficients),
            share(&|one| one.0.chosen),
            share(&|one| one.0.near),
            share(&|one| one.1.chosen),
            share(&|one| one.1.near),
            share(&|one| one.2)
        );
    }
    out
}

fn written(coefficients: [&[f64]; 4]) -> String {
    let names = ["φ", "θ", "Φ", "Θ"];
    let each = names.iter().zip(coefficients).filter(|(_, list)| !list.is_empty());
    let text = |(name, list): (&&str, &[f64])| {
        let numbers: Vec<String> = list.iter().map(|value| value.to_string().replace('-', "−")).collect();
        format!("{name} {}", numbers.join(", "))
    };
    each.map(text).collect::<Vec<_>>().join("; ")
}

/// Steps ahead of the coverage table.
const AHEAD: [usize; 3] = [1, 6, 12];

/// The table of coverage.
pub fn coverage(draws: u64) -> String {
    let mut out = format!(
        "## How often intervals hold what comes\n\n\
         {draws} series of each model, n = {LENGTH}; the share of what came 1, 6 and 12 steps ahead inside the 80 % and the \
         95 % interval, with the true coefficients and variance, and with estimated ones of the true orders.\n\n\
         | model | parameters | 80 %: 1 | 6 | 12 | 95 %: 1 | 6 | 12 |\n\
         | --- | --- | ---: | ---: | ---: | ---: | ---: | ---: |\n"
    );
    for (number, process) in PROCESSES.iter().enumerate() {
        let Some(known) = process.known() else {
            continue;
        };
        for estimated in [false, true] {
            let inside: Vec<[[bool; 3]; 2]> = (0..draws)
                .into_par_iter()
                .filter_map(|draw| {
                    let y = path(&known, LENGTH + 12, 1_000_000 * (20 + number as u64) + draw);
                    held(&known, &y, estimated)
                })
                .collect();
            let share = |wide: usize, place: usize| {
                let count = inside.iter().filter(|one| one[wide][place]).count();
                format!("{:.1} %", 100.0 * count as f64 / inside.len().max(1) as f64)
            };
            let cells: Vec<String> = [0, 1]
                .into_iter()
                .flat_map(|wide| (0..3).map(move |k| (wide, k)))
                .map(|(w, k)| share(w, k))
                .collect();
            let word = if estimated { "estimated" } else { "known" };
            let _ = writeln!(out, "| {} | {word} | {} |", process.model, cells.join(" | "));
        }
    }
    out
}

/// Which of the intervals hold what came.
fn held(known: &Known, y: &[f64], estimated: bool) -> Option<[[bool; 3]; 2]> {
    let data = Data::complete(&y[..LENGTH]);
    let own = if estimated { Known::from(&fit(&data, known.model).ok()?) } else { known.clone() };
    let joint = forecast(&own, &data, &[], 12).ok()?;
    let all = marginals(&joint, &[]);
    let holds = |ahead: usize, level: f64| {
        let value = y[LENGTH + ahead - 1];
        HorizonForecast::of(&all[ahead - 1], &[level]).intervals.iter().all(|own| own.contains(value))
    };
    Some([80.0, 95.0].map(|level| AHEAD.map(|ahead| holds(ahead, level))))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn paths_have_the_differences_of_their_model() {
        for process in &PROCESSES {
            let known = process.known().expect("a model");
            let y = path(&known, 4_000, 1);
            let w = known.model.differenced(&y);
            let variance = w.iter().map(|value| value * value).sum::<f64>() / w.len() as f64;
            // A stationary series of moderate spread, neither a walk nor noise over-differenced.
            assert!((0.9..9.0).contains(&variance), "{}: {variance}", process.model);
        }
    }

    #[test]
    fn the_true_orders_count_with_and_without_a_drift() {
        let truth = Model::parse("(0,1,1)").expect("a model");
        let drift = Model::parse("(0,1,1)+drift").expect("a model");
        let of = |model: Model, aicc: f64| Candidate {
            model,
            coefficients: Coefficients::default(),
            log_likelihood: 0.0,
            criteria: Criteria { aic: aicc, aicc: Some(aicc), bic: aicc, hq: aicc },
            warnings: Vec::new(),
        };
        let other = Model::parse("(1,1,0)").expect("a model");
        let first = place(&[of(drift, 1.0), of(other, 2.0)], truth);
        assert!(first.chosen && first.near);
        let second = place(&[of(other, 1.0), of(truth, 3.5)], truth);
        assert!(!second.chosen && !second.near);
    }
}
