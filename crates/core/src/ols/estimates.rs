//! Least squares read off a triangular factor.

use nalgebra::DMatrix;
use thiserror::Error;

use crate::num::triangular::TriangularFactor;

/// A column whose part orthogonal to its forerunners is smaller than this
/// share of its length adds nothing that double precision can see.
const COLLINEAR: f64 = 1e-11;
/// A residual below this share of the target's length is rounding.
const PERFECT: f64 = 1e-12;

/// Why a regression has no answer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum OlsError {
    /// Fewer rows than coefficients and a variance need.
    #[error("{rows} rows do not determine {coefficients} coefficients and a variance")]
    TooFewRows {
        /// Rows given.
        rows: usize,
        /// Coefficients asked for.
        coefficients: usize,
    },
    /// A regressor is a combination of those before it.
    #[error("regressor {column} is a combination of the ones before it")]
    Collinear {
        /// Its place, 0-based.
        column: usize,
    },
    /// The regressors reproduce the target exactly.
    #[error("the regressors reproduce the target exactly")]
    PerfectFit,
}

/// Coefficients and their covariance.
#[derive(Debug, Clone)]
pub struct Estimates {
    /// One coefficient per regressor.
    pub coefficients: Vec<f64>,
    /// Classical covariance matrix of the coefficients, divisor rows - k.
    pub covariance: DMatrix<f64>,
    /// Residual sum of squares.
    pub residual_sum: f64,
    /// Rows minus coefficients.
    pub degrees: usize,
}

/// Least squares of the last column on all others.
///
/// # Formula
/// With `[X | y] = Q R`: `R₁₁ b = r₁₂`, residual sum `‖r₂₂‖²`,
/// `Cov(b) = s² (R₁₁ᵀ R₁₁)⁻¹`, `s² = ‖r₂₂‖² / (rows - k)`.
///
/// # Errors
/// [`OlsError`]: too few rows, a collinear regressor, or an exact fit.
pub fn estimate(factor: &mut TriangularFactor) -> Result<Estimates, OlsError> {
    let k = factor.columns().saturating_sub(1);
    let rows = factor.rows();
    if rows <= k {
        return Err(OlsError::TooFewRows { rows, coefficients: k });
    }
    let triangle = factor.triangle();
    check_rank(triangle, k)?;
    let residual_sum = tail_sum(triangle, k, k);
    check_fit(triangle, k, residual_sum)?;
    let degrees = rows - k;
    let design = triangle.view((0, 0), (k, k)).into_owned();
    let target = triangle.view((0, k), (k, 1)).into_owned();
    let collinear = OlsError::Collinear { column: k.saturating_sub(1) };
    let coefficients = design.solve_upper_triangular(&target).ok_or(collinear)?;
    let inverse = design.solve_upper_triangular(&DMatrix::identity(k, k)).ok_or(collinear)?;
    let covariance = &inverse * inverse.transpose() * (residual_sum / degrees as f64);
    Ok(Estimates { coefficients: coefficients.iter().copied().collect(), covariance, residual_sum, degrees })
}

/// Residual sums of squares of the last column on the first `first`,
/// `first + 1`, … and on all regressors, from the one factor.
///
/// # Errors
/// [`OlsError`] as for [`estimate`], checked on the largest regression.
pub fn nested_residual_sums(factor: &mut TriangularFactor, first: usize) -> Result<Vec<f64>, OlsError> {
    let k = factor.columns().saturating_sub(1);
    let rows = factor.rows();
    if rows <= k {
        return Err(OlsError::TooFewRows { rows, coefficients: k });
    }
    let triangle = factor.triangle();
    check_rank(triangle, k)?;
    let sums: Vec<f64> = (first..=k).map(|count| tail_sum(triangle, count, k)).collect();
    check_fit(triangle, k, sums.last().copied().unwrap_or(0.0))?;
    Ok(sums)
}

