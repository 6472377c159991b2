//! Least squares against certified results and against sums written out.

#![allow(clippy::expect_used)]

use kandrel_core::num::rng::NormalStream;
use kandrel_core::regression::{
    ErrorKind, RegressionError, RegressionOptions, Restriction, break_test, breusch_godfrey, least_squares,
    regression, reset, white,
};
use nalgebra::{DMatrix, DVector};

const CLASSICAL: RegressionOptions =
    RegressionOptions { constant: Some(0), errors: ErrorKind::Classical, alpha: 0.05 };

/// Digits in common with a certified value.
fn digits(ours: f64, certified: f64) -> f64 {
    -((ours - certified) / certified).abs().max(1e-16).log10()
}

fn fewest_digits(ours: impl Iterator<Item = f64>, certified: &[f64]) -> f64 {
    ours.zip(certified).map(|(ours, certified)| digits(ours, *certified)).fold(16.0, f64::min)
}

/// Columns 1, x, x², ….
fn powers(x: &[f64], degree: i32) -> Vec<Vec<f64>> {
    (0..=degree).map(|power| x.iter().map(|x| x.powi(power)).collect()).collect()
}

#[test]
fn longley_to_nine_digits_and_more() {
    // NIST StRD, Longley, certified coefficients, standard errors and residual deviation.
    let data = kandrel_fixtures::table("longley.csv").expect("a fixture");
    let scaled = |column: usize, by: f64| data[column].iter().map(|v| v * by).collect::<Vec<f64>>();
    let columns = vec![
        vec![1.0; 16],
        scaled(1, 1.0),
        scaled(2, 1000.0),
        scaled(3, 10.0),
        scaled(4, 10.0),
        scaled(5, 1000.0),
        scaled(0, 1.0),
    ];
    let employed = scaled(6, 1000.0);
    let fit = regression(&columns, &employed, &CLASSICAL).expect("well posed");
    let coefficients = [
        -3482258.63459582,
        15.0618722713733,
        -0.358191792925910e-1,
        -2.02022980381683,
        -1.03322686717359,
        -0.511041056535807e-1,
        1829.15146461355,
    ];
    let errors = [
        890420.383607373,
        84.9149257747669,
        0.334910077722432e-1,
        0.488399681651699,
        0.214274163161675,
        0.226073200069370,
        455.478499142212,
    ];
    let found = fewest_digits(fit.coefficients.iter().map(|c| c.estimate), &coefficients);
    assert!(found > 12.0, "coefficients to {found} digits");
    let found = fewest_digits(fit.coefficients.iter().map(|c| c.std_error), &errors);
    assert!(found > 11.0, "errors to {found} digits");
    assert!(digits(fit.sigma, 304.854073561965) > 13.0);
    assert!(digits(fit.r2, 0.995479004577296) > 12.0);
    assert!(digits(fit.f.expect("slopes").statistic, 330.285339234588) > 10.0);
}

