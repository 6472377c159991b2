use nalgebra::{DMatrix, SVD};

use super::error::CointError;
use crate::nulldist::{Family, MOST_APART, Quantiles, Side, SystemStatistic, SystemTerms};
use crate::num::scale;
use crate::num::triangular::TriangularFactor;

/// Rounds of the singular value decomposition.
const ROUNDS: usize = 10_000;
/// Residual degrees of freedom that each equation keeps, at least.
const DEGREES_KEPT: usize = 5;
/// A part of a column below this share of it is rounding.
const NO_ERROR: f64 = 1e-11;

/// The data of a system.
#[derive(Debug, Clone, Copy)]
pub struct SystemInput<'a> {
    /// The series, each of the same length, without gaps.
    pub series: &'a [&'a [f64]],
    /// Lags of the levels, one at least: changes have one fewer.
    pub lags: usize,
    /// Fixed terms.
    pub terms: SystemTerms,
}

/// The likelihood of every number of relations.
#[derive(Debug, Clone)]
pub struct System {
    /// Fixed terms.
    pub terms: SystemTerms,
    /// Lags of the levels.
    pub lags: usize,
    /// Rows.
    pub rows: usize,
    /// Squared canonical correlations of changes and levels, the largest first.
    pub eigenvalues: Vec<f64>,
    /// One for each number of relations below the number of series.
    pub tests: Vec<SystemRow>,
    pub(super) moments: Moments,
}

/// Tests of one number of relations.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SystemRow {
    /// Relations under the null.
    pub rank: usize,
    /// Likelihood ratio against any larger number.
    pub trace: f64,
    /// Its p-value.
    pub p_trace: f64,
    /// Critical value at 5 %.
    pub trace_critical: f64,
    /// Likelihood ratio against one more.
    pub max_eigen: f64,
    /// Its p-value.
    pub p_max_eigen: f64,
    /// Critical value at 5 %.
    pub max_eigen_critical: f64,
    /// The simulation covered this size.
    pub covered: bool,
}

/// What is left of changes and levels after the lagged changes and the unrestricted terms, by
/// their triangular factor, and how the columns were scaled.
#[derive(Debug, Clone)]
pub(super) struct Moments {
    /// Factor of the levels (and the terms inside the relations).
    pub level_factor: DMatrix<f64>,
    /// The changes' part along it.
    pub along: DMatrix<f64>,
    /// The changes' own part.
    pub own: DMatrix<f64>,
    /// Left singular vectors: relations in the factor's directions.
    pub directions: DMatrix<f64>,
    pub shifts: Vec<f64>,
    pub units: Vec<f64>,
    pub observations: usize,
    /// Coefficients of an equation that stand outside the relations.
    pub outside: usize,
}

impl System {
    /// The number of relations that the trace tests accept first, at a level.
    pub fn rank(&self, alpha: f64) -> usize {
        self.tests.iter().find(|row| row.p_trace > alpha).map_or(self.eigenvalues.len(), |row| row.rank)
    }
}

/// Columns of a system of `n` observations, centred and scaled.
pub(super) struct Design<'a> {
    input: SystemInput<'a>,
    shifts: Vec<f64>,
    units: Vec<f64>,
    pub n: usize,
}

impl<'a> Design<'a> {
    pub fn new(input: SystemInput<'a>) -> Result<Self, CointError> {
        let series = input.series.len();
        if !(2..=MOST_APART).contains(&series) {
            return Err(CointError::Count { series, most: MOST_APART });
        }
        if input.lags == 0 {
            return Err(CointError::NoLags);
        }
        for (place, values) in input.series.iter().enumerate() {
            scale::check(values).map_err(|reason| CointError::unusable(place, reason))?;
        }
        let n = input.series.iter().map(|one| one.len()).min().unwrap_or(0);
        let centred = input.terms != SystemTerms::None;
        let shifts: Vec<f64> =
            input.series.iter().map(|y| if centred { scale::mean(y) } else { 0.0 }).collect();
        let largest = |(y, shift): (&&[f64], &f64)| {
            y.iter().fold(0.0, |most: f64, value| most.max((value - shift).abs()))
        };
        let units = input.series.iter().zip(&shifts).map(largest).collect();
        let design = Self { input, shifts, units, n };
        design.check_size()?;
        Ok(design)
    }

