//! Tests of residuals, influence and standard errors against their formulas written out with
//! normal equations, and against the variance over many series.

#![allow(clippy::expect_used)]

use kandrel_core::coint::{SystemInput, relations, system};
use kandrel_core::nulldist::SystemTerms;
use kandrel_core::num::rng::NormalStream;
use kandrel_core::regression::{
    ErrorKind, Regression, RegressionOptions, breusch_godfrey, regression, reset, white,
};
use kandrel_core::var::{LagTerms, Var, VarInput, causality, estimate, residual_checks};
use nalgebra::DMatrix;

/// Some series that depend on their own past and that of others.
fn entangled(n: usize, count: usize) -> Vec<Vec<f64>> {
    let draws: Vec<Vec<f64>> = (0..count as u64).map(|k| NormalStream::new(77, k).take(n)).collect();
    let mut y = vec![vec![0.0; n]; count];
    for t in 0..n {
        for k in 0..count {
            let own = if t > 0 { 0.5 * y[k][t - 1] } else { 0.0 };
            let other = if t > 1 { 0.4 * y[(k + 1) % count][t - 2] } else { 0.0 };
            y[k][t] = 3.0 + own + other + draws[k][t] + 0.5 * draws[0][t];
        }
    }
    y
}

fn slices(series: &[Vec<f64>]) -> Vec<&[f64]> {
    series.iter().map(Vec::as_slice).collect()
}

fn matrix(columns: &[Vec<f64>]) -> DMatrix<f64> {
    DMatrix::from_fn(columns[0].len(), columns.len(), |t, j| columns[j][t])
}

/// What is left of each column of y, by normal equations.
fn left(x: &[Vec<f64>], y: &[Vec<f64>]) -> DMatrix<f64> {
    let (x, y) = (matrix(x), matrix(y));
    let b = (x.transpose() * &x).try_inverse().expect("well posed") * x.transpose() * &y;
    y - x * b
}

fn squares(x: &[Vec<f64>], y: &[f64]) -> f64 {
    left(x, &[y.to_vec()]).iter().map(|e| e * e).sum()
}

/// A constant and all lags of all series, for rows from `lags` on; lag by lag.
fn regressors(series: &[Vec<f64>], lags: usize) -> Vec<Vec<f64>> {
    let n = series[0].len();
    let past = (1..=lags).flat_map(|lag| series.iter().map(move |y| y[lags - lag..n - lag].to_vec()));
    std::iter::once(vec![1.0; n - lags]).chain(past).collect()
}

fn fitted(series: &[Vec<f64>], lags: usize) -> Var {
    let views = slices(series);
    estimate(VarInput { series: &views, exogenous: &[], terms: LagTerms::Constant, season: 1 }, lags)
        .expect("well posed")
}

fn close(ours: f64, plain: f64) {
    assert!((ours - plain).abs() < 1e-8 * plain.abs().max(1.0), "{ours} {plain}");
}

/// The e shifted by some places, zero before the first.
fn shifted(e: &[f64], lag: usize) -> Vec<f64> {
    (0..e.len()).map(|t| if t >= lag { e[t - lag] } else { 0.0 }).collect()
}

#[test]
fn the_portmanteau_of_one_series_is_a_sum_of_squared_correlations() {
    let series = entangled(90, 1);
    let fit = fitted(&series, 2);
    let e = &fit.residuals[0];
    let checks = residual_checks(&fit, 6, 1).expect("enough rows");
    let n = e.len();
    let all: f64 = e.iter().map(|v| v * v).sum();
    let q: f64 = (1..=8)
        .map(|k| {
            let r = (k..n).map(|t| e[t] * e[t - k]).sum::<f64>() / all;
            r * r / (n - k) as f64
        })
        .sum();
    close(checks.portmanteau.statistic, (n * n) as f64 * q);
    assert_eq!((checks.portmanteau.lags, checks.portmanteau.df), (8, 6));
}

#[test]
fn the_portmanteau_of_several_is_hoskings_sum_of_traces() {
    let series = entangled(120, 3);
    let fit = fitted(&series, 1);
    let e = matrix(&fit.residuals);
    let n = e.nrows();
    let product = |lag: usize| {
        DMatrix::from_fn(3, 3, |i, j| (lag..n).map(|t| e[(t, i)] * e[(t - lag, j)]).sum::<f64>() / n as f64)
    };
    let inverse = product(0).try_inverse().expect("well posed");
    let q: f64 = (1..=5)
        .map(|lag| {
            let c = product(lag);
            (c.transpose() * &inverse * &c * &inverse).trace() / (n - lag) as f64
        })
        .sum();
    let found = residual_checks(&fit, 4, 1).expect("enough rows").portmanteau;
    close(found.statistic, (n * n) as f64 * q);
    assert_eq!(found.df, 9 * 4);
}

