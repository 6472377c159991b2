//! The loops that all time goes into.

use std::collections::VecDeque;

/// Values that a recursion goes through at once.
const BLOCK: usize = 4;

/// `x_t -= Σ θ_j x_{t-j}` from place q on, in order of time.
pub(super) fn recur_forwards(x: &mut [f64], theta: &[f64]) {
    let (before, rest) = x.split_at_mut(theta.len().min(x.len()));
    before.reverse();
    let (blocks, rest) = rest.as_chunks_mut::<BLOCK>();
    recur(blocks.iter_mut().flatten().chain(rest), theta, before);
    before.reverse();
}

/// `x_t -= Σ θ_j x_{t+j}` down to place q, against the order of time, nought beyond the end.
pub(super) fn recur_backwards(x: &mut [f64], theta: &[f64]) {
    let (blocks, rest) = x.get_mut(theta.len()..).unwrap_or_default().as_chunks_mut::<BLOCK>();
    recur(blocks.iter_mut().flatten().chain(rest).rev(), theta, &vec![0.0; theta.len()]);
}

/// `x -= Σ weight_j past_j` for one value after the other, each of which becomes the latest past;
/// the past given is of at least as many values as there are weights, the latest first.
pub(super) fn recur<'a>(values: impl Iterator<Item = &'a mut f64>, weights: &[f64], past: &[f64]) {
    match (weights, past) {
        ([], _) => {}
        (&[a], &[x, ..]) => recur_few(values, [a], [x]),
        (&[a, b], &[x, y, ..]) => recur_few(values, [a, b], [x, y]),
        (&[a, b, c], &[x, y, z, ..]) => recur_few(values, [a, b, c], [x, y, z]),
        _ => {
            let mut past: VecDeque<f64> = past.iter().copied().take(weights.len()).collect();
            for value in values {
                *value -= weights.iter().zip(&past).map(|(weight, x)| weight * x).sum::<f64>();
                past.pop_back();
                past.push_front(*value);
            }
        }
    }
}

/// The past stays in registers.
fn recur_few<'a, const N: usize>(
    values: impl Iterator<Item = &'a mut f64>,
    weights: [f64; N],
    mut past: [f64; N],
) {
    // Inside out: a block's values follow each other without a look at the end.
    values.for_each(|value| {
        // The latest last: only it has to be waited for.
        let now = weights.iter().zip(&past).rev().fold(*value, |now, (weight, x)| now - weight * x);
        past.rotate_right(1);
        past[0] = now;
        *value = now;
    });
}

/// `now -= Σ_j weight_j then(j)`, j from 1; each of these at least as long as `now`.
// As a call of its own, its slices are known to be apart.
#[inline(never)]
pub(super) fn subtract_all<'a>(now: &mut [f64], weights: &[f64], then: impl Fn(usize) -> &'a [f64]) {
    let length = now.len();
    if length == 0 {
        return;
    }
    let mut rest = weights;
    let mut j = 1;
    while let [a, b, more @ ..] = rest {
        let (first, second) = (&then(j)[..length], &then(j + 1)[..length]);
        for ((value, x), y) in now.iter_mut().zip(first).zip(second) {
            *value -= a * x + b * y;
        }
        (rest, j) = (more, j + 2);
    }
    if let [a] = rest {
        for (value, x) in now.iter_mut().zip(&then(j)[..length]) {
            *value -= a * x;
        }
    }
}

/// `to += factor * from`, over the shorter of the two.
pub(super) fn add(to: &mut [f64], factor: f64, from: &[f64]) {
    for (value, other) in to.iter_mut().zip(from) {
        *value += factor * other;
    }
}

/// What whitens rows of a season each: so many weights for each of them, of the row before first,
/// and the shares that are kept beside, all of them so many times.
#[derive(Clone, Copy)]
pub(super) struct Rows<'a> {
    pub weights: &'a [f64],
    pub shares: &'a [f64],
    pub times: f64,
}

/// `row -= Σ_j weight_j row_j`, `row_j` the one j rows before, in order of time; `over`, a share of
/// each.
pub(super) fn whiten(u: &mut [f64], over: &mut [f64], rows: Rows<'_>, stride: usize, season: usize) {
    match stride {
        1 => whiten_by::<1>(u, over, rows, season),
        2 => whiten_by::<2>(u, over, rows, season),
        3 => whiten_by::<3>(u, over, rows, season),
        _ => {
            let shared = over.chunks_exact_mut(season).zip(rows.shares);
            for (row, (over, share)) in shared.enumerate() {
                let (before, rest) = u.split_at_mut(row * season);
                let length = season.min(rest.len());
                let now = &mut rest[..length];
                let weights = &rows.weights[row * stride..][..stride.min(row)];
                subtract_all(now, weights, |j| &before[(row - j) * season..]);
                whiten_few(now, over, rows.times * share, [], []);
            }
        }
    }
}

/// The last N rows are kept at hand.
fn whiten_by<const N: usize>(u: &mut [f64], over: &mut [f64], rows: Rows<'_>, season: usize) {
    let nothing = vec![0.0; season];
    let mut before: [&[f64]; N] = [&nothing; N];
    let (weights, _) = rows.weights.as_chunks::<N>();
    let shared = over.chunks_exact_mut(season).zip(rows.shares).zip(weights);
    for (now, ((over, share), weights)) in u.chunks_mut(season).zip(shared) {
        whiten_few(now, over, rows.times * share, *weights, before);
        before.rotate_right(1);
        before[0] = now;
    }
}

