//! Gaps and forecasts against the joint distribution written out.

#![allow(clippy::expect_used)]

mod plain;

use kandrel_core::arima::{
    Coefficients, Data, FitError, ForecastError, Grid, Known, Model, Sample, fit, fit_at, forecast,
    likelihood_with_gaps, search_in_two_stages,
};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::predictive::{HorizonForecast, marginals};
use plain::forecast::Process;
use plain::kalman;
use plain::models::Draws;

fn model(text: &str) -> Model {
    Model::parse(text).expect("a model")
}

/// Random coefficients of a model.
fn coefficients(draws: &mut Draws, model: Model, most: f64) -> Coefficients {
    let negative = |weights: Vec<f64>| weights.into_iter().map(|weight| -weight).collect();
    Coefficients {
        ar: draws.weights(model.ar, most),
        ma: negative(draws.weights(model.ma, most)),
        seasonal_ar: draws.weights(model.seasonal_ar, most),
        seasonal_ma: negative(draws.weights(model.seasonal_ma, most)),
    }
}

fn lags(model: Model) -> Vec<usize> {
    let own = vec![1; model.differences];
    [own, vec![model.season; model.seasonal_differences]].concat()
}

/// A series in which about one in `every` values is missing, the last one never.
fn with_gaps(draws: &mut Draws, y: &[f64], every: usize) -> Vec<Option<f64>> {
    let last = y.len() - 1;
    y.iter().enumerate().map(|(t, v)| (t == last || draws.below(every) > 0).then_some(*v)).collect()
}

/// Models of every kind, with seasons short and long.
const MODELS: [&str; 9] = [
    "(1,0,0)+none",
    "(2,0,1)+none",
    "(0,1,1)",
    "(1,1,1)",
    "(0,2,2)",
    "(0,1,1)(0,1,1)4",
    "(1,0,1)(1,0,1)4+none",
    "(2,1,0)(1,1,0)4",
    "(0,0,3)(0,1,1)7",
];

fn series(stream: u64, n: usize) -> Vec<f64> {
    let mut level = 20.0;
    let step = |shock: f64| {
        level += 0.4 * shock;
        level + shock
    };
    NormalStream::new(31, stream).take(n).into_iter().map(step).collect()
}

#[test]
fn gaps_are_integrated_out_as_in_the_joint_distribution() {
    let mut draws = Draws(41);
    for round in 0..6 {
        for text in MODELS {
            let model = model(text);
            let own = coefficients(&mut draws, model, 0.95);
            let cells = with_gaps(&mut draws, &series(round, 44), 5);
            let data = Data::with_gaps(&cells);
            let season = model.season.max(2);
            let (ar, ma) = (own.long_ar(season), own.long_ma(season));
            let plain = Process { ar: &ar, ma: &ma, lags: &lags(model) };
            let (sum, logs) = plain.likelihood(&cells).expect("a distribution");
            let n = (cells.iter().flatten().count() - model.lost()) as f64;
            let expected = -0.5 * (n * ((2.0 * std::f64::consts::PI * sum / n).ln() + 1.0) + logs);
            let found = fit_at(&data, &own, model).expect("a likelihood");
            assert!(
                (found.log_likelihood - expected).abs() < 1e-8 * expected.abs(),
                "{text}: {} {expected}",
                found.log_likelihood
            );
            assert!((found.sigma2 * n / sum - 1.0).abs() < 1e-7, "{text}");
            assert_eq!(found.residuals.len(), found.used, "{text}: {:?}", found.places);
            // One-step errors make up the likelihood.
            let squares: f64 = found.residuals.iter().map(|residual| residual * residual).sum();
            assert!((squares / sum - 1.0).abs() < 1e-6, "{text}: {squares} {sum}");
        }
    }
}

#[test]
fn slopes_with_gaps_are_those_of_differences() {
    let mut draws = Draws(42);
    for text in ["(2,0,1)+none", "(1,0,1)(1,0,1)4+none", "(0,0,2)(0,0,1)4+none"] {
        let model = model(text);
        let own = coefficients(&mut draws, model, 0.9);
        let cells = with_gaps(&mut draws, &series(9, 50), 6);
        let missing: Vec<usize> = (0..50).filter(|t| cells[*t].is_none()).collect();
        let columns: Vec<Vec<f64>> =
            missing.iter().map(|at| (0..50).map(|t| f64::from(u8::from(t == *at))).collect()).collect();
        let w: Vec<f64> = cells.iter().map(|cell| cell.unwrap_or(0.0)).collect();
        let sample = Sample { w: &w, columns: &columns, missing: columns.len() };
        let found = likelihood_with_gaps(sample, &own, 4, true).expect("a likelihood");
        let flat = own.flat();
        for (place, slope) in found.slope.iter().enumerate() {
            let at = |step: f64| {
                let mut moved = flat.clone();
                moved[place] += step;
                likelihood_with_gaps(sample, &own.shaped(&moved), 4, false).expect("a likelihood").deviance
            };
            let expected = (at(1e-5) - at(-1e-5)) / 2e-5;
            assert!((slope - expected).abs() < 1e-5 * expected.abs().max(1.0), "{text}: {slope} {expected}");
        }
    }
}

