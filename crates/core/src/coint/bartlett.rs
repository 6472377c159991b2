//! Bartlett's correction of the trace statistic by simulated systems.

use nalgebra::{DMatrix, DVector};

use super::design::{Design, SystemInput, restricted, unrestricted};
use super::error::CointError;
use super::size::Size;
use super::system::{Moments, decompose, ratios};
use crate::nulldist::{Quantiles, SystemStatistic, SystemTerms, Tail, draws_of};
use crate::num::normal;
use crate::num::triangular::TriangularFactor;

/// Points at which a distribution's mean is summed.
const POINTS: u32 = 2_000;

/// The trace of one number of relations after a Bartlett correction.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BartlettRow {
    /// Relations under the null.
    pub rank: usize,
    /// Mean of the trace in series drawn from the estimated system, over the mean of the
    /// distribution its p-value is from.
    pub factor: f64,
    /// The trace over the factor.
    pub trace: f64,
    /// Its p-value.
    pub p_trace: f64,
}

/// Bartlett's correction of every trace: the statistic is divided by what its mean is, in this
/// very system, more than its distribution says.
///
/// # Formula
/// For each r the system is estimated with r relations, `draws` series are drawn from it with
/// normal errors, and `factor = mean(trace*) / E(trace)`.
///
/// # Errors
/// [`CointError`].
///
/// # References
/// Johansen (2002), *Econometric Theory* 18, 119-151; the mean by drawing, as in Omtzigt and
/// Fachin (2006), *Economics Letters* 92, 371-377.
pub fn bartlett(input: SystemInput<'_>, draws: usize, seed: u64) -> Result<Vec<BartlettRow>, CointError> {
    let design = Design::new(input)?;
    let found = decompose(&design)?;
    let count = design.count();
    let trace =
        |eigenvalues: &[f64], rank: usize| -> f64 { ratios(eigenvalues, found.rows)[rank..].iter().sum() };
    let row = |rank: usize| {
        let size = Size::new(found.rows, count, rank, input.lags);
        let (null, _) = size.distribution(SystemStatistic::Trace, input.terms)?;
        let model = Model::estimated(&design, &found.moments, rank)?;
        let traces = draws_of(draws, seed + rank as u64, |stream| {
            let normal = DMatrix::from_vec(count, found.rows, stream.take(count * found.rows));
            let drawn = model.series(&(&model.errors * normal));
            let slices: Vec<&[f64]> = drawn.iter().map(Vec::as_slice).collect();
            let again = Design::new(SystemInput { series: &slices, ..input }).ok()?;
            Some(trace(&decompose(&again).ok()?.eigenvalues, rank))
        });
        if traces.is_empty() {
            return Err(CointError::NoDistribution);
        }
        let factor = traces.iter().sum::<f64>() / traces.len() as f64 / (mean(&null) / size.share);
        let trace = trace(&found.eigenvalues, rank) / factor;
        let p_trace = null.p_value(trace * size.share, Tail::Upper);
        Ok(BartlettRow { rank, factor, trace, p_trace })
    };
    (0..count).map(row).collect()
}

fn mean(distribution: &Quantiles) -> f64 {
    let at =
        |point: u32| distribution.at_score(normal::quantile((f64::from(point) + 0.5) / f64::from(POINTS)));
    (0..POINTS).map(at).sum::<f64>() / f64::from(POINTS)
}

/// A system with that number of relations, of the scaled series.
struct Model {
    terms: SystemTerms,
    lags: usize,
    /// The first levels.
    start: Vec<Vec<f64>>,
    /// Rows: levels and the term inside; columns: relations.
    beta: DMatrix<f64>,
    /// Rows: terms outside, lagged changes, relations; columns: equations.
    coefficients: DMatrix<f64>,
    /// Cholesky factor of the errors' covariance matrix.
    errors: DMatrix<f64>,
}

impl Model {
    fn estimated(design: &Design<'_>, moments: &Moments, rank: usize) -> Result<Self, CointError> {
        let refused = CointError::Collinear { series: 0 };
        let (count, inside, outside) = (design.count(), design.inside(), design.outside());
        let lags = design.input.lags;
        let directions = moments.directions.columns(0, rank).into_owned();
        let beta = moments.level_factor.solve_upper_triangular(&directions).ok_or(refused)?;
        let mut factor = TriangularFactor::new(outside + rank + count);
        for t in lags..design.n {
            let row: Vec<f64> = design.row(t).collect();
            let index = beta.transpose() * DVector::from_column_slice(&row[outside..outside + inside]);
            factor
                .push_row(row[..outside].iter().chain(index.iter()).chain(&row[outside + inside..]).copied());
        }
        let m = outside + rank;
        let degrees = factor.rows() - m;
        let triangle = factor.triangle();
        let own = triangle.view((0, m), (m, count)).into_owned();
        let coefficients = triangle.view((0, 0), (m, m)).into_owned().solve_upper_triangular(&own);
        let rest = triangle.view((m, m), (count, count)).into_owned();
        let covariance = rest.transpose() * &rest / degrees as f64;
        Ok(Self {
            terms: design.input.terms,
            lags,
            start: (0..lags).map(|t| (0..count).map(|s| design.level(s, t)).collect()).collect(),
            beta,
            coefficients: coefficients.ok_or(refused)?,
            errors: covariance.cholesky().ok_or(refused)?.l(),
        })
    }

