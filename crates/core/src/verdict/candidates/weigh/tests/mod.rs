//! The averaged likelihoods against dense matrices, and each candidate model against series of its own.

use nalgebra::{DMatrix, DVector};

use super::*;
use crate::arma::Mixture;
use crate::num::rng::NormalStream;

/// Autocovariances of an ARMA process with innovations of variance one: the Yule-Walker equations solved for the
/// first ones, the recursion for the rest.
fn autocovariances(mixture: &Mixture, count: usize) -> Vec<f64> {
    let (ar, ma) = (&mixture.ar, &mixture.ma);
    let p = ar.len();
    let theta = |j: usize| if j == 0 { 1.0 } else { ma.get(j - 1).copied().unwrap_or(0.0) };
    let mut psi = vec![1.0];
    for k in 1..=ma.len() {
        let past: f64 = (1..=k.min(p)).map(|i| ar[i - 1] * psi[k - i]).sum();
        psi.push(theta(k) + past);
    }
    // Covariance of the moving-average part with the process k periods before.
    let right = |k: usize| (k..=ma.len()).map(|j| theta(j) * psi[j - k]).sum::<f64>();
    let size = p + 1;
    let mut left = DMatrix::<f64>::identity(size, size);
    for k in 0..size {
        for i in 1..=p {
            left[(k, k.abs_diff(i))] -= ar[i - 1];
        }
    }
    let first = left.lu().solve(&DVector::from_fn(size, |k, _| right(k))).expect("a stationary process");
    let mut all: Vec<f64> = first.iter().copied().collect();
    for k in size..count {
        let past: f64 = (1..=p).map(|i| ar[i - 1] * all[k - i]).sum();
        all.push(past + right(k));
    }
    all.truncate(count);
    all
}

/// `-½ ln |Σ| - ½ ln |X'Σ⁻¹X| - (n-k)/2 ln SSR` with whole matrices.
fn dense(mixture: &Mixture, y: &[f64], columns: &[Vec<f64>]) -> f64 {
    let (n, k) = (y.len(), columns.len());
    let gamma = autocovariances(mixture, n);
    let sigma = DMatrix::from_fn(n, n, |i, j| gamma[i.abs_diff(j)]);
    let factor = sigma.cholesky().expect("positive definite");
    let half = |values: &DMatrix<f64>| factor.l().solve_lower_triangular(values).expect("a triangle");
    let x = half(&DMatrix::from_fn(n, k, |i, j| columns[j][i]));
    let z = half(&DMatrix::from_column_slice(n, 1, y));
    let cross = x.transpose() * &x;
    let Some(inner) = cross.clone().cholesky() else {
        return f64::NEG_INFINITY;
    };
    let b = inner.solve(&(x.transpose() * &z));
    let ssr = (&z - &x * b).norm_squared();
    let log_det = 2.0 * factor.l().diagonal().iter().map(|d| d.ln()).sum::<f64>();
    -0.5 * (log_det + cross.determinant().ln() + (n - k) as f64 * ssr.ln())
}

fn log_mean(all: impl Iterator<Item = (f64, f64)>) -> f64 {
    let all: Vec<(f64, f64)> = all.collect();
    let total: f64 = all.iter().map(|(weight, _)| weight).sum();
    let most = all.iter().map(|(_, value)| *value).fold(f64::NEG_INFINITY, f64::max);
    most + all.iter().map(|(weight, value)| weight / total * (value - most).exp()).sum::<f64>().ln()
}

