//! Laws of unit-root and stationarity tests.

use kandrel_core::lag::{Criterion, LagRule};
use kandrel_core::nulldist::BreakModel;
use kandrel_core::nulldist::Terms;
use kandrel_core::num::rng::NormalStream;
use kandrel_core::num::scale::InvalidSeries;
use kandrel_core::ols::Bandwidth;
use kandrel_core::unitroot::{AdfOptions, KpssOptions, adf, kpss};
use kandrel_core::unitroot::{
    BreakOptions, BreakRequest, FurtherOptions, GlsOptions, KnownBreakOptions, LagrangeOptions, PpOptions,
    SeasonalOptions, StabilityOptions, TestName, USUAL_TRIM, UnitRootError, UnitRootTest, canova_hansen,
    fractional_order, further_tests, gls_tests, hegy, lee_strazicich, perron, pp, zivot_andrews,
};
use kandrel_core::verdict::{AssessOptions, assess};
use proptest::prelude::*;

use crate::{agree, moved, series};

const RULES: [LagRule; 4] = [
    LagRule::Given(2),
    LagRule::Criterion(Criterion::Aic),
    LagRule::Criterion(Criterion::Bic),
    LagRule::Criterion(Criterion::Hq),
];

/// A test, run on a series.
type Run = Box<dyn Fn(&[f64]) -> Result<UnitRootTest, UnitRootError>>;

/// Every member of the family that allows for a constant.
fn members() -> Vec<Run> {
    let mut all: Vec<Run> = Vec::new();
    for terms in [Terms::Constant, Terms::Trend] {
        for lags in RULES {
            all.push(Box::new(move |y| adf(y, &AdfOptions { terms, lags, max_lags: None })));
        }
        for bandwidth in [Bandwidth::Automatic, Bandwidth::Short, Bandwidth::Given(0)] {
            all.push(Box::new(move |y| kpss(y, &KpssOptions { terms, bandwidth, ..KpssOptions::default() })));
        }
    }
    all
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    #[test]
    fn units_origin_and_sign_do_not_matter(
        y in series(), exponent in -6_i32..6, shift in -1e3_f64..1e3, negative in any::<bool>()
    ) {
        let scale = 10_f64.powi(exponent) * if negative { -1.0 } else { 1.0 };
        for run in members() {
            let plain = run(&y).expect("long enough");
            let other = run(&moved(&y, scale, shift * scale)).expect("long enough");
            prop_assert!(agree(plain.statistic, other.statistic, 1e-9), "{plain:?} {other:?}");
            let p = |test: &UnitRootTest| test.p_value.expect("simulated");
            prop_assert!((p(&plain) - p(&other)).abs() < 1e-8);
            prop_assert_eq!((plain.lags, plain.bandwidth), (other.lags, other.bandwidth));
        }
    }

    #[test]
    fn a_trend_in_the_data_does_not_matter_beside_a_trend_in_the_terms(y in series(), slope in -2_f64..2.0) {
        let sloped: Vec<f64> = y.iter().enumerate().map(|(t, v)| v + slope * t as f64).collect();
        let trend = AdfOptions { terms: Terms::Trend, lags: LagRule::Given(2), max_lags: None };
        let (a, b) = (adf(&y, &trend).expect("long enough"), adf(&sloped, &trend).expect("long enough"));
        prop_assert!(agree(a.statistic, b.statistic, 1e-7), "{} {}", a.statistic, b.statistic);
        let options = KpssOptions { terms: Terms::Trend, bandwidth: Bandwidth::Short, ..KpssOptions::default() };
        let (a, b) = (kpss(&y, &options).expect("long enough"), kpss(&sloped, &options).expect("long enough"));
        prop_assert!(agree(a.statistic, b.statistic, 1e-7), "{} {}", a.statistic, b.statistic);
    }

    #[test]
    fn results_are_probabilities_and_critical_values_are_in_order(y in series()) {
        for run in members() {
            let test = run(&y).expect("long enough");
            prop_assert!(test.p_value.is_some_and(|p| p > 0.0 && p < 1.0));
            let critical = test.critical.expect("simulated");
            let (outer, middle, inner) = (critical.one, critical.five, critical.ten);
            prop_assert!((outer < middle && middle < inner) || (outer > middle && middle > inner));
            // The decision is the same by the p-value and by the critical value.
            let beyond = (test.statistic - middle) * (outer - middle) >= 0.0;
            prop_assert_eq!(beyond, test.rejects(0.05), "{:?}", test);
        }
    }

    #[test]
    fn any_numbers_whatever_give_a_result_or_an_error(y in proptest::collection::vec(any::<f64>(), 0..40)) {
        for run in members() {
            if let Ok(test) = run(&y) {
                prop_assert!(test.statistic.is_finite() && test.p_value.is_none_or(f64::is_finite));
            }
        }
        if let Ok(assessment) = assess(&y, &AssessOptions { season: 4, ..AssessOptions::default() }) {
            prop_assert!(assessment.verdict.integration <= 2);
        }
    }

    #[test]
    fn awkward_whole_numbers_give_a_result_or_an_error(y in proptest::collection::vec(-2_i8..3, 10..60)) {
        let y: Vec<f64> = y.into_iter().map(f64::from).collect();
        for run in members() {
            if let Ok(test) = run(&y) {
                prop_assert!(test.statistic.is_finite() && test.p_value.is_none_or(f64::is_finite));
            }
        }
    }
}

