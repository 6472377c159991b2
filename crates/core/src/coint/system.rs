//! The trace and maximum-eigenvalue tests of the cointegrating rank.

use nalgebra::{DMatrix, SVD};

use super::design::{Design, SystemInput};
use super::error::CointError;
use super::size::Size;
use crate::nulldist::{SystemStatistic, SystemTerms, Tail};
use crate::num::scale::Scale;
use crate::num::triangular::TriangularFactor;
use crate::ols::dependent_column;

/// Rounds of the singular value decomposition.
const ROUNDS: usize = 10_000;

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
    /// Centre and size of each series.
    pub scales: Vec<Scale>,
    pub observations: usize,
    /// Coefficients of an equation that are outside the relations.
    pub outside: usize,
}

/// What the likelihood of every number of relations follows from.
pub(super) struct Decomposition {
    pub rows: usize,
    /// Squared canonical correlations, the largest first.
    pub eigenvalues: Vec<f64>,
    pub moments: Moments,
}

impl System {
    /// The number of relations that the trace tests accept first, at a level.
    pub fn rank(&self, alpha: f64) -> usize {
        self.tests.iter().find(|row| row.p_trace > alpha).map_or(self.eigenvalues.len(), |row| row.rank)
    }
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
    let Decomposition { rows, eigenvalues, moments } = decompose(&Design::new(input)?)?;
    let tests = tests(&eigenvalues, rows, input)?;
    Ok(System { terms: input.terms, lags: input.lags, rows, eigenvalues, tests, moments })
}

/// Factorises a system.
pub(super) fn decompose(design: &Design<'_>) -> Result<Decomposition, CointError> {
    let (count, inside, outside) = (design.count(), design.inside(), design.outside());
    let mut factor = TriangularFactor::new(outside + inside + count);
    for t in design.input.lags..design.n {
        factor.push_row(design.row(t));
    }
    let rows = factor.rows();
    let triangle = factor.triangle();
    if let Some(column) = dependent_column(triangle, outside + inside + count) {
        return Err(CointError::Collinear { series: design.series_of(column) });
    }
    let level_factor = triangle.view((outside, outside), (inside, inside)).into_owned();
    let along = triangle.view((outside, outside + inside), (inside, count)).into_owned();
    let own = triangle.view((outside + inside, outside + inside), (count, count)).into_owned();
    let (directions, eigenvalues) =
        canonical(&along, &own).ok_or(CointError::Collinear { series: count - 1 })?;
    let scales = design.scales.clone();
    let moments = Moments { level_factor, along, own, directions, scales, observations: design.n, outside };
    Ok(Decomposition { rows, eigenvalues, moments })
}

/// Likelihood ratio of each number of relations against one more: `-T ln(1 - λ)`.
pub(super) fn ratios(eigenvalues: &[f64], rows: usize) -> Vec<f64> {
    eigenvalues.iter().map(|value| -(rows as f64) * (-value).ln_1p()).collect()
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
    let each = ratios(eigenvalues, rows);
    let row = |rank: usize| {
        let size = Size::new(rows, count, rank, input.lags);
        let (of_trace, covered) = size.distribution(SystemStatistic::Trace, input.terms)?;
        let (of_largest, _) = size.distribution(SystemStatistic::LargestEigenvalue, input.terms)?;
        let (trace, largest) = (each[rank..].iter().sum::<f64>(), each[rank]);
        Ok(SystemRow {
            rank,
            trace,
            p_trace: of_trace.p_value(trace * size.share, Tail::Upper),
            trace_critical: of_trace.critical_value(0.05, Tail::Upper) / size.share,
            max_eigen: largest,
            p_max_eigen: of_largest.p_value(largest * size.share, Tail::Upper),
            max_eigen_critical: of_largest.critical_value(0.05, Tail::Upper) / size.share,
            covered,
        })
    };
    (0..count).map(row).collect()
}