#[test]
fn the_multiplier_of_one_series_is_the_f_of_its_lagged_residuals() {
    let series = entangled(80, 1);
    let fit = fitted(&series, 2);
    let e = &fit.residuals[0];
    let base = regressors(&series, 2);
    let more: Vec<Vec<f64>> = base.iter().cloned().chain((1..=3).map(|lag| shifted(e, lag))).collect();
    let (restricted, full) = (squares(&base, e), squares(&more, e));
    let df2 = (e.len() - more.len()) as f64;
    let found = residual_checks(&fit, 4, 3).expect("enough rows").multiplier.expect("enough rows");
    close(found.statistic, (restricted - full) / 3.0 / (full / df2));
    assert_eq!(found.df, 3);
    close(found.df2.expect("an F"), df2);
}

#[test]
fn the_multiplier_of_several_is_raos_f_of_the_determinants() {
    let series = entangled(100, 2);
    let fit = fitted(&series, 1);
    let base = regressors(&series, 1);
    let lagged = (1..=2).flat_map(|lag| fit.residuals.iter().map(move |e| shifted(e, lag)));
    let more: Vec<Vec<f64>> = base.iter().cloned().chain(lagged).collect();
    let determinant = |x: &[Vec<f64>]| {
        let e = left(x, &fit.residuals);
        (e.transpose() * &e).determinant()
    };
    let ratio = determinant(&base) / determinant(&more);
    // With two equations the root is two: an exact F by Rao (1973), 8c.5.
    let (q, n) = (4.0, fit.rows as f64);
    let effective = n - base.len() as f64 - q - 0.5 * (2.0 - q + 1.0);
    let df2 = 2.0 * effective - (q - 1.0);
    let found = residual_checks(&fit, 3, 2).expect("enough rows").multiplier.expect("enough rows");
    close(found.df2.expect("an F"), df2);
    close(found.statistic, (ratio.sqrt() - 1.0) * df2 / (2.0 * q));
    assert_eq!(found.df, 8);
}

#[test]
fn influence_is_what_leaving_out_the_lags_costs() {
    let series = entangled(110, 3);
    let views = slices(&series);
    let input = VarInput { series: &views, exogenous: &[], terms: LagTerms::Constant, season: 1 };
    for augmented in [0, 1] {
        let (lags, all) = (2, 2 + augmented);
        let found = causality(input, lags, augmented).expect("well posed");
        assert_eq!((found.pairs.len(), found.blocks.len()), (6, 3));
        let x = regressors(&series, all);
        for one in found.pairs.iter().chain(&found.blocks) {
            // Column 1 + 3 (lag - 1) + series.
            let is_tested =
                |place: usize| place > 0 && (place - 1) / 3 < lags && one.causes.contains(&((place - 1) % 3));
            let kept: Vec<Vec<f64>> =
                (0..x.len()).filter(|place| !is_tested(*place)).map(|place| x[place].clone()).collect();
            let y = &series[one.effect][all..];
            let (restricted, full) = (squares(&kept, y), squares(&x, y));
            let (df1, df2) = (x.len() - kept.len(), y.len() - x.len());
            close(one.f, (restricted - full) / df1 as f64 / (full / df2 as f64));
            assert_eq!((one.df1, one.df2), (df1, df2));
        }
    }
}

/// A curved relation with uneven, autocorrelated errors, so that every test has something to find.
fn regressed() -> (Vec<Vec<f64>>, Vec<f64>, Regression) {
    let n = 70;
    let draws = |stream| NormalStream::new(5, stream).take(n);
    let (a, b, e) = (draws(0), draws(1), draws(2));
    let mut y = vec![0.0; n];
    let mut error = 0.0;
    for t in 0..n {
        error = 0.5 * error + (1.0 + 0.4 * a[t]) * e[t];
        y[t] = 2.0 + a[t] - b[t] + 0.3 * a[t] * a[t] + error;
    }
    let x = vec![vec![1.0; n], a, b];
    let options = RegressionOptions { constant: Some(0), errors: ErrorKind::Classical, alpha: 0.05 };
    let fit = regression(&x, &y, &options).expect("well posed");
    (x, y, fit)
}

