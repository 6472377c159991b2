//! What each model pays, fitted to series of random parameters.

use std::fmt::Write as _;

use kandrel_core::num::rng::NormalStream;
use kandrel_core::verdict::candidates::{CandidateModel, Evidence, evidence, fractional_noise};
use rayon::prelude::*;

use crate::verdicts::{cumulated, mixture, plus};

const SIZES: [usize; 5] = [50, 80, 130, 220, 400];

/// How often each model is drawn: breaks are rarer than the rest.
const SHARES: [(CandidateModel, f64); 12] = [
    (CandidateModel::Mean, 2.0),
    (CandidateModel::Trend, 2.0),
    (CandidateModel::RandomWalk, 2.0),
    (CandidateModel::RandomWalkWithDrift, 2.0),
    (CandidateModel::TwiceIntegrated, 1.5),
    (CandidateModel::MeanWithLevelBreak, 0.7),
    (CandidateModel::TrendWithLevelBreak, 0.5),
    (CandidateModel::TrendWithBothBreaks, 0.4),
    (CandidateModel::TrendWithSlopeBreak, 0.4),
    (CandidateModel::RandomWalkWithLevelBreak, 0.3),
    (CandidateModel::DriftWithLevelBreak, 0.3),
    (CandidateModel::DriftWithSlopeBreak, 0.4),
];

/// A number between two, from the normal stream.
fn between(stream: &mut NormalStream, low: f64, high: f64) -> f64 {
    let z = stream.take(1)[0];
    low + (high - low) * kandrel_core::num::normal::cdf(z)
}

fn sign(stream: &mut NormalStream) -> f64 {
    if between(stream, 0.0, 1.0) < 0.5 { -1.0 } else { 1.0 }
}

/// The weights of `Π (1 - r_i B)` times those given.
fn times(ar: &[f64], root: f64) -> Vec<f64> {
    let mut out = vec![0.0; ar.len() + 1];
    out[0] = root;
    for (i, phi) in ar.iter().enumerate() {
        out[i] += phi;
        out[i + 1] -= root * phi;
    }
    out
}

/// Random short-run dynamics: real roots, a cycle, or a cycle with a real root.
fn short_run(stream: &mut NormalStream, largest: f64) -> (Vec<f64>, Vec<f64>) {
    let kind = between(stream, 0.0, 1.0);
    let real = between(stream, -0.6, largest.clamp(0.0, 0.85));
    let (modulus, angle) = (between(stream, 0.4, 0.9), between(stream, 0.3, 2.8));
    let cycle = [2.0 * modulus * angle.cos(), -modulus * modulus];
    let moving = between(stream, -0.85, 0.8);
    match kind {
        k if k < 0.15 => (vec![], vec![]),
        k if k < 0.35 => (vec![real], vec![]),
        k if k < 0.50 => (vec![], vec![moving]),
        k if k < 0.70 => (vec![real], vec![moving]),
        k if k < 0.85 => (cycle.to_vec(), vec![]),
        _ => (times(&cycle, between(stream, -0.5, 0.5)), vec![]),
    }
}

fn sd(x: &[f64]) -> f64 {
    let mean = x.iter().sum::<f64>() / x.len() as f64;
    (x.iter().map(|v| (v - mean).powi(2)).sum::<f64>() / x.len() as f64).sqrt()
}

fn draw(model: CandidateModel, stream: &mut NormalStream, n: usize) -> Vec<f64> {
    let size = n as f64;
    let at = between(stream, 0.2, 0.8) * size;
    let rho = match model {
        CandidateModel::Mean | CandidateModel::Trend => between(stream, 0.0, 0.95),
        _ => between(stream, 0.0, 0.8),
    };
    let is_walk = matches!(
        model,
        CandidateModel::RandomWalk
            | CandidateModel::RandomWalkWithDrift
            | CandidateModel::RandomWalkWithLevelBreak
            | CandidateModel::DriftWithLevelBreak
            | CandidateModel::DriftWithSlopeBreak
            | CandidateModel::TwiceIntegrated
    );
    let (ar, ma) = short_run(stream, if is_walk { 0.85 } else { rho });
    let x = if is_walk { mixture(&ar, &ma, stream, n) } else { mixture(&times(&ar, rho), &ma, stream, n) };
    let unit = sd(&x);
    let slope = sign(stream) * between(stream, 2.0, 12.0) * unit / size;
    let drift = sign(stream) * between(stream, 0.1, 0.6) * unit;
    let shift = sign(stream) * between(stream, 2.5, 8.0) * unit;
    let jump = sign(stream) * between(stream, 5.0, 10.0) * unit;
    let bend = sign(stream) * between(stream, 4.0, 14.0) * unit / (size - at);
    let step = |t: f64, height: f64| if t >= at { height } else { 0.0 };
    match model {
        CandidateModel::Mean => x,
        CandidateModel::Trend => plus(x, |t, _| slope * t),
        CandidateModel::RandomWalk => cumulated(x),
        CandidateModel::RandomWalkWithDrift => plus(cumulated(x), |t, _| drift * t),
        CandidateModel::TwiceIntegrated => cumulated(cumulated(x)),
        CandidateModel::MeanWithLevelBreak => plus(x, |t, _| step(t, shift)),
        CandidateModel::TrendWithLevelBreak => plus(x, |t, _| slope * t + step(t, shift)),
        CandidateModel::TrendWithBothBreaks => {
            plus(x, |t, _| slope * t + step(t, shift) + bend * (t - at).max(0.0))
        }
        CandidateModel::TrendWithSlopeBreak => plus(x, |t, _| slope * t + bend * (t - at).max(0.0)),
        CandidateModel::RandomWalkWithLevelBreak => plus(cumulated(x), |t, _| step(t, jump)),
        CandidateModel::DriftWithLevelBreak => plus(cumulated(x), |t, _| drift * t + step(t, jump)),
        CandidateModel::DriftWithSlopeBreak => {
            let change = sign(stream) * between(stream, 0.2, 0.8) * unit;
            plus(cumulated(x), |t, _| drift * t + change * (t - at).max(0.0))
        }
    }
}

