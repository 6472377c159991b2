//! Laws of decompositions.

use kandrel_core::decomp::{DecompOptions, by_loess, by_moving_averages};
use proptest::prelude::*;

fn series() -> impl Strategy<Value = Vec<f64>> {
    prop::collection::vec(-50.0..50.0_f64, 24..80)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn a_level_and_a_unit_pass_through(y in series(), level in -1e3..1e3_f64, unit in 0.01..100.0_f64, robust: bool) {
        let options = DecompOptions { robust, ..DecompOptions::of(4) };
        let cells: Vec<Option<f64>> = y.iter().copied().map(Some).collect();
        let moved: Vec<Option<f64>> = y.iter().map(|v| Some(level + unit * v)).collect();
        let pairs = [
            (by_loess(&cells, &options), by_loess(&moved, &options)),
            (by_moving_averages(&cells, &options), by_moving_averages(&moved, &options)),
        ];
        for (one, two) in pairs {
            let (one, two) = (one.expect("a season"), two.expect("a season"));
            let close = |a: f64, b: f64| (a - b).abs() < 1e-7 * unit.max(1.0);
            for t in 0..y.len() {
                prop_assert!(close(unit * one.season()[t], two.season()[t]));
                if let (Some(a), Some(b)) = (one.trend[t], two.trend[t]) {
                    prop_assert!(close(level + unit * a, b));
                }
            }
            prop_assert!((one.strength.season - two.strength.season).abs() < 1e-8);
        }
    }

    #[test]
    fn time_may_run_backwards(y in series()) {
        let s = 4;
        let whole = y.len() / s * s;
        let forward: Vec<Option<f64>> = y[..whole].iter().copied().map(Some).collect();
        let backward: Vec<Option<f64>> = forward.iter().rev().copied().collect();
        let options = DecompOptions::of(s);
        let (one, two) = (by_loess(&forward, &options).expect("a season"), by_loess(&backward, &options).expect("a season"));
        for t in 0..whole {
            prop_assert!((one.season()[t] - two.season()[whole - 1 - t]).abs() < 1e-8);
        }
    }
}
