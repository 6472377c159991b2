//! The joint rule against dense covariance matrices, and on series of known differences.

use nalgebra::{DMatrix, DVector};

use super::breaks::{BreakType, breaks};
use super::dynamics::{Dynamics, dynamics};
use super::evidence::{Sample, log_sum, point, process};
use super::pattern::pattern;
use super::prior::{ORDERS, Orders, SECOND_START, SLOPE, START, no_slope};
use super::search::{JointPosterior, Seasonality, searched};
use super::seasonal::{SeasonalFactor, factors};
use crate::num::rng::NormalStream;

const NONE: Orders = Orders { d: 0, seasonal: 0 };

fn orders(d: usize, seasonal: usize) -> Orders {
    Orders { d, seasonal }
}

/// Weights ψ of the innovations in a stationary process, the autoregressive roots inside the unit circle.
fn psi(ar: &[f64], ma: &[f64], count: usize) -> Vec<f64> {
    let mut psi = vec![0.0; count];
    for t in 0..count {
        let own = if t == 0 { 1.0 } else { ma.get(t - 1).copied().unwrap_or(0.0) };
        psi[t] = own + ar.iter().enumerate().take(t).map(|(i, phi)| phi * psi[t - 1 - i]).sum::<f64>();
    }
    psi
}

/// The product of `1 + Σ a_i B^i` with another polynomial of that form.
fn times(a: &[f64], b: &[f64]) -> Vec<f64> {
    let mut out = vec![0.0; a.len() + b.len() + 1];
    for (i, x) in std::iter::once(&1.0).chain(a).enumerate() {
        for (j, y) in std::iter::once(&1.0).chain(b).enumerate() {
            out[i + j] += x * y;
        }
    }
    out.remove(0);
    out.truncate(a.len() + b.len());
    out
}

/// `1 + … + B^(s-1)`, `1 - B^s` or `1 + Θ B^s` without its first one.
fn seasonal_polynomial(season: usize, has_unit_factor: bool, weights: &[f64]) -> Vec<f64> {
    if has_unit_factor {
        return vec![1.0; season - 1];
    }
    (1..=season * weights.len())
        .map(|lag| if lag % season == 0 { weights[lag / season - 1] } else { 0.0 })
        .collect()
}

/// The covariance of n values of the differenced series, by a long moving average: `S(B)` is written out here, where the
/// program has a root near one.
fn covariance(
    orders: Orders,
    dynamics: &Dynamics,
    factor: &SeasonalFactor,
    season: usize,
    n: usize,
) -> DMatrix<f64> {
    let long = 3_000;
    let minus = |weights: &[f64]| weights.iter().map(|value| -value).collect::<Vec<f64>>();
    let spaced = |weights: &[f64]| seasonal_polynomial(season, false, weights);
    let ar = times(&minus(&dynamics.ar), &spaced(&minus(&factor.ar)));
    let has_unit_factor = orders.seasonal == 0 && orders.d > 0;
    let seasonal = seasonal_polynomial(season, has_unit_factor, &factor.ma);
    let weights = psi(&minus(&ar), &times(&dynamics.ma, &seasonal), long);
    let gamma: Vec<f64> =
        (0..n).map(|lag| weights.iter().zip(&weights[lag..]).map(|(a, b)| a * b).sum()).collect();
    DMatrix::from_fn(n, n, |i, j| gamma[i.abs_diff(j)])
}

/// `ln N(v; 0, Σ)` with the scale integrated out, constants left out, of a covariance.
fn dense(v: &[f64], covariance: DMatrix<f64>) -> f64 {
    let factor = covariance.cholesky().expect("positive definite");
    let x = DVector::from_column_slice(v);
    let square = x.dot(&factor.solve(&x));
    let logs: f64 = factor.l().diagonal().iter().map(|value| 2.0 * value.ln()).sum();
    -0.5 * logs - 0.5 * v.len() as f64 * square.ln()
}

fn series(n: usize, stream: u64) -> Vec<f64> {
    let e = NormalStream::new(31, stream).take(n);
    let mut y: Vec<f64> = (0..n).map(|t| 0.4 * t as f64 + [3.0, -1.0, 0.5, -2.0][t % 4] + e[t]).collect();
    for t in 1..n {
        y[t] += 0.6 * y[t - 1];
    }
    y
}

/// The covariance of v itself: differences summed up again, first values of their own variance.
fn of_levels(inner: &DMatrix<f64>, starts: &[f64]) -> DMatrix<f64> {
    let mut covariance = inner.clone();
    for start in starts.iter().rev() {
        let n = covariance.nrows() + 1;
        let mut whole = DMatrix::zeros(n, n);
        whole[(0, 0)] = 1.0 + start * start;
        whole.view_mut((1, 1), (n - 1, n - 1)).copy_from(&covariance);
        let sums = DMatrix::from_fn(n, n, |i, j| f64::from(u8::from(j <= i)));
        covariance = &sums * whole * sums.transpose();
    }
    covariance
}

