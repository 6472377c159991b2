//! Slow, plain versions with the fast ones.

#![allow(clippy::expect_used)]

use kandrel_core::corr::{AcfOptions, acf};
use kandrel_core::lag::{Criterion, LagRule, gaussian_log_likelihood};
use kandrel_core::nulldist::Terms;
use kandrel_core::num::rng::NormalStream;
use kandrel_core::ols::Bandwidth;
use kandrel_core::unitroot::{AdfOptions, KpssOptions, Regressor, adf, kpss};
use nalgebra::{DMatrix, DVector};

/// An I(1) series with some short-run dynamics, far from zero.
fn series(n: usize, seed: u64) -> Vec<f64> {
    let noise = NormalStream::new(seed, 0).take(n);
    let mut change = 0.0;
    let mut level = 350.0;
    noise
        .iter()
        .map(|e| {
            change = 0.4 * change + e;
            level += change;
            level
        })
        .collect()
}

/// A regression by its normal equations.
struct Plain {
    coefficients: DVector<f64>,
    errors: Vec<f64>,
    residual_sum: f64,
}

fn regress(x: &DMatrix<f64>, y: &DVector<f64>) -> Plain {
    let inverse = (x.transpose() * x).try_inverse().expect("independent columns");
    let coefficients = &inverse * x.transpose() * y;
    let residual_sum = (y - x * &coefficients).norm_squared();
    let variance = residual_sum / (x.nrows() - x.ncols()) as f64;
    let errors = (0..x.ncols()).map(|j| (variance * inverse[(j, j)]).sqrt()).collect();
    Plain { coefficients, errors, residual_sum }
}

/// The Dickey-Fuller regression on the original scale: constant, trend
/// (1, 2, … over the series), level, changes; rows from `first` on.
fn dickey_fuller(y: &[f64], terms: Terms, lags: usize, first: usize) -> Plain {
    let rows: Vec<usize> = (first..y.len()).collect();
    let change = |t: usize| y[t] - y[t - 1];
    let columns = terms.count() + 1 + lags;
    let x = DMatrix::from_fn(rows.len(), columns, |i, j| {
        let t = rows[i];
        match j {
            _ if j == terms.count() => y[t - 1],
            _ if j > terms.count() => change(t - (j - terms.count())),
            0 => 1.0,
            _ => t as f64 + 1.0,
        }
    });
    regress(&x, &DVector::from_fn(rows.len(), |i, _| change(rows[i])))
}

fn close(ours: f64, plain: f64, digits: i32) -> bool {
    (ours - plain).abs() <= 10_f64.powi(-digits) * plain.abs().max(1e-3)
}

#[test]
fn the_adf_regression_is_the_one_of_the_normal_equations() {
    for (n, lags) in [(40, 0), (40, 3), (200, 7)] {
        let y = series(n, 5);
        for terms in Terms::ALL {
            let plain = dickey_fuller(&y, terms, lags, lags + 1);
            let ours =
                adf(&y, &AdfOptions { terms, lags: LagRule::Given(lags), max_lags: None }).expect("fits");
            assert_eq!(ours.regression.len(), plain.errors.len());
            for (j, line) in ours.regression.iter().enumerate() {
                assert!(close(line.estimate, plain.coefficients[j], 7), "{terms:?} {line:?}");
                assert!(close(line.std_error, plain.errors[j], 7), "{terms:?} {line:?}");
            }
            let level = terms.count();
            assert_eq!(ours.regression[level].regressor, Regressor::LaggedLevel);
            assert!(close(ours.statistic, plain.coefficients[level] / plain.errors[level], 7));
            assert_eq!(ours.used(), n - 1 - lags);
        }
    }
}

#[test]
fn the_search_finds_the_lag_that_refitting_each_finds() {
    for seed in 0..12 {
        let y = series(120, seed);
        for terms in Terms::ALL {
            for criterion in Criterion::ALL {
                let most = 9;
                let refitted = (0..=most).min_by(|a, b| {
                    let value = |lags: usize| {
                        let rows = y.len() - 1 - most;
                        let sum = dickey_fuller(&y, terms, lags, most + 1).residual_sum;
                        criterion.value(gaussian_log_likelihood(sum, rows), terms.count() + 2 + lags, rows)
                    };
                    value(*a).total_cmp(&value(*b))
                });
                let options = AdfOptions { terms, lags: LagRule::Criterion(criterion), max_lags: Some(most) };
                let ours = adf(&y, &options).expect("fits");
                assert_eq!(ours.lags, refitted, "seed {seed}, {terms:?}, {criterion:?}");
                let given = AdfOptions {
                    lags: LagRule::Given(ours.lags.expect("a number")),
                    max_lags: None,
                    ..options
                };
                let again = adf(&y, &given).expect("fits");
                // The search refits on all usable observations.
                assert!(close(ours.statistic, again.statistic, 9));
            }
        }
    }
}

#[test]
fn kpss_is_the_ratio_its_definition_says() {
    let y = series(90, 2);
    let n = y.len() as f64;
    for terms in [Terms::Constant, Terms::Trend] {
        for bandwidth in [0, 1, 5, 20] {
            let x =
                DMatrix::from_fn(y.len(), terms.count(), |i, j| (i as f64).powi(i32::try_from(j).unwrap()));
            let target = DVector::from_column_slice(&y);
            let fit = regress(&x, &target);
            let e = target - x * fit.coefficients;
            let mut variance = e.norm_squared() / n;
            for j in 1..=bandwidth {
                let product: f64 = (j..y.len()).map(|t| e[t] * e[t - j]).sum();
                variance += 2.0 * (1.0 - j as f64 / (bandwidth as f64 + 1.0)) * product / n;
            }
            let partial = (0..y.len()).map(|t| (0..=t).map(|i| e[i]).sum::<f64>().powi(2)).sum::<f64>();
            let plain = partial / (n * n * variance);
            let ours = kpss(
                &y,
                &KpssOptions { terms, bandwidth: Bandwidth::Given(bandwidth), ..KpssOptions::default() },
            )
            .expect("fits");
            assert!(close(ours.statistic, plain, 9), "{terms:?} {bandwidth}: {} {plain}", ours.statistic);
        }
    }
}

#[test]
fn partial_autocorrelations_are_last_coefficients_of_yule_walker_systems() {
    let y = series(150, 9);
    let result =
        acf(&y, &AcfOptions { lags: Some(8), season: 1, ..AcfOptions::default() }).expect("long enough");
    let r = |k: usize| if k == 0 { 1.0 } else { result.lags[k - 1].acf };
    for order in 1..=8_usize {
        let system = DMatrix::from_fn(order, order, |i, j| r(i.abs_diff(j)));
        let right = DVector::from_fn(order, |i, _| r(i + 1));
        let phi = system.lu().solve(&right).expect("positive definite");
        assert!(close(result.lags[order - 1].pacf, phi[order - 1], 9), "order {order}");
    }
}
