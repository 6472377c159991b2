//! Tests on the order of the values alone.

use super::{Outcome, RandomnessError, check, two_sided};
use crate::num::scale::{self, ranks};

/// Turning points: values above, or below, both neighbours.
///
/// # Formula
/// `E = 2(n-2)/3`, `Var = (16n-29)/90`.
///
/// # Source
/// Kendall, M. G. (1973), *Time-Series*, section 2.
///
/// # Errors
/// [`RandomnessError`].
pub fn turning_points(y: &[f64]) -> Result<(Outcome, usize), RandomnessError> {
    check(y)?;
    let turns = |three: &&[f64]| {
        let [before, own, after] = [three[0], three[1], three[2]];
        (own > before && own > after) || (own < before && own < after)
    };
    let count = y.windows(3).filter(turns).count();
    let n = y.len() as f64;
    let z = (count as f64 - 2.0 * (n - 2.0) / 3.0) / ((16.0 * n - 29.0) / 90.0).sqrt();
    Ok((two_sided(z), count))
}

/// Rises among the changes.
///
/// # Formula
/// `E = (n-1)/2`, `Var = (n+1)/12`; changes of zero are left out of both.
///
/// # Source
/// Moore, G. H. and Wallis, W. A. (1943), Journal of the American Statistical Association
/// 38, 153-164.
///
/// # Errors
/// [`RandomnessError`].
pub fn difference_sign(y: &[f64]) -> Result<(Outcome, usize), RandomnessError> {
    check(y)?;
    let rises = y.windows(2).filter(|pair| pair[1] > pair[0]).count();
    let falls = y.windows(2).filter(|pair| pair[1] < pair[0]).count();
    let n = (rises + falls) as f64 + 1.0;
    let z = (rises as f64 - (n - 1.0) / 2.0) / ((n + 1.0) / 12.0).sqrt();
    Ok((two_sided(z), rises))
}

/// Rank trend: pairs of which the later value is the higher.
///
/// # Formula
/// `S = Σ_{i<j} sign(y_j - y_i)`,
/// `Var = [n(n-1)(2n+5) - Σ t(t-1)(2t+5)]/18` over groups of t equal values; the pairs are
/// counted by merging, in `n log n`. Also returns Kendall's τ, `S` over all pairs.
///
/// # Source
/// Kendall, M. G. (1938), Biometrika 30, 81-93; Mann, H. B. (1945), Econometrica 13,
/// 245-259.
///
/// # Errors
/// [`RandomnessError`].
pub fn rank_trend(y: &[f64]) -> Result<(Outcome, f64), RandomnessError> {
    check(y)?;
    let n = y.len() as f64;
    let mut sorted = y.to_vec();
    let falls = inversions(&mut sorted) as f64;
    let ties: Vec<f64> = sorted.chunk_by(|a, b| a >= b).map(|equals| equals.len() as f64).collect();
    let tied: f64 = ties.iter().map(|t| t * (t - 1.0) / 2.0).sum();
    let pairs = n * (n - 1.0) / 2.0;
    let difference = pairs - tied - 2.0 * falls;
    let taken: f64 = ties.iter().map(|t| t * (t - 1.0) * (2.0 * t + 5.0)).sum();
    let variance = (n * (n - 1.0) * (2.0 * n + 5.0) - taken) / 18.0;
    Ok((two_sided(difference / variance.sqrt()), difference / pairs))
}

/// Pairs in falling order; the values are sorted on the way.
fn inversions(values: &mut [f64]) -> u64 {
    if values.len() < 2 {
        return 0;
    }
    let middle = values.len() / 2;
    let (left, right) = values.split_at_mut(middle);
    let mut count = inversions(left) + inversions(right);
    let mut merged = Vec::with_capacity(left.len() + right.len());
    let (mut i, mut j) = (0, 0);
    while i < left.len() || j < right.len() {
        let take_right = j < right.len() && (i >= left.len() || right[j] < left[i]);
        if take_right {
            count += (left.len() - i) as u64;
            merged.push(right[j]);
            j += 1;
        } else {
            merged.push(left[i]);
            i += 1;
        }
    }
    values.copy_from_slice(&merged);
    count
}

