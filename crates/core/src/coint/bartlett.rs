use nalgebra::{DMatrix, DVector};

use super::error::CointError;
use super::system::{Design, Size, SystemInput, clock, system};
use crate::nulldist::{Quantiles, Side, SystemStatistic, SystemTerms, draws_of};
use crate::num::normal;
use crate::num::rng::NormalStream;
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
    let found = system(input)?;
    let count = input.series.len();
    let mut all = Vec::with_capacity(count);
    for test in &found.tests {
        let size = Size::new(found.rows, count, test.rank, input.lags);
        let (null, _) = size.distribution(SystemStatistic::Trace, input.terms)?;
        let model = Model::estimated(input, test.rank)?;
        let traces = draws_of(draws, seed + test.rank as u64, |stream| {
            let drawn = model.drawn(stream);
            let slices: Vec<&[f64]> = drawn.iter().map(Vec::as_slice).collect();
            Some(system(SystemInput { series: &slices, ..input }).ok()?.tests.get(test.rank)?.trace)
        });
        if traces.is_empty() {
            return Err(CointError::NoDistribution);
        }
        let factor = traces.iter().sum::<f64>() / traces.len() as f64 / (mean(&null) / size.share);
        let trace = test.trace / factor;
        all.push(BartlettRow {
            rank: test.rank,
            factor,
            trace,
            p_trace: null.p_value(trace * size.share, Side::Upper),
        });
    }
    Ok(all)
}

fn mean(distribution: &Quantiles) -> f64 {
    let at =
        |point: u32| distribution.at_score(normal::quantile((f64::from(point) + 0.5) / f64::from(POINTS)));
    (0..POINTS).map(at).sum::<f64>() / f64::from(POINTS)
}

/// A system with so many relations, of the scaled series.
struct Model {
    terms: SystemTerms,
    lags: usize,
    observations: usize,
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
    fn estimated(input: SystemInput<'_>, rank: usize) -> Result<Self, CointError> {
        let refused = CointError::Collinear { series: 0 };
        let design = Design::new(input)?;
        let found = system(input)?;
        let (count, outside) = (input.series.len(), found.moments.outside);
        let inside = found.moments.level_factor.nrows();
        let directions = found.moments.directions.columns(0, rank).into_owned();
        let beta = found.moments.level_factor.solve_upper_triangular(&directions).ok_or(refused)?;
        let mut factor = TriangularFactor::new(outside + rank + count);
        for t in input.lags..design.n {
            let row: Vec<f64> = design.row(t).collect();
            let levels = DVector::from_column_slice(&row[outside..outside + inside]);
            let index = beta.transpose() * levels;
            factor
                .push_row(row[..outside].iter().chain(index.iter()).chain(&row[outside + inside..]).copied());
        }
        let degrees = factor.rows() - outside - rank;
        let triangle = factor.triangle();
        let m = outside + rank;
        let own = triangle.view((0, m), (m, count)).into_owned();
        let coefficients = triangle.view((0, 0), (m, m)).into_owned().solve_upper_triangular(&own);
        let rest = triangle.view((m, m), (count, count)).into_owned();
        let covariance = rest.transpose() * &rest / degrees as f64;
        Ok(Self {
            terms: input.terms,
            lags: input.lags,
            observations: design.n,
            start: (0..input.lags).map(|t| (0..count).map(|s| design.level(s, t)).collect()).collect(),
            beta,
            coefficients: coefficients.ok_or(refused)?,
            errors: covariance.cholesky().ok_or(refused)?.l(),
        })
    }

    /// One draw of all series, from the same first values.
    fn drawn(&self, stream: &mut NormalStream) -> Vec<Vec<f64>> {
        let count = self.errors.nrows();
        let mut levels = self.start.clone();
        for t in self.lags..self.observations {
            let change = |s: usize, lag: usize| levels[t - lag][s] - levels[t - lag - 1][s];
            let fixed = match self.terms {
                SystemTerms::None | SystemTerms::ConstantIn => 0,
                SystemTerms::Constant | SystemTerms::TrendIn => 1,
                SystemTerms::Trend => 2,
            };
            let mut row: Vec<f64> = [1.0, clock(t, self.observations)].into_iter().take(fixed).collect();
            for lag in 1..self.lags {
                row.extend((0..count).map(|s| change(s, lag)));
            }
            let mut before = levels[t - 1].clone();
            match self.terms {
                SystemTerms::ConstantIn => before.push(1.0),
                SystemTerms::TrendIn => before.push(clock(t, self.observations)),
                _ => {}
            }
            row.extend((self.beta.transpose() * DVector::from_vec(before)).iter());
            let shocks = &self.errors * DVector::from_vec(stream.take(count));
            let step = self.coefficients.transpose() * DVector::from_vec(row) + shocks;
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

    #[test]
    fn long_independent_walks_need_no_correction() {
        let walks: Vec<Vec<f64>> = (0..2).map(|k| random_walk(&mut NormalStream::new(8, k), 400)).collect();
        let slices: Vec<&[f64]> = walks.iter().map(Vec::as_slice).collect();
        let input = SystemInput { series: &slices, lags: 1, terms: SystemTerms::ConstantIn };
        let rows = bartlett(input, 400, 1).expect("well posed");
        assert!((rows[0].factor - 1.0).abs() < 0.08, "{rows:?}");
    }
}
