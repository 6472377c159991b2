//! How often the tests of randomness reject a random series.

use std::fmt::Write as _;

use kandrel_core::num::rng::NormalStream;
use kandrel_core::randomness::{RandomnessOptions, RandomnessTests, randomness_tests};

use crate::size::{self, Case, Row};

/// Another seed than those of the tables.
const SEED: u64 = 70_211;
const SIZES: [usize; 2] = [50, 200];

/// The names of the tests.
const NAMES: [&str; 13] = [
    "runs about the mean",
    "turning points",
    "difference sign",
    "rank trend",
    "rank von Neumann",
    "Ljung-Box, 10 lags",
    "variance ratio, 2",
    "variance ratio, 4",
    "variance ratio, 8",
    "variance ratio, 16",
    "variance ratios, joint",
    "McLeod-Li, 10 lags",
    "Jarque-Bera",
];

/// Their p-values, in the same order.
fn p_values(all: &RandomnessTests) -> Vec<Option<f64>> {
    let [turns, signs, trend] = [all.turning_points.0, all.difference_sign.0, all.rank_trend.0];
    let first = [all.runs.outcome, turns, signs, trend, all.rank_von_neumann.0, all.ljung_box].map(Some);
    let ratios = all.variance_ratios.iter().map(|ratio| Some(ratio.outcome));
    let last = [all.joint_variance_ratio, all.mcleod_li, Some(all.jarque_bera.0)];
    let outcomes = first.into_iter().chain(ratios).chain(last);
    outcomes.map(|outcome| outcome.map(|outcome| outcome.p_value)).collect()
}

fn cases(draws: u64) -> [Case<'static>; 1] {
    let options = RandomnessOptions { horizons: Some(vec![2, 4, 8, 16]), ..RandomnessOptions::default() };
    [Case::several(NAMES.map(str::to_owned).into(), draws, move |n, number| {
        let y = NormalStream::new(SEED, number * 1000 + n as u64).take(n);
        randomness_tests(&y, &options).map_or_else(|_| vec![None; NAMES.len()], |all| p_values(&all))
    })]
}

/// The section of the report.
pub fn section(draws: u64) -> String {
    let mut report = HEAD.replace("DRAWS", &draws.to_string());
    for Row { name, shares } in size::rows(&cases(draws), &SIZES) {
        let of_five_percent: Vec<f64> = shares.iter().map(|[_, five, _]| *five).collect();
        let kept = of_five_percent.iter().all(|share| (0.045..=0.055).contains(share));
        let cells: Vec<String> = of_five_percent.iter().map(|share| format!("{share:.4}")).collect();
        // Writing to a string cannot fail.
        let _ = writeln!(report, "| {name} | {} | {} |", cells.join(" | "), if kept { "yes" } else { "no" });
    }
    report + FOOT
}

const HEAD: &str = "\
## Size of the tests of randomness

Share of p-values up to 0.05 for DRAWS series of independent normal values; the standard error of a share is
about 0.0015.

| test | n = 50 | n = 200 | within 0.045 and 0.055 at both |
| --- | --- | --- | --- |
";

const FOOT: &str = "
Those that do not keep their size rest on limits that are not reached at these lengths. Jarque-Bera and McLeod-Li
reject too rarely in short series, Ljung-Box with many lags for the length a little too often, as does the variance
ratio over horizons that are long for the series: by default horizons are at most an eighth of it, here 16 is a third
of 50. The joint p-value takes horizons as independent, which they are not, and so is rather too large. The exact
p-value of the runs test, used up to 60 observations, takes few values, of which the largest below 0.05 may be well
below; beyond, and for turning points, a number that moves in steps meets a smooth curve.
";

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_test_has_its_name_and_a_p_value() {
        let y = NormalStream::new(SEED, 1).take(60);
        let options = RandomnessOptions { horizons: Some(vec![2, 4, 8, 16]), ..RandomnessOptions::default() };
        let found = p_values(&randomness_tests(&y, &options).expect("long enough"));
        assert_eq!(found.len(), NAMES.len());
        assert!(found.iter().all(|p| p.is_some_and(|p| (0.0..=1.0).contains(&p))), "{found:?}");
        let text = section(20);
        assert_eq!(text.lines().filter(|line| line.starts_with("| ")).count(), 2 + NAMES.len());
    }
}