    /// All series from the same first levels, with these innovations: a row per series, a column per
    /// period after the first levels.
    fn series(&self, shocks: &DMatrix<f64>) -> Vec<Vec<f64>> {
        let count = shocks.nrows();
        let observations = self.lags + shocks.ncols();
        let mut levels = self.start.clone();
        for (t, shock) in (self.lags..).zip(shocks.column_iter()) {
            let change = |s: usize, lag: usize| levels[t - lag][s] - levels[t - lag - 1][s];
            let mut row: Vec<f64> = unrestricted(self.terms, t, observations).collect();
            for lag in 1..self.lags {
                row.extend((0..count).map(|s| change(s, lag)));
            }
            let mut before = levels[t - 1].clone();
            before.extend(restricted(self.terms, t, observations));
            row.extend((self.beta.transpose() * DVector::from_vec(before)).iter());
            let step = self.coefficients.transpose() * DVector::from_vec(row) + shock;
            let next = levels[t - 1].iter().zip(step.iter()).map(|(level, step)| level + step).collect();
            levels.push(next);
        }
        (0..count).map(|s| levels.iter().map(|row| row[s]).collect()).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::nulldist::random_walk;
    use crate::num::rng::NormalStream;

    fn walks(seed: u64, n: usize, count: u64) -> Vec<Vec<f64>> {
        (0..count).map(|k| random_walk(&mut NormalStream::new(seed, k), n)).collect()
    }

    #[test]
    fn systems_without_dynamics_need_no_correction_at_any_length() {
        for n in [40, 400] {
            let walks = walks(8, n, 2);
            let slices: Vec<&[f64]> = walks.iter().map(Vec::as_slice).collect();
            let input = SystemInput { series: &slices, lags: 1, terms: SystemTerms::ConstantIn };
            let rows = bartlett(input, 400, 1).expect("well posed");
            assert!((rows[0].factor - 1.0).abs() < 0.08, "{n} {rows:?}");
        }
    }

    #[test]
    fn short_systems_with_persistent_changes_need_one() {
        let walk = |k: u64| {
            let (mut level, mut change) = (0.0, 0.0);
            let steps = NormalStream::new(8, k).take(50);
            let levels = steps.iter().map(|step| {
                change = 0.8 * change + step;
                level += change;
                level
            });
            levels.collect::<Vec<f64>>()
        };
        let walks = [walk(0), walk(1)];
        let slices: Vec<&[f64]> = walks.iter().map(Vec::as_slice).collect();
        let input = SystemInput { series: &slices, lags: 2, terms: SystemTerms::ConstantIn };
        let rows = bartlett(input, 400, 1).expect("well posed");
        assert!(rows[0].factor > 1.1, "{rows:?}");
        let found = crate::coint::system(input).expect("well posed");
        assert!(rows[0].p_trace > found.tests[0].p_trace);
        assert!((rows[0].trace * rows[0].factor - found.tests[0].trace).abs() < 1e-9);
    }

    #[test]
    fn the_model_and_its_own_residuals_give_back_the_series() {
        let mut series = walks(9, 60, 3);
        let tied: Vec<f64> =
            series[0].iter().zip(NormalStream::new(9, 7).take(60)).map(|(y, e)| 40.0 + 3.0 * y + e).collect();
        series[2] = tied;
        let slices: Vec<&[f64]> = series.iter().map(Vec::as_slice).collect();
        for terms in SystemTerms::ALL {
            for (lags, rank) in [(1, 1), (3, 0), (3, 2)] {
                let design = Design::new(SystemInput { series: &slices, lags, terms }).expect("well posed");
                let moments = decompose(&design).expect("well posed").moments;
                let model = Model::estimated(&design, &moments, rank).expect("well posed");
                let (inside, outside) = (design.inside(), design.outside());
                let mut regressors = DMatrix::zeros(60 - lags, outside + rank);
                let mut shocks = DMatrix::zeros(3, 60 - lags);
                for t in lags..60 {
                    let row: Vec<f64> = design.row(t).collect();
                    let index =
                        model.beta.transpose() * DVector::from_column_slice(&row[outside..outside + inside]);
                    let own: Vec<f64> = row[..outside].iter().chain(index.iter()).copied().collect();
                    let own = DVector::from_vec(own);
                    let change = DVector::from_column_slice(&row[outside + inside..]);
                    shocks.set_column(t - lags, &(change - model.coefficients.transpose() * &own));
                    regressors.set_row(t - lags, &own.transpose());
                }
                // Least squares leaves nothing along the regressors, and this covariance.
                assert!((&shocks * &regressors).amax() < 1e-9, "{terms:?} {lags} {rank}");
                let covariance = &shocks * shocks.transpose() / (60 - lags - outside - rank) as f64;
                assert!((&model.errors * model.errors.transpose() - covariance).amax() < 1e-12);
                for (s, drawn) in model.series(&shocks).iter().enumerate() {
                    for (t, value) in drawn.iter().enumerate() {
                        assert!((value - design.level(s, t)).abs() < 1e-9, "{terms:?} {lags} {rank} {s} {t}");
                    }
                }
            }
        }
    }
}