#[test]
fn wampler_to_the_digits_of_doubles() {
    // NIST StRD, Wampler1 to Wampler5: all coefficients one (Wampler2: powers of a tenth).
    let x: Vec<f64> = (0..21).map(f64::from).collect();
    let columns = powers(&x, 5);
    let exact: Vec<f64> = (0..21).map(|t| columns.iter().map(|column| column[t]).sum()).collect();
    let one = least_squares(&columns, &exact).expect("well posed");
    assert!(fewest_digits(one.coefficients.iter().copied(), &[1.0; 6]) > 15.0);
    let tenths: Vec<f64> = (0..6).map(|power| 10.0_f64.powi(-power)).collect();
    let two: Vec<f64> =
        (0..21).map(|t| columns.iter().zip(&tenths).map(|(column, tenth)| column[t] * tenth).sum()).collect();
    let two = least_squares(&columns, &two).expect("well posed");
    assert!(fewest_digits(two.coefficients.iter().copied(), &tenths) > 12.0);
    assert!(matches!(regression(&columns, &exact, &CLASSICAL), Err(RegressionError::PerfectFit { .. })));
    let delta: [f64; 21] = [
        759.0, -2048.0, 2048.0, -2048.0, 2523.0, -2048.0, 2048.0, -2048.0, 1838.0, -2048.0, 2048.0, -2048.0,
        1838.0, -2048.0, 2048.0, -2048.0, 2523.0, -2048.0, 2048.0, -2048.0, 759.0,
    ];
    let errors = [
        2152.32624678170,
        2363.55173469681,
        779.343524331583,
        101.475507550350,
        5.64566512170752,
        0.112324854679312,
    ];
    for (size, least) in [(1.0, 13.0), (100.0, 12.0), (10_000.0, 10.0)] {
        let target: Vec<f64> = exact.iter().zip(&delta).map(|(y, d)| y + size * d).collect();
        let fit = regression(&columns, &target, &CLASSICAL).expect("well posed");
        let found = fewest_digits(fit.coefficients.iter().map(|c| c.estimate), &[1.0; 6]);
        assert!(found > least, "coefficients to {found} digits with errors times {size}");
        let found = fewest_digits(fit.coefficients.iter().map(|c| c.std_error / size), &errors);
        assert!(found > 11.0, "errors to {found} digits");
        assert!(digits(fit.sigma, 2360.14502379268 * size) > 12.0);
    }
}

#[test]
fn filip_as_far_as_doubles_reach() {
    // NIST StRD, Filip. The tenth powers themselves are rounded to sixteen digits, which the
    // condition of the problem multiplies.
    let data = kandrel_fixtures::table("filip.csv").expect("a fixture");
    let fit = regression(&powers(&data[1], 10), &data[0], &CLASSICAL).expect("well posed");
    let coefficients = [
        -1467.48961422980,
        -2772.17959193342,
        -2316.37108160893,
        -1127.97394098372,
        -354.478233703349,
        -75.1242017393757,
        -10.8753180355343,
        -1.06221498588947,
        -0.670191154593408e-1,
        -0.246781078275479e-2,
        -0.402962525080404e-4,
    ];
    let found = fewest_digits(fit.coefficients.iter().map(|c| c.estimate), &coefficients);
    assert!(found > 7.0, "coefficients to {found} digits");
    assert!(digits(fit.coefficients[0].std_error, 298.084530995537) > 6.5);
    assert!(digits(fit.sigma, 0.334801051324544e-2) > 8.0);
}

fn example(rows: usize) -> (Vec<Vec<f64>>, Vec<f64>) {
    let draws = |stream| NormalStream::new(77, stream).take(rows);
    let (a, b, e) = (draws(0), draws(1), draws(2));
    let y = (0..rows).map(|t| 1.0 + 0.5 * a[t] + 0.3 * b[t] + (1.0 + 0.5 * a[t].abs()) * e[t]).collect();
    (vec![vec![1.0; rows], a, b.iter().map(|v| 100.0 * v).collect()], y)
}

#[test]
fn robust_errors_are_those_of_sums_written_out() {
    let (columns, y) = example(80);
    let x = DMatrix::from_fn(80, 3, |t, j| columns[j][t]);
    let inverse = (x.transpose() * &x).try_inverse().expect("well posed");
    let b = &inverse * x.transpose() * DVector::from_column_slice(&y);
    let e: Vec<f64> = (0..80).map(|t| y[t] - (x.row(t) * &b)[0]).collect();
    let outer = |s: usize, t: usize| x.row(s).transpose() * x.row(t) * (e[s] * e[t]);
    let hc0 = (0..80).fold(DMatrix::zeros(3, 3), |sum, t| sum + outer(t, t));
    let leverage = |t: usize| (x.row(t) * &inverse * x.row(t).transpose())[0];
    let hc3 = (0..80).fold(DMatrix::zeros(3, 3), |sum, t| sum + outer(t, t) / (1.0 - leverage(t)).powi(2));
    let mut newey = hc0.clone();
    for lag in 1..=4_usize {
        for t in lag..80 {
            newey += (outer(t, t - lag) + outer(t - lag, t)) * (1.0 - lag as f64 / 5.0);
        }
    }
    let cases = [
        (ErrorKind::Hc0, hc0.clone()),
        (ErrorKind::Hc1, hc0 * (80.0 / 77.0)),
        (ErrorKind::Hc3, hc3),
        (ErrorKind::NeweyWest(4), newey * (80.0 / 77.0)),
    ];
    for (errors, middle) in cases {
        let fit = regression(&columns, &y, &RegressionOptions { errors, ..CLASSICAL }).expect("well posed");
        let by_hand = &inverse * middle * &inverse;
        for (place, line) in fit.coefficients.iter().enumerate() {
            assert!((line.std_error / by_hand[(place, place)].sqrt() - 1.0).abs() < 1e-9, "{errors:?}");
            assert!((line.estimate - b[place]).abs() < 1e-10 * (1.0 + b[place].abs()));
        }
    }
}

