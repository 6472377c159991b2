//! Laws of shapes.

use kandrel_core::boxcox::{choose, transform};
use kandrel_core::series::five_numbers;
use kandrel_core::shape::{seasonality, trend, variance_level};
use proptest::prelude::*;

use crate::{agree, moved, series};

proptest! {
    #[test]
    fn a_trend_knows_neither_units_nor_origin_and_turns_with_the_sign(
        y in series(), exponent in -4_i32..4, shift in -1e3_f64..1e3
    ) {
        let scale = 10_f64.powi(exponent);
        let (plain, other) = (trend(&y, 1), trend(&moved(&y, -scale, shift * scale), 1));
        prop_assert_eq!(plain.is_some(), other.is_some());
        if let (Some(a), Some(b)) = (plain, other) {
            prop_assert!(agree(a.z, -b.z, 1e-5), "{a:?} {b:?}");
            prop_assert!(agree(a.per_period * scale, -b.per_period, 1e-5));
        }
    }

    #[test]
    fn the_season_found_does_not_depend_on_units(y in series(), exponent in -4_i32..4) {
        let season = |values: &[f64]| seasonality(values).map(|found| (found.season, found.peaks));
        prop_assert_eq!(season(&y), season(&moved(&y, 10_f64.powi(exponent), 7.0)));
    }

    #[test]
    fn a_spread_that_is_multiplied_keeps_its_exponent(y in series(), factor in 0.01_f64..100.0) {
        let positive: Vec<f64> = y.iter().map(|value| (0.3 * value).exp()).collect();
        let (plain, other) = (variance_level(&positive, 1), variance_level(&moved(&positive, factor, 0.0), 1));
        if let (Some(a), Some(b)) = (plain, other) {
            prop_assert!((a.exponent - b.exponent).abs() < 1e-6 && (a.p_value - b.p_value).abs() < 1e-6);
            prop_assert_eq!(a.advice, b.advice);
        }
    }

    #[test]
    fn a_box_leaves_a_quarter_on_each_side_and_turns_with_the_sign(y in series()) {
        let five = five_numbers(&y).expect("values");
        let ordered = [five.low, five.lower, five.median, five.upper, five.high];
        prop_assert!(ordered.windows(2).all(|pair| pair[0] <= pair[1]));
        // Quartiles lie at places 1 + (n-1)/4 from either end, between values if need be.
        let quarter = (y.len() - 1) / 4 + usize::from(!(y.len() - 1).is_multiple_of(4));
        prop_assert_eq!(y.iter().filter(|value| **value < five.lower).count(), quarter);
        prop_assert_eq!(y.iter().filter(|value| **value > five.upper).count(), quarter);
        let turned = five_numbers(&moved(&y, -1.0, 0.0)).expect("values");
        prop_assert!(agree(turned.median, -five.median, 1e-12) && agree(turned.lower, -five.upper, 1e-12));
        prop_assert_eq!((turned.low, &turned.beyond), (-five.high, &five.beyond));
    }

    #[test]
    fn lambda_has_no_unit_and_lies_inside_its_interval(y in series(), factor in 0.01_f64..100.0) {
        let positive: Vec<f64> = y.iter().map(|value| (5.0 + 0.05 * value).exp()).collect();
        let chosen = choose(&positive, 1).expect("positive and varying");
        let interval = chosen.likelihood;
        prop_assert!(interval.low.is_none_or(|low| low <= interval.lambda));
        prop_assert!(interval.high.is_none_or(|high| high >= interval.lambda));
        let other = choose(&moved(&positive, factor, 0.0), 1).expect("positive and varying");
        prop_assert!((chosen.guerrero - other.guerrero).abs() < 1e-3);
    }

    #[test]
    fn the_transformation_keeps_the_order(a in 0.01_f64..100.0, b in 0.01_f64..100.0, lambda in -2.0_f64..3.0) {
        prop_assert_eq!(a < b, transform(a, lambda) < transform(b, lambda));
    }
}
