//! What a search over lags and a wide bandwidth cost, each as a ratio to a
//! named baseline measured in the same run.

use std::hint::black_box;
use std::time::{Duration, Instant};

use kandrel_core::lag::{Criterion, LagRule};
use kandrel_core::nulldist::Terms;
use kandrel_core::num::rng::NormalStream;
use kandrel_core::num::sum::dot;
use kandrel_core::ols::bartlett_variance;
use kandrel_core::unitroot::{AdfOptions, adf};

const LAGS: usize = 20;

/// The shortest of several runs: the one least disturbed by other work.
fn shortest<T>(runs: usize, mut job: impl FnMut() -> T) -> Duration {
    (0..runs)
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

fn random_walk(n: usize) -> Vec<f64> {
    let mut walk = NormalStream::new(1, n as u64).take(n);
    for t in 1..n {
        walk[t] += walk[t - 1];
    }
    walk
}

fn options(lags: LagRule) -> AdfOptions {
    AdfOptions { terms: Terms::Constant, lags, max_lags: None }
}

/// A search among `0..=LAGS` lags against one regression with `LAGS` of them,
/// and against a regression for each.
fn search(n: usize, runs: usize) {
    let walk = random_walk(n);
    let given = |lags| adf(&walk, &options(LagRule::Given(lags))).map(|test| test.statistic);
    let one = shortest(runs, || given(LAGS));
    let each = shortest(runs, || (0..=LAGS).map(given).collect::<Vec<_>>());
    let searching = AdfOptions { max_lags: Some(LAGS), ..options(LagRule::Criterion(Criterion::Aic)) };
    let best = shortest(runs, || adf(&walk, &searching).map(|test| test.statistic));
    println!("ADF, n = {n}, lags 0 to {LAGS}");
    compare("  one regression with all lags", one, "itself", one);
    compare("  search by AIC", best, "one regression", one);
    compare("  a regression for each number of lags", each, "one regression", one);
}

/// The long-run variance by partial sums against the sum of autocovariances.
fn long_run_variance(n: usize, lags: usize, runs: usize) {
    let e = NormalStream::new(2, n as u64).take(n);
    let by_definition = || {
        (1..=lags).fold(dot(&e, &e), |sum, j| {
            let weight = 1.0 - j as f64 / (lags as f64 + 1.0);
            sum + 2.0 * weight * dot(&e[j..], &e)
        }) / n as f64
    };
    let direct = shortest(runs, by_definition);
    let ours = shortest(runs, || bartlett_variance(&e, lags));
    println!("Bartlett long-run variance, n = {n}, bandwidth {lags}");
    compare("  sum of autocovariances", direct, "itself", direct);
    compare("  partial sums", ours, "sum of autocovariances", direct);
}

fn main() {
    search(300, 50);
    search(10_000, 10);
    search(1_000_000, 2);
    long_run_variance(1_000_000, 120, 3);
}
