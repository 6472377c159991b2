//! What autocorrelations cost: the fast transform against the direct sums, and many
//! series on two threads against one.

use std::hint::black_box;
use std::time::{Duration, Instant};

use kandrel_core::corr::{AcfOptions, acf, lagged_products};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::num::sum::dot;
use rayon::prelude::*;

/// The result and the shortest of several runs: the one least disturbed by other work.
fn shortest<T>(runs: usize, mut job: impl FnMut() -> T) -> (Option<T>, Duration) {
    let mut best = (None, Duration::MAX);
    for _ in 0..runs {
        let start = Instant::now();
        let result = black_box(job());
        best = (Some(result), best.1.min(start.elapsed()));
    }
    best
}

/// Products at many lags of a long series.
fn long_series(n: usize, lags: usize) {
    let e = NormalStream::new(3, 0).take(n);
    let plain = |lag: usize| -> f64 { e[lag..].iter().zip(&e).map(|(a, b)| a * b).sum() };
    let (plain_sums, one_by_one) = shortest(1, || (0..=lags).map(plain).collect::<Vec<f64>>());
    let (_, in_parts) = shortest(1, || (0..=lags).map(|lag| dot(&e[lag..], &e)).collect::<Vec<f64>>());
    let (ours, transform) = shortest(5, || lagged_products(&e, lags));
    let (plain_sums, ours) = (plain_sums.unwrap_or_default(), ours.unwrap_or_default());
    let apart = plain_sums.iter().zip(&ours).map(|(a, b)| ((a - b) / ours[0]).abs()).fold(0.0, f64::max);
    println!("ACF, n = {n}, {lags} lags: largest difference of an autocorrelation {apart:.1e}");
    for (what, time) in
        [("direct sums", one_by_one), ("direct sums in eight parts", in_parts), ("fast transform", transform)]
    {
        let ratio = time.as_secs_f64() / transform.as_secs_f64();
        println!("  {what:28} {:8.3} s   {ratio:8.1} x the fast transform", time.as_secs_f64());
    }
}

/// Whole functions of many series.
fn many_series(count: u64, n: usize, lags: usize) {
    let all: Vec<Vec<f64>> = (0..count).map(|k| NormalStream::new(4, k).take(n)).collect();
    let options = AcfOptions { lags: Some(lags), season: 12, ..AcfOptions::default() };
    let work = || all.par_iter().filter(|y| acf(y, &options).is_ok()).count();
    println!("ACF of {count} series, n = {n}, {lags} lags");
    let mut single = None;
    for threads in [1, 2] {
        let Ok(pool) = rayon::ThreadPoolBuilder::new().num_threads(threads).build() else {
            return;
        };
        let (_, time) = shortest(20, || pool.install(work));
        let one = *single.get_or_insert(time);
        let ratio = one.as_secs_f64() / time.as_secs_f64();
        println!("  {threads} threads {:8.4} s   {ratio:5.2} x as fast as one", time.as_secs_f64());
    }
}

fn main() {
    long_series(1_000_000, 5_000);
    many_series(1_000, 500, 40);
}
