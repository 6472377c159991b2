//! What a decomposition costs: with the length of the series, with its season, and against every
//! local fit solved by itself.

#[path = "../tests/plain/decomposition.rs"]
mod plain;

use std::hint::black_box;
use std::time::{Duration, Instant};

use kandrel_core::decomp::{DecompOptions, SeasonWindow, by_loess, default_trend_window};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::outlier::{Method, OutlierOptions, find};
use plain::{Plain, decompose};

fn shortest<T>(runs: usize, mut job: impl FnMut() -> T) -> Duration {
    let one = |_| {
        let start = Instant::now();
        black_box(job());
        start.elapsed()
    };
    (0..runs).map(one).min().unwrap_or_default()
}

fn compare(what: &str, time: Duration, baseline: &str, base: Duration) {
    let ratio = time.as_secs_f64() / base.as_secs_f64();
    println!("{what:50} {:9.4} s   {ratio:9.4} x {baseline}", time.as_secs_f64());
}

fn series(n: usize, season: usize) -> Vec<Option<f64>> {
    let value = |(t, e): (usize, &f64)| {
        let angle = std::f64::consts::TAU * t as f64 / season as f64;
        Some(50.0 + 8.0 * angle.sin() + 0.01 * t as f64 + e)
    };
    NormalStream::new(7, n as u64).take(n).iter().enumerate().map(value).collect()
}

/// The program's own decomposition with everything it chooses by itself.
fn whole(n: usize, season: usize, robust: bool, runs: usize) -> Duration {
    let cells = series(n, season);
    let options = DecompOptions { robust, ..DecompOptions::of(season) };
    shortest(runs, || by_loess(&cells, &options).map(|found| found.strength))
}

fn against_the_plain_version(n: usize, season: usize) {
    let cells = series(n, season);
    for robust in [false, true] {
        let window = SeasonWindow::Evolving(11);
        let options = DecompOptions { seasonal_window: Some(window), robust, ..DecompOptions::of(season) };
        let how = Plain {
            season,
            seasonal_window: Some(11),
            seasonal_degree: 1,
            trend_window: default_trend_window(season, window),
            trend_degree: 1,
            robust,
        };
        let plain = shortest(1, || decompose(&cells, how));
        let ours = shortest(5, || by_loess(&cells, &options).map(|found| found.strength));
        let weighing = if robust { ", robust" } else { "" };
        println!("n = {n}, season of {season}{weighing}");
        compare("  every fit by its own QR factors", plain, "itself", plain);
        compare("  by_loess", ours, "every fit by itself", plain);
    }
}

fn main() {
    let base = whole(12_500, 365, false, 5);
    for (n, runs) in [(12_500, 5), (25_000, 5), (50_000, 3), (100_000, 3)] {
        compare(&format!("season of 365, n = {n}"), whole(n, 365, false, runs), "n = 12,500", base);
    }
    compare("season of 365, n = 100000, robust", whole(100_000, 365, true, 2), "n = 12,500", base);
    for season in [12, 52, 365] {
        compare(
            &format!("n = 25000, season of {season}"),
            whole(25_000, season, false, 5),
            "n = 12,500, 365",
            base,
        );
    }
    against_the_plain_version(600, 12);
    against_the_plain_version(1_200, 52);
    let y: Vec<f64> = series(300, 12).into_iter().flatten().collect();
    let options = OutlierOptions { season: 12, methods: Method::ALL.to_vec() };
    let search = shortest(10, || find(&y, &options).map(|found| found.outliers.len()));
    let robust = whole(300, 12, true, 10);
    compare("outliers, n = 300, season of 12", search, "one robust decomposition of it", robust);
}
