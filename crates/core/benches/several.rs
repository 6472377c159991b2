//! What a table of lag orders, a system and a regression cost, each as a ratio to a named baseline
//! measured in the same run.

use std::hint::black_box;
use std::time::{Duration, Instant};

use kandrel_core::coint::{SystemInput, system};
use kandrel_core::nulldist::{SystemTerms, random_walk};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::regression::{ErrorKind, RegressionOptions, least_squares, regression};
use kandrel_core::var::{LagTerms, VarInput, estimate, lag_table};

const RUNS: usize = 5;

/// The shortest of several runs: the one least disturbed by other work.
fn shortest<T>(mut job: impl FnMut() -> T) -> Duration {
    (0..RUNS)
        .map(|_| {
            let start = Instant::now();
            black_box(job());
            start.elapsed()
        })
        .min()
        .unwrap_or_default()
}

fn compare(what: &str, time: Duration, baseline: &str, base: Duration) {
    let ratio = time.as_secs_f64() / base.as_secs_f64();
    println!("{what:58} {:9.4} s   {ratio:7.3} x {baseline}", time.as_secs_f64());
}

/// A table of all orders against a regression for each on the same rows.
fn lags(n: usize, count: usize, most: usize) {
    let series: Vec<Vec<f64>> = (0..count as u64).map(|k| NormalStream::new(4, k).take(n)).collect();
    let slices: Vec<&[f64]> = series.iter().map(Vec::as_slice).collect();
    let input = VarInput { series: &slices, exogenous: &[], terms: LagTerms::Constant, season: 1 };
    // The same rows for each order, and nothing but its factorisation and determinant.
    let refit = |lags: usize| {
        let late: Vec<&[f64]> = slices.iter().map(|y| &y[most - lags..]).collect();
        lag_table(VarInput { series: &late, ..input }, lags)
    };
    let largest = shortest(|| refit(most));
    let table = shortest(|| lag_table(input, most));
    let each = shortest(|| (0..=most).map(|lags| refit(lags).is_ok()).collect::<Vec<_>>());
    let estimates = shortest(|| (1..=most).map(|lags| estimate(input, lags).is_ok()).collect::<Vec<_>>());
    println!("Lag orders, n = {n}, {count} series, lags 0 to {most}");
    compare("  the largest order alone", largest, "itself", largest);
    compare("  the table", table, "the largest order alone", largest);
    compare("  the table", table, "a factorisation for each", each);
    compare("  the table", table, "an estimate for each", estimates);
}

/// All ranks of a system against one regression of its equations.
fn systems(n: usize, count: usize) {
    let series: Vec<Vec<f64>> =
        (0..count as u64).map(|k| random_walk(&mut NormalStream::new(5, k), n)).collect();
    let slices: Vec<&[f64]> = series.iter().map(Vec::as_slice).collect();
    let input = VarInput { series: &slices, exogenous: &[], terms: LagTerms::Constant, season: 1 };
    let one = shortest(|| lag_table(input, 3));
    let all = shortest(|| system(SystemInput { series: &slices, lags: 3, terms: SystemTerms::Constant }));
    println!("System, n = {n}, {count} series, 3 lags");
    compare("  all ranks", all, "one factorisation of as many lags", one);
}

/// Refined least squares with its diagnostics against the bare solution.
fn regressions(n: usize, count: usize) {
    let columns: Vec<Vec<f64>> = (0..count as u64)
        .map(|k| if k == 0 { vec![1.0; n] } else { NormalStream::new(6, k).take(n) })
        .collect();
    let target = NormalStream::new(7, 0).take(n);
    let bare = shortest(|| least_squares(&columns, &target));
    println!("Regression, n = {n}, {count} regressors");
    for (name, errors) in [
        ("  classical errors", ErrorKind::Classical),
        ("  HC3 errors", ErrorKind::Hc3),
        ("  Newey-West errors, 8 lags", ErrorKind::NeweyWest(8)),
    ] {
        let options = RegressionOptions { constant: Some(0), errors, alpha: 0.05 };
        let full = shortest(|| regression(&columns, &target, &options));
        compare(name, full, "the bare solution", bare);
    }
}

fn main() {
    lags(2_000, 5, 24);
    lags(300, 3, 8);
    systems(300, 5);
    systems(2_000, 11);
    regressions(2_000, 8);
    regressions(100_000, 8);
}