/// By how much long memory falls short of, or exceeds, the best model that has paid its price,
/// on series of random parameters that are stationary about a mean, where it is most easily
/// mistaken: its quantiles by size, for the price of the flag.
pub fn memory(draws: u64) -> String {
    let mut out = String::new();
    for n in [200, 280, 400, 600] {
        let mut gaps: Vec<f64> = (0..draws)
            .into_par_iter()
            .filter_map(|number| {
                gap(&draw(CandidateModel::Mean, &mut NormalStream::new(98_000 + n as u64, number), n))
            })
            .collect();
        gaps.sort_by(f64::total_cmp);
        let at = |share: f64| kandrel_core::num::scale::quantile(&gaps, share).unwrap_or(f64::NAN);
        // Writing to a string cannot fail.
        let _ = writeln!(
            out,
            "n = {n}: {} series; 95 %: {:.2}, 97.7 %: {:.2}, 99 %: {:.2}",
            gaps.len(),
            at(0.95),
            at(0.977),
            at(0.99)
        );
    }
    out
}

/// The logarithm of long memory's odds against the best model, before it pays.
fn gap(y: &[f64]) -> Option<f64> {
    let longer = (y.len() as f64 / 200.0).ln();
    let best = evidence(y, None)?
        .iter()
        .map(|one| one.value + one.model.prior_log_odds()[0] + one.model.prior_log_odds()[1] * longer)
        .fold(f64::NEG_INFINITY, f64::max);
    Some(fractional_noise(y)?.likelihood - best)
}

/// Fits the prices by the logarithm of the probability that the true kind gets.
pub fn fitted(draws: u64) -> String {
    let mut jobs = Vec::new();
    for (place, (model, share)) in SHARES.into_iter().enumerate() {
        for n in SIZES {
            // Shares of a few hundred.
            #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
            let count = (share * draws as f64) as u64;
            jobs.extend((0..count).map(|number| (model, n, number + 1_000_000 * place as u64)));
        }
    }
    let series: Vec<(CandidateModel, f64, Vec<Evidence>)> = jobs
        .into_par_iter()
        .filter_map(|(model, n, number)| {
            let y = draw(model, &mut NormalStream::new(99_000 + n as u64, number), n);
            Some((model, (n as f64 / 200.0).ln(), evidence(&y, None)?.to_vec()))
        })
        .collect();
    let models: Vec<CandidateModel> = SHARES.iter().map(|(model, _)| *model).collect();
    let mut prices = vec![[0.0_f64; 2]; models.len()];
    for (price, model) in prices.iter_mut().zip(&models) {
        *price = model.prior_log_odds();
    }
    let anchor = prices.clone();
    let mut score = 0.0;
    for round in 0..3000 {
        let mut slopes = vec![[0.0_f64; 2]; models.len()];
        score = 0.0;
        for (truth, r, evidence) in &series {
            let values: Vec<f64> = evidence
                .iter()
                .map(|one| {
                    let place = models.iter().position(|model| *model == one.model).unwrap_or(0);
                    one.value + prices[place][0] + prices[place][1] * r
                })
                .collect();
            let most = values.iter().copied().fold(f64::NEG_INFINITY, f64::max);
            let weights: Vec<f64> = values.iter().map(|v| (v - most).exp()).collect();
            let total: f64 = weights.iter().sum();
            let of_kind: f64 = evidence
                .iter()
                .zip(&weights)
                .filter(|(one, _)| one.model.kind() == truth.kind())
                .map(|(_, w)| w)
                .sum();
            // A kind without any weight would tell nothing about the others.
            let floor = 1e-4 * total;
            score += ((of_kind + floor) / total).ln();
            for (one, weight) in evidence.iter().zip(&weights) {
                let place = models.iter().position(|model| *model == one.model).unwrap_or(0);
                let inside = if one.model.kind() == truth.kind() { weight / (of_kind + floor) } else { 0.0 };
                let slope = inside - weight / total;
                slopes[place][0] += slope;
                slopes[place][1] += slope * r;
            }
        }
        let rate = 6.0 / series.len() as f64 / (1.0 + f64::from(round) / 1000.0);
        for ((price, slope), anchor) in prices.iter_mut().zip(&slopes).zip(&anchor) {
            for k in 0..2 {
                // Held near where they were, as if by that number of series.
                price[k] += rate * (slope[k] - 2.0 * (price[k] - anchor[k]));
            }
        }
    }
    let base = prices[0];
    let mut out = format!("mean log probability of the truth {:.4}\n", score / series.len() as f64);
    for (model, price) in models.iter().zip(&prices) {
        let [price, by_length] = [price[0] - base[0], price[1] - base[1]];
        // Writing to a string cannot fail.
        let _ = writeln!(out, "    (CandidateModel::{model:?}, {price:.2}, {by_length:.2}),");
    }
    out
}
