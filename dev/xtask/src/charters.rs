//! The weekly hire rates of Osmere Bay: four classes of vessels on one common trend.

use std::fmt::Write as _;

use kandrel_core::num::rng::NormalStream;

const SEED: u64 = 2026;
const WEEKS: usize = 260;
/// Draws thrown away so that the spreads forget their start.
const BURN: usize = 100;

/// The whole file.
pub fn csv() -> String {
    let rates = rates();
    let mut out = String::from("week,lighter,coaster,feeder,bulker\n");
    for (t, [lighter, coaster, feeder, bulker]) in rates.into_iter().enumerate() {
        // 2020 has 53 weeks, the years after it 52.
        let (year, week) = if t < 53 { (2020, t + 1) } else { (2021 + (t - 53) / 52, (t - 53) % 52 + 1) };
        // Writing to a string cannot fail.
        let _ = writeln!(out, "{year}-W{week:02},{lighter:.2},{coaster:.2},{feeder:.2},{bulker:.2}");
    }
    out
}

/// Hire per day in hundreds. A random walk is common to all; coasters, feeders and bulkers stay
/// near it, neighbours with innovations in common. The change of lighters is 0.40, 0.25 and 0.15 of the
/// changes of the three (together 0.80), less 0.20 of last week's gap to coasters minus 7.
fn rates() -> Vec<[f64; 4]> {
    let draws = |stream| NormalStream::new(SEED, stream).take(WEEKS + BURN);
    let (common, own): (Vec<f64>, Vec<Vec<f64>>) = (draws(0), (1..=4).map(draws).collect());
    let mut trend = 58.0;
    let mut apart = [0.0; 3];
    let mut before = [51.0, 58.0, 64.0, 73.0];
    let mut all = Vec::new();
    for t in 0..WEEKS + BURN {
        trend += 0.75 * common[t];
        // Each class shares half of its shock with the one before it.
        let shocks = [own[1][t], 0.5 * own[1][t] + 0.85 * own[2][t], 0.5 * own[2][t] + 0.85 * own[3][t]];
        for (gap, (persistence, shock)) in apart.iter_mut().zip([0.6, 0.7, 0.5].into_iter().zip(shocks)) {
            *gap = persistence * *gap + 0.7 * shock;
        }
        let [coaster, feeder, bulker] = [trend + apart[0], trend + 6.0 + apart[1], trend + 15.0 + apart[2]];
        let gap = before[0] - before[1] + 7.0;
        let lighter = before[0]
            + 0.40 * (coaster - before[1])
            + 0.25 * (feeder - before[2])
            + 0.15 * (bulker - before[3])
            - 0.20 * gap
            + 0.35 * own[0][t];
        before = [lighter, coaster, feeder, bulker];
        all.push(before);
    }
    all.split_off(BURN)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_committed_file_is_what_the_generator_writes() {
        assert_eq!(csv(), include_str!("../../../crates/cli/src/demo/charters.csv"));
    }
}