/// Sum of squares of column `column` from row `from` down: what is left of it
/// after the first `from` columns.
fn tail_sum(triangle: &DMatrix<f64>, from: usize, column: usize) -> f64 {
    (from..triangle.nrows().min(column + 1)).map(|i| triangle[(i, column)].powi(2)).sum()
}

fn check_rank(triangle: &DMatrix<f64>, k: usize) -> Result<(), OlsError> {
    dependent_column(triangle, k).map_or(Ok(()), |column| Err(OlsError::Collinear { column }))
}

/// The first of `k` columns that is a combination of those before it.
pub(crate) fn dependent_column(triangle: &DMatrix<f64>, k: usize) -> Option<usize> {
    dependent_column_beyond(triangle, k, COLLINEAR)
}

/// The same with another share of a column's length that counts as nothing.
pub(crate) fn dependent_column_beyond(triangle: &DMatrix<f64>, k: usize, share: f64) -> Option<usize> {
    (0..k).find(|column| {
        let own = triangle[(*column, *column)].abs();
        // Written so that a value that is not a number is found as well.
        let independent = own > share * triangle.column(*column).norm();
        !independent
    })
}

fn check_fit(triangle: &DMatrix<f64>, k: usize, residual_sum: f64) -> Result<(), OlsError> {
    let imperfect = residual_sum.sqrt() > PERFECT * triangle.column(k).norm();
    if imperfect { Ok(()) } else { Err(OlsError::PerfectFit) }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn factor_of(rows: &[[f64; 3]]) -> TriangularFactor {
        let mut factor = TriangularFactor::new(3);
        for r in rows {
            factor.push_row(*r);
        }
        factor
    }

    #[test]
    fn a_line_through_four_points_by_hand() {
        // x = 1..4, y = 2, 3, 5, 6: slope 1.4, intercept 0.5, residual sum 0.2.
        let mut factor = factor_of(&[[1.0, 1.0, 2.0], [1.0, 2.0, 3.0], [1.0, 3.0, 5.0], [1.0, 4.0, 6.0]]);
        let fit = estimate(&mut factor).expect("well posed");
        assert!((fit.coefficients[0] - 0.5).abs() < 1e-12);
        assert!((fit.coefficients[1] - 1.4).abs() < 1e-12);
        assert!((fit.residual_sum - 0.2).abs() < 1e-12);
        assert_eq!(fit.degrees, 2);
        // Var(slope) = s² / Σ(x - x̄)² = 0.1 / 5.
        assert!((fit.covariance[(1, 1)] - 0.02).abs() < 1e-12);
    }

    #[test]
    fn nested_sums_are_those_of_the_smaller_regressions() {
        let mut factor = factor_of(&[[1.0, 1.0, 2.0], [1.0, 2.0, 3.0], [1.0, 3.0, 5.0], [1.0, 4.0, 6.0]]);
        let sums = nested_residual_sums(&mut factor, 0).expect("well posed");
        // Σy² = 74, Σ(y - 4)² = 10, and the line's 0.2.
        for (ours, by_hand) in sums.iter().zip([74.0, 10.0, 0.2]) {
            assert!((ours - by_hand).abs() < 1e-12);
        }
    }

    #[test]
    fn what_cannot_be_estimated_is_refused_by_name() {
        let collinear = &[[1.0, 2.0, 1.0], [1.0, 2.0, 0.0], [1.0, 2.0, 5.0], [1.0, 2.0, 2.0]];
        assert_eq!(estimate(&mut factor_of(collinear)).err(), Some(OlsError::Collinear { column: 1 }));
        let exact = &[[1.0, 1.0, 3.0], [1.0, 2.0, 5.0], [1.0, 3.0, 7.0], [1.0, 4.0, 9.0]];
        assert_eq!(estimate(&mut factor_of(exact)).err(), Some(OlsError::PerfectFit));
        assert!(matches!(
            estimate(&mut factor_of(&exact[..2])),
            Err(OlsError::TooFewRows { rows: 2, coefficients: 2 })
        ));
    }
}
