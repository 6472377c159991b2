//! The seasonal likelihood against the covariance matrix written out.

#![allow(clippy::expect_used)]

mod plain;

use kandrel_core::arima::{Coefficients, Data, Fit, FitError, Grid, Model, fit, likelihood, search};
use kandrel_core::num::rng::NormalStream;
use kandrel_fixtures::column;
use plain::arma::quadratic_form;
use plain::models::Draws;

fn random_model(draws: &mut Draws, most: f64) -> Coefficients {
    let [ar, ma, seasonal_ar, seasonal_ma] = draws.blocks(most);
    Coefficients { ar, ma, seasonal_ar, seasonal_ma }
}

fn plain(w: &[f64], model: &Coefficients, season: usize) -> (f64, f64) {
    quadratic_form(w, &model.long_ar(season), &model.long_ma(season)).expect("a stationary model")
}

fn agrees(w: &[f64], model: &Coefficients, season: usize) {
    let (sum, logs) = plain(w, model, season);
    let ours = likelihood(w, &[], model, season, false)
        .unwrap_or_else(|| panic!("no likelihood: {model:?} {season}"));
    let what = format!(
        "{model:?}, season {season}, n = {}: {} {} and {sum} {logs}",
        w.len(),
        ours.sum,
        ours.log_determinant
    );
    assert!((ours.sum / sum - 1.0).abs() < 1e-8, "{what}");
    assert!((ours.log_determinant - logs).abs() < 1e-8 * logs.abs().max(1.0), "{what}");
}

/// The slope by central differences of the brute-force deviance.
fn slope_agrees(w: &[f64], model: &Coefficients, season: usize) {
    let ours = likelihood(w, &[], model, season, true).expect("a stationary model");
    let n = w.len() as f64;
    let flat = model.flat();
    let deviance = |place: usize, step: f64| {
        let mut moved = flat.clone();
        moved[place] += step;
        let (sum, logs) = plain(w, &model.shaped(&moved), season);
        n * sum.ln() + logs
    };
    for (place, slope) in ours.slope.iter().enumerate() {
        let h = 1e-5;
        // Two differences, so that the error is of the fourth order.
        let one = (deviance(place, h) - deviance(place, -h)) / (2.0 * h);
        let two = (deviance(place, 2.0 * h) - deviance(place, -2.0 * h)) / (4.0 * h);
        let expected = (4.0 * one - two) / 3.0;
        let scale = expected.abs().max(n.sqrt());
        assert!(
            (slope - expected).abs() < 2e-6 * scale,
            "{model:?} season {season} place {place}: {slope} and {expected}"
        );
    }
}

#[test]
fn values_are_those_of_the_covariance_matrix() {
    let mut draws = Draws(7);
    for round in 0..100 {
        for season in [4, 7, 12, 52] {
            let n = 60 + draws.below(60) + if season == 52 { 60 } else { 0 };
            let w = NormalStream::new(round, season as u64).take(n);
            agrees(&w, &random_model(&mut draws, 0.99), season);
        }
    }
}

#[test]
fn slopes_are_those_of_the_covariance_matrix() {
    let mut draws = Draws(8);
    for round in 0..20 {
        for season in [4, 7, 12] {
            let w = NormalStream::new(round, 100 + season as u64).take(70);
            slope_agrees(&w, &random_model(&mut draws, 0.8), season);
        }
    }
}

fn model(ar: &[f64], ma: &[f64], seasonal_ar: &[f64], seasonal_ma: &[f64]) -> Coefficients {
    Coefficients {
        ar: ar.to_vec(),
        ma: ma.to_vec(),
        seasonal_ar: seasonal_ar.to_vec(),
        seasonal_ma: seasonal_ma.to_vec(),
    }
}