#[test]
fn every_model_has_the_likelihood_of_its_dense_covariance() {
    let season = 4;
    let y = series(44, 1);
    let sample = Sample::new(&y, season).expect("a sample");
    let v = &sample.differenced[0];
    let n = v.len();
    for (orders, _) in ORDERS {
        let all = dynamics(orders.d);
        let factors = factors(orders);
        for which in [0, all.len() / 3, all.len() - 1] {
            for factor in factors.iter().filter(|one| one.is_reference) {
                let process = process(orders, &all[which], factor);
                let found = point(&sample, orders, &process).expect("stationary");
                let inner = covariance(orders, &all[which], factor, season, n - orders.further());
                let expected = match orders.further() {
                    0 => {
                        let ones = DMatrix::from_element(n, n, 1.0);
                        let zero = no_slope(orders);
                        let sloped = SLOPE.map(|(sd, weight)| {
                            ((1.0 - zero) * weight).ln() + dense(v, &inner + sd * sd * &ones)
                        });
                        log_sum(sloped.into_iter().chain([zero.ln() + dense(v, inner.clone())]))
                    }
                    1 => log_sum(START.map(|(sd, weight)| weight.ln() + dense(v, of_levels(&inner, &[sd])))),
                    _ => log_sum(START.iter().flat_map(|(sd, weight)| {
                        SECOND_START.map(|(other, share)| {
                            (weight * share).ln() + dense(v, of_levels(&inner, &[*sd, other]))
                        })
                    })),
                };
                let difference = found.both() - expected;
                assert!(difference.abs() < 2e-3, "{orders:?} {which}: {} {expected}", found.both());
            }
        }
    }
}

#[test]
fn a_break_at_every_date_has_the_evidence_of_its_column_written_out() {
    let season = 4;
    let y = series(40, 2);
    let sample = Sample::new(&y, season).expect("a sample");
    let v = &sample.differenced[0];
    let n = v.len();
    for own in [NONE, orders(1, 0), orders(0, 1)] {
        let all = dynamics(own.d);
        let factors = factors(own);
        let found = breaks(&sample, own, &all, &factors);
        let core: Vec<(&Dynamics, &SeasonalFactor)> = all
            .iter()
            .filter(|one| one.is_core)
            .flat_map(|one| factors.iter().filter(|factor| factor.is_core).map(move |factor| (one, factor)))
            .collect();
        let total: f64 = core.iter().map(|(one, factor)| one.weight * factor.weight).sum();
        let zero = no_slope(own);
        for (kind, size) in [(BreakType::LevelShift, 6.0), (BreakType::Outlier, 8.0)] {
            let mut terms = Vec::new();
            for (one, factor) in &core {
                let inner = covariance(own, one, factor, season, n);
                for date in 1..n - 3 {
                    let column = DVector::from_fn(n, |t, _| match kind {
                        BreakType::LevelShift => f64::from(u8::from((date..date + season).contains(&t))),
                        _ => f64::from(u8::from(t == date)) - f64::from(u8::from(t == date + season)),
                    });
                    let broken = &inner + size * size * &column * column.transpose();
                    for (sd, weight) in [(0.0, zero), (2.0, (1.0 - zero) * 0.6), (32.0, (1.0 - zero) * 0.4)] {
                        let with_mean = &broken + DMatrix::from_element(n, n, sd * sd);
                        let share = weight * one.weight * factor.weight / total / (n - 4) as f64;
                        terms.push(share.ln() + dense(v, with_mean));
                    }
                }
            }
            let expected = log_sum(terms) + kind.prior().ln();
            let ours = found.iter().find(|one| one.kind == kind).expect("tried").log_evidence;
            assert!((ours - expected).abs() < 0.05, "{own:?} {kind:?}: {ours} {expected}");
        }
    }
}

