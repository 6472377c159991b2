//! What a search over lags or break dates, all tests, verdicts and a wide bandwidth cost, each as a ratio to a
//! named baseline measured in the same run.

use std::hint::black_box;
use std::time::{Duration, Instant};

use kandrel_core::lag::{Criterion, LagRule, default_max_lags};
use kandrel_core::nulldist::{BreakModel, Terms};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::num::sum::dot;
use kandrel_core::ols::bartlett_variance;
use kandrel_core::unitroot::statistic::{LagrangeModel, break_search, lagrange_search};
use kandrel_core::unitroot::{
    AdfOptions, FurtherOptions, KpssOptions, SeasonalOptions, TestName, adf, further_tests, hegy, kpss,
};
use kandrel_core::verdict::{AssessOptions, assess};
use rayon::prelude::*;

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

/// The tests of one series with automatic lags, without searches for breaks, against an ADF test
/// that fits a regression for each number of lags.
fn battery(n: usize, runs: usize) {
    let walk = random_walk(n);
    let most = default_max_lags(n);
    let refitted = || {
        let one = |lags| adf(&walk, &options(LagRule::Given(lags))).map(|test| test.statistic);
        (0..=most).map(one).collect::<Vec<_>>()
    };
    let further = FurtherOptions {
        tests: vec![TestName::Pp, TestName::AdfGls, TestName::PointOptimal, TestName::NgPerron],
        ..FurtherOptions::default()
    };
    let seasonal = SeasonalOptions { season: 12, trend: true, lags: None, max_lags: None };
    let all = || {
        let searching = options(LagRule::Criterion(Criterion::Aic));
        let own = (adf(&walk, &searching).is_ok(), kpss(&walk, &KpssOptions::default()).is_ok());
        (own, further_tests(&walk, &further).is_ok(), hegy(&walk, &seasonal).is_ok())
    };
    let base = shortest(runs, refitted);
    println!("Tests of one series, n = {n}, automatic lags, no searches for breaks");
    compare("  ADF with a regression for each of the lags", base, "itself", base);
    compare(
        "  ADF, KPSS, PP, ADF-GLS, P_T, M-tests, HEGY (s = 12)",
        shortest(runs, all),
        "such an ADF",
        base,
    );
}

/// Searches over one break date against a regression for each date.
fn breaks(n: usize, lags: usize, runs: usize) {
    let walk = random_walk(n);
    let outside = 15 * n / 100;
    let dates = outside..=n - outside;
    let refitted = || {
        let one = |before| break_search(&walk, BreakModel::Both, lags, before..=before);
        dates.clone().flat_map(one).count()
    };
    let base = shortest(runs, refitted);
    println!("One break date of {}, n = {n}, {lags} lags", n - 2 * outside + 1);
    compare("  a factorisation for each date", base, "itself", base);
    let once = || break_search(&walk, BreakModel::Both, lags, dates.clone()).is_ok();
    compare("  Zivot-Andrews, level and slope", shortest(runs, once), "one for each", base);
    let model = LagrangeModel { slope: true, breaks: 1, lags };
    let score = || lagrange_search(&walk, model, outside).is_ok();
    compare("  Lee-Strazicich, level and slope", shortest(runs, score), "one for each", base);
}

/// Verdicts of many series, on one thread and on all.
fn verdicts(count: u64, n: usize) {
    let series: Vec<Vec<f64>> = (0..count)
        .map(|number| {
            let mut x = NormalStream::new(3, number).take(n);
            let root = if number % 2 == 0 { 1.0 } else { 0.6 };
            for t in 1..n {
                x[t] += root * x[t - 1];
            }
            x
        })
        .collect();
    let all = || series.par_iter().filter(|y| assess(y, &AssessOptions::default()).is_ok()).count();
    let alone = rayon::ThreadPoolBuilder::new().num_threads(1).build();
    let Ok(alone) = alone else {
        return;
    };
    let base = shortest(2, || alone.install(all));
    println!("Verdicts of {count} series of {n}");
    compare("  one thread", base, "itself", base);
    compare("  all threads", shortest(2, all), "one thread", base);
}

fn main() {
    battery(300, 50);
    breaks(300, 4, 20);
    breaks(2_000, 4, 3);
    verdicts(200, 300);
    search(300, 50);
    search(10_000, 10);
    search(1_000_000, 2);
    long_run_variance(1_000_000, 120, 3);
}
