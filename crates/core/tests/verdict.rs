//! The verdict on seeded processes whose truth is known.

#![allow(clippy::expect_used)]

use kandrel_core::nulldist::Terms;
use kandrel_core::num::rng::NormalStream;
use kandrel_core::verdict::{AssessOptions, Assessment, Class, TermsRule, assess};

const SERIES: u64 = 60;
const LENGTH: usize = 200;

fn noise(seed: u64, n: usize) -> Vec<f64> {
    NormalStream::new(40_000 + seed, 0).take(n)
}

fn cumulated(steps: &[f64]) -> Vec<f64> {
    let mut level = 0.0;
    steps
        .iter()
        .map(|step| {
            level += step;
            level
        })
        .collect()
}

fn autoregression(phi: f64, seed: u64) -> Vec<f64> {
    let e = noise(seed, LENGTH + 100);
    let mut y = vec![0.0; e.len()];
    for t in 1..e.len() {
        y[t] = phi * y[t - 1] + e[t];
    }
    y.split_off(100)
}

fn with_trend(y: &[f64], slope: f64) -> Vec<f64> {
    y.iter().enumerate().map(|(t, v)| v + slope * t as f64).collect()
}

fn assessed(y: &[f64], season: usize) -> Assessment {
    assess(y, &AssessOptions { season, ..AssessOptions::default() }).expect("long enough")
}

/// How many of the series the rule is right about.
fn hits(make: impl Fn(u64) -> Vec<f64>, right: impl Fn(&Assessment) -> bool) -> u64 {
    (0..SERIES).filter(|seed| right(&assessed(&make(*seed), 1))).count() as u64
}

#[test]
fn noise_and_mild_autoregressions_are_stationary() {
    let stationary = |a: &Assessment| a.verdict.integration == 0;
    assert!(hits(|seed| noise(seed, LENGTH), stationary) >= 57);
    assert!(hits(|seed| autoregression(0.5, seed), stationary) >= 55);
}

#[test]
fn random_walks_have_one_unit_root() {
    let once = |a: &Assessment| a.verdict.integration == 1;
    assert!(hits(|seed| cumulated(&noise(seed, LENGTH)), once) >= 50);
    let drifting = |seed| with_trend(&cumulated(&noise(seed, LENGTH)), 0.5);
    assert!(hits(drifting, once) >= 50);
}

#[test]
fn a_trend_is_not_differenced_away() {
    let trended = |seed| with_trend(&autoregression(0.5, seed), 0.1);
    assert!(hits(trended, |a| a.verdict.class == Class::TrendStationary) >= 48);
}

#[test]
fn a_twice_cumulated_series_is_differenced_twice() {
    let twice = |seed| cumulated(&cumulated(&noise(seed, LENGTH)));
    assert!(hits(twice, |a| a.verdict.integration == 2) >= 45);
}

#[test]
fn a_seasonal_random_walk_is_described_by_its_season() {
    let found = (0..SERIES).filter(|seed| {
        let mut y = noise(*seed, 240);
        for t in 12..240 {
            y[t] += y[t - 12];
        }
        let verdict = assessed(&y, 12).verdict;
        (verdict.seasonal_integration, verdict.integration) == (Some(1), 0)
    });
    assert!(found.count() >= 50);
}

#[test]
fn a_pattern_of_the_season_leaves_the_rest_as_it_is() {
    let with_pattern = |y: Vec<f64>| -> Vec<f64> {
        y.iter().enumerate().map(|(t, v)| v + 3.0 * f64::from(u8::from(t % 4 == 1))).collect()
    };
    let (mut level, mut walk) = (0, 0);
    for seed in 0..SERIES {
        let still = assessed(&with_pattern(noise(seed, LENGTH)), 4).verdict;
        let moving = assessed(&with_pattern(cumulated(&noise(seed, LENGTH))), 4).verdict;
        level += usize::from((still.class, still.seasonal_integration) == (Class::Stationary, Some(0)));
        walk += usize::from((moving.integration, moving.seasonal_integration) == (1, Some(0)));
    }
    assert!(level >= 54 && walk >= 50, "{level} {walk}");
}