#[test]
fn the_shortest_usable_series_and_the_longest_unusable_one() {
    let y: Vec<f64> = (0..15_u32).map(|t| f64::from(t * t % 7)).collect();
    for run in members() {
        assert!(run(&y).is_ok());
        assert_eq!(
            run(&y[..14]),
            Err(UnitRootError::InvalidSeries(InvalidSeries::TooShort { observations: 14, needed: 15 }))
        );
    }
}

#[test]
fn a_series_without_a_random_part_is_refused_by_name() {
    let constant = [4.0; 50];
    let line: Vec<f64> = (0..50).map(|t| 0.1 * f64::from(t) + 3.0).collect();
    let growth: Vec<f64> = (0..50).map(|t| 1.1_f64.powi(t)).collect();
    let trend = AdfOptions { terms: Terms::Trend, ..AdfOptions::default() };
    for run in members() {
        assert_eq!(run(&constant), Err(UnitRootError::InvalidSeries(InvalidSeries::Constant)));
    }
    for y in [&line, &growth] {
        assert!(matches!(adf(y, &trend), Err(UnitRootError::Deterministic | UnitRootError::Collinear)));
    }
    let around_trend = KpssOptions { terms: Terms::Trend, ..KpssOptions::default() };
    assert_eq!(kpss(&line, &around_trend), Err(UnitRootError::Deterministic));
    let none = KpssOptions { terms: Terms::None, ..KpssOptions::default() };
    assert_eq!(kpss(&growth, &none), Err(UnitRootError::NeedsConstant));
}

#[test]
fn lags_beyond_the_sample_are_refused_with_the_most_there_may_be() {
    let y = NormalStream::new(8, 0).take(30);
    let options = AdfOptions { lags: LagRule::Given(11), ..AdfOptions::default() };
    assert_eq!(adf(&y, &options), Err(UnitRootError::TooManyLags { lags: 11, most: 10, observations: 30 }));
    let most = AdfOptions { lags: LagRule::Given(10), terms: Terms::Trend, max_lags: None };
    assert!(adf(&y, &most).is_ok());
}

/// Every test other than ADF and KPSS, and the one of seasonal roots.
fn others(y: &[f64]) -> Vec<UnitRootTest> {
    let options = FurtherOptions {
        tests: vec![
            TestName::Pp,
            TestName::AdfGls,
            TestName::PointOptimal,
            TestName::NgPerron,
            TestName::ZivotAndrews,
            TestName::Perron,
            TestName::LeeStrazicich,
            TestName::LogPeriodogram,
            TestName::LocalWhittle,
        ],
        terms: Terms::Trend,
        lags: LagRule::Criterion(Criterion::Bic),
        breaks: BreakRequest { count: 2, known: Some(70), trim: USUAL_TRIM },
        ..FurtherOptions::default()
    };
    let mut all = further_tests(y, &options).expect("long enough");
    let seasonal = SeasonalOptions { season: 4, trend: true, lags: None, max_lags: None };
    all.push(hegy(y, &seasonal).expect("long enough"));
    let stays = StabilityOptions { season: 4, trend: true, bandwidth: Bandwidth::Automatic };
    all.push(canova_hansen(y, &stays).expect("long enough"));
    all
}

#[test]
fn shift_scale_and_sign_change_no_other_test_either() {
    for seed in 0..4 {
        let mut y = NormalStream::new(8_000 + seed, 0).take(120);
        for t in 1..120 {
            y[t] += 0.95 * y[t - 1];
        }
        let moved: Vec<f64> = y.iter().map(|v| 250.0 - 0.04 * v).collect();
        for (one, other) in others(&y).iter().zip(others(&moved)) {
            assert_eq!((one.test, one.lags), (other.test, other.lags));
            let apart = (one.statistic - other.statistic).abs() / one.statistic.abs().max(1.0);
            assert!(apart < 1e-7, "{:?}: {} {}", one.test, one.statistic, other.statistic);
            assert!(one.p_value.is_some_and(|p| (0.0..=1.0).contains(&p)));
        }
    }
}

#[test]
fn short_constant_and_wild_series_are_refused_by_every_other_test() {
    let y = NormalStream::new(1, 0).take(40);
    let mut wild = y.clone();
    wild[7] = f64::INFINITY;
    let seasonal = SeasonalOptions { season: 4, trend: false, lags: None, max_lags: None };
    for bad in [&y[..10], &[2.0; 40][..], &wild[..]] {
        assert!(pp(bad, &PpOptions::default()).is_err());
        assert!(gls_tests(bad, &GlsOptions::default()).is_err());
        let options = BreakOptions {
            model: BreakModel::Both,
            lags: LagRule::Criterion(Criterion::Aic),
            max_lags: None,
            trim: USUAL_TRIM,
        };
        assert!(zivot_andrews(bad, &options).is_err());
        assert!(hegy(bad, &seasonal).is_err());
        let stays = StabilityOptions { season: 4, trend: true, bandwidth: Bandwidth::Automatic };
        assert!(canova_hansen(bad, &stays).is_err());
        let known = KnownBreakOptions {
            model: BreakModel::Both,
            before: 12,
            lags: LagRule::Given(0),
            max_lags: None,
        };
        assert!(perron(bad, &known).is_err());
        for breaks in [1, 2] {
            let options = LagrangeOptions {
                model: BreakModel::Both,
                breaks,
                lags: LagRule::Given(0),
                max_lags: None,
                trim: USUAL_TRIM,
            };
            assert!(lee_strazicich(bad, &options).is_err());
        }
        assert!(fractional_order(bad, TestName::LocalWhittle).is_err());
    }
    let other = SeasonalOptions { season: 7, ..seasonal };
    assert_eq!(hegy(&y, &other).expect_err("no table"), UnitRootError::NoDistribution);
}
