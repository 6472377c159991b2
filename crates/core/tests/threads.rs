//! Whatever is computed in parallel is the same on one thread and on eight.

#![allow(clippy::expect_used)]

use kandrel_core::arima::{Criteria, Data, Grid, Model, fit, search, search_in_two_stages};
use kandrel_core::nulldist::{Tail, draw_null, random_walk};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::outlier::{Method, OutlierOptions, find};
use kandrel_core::unitroot::panel::{PanelOptions, panel};
use kandrel_core::unitroot::{AdfOptions, BootstrapOptions, adf, bootstrap};
use kandrel_core::verdict::{AssessOptions, assess};

/// A job on pools of one and of eight threads.
fn on_one_and_eight<T: Send>(job: impl Fn() -> T + Sync) -> [T; 2] {
    [1, 8].map(|threads| {
        let pool = rayon::ThreadPoolBuilder::new().num_threads(threads).build().expect("threads");
        pool.install(&job)
    })
}

fn autoregression(n: usize, phi: f64, seed: u64) -> Vec<f64> {
    let mut y = NormalStream::new(seed, 0).take(n);
    for t in 1..n {
        y[t] += phi * y[t - 1];
    }
    y
}

#[test]
fn estimates() {
    let y = autoregression(160, 0.6, 1);
    let model = Model::parse("(1,0,1)(0,0,1)12").expect("a model");
    let [one, eight] = on_one_and_eight(|| fit(&Data::complete(&y), model).expect("an estimate"));
    assert_eq!(one, eight);
}

#[test]
fn searches_of_a_grid() {
    let y = autoregression(120, 0.5, 2);
    let grid = Grid { limit: [2, 2, 1, 1], ..Grid::usual(0, 0, 12) };
    let aicc = |criteria: &Criteria| criteria.aicc.unwrap_or(f64::INFINITY);
    let [one, eight] =
        on_one_and_eight(|| search(&Data::complete(&y), grid, aicc, |_| {}).expect("candidates"));
    assert_eq!(one.len(), 36);
    assert_eq!(one, eight);
}

#[test]
fn searches_over_gaps() {
    let mut cells: Vec<Option<f64>> = autoregression(120, 0.5, 3).into_iter().map(Some).collect();
    for place in [11, 30, 31, 52, 70, 71, 99] {
        cells[place] = None;
    }
    let grid = Grid { limit: [1, 1, 0, 0], ..Grid::usual(0, 0, 1) };
    let bic = |criteria: &Criteria| criteria.bic;
    let [one, eight] = on_one_and_eight(|| {
        search_in_two_stages(&Data::with_gaps(&cells), grid, bic, |_| {}).expect("candidates")
    });
    assert_eq!(one, eight);
}

#[test]
fn bootstraps() {
    let y = autoregression(90, 0.9, 4);
    let tests = vec![adf(&y, &AdfOptions::default()).expect("a test")];
    for wild in [false, true] {
        let options = BootstrapOptions { draws: 199, seed: 5, wild, season: 1 };
        let [one, eight] = on_one_and_eight(|| bootstrap(&y, &tests, &options, &|| {}));
        assert_eq!(one, eight);
        assert!(one[0].is_some_and(|p| (0.0..=1.0).contains(&p)));
        // Other seeds give other series; one p-value may come out the same by chance.
        let others = (6..11).map(|seed| bootstrap(&y, &tests, &BootstrapOptions { seed, ..options }, &|| {}));
        assert!(others.into_iter().any(|other| other != one));
    }
}

#[test]
fn null_distributions_drawn_on_the_spot() {
    let drawn = || {
        let null = draw_null(400, 7, |stream| Some(vec![random_walk(stream, 40).last().copied()?]));
        let own = null.first().expect("a distribution");
        [-5.0, 0.0, 5.0].map(|value| own.p_value(value, Tail::Lower).to_bits())
    };
    let [one, eight] = on_one_and_eight(drawn);
    assert_eq!(one, eight);
    assert!(one.map(f64::from_bits).is_sorted());
}

#[test]
fn verdicts_panels_and_outliers() {
    let mut y = autoregression(144, 0.7, 8);
    y[60] += 9.0;
    let options = AssessOptions { season: 12, ..AssessOptions::default() };
    let [one, eight] = on_one_and_eight(|| assess(&y, &options).expect("a verdict"));
    assert_eq!(one, eight);
    let members: Vec<Vec<f64>> = (0..4).map(|seed| autoregression(80, 0.5, 20 + seed)).collect();
    let [one, eight] = on_one_and_eight(|| panel(&members, &PanelOptions::default()).expect("a panel"));
    assert_eq!(one.tests, eight.tests);
    let wanted = OutlierOptions { season: 12, methods: Method::ALL.to_vec() };
    let [one, eight] = on_one_and_eight(|| find(&y, &wanted).expect("a search"));
    let places =
        |found: &kandrel_core::outlier::Outliers| found.marked().map(|one| one.place).collect::<Vec<_>>();
    assert_eq!(places(&one), places(&eight));
    assert!(places(&one).contains(&60));
}