#[test]
fn a_large_break_is_dated() {
    let e = NormalStream::new(5, 1).take(120);
    let level: Vec<f64> = e.iter().enumerate().map(|(t, e)| if t >= 70 { 9.0 + e } else { *e }).collect();
    let mut outlying = e.clone();
    outlying[50] += 15.0;
    let bent: Vec<f64> = e.iter().enumerate().map(|(t, e)| e + 0.6 * (t as f64 - 60.0).max(0.0)).collect();
    for (y, kind, at, near) in [
        (&level, BreakType::LevelShift, 70, 0),
        (&outlying, BreakType::Outlier, 50, 0),
        (&bent, BreakType::SlopeChange, 60, 5),
    ] {
        let posterior = JointPosterior::of(y, 4).expect("a posterior");
        assert_eq!(posterior.differences(), [0, 0], "{kind:?}");
        // The break does not pass for a pattern.
        assert_eq!(posterior.seasonality[0].0, Seasonality::None, "{kind:?}");
        let most = posterior.breaks.iter().max_by(|a, b| a.1.total_cmp(&b.1)).expect("breaks");
        assert!(most.0 == kind && most.1 > 0.9 && most.2.abs_diff(at) <= near, "{kind:?}: {most:?}");
    }
}

#[test]
fn the_evidence_turns_from_no_pattern_to_one_as_it_grows() {
    let season = 4;
    let e = NormalStream::new(6, 1).take(80);
    for size in [0.0, 0.1, 1.0, 3.0] {
        let y: Vec<f64> =
            e.iter().enumerate().map(|(t, e)| e + size * [1.0, -1.0, 0.4, -0.4][t % 4]).collect();
        let found = pattern(&y, season, 0, None).none;
        let expected = if size < 0.5 { f64::INFINITY } else { f64::NEG_INFINITY };
        assert!(found.signum() == expected.signum(), "{size}: {found}");
    }
    let strong = pattern(&series(80, 3), season, 0, None).none;
    assert!(strong < -20.0, "{strong}");
}

#[test]
fn a_pattern_that_changes_once_is_found_and_dated() {
    let e = NormalStream::new(7, 1).take(192);
    let patterns = [[3.0, -1.0, 0.0, -2.0, 1.0, -1.0], [-2.0, 1.0, 2.0, 0.0, -2.0, 1.0]];
    let y: Vec<f64> = (0..192).map(|t| e[t] + patterns[usize::from(t >= 96)][t % 6]).collect();
    let posterior = JointPosterior::of(&y, 6).expect("a posterior");
    assert_eq!((posterior.differences(), posterior.seasonality[0].0), ([0, 0], Seasonality::ChangingPattern));
    let at = posterior.pattern_changes_at().expect("a change");
    assert!(at.abs_diff(96) <= 3, "{at}");
    let steady: Vec<f64> = (0..192).map(|t| e[t] + patterns[0][t % 6]).collect();
    let posterior = JointPosterior::of(&steady, 6).expect("a posterior");
    assert_eq!(posterior.seasonality[0].0, Seasonality::Deterministic);
}

#[test]
fn weights_are_one_together_and_every_process_is_stationary() {
    assert!((ORDERS.iter().map(|(_, prior)| prior).sum::<f64>() - 1.0).abs() < 1e-12);
    for (orders, _) in ORDERS {
        let all = dynamics(orders.d);
        assert!((all.iter().map(|one| one.weight).sum::<f64>() - 1.0).abs() < 1e-12);
        let factors = factors(orders);
        assert!((factors.iter().map(|one| one.weight).sum::<f64>() - 1.0).abs() < 1e-12);
        assert!(
            all.iter()
                .enumerate()
                .all(|(place, one)| one.parent <= place && all[one.parent].parent == one.parent)
        );
        let sample = Sample::new(&series(60, 4), 5).expect("a sample");
        for one in &all {
            for factor in &factors {
                assert!(
                    point(&sample, orders, &process(orders, one, factor)).is_some(),
                    "{one:?} {factor:?}"
                );
            }
        }
    }
}

#[test]
fn what_the_search_leaves_out_does_not_matter() {
    for stream in 0..3 {
        let sample = Sample::new(&series(72, 10 + stream), 4).expect("a sample");
        let mut pairs = Vec::new();
        for model in searched(&sample) {
            let (own, ours) = model.averaged();
            let (all, factors) = (dynamics(own.d), factors(own));
            let allowed = all
                .iter()
                .flat_map(|one| factors.iter().map(move |factor| (one, factor)))
                .filter(|(one, factor)| one.with_seasonal_ar || !factor.is_stationary);
            let total: f64 = allowed.clone().map(|(one, factor)| one.weight * factor.weight).sum();
            let terms = allowed.filter_map(|(one, factor)| {
                let point = point(&sample, own, &process(own, one, factor))?;
                Some((one.weight * factor.weight / total).ln() + point.both())
            });
            pairs.push((own, ours, log_sum(terms)));
        }
        let best = pairs.iter().map(|(.., whole)| *whole).fold(f64::NEG_INFINITY, f64::max);
        for (own, ours, whole) in pairs.into_iter().filter(|(.., whole)| *whole > best - 3.0) {
            assert!(whole - ours < 0.3 && ours < whole + 1e-9, "{own:?}: {ours} of {whole}");
        }
    }
}

