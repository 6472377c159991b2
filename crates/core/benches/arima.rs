//! What the exact likelihood and its slope cost, against one plain pass for the conditional sum of
//! squares over the terms of the multiplied polynomials that are not zero; gaps, forecasts and
//! whole searches, against one fit.

use std::hint::black_box;
use std::time::{Duration, Instant};

use kandrel_core::arima::{Coefficients, Data, Grid, Known, Model, fit, forecast, likelihood, search};
use kandrel_core::num::rng::NormalStream;
use mimalloc::MiMalloc;

/// As in the program.
#[global_allocator]
static ALLOCATOR: MiMalloc = MiMalloc;

/// Time of one run, the shortest mean of several rounds.
fn each<T>(runs: u32, mut job: impl FnMut() -> T) -> Duration {
    let round = |_| {
        let start = Instant::now();
        for _ in 0..runs {
            black_box(job());
        }
        start.elapsed() / runs
    };
    (0..7).map(round).min().unwrap_or_default()
}

/// Terms of a polynomial that are not zero, with their lags.
fn terms(weights: &[f64]) -> Vec<(usize, f64)> {
    weights.iter().enumerate().filter(|(_, w)| w.abs() > 0.0).map(|(i, w)| (i + 1, *w)).collect()
}

fn conditional_sum(w: &[f64], ar: &[(usize, f64)], ma: &[(usize, f64)], errors: &mut [f64]) -> f64 {
    let first = ar.iter().chain(ma).map(|(lag, _)| *lag).max().unwrap_or(0);
    let mut sum = 0.0;
    for t in first..w.len() {
        let mut error = w[t];
        for (lag, weight) in ar {
            error -= weight * w[t - lag];
        }
        for (lag, weight) in ma {
            error -= weight * errors[t - lag];
        }
        errors[t] = error;
        sum += error * error;
    }
    sum
}

/// A series whose changes over one period and over a season are noise.
fn seasonal_walk(n: usize, season: usize) -> Vec<f64> {
    let mut y = NormalStream::new(5, 0).take(n);
    for t in season + 1..n {
        y[t] += y[t - 1] + y[t - season] - y[t - season - 1];
    }
    y
}

/// A fit over gaps and forecasts, each as a ratio to a fit without gaps.
fn gaps_and_forecasts() {
    let n = 600;
    let y = seasonal_walk(n, 12);
    let Ok(model) = Model::parse("(0,1,1)(0,1,1)12") else {
        return;
    };
    let whole = Data::complete(&y);
    let base = each(3, || fit(&whole, model));
    println!("(0,1,1)(0,1,1)12, n = {n}: a fit without gaps {:8.1} us", 1e6 * base.as_secs_f64());
    let ratio = |time: Duration| time.as_secs_f64() / base.as_secs_f64();
    for count in [1, 4, 16, 64] {
        let hole = |t: usize| t % (n / count) == n / (2 * count);
        let cells: Vec<Option<f64>> = y.iter().enumerate().map(|(t, v)| (!hole(t)).then_some(*v)).collect();
        let data = Data::with_gaps(&cells);
        println!("  a fit over {count:2} gaps {:7.2} x", ratio(each(1, || fit(&data, model))));
    }
    let Ok(found) = fit(&whole, model) else {
        return;
    };
    let known = Known::from(&found);
    for ahead in [12, 60, 360] {
        let time = each(3, || forecast(&known, &whole, &[], ahead));
        println!("  forecasts of {ahead:3} steps {:7.3} x", ratio(time));
    }
}

/// Every model of a grid, as a ratio to the fit of one with a term of each moving average.
fn whole_searches() {
    for (n, season, limit) in [(144, 12, [3, 3, 2, 2]), (1_000, 52, [3, 3, 1, 1]), (8_000, 365, [3, 3, 1, 1])]
    {
        let data = Data::complete(&seasonal_walk(n, season));
        let Ok(model) = Model::parse(&format!("(0,1,1)(0,1,1){season}")) else {
            return;
        };
        let base = each(3, || fit(&data, model));
        let grid = Grid { limit, ..Grid::usual(1, 1, season) };
        let start = Instant::now();
        let found = search(&data, grid, |criteria| criteria.aic, |_| {}).map_or(0, |all| all.len());
        let time = start.elapsed();
        println!(
            "search of {found} models, s = {season}, n = {n}: {:.2} s, {:.1} x a fit for each",
            time.as_secs_f64(),
            time.as_secs_f64() / base.as_secs_f64() / grid.count() as f64
        );
    }
}

fn main() {
    gaps_and_forecasts();
    whole_searches();
    likelihoods();
}

fn likelihoods() {
    let models = [
        ("(0,1)(0,1)", Coefficients { ma: vec![-0.4], seasonal_ma: vec![-0.6], ..Coefficients::default() }),
        (
            "(2,2)(1,1)",
            Coefficients {
                ar: vec![0.5, 0.2],
                ma: vec![-0.3, 0.2],
                seasonal_ar: vec![0.4],
                seasonal_ma: vec![-0.6],
            },
        ),
        (
            "(3,3)(2,2)",
            Coefficients {
                ar: vec![0.5, 0.2, -0.1],
                ma: vec![-0.3, 0.2, 0.1],
                seasonal_ar: vec![0.4, 0.1],
                seasonal_ma: vec![-0.6, 0.2],
            },
        ),
    ];
    for (name, model) in &models {
        for season in [12, 52, 365] {
            for n in [500, 2_000, 8_000] {
                if 3 * season > n {
                    continue;
                }
                let w = NormalStream::new(3, n as u64).take(n);
                let (ar, ma) = (terms(&model.long_ar(season)), terms(&model.long_ma(season)));
                let mut errors = vec![0.0; n];
                let runs = 200_000 / u32::try_from(n).unwrap_or(1);
                let base = each(runs, || conditional_sum(black_box(&w), &ar, &ma, &mut errors));
                let value = each(runs, || likelihood(black_box(&w), &[], model, season, false));
                let slope = each(runs, || likelihood(black_box(&w), &[], model, season, true));
                let ratio = |time: Duration| time.as_secs_f64() / base.as_secs_f64();
                println!(
                    "{name} s = {season:3} n = {n:5}: plain pass {:8.1} us, value {:5.2} x, with slope {:5.2} x",
                    1e6 * base.as_secs_f64(),
                    ratio(value),
                    ratio(slope)
                );
            }
        }
    }
}
