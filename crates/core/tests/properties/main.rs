//! Laws that every statistic of a family obeys, on random series.

#![allow(clippy::expect_used)]

mod correlation;
mod decomp;
mod expression;
mod randomness;
mod shape;
mod sizes;
mod unit_root;

use kandrel_core::num::rng::NormalStream;
use proptest::prelude::*;

/// A random series: its length, how persistent it is, its seed.
pub fn series() -> impl Strategy<Value = Vec<f64>> {
    (20_usize..160, 0.0_f64..1.0, any::<u64>()).prop_map(|(n, persistence, seed)| {
        let mut y = NormalStream::new(seed, 0).take(n);
        for t in 1..n {
            y[t] += persistence * y[t - 1];
        }
        y
    })
}

/// Relative agreement of two statistics.
pub fn agree(a: f64, b: f64, tolerance: f64) -> bool {
    (a - b).abs() <= tolerance * a.abs().max(b.abs()).max(1e-6)
}

/// The same series in other units: `scale * y + shift`.
pub fn moved(y: &[f64], scale: f64, shift: f64) -> Vec<f64> {
    y.iter().map(|v| scale * v + shift).collect()
}