#[test]
fn one_step_errors_over_gaps_are_those_of_the_filter_of_kalman() {
    let mut draws = Draws(43);
    for text in ["(1,0,0)+none", "(2,0,1)+none", "(1,0,1)(1,0,1)4+none", "(0,0,2)(0,0,2)4+none"] {
        let model = model(text);
        let own = coefficients(&mut draws, model, 0.9);
        let cells = with_gaps(&mut draws, &series(5, 60), 4);
        let season = model.season.max(2);
        let plain = kalman::innovations(&cells, &own.long_ar(season), &own.long_ma(season));
        let found = fit_at(&Data::with_gaps(&cells), &own, model).expect("a likelihood");
        let expected: Vec<(usize, (f64, f64))> =
            plain.iter().enumerate().filter_map(|(t, one)| one.map(|one| (t, one))).collect();
        assert_eq!(found.places, expected.iter().map(|(t, _)| *t).collect::<Vec<_>>(), "{text}");
        for (k, (place, (error, variance))) in expected.into_iter().enumerate() {
            assert!((found.one_step_errors[k] - error).abs() < 1e-8, "{text} at {place}");
            assert!((found.residuals[k] - error / variance.sqrt()).abs() < 1e-8, "{text} at {place}");
        }
    }
}

#[test]
fn forecasts_are_those_of_the_joint_distribution() {
    let mut draws = Draws(44);
    let ahead = 10;
    let levels = ["(1,0,1)", "(0,1,1)+drift", "(1,0,0)(0,1,1)4+drift"];
    for (round, text) in MODELS.into_iter().chain(levels).enumerate() {
        for gaps in [false, true] {
            let model = model(text);
            let own = coefficients(&mut draws, model, 0.95);
            let y = series(round as u64, 48);
            let cells =
                if gaps { with_gaps(&mut draws, &y, 6) } else { y.iter().copied().map(Some).collect() };
            let regressor: Vec<f64> = (0..58).map(|t| f64::from(u8::from(t >= 30))).collect();
            let regressors = if round % 2 == 0 { vec![] } else { vec![regressor] };
            let whole = 48 + ahead;
            let level = match text {
                "(1,0,1)" => vec![vec![1.0; whole]],
                drift if drift.ends_with("drift") => vec![(0..whole).map(|t| t as f64).collect()],
                _ => vec![],
            };
            let season = model.season.max(2);
            let (ar, ma) = (own.long_ar(season), own.long_ma(season));
            let plain = Process { ar: &ar, ma: &ma, lags: &lags(model) };
            let columns = [level, regressors.clone()].concat();
            let (mean, spread) = plain.forecast(&cells, &columns, ahead).expect("a distribution");
            let known = Known { model, coefficients: own, sigma2: 2.25 };
            let past = regressors.iter().map(|column| column[..48].to_vec()).collect();
            let future: Vec<Vec<f64>> = regressors.iter().map(|column| column[48..].to_vec()).collect();
            let found = forecast(&known, &Data::with_gaps(&cells).with_regressors(past), &future, ahead);
            let found = found.expect("a forecast");
            for h in 0..ahead {
                let close = |a: f64, b: f64| (a - b).abs() < 1e-8 * b.abs().max(1.0);
                assert!(close(found.mean[h], mean[h]), "{text}, step {h}: {} {}", found.mean[h], mean[h]);
                for other in 0..=h {
                    let ours: f64 =
                        found.responses[h].iter().zip(&found.responses[other]).map(|(a, b)| a * b).sum();
                    let expected = 2.25 * spread[(h, other)];
                    assert!(close(ours, expected), "{text}, steps {h} and {other}: {ours} {expected}");
                }
            }
        }
    }
}

#[test]
fn intervals_of_known_models_cover_what_they_say() {
    let known = Known {
        model: model("(1,1,0)"),
        coefficients: Coefficients { ar: vec![0.6], ..Coefficients::default() },
        sigma2: 1.0,
    };
    let (n, draws) = (200, 600);
    let mut inside = [0; 2];
    for stream in 0..draws {
        let (mut level, mut change) = (0.0, 0.0);
        let y: Vec<f64> = NormalStream::new(77, stream)
            .take(n + 8)
            .into_iter()
            .map(|shock| {
                change = 0.6 * change + shock;
                level += change;
                level
            })
            .collect();
        let joint = forecast(&known, &Data::complete(&y[..n]), &[], 8).expect("a forecast");
        let last = HorizonForecast::of(&marginals(&joint, &[])[7], &[80.0, 95.0]);
        for (count, interval) in inside.iter_mut().zip(&last.intervals) {
            *count += usize::from(interval.contains(y[n + 7]));
        }
    }
    // Three standard errors around 80 and 95 of 100.
    assert!((451..=509).contains(&inside[0]) && (554..=586).contains(&inside[1]), "{inside:?}");
}

