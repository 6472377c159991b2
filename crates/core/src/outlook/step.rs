//! The distribution of one forecast in original units.

use super::joint::Joint;
use super::stage::{Map, Stage};
use crate::num::normal;
use crate::num::rng::NormalStream;

/// What one of the next values may be.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Step {
    /// Half of what may be lies below.
    pub median: f64,
    /// What is expected; none where it does not exist.
    pub mean: Option<f64>,
    /// Its standard deviation; none where it does not exist.
    pub std_error: Option<f64>,
    /// Ends of the interval that holds it in 80 of 100 cases; none where it has no end.
    pub inner: [Option<f64>; 2],
    /// The same for 95 of 100 cases.
    pub outer: [Option<f64>; 2],
}

/// Shares of the probability below the ends of the intervals: 95 %, 80 %.
const ENDS: [f64; 4] = [0.025, 0.1, 0.9, 0.975];
/// Paths that are drawn where no formula leads back.
const PATHS: usize = 20_000;
/// Their seed.
pub const SEED: u64 = 20_261_127;

/// Carries the joint distribution through the stages and gives each step its place and spread.
///
/// # Method
/// Stages that keep it normal are carried out on the distribution; behind them stages that take
/// each value alone carry quantiles exactly, and expected values by the trapezoid rule over the
/// normal density, which is exact to rounding for smooth functions. A stage that looks back behind
/// one that bends is followed along 20,000 drawn paths, the same for each call.
pub fn steps(joint: &Joint, stages: &[Stage]) -> Vec<Step> {
    let mut joint = joint.clone();
    let done = stages.iter().take_while(|stage| stage.on(&mut joint)).count();
    let rest = &stages[done..];
    let single: Option<Vec<&[Map]>> = rest.iter().map(Stage::maps).collect();
    match single {
        Some(maps) => (0..joint.ahead()).map(|h| exactly(&joint, &maps, h)).collect(),
        None => by_paths(&joint, rest),
    }
}

/// A number, unless it has none.
fn finite(value: f64) -> Option<f64> {
    value.is_finite().then_some(value)
}

fn exactly(joint: &Joint, maps: &[&[Map]], h: usize) -> Step {
    let (mean, sd) = (joint.mean[h], joint.variance(h).sqrt());
    let at = |z: f64| maps.iter().fold(mean + sd * z, |x, maps| maps[h].at(x));
    let mut ends = ENDS.map(|share| at(normal::quantile(share)));
    // A function that falls turns them round.
    ends.sort_by(f64::total_cmp);
    let (expected, spread) = if maps.is_empty() { (mean, sd) } else { moments(&at) };
    step(at(0.0), expected, spread, ends)
}

fn step(median: f64, mean: f64, spread: f64, [low95, low80, high80, high95]: [f64; 4]) -> Step {
    Step {
        median,
        mean: finite(mean),
        std_error: finite(spread),
        inner: [finite(low80), finite(high80)],
        outer: [finite(low95), finite(high95)],
    }
}

/// Mean and standard deviation of a function of a standard normal value.
fn moments(at: &impl Fn(f64) -> f64) -> (f64, f64) {
    const WIDTH: f64 = 0.1;
    const REACH: i32 = 120;
    let weight = |z: f64| WIDTH * (-0.5 * z * z).exp() / (2.0 * std::f64::consts::PI).sqrt();
    let nodes: Vec<(f64, f64)> =
        (-REACH..=REACH).map(|k| WIDTH * f64::from(k)).map(|z| (weight(z), at(z))).collect();
    let mean: f64 = nodes.iter().map(|(weight, value)| weight * value).sum();
    let variance: f64 = nodes.iter().map(|(weight, value)| weight * (value - mean).powi(2)).sum();
    (mean, variance.sqrt())
}

/// So many paths of the next values, each drawn from their joint distribution and carried through
/// the stages; path k depends on the seed and on k alone.
pub fn paths(joint: &Joint, stages: &[Stage], count: usize, seed: u64) -> Vec<Vec<f64>> {
    let shocks = joint.responses.iter().map(Vec::len).max().unwrap_or(0);
    let one = |draw: u64| along(joint, stages, &NormalStream::new(seed, draw).take(shocks), 1.0);
    (0..count as u64).map(one).collect()
}

/// The path that these shocks make, or their mirror image.
fn along(joint: &Joint, stages: &[Stage], shocks: &[f64], sign: f64) -> Vec<f64> {
    let value = |h: usize| {
        let moved: f64 = joint.responses[h].iter().zip(shocks).map(|(response, z)| response * z).sum();
        joint.mean[h] + sign * moved
    };
    let mut path: Vec<f64> = (0..joint.ahead()).map(value).collect();
    for stage in stages {
        stage.along(&mut path);
    }
    path
}