/// `row -= Σ_j weight_j row_j`, `row_j` the one j rows later, against the order of time; so many
/// weights for each row, of the next first.
pub(super) fn subtract_later(over: &mut [f64], weights: &[f64], stride: usize, season: usize) {
    match stride {
        1 => subtract_later_by::<1>(over, weights, season),
        2 => subtract_later_by::<2>(over, weights, season),
        3 => subtract_later_by::<3>(over, weights, season),
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

/// The last N rows are kept at hand.
fn subtract_later_by<const N: usize>(over: &mut [f64], weights: &[f64], season: usize) {
    let nothing = vec![0.0; season];
    let mut after: [&[f64]; N] = [&nothing; N];
    let (weights, _) = weights.as_chunks::<N>();
    for (now, weights) in over.chunks_exact_mut(season).zip(weights).rev() {
        subtract_few(now, *weights, after);
        after.rotate_right(1);
        after[0] = now;
    }
}

// As calls of their own, the slices of both are known to be apart; places rather than iterators
// let all bounds be checked beforehand.
#[inline(never)]
#[allow(clippy::needless_range_loop)]
fn whiten_few<const N: usize>(
    now: &mut [f64],
    over: &mut [f64],
    share: f64,
    weights: [f64; N],
    then: [&[f64]; N],
) {
    let length = now.len();
    let (over, then) = (&mut over[..length], then.map(|row| &row[..length]));
    for place in 0..length {
        now[place] = less(now[place], &weights, &then, place);
        over[place] = share * now[place];
    }
}

#[inline(never)]
#[allow(clippy::needless_range_loop)]
fn subtract_few<const N: usize>(now: &mut [f64], weights: [f64; N], then: [&[f64]; N]) {
    let length = now.len();
    let then = then.map(|row| &row[..length]);
    for place in 0..length {
        now[place] = less(now[place], &weights, &then, place);
    }
}

#[inline]
fn less<const N: usize>(value: f64, weights: &[f64; N], rows: &[&[f64]; N], place: usize) -> f64 {
    weights.iter().zip(rows).fold(value, |left, (weight, row)| left - weight * row[place])
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;
    use crate::num::sum::dot;

    fn near(a: &[f64], b: &[f64]) -> bool {
        a.len() == b.len() && a.iter().zip(b).all(|(a, b)| (a - b).abs() < 1e-12 * (1.0 + b.abs()))
    }

    /// `x_t -= Σ θ_j x_{t-j}` from place q on.
    fn plain(x: &[f64], theta: &[f64]) -> Vec<f64> {
        let mut out = x.to_vec();
        for t in theta.len()..x.len() {
            for (j, weight) in (1..).zip(theta) {
                out[t] -= weight * out[t - j];
            }
        }
        out
    }

    #[test]
    fn recursions_of_any_order_and_length_are_the_plain_ones() {
        let theta = [0.5, -0.3, 0.2, -0.1, 0.05];
        for order in 1..=theta.len() {
            for length in 0..25 {
                let x = NormalStream::new(31, 0).take(length);
                let theta = &theta[..order];
                let mut ours = x.clone();
                recur_forwards(&mut ours, theta);
                assert!(near(&ours, &plain(&x, theta)), "{order} {length}");
                // Backwards: the first values stay, the others with time turned round and nought before.
                let mut ours = x.clone();
                recur_backwards(&mut ours, theta);
                let turned: Vec<f64> =
                    std::iter::repeat_n(0.0, order).chain(x.iter().skip(order).rev().copied()).collect();
                let mut expected: Vec<f64> = x.iter().take(order).copied().collect();
                expected.extend(plain(&turned, theta).iter().skip(order).rev());
                assert!(near(&ours, &expected), "{order} {length}");
            }
        }
    }

    /// Weights of rows, nought where they would look back beyond the first.
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
            for (rows, season, last) in [(1, 4, 4), (2, 7, 3), (6, 4, 4), (9, 5, 1), (9, 12, 11)] {
                let count = (rows - 1) * season + last;
                let (weights, shares) = (weights_of(rows, stride), NormalStream::new(33, 0).take(rows));
                let x = NormalStream::new(34, 0).take(count);
                let mut expected = x.clone();
                for t in season..count {
                    for j in 1..=stride.min(t / season) {
                        expected[t] -= weights[t / season * stride + j - 1] * expected[t - j * season];
                    }
                }
                let (mut ours, mut over) = (x.clone(), vec![0.0; rows * season]);
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
                assert!(
                    near(&over[..count], &scaled) && over[count..].iter().all(|value| value.abs() < 1e-300)
                );
            }
        }
    }

    #[test]
    fn rows_backwards_are_the_transposed_of_rows_forwards() {
        let (rows, season) = (7, 4);
        for stride in 1..=5 {
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
            assert!((dot(&forwards, &b) - dot(&a, &backwards)).abs() < 1e-10, "{stride}");
        }
    }
}
