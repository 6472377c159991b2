//! Outliers in series whose truth is known.

#![allow(clippy::expect_used)]

use kandrel_core::num::rng::NormalStream;
use kandrel_core::num::scale::InvalidSeries;
use kandrel_core::outlier::{
    EventKind, Method, OutlierError, OutlierOptions, Outliers, Repair, find, repair,
};
use rayon::prelude::*;

const SEASON: usize = 12;

/// Trend, season and noise of spread one; every other series has an autoregression for noise.
fn clean(n: usize, seed: u64) -> Vec<f64> {
    let noise = NormalStream::new(seed, 0).take(n);
    let persistence = if seed.is_multiple_of(2) { 0.0 } else { 0.5 };
    let mut error = 0.0;
    noise
        .iter()
        .enumerate()
        .map(|(t, e)| {
            error = persistence * error + e * f64::sqrt(1.0 - persistence * persistence);
            let angle = std::f64::consts::TAU * (t % SEASON) as f64 / SEASON as f64;
            40.0 + 0.05 * t as f64 + 4.0 * angle.sin() + 2.0 * (2.0 * angle).cos() + error
        })
        .collect()
}

fn search(y: &[f64]) -> Outliers {
    find(y, &OutlierOptions { season: SEASON, methods: Method::ALL.to_vec() }).expect("a search")
}

fn marks(y: &[f64]) -> Vec<(usize, EventKind)> {
    search(y).marked().map(|one| (one.place, one.kind)).collect()
}

#[test]
fn clean_series_are_left_alone_and_an_odd_value_is_found() {
    let draws = 120_u64;
    let place = |seed: u64| 10 + usize::try_from(seed).expect("small") * 37 % 100;
    let spoilt = |seed: u64| {
        let mut y = clean(120, seed);
        y[place(seed)] += if seed.is_multiple_of(3) { -5.0 } else { 5.0 };
        y
    };
    let false_marks: usize = (0..draws).into_par_iter().map(|seed| marks(&clean(120, seed)).len()).sum();
    let hits = (0..draws)
        .into_par_iter()
        .filter(|seed| marks(&spoilt(*seed)).iter().any(|mark| mark.0 == place(*seed)));
    let hits = hits.count();
    assert!(false_marks * 10 <= 4 * 120, "{false_marks} in 120 clean series");
    assert!(hits >= 110, "{hits} of 120");
}

#[test]
fn a_shift_is_one_event_and_is_not_repaired() {
    let mut y = clean(144, 2);
    y[80..].iter_mut().for_each(|value| *value += 9.0);
    y[40] += 8.0;
    let found = search(&y);
    let marked: Vec<(usize, EventKind)> = found.marked().map(|one| (one.place, one.kind)).collect();
    assert_eq!(marked, [(40, EventKind::Additive), (80, EventKind::LevelShift)]);
    for rule in [Repair::SeasonalMean, Repair::Interpolate, Repair::Model] {
        let repaired = repair(&y, SEASON, &found, rule).expect("a repair");
        assert_eq!(repaired.len(), 1);
        // What it was before it was spoilt, but for noise.
        assert!((repaired[0].to - clean(144, 2)[40]).abs() < 3.5, "{rule:?} {repaired:?}");
        assert!((repaired[0].from - y[40]).abs() < 1e-12);
    }
}

#[test]
fn one_method_alone_marks_what_it_finds() {
    let mut y = clean(120, 4);
    y[70] -= 9.0;
    for method in Method::ALL {
        let found = find(&y, &OutlierOptions { season: SEASON, methods: vec![method] }).expect("a search");
        let marked: Vec<usize> = found.marked().map(|one| one.place).collect();
        // One method alone may flag one more of 120 values by chance.
        assert!(marked.contains(&70) && marked.len() <= 2 && found.agreeing == 1, "{method:?} {marked:?}");
    }
}

#[test]
fn without_a_season_there_are_three_methods() {
    let mut y = NormalStream::new(6, 0).take(90);
    for t in 1..90 {
        y[t] += 0.6 * y[t - 1];
    }
    y[33] += 8.0;
    let options = |methods: &[Method]| OutlierOptions { season: 1, methods: methods.to_vec() };
    let found = find(&y, &options(&Method::ALL)).expect("a search");
    assert_eq!(found.methods, [Method::Expanding, Method::Irregular, Method::Likelihood]);
    assert_eq!(found.marked().map(|one| one.place).collect::<Vec<_>>(), [33]);
    assert_eq!(find(&y, &options(&[Method::Seasonal])), Err(OutlierError::NoSeason));
    assert_eq!(repair(&y, 1, &found, Repair::SeasonalMean), Err(OutlierError::NoSeason));
    let repaired = repair(&y, 1, &found, Repair::Model).expect("a repair");
    assert!((repaired[0].from - repaired[0].to).abs() > 4.0);
}

#[test]
fn other_units_and_levels_give_the_same_marks() {
    let mut y = clean(120, 5);
    y[50] += 7.0;
    let moved: Vec<f64> = y.iter().map(|value| 1e4 - 250.0 * value).collect();
    let (one, two) = (search(&y), search(&moved));
    assert_eq!(one.outliers.len(), two.outliers.len());
    for (a, b) in one.outliers.iter().zip(&two.outliers) {
        assert_eq!((a.place, a.kind, a.marked), (b.place, b.kind, b.marked));
        assert!((1e4 - 250.0 * a.expected - b.expected).abs() < 1e-3 * 250.0);
    }
}

#[test]
fn what_cannot_be_judged_is_refused_by_name() {
    let options = OutlierOptions { season: SEASON, methods: Method::ALL.to_vec() };
    let of = |y: &[f64]| find(y, &options).map(|found| found.outliers.len());
    assert_eq!(of(&[3.0; 60]), Err(OutlierError::InvalidSeries(InvalidSeries::Constant)));
    assert_eq!(of(&clean(30, 1)), Err(OutlierError::FewSeasons { observations: 30, needed: 36, season: 12 }));
    let mut y = clean(60, 1);
    y[7] = f64::INFINITY;
    assert_eq!(of(&y), Err(OutlierError::InvalidSeries(InvalidSeries::NotFinite { place: 7 })));
    let line: Vec<f64> = (0..60).map(f64::from).collect();
    assert_eq!(of(&line), Err(OutlierError::Deterministic));
}