/// The columns of a candidate as its name says them, for a break before place `at`.
fn columns(model: CandidateModel, at: Option<usize>, n: usize) -> Vec<Vec<f64>> {
    let size = n as f64;
    let at = at.unwrap_or(usize::MAX);
    let of = |value: &dyn Fn(usize) -> f64| (0..n).map(value).collect::<Vec<f64>>();
    let constant = of(&|_| 1.0);
    let trend = of(&|t| (t as f64 + 0.5) / size - 0.5);
    let step = of(&|t| if t < at { 0.0 } else { 1.0 });
    let ramp = of(&|t| if t + 1 > at { (t + 1 - at) as f64 / size } else { 0.0 });
    match model {
        CandidateModel::Mean | CandidateModel::RandomWalk => vec![constant],
        CandidateModel::Trend | CandidateModel::RandomWalkWithDrift | CandidateModel::TwiceIntegrated => {
            vec![constant, trend]
        }
        CandidateModel::MeanWithLevelBreak | CandidateModel::RandomWalkWithLevelBreak => vec![constant, step],
        CandidateModel::TrendWithLevelBreak | CandidateModel::DriftWithLevelBreak => {
            vec![constant, trend, step]
        }
        CandidateModel::TrendWithBothBreaks => vec![constant, trend, step, ramp],
        CandidateModel::TrendWithSlopeBreak | CandidateModel::DriftWithSlopeBreak => {
            vec![constant, trend, ramp]
        }
    }
}

/// The averaged likelihood of a candidate by dense matrices, from its formula.
fn by_dense(model: CandidateModel, before: Option<usize>, x: &[f64]) -> f64 {
    let n = x.len();
    let (inner, outer) = (inside(None), outside(None));
    let level = |dynamics: &[Weighted], model: CandidateModel, settled: bool| {
        let kept = dynamics.iter().filter(|one| !settled || one.largest < SETTLES);
        let columns = columns(model, before, n);
        log_mean(kept.map(|one| (one.weight, dense(&one.mixture, x, &columns))))
    };
    let changes: Vec<f64> = x.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let of_changes = |dynamics: &[Weighted], step: Option<usize>, settled: bool| {
        let mut columns = vec![vec![1.0; n - 1]];
        columns.extend(step.map(|at| (1..n).map(|t| if t < at { 0.0 } else { 1.0 }).collect()));
        let kept = dynamics.iter().filter(|one| !settled || one.largest < SETTLES);
        log_mean(kept.map(|one| (one.weight, dense(&one.mixture, &changes, &columns))))
    };
    let drift =
        || level(&outer, CandidateModel::RandomWalkWithDrift, false) - of_changes(&inner, None, false);
    match model {
        CandidateModel::TwiceIntegrated => drift() + of_changes(&outer, None, false),
        CandidateModel::DriftWithSlopeBreak => drift() + of_changes(&inner, before, true),
        _ if model.kind() == ModelClass::UnitRoot => level(&outer, model, false),
        _ => level(&inner, model, model.kind() == ModelClass::Broken),
    }
}

#[test]
fn each_averaged_likelihood_is_that_of_dense_matrices() {
    let n = 24;
    let mut y = NormalStream::new(71, 0).take(n);
    for t in 1..n {
        y[t] += 0.6 * y[t - 1] + if t >= 14 { 0.5 } else { 0.0 };
    }
    let found = evidence(&y, None).expect("enough values");
    let deviations = scale::deviations(&y);
    let size = (deviations.iter().map(|e| e * e).sum::<f64>() / n as f64).sqrt();
    let x: Vec<f64> = deviations.iter().map(|e| e / size).collect();
    for one in found {
        let k = columns(one.model, one.before, n).len() as f64;
        let expected = by_dense(one.model, one.before, &x) * (1.0 + (k - 1.0) / (n as f64 - k));
        let value = one.value - one.tails;
        let error = (value - expected).abs();
        assert!(error < 1e-5 * expected.abs().max(1.0), "{:?}: {value} {expected}", one.model);
    }
}

fn cumulated(steps: &[f64]) -> Vec<f64> {
    let add = |level: &mut f64, step: f64| {
        *level += step;
        Some(*level)
    };
    steps.iter().scan(0.0, |level, step| add(level, *step)).collect()
}

