//! The quarterly data of Osmere Bay: wages and rents that keep to one relation, output and
//! population on trends of their own.

use std::fmt::Write as _;

use kandrel_core::num::rng::NormalStream;

const SEED: u64 = 1984;
const QUARTERS: usize = 164;
/// Draws thrown away so that the changes forget their start.
const BURN: usize = 80;

/// The whole file.
pub fn csv() -> String {
    let [wages, rents, output] = system();
    let (prices, population) = (prices(), population());
    let mut out = String::from("quarter,wages,rents,output,prices,population\n");
    for t in 0..QUARTERS {
        // Writing to a string cannot fail.
        let _ = writeln!(
            out,
            "{}-Q{},{:.2},{:.2},{:.1},{:.2},{:.2}",
            1984 + t / 4,
            t % 4 + 1,
            wages[t],
            rents[t],
            output[t],
            prices[t],
            population[t]
        );
    }
    out
}

/// Weekly wages, monthly rents and quarterly output: changes with two lags of each other, and
/// wages that make up a quarter of any gap to `120 + 1.6 rents`. Output has its own trend.
fn system() -> [Vec<f64>; 3] {
    const FIRST: [[f64; 3]; 3] = [[0.25, 0.20, 0.00], [0.00, 0.45, 0.00], [0.00, 0.00, 0.35]];
    const SECOND: [[f64; 3]; 3] = [[0.30, -0.15, 0.00], [0.00, -0.40, 0.00], [0.15, 0.00, -0.35]];
    const DRIFT: [f64; 3] = [0.35, 0.95, 1.90];
    const SPREAD: [f64; 3] = [1.5, 1.2, 4.0];
    let shocks: Vec<Vec<f64>> =
        (0..3).map(|stream| NormalStream::new(SEED, stream).take(QUARTERS + BURN)).collect();
    let mut levels = vec![[344.0, 140.0, 700.0]; 3];
    for t in 3..QUARTERS + BURN {
        let change = |series: usize, lag: usize| levels[t - lag][series] - levels[t - lag - 1][series];
        let gap = levels[t - 1][0] - 120.0 - 1.6 * levels[t - 1][1];
        let mut next = levels[t - 1];
        for (series, level) in next.iter_mut().enumerate() {
            let past: f64 = (0..3)
                .map(|other| {
                    FIRST[series][other] * change(other, 1) + SECOND[series][other] * change(other, 2)
                })
                .sum();
            let pull = if series == 0 { -0.25 * gap } else { 0.0 };
            *level += DRIFT[series] + past + pull + SPREAD[series] * shocks[series][t];
        }
        levels.push(next);
    }
    let kept = &levels[BURN..];
    [0, 1, 2].map(|series| kept.iter().map(|row| row[series]).collect())
}

/// Price deflator, 100 in the first quarter: inflation has a unit root, prices twice over.
fn prices() -> Vec<f64> {
    let mut inflation: f64 = 0.008;
    let mut level = 100.0;
    let shocks = NormalStream::new(SEED, 10).take(QUARTERS);
    let path = shocks.iter().map(|e| {
        let now = level;
        inflation = 0.0004 + 0.95 * inflation + 0.0011 * e;
        level *= 1.0 + inflation;
        now
    });
    path.collect()
}

/// Thousands of people: steady growth that itself changes slowly.
fn population() -> Vec<f64> {
    let mut growth: f64 = 0.9;
    let mut level = 412.0;
    let shocks = NormalStream::new(SEED, 11).take(QUARTERS);
    let path = shocks.iter().map(|e| {
        let now = level;
        growth = 0.05 + 0.94 * growth + 0.08 * e;
        level += growth;
        now
    });
    path.collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_committed_file_is_what_the_generator_writes() {
        assert_eq!(csv(), include_str!("../../../crates/cli/src/demo/region.csv"));
    }
}
