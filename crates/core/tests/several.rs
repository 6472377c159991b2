//! Systems of several series against regressions and moments written out.

#![allow(clippy::expect_used)]

use kandrel_core::num::scale::InvalidSeries;
use std::f64::consts::PI;

use kandrel_core::coint::{
    CointError, ResidualOptions, SystemInput, relations, residual_tests, suggested_terms, system,
    trend_in_relations,
};
use kandrel_core::nulldist::{SystemTerms, random_walk};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::var::{
    LagTerms, VarError, VarInput, causality, default_most_lags, eigenvalues, estimate, lag_table,
    residual_checks,
};
use nalgebra::DMatrix;

/// Two walks tied by one relation, and one on its own.
fn tied(n: usize) -> Vec<Vec<f64>> {
    let draws = |stream| NormalStream::new(31, stream).take(n);
    let (a, b, c) = (draws(0), draws(1), draws(2));
    let mut x = vec![vec![10.0; n], vec![5.0; n], vec![1.0; n]];
    for t in 2..n {
        let gap = x[0][t - 1] - 2.0 * x[1][t - 1];
        x[0][t] = x[0][t - 1] - 0.3 * gap + 0.3 * (x[0][t - 1] - x[0][t - 2]) + a[t];
        x[1][t] = x[1][t - 1] + b[t];
        x[2][t] = x[2][t - 1] + 0.5 * (x[1][t - 1] - x[1][t - 2]) + 3.0 * c[t];
    }
    x
}

fn slices(series: &[Vec<f64>]) -> Vec<&[f64]> {
    series.iter().map(Vec::as_slice).collect()
}

fn left_after(x: &DMatrix<f64>, y: &DMatrix<f64>) -> DMatrix<f64> {
    if x.ncols() == 0 {
        return y.clone();
    }
    let b = (x.transpose() * x).try_inverse().expect("well posed") * x.transpose() * y;
    y - x * b
}

/// Log-likelihood of a system by normal equations on the original scale.
fn plain_likelihood(series: &[Vec<f64>], fixed: &[Vec<f64>], lags: usize, most: usize) -> f64 {
    let (n, k) = (series[0].len(), series.len());
    let rows = n - most;
    let mut columns: Vec<Vec<f64>> = fixed.iter().map(|c| c[most..].to_vec()).collect();
    for lag in 1..=lags {
        columns.extend(series.iter().map(|y| y[most - lag..n - lag].to_vec()));
    }
    let x = DMatrix::from_fn(rows, columns.len(), |t, j| columns[j][t]);
    let y = DMatrix::from_fn(rows, k, |t, j| series[j][most + t]);
    let e = left_after(&x, &y);
    let sigma = e.transpose() * &e / rows as f64;
    -0.5 * rows as f64 * (k as f64 * (1.0 + (2.0 * PI).ln()) + sigma.determinant().ln())
}