#[test]
fn an_estimate_with_gaps_is_near_that_without() {
    let (n, mut last) = (400, 0.0);
    let y: Vec<f64> = NormalStream::new(6, 0)
        .take(n)
        .into_iter()
        .map(|shock| {
            last = 0.7 * last + shock;
            5.0 + last
        })
        .collect();
    let whole = fit(&Data::complete(&y), model("(1,0,0)")).expect("a fit");
    let cells: Vec<Option<f64>> = y.iter().enumerate().map(|(t, v)| (t % 9 != 4).then_some(*v)).collect();
    let part = fit(&Data::with_gaps(&cells), model("(1,0,0)")).expect("a fit");
    assert!((whole.coefficients.ar[0] - part.coefficients.ar[0]).abs() < 0.05);
    assert_eq!((part.used, part.parameters), (356, 3));
    // A missing value is predicted from both sides.
    let (place, estimate, error) = part.missing[3];
    assert!((estimate - y[place]).abs() < 4.0 * error && error < part.sigma2.sqrt(), "{:?}", part.missing[3]);
    let bridge = 5.0 + 0.7 / (1.0 + 0.49) * (y[place - 1] + y[place + 1] - 10.0);
    assert!((estimate - bridge).abs() < 0.15);
}

#[test]
fn a_search_over_many_gaps_finds_the_model_that_all_estimates_over_them_find() {
    let (n, mut level, mut last) = (220, 0.0, 0.0);
    let y: Vec<f64> = NormalStream::new(61, 0)
        .take(n)
        .into_iter()
        .map(|shock| {
            level += shock - 0.6 * last;
            last = shock;
            level
        })
        .collect();
    let mut draws = Draws(9);
    let data = Data::with_gaps(&with_gaps(&mut draws, &y, 12));
    let grid = Grid { limit: [2, 2, 0, 0], ..Grid::usual(1, 0, 1) };
    let found = search_in_two_stages(&data, grid, |own| own.aic, |_| {}).expect("a search");
    // Models with warnings have likelihoods of several tops.
    for own in found.iter().filter(|own| own.warnings.is_empty()) {
        let exact = fit(&data, own.model).expect("a fit");
        assert!((own.log_likelihood - exact.log_likelihood).abs() < 0.02, "{}", own.model);
    }
    let plain = found.iter().position(|own| own.model == model("(0,1,1)")).expect("among the best");
    assert!(found[plain].criteria.aic - found[0].criteria.aic < 4.0);
}

#[test]
fn more_gaps_than_can_be_borne_are_refused() {
    let cells: Vec<Option<f64>> = (0..2_000).map(|t| (t % 4 != 1).then(|| f64::from(t % 17))).collect();
    assert_eq!(fit(&Data::with_gaps(&cells), model("(1,0,0)")), Err(FitError::TooManyGaps));
    // A place of the season that is never seen cannot be told after a seasonal difference.
    let cells: Vec<Option<f64>> = (0..48).map(|t| (t % 4 != 1).then(|| f64::from(t % 17))).collect();
    assert_eq!(fit(&Data::with_gaps(&cells), model("(0,0,0)(0,1,1)4")), Err(FitError::TooManyGaps));
}

#[test]
fn a_regressor_without_its_future_is_refused() {
    let known = Known {
        model: model("(1,0,0)+none"),
        coefficients: Coefficients { ar: vec![0.5], ..Coefficients::default() },
        sigma2: 1.0,
    };
    let data = Data::complete(&[1.0, 2.0, 0.5, 1.5, 1.0, 2.0])
        .with_regressors(vec![vec![0.0, 1.0, 0.0, 1.0, 1.0, 0.0]]);
    let error = forecast(&known, &data, &[vec![1.0]], 3).expect_err("too few");
    assert_eq!(error, ForecastError::Future { found: 1, needed: 3 });
    assert!(forecast(&known, &data, &[], 3).is_err());
    for awkward in [f64::NAN, f64::INFINITY, 1e300] {
        let error = forecast(&known, &data, &[vec![1.0, awkward, 0.0]], 3).expect_err("no number");
        assert_eq!(error, ForecastError::NotFinite { place: 1 });
    }
    // Beyond the steps asked for it does not matter.
    assert!(forecast(&known, &data, &[vec![1.0, 0.0, f64::NAN]], 2).is_ok());
}