#[test]
fn awkward_models_are_no_exception() {
    let w = NormalStream::new(3, 0).take(90);
    for (own, season) in [
        // Factors that cancel.
        (model(&[0.7], &[-0.7], &[0.4], &[-0.4]), 4),
        (model(&[1.1, -0.3], &[-1.1, 0.3], &[], &[]), 12),
        // Moving averages on the border.
        (model(&[], &[-1.0], &[], &[-1.0]), 12),
        (model(&[], &[-1.0], &[], &[]), 12),
        (model(&[0.5], &[], &[], &[-1.0]), 7),
        // More seasonal autoregressive than moving-average terms, and the other way round.
        (model(&[0.3], &[0.4], &[0.5, -0.3], &[]), 4),
        (model(&[], &[0.4, 0.2], &[0.5, -0.3], &[-0.6]), 4),
        (model(&[0.2, 0.1, -0.3], &[], &[0.6], &[0.3, 0.2]), 4),
        // A slowly fading θ over a short season, and θ as long as the season.
        (model(&[0.5], &[-0.97], &[0.3], &[0.6]), 4),
        (model(&[0.5], &[0.3, -0.2], &[0.3], &[0.6]), 2),
        (model(&[0.5, 0.2, 0.1], &[0.3, -0.2, 0.1], &[], &[-0.6]), 3),
        // More terms than a season.
        (model(&[0.2, 0.1, 0.1, -0.2, 0.3], &[0.4], &[0.5], &[-0.3]), 4),
        // A term at every second season only.
        (model(&[], &[], &[], &[0.0, -0.9]), 4),
        (model(&[0.4], &[0.3], &[0.0, 0.6], &[0.0, 0.8]), 4),
        // Nothing at all.
        (model(&[], &[], &[], &[]), 12),
    ] {
        agrees(&w, &own, season);
        if own.ma.iter().chain(&own.seasonal_ma).all(|theta| theta.abs() < 1.0) {
            slope_agrees(&w, &own, season);
        }
    }
}

#[test]
fn long_seasons_cost_no_digits() {
    let mut draws = Draws(9);
    for round in 0..4 {
        let w = NormalStream::new(round, 365).take(800);
        agrees(&w, &random_model(&mut draws, 0.9), 365);
    }
}

#[test]
fn columns_are_taken_out_by_generalised_least_squares() {
    let (n, season) = (80, 4);
    let noise = NormalStream::new(5, 0).take(n);
    let columns = vec![vec![1.0; n], (0..n).map(|t| t as f64).collect::<Vec<f64>>()];
    let w: Vec<f64> = noise.iter().enumerate().map(|(t, e)| 3.0 + 0.2 * t as f64 + e).collect();
    let own = model(&[0.6], &[0.3], &[0.4], &[-0.5]);
    let found = likelihood(&w, &columns, &own, season, true).expect("a model");
    // At the estimate the sum is least: every step away costs.
    let at = |beta: &[f64]| {
        let rest: Vec<f64> =
            (0..n).map(|t| w[t] - beta[0] * columns[0][t] - beta[1] * columns[1][t]).collect();
        plain(&rest, &own, season).0
    };
    assert!((at(&found.beta) / found.sum - 1.0).abs() < 1e-9);
    for (place, step) in [(0, 1e-3), (0, -1e-3), (1, 1e-4), (1, -1e-4)] {
        let mut moved = found.beta.clone();
        moved[place] += step;
        assert!(at(&moved) > found.sum, "{place} {step}");
    }
    // The slope is that of the series without the columns.
    let rest: Vec<f64> = (0..n).map(|t| w[t] - found.beta[0] - found.beta[1] * t as f64).collect();
    let alone = likelihood(&rest, &[], &own, season, true).expect("a model");
    assert!(found.slope.iter().zip(&alone.slope).all(|(a, b)| (a - b).abs() < 1e-6 * b.abs().max(1.0)));
}

#[test]
fn what_is_not_stationary_has_no_likelihood() {
    let w = NormalStream::new(6, 0).take(60);
    assert_eq!(likelihood(&w, &[], &model(&[1.2], &[], &[], &[]), 4, false), None);
    assert_eq!(likelihood(&w, &[], &model(&[], &[], &[1.1], &[]), 4, false), None);
    assert_eq!(likelihood(&w[..2], &[], &model(&[0.5, 0.2, 0.1], &[], &[], &[]), 4, false), None);
}

fn published(file: &str) -> Vec<f64> {
    column(file).expect("a file of published data")
}

fn fitted(y: &[f64], text: &str, regressors: &[Vec<f64>]) -> Fit {
    fit(&Data::complete(y).with_regressors(regressors.to_vec()), Model::parse(text).expect("a model"))
        .expect("a fit")
}

/// Within half a unit of the last digit printed, or 0.002 standard errors.
#[track_caller]
fn printed(ours: f64, theirs: f64, digit: f64, error: f64) {
    assert!((ours - theirs).abs() <= 0.51 * digit + 0.002 * error, "{ours} and {theirs}");
}

#[test]
fn accidental_deaths_as_venables_and_ripley_print_them() {
    let found = fitted(&published("accidental_deaths.csv"), "(0,1,1)(0,1,1)12", &[]);
    let errors = found.errors.clone().expect("errors");
    printed(found.coefficients.ma[0], -0.430, 0.001, errors[0]);
    printed(found.coefficients.seasonal_ma[0], -0.553, 0.001, errors[1]);
    assert!((found.log_likelihood + 425.44).abs() < 0.005, "{}", found.log_likelihood);
    assert!((found.criteria().aic - 856.88).abs() < 0.01);
    assert!((found.sigma2 / 99_350.0 - 1.0).abs() < 0.002, "{}", found.sigma2);
}

