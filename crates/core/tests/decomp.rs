//! Decompositions against versions written out, and series whose parts are known.

#![allow(clippy::expect_used)]

mod plain;

use kandrel_core::decomp::{
    DecompOptions, Decomposition, DecompositionKind, SeasonWindow, by_loess, by_moving_averages,
    default_trend_window,
};
use kandrel_core::num::rng::NormalStream;
use plain::decomposition::{Plain, decompose};

fn seasonal(n: usize, season: usize, seed: u64) -> Vec<Option<f64>> {
    let noise = NormalStream::new(seed, 0).take(n);
    let value = |(t, e): (usize, &f64)| {
        let angle = std::f64::consts::TAU * t as f64 / season as f64;
        Some(50.0 + 0.05 * t as f64 + 8.0 * angle.sin() + 3.0 * (2.0 * angle).cos() + e)
    };
    noise.iter().enumerate().map(value).collect()
}

fn plain(options: &DecompOptions) -> Plain {
    let season = options.seasons[0];
    let window = options.seasonal_window.expect("given");
    Plain {
        season,
        seasonal_window: match window {
            SeasonWindow::Periodic => None,
            SeasonWindow::Evolving(window) => Some(window),
        },
        seasonal_degree: options.seasonal_degree,
        trend_window: options.trend_window.unwrap_or_else(|| default_trend_window(season, window)),
        trend_degree: options.trend_degree,
        robust: options.robust,
    }
}

fn apart(cells: &[Option<f64>], options: &DecompOptions) -> f64 {
    let ours = by_loess(cells, options).expect("a season");
    let (trend, season) = decompose(cells, plain(options));
    let trends = ours.trend.iter().zip(&trend).map(|(a, b)| (a.expect("known") - b).abs());
    let seasons = ours.seasons[0].iter().zip(&season).map(|(a, b)| (a - b).abs());
    trends
        .chain(seasons)
        .fold(0.0, |most, gap| if gap.is_nan() { f64::INFINITY } else { f64::max(most, gap) })
}

#[test]
fn local_polynomials_agree_with_every_fit_solved_by_itself() {
    let mut cells = seasonal(97, 12, 1);
    cells[40] = cells[40].map(|value| value + 30.0);
    for window in [SeasonWindow::Periodic, SeasonWindow::Evolving(7), SeasonWindow::Evolving(15)] {
        for (seasonal_degree, trend_degree) in [(0, 1), (1, 1), (1, 2), (2, 0)] {
            for (trend_window, robust) in [(None, false), (None, true), (Some(13), true), (Some(201), false)]
            {
                let options = DecompOptions {
                    seasonal_window: Some(window),
                    seasonal_degree,
                    trend_degree,
                    trend_window,
                    robust,
                    ..DecompOptions::of(12)
                };
                let gap = apart(&cells, &options);
                assert!(gap < 1e-9, "{options:?}: {gap}");
            }
        }
    }
}

#[test]
fn gaps_are_taken_as_the_written_out_version_takes_them() {
    let mut cells = seasonal(84, 7, 2);
    for t in [3, 4, 5, 6, 30, 37, 44, 83] {
        cells[t] = None;
    }
    for robust in [false, true] {
        let options = DecompOptions {
            seasonal_window: Some(SeasonWindow::Evolving(9)),
            robust,
            ..DecompOptions::of(7)
        };
        assert!(apart(&cells, &options) < 1e-9);
    }
}

fn adds_up(cells: &[Option<f64>], found: &Decomposition) {
    let season = found.season();
    for (t, cell) in cells.iter().enumerate() {
        let (Some(value), Some(trend), Some(rest)) = (cell, found.trend[t], found.remainder[t]) else {
            assert!(found.remainder[t].is_none());
            continue;
        };
        let whole = found.kind.with(found.kind.with(trend, season[t]), rest);
        assert!((whole / value - 1.0).abs() < 1e-12, "{t}: {whole} and {value}");
    }
}