/// Terms, columns with the series, and all fixed columns written out.
type Case<'a> = (LagTerms, &'a [&'a [f64]], Vec<Vec<f64>>);

#[test]
fn the_table_of_lags_is_that_of_a_refit_for_each() {
    let series = tied(90);
    let exogenous = NormalStream::new(31, 9).take(90);
    let views = slices(&series);
    let others: [&[f64]; 1] = [&exogenous];
    let ones = vec![1.0; 90];
    let clock: Vec<f64> = (0..90).map(f64::from).collect();
    let quarter = |place: usize| (0..90).map(|t| f64::from(u8::from(t % 4 == place))).collect::<Vec<f64>>();
    let cases: [Case<'_>; 4] = [
        (LagTerms::None, &[], vec![]),
        (LagTerms::Constant, &others, vec![ones.clone(), exogenous.clone()]),
        (LagTerms::Trend, &[], vec![ones.clone(), clock]),
        (LagTerms::Seasonal, &[], vec![ones, quarter(1), quarter(2), quarter(3)]),
    ];
    for (terms, exogenous, fixed) in cases {
        let table =
            lag_table(VarInput { series: &views, exogenous, terms, season: 4 }, 5).expect("well posed");
        assert_eq!(table.rows_used, 85);
        for row in &table.rows {
            let plain = plain_likelihood(&series, &fixed, row.lag, 5);
            assert!((row.log_likelihood - plain).abs() < 1e-9 * plain.abs(), "{terms:?} {}", row.lag);
            let m = fixed.len() + 3 * row.lag;
            let aic = -2.0 * plain + 2.0 * (3 * m + 6) as f64;
            assert!((row.aic - aic).abs() < 1e-7, "{} {aic}", row.aic);
            let determinant = (-2.0 * plain / 85.0 - 3.0 * (1.0 + (2.0 * PI).ln())).exp();
            let fpe = ((85 + m) as f64 / (85 - m) as f64).powi(3) * determinant;
            assert!((row.fpe.expect("within range") / fpe - 1.0).abs() < 1e-8);
        }
        let ratio = table.rows[3].lr.expect("against two lags");
        assert!((ratio - 2.0 * (table.rows[3].log_likelihood - table.rows[2].log_likelihood)).abs() < 1e-9);
        assert_eq!(table.rows[3].df, Some(9));
    }
}

#[test]
fn the_table_does_not_depend_on_units() {
    let series = tied(80);
    let moved: Vec<Vec<f64>> =
        series.iter().zip([1e-5, 3.0, 1e7]).map(|(y, by)| y.iter().map(|v| 1e3 + by * v).collect()).collect();
    let of = |series: &[Vec<f64>]| {
        let views = slices(series);
        lag_table(VarInput { series: &views, exogenous: &[], terms: LagTerms::Constant, season: 1 }, 4)
            .expect("well posed")
    };
    let (plain, other) = (of(&series), of(&moved));
    assert_eq!(plain.chosen, other.chosen);
    // Determinants beyond the range of numbers leave their logarithms to choose by.
    for by in [1e140, 1e-140] {
        let scaled: Vec<Vec<f64>> = series.iter().map(|y| y.iter().map(|v| by * v).collect()).collect();
        let far = of(&scaled);
        assert!(far.rows.iter().all(|row| row.fpe.is_none() && row.log_fpe.is_finite()));
        assert_eq!(far.chosen, plain.chosen);
    }
    for (a, b) in plain.rows.iter().zip(&other.rows).skip(1) {
        let (a, b) = (a.lr.expect("a ratio"), b.lr.expect("a ratio"));
        assert!((a - b).abs() < 1e-6 * (1.0 + a), "{a} {b}");
    }
}

#[test]
fn the_true_order_and_the_true_influence_are_found() {
    let n = 400;
    let (a, b) = (NormalStream::new(5, 0).take(n), NormalStream::new(5, 1).take(n));
    let (mut x, mut y) = (vec![0.0; n], vec![0.0; n]);
    for t in 2..n {
        x[t] = 0.5 * x[t - 1] - 0.3 * x[t - 2] + a[t];
        y[t] = 0.2 * y[t - 1] + 0.4 * x[t - 1] + 0.3 * x[t - 2] + b[t];
    }
    let series = [x, y];
    let views = slices(&series);
    let input = VarInput { series: &views, exogenous: &[], terms: LagTerms::Constant, season: 1 };
    let table = lag_table(input, 8).expect("well posed");
    assert_eq!((table.chosen.bic, table.chosen.hq), (2, 2));
    let fit = estimate(input, 2).expect("well posed");
    let checks = residual_checks(&fit, 8, 2).expect("enough rows");
    assert!(checks.portmanteau.p_value > 0.01 && checks.multiplier.expect("enough rows").p_value > 0.01);
    // One lag is too few, and both checks say so.
    let short = estimate(input, 1).expect("well posed");
    let checks = residual_checks(&short, 8, 2).expect("enough rows");
    assert!(checks.portmanteau.p_value < 1e-3 && checks.multiplier.expect("enough rows").p_value < 1e-3);
    // (1 - 0.5 z + 0.3 z²) has inverse roots of modulus √0.3; the other is near 0.2.
    assert!((fit.moduli()[0] - 0.3_f64.sqrt()).abs() < 0.08, "{:?}", fit.moduli());
    let found = causality(input, 2, 0).expect("well posed");
    let p = |cause: usize, effect: usize| {
        let pair = |one: &&kandrel_core::var::Influence| one.causes == [cause] && one.effect == effect;
        found.pairs.iter().find(pair).expect("a pair").p_value
    };
    assert!(p(0, 1) < 1e-8 && p(1, 0) > 0.01);
    // With one equation the multiplier's F is that of Breusch and Godfrey.
    let one = VarInput { series: &views[..1], ..input };
    let fit = estimate(one, 2).expect("well posed");
    let ours = residual_checks(&fit, 4, 3).expect("enough rows").multiplier.expect("enough rows");
    let columns: Vec<Vec<f64>> = std::iter::once(vec![1.0; n - 2])
        .chain((1..=2).map(|lag| series[0][2 - lag..n - lag].to_vec()))
        .collect();
    let options = kandrel_core::regression::RegressionOptions {
        constant: Some(0),
        errors: kandrel_core::regression::ErrorKind::Classical,
        alpha: 0.05,
    };
    let plain =
        kandrel_core::regression::regression(&columns, &series[0][2..], &options).expect("well posed");
    let theirs = kandrel_core::regression::breusch_godfrey(&plain, 3).expect("well posed");
    assert!((ours.statistic / theirs.f - 1.0).abs() < 1e-8, "{} {}", ours.statistic, theirs.f);
}

#[test]
fn systems_that_have_no_answer_are_refused() {
    let series = tied(40);
    let input = |series: &[Vec<f64>], most: usize| {
        let views = slices(series);
        lag_table(VarInput { series: &views, exogenous: &[], terms: LagTerms::Constant, season: 1 }, most)
    };
    assert!(matches!(input(&series, 20), Err(VarError::TooManyLags { most: 8, .. })));
    let mut twice = series.clone();
    twice[2] = twice[0].iter().map(|v| 2.0 * v).collect();
    assert!(matches!(input(&twice, 2), Err(VarError::Collinear { .. })));
    assert!(matches!(input(&twice, 0), Err(VarError::PerfectFit { series: 2 })));
    twice[1] = vec![3.0; 40];
    assert_eq!(input(&twice, 2), Err(VarError::Series { series: 1, reason: InvalidSeries::Constant }));
    let views = slices(&series);
    let wide = VarInput { series: &views, exogenous: &[], terms: LagTerms::Constant, season: 1 };
    assert!(default_most_lags(wide, 24).expect("usable") < 8);
}

/// Eigenvalues of `S₁₁⁻¹ S₁₀ S₀₀⁻¹ S₀₁` from moments on the original scale.
fn plain_eigenvalues(series: &[Vec<f64>], lags: usize, terms: SystemTerms) -> Vec<f64> {
    let (n, k) = (series[0].len(), series.len());
    let rows = n - lags;
    let change = |s: usize, t: usize| series[s][t] - series[s][t - 1];
    let time = |t: usize| t as f64 / 10.0;
    let mut outside: Vec<Vec<f64>> = Vec::new();
    if matches!(terms, SystemTerms::Constant | SystemTerms::TrendIn | SystemTerms::Trend) {
        outside.push(vec![1.0; rows]);
    }
    if terms == SystemTerms::Trend {
        outside.push((lags..n).map(time).collect());
    }
    for lag in 1..lags {
        outside.extend((0..k).map(|s| (lags..n).map(|t| change(s, t - lag)).collect::<Vec<f64>>()));
    }
    let mut levels: Vec<Vec<f64>> = (0..k).map(|s| series[s][lags - 1..n - 1].to_vec()).collect();
    match terms {
        SystemTerms::ConstantIn => levels.push(vec![1.0; rows]),
        SystemTerms::TrendIn => levels.push((lags..n).map(time).collect()),
        _ => {}
    }
    let matrix = |columns: &[Vec<f64>]| DMatrix::from_fn(rows, columns.len(), |t, j| columns[j][t]);
    let changes: Vec<Vec<f64>> = (0..k).map(|s| (lags..n).map(|t| change(s, t)).collect()).collect();
    let z = matrix(&outside);
    let (r0, r1) = (left_after(&z, &matrix(&changes)), left_after(&z, &matrix(&levels)));
    let moment = |a: &DMatrix<f64>, b: &DMatrix<f64>| a.transpose() * b;
    let inverse = |m: DMatrix<f64>| m.try_inverse().expect("well posed");
    let product = inverse(moment(&r1, &r1)) * moment(&r1, &r0) * inverse(moment(&r0, &r0)) * moment(&r0, &r1);
    eigenvalues(&product).expect("settles").iter().take(k).map(|value| value.re).collect()
}

#[test]
fn eigenvalues_are_those_of_moments_written_out() {
    let series = tied(100);
    let views = slices(&series);
    for terms in SystemTerms::ALL {
        for lags in [1, 3] {
            let ours = system(SystemInput { series: &views, lags, terms }).expect("well posed");
            for (a, b) in ours.eigenvalues.iter().zip(plain_eigenvalues(&series, lags, terms)) {
                assert!((a - b).abs() < 1e-8, "{terms:?} {lags} {a} {b}");
            }
            let first: f64 = ours.eigenvalues.iter().map(|v| -(ours.rows as f64) * (1.0 - v).ln()).sum();
            assert!((ours.tests[0].trace - first).abs() < 1e-9);
        }
    }
}

#[test]
fn the_relation_and_who_adjusts_are_found() {
    let series = tied(300);
    let views = slices(&series);
    let found =
        system(SystemInput { series: &views, lags: 2, terms: SystemTerms::ConstantIn }).expect("well posed");
    assert_eq!(found.rank(0.05), 1);
    let one = relations(&found, 1).expect("normalised");
    let errors: Vec<f64> = one.vector_errors[0].iter().map(|e| e.unwrap_or(0.0)).collect();
    assert!((one.vectors[0][1] + 2.0).abs() < 4.0 * errors[1], "{:?}", one.vectors);
    assert!(one.vectors[0][2].abs() < 4.0 * errors[2]);
    assert!((one.loadings[0][0] + 0.3).abs() < 4.0 * one.loading_errors[0][0]);
    assert!(one.loadings[0][1].abs() < 4.0 * one.loading_errors[0][1]);
    // In other units the same relation, in those units.
    let scaled: Vec<Vec<f64>> = series
        .iter()
        .zip([1.0, 100.0, 0.1])
        .map(|(y, by)| y.iter().map(|v| 50.0 + by * v).collect())
        .collect();
    let views = slices(&scaled);
    let again =
        system(SystemInput { series: &views, lags: 2, terms: SystemTerms::ConstantIn }).expect("well posed");
    let other = relations(&again, 1).expect("normalised");
    assert!((other.vectors[0][1] * 100.0 - one.vectors[0][1]).abs() < 1e-8);
    assert!((other.loadings[0][1] / 100.0 - one.loadings[0][1]).abs() < 1e-8);
    assert!((again.tests[1].trace - found.tests[1].trace).abs() < 1e-7);
    // The relation's mean is what it is around: constant and coefficients together.
    let index = |t: usize| -> f64 {
        let levels: f64 = one.vectors[0].iter().zip(&series).map(|(b, y)| b * y[t]).sum();
        levels + one.vectors[0][3]
    };
    let mean = (0..300).map(index).sum::<f64>() / 300.0;
    assert!(mean.abs() < 1.0, "{mean}");
}

#[test]
fn terms_are_suggested_by_drift_and_by_the_relations_own_trend() {
    let n = 200;
    let plain = tied(n);
    assert_eq!(suggested_terms(&slices(&plain), 2, 0.05).expect("well posed").terms, SystemTerms::ConstantIn);
    let noise = NormalStream::new(41, 0).take(n);
    let walk: Vec<f64> = random_walk(&mut NormalStream::new(41, 1), n)
        .iter()
        .enumerate()
        .map(|(t, v)| v + 0.5 * t as f64)
        .collect();
    let follows: Vec<f64> = walk.iter().zip(&noise).map(|(x, e)| x + e).collect();
    let suggested = suggested_terms(&[&follows, &walk], 1, 0.05).expect("well posed");
    assert_eq!(suggested.terms, SystemTerms::Constant);
    let drifting: Vec<f64> = follows.iter().enumerate().map(|(t, v)| v + 0.3 * t as f64).collect();
    let suggested = suggested_terms(&[&drifting, &walk], 1, 0.05).expect("well posed");
    assert_eq!(suggested.terms, SystemTerms::TrendIn);
    let of = |terms| system(SystemInput { series: &[&drifting, &walk], lags: 1, terms }).expect("well posed");
    let (with, without) = (of(SystemTerms::TrendIn), of(SystemTerms::Constant));
    let (statistic, p) = trend_in_relations(&with, &without, 1).expect("one relation");
    assert!(statistic > 10.0 && p < 0.01);
    let slope = relations(&with, 1).expect("normalised").vectors[0][2];
    assert!((slope + 0.3).abs() < 0.05, "{slope}");
}

#[test]
fn series_without_an_answer_are_named() {
    let series = tied(60);
    let views = slices(&series);
    let of =
        |views: &[&[f64]], lags| system(SystemInput { series: views, lags, terms: SystemTerms::Constant });
    assert_eq!(of(&views, 0).err(), Some(CointError::NoLags));
    assert!(matches!(of(&views, 30), Err(CointError::TooManyLags { most: 12, .. })));
    let sum: Vec<f64> = series[0].iter().zip(&series[1]).map(|(a, b)| a + b).collect();
    let dependent = [views[0], views[1], &sum];
    assert_eq!(of(&dependent, 1).err(), Some(CointError::Collinear { series: 2 }));
    assert_eq!(of(&dependent, 2).err(), Some(CointError::Collinear { series: 2 }));
    let double: Vec<f64> = series[0].iter().map(|a| 2.0 * a).collect();
    for terms in SystemTerms::ALL {
        let dependent = [views[0], &double, views[2]];
        let refused = system(SystemInput { series: &dependent, lags: 3, terms }).err();
        assert_eq!(refused, Some(CointError::Collinear { series: 1 }), "{terms:?}");
    }
    // Found by fuzzing: one unit of the first is beyond the range of numbers in units of the third.
    let moved = [(0, 1e100), (1, 1.0), (2, 1e-250)];
    let far = moved.map(|(place, by)| views[place].iter().map(|v| by * v).collect::<Vec<f64>>());
    let found = of(&slices(&far), 2).expect("the tests do not depend on units");
    assert_eq!(relations(&found, 1).err(), Some(CointError::UnitsApart { large: 0, small: 2 }));
    assert!(matches!(of(&views[..1], 1), Err(CointError::Count { series: 1, .. })));
    let short: Vec<&[f64]> = views.iter().map(|y| &y[..16]).collect();
    assert!(matches!(residual_tests(&short, &ResidualOptions::default()), Err(CointError::TooShort { .. })));
}