#[test]
fn estimates_match_those_published_for_the_hormone_series() {
    let y = published("hormone.csv");
    let one = fitted(&y, "(1,0,0)", &[]);
    let error = one.errors.clone().expect("errors")[0];
    printed(one.coefficients.ar[0], 0.574, 0.001, error);
    printed(one.beta[0], 2.413, 0.001, one.beta_errors[0]);
    printed(one.sigma2, 0.1975, 0.0001, 0.0);
    assert!((one.log_likelihood + 29.38).abs() < 0.005 && (one.criteria().aic - 64.76).abs() < 0.01);
    let three = fitted(&y, "(3,0,0)", &[]);
    let errors = three.errors.clone().expect("errors");
    for ((ours, theirs), error) in three.coefficients.ar.iter().zip([0.645, -0.063, -0.220]).zip(errors) {
        printed(*ours, theirs, 0.001, error);
    }
    printed(three.beta[0], 2.393, 0.001, three.beta_errors[0]);
    printed(three.sigma2, 0.1787, 0.0001, 0.0);
    assert!((three.log_likelihood + 27.09).abs() < 0.005 && (three.criteria().aic - 64.18).abs() < 0.01);
}

#[test]
fn the_lake_as_brockwell_and_davis_print_it() {
    let y = published("lake_huron.csv");
    let mean = y.iter().sum::<f64>() / y.len() as f64;
    let centred: Vec<f64> = y.iter().map(|level| level - mean).collect();
    let two = fitted(&centred, "(2,0,0)+none", &[]);
    let errors = two.errors.clone().expect("errors");
    printed(two.coefficients.ar[0], 1.0441, 0.0001, errors[0]);
    printed(two.coefficients.ar[1], -0.2503, 0.0001, errors[1]);
    printed(two.sigma2, 0.4789, 0.0001, 0.0);
    let mixed = fitted(&centred, "(1,0,1)+none", &[]);
    let errors = mixed.errors.clone().expect("errors");
    printed(mixed.coefficients.ar[0], 0.7446, 0.0001, errors[0]);
    printed(mixed.coefficients.ma[0], 0.3213, 0.0001, errors[1]);
    printed(mixed.sigma2, 0.4750, 0.0001, 0.0);
    // A line in time with autoregressive errors.
    let level: Vec<f64> = y.iter().map(|level| level - 570.0).collect();
    let time: Vec<f64> = (1..=y.len()).map(|t| t as f64).collect();
    let line = fitted(&level, "(2,0,0)", &[time]);
    let errors = line.errors.clone().expect("errors");
    printed(line.beta[0], 10.091, 0.001, line.beta_errors[0]);
    printed(line.beta[1], -0.0216, 0.0001, line.beta_errors[1]);
    printed(line.coefficients.ar[0], 1.005, 0.001, errors[0]);
    printed(line.coefficients.ar[1], -0.291, 0.001, errors[1]);
}

#[test]
fn the_server_as_makridakis_and_others_print_it() {
    let found = fitted(&published("server_users.csv"), "(3,1,0)", &[]);
    let errors = found.errors.clone().expect("errors");
    for ((ours, theirs), error) in found.coefficients.ar.iter().zip([1.151, -0.661, 0.341]).zip(errors) {
        printed(*ours, theirs, 0.001, error);
    }
}

#[test]
fn residuals_are_the_innovations_of_the_estimate() {
    let found = fitted(&published("accidental_deaths.csv"), "(1,1,1)(0,1,1)12", &[]);
    assert_eq!(found.residuals.len(), found.used);
    let sum: f64 = found.residuals.iter().map(|e| e * e).sum();
    assert!((sum / (found.sigma2 * found.used as f64) - 1.0).abs() < 1e-8);
}

#[test]
fn errors_of_the_mean_and_of_a_moving_average_are_those_of_theory() {
    // AR(1) about a mean: error of φ is √((1-φ²)/n), of the mean σ/((1-φ)√n), n large.
    let n = 4_000;
    let noise = NormalStream::new(11, 0).take(n);
    let mut y = vec![0.0; n];
    for t in 1..n {
        y[t] = 0.6 * y[t - 1] + noise[t];
    }
    let found = fitted(&y, "(1,0,0)", &[]);
    let error = found.errors.expect("errors")[0];
    assert!((error / (0.64 / n as f64).sqrt() - 1.0).abs() < 0.05, "{error}");
    assert!(
        (found.beta_errors[0] / (1.0 / (0.4 * (n as f64).sqrt())) - 1.0).abs() < 0.1,
        "{:?}",
        found.beta_errors
    );
}

