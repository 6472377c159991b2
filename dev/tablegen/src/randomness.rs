//! How often the tests of randomness reject a random series.

use std::fmt::Write as _;

use kandrel_core::num::rng::NormalStream;
use kandrel_core::randomness::{Battery, BatteryOptions, RandomnessError, battery};
use rayon::prelude::*;

/// Another seed than those of the tables.
const SEED: u64 = 70_211;
const SIZES: [usize; 2] = [50, 200];
const LEVEL: f64 = 0.05;

/// The p-values of all tests, by name.
fn p_values(all: &Battery) -> Vec<(String, f64)> {
    let mut named = vec![
        ("runs about the mean".to_owned(), all.runs.outcome.p_value),
        ("turning points".to_owned(), all.turning_points.0.p_value),
        ("difference sign".to_owned(), all.difference_sign.0.p_value),
        ("rank trend".to_owned(), all.rank_trend.0.p_value),
        ("rank von Neumann".to_owned(), all.rank_von_neumann.0.p_value),
        ("Ljung-Box, 10 lags".to_owned(), all.ljung_box.p_value),
    ];
    let ratios = all.variance_ratios.iter();
    named.extend(ratios.map(|ratio| (format!("variance ratio, {}", ratio.horizon), ratio.outcome.p_value)));
    named.extend(all.joint_variance_ratio.map(|joint| ("variance ratios, joint".to_owned(), joint.p_value)));
    named.extend(all.mcleod_li.map(|test| ("McLeod-Li, 10 lags".to_owned(), test.p_value)));
    named.push(("Jarque-Bera".to_owned(), all.jarque_bera.0.p_value));
    named
}

/// Shares of p-values up to 0.05, by test.
fn shares(n: usize, draws: u32) -> Result<Vec<(String, f64)>, RandomnessError> {
    let options = BatteryOptions { horizons: Some(vec![2, 4, 8, 16]), ..BatteryOptions::default() };
    let one = |draw: u32| {
        let y = NormalStream::new(SEED, u64::from(draw) * 1000 + n as u64).take(n);
        battery(&y, &options).map(|all| p_values(&all))
    };
    let all: Vec<Vec<(String, f64)>> = (0..draws).into_par_iter().map(one).collect::<Result<_, _>>()?;
    let names: Vec<String> =
        all.first().map(|first| first.iter().map(|(name, _)| name.clone()).collect()).unwrap_or_default();
    let share = |place: usize| {
        let up_to = all.iter().filter(|tests| tests.get(place).is_some_and(|(_, p)| *p <= LEVEL)).count();
        up_to as f64 / f64::from(draws)
    };
    Ok(names.into_iter().enumerate().map(|(place, name)| (name, share(place))).collect())
}

/// The section of the report.
pub fn section(draws: u32) -> Result<String, String> {
    let mut report = HEAD.replace("DRAWS", &draws.to_string());
    let by_size: Vec<Vec<(String, f64)>> =
        SIZES.into_iter().map(|n| shares(n, draws).map_err(|e| e.to_string())).collect::<Result<_, _>>()?;
    let [short, long] = by_size.as_slice() else {
        return Ok(report);
    };
    for ((name, first), (_, second)) in short.iter().zip(long) {
        let kept = [first, second].into_iter().all(|share| (0.045..=0.055).contains(share));
        let word = if kept { "yes" } else { "no" };
        // Writing to a string cannot fail.
        let _ = writeln!(report, "| {name} | {first:.4} | {second:.4} | {word} |");
    }
    report.push_str(FOOT);
    Ok(report)
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
reject too seldom in short series, Ljung-Box with many lags for the length a little too often, as does the variance
ratio over horizons that are long for the series: by default horizons are at most an eighth of it, here 16 is a third
of 50. The joint p-value takes horizons as independent, which they are not, and so is rather too large. The exact
p-value of the runs test, used up to 60 observations, takes few values, of which the largest below 0.05 may be well
below; beyond, and for turning points, a number that moves in steps meets a smooth curve.
";