    /// `n - k` rows bear `K (k - 1)` lagged changes, K levels, the terms, and what is kept free.
    fn check_size(&self) -> Result<(), CointError> {
        let (series, n) = (self.count(), self.n);
        let needed = |lags: usize| lags + series * (lags + 1) + 2 + DEGREES_KEPT;
        if n < needed(1) {
            return Err(CointError::TooShort { observations: n, series, needed: needed(1) });
        }
        if n < needed(self.input.lags) {
            let most = (1..self.input.lags).rev().find(|lags| needed(*lags) <= n).unwrap_or(1);
            return Err(CointError::TooManyLags { lags: self.input.lags, most, observations: n, series });
        }
        Ok(())
    }

    fn count(&self) -> usize {
        self.input.series.len()
    }

    fn outside(&self) -> usize {
        let terms = match self.input.terms {
            SystemTerms::None | SystemTerms::ConstantIn => 0,
            SystemTerms::Constant | SystemTerms::TrendIn => 1,
            SystemTerms::Trend => 2,
        };
        terms + self.count() * (self.input.lags - 1)
    }

    fn is_term_inside(&self) -> bool {
        matches!(self.input.terms, SystemTerms::ConstantIn | SystemTerms::TrendIn)
    }

    pub fn level(&self, series: usize, t: usize) -> f64 {
        (self.input.series[series][t] - self.shifts[series]) / self.units[series]
    }

    fn change(&self, series: usize, t: usize) -> f64 {
        (self.input.series[series][t] - self.input.series[series][t - 1]) / self.units[series]
    }

    /// Time of place `t`, from minus one half to one half.
    fn clock(&self, t: usize) -> f64 {
        clock(t, self.n)
    }

    pub fn row(&self, t: usize) -> impl Iterator<Item = f64> + '_ {
        let count = self.count();
        let terms = [1.0, self.clock(t)].into_iter().take(self.outside() - count * (self.input.lags - 1));
        let lagged =
            (1..self.input.lags).flat_map(move |lag| (0..count).map(move |s| self.change(s, t - lag)));
        let inside = match self.input.terms {
            SystemTerms::ConstantIn => Some(1.0),
            SystemTerms::TrendIn => Some(self.clock(t)),
            _ => None,
        };
        terms
            .chain(lagged)
            .chain((0..count).map(move |s| self.level(s, t - 1)))
            .chain(inside)
            .chain((0..count).map(move |s| self.change(s, t)))
    }
}

/// Time of place `t` of `n`, from minus one half to one half.
pub(super) fn clock(t: usize, n: usize) -> f64 {
    (t as f64 + 0.5 - 0.5 * n as f64) / n as f64
}

/// Likelihood ratios of the number of cointegrating relations.
///
/// # Formula
/// `Δy_t = terms + Π y_{t-1} + Σ_{i<k} Γ_i Δy_{t-i} + e_t`, Π = α β' of rank r. With λ the squared
/// canonical correlations of Δy and y₋₁ given the rest, on T = n - k rows:
/// `trace_r = -T Σ_{i>r} ln(1 - λ_i)`, `max_r = -T ln(1 - λ_{r+1})`. The distributions depend on
/// K - r, the terms, T and the number of other coefficients.
///
/// # Errors
/// [`CointError`].
///
/// # Numerics
/// One Householder factorisation of `[other | levels | changes]` and a singular value
/// decomposition of a K × K matrix; no cross-products are inverted.
///
/// # References
/// Johansen (1988), *Journal of Economic Dynamics and Control* 12, 231-254; Johansen (1995),
/// *Likelihood-Based Inference in Cointegrated Vector Autoregressive Models*, chapters 6 and 15.
pub fn system(input: SystemInput<'_>) -> Result<System, CointError> {
    let design = Design::new(input)?;
    let count = design.count();
    let inside = count + usize::from(design.is_term_inside());
    let outside = design.outside();
    let mut factor = TriangularFactor::new(outside + inside + count);
    for t in input.lags..design.n {
        factor.push_row(design.row(t));
    }
    let rows = factor.rows();
    let triangle = factor.triangle();
    check_columns(triangle, outside, inside, count)?;
    let level_factor = triangle.view((outside, outside), (inside, inside)).into_owned();
    let along = triangle.view((outside, outside + inside), (inside, count)).into_owned();
    let own = triangle.view((outside + inside, outside + inside), (count, count)).into_owned();
    let (directions, eigenvalues) =
        canonical(&along, &own).ok_or(CointError::Collinear { series: count - 1 })?;
    let tests = tests(&eigenvalues, rows, input)?;
    Ok(System {
        terms: input.terms,
        lags: input.lags,
        rows,
        eigenvalues,
        tests,
        moments: Moments {
            level_factor,
            along,
            own,
            directions,
            shifts: design.shifts.clone(),
            units: design.units.clone(),
            observations: design.n,
            outside,
        },
    })
}

