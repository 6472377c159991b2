//! Series as rows of a season each, whitened by the rows before.

use super::kernels::subtract_all;
use super::phases::{self, Rows};

/// `row -= Σ_j weight_j row_j`, `row_j` the one j rows before, in order of time; `over`, a share of
/// each. Both of whole rows.
pub(in crate::arima) fn whiten(
    u: &mut [f64],
    over: &mut [f64],
    rows: Rows<'_>,
    stride: usize,
    season: usize,
) {
    match stride {
        1 => phases::whiten::<1>(u, over, rows, season),
        2 => phases::whiten::<2>(u, over, rows, season),
        3 => phases::whiten::<3>(u, over, rows, season),
        _ => {
            let shared = over.chunks_exact_mut(season).zip(rows.shares);
            for (row, (over, share)) in shared.enumerate() {
                let (before, now) = u[..(row + 1) * season].split_at_mut(row * season);
                let weights = &rows.weights[row * stride..][..stride.min(row)];
                subtract_all(now, weights, |j| &before[(row - j) * season..]);
                over.iter_mut().zip(now).for_each(|(over, value)| *over = rows.times * share * *value);
            }
        }
    }
}

/// `row -= Σ_j weight_j row_j`, `row_j` the one j rows later, against the order of time; a given number
/// weights for each row, of the next first.
pub(in crate::arima) fn subtract_later(over: &mut [f64], weights: &[f64], stride: usize, season: usize) {
    match stride {
        1 => phases::subtract_later::<1>(over, weights, season),
        2 => phases::subtract_later::<2>(over, weights, season),
        3 => phases::subtract_later::<3>(over, weights, season),
        _ => {
            let count = over.len() / season;
            for row in (0..count).rev() {
                let (now, after) = over[row * season..].split_at_mut(season);
                let weights = &weights[row * stride..][..stride.min(count - row - 1)];
                subtract_all(now, weights, |j| &after[(j - 1) * season..]);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;
    use crate::num::sum::dot;

    fn near(a: &[f64], b: &[f64]) -> bool {
        a.len() == b.len() && a.iter().zip(b).all(|(a, b)| (a - b).abs() < 1e-12 * (1.0 + b.abs()))
    }

    /// Weights of rows, zero where they would look back beyond the first.
    fn weights_of(rows: usize, stride: usize) -> Vec<f64> {
        let mut all = NormalStream::new(32, 0).take(rows * stride);
        for (place, weight) in all.iter_mut().enumerate() {
            *weight = if place % stride < place / stride { 0.4 * *weight } else { 0.0 };
        }
        all
    }

    #[test]
    fn rows_are_whitened_by_the_rows_before() {
        for stride in 1..=5 {
            for (rows, season) in [(1, 4), (2, 7), (6, 1), (9, 5), (9, 12), (7, 15), (3, 46)] {
                let count = rows * season;
                let (weights, shares) = (weights_of(rows, stride), NormalStream::new(33, 0).take(rows));
                let x = NormalStream::new(34, 0).take(count);
                let mut expected = x.clone();
                for t in season..count {
                    for j in 1..=stride.min(t / season) {
                        expected[t] -= weights[t / season * stride + j - 1] * expected[t - j * season];
                    }
                }
                let (mut ours, mut over) = (x.clone(), vec![0.0; count]);
                whiten(
                    &mut ours,
                    &mut over,
                    Rows { weights: &weights, shares: &shares, times: 3.0 },
                    stride,
                    season,
                );
                assert!(near(&ours, &expected), "{stride} {rows} {season}");
                let scaled: Vec<f64> =
                    expected.iter().enumerate().map(|(t, value)| 3.0 * shares[t / season] * value).collect();
                assert!(near(&over, &scaled), "{stride} {rows} {season}");
            }
        }
    }

    #[test]
    fn rows_backwards_are_the_transposed_of_rows_forwards() {
        let rows = 7;
        for (stride, season) in (1..=5).flat_map(|stride| [4, 15].map(|season| (stride, season))) {
            let weights = weights_of(rows, stride);
            // What each row is looked back on with by the next first.
            let mut ahead = vec![0.0; rows * stride];
            for row in 0..rows {
                for j in 1..=stride.min(rows - row - 1) {
                    ahead[row * stride + j - 1] = weights[(row + j) * stride + j - 1];
                }
            }
            let [a, b] = [35, 36].map(|seed| NormalStream::new(seed, 0).take(rows * season));
            let (mut forwards, mut backwards, mut over) = (a.clone(), b.clone(), vec![0.0; rows * season]);
            let one = vec![1.0; rows];
            whiten(
                &mut forwards,
                &mut over,
                Rows { weights: &weights, shares: &one, times: 1.0 },
                stride,
                season,
            );
            subtract_later(&mut backwards, &ahead, stride, season);
            assert!((dot(&forwards, &b) - dot(&a, &backwards)).abs() < 1e-10, "{stride} {season}");
        }
    }
}
