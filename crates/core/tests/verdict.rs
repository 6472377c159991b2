//! The verdict on seeded processes whose truth is known.

#![allow(clippy::expect_used)]

use kandrel_core::nulldist::Terms;
use kandrel_core::num::rng::NormalStream;
use kandrel_core::unitroot::verdict::{AssessOptions, Assessment, Class, TermsRule, assess};

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
fn a_seasonal_random_walk_is_told_by_its_season() {
    let found = (0..SERIES).filter(|seed| {
        let mut y = noise(*seed, 240);
        for t in 12..240 {
            y[t] += y[t - 12];
        }
        let result = assessed(&y, 12);
        result.season_left.is_some_and(|left| left.season == 12) && result.verdict.integration <= 1
    });
    assert!(found.count() >= 50);
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