fn by_paths(joint: &Joint, stages: &[Stage]) -> Vec<Step> {
    let ahead = joint.ahead();
    let shocks = joint.responses.iter().map(Vec::len).max().unwrap_or(0);
    let mut values = vec![Vec::with_capacity(PATHS); ahead];
    for draw in 0..PATHS / 2 {
        let z = NormalStream::new(SEED, draw as u64).take(shocks);
        // With each path its mirror image, so that the middle is met.
        for sign in [1.0, -1.0] {
            let path = along(joint, stages, &z, sign);
            values.iter_mut().zip(&path).for_each(|(all, value)| all.push(*value));
        }
    }
    values.into_iter().map(of_draws).collect()
}

fn of_draws(mut values: Vec<f64>) -> Step {
    values.sort_by(f64::total_cmp);
    let count = values.len() as f64;
    let quantile = |share: f64| {
        let place = share * (count - 1.0);
        let below = place.floor();
        // A share below one of a length that fits.
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
        let index = below as usize;
        let next = values[(index + 1).min(values.len() - 1)];
        values[index] + (place - below) * (next - values[index])
    };
    let mean = values.iter().sum::<f64>() / count;
    let variance = values.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / count;
    step(quantile(0.5), mean, variance.sqrt(), ENDS.map(quantile))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn one(mean: f64, sd: f64) -> Joint {
        Joint { mean: vec![mean], responses: vec![vec![sd]] }
    }

    #[test]
    fn paths_have_the_moments_of_their_distribution_and_a_seed_of_their_own() {
        let joint = Joint { mean: vec![1.0, 2.0], responses: vec![vec![1.0], vec![0.5, 0.5]] };
        let drawn = paths(&joint, &[], 20_000, 3);
        assert_eq!(drawn[..5], paths(&joint, &[], 5, 3)[..]);
        assert_ne!(drawn[0], paths(&joint, &[], 1, 4)[0]);
        let mean = |of: &dyn Fn(&Vec<f64>) -> f64| drawn.iter().map(of).sum::<f64>() / 20_000.0;
        assert!((mean(&|path| path[0]) - 1.0).abs() < 0.03 && (mean(&|path| path[1]) - 2.0).abs() < 0.03);
        let together = mean(&|path| (path[0] - 1.0) * (path[1] - 2.0));
        assert!((together - 0.5).abs() < 0.03, "{together}");
    }

    #[test]
    fn logarithms_are_undone_by_the_closed_form() {
        let found = steps(&one(2.0, 0.3), &[Stage::Each(vec![Map::Exp])])[0];
        let mean = (2.0_f64 + 0.045).exp();
        assert!((found.median - 2.0_f64.exp()).abs() < 1e-12);
        assert!((found.mean.expect("a mean") / mean - 1.0).abs() < 1e-12);
        let sd = mean * (0.09_f64.exp() - 1.0).sqrt();
        assert!((found.std_error.expect("a spread") / sd - 1.0).abs() < 1e-12);
        let low = (2.0 - 1.959_963_984_540_054 * 0.3_f64).exp();
        assert!((found.outer[0].expect("an end") - low).abs() < 1e-10);
    }

    #[test]
    fn what_has_no_end_is_said_to_have_none() {
        // λ below nought: from minus one over λ on there is no value.
        let found = steps(&one(1.0, 1.0), &[Stage::Each(vec![Map::BoxCox(-0.5)])])[0];
        assert!(found.outer[0].is_some() && found.outer[1].is_none());
        // A logarithm of what may be negative has no lower end.
        let found = steps(&one(1.0, 1.0), &[Stage::Each(vec![Map::Ln])])[0];
        assert_eq!((found.outer[0], found.mean), (None, None));
    }

    #[test]
    fn a_falling_function_turns_the_interval_round() {
        let found = steps(&one(1.0, 1.0), &[Stage::Each(vec![Map::Line { scale: -2.0, shift: 0.0 }])])[0];
        assert!(found.inner[0] < found.inner[1] && found.outer[0] < found.inner[0]);
        assert!((found.std_error.expect("a spread") - 2.0).abs() < 1e-15);
    }

    #[test]
    fn drawn_paths_agree_with_the_exact_way() {
        // Percentage changes compounded are the logarithmic walk for small steps, and exactly so
        // at the first.
        let joint = Joint { mean: vec![1.0, 1.0], responses: vec![vec![2.0], vec![0.0, 2.0]] };
        let found = steps(&joint, &[Stage::Compounded { lag: 1, history: vec![50.0] }]);
        assert!((found[0].median - 50.5).abs() < 0.01);
        assert!((found[0].std_error.expect("a spread") - 1.0).abs() < 0.01);
        // Two steps: the variance of a product of independent values.
        let variance = 50.0_f64.powi(2) * ((1.01_f64.powi(2) + 0.0004).powi(2) - 1.01_f64.powi(4));
        assert!((found[1].std_error.expect("a spread") / variance.sqrt() - 1.0).abs() < 0.02);
        assert!((found[1].mean.expect("a mean") - 50.0 * 1.01 * 1.01).abs() < 0.02);
    }
}