#[test]
fn what_cannot_be_estimated_says_why() {
    let model = |text| Model::parse(text).expect("a model");
    let noise = NormalStream::new(12, 0).take(40);
    let line: Vec<f64> = (0..40).map(f64::from).collect();
    assert_eq!(
        fit(&Data::complete(&noise[..10]), model("(1,1,1)(0,1,1)12")),
        Err(FitError::TooShort { observations: 10, needed: 20 })
    );
    assert_eq!(fit(&Data::complete(&[2.0; 40]), model("(1,0,0)")), Err(FitError::Constant));
    assert_eq!(fit(&Data::complete(&line), model("(1,1,0)")), Err(FitError::Constant));
    assert_eq!(
        fit(&Data::complete(&noise).with_regressors(vec![line.clone()]), model("(0,1,1)+drift")),
        Err(FitError::Collinear { regressor: 0 })
    );
    assert_eq!(
        fit(&Data::complete(&noise).with_regressors(vec![vec![1.0; 40]]), model("(0,1,1)")),
        Err(FitError::Collinear { regressor: 0 })
    );
    let mut odd = noise.clone();
    odd[3] = f64::NAN;
    assert_eq!(fit(&Data::complete(&odd), model("(1,0,0)")), Err(FitError::NotFinite { place: 3 }));
    // A series that explodes is no reason to fail.
    let explodes: Vec<f64> =
        (0..40).map(|t| 1.3_f64.powi(t) + noise[usize::try_from(t).expect("small")]).collect();
    assert!(
        fit(&Data::complete(&explodes), model("(1,0,1)")).is_ok_and(|found| found.log_likelihood.is_finite())
    );
}

fn airline(n: usize, seed: u64) -> Vec<f64> {
    let e = NormalStream::new(seed, 0).take(n + 200);
    let at = |t: usize, lag: usize| if t >= lag { e[t - lag] } else { 0.0 };
    let mut y = vec![0.0; n + 200];
    for t in 13..n + 200 {
        y[t] =
            y[t - 1] + y[t - 12] - y[t - 13] + at(t, 0) - 0.4 * at(t, 1) - 0.6 * at(t, 12) + 0.24 * at(t, 13);
    }
    y.split_off(200)
}

#[test]
fn the_grid_finds_the_true_orders_or_comes_near() {
    let mut first = 0;
    for seed in 0..6 {
        let y = airline(200, seed);
        let grid = Grid::usual(1, 1, 12);
        let found =
            search(&Data::complete(&y), grid, |criteria| criteria.aicc.unwrap_or(f64::INFINITY), |_| {})
                .expect("a search");
        assert_eq!(found.len(), 144);
        let truth = Model::parse("(0,1,1)(0,1,1)12").expect("a model");
        let own = found.iter().find(|one| one.model == truth).expect("in the grid");
        let best = found[0].criteria.aicc.expect("enough values");
        let behind = own.criteria.aicc.expect("enough values") - best;
        assert!(behind < 6.0, "seed {seed}: {behind} behind {}", found[0].model);
        first += usize::from(behind < 2.0);
    }
    assert!(first >= 4, "{first} of 6 within 2");
}

#[test]
fn larger_models_are_never_less_likely_than_those_within_them() {
    let y = airline(120, 20);
    let found = search(&Data::complete(&y), Grid::usual(1, 1, 12), |criteria| criteria.aic, |_| {})
        .expect("a search");
    for one in &found {
        for other in &found {
            let within = |a: &Model, b: &Model| {
                a.ar <= b.ar
                    && a.ma <= b.ma
                    && a.seasonal_ar <= b.seasonal_ar
                    && a.seasonal_ma <= b.seasonal_ma
            };
            if within(&one.model, &other.model) {
                let gain = other.log_likelihood - one.log_likelihood;
                assert!(
                    gain > -1e-3,
                    "{} {} and {} {}",
                    one.model,
                    one.log_likelihood,
                    other.model,
                    other.log_likelihood
                );
            }
        }
    }
}

#[test]
fn series_shorter_than_what_the_season_looks_back_on_are_no_exception() {
    // Found by random models: the seasonal filter begins beyond the end of the series.
    let w = NormalStream::new(31, 0).take(24);
    let three = model(&[0.5], &[-0.268, 0.0, -0.4], &[0.2, -0.3, 0.1], &[0.3, -0.2, 0.1]);
    agrees(&w, &three, 13);
    slope_agrees(&w, &three, 13);
    slope_agrees(&w[..9], &model(&[], &[-0.2, -0.3, -0.017], &[0.4], &[-0.9]), 33);
    // No more values than the autoregressive order: nothing to go by.
    assert!(likelihood(&w[..2], &[], &model(&[0.5, 0.2], &[], &[], &[]), 12, true).is_none());
}