#[test]
fn parts_make_the_series_again() {
    let mut cells = seasonal(144, 12, 3);
    cells[17] = None;
    for kind in [DecompositionKind::Additive, DecompositionKind::Multiplicative] {
        let options = DecompOptions { kind, ..DecompOptions::of(12) };
        adds_up(&cells, &by_loess(&cells, &options).expect("a season"));
        adds_up(&cells, &by_moving_averages(&cells, &options).expect("a season"));
        let several = DecompOptions { seasons: vec![12, 7], kind, ..DecompOptions::of(12) };
        adds_up(&cells, &by_loess(&cells, &several).expect("two seasons"));
    }
}

#[test]
fn a_sine_on_a_line_is_recovered() {
    let truth = |t: usize| (10.0 + 0.3 * t as f64, 5.0 * (std::f64::consts::TAU * t as f64 / 12.0).sin());
    let cells: Vec<Option<f64>> = (0..180).map(|t| Some(truth(t).0 + truth(t).1)).collect();
    for robust in [false, true] {
        let options = DecompOptions { robust, ..DecompOptions::of(12) };
        for found in [by_loess(&cells, &options), by_moving_averages(&cells, &options)] {
            let found = found.expect("a season");
            for t in 24..156 {
                assert!(
                    (found.trend[t].expect("inside") - truth(t).0).abs() < 1e-9,
                    "{t} {:?}",
                    found.trend[t]
                );
                assert!((found.season()[t] - truth(t).1).abs() < 1e-9);
            }
        }
    }
}

#[test]
fn a_product_has_factors_around_one() {
    let cells: Vec<Option<f64>> =
        seasonal(144, 12, 4).iter().map(|cell| cell.map(|v| (v / 20.0).exp())).collect();
    let options = DecompOptions { kind: DecompositionKind::Multiplicative, ..DecompOptions::of(12) };
    for found in [by_loess(&cells, &options), by_moving_averages(&cells, &options)] {
        let found = found.expect("positive values");
        let logs: Vec<f64> = found.remainder.iter().flatten().map(|rest| rest.ln()).collect();
        assert!((logs.iter().sum::<f64>() / logs.len() as f64).abs() < 0.01);
        assert!(found.strength.season > 0.9);
    }
    // By logarithms a product is the sum of the logarithms, to the last part.
    let logs: Vec<Option<f64>> = cells.iter().map(|cell| cell.map(f64::ln)).collect();
    let product = by_loess(&cells, &options).expect("positive values");
    let sum = by_loess(&logs, &DecompOptions::of(12)).expect("a season");
    for t in 0..144 {
        assert!((product.seasons[0][t].ln() - sum.seasons[0][t]).abs() < 1e-12);
    }
    assert_eq!(product.strength, sum.strength);
}

#[test]
fn two_seasons_are_distinguished() {
    let noise = NormalStream::new(6, 0).take(1095);
    let part = |t: usize, season: f64| 6.0 * (std::f64::consts::TAU * t as f64 / season).sin();
    let cells: Vec<Option<f64>> =
        noise.iter().enumerate().map(|(t, e)| Some(100.0 + part(t, 7.0) + part(t, 365.0) + e)).collect();
    let options = DecompOptions { seasons: vec![365, 7], ..DecompOptions::of(7) };
    let found = by_loess(&cells, &options).expect("three years");
    assert_eq!(found.windows.iter().map(|w| w.season).collect::<Vec<_>>(), [7, 365]);
    let error = |place: usize, season: f64| {
        let squares = (0..1095).map(|t| (found.seasons[place][t] - part(t, season)).powi(2));
        (squares.sum::<f64>() / 1095.0).sqrt()
    };
    assert!(error(0, 7.0) < 0.3, "{}", error(0, 7.0));
    assert!(error(1, 365.0) < 0.8, "{}", error(1, 365.0));
}

#[test]
fn an_odd_value_hardly_moves_a_robust_season() {
    let clean = seasonal(120, 12, 7);
    let mut spoilt = clean.clone();
    spoilt[60] = spoilt[60].map(|value| value + 40.0);
    let season = |cells: &[Option<f64>], robust| {
        let options =
            DecompOptions { robust, seasonal_window: Some(SeasonWindow::Periodic), ..DecompOptions::of(12) };
        by_loess(cells, &options).expect("a season").season()
    };
    let moved = |robust| (season(&clean, robust)[60] - season(&spoilt, robust)[60]).abs();
    assert!(moved(false) > 3.0 && moved(true) < 0.3, "{} {}", moved(false), moved(true));
}
