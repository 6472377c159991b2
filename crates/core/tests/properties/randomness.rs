//! Laws of tests of randomness.

use kandrel_core::corr::{AcfOptions, acf, acf_with_gaps};
use kandrel_core::randomness::{RandomnessOptions, RandomnessTests, holm, randomness_tests};
use proptest::prelude::*;

use crate::{agree, moved, series};

fn all(y: &[f64]) -> RandomnessTests {
    randomness_tests(y, &RandomnessOptions::default()).expect("long enough")
}

proptest! {
    #[test]
    fn no_test_of_randomness_knows_units_or_origin(y in series(), exponent in -6_i32..6, shift in -1e3_f64..1e3) {
        let scale = 10_f64.powi(exponent);
        let (plain, other) = (all(&y), all(&moved(&y, scale, shift * scale)));
        prop_assert_eq!(plain.runs.runs, other.runs.runs);
        prop_assert_eq!(plain.turning_points, other.turning_points);
        prop_assert_eq!(plain.difference_sign, other.difference_sign);
        prop_assert_eq!(plain.rank_trend, other.rank_trend);
        prop_assert_eq!(plain.rank_von_neumann, other.rank_von_neumann);
        prop_assert!(agree(plain.ljung_box.statistic, other.ljung_box.statistic, 1e-7));
        prop_assert!(agree(plain.jarque_bera.0.statistic, other.jarque_bera.0.statistic, 1e-7));
        for (a, b) in plain.variance_ratios.iter().zip(&other.variance_ratios) {
            prop_assert!(agree(a.ratio, b.ratio, 1e-8) && agree(a.z_robust, b.z_robust, 1e-6));
        }
    }

    #[test]
    fn turned_round_a_trend_changes_its_sign_and_dependence_stays(y in series()) {
        let backwards: Vec<f64> = y.iter().rev().copied().collect();
        let (plain, other) = (all(&y), all(&backwards));
        prop_assert!(agree(plain.rank_trend.0.statistic, -other.rank_trend.0.statistic, 1e-12));
        prop_assert!(agree(plain.difference_sign.0.statistic, -other.difference_sign.0.statistic, 1e-12));
        prop_assert_eq!(plain.turning_points.1, other.turning_points.1);
        prop_assert_eq!(plain.runs.runs, other.runs.runs);
        prop_assert!(agree(plain.rank_von_neumann.1, other.rank_von_neumann.1, 1e-12));
        prop_assert!(agree(plain.ljung_box.statistic, other.ljung_box.statistic, 1e-8));
    }

    #[test]
    fn every_p_value_is_a_probability_and_holm_never_lowers_one(y in series(), p in proptest::collection::vec(0.0_f64..1.0, 1..12)) {
        let tests = all(&y);
        let found = [
            tests.runs.outcome, tests.turning_points.0, tests.difference_sign.0, tests.rank_trend.0,
            tests.rank_von_neumann.0, tests.ljung_box, tests.jarque_bera.0,
        ];
        prop_assert!(found.iter().all(|one| (0.0..=1.0).contains(&one.p_value) && one.statistic.is_finite()));
        let adjusted = holm(&p);
        prop_assert!(p.iter().zip(&adjusted).all(|(own, with)| with >= own && *with <= 1.0));
    }

    #[test]
    fn gaps_at_the_ends_are_no_gaps_and_gaps_inside_leave_a_correlation(y in series(), holes in proptest::collection::vec(1_usize..18, 0..5)) {
        let options = AcfOptions { lags: Some(4), ..AcfOptions::default() };
        let mut cells: Vec<Option<f64>> = y.iter().copied().map(Some).collect();
        let whole = acf(&y, &options).expect("long enough");
        let same = acf_with_gaps(&cells, &options).expect("long enough");
        prop_assert_eq!(&whole, &same);
        for hole in &holes {
            cells[*hole] = None;
        }
        let known = cells.iter().flatten().count();
        let gappy = acf_with_gaps(&cells, &options).expect("long enough");
        prop_assert_eq!(gappy.observations, known);
        prop_assert!(gappy.lags.iter().all(|lag| lag.acf.is_finite() && lag.q >= 0.0));
    }
}
