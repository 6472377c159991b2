//! The loops that all time goes into.

use std::collections::VecDeque;

/// Values that a recursion goes through at once.
const BLOCK: usize = 4;

/// `x_t -= Σ θ_j x_{t-j}` from place q on, in order of time.
pub(in crate::arima) fn recur_forwards(x: &mut [f64], theta: &[f64]) {
    let (before, rest) = x.split_at_mut(theta.len().min(x.len()));
    before.reverse();
    let (blocks, rest) = rest.as_chunks_mut::<BLOCK>();
    recur(blocks.iter_mut().flatten().chain(rest), theta, before);
    before.reverse();
}

/// `x_t -= Σ θ_j x_{t+j}` down to place q, against the order of time, zero beyond the end.
pub(in crate::arima) fn recur_backwards(x: &mut [f64], theta: &[f64]) {
    let (blocks, rest) = x.get_mut(theta.len()..).unwrap_or_default().as_chunks_mut::<BLOCK>();
    recur(blocks.iter_mut().flatten().chain(rest).rev(), theta, &vec![0.0; theta.len()]);
}

/// `x -= Σ weight_j past_j` for one value after the other, each of which becomes the latest past;
/// the past given is of at least as many values as there are weights, the latest first.
pub(in crate::arima) fn recur<'a>(values: impl Iterator<Item = &'a mut f64>, weights: &[f64], past: &[f64]) {
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
pub(in crate::arima) fn subtract_all<'a>(
    now: &mut [f64],
    weights: &[f64],
    then: impl Fn(usize) -> &'a [f64],
) {
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
pub(in crate::arima) fn add(to: &mut [f64], factor: f64, from: &[f64]) {
    for (value, other) in to.iter_mut().zip(from) {
        *value += factor * other;
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

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
                // Backwards: the first values stay, the others with time turned round and zero before.
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
}