#[test]
fn restrictions_in_f_form_compare_sums_of_squares() {
    let (columns, y) = example(60);
    let fit = regression(&columns, &y, &CLASSICAL).expect("well posed");
    // b₁ = 0.5 and b₂ = 0: what is left is y - 0.5 a on a constant.
    let restrictions = [
        Restriction { weights: vec![0.0, 1.0, 0.0], value: 0.5 },
        Restriction { weights: vec![0.0, 0.0, 1.0], value: 0.0 },
    ];
    let test = fit.wald(&restrictions).expect("independent");
    let left: Vec<f64> = y.iter().zip(&columns[1]).map(|(y, a)| y - 0.5 * a).collect();
    let mean = left.iter().sum::<f64>() / 60.0;
    let restricted: f64 = left.iter().map(|v| (v - mean).powi(2)).sum();
    let by_sums = (restricted - fit.ssr) / 2.0 / (fit.ssr / 57.0);
    assert!((test.f / by_sums - 1.0).abs() < 1e-9);
    assert!((test.chi2 - 2.0 * test.f).abs() < 1e-9);
    let twice = [restrictions[0].clone(), Restriction { weights: vec![0.0, 2.0, 0.0], value: 1.0 }];
    assert_eq!(fit.wald(&twice), Err(RegressionError::DependentRestrictions));
}

#[test]
fn a_break_compares_the_two_halves_with_the_whole() {
    let (columns, mut y) = example(100);
    let sum = |from: usize, to: usize, y: &[f64]| {
        let part: Vec<Vec<f64>> = columns.iter().map(|c| c[from..to].to_vec()).collect();
        regression(&part, &y[from..to], &CLASSICAL).expect("well posed").ssr
    };
    let test = break_test(&columns, &y, 40).expect("well posed");
    let apart = sum(0, 40, &y) + sum(40, 100, &y);
    let by_sums = (sum(0, 100, &y) - apart) / 3.0 / (apart / 94.0);
    assert!((test.f.statistic / by_sums - 1.0).abs() < 1e-9);
    assert!(test.f.p_value > 0.001);
    y[40..].iter_mut().for_each(|v| *v += 5.0);
    assert!(break_test(&columns, &y, 40).expect("well posed").f.p_value < 1e-6);
    assert!(break_test(&columns, &y, 98).expect("well posed").predictive);
    assert!(matches!(break_test(&columns, &y, 3), Err(RegressionError::BreakTooNear { .. })));
}