/// Rank von Neumann ratio: squared changes of the ranks over their variation.
///
/// # Formula
/// `RVN = Σ (R_t - R_{t-1})² / Σ (R_t - R̄)²`, mean 2, variance
/// `4(n-2)(5n²-2n-9) / (5n(n+1)(n-1)²)`; also returns the ratio. Equal values share the
/// mean of their ranks.
///
/// # Source
/// Bartels, R. (1982), Journal of the American Statistical Association 77, 40-46.
///
/// # Errors
/// [`RandomnessError`].
pub fn rank_von_neumann(y: &[f64]) -> Result<(Outcome, f64), RandomnessError> {
    check(y)?;
    let ranks = ranks(y);
    let mean = scale::mean(&ranks);
    let changes: f64 = ranks.windows(2).map(|pair| (pair[1] - pair[0]).powi(2)).sum();
    let ratio = changes / ranks.iter().map(|rank| (rank - mean).powi(2)).sum::<f64>();
    let n = y.len() as f64;
    let variance =
        4.0 * (n - 2.0) * (5.0 * n * n - 2.0 * n - 9.0) / (5.0 * n * (n + 1.0) * (n - 1.0).powi(2));
    Ok((two_sided((ratio - 2.0) / variance.sqrt()), ratio))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    /// All orders of the numbers 1 to n.
    fn permutations(n: usize) -> Vec<Vec<f64>> {
        if n == 0 {
            return vec![Vec::new()];
        }
        let shorter = permutations(n - 1);
        let insert = |rest: &Vec<f64>| -> Vec<Vec<f64>> {
            (0..n)
                .map(|place| {
                    let mut longer = rest.clone();
                    longer.insert(place, n as f64);
                    longer
                })
                .collect()
        };
        shorter.iter().flat_map(insert).collect()
    }

    #[test]
    fn moments_are_those_of_all_orders() {
        // The formulas hold for any n; ten is the least that is tested, and has too many
        // orders, so they are held against seven.
        let all = permutations(7);
        let moments = |statistic: &dyn Fn(&[f64]) -> f64| -> (f64, f64) {
            let values: Vec<f64> = all.iter().map(|order| statistic(order)).collect();
            let mean = scale::mean(&values);
            (mean, values.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / values.len() as f64)
        };
        let close = |(mean, variance): (f64, f64), m: f64, v: f64| {
            assert!((mean - m).abs() < 1e-9 && (variance - v).abs() < 1e-9, "{mean} {variance}");
        };
        let turns = |y: &[f64]| y.windows(3).filter(|t| (t[1] > t[0]) == (t[1] > t[2])).count() as f64;
        close(moments(&turns), 10.0 / 3.0, (16.0 * 7.0 - 29.0) / 90.0);
        close(moments(&|y| y.windows(2).filter(|p| p[1] > p[0]).count() as f64), 3.0, 8.0 / 12.0);
        let falls = |y: &[f64]| inversions(&mut y.to_vec()) as f64;
        close(moments(&falls), 7.0 * 6.0 / 4.0, 7.0 * 6.0 * 19.0 / 72.0);
        let ratio = |y: &[f64]| y.windows(2).map(|p| (p[1] - p[0]).powi(2)).sum::<f64>() / 28.0;
        let variance = 4.0 * 5.0 * (245.0 - 14.0 - 9.0) / (35.0 * 8.0 * 36.0);
        close(moments(&ratio), 2.0, variance);
    }

    #[test]
    fn pairs_by_merging_are_pairs_by_counting() {
        for (n, stream) in [(10, 0), (57, 1), (200, 2)] {
            let y: Vec<f64> =
                NormalStream::new(40, stream).take(n).iter().map(|v| (v * 4.0).round()).collect();
            let mut sum = 0.0;
            for j in 0..n {
                sum += (0..j).map(|i| f64::from(i8::from(y[j] > y[i]) - i8::from(y[j] < y[i]))).sum::<f64>();
            }
            let (_, tau) = rank_trend(&y).expect("enough");
            assert!((tau * (n * (n - 1) / 2) as f64 - sum).abs() < 1e-9);
        }
    }

    #[test]
    fn a_rising_series_is_no_random_one() {
        let y: Vec<f64> = (0..30).map(f64::from).collect();
        assert!(rank_trend(&y).is_ok_and(|(test, tau)| test.p_value < 1e-10 && tau > 0.999));
        assert!(turning_points(&y).is_ok_and(|(test, count)| count == 0 && test.statistic < -5.0));
        assert!(difference_sign(&y).is_ok_and(|(test, rises)| rises == 29 && test.statistic > 5.0));
        assert!(rank_von_neumann(&y).is_ok_and(|(test, ratio)| ratio < 0.1 && test.p_value < 1e-6));
    }
}