/// A series of a candidate's own process, its break in the middle.
fn own_process(model: CandidateModel, seed: u64, n: usize) -> Vec<f64> {
    let e = NormalStream::new(8_800 + seed, model as u64).take(n);
    let plus = |x: Vec<f64>, part: &dyn Fn(f64) -> f64| -> Vec<f64> {
        x.iter().enumerate().map(|(t, value)| value + part(t as f64)).collect()
    };
    let middle = n as f64 / 2.0;
    let step = |t: f64| f64::from(u8::from(t >= middle));
    let ramp = |t: f64| (t - middle).max(0.0);
    let walk = || cumulated(&e);
    match model {
        CandidateModel::Mean => e,
        CandidateModel::Trend => plus(e, &|t| 0.05 * t),
        CandidateModel::RandomWalk => walk(),
        CandidateModel::RandomWalkWithDrift => plus(walk(), &|t| 0.4 * t),
        CandidateModel::TwiceIntegrated => cumulated(&walk()),
        CandidateModel::MeanWithLevelBreak => plus(e, &|t| 5.0 * step(t)),
        CandidateModel::TrendWithLevelBreak => plus(e, &|t| 0.05 * t - 6.0 * step(t)),
        CandidateModel::TrendWithBothBreaks => plus(e, &|t| 0.05 * t + 6.0 * step(t) + 0.1 * ramp(t)),
        CandidateModel::TrendWithSlopeBreak => plus(e, &|t| 0.05 * t - 0.15 * ramp(t)),
        CandidateModel::RandomWalkWithLevelBreak => plus(walk(), &|t| 10.0 * step(t)),
        CandidateModel::DriftWithLevelBreak => plus(walk(), &|t| 0.4 * t + 10.0 * step(t)),
        CandidateModel::DriftWithSlopeBreak => plus(walk(), &|t| 0.4 * t - 0.9 * ramp(t)),
    }
}

/// A confusion table: how many of the series of each candidate get its kind, and whether another kind gets more.
#[test]
fn each_candidate_is_found_in_series_of_its_own() {
    let series = 12;
    for model in CandidateModel::all() {
        let mut kinds: Vec<ModelClass> = Vec::new();
        for seed in 0..series {
            let found = weigh_candidates(&own_process(model, seed, 160), None).expect("enough values");
            let total: f64 = found.candidates.iter().map(|one| one.probability).sum();
            assert!((total - 1.0).abs() < 1e-12);
            kinds.push(found.kind());
        }
        let right = kinds.iter().filter(|kind| **kind == model.kind()).count();
        assert!(right >= 10, "{model:?}: {right} of {series}, {kinds:?}");
    }
}

#[test]
fn a_date_is_found_where_the_break_is() {
    for model in [CandidateModel::MeanWithLevelBreak, CandidateModel::TrendWithLevelBreak] {
        let found = weigh_candidates(&own_process(model, 3, 160), None).expect("enough values");
        let top = found.candidates[0];
        assert_eq!((top.model, top.before), (model, Some(80)));
    }
}

#[test]
fn models_keep_their_proportions_where_another_posterior_decides_the_differences() {
    let one = |model, probability| CandidateProbability { model, probability, before: None };
    let mut weights = CandidateWeights {
        candidates: vec![
            one(CandidateModel::TrendWithSlopeBreak, 0.7),
            one(CandidateModel::RandomWalkWithDrift, 0.2),
            one(CandidateModel::RandomWalk, 0.1),
        ],
        roots: Vec::new(),
        innovations: Vec::new(),
        long_memory: None,
        cycle: None,
    };
    // No model has two differences: their share goes to the others.
    weights.with_differences([0.18, 0.72, 0.1]);
    let found: Vec<(CandidateModel, f64)> =
        weights.candidates.iter().map(|one| (one.model, one.probability)).collect();
    let expected = [
        (CandidateModel::RandomWalkWithDrift, 0.8 * 2.0 / 3.0),
        (CandidateModel::RandomWalk, 0.8 / 3.0),
        (CandidateModel::TrendWithSlopeBreak, 0.2),
    ];
    for ((model, probability), (wanted, share)) in found.iter().zip(expected) {
        assert!(*model == wanted && (probability - share).abs() < 1e-12, "{found:?}");
    }
    assert!((weights.probability(ModelClass::UnitRoot) - 0.8).abs() < 1e-12);
}
