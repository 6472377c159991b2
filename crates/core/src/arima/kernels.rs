//! The loops that all time goes into.

use std::collections::VecDeque;

/// `x_t -= Σ θ_j x_{t-j}` from place q on, in order of time.
pub(super) fn recur_forwards(x: &mut [f64], theta: &[f64]) {
    let (before, rest) = x.split_at_mut(theta.len().min(x.len()));
    before.reverse();
    recur(rest.iter_mut(), theta, before);
    before.reverse();
}

/// `x_t -= Σ θ_j x_{t+j}` down to place q, against the order of time, nought beyond the end.
pub(super) fn recur_backwards(x: &mut [f64], theta: &[f64]) {
    let rest = x.get_mut(theta.len()..).unwrap_or_default();
    recur(rest.iter_mut().rev(), theta, &vec![0.0; theta.len()]);
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
    for value in values {
        // The latest last: only it has to be waited for.
        let now = weights.iter().zip(&past).rev().fold(*value, |now, (weight, x)| now - weight * x);
        past.rotate_right(1);
        past[0] = now;
        *value = now;
    }
}

/// `now -= Σ_j weight_j then(j)`, j from 1; each of these at least as long as `now`.
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

/// `now -= Σ_j weight_j before_j`, where `before_j` begins j seasons before `now`, which follows
/// on `before`; and `over`, a share of it.
#[inline]
pub(super) fn whiten_row(
    now: &mut [f64],
    over: &mut [f64],
    weights: &[f64],
    share: f64,
    before: &[f64],
    season: usize,
) {
    let length = now.len();
    let earlier = |j: usize| &before[before.len() - j * season..][..length];
    match *weights {
        [] => {
            for (value, scaled) in now.iter().zip(over) {
                *scaled = share * value;
            }
        }
        [a] => {
            for ((value, scaled), x) in now.iter_mut().zip(over).zip(earlier(1)) {
                *value -= a * x;
                *scaled = share * *value;
            }
        }
        [a, b] => {
            for (((value, scaled), x), y) in now.iter_mut().zip(over).zip(earlier(1)).zip(earlier(2)) {
                *value -= a * x + b * y;
                *scaled = share * *value;
            }
        }
        [a, b, ref more @ ..] => {
            subtract_all(now, more, |j| earlier(j + 2));
            whiten_row(now, over, &[a, b], share, before, season);
        }
    }
}
