//! The Lagrange-multiplier statistic over all break dates.

mod detrended;
mod lanes;
mod products;
mod sums;

use detrended::Detrended;
use lanes::LANES;
use sums::RunningSums;

use crate::lag::Criterion;
use crate::num::triangular::TriangularFactor;
use crate::ols::{OlsError, nested_residual_sums};

/// A search over one break or two, by the score of the null.
#[derive(Debug, Clone, PartialEq)]
pub struct LagrangeSearch {
    /// The smallest t-ratio of the detrended lagged level.
    pub statistic: f64,
    /// How many observations lie before each break.
    pub before: Vec<usize>,
}

/// Options of the search for break dates.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LagrangeModel {
    /// Whether the slope changes with the level.
    pub slope: bool,
    /// One break or two.
    pub breaks: usize,
    /// Lagged changes of the detrended series.
    pub lags: usize,
}

/// The smallest t-ratio of the lagged level, detrended under the null of a unit root with
/// breaks, over all dates of one break or two.
///
/// # Formula
/// With `Z_t` the trend, a step `DU_j` and (where the slope changes) a ramp `DT_j` from each
/// break: δ̃ from `Δy_t` on `ΔZ_t`, `S̃_t = Σ_{i≤t} (Δy_i - δ̃'ΔZ_i)` from zero, and the
/// t-ratio of φ in `Δy_t = δ'ΔZ_t + φ S̃_{t-1} + Σ_{i≤p} γ_i ΔS̃_{t-i} + e_t`.
///
/// Breaks lie at least `fewest` observations from either end and from each other.
///
/// # Numerics
/// A step's change is one at its date and zero elsewhere: it takes that row out. A ramp's
/// change is a mean of its own from there on. So all sums are over stretches of the series,
/// differences of running sums, but for the `p` rows after each break. A date costs
/// `p³` steps whatever n is; one break costs `n p³`, two `n² p³ / 4`. Some dates are tried side by
/// side, for the vectors of a processor.
///
/// # Errors
/// [`OlsError`]: too few rows, collinear lags.
///
/// # References
/// Schmidt and Phillips (1992), *Oxford Bulletin of Economics and Statistics* 54, 257-287; Lee
/// and Strazicich (2003), *Review of Economics and Statistics* 85, 1082-1089; (2013),
/// *Economics Bulletin* 33, 2483-2492.
pub fn lagrange_search(x: &[f64], model: LagrangeModel, fewest: usize) -> Result<LagrangeSearch, OlsError> {
    let sums = RunningSums::new(x, model)?;
    let mut work = sums.work();
    let last = x.len().saturating_sub(fewest);
    // With one break the second date represents nothing.
    let seconds = |first: usize| if model.breaks < 2 { 0..=0 } else { first + fewest..=last };
    let mut dates = (fewest..=last).flat_map(|first| seconds(first).map(move |second| [first, second]));
    let mut best = LagrangeSearch { statistic: f64::INFINITY, before: Vec::new() };
    while let Some(next) = dates.next() {
        // What is left over at the end is filled up with the same date.
        let mut side_by_side = [next; LANES];
        for (place, date) in side_by_side[1..].iter_mut().zip(&mut dates) {
            *place = date;
        }
        let sets = side_by_side.map(|date| Detrended::new(x, &date[..model.breaks.min(2)], model.slope));
        for (date, statistic) in side_by_side.iter().zip(sums.t_ratios(&sets, &mut work)) {
            if statistic < best.statistic {
                best = LagrangeSearch { statistic, before: date[..model.breaks.min(2)].to_vec() };
            }
        }
    }
    if best.statistic.is_finite() { Ok(best) } else { Err(OlsError::Collinear { column: 0 }) }
}

