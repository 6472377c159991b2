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
