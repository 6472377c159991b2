//! The runs test, turning points, difference signs and ranks.

use schemars::JsonSchema;
use serde::Serialize;

use super::{Outcome, RandomnessError, check, two_sided};
use crate::num::scale;

/// Where a series is cut in two.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub enum Cut {
    /// At its mean.
    #[default]
    Mean,
    /// At its median.
    Median,
    /// At a value.
    Value(f64),
}

/// Runs above and below a cut.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct Runs {
    /// The z of the number of runs, and its p-value: exact up to 60 observations.
    #[serde(flatten)]
    pub outcome: Outcome,
    /// The cut.
    pub cut: f64,
    /// Number of runs.
    pub runs: usize,
    /// Values at or above the cut.
    pub above: usize,
    /// Values below it.
    pub below: usize,
    /// Values equal to it, counted as above.
    pub equal: usize,
    /// Expected number of runs.
    pub expected: f64,
    /// Standard deviation of their number.
    pub sd: f64,
    /// Whether the p-value is exact.
    pub exact: bool,
}

/// Up to that number of observations the exact distribution is used.
const EXACT: usize = 60;

/// Runs test.
///
/// # Formula
/// With a values at or above the cut and b below: `E = 2ab/n + 1`,
/// `Var = 2ab(2ab-n)/(n²(n-1))`. The exact p-value doubles the smaller tail of the
/// conditional distribution of the number of runs given a and b.
///
/// # Source
/// Wald, A. and Wolfowitz, J. (1940), Annals of Mathematical Statistics 11, 147-162.
///
/// # Errors
/// [`RandomnessError`].
pub fn runs(y: &[f64], cut: Cut) -> Result<Runs, RandomnessError> {
    check(y)?;
    let cut = match cut {
        Cut::Mean => scale::mean(y),
        Cut::Median => {
            let mut sorted = y.to_vec();
            sorted.sort_unstable_by(f64::total_cmp);
            scale::quantile(&sorted, 0.5).unwrap_or(0.0)
        }
        Cut::Value(value) => value,
    };
    let sides: Vec<bool> = y.iter().map(|value| *value >= cut).collect();
    let above = sides.iter().filter(|side| **side).count();
    let below = y.len() - above;
    if above == 0 || below == 0 {
        return Err(RandomnessError::OneSided);
    }
    let count = 1 + sides.windows(2).filter(|pair| pair[0] != pair[1]).count();
    let (a, b, n) = (above as f64, below as f64, y.len() as f64);
    let expected = 2.0 * a * b / n + 1.0;
    let sd = (2.0 * a * b * (2.0 * a * b - n) / (n * n * (n - 1.0))).sqrt();
    let z = if sd > 0.0 { (count as f64 - expected) / sd } else { 0.0 };
    let exact = y.len() <= EXACT;
    let outcome =
        if exact { Outcome { statistic: z, p_value: exact_p(count, above, below) } } else { two_sided(z) };
    Ok(Runs {
        outcome,
        cut,
        runs: count,
        above,
        below,
        equal: y.iter().filter(|value| value.total_cmp(&cut).is_eq()).count(),
        expected,
        sd,
        exact,
    })
}

/// Twice the smaller tail, at most one.
fn exact_p(count: usize, above: usize, below: usize) -> f64 {
    let most = 2 * above.min(below) + 1;
    let chance = |runs: usize| probability(runs, above, below);
    let low: f64 = (2..=count).map(chance).sum();
    let high: f64 = (count..=most).map(chance).sum();
    (2.0 * low.min(high)).min(1.0)
}

/// The probability of that number of runs, given how many values lie above and below.
fn probability(runs: usize, above: usize, below: usize) -> f64 {
    let all = ln_choose(above + below, above);
    let ways = |k: usize, j: usize| -> f64 {
        match (k.checked_sub(1), j.checked_sub(1)) {
            (Some(k), Some(j)) if k < above && j < below => {
                (ln_choose(above - 1, k) + ln_choose(below - 1, j) - all).exp()
            }
            _ => 0.0,
        }
    };
    let half = runs / 2;
    if runs.is_multiple_of(2) { 2.0 * ways(half, half) } else { ways(half + 1, half) + ways(half, half + 1) }
}

/// Logarithm of a binomial coefficient.
fn ln_choose(n: usize, k: usize) -> f64 {
    (0..k.min(n - k)).map(|j| ((n - j) as f64).ln() - ((j + 1) as f64).ln()).sum()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_exact_distribution_is_that_of_all_arrangements() {
        let (above, below) = (5_usize, 4_usize);
        let mut counts = [0_u32; 12];
        let mut total = 0;
        for bits in 0_u32..1 << (above + below) {
            if bits.count_ones() as usize == above {
                let sides: Vec<bool> = (0..above + below).map(|k| bits >> k & 1 == 1).collect();
                counts[1 + sides.windows(2).filter(|pair| pair[0] != pair[1]).count()] += 1;
                total += 1;
            }
        }
        for (runs, count) in counts.iter().enumerate().skip(2) {
            let exact = f64::from(*count) / f64::from(total);
            assert!((probability(runs, above, below) - exact).abs() < 1e-14, "{runs}");
        }
    }

    #[test]
    fn a_hand_count() {
        let y = [5.0, 6.0, 1.0, 2.0, 7.0, 1.0, 8.0, 9.0, 2.0, 3.0, 9.0, 1.0];
        let result = runs(&y, Cut::Value(4.0)).expect("both sides");
        assert_eq!((result.runs, result.above, result.below, result.equal), (8, 6, 6, 0));
        assert!((result.expected - 7.0).abs() < 1e-14);
        // 2ab(2ab - n) / (n²(n-1)) = 72 · 60 / (144 · 11).
        assert!((result.sd - (72.0_f64 * 60.0 / (144.0 * 11.0)).sqrt()).abs() < 1e-14);
        assert!(result.exact && result.outcome.p_value > 0.5);
        assert_eq!(runs(&y, Cut::Value(0.0)), Err(RandomnessError::OneSided));
        assert_eq!(runs(&y, Cut::Value(9.0)).map(|result| result.equal), Ok(2));
    }
}
