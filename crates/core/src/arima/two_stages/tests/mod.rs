//! Tests of the search in two stages against the whole grid.

#![allow(clippy::expect_used)]

use super::*;
use crate::num::rng::NormalStream;

/// A pattern of twelve months around a random walk whose changes have a moving average.
fn pattern_and_walk(seed: u64, n: usize) -> Data {
    let (mut level, mut last) = (0.0, 0.0);
    let values: Vec<f64> = NormalStream::new(seed, 0)
        .take(n)
        .into_iter()
        .enumerate()
        .map(|(t, shock)| {
            level += shock - 0.5 * last;
            last = shock;
            level + 3.0 * ((t % 12) as f64).sin()
        })
        .collect();
    let dummy = |month: usize| (0..n).map(|t| f64::from(u8::from(t % 12 == month))).collect();
    Data::complete(&values).with_regressors((1..12).map(dummy).collect())
}

fn aicc(criteria: &Criteria) -> f64 {
    criteria.aicc.unwrap_or(f64::INFINITY)
}

#[test]
fn two_stages_choose_what_the_whole_grid_chooses() {
    let grid = Grid { limit: [2, 2, 1, 1], ..Grid::usual(1, 0, 12) };
    for seed in 1..=4 {
        let data = pattern_and_walk(seed, 144);
        assert!(has_many_columns(&data));
        let whole = search(&data, grid, aicc, |_| {}).expect("the whole grid");
        let found = search_in_two_stages(&data, grid, aicc, |_| {}).expect("two stages");
        assert_eq!(found.len(), SECOND_STAGE);
        let gap = aicc(&found[0].criteria) - aicc(&whole[0].criteria);
        assert!((-1e-3..0.1).contains(&gap), "{seed}: {} {} {gap}", found[0].model, whole[0].model);
        // With dummies two seasonal factors that may cancel have two tops of nearly the same likelihood.
        let one_top = |own: &&Candidate| own.model.seasonal_ar == 0 || own.model.seasonal_ma == 0;
        for own in found.iter().filter(one_top) {
            let same = whole.iter().find(|one| one.model == own.model).expect("in the grid");
            assert!(own.log_likelihood - same.log_likelihood < 1e-2, "{seed}: {}", own.model);
        }
    }
}

#[test]
fn the_first_stage_ranks_by_the_restricted_likelihood_of_all_columns() {
    let data = pattern_and_walk(5, 60);
    let grid = Grid { limit: [1, 1, 0, 0], ..Grid::usual(1, 0, 12) };
    let reduced = reduced(&data, grid).expect("an estimate of the columns");
    for own in whole_grid(&reduced, grid, |_| {}).expect("the grid") {
        let beside = light_at(&data, own.model, own.end.clone()).expect("a likelihood");
        let best = light(&data, own.model, &[own.end], 1).expect("an estimate");
        // The model's coefficients and the variance: the dummies are integrated out.
        let k = (own.model.coefficients() + 1) as f64;
        assert!((beside.criteria().aic + 2.0 * beside.log_likelihood - 2.0 * k).abs() < 1e-9);
        let lost = best.log_likelihood - beside.log_likelihood;
        assert!((-1e-6..1.0).contains(&lost), "{}: {lost}", own.model);
    }
}

#[test]
fn a_fixed_pattern_makes_no_seasonal_models() {
    // The ordinary likelihood would choose a seasonal factor in most of these.
    let grid = Grid { limit: [1, 1, 1, 1], ..Grid::usual(0, 0, 12) };
    let seasonal = (1..=20).filter(|seed| {
        let e = NormalStream::new(88, *seed).take(96);
        let y: Vec<f64> = e.iter().enumerate().map(|(t, e)| e + 3.0 * ((t % 12) as f64).sin()).collect();
        let dummies = (0..11).map(|place| (0..96).map(|t| f64::from(u8::from(t % 12 == place))).collect());
        let data = Data::complete(&y).with_regressors(dummies.collect());
        let found = search_in_two_stages(&data, grid, aicc, |_| {}).expect("two stages");
        found[0].model.seasonal_ar + found[0].model.seasonal_ma > 0
    });
    let count = seasonal.count();
    assert!(count <= 4, "{count} of 20");
}

#[test]
fn few_columns_are_estimated_with_every_model() {
    let data = Data::complete(&NormalStream::new(6, 0).take(60));
    assert!(!has_many_columns(&data));
    assert!(!has_many_columns(&data.with_regressors(vec![vec![1.0; 60]; 4])));
}