#[test]
fn differences_of_known_processes_are_found_for_other_seasons_too() {
    for season in [7, 24, 52] {
        let n = if season == 7 { 140 } else { 8 * season };
        let mut right = [0; 3];
        for stream in 0..5 {
            let e = NormalStream::new(8, 100 * season as u64 + stream).take(n);
            let wave = NormalStream::new(9, 100 * season as u64 + stream).take(season);
            let fixed: Vec<f64> = (0..n).map(|t| e[t] + 3.0 * wave[t % season]).collect();
            let mut level = 0.0;
            let walk = (0..n).map(|t| {
                level += e[t];
                level + 3.0 * wave[t % season]
            });
            // Its pattern has grown over ten cycles before.
            let mut stochastic = NormalStream::new(10, 100 * season as u64 + stream).take(n + 10 * season);
            for t in season..stochastic.len() {
                stochastic[t] += stochastic[t - season];
            }
            let stochastic = stochastic.split_off(10 * season);
            let cases = [(fixed, [0, 0]), (walk.collect(), [1, 0]), (stochastic, [0, 1])];
            for (count, (y, truth)) in right.iter_mut().zip(&cases) {
                let found = JointPosterior::of(y, season).expect("a posterior").differences();
                *count += usize::from(found == *truth);
            }
        }
        assert!(right.iter().all(|count| *count >= 4), "{season}: {right:?}");
    }
}

#[test]
fn an_outlier_in_the_first_season_is_no_change_of_the_pattern() {
    let mut y: Vec<f64> = NormalStream::new(13, 0).take(700);
    y.iter_mut()
        .zip(0..)
        .for_each(|(y, t): (&mut f64, usize)| *y += [3.0, 1.0, 0.0, 1.0, 2.0, -3.0, -4.0][t % 7]);
    y[3] += 12.0;
    let posterior = JointPosterior::of(&y, 7).expect("a posterior");
    assert_eq!(posterior.seasonality[0].0, Seasonality::Deterministic);
    let at = posterior.pattern_changes_at().expect("a date");
    assert!((105..595).contains(&at), "{at}");
}

#[test]
fn a_smooth_wave_over_a_long_season_is_a_pattern_and_noise_is_none() {
    let mut found = [[0; 2]; 2];
    for (which, season, n) in [(0, 52, 520), (1, 365, 1_460)] {
        for stream in 0..12 {
            let mut x = 0.0;
            let noise: Vec<f64> = NormalStream::new(12, 100 * season as u64 + stream)
                .take(n)
                .iter()
                .map(|e| {
                    x = 0.6 * x + e;
                    x
                })
                .collect();
            let angle = |t: usize| 2.0 * std::f64::consts::PI * t as f64 / season as f64;
            let wave: Vec<f64> = noise.iter().enumerate().map(|(t, x)| x + 2.0 * angle(t).sin()).collect();
            let of = |y: &[f64]| JointPosterior::of(y, season).expect("a posterior").seasonality[0].0;
            found[which][0] += usize::from(of(&noise) == Seasonality::None);
            found[which][1] += usize::from(of(&wave) == Seasonality::Deterministic);
        }
    }
    assert!(found.iter().flatten().all(|right| *right >= 11), "{found:?}");
    // Of short seasons every contrast is as probable as every other.
    assert_eq!(pattern(&series(80, 3), 12, 0, None).smooth, None);
}

#[test]
fn the_posterior_does_not_depend_on_units_or_origin() {
    let y = series(80, 20);
    let other: Vec<f64> = y.iter().map(|value| 1e6 + 250.0 * value).collect();
    let [one, two] = [&y, &other].map(|y| JointPosterior::of(y, 4).expect("a posterior"));
    for (a, b) in one.orders.iter().zip(&two.orders) {
        assert_eq!(a.differences, b.differences);
        assert!((a.probability - b.probability).abs() < 1e-6);
    }
    assert!((one.orders.iter().map(|one| one.probability).sum::<f64>() - 1.0).abs() < 1e-12);
}

#[test]
fn a_pattern_alone_has_no_posterior() {
    let y: Vec<f64> = (0..48).map(|t| [3.0, -1.0, 0.5, -2.0][t % 4]).collect();
    assert_eq!(JointPosterior::of(&y, 4), None);
    let on_a_line: Vec<f64> = y.iter().enumerate().map(|(t, value)| value + 0.5 * t as f64).collect();
    assert_eq!(JointPosterior::of(&on_a_line, 4), None);
    assert_eq!(JointPosterior::of(&[1.0, 2.0, 4.0, 3.0, 5.0], 4), None);
}
