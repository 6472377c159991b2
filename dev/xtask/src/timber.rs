//! The annual data of Osmere Bay: too few to settle much.

use std::fmt::Write as _;

use kandrel_core::num::rng::NormalStream;

const SEED: u64 = 1950;
const YEARS: usize = 75;
/// Draws thrown away so that the stationary process forgets its start.
const BURN: usize = 100;

/// The whole file.
pub fn csv() -> String {
    let mut out = String::from("year,cut,planted\n");
    for (t, (cut, planted)) in cut().into_iter().zip(planted()).enumerate() {
        // Writing to a string cannot fail.
        let _ = writeln!(out, "{},{cut:.1},{planted:.1}", 1950 + t);
    }
    out
}

/// Timber cut, thousand cubic metres: 240 plus an AR(1) with coefficient 0.9 and steps of 9.
fn cut() -> Vec<f64> {
    let mut level = 0.0;
    let all = NormalStream::new(SEED, 0).take(YEARS + BURN);
    let path = all.iter().map(|e| {
        level = 0.9 * level + 9.0 * e;
        240.0 + level
    });
    path.skip(BURN).collect()
}

/// Area planted, hectares: a random walk from 620 with steps of 14.
fn planted() -> Vec<f64> {
    let mut level = 620.0;
    let steps = NormalStream::new(SEED, 1).take(YEARS);
    steps
        .iter()
        .map(|e| {
            level += 14.0 * e;
            level
        })
        .collect()
}
