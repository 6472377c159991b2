//! The simulated limits of KPSS against their exact distributions.
//!
//! In the limit η is `Σ λ_k z_k²` with independent standard normal `z_k`. Around
//! a level the weights are `1/(πk)²` (Anderson and Darling 1952); around a trend
//! `1/(2πk)²` together with `1/(4 x_k²)`, `x_k` the positive roots of
//! `tan x = x` (`MacNeill` 1978). Tail probabilities follow by Imhof's (1961)
//! inversion.

#![allow(clippy::expect_used)]

use std::f64::consts::PI;

use kandrel_core::nulldist::{Statistic, Tail, Terms};

/// Weights kept one by one; the mean of the rest is kept exactly.
const WEIGHTS: usize = 150;

fn around_level() -> (Vec<f64>, f64) {
    ((1..=WEIGHTS).map(|k| (PI * k as f64).powi(-2)).collect(), 1.0 / 6.0)
}

fn around_trend() -> (Vec<f64>, f64) {
    let even = (1..=WEIGHTS).map(|k| (2.0 * PI * k as f64).powi(-2));
    let odd = (1..=WEIGHTS).map(|k| 0.25 * root_of_tangent(k).powi(-2));
    (even.chain(odd).collect(), 1.0 / 15.0)
}

/// The k-th positive root of `tan x = x`, by bisection below `(k + 1/2) π`.
fn root_of_tangent(k: usize) -> f64 {
    let (mut low, mut high) = (k as f64 * PI, (k as f64 + 0.5) * PI);
    for _ in 0..60 {
        let middle = 0.5 * (low + high);
        // The same sign as tan x - x on this branch, without its pole.
        let above = (middle.sin() - middle * middle.cos()) * middle.cos() > 0.0;
        if above { high = middle } else { low = middle }
    }
    0.5 * (low + high)
}

/// `P(Σ λ_k z_k² > x)`; `mean` is the sum of all weights, those left out too.
fn upper_tail(weights: &[f64], mean: f64, x: f64) -> f64 {
    let rest = mean - weights.iter().sum::<f64>();
    let step = 0.1;
    let integral: f64 = (0..30_000)
        .map(|place| {
            let u = step * (f64::from(place) + 0.5);
            let angle: f64 = weights.iter().map(|w| (w * u).atan()).sum();
            let size: f64 = weights.iter().map(|w| (w * u).powi(2).ln_1p()).sum();
            (0.5 * (angle + (rest - x) * u)).sin() / (u * (0.25 * size).exp())
        })
        .sum();
    0.5 + integral * step / PI
}

fn simulated(terms: Terms, x: f64) -> f64 {
    Statistic::Kpss(terms).given().surface().expect("a table").asymptotic().p_value(x, Tail::Upper)
}

#[test]
fn the_inversion_knows_a_published_point() {
    // Anderson and Darling (1952), table 1: the 5 % point of their ω² is 0.46136.
    let (weights, mean) = around_level();
    assert!((upper_tail(&weights, mean, 0.46136) - 0.05).abs() < 5e-5);
}

#[test]
fn p_values_around_a_level_are_exact_in_the_limit() {
    let (weights, mean) = around_level();
    for x in [0.10, 0.347, 0.463, 0.739, 1.2] {
        let (ours, exact) = (simulated(Terms::Constant, x), upper_tail(&weights, mean, x));
        assert!((ours - exact).abs() < 0.001, "{x}: {ours} against {exact}");
    }
}

#[test]
fn p_values_around_a_trend_are_exact_in_the_limit() {
    let (weights, mean) = around_trend();
    for x in [0.04, 0.119, 0.146, 0.216, 0.30] {
        let (ours, exact) = (simulated(Terms::Trend, x), upper_tail(&weights, mean, x));
        assert!((ours - exact).abs() < 0.001, "{x}: {ours} against {exact}");
    }
    // So the published 5 % point, itself simulated, is that of 5.23 %.
    assert!((upper_tail(&weights, mean, 0.146) - 0.0523).abs() < 1e-4);
}