/// The number of lags with the best criterion for breaks at these dates, all on one sample.
///
/// # Errors
/// [`OlsError`].
pub fn lagrange_lags(
    x: &[f64],
    model: LagrangeModel,
    before: &[usize],
    criterion: Criterion,
) -> Result<usize, OlsError> {
    // With more lags no row would lie before the first break.
    let first = before.first().copied().unwrap_or(0);
    let most = model.lags.min(first.saturating_sub(2));
    let detrended = Detrended::new(x, before, model.slope);
    let means = if model.slope { before.len() } else { 0 };
    let base = 2 + means;
    let mut factor = TriangularFactor::new(base + most + 1);
    for t in (most + 1..x.len()).filter(|t| !before.contains(t)) {
        let steps = before.iter().take(means).map(|b| f64::from(u8::from(t >= *b)));
        let past = (1..=most).map(|i| detrended.change(x, t - i));
        let row = [1.0, detrended.sum(x, t - 1)].into_iter().chain(steps).chain(past);
        factor.push_row(row.chain([x[t] - x[t - 1]]));
    }
    let rows = factor.rows();
    let sums = nested_residual_sums(&mut factor, base)?;
    Ok(criterion.best_of(&sums, base, rows).unwrap_or(0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;
    use crate::ols::estimate;

    /// The two regressions with every column written out.
    fn plain(x: &[f64], model: LagrangeModel, before: &[usize]) -> f64 {
        let n = x.len();
        let columns = |t: usize| -> Vec<f64> {
            let one = |holds: bool| f64::from(u8::from(holds));
            let pulses = before.iter().map(|b| one(t == *b));
            let steps = before.iter().filter(|_| model.slope).map(|b| one(t >= *b));
            [1.0].into_iter().chain(pulses).chain(steps).collect()
        };
        let width = columns(1).len();
        let mut first = TriangularFactor::new(width + 1);
        for t in 1..n {
            first.push_row(columns(t).into_iter().chain([x[t] - x[t - 1]]));
        }
        let null = estimate(&mut first).expect("well posed").coefficients;
        let mut level = vec![0.0; n];
        for t in 1..n {
            let fitted: f64 = columns(t).iter().zip(&null).map(|(a, b)| a * b).sum();
            level[t] = level[t - 1] + x[t] - x[t - 1] - fitted;
        }
        let mut second = TriangularFactor::new(width + 1 + model.lags + 1);
        for t in model.lags + 1..n {
            let past = (1..=model.lags).map(|i| level[t - i] - level[t - i - 1]);
            let row = [level[t - 1]].into_iter().chain(columns(t)).chain(past);
            second.push_row(row.chain([x[t] - x[t - 1]]));
        }
        let fit = estimate(&mut second).expect("well posed");
        fit.coefficients[0] / fit.covariance[(0, 0)].sqrt()
    }

    fn at(x: &[f64], model: LagrangeModel, before: &[usize]) -> f64 {
        let sums = RunningSums::new(x, model).expect("well posed");
        let sets = std::array::from_fn(|_| Detrended::new(x, before, model.slope));
        sums.t_ratios(&sets, &mut sums.work())[0]
    }

    fn walk(n: usize, seed: u64) -> Vec<f64> {
        let mut x = NormalStream::new(seed, 0).take(n);
        for t in 1..n {
            x[t] += 0.97 * x[t - 1];
        }
        x
    }

    #[test]
    fn every_pair_of_dates_is_its_own_pair_of_regressions() {
        let x = walk(70, 21);
        for slope in [false, true] {
            for lags in [0, 1, 4] {
                for before in [vec![11], vec![35], vec![59], vec![11, 22], vec![20, 50], vec![30, 33]] {
                    let model = LagrangeModel { slope, breaks: before.len(), lags };
                    let ours = at(&x, model, &before);
                    let expected = plain(&x, model, &before);
                    assert!((ours - expected).abs() < 1e-8, "{model:?} {before:?}: {ours} {expected}");
                }
            }
        }
    }

    #[test]
    fn the_search_finds_the_smallest_of_all() {
        let x = walk(60, 22);
        let model = LagrangeModel { slope: true, breaks: 2, lags: 2 };
        let found = lagrange_search(&x, model, 9).expect("well posed");
        let mut least = f64::INFINITY;
        for first in 9..=51 {
            for second in first + 9..=51 {
                least = least.min(plain(&x, model, &[first, second]));
            }
        }
        assert!((found.statistic - least).abs() < 1e-8);
        assert!((plain(&x, model, &found.before) - least).abs() < 1e-8);
    }

    #[test]
    fn a_jump_under_the_null_changes_nothing_at_its_date() {
        let x = walk(80, 23);
        let jumped: Vec<f64> =
            x.iter().enumerate().map(|(t, v)| v + if t >= 40 { 30.0 } else { 0.0 }).collect();
        let bent: Vec<f64> =
            x.iter().enumerate().map(|(t, v)| v + 2.0 * t.saturating_sub(39) as f64).collect();
        let crash = LagrangeModel { slope: false, breaks: 1, lags: 2 };
        let both = LagrangeModel { slope: true, ..crash };
        assert!((at(&x, crash, &[40]) - at(&jumped, crash, &[40])).abs() < 1e-8);
        assert!((at(&x, both, &[40]) - at(&bent, both, &[40])).abs() < 1e-8);
    }

    #[test]
    fn lags_are_chosen_on_one_sample_at_the_dates_given() {
        let mut x = NormalStream::new(24, 0).take(200);
        for t in 2..200 {
            x[t] += 0.6 * (x[t - 1] - x[t - 2]) + x[t - 1];
        }
        let model = LagrangeModel { slope: false, breaks: 1, lags: 6 };
        assert_eq!(lagrange_lags(&x, model, &[90], Criterion::Bic), Ok(1));
    }
}