#[test]
fn diagnostics_find_what_is_there_and_nothing_else() {
    let rows = 300;
    let draws = |stream| NormalStream::new(91, stream).take(rows);
    let (x, e) = (draws(0), draws(1));
    let columns = vec![vec![1.0; rows], x.clone()];
    let fit = |y: &[f64]| regression(&columns, y, &CLASSICAL).expect("well posed");
    let plain: Vec<f64> = (0..rows).map(|t| 1.0 + 2.0 * x[t] + e[t]).collect();
    let clean = fit(&plain);
    for test in [breusch_godfrey(&clean, 4), white(&clean), reset(&clean)] {
        assert!(test.expect("well posed").p_value > 0.01);
    }
    let mut persistent = e.clone();
    for t in 1..rows {
        persistent[t] += 0.5 * persistent[t - 1];
    }
    let y: Vec<f64> = (0..rows).map(|t| 1.0 + 2.0 * x[t] + persistent[t]).collect();
    assert!(breusch_godfrey(&fit(&y), 4).expect("well posed").p_value < 1e-6);
    let y: Vec<f64> = (0..rows).map(|t| 1.0 + 2.0 * x[t] + (1.0 + x[t].abs()) * e[t]).collect();
    assert!(white(&fit(&y)).expect("well posed").p_value < 1e-4);
    let y: Vec<f64> = (0..rows).map(|t| 1.0 + 2.0 * x[t] + x[t] * x[t] + e[t]).collect();
    assert!(reset(&fit(&y)).expect("well posed").p_value < 1e-6);
}

#[test]
fn what_cannot_be_estimated_names_the_columns() {
    let (mut columns, y) = example(40);
    columns.push(columns[1].iter().zip(&columns[2]).map(|(a, b)| 2.0 * a - 0.01 * b).collect());
    let refused = regression(&columns, &y, &CLASSICAL).err();
    assert_eq!(refused, Some(RegressionError::Collinear { column: 3, of: vec![1, 2] }));
    let exact: Vec<f64> = columns[1].iter().map(|a| 3.0 - a).collect();
    let refused = regression(&columns[..3], &exact, &CLASSICAL).err();
    assert_eq!(refused, Some(RegressionError::PerfectFit { of: vec![1] }));
    assert_eq!(
        regression(&columns[..3], &[4.0; 40], &CLASSICAL).err(),
        Some(RegressionError::ConstantTarget)
    );
    columns[1][7] = f64::NAN;
    let refused = regression(&columns[..3], &y, &CLASSICAL).err();
    assert_eq!(refused, Some(RegressionError::NotFinite { column: Some(1), place: 7 }));
    columns[1] = (0..40).map(|t| f64::from(u8::from(t == 9))).collect();
    let hc3 = RegressionOptions { errors: ErrorKind::Hc3, ..CLASSICAL };
    assert_eq!(regression(&columns[..3], &y, &hc3).err(), Some(RegressionError::FullLeverage { place: 9 }));
}

#[test]
fn robust_errors_need_residuals_where_the_regressor_acts() {
    // Found by fuzzing: the target is zero wherever the regressor is not.
    let y = [0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 1.125];
    let without = RegressionOptions { constant: None, ..CLASSICAL };
    let x = vec![vec![1.1875, 0.0, 0.0, 5.9375, 0.0, 0.0, 0.0]];
    for errors in [ErrorKind::Hc0, ErrorKind::Hc1, ErrorKind::Hc3, ErrorKind::NeweyWest(0)] {
        let options = RegressionOptions { errors, ..without };
        assert_eq!(regression(&x, &y, &options).err(), Some(RegressionError::NoSpread { column: 0 }));
    }
    let fit = regression(&x, &y, &without).expect("classical errors exist");
    assert!(fit.coefficients[0].p_value > 0.99);
}

#[test]
fn shifts_and_scales_change_what_they_should_only() {
    let (columns, y) = example(50);
    let plain = regression(&columns, &y, &CLASSICAL).expect("well posed");
    let moved: Vec<Vec<f64>> = columns
        .iter()
        .enumerate()
        .map(|(j, c)| if j == 0 { c.clone() } else { c.iter().map(|v| 1e4 + 0.1 * v).collect() })
        .collect();
    let other: Vec<f64> = y.iter().map(|v| 7.0 - 1e4 * v).collect();
    let again = regression(&moved, &other, &CLASSICAL).expect("well posed");
    for place in [1, 2] {
        assert!((again.coefficients[place].t / -plain.coefficients[place].t - 1.0).abs() < 1e-8);
    }
    assert!((again.r2 - plain.r2).abs() < 1e-11);
    assert!((again.durbin_watson - plain.durbin_watson).abs() < 1e-9);
}