#[test]
fn dynamics_beyond_the_simplest_do_not_mislead() {
    // Changes with a complex pair of roots, 1 - B + 0.7 B².
    let cycling = |seed| {
        let e = noise(seed, LENGTH + 100);
        let mut x = e.clone();
        for t in 2..x.len() {
            x[t] += x[t - 1] - 0.7 * x[t - 2];
        }
        cumulated(&x.split_off(100))
    };
    assert!(hits(cycling, |a| a.verdict.integration == 1) >= 50);
}

#[test]
fn a_level_break_is_dated_and_not_differenced_away() {
    let broken = |seed| {
        let mut y = autoregression(0.5, seed);
        y.iter_mut().skip(120).for_each(|v| *v += 5.0);
        y
    };
    let near = |a: &Assessment| a.break_at.is_some_and(|place| place.abs_diff(119) <= 1);
    assert!(hits(broken, |a| a.verdict.class == Class::TrendBreak && near(a)) >= 54);
}

#[test]
fn probabilities_are_those_of_one_whole() {
    let result = assessed(&noise(9, LENGTH), 1);
    let sum: f64 = result.candidates.candidates.iter().map(|one| one.probability).sum();
    assert!((sum - 1.0).abs() < 1e-12 && result.candidates.candidates.len() == 12);
    let roots: f64 = result.candidates.roots.iter().map(|(_, share)| share).sum();
    assert!((roots - 1.0).abs() < 1e-12);
    let (low, high) = result.largest_root;
    assert!(low <= high && high < 1.0, "{low} {high}");
}

#[test]
fn models_and_differences_have_one_posterior_where_there_is_a_season() {
    for seed in 0..6 {
        let y = with_trend(&cumulated(&noise(seed, 120)), if seed % 2 == 0 { 0.3 } else { 0.0 });
        let found = assessed(&y, 12);
        let posterior = found.season.posterior.as_ref().expect("long enough");
        let of = |d: usize| -> f64 {
            let models = found.candidates.candidates.iter().filter(|one| one.model.kind().integration() == d);
            models.map(|one| one.probability).sum()
        };
        for (d, wanted) in posterior.by_differences().into_iter().enumerate() {
            assert!((of(d) - wanted).abs() < 1e-9, "{seed}: {d} {} {wanted}", of(d));
        }
    }
}

#[test]
fn awkward_series_have_a_sensible_verdict() {
    let walk = cumulated(&noise(4, LENGTH));
    let mut outlier = walk.clone();
    outlier[90] += 30.0;
    assert_eq!(assessed(&outlier, 1).verdict.integration, 1);
    let whole: Vec<f64> = walk.iter().map(|v| v.round()).collect();
    assert_eq!(assessed(&whole, 1).verdict.integration, 1);
    let tied: Vec<f64> = noise(5, LENGTH).iter().map(|v| (1.5 * v).round() / 1.5).collect();
    assert_eq!(assessed(&tied, 1).verdict.integration, 0);
    let mut flat = noise(6, LENGTH);
    flat.iter_mut().take(60).for_each(|v| *v = 0.0);
    assert!(assess(&flat, &AssessOptions::default()).is_ok());
    let short = noise(7, 20);
    assert!(assess(&short, &AssessOptions::default()).is_ok());
}

#[test]
fn shift_and_scale_change_nothing() {
    for seed in 0..5 {
        let y = cumulated(&noise(seed, LENGTH));
        let moved: Vec<f64> = y.iter().map(|v| 1000.0 - 0.01 * v).collect();
        let (a, b) = (assessed(&y, 1), assessed(&moved, 1));
        assert_eq!(a.verdict.class, b.verdict.class);
        assert!((a.verdict.probability - b.verdict.probability).abs() < 1e-6);
    }
}

#[test]
fn terms_given_are_used_and_differences_need_no_trend() {
    let y = with_trend(&cumulated(&noise(3, LENGTH)), 0.2);
    for terms in Terms::ALL {
        let options = AssessOptions { terms: TermsRule::Given(terms), ..AssessOptions::default() };
        let result = assess(&y, &options).expect("long enough");
        assert!(result.terms_choice.is_none());
        let [level, first] = [0, 1].map(|k| &result.stages[k]);
        assert_eq!(level.unit_root.terms, terms);
        assert_ne!(level.stationarity.terms, Terms::None);
        assert_ne!(first.unit_root.terms, Terms::Trend);
        assert_eq!((first.differenced, first.unit_root.observations), (1, LENGTH - 1));
    }
}