/// Names the series whose level or change is a combination of what stands before it.
fn check_columns(
    triangle: &DMatrix<f64>,
    outside: usize,
    inside: usize,
    count: usize,
) -> Result<(), CointError> {
    let is_free = |place: usize| triangle[(place, place)].abs() > NO_ERROR * triangle.column(place).norm();
    let levels = (outside..outside + inside).position(|place| !is_free(place));
    let lagged = (0..outside).rposition(|place| !is_free(place));
    let changes = (outside + inside..outside + inside + count).position(|place| !is_free(place));
    let series = levels.map(|place| place.min(count - 1)).or(changes).or(lagged.map(|place| place % count));
    series.map_or(Ok(()), |series| Err(CointError::Collinear { series }))
}

/// Left singular vectors and squared singular values of the changes' part along the levels,
/// against the length of all of each change.
fn canonical(along: &DMatrix<f64>, own: &DMatrix<f64>) -> Option<(DMatrix<f64>, Vec<f64>)> {
    let products = along.transpose() * along + own.transpose() * own;
    let lower = products.cholesky()?.l();
    // along L⁻ᵀ: its squared singular values are the squared canonical correlations.
    let scaled = lower.solve_lower_triangular(&along.transpose())?.transpose();
    let decomposition = SVD::try_new(scaled, true, false, f64::EPSILON, ROUNDS)?;
    let directions = decomposition.u?;
    let mut order: Vec<usize> = (0..decomposition.singular_values.len()).collect();
    order.sort_by(|a, b| decomposition.singular_values[*b].total_cmp(&decomposition.singular_values[*a]));
    let eigenvalues: Vec<f64> =
        order.iter().map(|place| decomposition.singular_values[*place].powi(2).min(1.0 - 1e-15)).collect();
    Some((directions.select_columns(&order), eigenvalues))
}

/// Both likelihood ratios of every number of relations.
fn tests(eigenvalues: &[f64], rows: usize, input: SystemInput<'_>) -> Result<Vec<SystemRow>, CointError> {
    let count = eigenvalues.len();
    let each: Vec<f64> = eigenvalues.iter().map(|value| -(rows as f64) * (-value).ln_1p()).collect();
    let row = |rank: usize| {
        let size = Size::new(rows, count, rank, input.lags);
        let (of_trace, covered) = size.distribution(SystemStatistic::Trace, input.terms)?;
        let (of_largest, _) = size.distribution(SystemStatistic::LargestEigenvalue, input.terms)?;
        let (trace, largest) = (each[rank..].iter().sum::<f64>(), each[rank]);
        Ok(SystemRow {
            rank,
            trace,
            p_trace: of_trace.p_value(trace * size.share, Side::Upper),
            trace_critical: of_trace.critical_value(0.05, Side::Upper) / size.share,
            max_eigen: largest,
            p_max_eigen: of_largest.p_value(largest * size.share, Side::Upper),
            max_eigen_critical: of_largest.critical_value(0.05, Side::Upper) / size.share,
            covered,
        })
    };
    (0..count).map(row).collect()
}

/// Lags of the changes that were simulated, at most.
const SIMULATED_LAGS: usize = 4;

/// How large a sample a test has.
///
/// The simulated systems have walks only and lagged changes of these. What else stands in the
/// equations, the relations under the null and the lagged changes that belong to them, explains
/// nothing of the walks: it takes as many rows, and the statistic in proportion.
#[derive(Debug, Clone, Copy)]
pub(super) struct Size {
    apart: usize,
    rows: usize,
    own: usize,
    /// Rows left over all rows.
    pub share: f64,
}

impl Size {
    pub fn new(rows: usize, count: usize, rank: usize, lags: usize) -> Self {
        let apart = count - rank;
        let own = apart * (lags - 1).min(SIMULATED_LAGS);
        let left = rows.saturating_sub(count * (lags - 1) + rank - own).max(1);
        Self { apart, rows: left, own, share: left as f64 / rows as f64 }
    }

    /// The null distribution of the statistic times the share, and whether it was simulated.
    pub fn distribution(
        self,
        statistic: SystemStatistic,
        terms: SystemTerms,
    ) -> Result<(Quantiles, bool), CointError> {
        let surface = Family::System(statistic, terms, self.apart).surface();
        let surface = surface.ok_or(CointError::NoDistribution)?;
        Ok((surface.at(self.rows, self.own), surface.covers(self.rows, self.own)))
    }
}