fn products(a: &[f64], b: &[f64]) -> Vec<f64> {
    a.iter().zip(b).map(|(a, b)| a * b).collect()
}

/// `n R²` and F of columns added to an auxiliary regression that has its restricted sum.
fn auxiliary(base: &[Vec<f64>], more: &[Vec<f64>], target: &[f64]) -> (f64, f64) {
    let all = [base, more].concat();
    let (restricted, full) = (squares(base, target), squares(&all, target));
    let (n, df2) = (target.len() as f64, (target.len() - all.len()) as f64);
    (n * (1.0 - full / restricted), (restricted - full) / more.len() as f64 / (full / df2))
}

#[test]
fn white_is_the_fit_of_squared_residuals_on_squares_and_products() {
    let (x, y, fit) = regressed();
    let e = left(&x, &[y]);
    let target = products(e.as_slice(), e.as_slice());
    let (a, b) = (&x[1], &x[2]);
    let more = [a.clone(), b.clone(), products(a, a), products(a, b), products(b, b)];
    let (chi2, f) = auxiliary(&x[..1], &more, &target);
    let found = white(&fit).expect("enough rows");
    close(found.chi2, chi2);
    close(found.f, f);
    assert_eq!((found.df1, found.df2), (5, 64));
}

#[test]
fn reset_is_the_f_of_powers_of_the_fitted_values() {
    let (x, y, fit) = regressed();
    let e = left(&x, std::slice::from_ref(&y));
    let fitted: Vec<f64> = y.iter().zip(e.iter()).map(|(y, e)| y - e).collect();
    let square = products(&fitted, &fitted);
    let more = [square.clone(), products(&square, &fitted)];
    let (_, f) = auxiliary(&x, &more, &y);
    let found = reset(&fit).expect("enough rows");
    close(found.f, f);
    assert_eq!((found.df1, found.df2), (2, 65));
    assert!(found.p_value < 0.05, "the relation is curved: {}", found.p_value);
}

#[test]
fn breusch_godfrey_and_durbin_watson_see_the_lagged_residuals() {
    let (x, y, fit) = regressed();
    let e: Vec<f64> = left(&x, &[y]).iter().copied().collect();
    let more: Vec<Vec<f64>> = (1..=2).map(|lag| shifted(&e, lag)).collect();
    let (chi2, f) = auxiliary(&x, &more, &e);
    let found = breusch_godfrey(&fit, 2).expect("enough rows");
    close(found.chi2, chi2);
    close(found.f, f);
    let changes: f64 = (1..e.len()).map(|t| (e[t] - e[t - 1]).powi(2)).sum();
    close(fit.durbin_watson, changes / e.iter().map(|e| e * e).sum::<f64>());
    assert!(fit.durbin_watson < 1.6, "the errors are autocorrelated: {}", fit.durbin_watson);
}

/// A walk and a series that keeps to half of it, closing 30 % of a gap.
fn tied(n: usize, seed: u64) -> Vec<Vec<f64>> {
    let draws = |stream| NormalStream::new(900 + seed, stream).take(n);
    let (a, b) = (draws(0), draws(1));
    let mut x = vec![vec![0.0; n], vec![0.0; n]];
    for t in 1..n {
        let gap = x[0][t - 1] - 0.5 * x[1][t - 1];
        x[0][t] = x[0][t - 1] - 0.3 * gap + a[t];
        x[1][t] = x[1][t - 1] + b[t];
    }
    x
}

#[test]
fn errors_of_relations_and_loadings_are_their_spread() {
    const SYSTEMS: u64 = 300;
    let (mut relation, mut loading) = (Vec::new(), Vec::new());
    for seed in 0..SYSTEMS {
        let series = tied(400, seed);
        let views = slices(&series);
        let found =
            system(SystemInput { series: &views, lags: 1, terms: SystemTerms::None }).expect("well posed");
        let one = relations(&found, 1).expect("normalised");
        let error = one.vector_errors[0][1].expect("a free coefficient");
        relation.push((one.vectors[0][1] + 0.5) / error);
        loading.push((one.loadings[0][0] + 0.3) / one.loading_errors[0][0]);
    }
    for ratios in [relation, loading] {
        let n = ratios.len() as f64;
        let mean = ratios.iter().sum::<f64>() / n;
        let spread = (ratios.iter().map(|t| (t - mean).powi(2)).sum::<f64>() / n).sqrt();
        // Distances in standard errors have spread one; that of 300 is known within 4 %.
        assert!(mean.abs() < 0.3 && (spread - 1.0).abs() < 0.16, "{mean} {spread}");
    }
}
