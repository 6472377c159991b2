//! Under its null a test rejects as often as it says, with the lags that its rule chooses.

use kandrel_core::lag::{Criterion, LagRule};
use kandrel_core::nulldist::{BreakModel, Terms, random_walk};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::ols::Bandwidth;
use kandrel_core::unitroot::{
    AdfOptions, BreakOptions, KpssOptions, LagrangeOptions, Note, PpOptions, SeasonalOptions,
    StabilityOptions, USUAL_TRIM, UnitRootTest, adf, canova_hansen, hegy, kpss, lee_strazicich, pp,
    zivot_andrews,
};
use rayon::prelude::*;

const AIC: LagRule = LagRule::Criterion(Criterion::Aic);

/// Holds the shares of p-values up to 5 and 10 % among that number of series against what chance allows.
fn holds_its_size(
    name: &str,
    series: u64,
    draw: impl Fn(u64) -> Vec<f64> + Sync,
    test: impl Fn(&[f64]) -> UnitRootTest + Sync,
) {
    let values: Vec<f64> =
        (0..series).into_par_iter().map(|seed| test(&draw(seed)).p_value.expect("simulated")).collect();
    for level in [0.05, 0.10] {
        let share = values.iter().filter(|p| **p <= level).count() as f64 / series as f64;
        // One in thirty thousand by chance, and what the surface may err.
        let allowed = 4.0 * (level * (1.0 - level) / series as f64).sqrt() + 0.005;
        assert!((share - level).abs() < allowed, "{name}: {share} at {level}");
    }
}

fn walk(n: usize) -> impl Fn(u64) -> Vec<f64> + Sync {
    move |seed| random_walk(&mut NormalStream::new(9_000 + seed, 5), n)
}

fn noise(n: usize) -> impl Fn(u64) -> Vec<f64> + Sync {
    move |seed| NormalStream::new(9_000 + seed, 6).take(n)
}

/// A walk in steps of a season.
fn seasonal_walk(n: usize, season: usize) -> impl Fn(u64) -> Vec<f64> + Sync {
    move |seed| {
        let mut x = NormalStream::new(9_000 + seed, 7).take(n);
        for t in season..n {
            x[t] += x[t - season];
        }
        x
    }
}

fn lagrange(model: BreakModel, breaks: usize, lags: LagRule) -> LagrangeOptions {
    LagrangeOptions { model, breaks, lags, max_lags: None, trim: USUAL_TRIM }
}

#[test]
fn of_tests_of_a_root_with_lags_by_aic() {
    for (n, terms) in [(30, Terms::Constant), (30, Terms::Trend), (90, Terms::None)] {
        let options = AdfOptions { terms, lags: AIC, max_lags: None };
        holds_its_size("ADF", 2_000, walk(n), |x| adf(x, &options).expect("long enough"));
    }
    let options = PpOptions { bandwidth: Some(Bandwidth::Given(2)), ..PpOptions::default() };
    holds_its_size("Phillips-Perron", 2_000, walk(40), |x| pp(x, &options).expect("long enough"));
    let options = KpssOptions::default();
    holds_its_size("KPSS", 2_000, noise(40), |x| kpss(x, &options).expect("long enough"));
}

#[test]
fn of_searches_over_one_break() {
    for model in BreakModel::ALL {
        let options = BreakOptions { model, lags: AIC, max_lags: None, trim: USUAL_TRIM };
        holds_its_size("Zivot-Andrews", 1_000, walk(50), |x| {
            zivot_andrews(x, &options).expect("long enough")
        });
    }
    for model in [BreakModel::Intercept, BreakModel::Both] {
        let options = lagrange(model, 1, AIC);
        holds_its_size("one break", 1_000, walk(50), |x| lee_strazicich(x, &options).expect("long enough"));
    }
}

#[test]
fn of_searches_over_two_breaks() {
    for model in [BreakModel::Intercept, BreakModel::Both] {
        for (n, lags) in [(36, AIC), (46, AIC), (36, LagRule::Given(1))] {
            let options = lagrange(model, 2, lags);
            holds_its_size("two breaks", 600, walk(n), |x| lee_strazicich(x, &options).expect("long enough"));
        }
    }
}

#[test]
fn of_seasonal_tests() {
    let options = SeasonalOptions { season: 4, trend: false, lags: None, max_lags: None };
    holds_its_size("HEGY", 1_000, seasonal_walk(60, 4), |x| hegy(x, &options).expect("long enough"));
    let options = StabilityOptions { season: 4, trend: false, bandwidth: Bandwidth::Given(2) };
    holds_its_size("Canova-Hansen", 1_000, noise(60), |x| canova_hansen(x, &options).expect("long enough"));
}

#[test]
fn rules_made_for_a_regression_without_a_break_give_way_to_aic() {
    let x = random_walk(&mut NormalStream::new(4, 0), 60);
    for rule in [LagRule::Maic, LagRule::T] {
        for breaks in [1, 2] {
            let found = lee_strazicich(&x, &lagrange(BreakModel::Both, breaks, rule)).expect("long enough");
            let by_aic = lee_strazicich(&x, &lagrange(BreakModel::Both, breaks, AIC)).expect("long enough");
            assert_eq!(found, by_aic);
            assert_eq!(found.lag_rule, Some(AIC));
            assert!(!found.notes.contains(&Note::LagsAsIfGiven));
        }
        let options =
            |lags| BreakOptions { model: BreakModel::Trend, lags, max_lags: None, trim: USUAL_TRIM };
        let (found, by_aic) = (zivot_andrews(&x, &options(rule)), zivot_andrews(&x, &options(AIC)));
        assert_eq!(found, by_aic);
    }
}
