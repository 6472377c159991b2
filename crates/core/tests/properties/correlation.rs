//! Laws of autocorrelations.

use kandrel_core::corr::{AcfOptions, acf, read};
use proptest::prelude::*;

use crate::{agree, moved, series};

proptest! {
    #[test]
    fn autocorrelations_know_neither_units_nor_origin_nor_direction(
        y in series(), exponent in -6_i32..6, shift in -1e3_f64..1e3
    ) {
        let options = AcfOptions { lags: Some(6), season: 4, ..AcfOptions::default() };
        let plain = acf(&y, &options).expect("long enough");
        let scale = 10_f64.powi(exponent);
        let other = acf(&moved(&y, -scale, shift * scale), &options).expect("long enough");
        let mut reversed = y.clone();
        reversed.reverse();
        let backwards = acf(&reversed, &options).expect("long enough");
        for ((a, b), c) in plain.lags.iter().zip(&other.lags).zip(&backwards.lags) {
            prop_assert!((a.acf - b.acf).abs() < 1e-9 && (a.pacf - b.pacf).abs() < 1e-9);
            prop_assert!(agree(a.q, b.q, 1e-8));
            // Products of pairs are the same from either end.
            prop_assert!((a.acf - c.acf).abs() < 1e-9);
        }
        prop_assert!(agree(other.variance, plain.variance * scale * scale, 1e-8));
    }

    #[test]
    fn autocorrelations_are_those_of_a_possible_process(y in series()) {
        let result = acf(&y, &AcfOptions { lags: Some(10), season: 1, ..AcfOptions::default() }).expect("long enough");
        let mut last = 0.0;
        for lag in &result.lags {
            prop_assert!(lag.acf.abs() <= 1.0 && lag.pacf.abs() <= 1.0 + 1e-12);
            prop_assert!(lag.q >= last && lag.acf_se >= 1.0 / (y.len() as f64).sqrt() - 1e-12);
            prop_assert!(lag.p_value.is_some_and(|p| (0.0..=1.0).contains(&p)));
            last = lag.q;
        }
        prop_assert!(!read(&result, 1).is_empty());
    }

    #[test]
    fn any_numbers_whatever_give_a_result_or_an_error(
        y in proptest::collection::vec(any::<f64>(), 0..40), lags in 0_usize..50, season in 0_usize..20
    ) {
        if let Ok(result) = acf(&y, &AcfOptions { lags: Some(lags), season, ..AcfOptions::default() }) {
            prop_assert!(result.mean.is_finite() && result.variance.is_finite());
            prop_assert!(result.lags.iter().all(|lag| lag.acf.is_finite() && lag.pacf.is_finite() && lag.q.is_finite()));
            read(&result, season);
        }
    }
}
