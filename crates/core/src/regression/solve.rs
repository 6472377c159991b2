//! Least squares refined with twice the digits.

use nalgebra::{DMatrix, DVector};

use super::error::RegressionError;
use super::exact::ExactSum;

/// A column whose part orthogonal to the others is below this share of its length is a
/// combination of them, as far as double precision shows.
const COLLINEAR: f64 = 1e-13;
/// Coefficients of a dependence below this share of the largest take no part in it.
const NO_PART: f64 = 1e-6;
/// Corrections, at most.
const ROUNDS: usize = 8;
/// Above this a sum of squares may overflow.
const LARGEST_SQUARABLE: f64 = 1e150;

/// The bare solution of a least-squares problem.
#[derive(Debug, Clone)]
pub struct LeastSquares {
    /// One per column.
    pub coefficients: Vec<f64>,
    /// Target minus fit.
    pub residuals: Vec<f64>,
    /// Sizes by which columns were divided.
    pub(super) units: Vec<f64>,
    /// `(XᵀX)⁻¹` of the scaled columns.
    pub(super) inverse: DMatrix<f64>,
    /// Orthonormal directions of the columns.
    pub(super) directions: DMatrix<f64>,
    /// The scaled columns.
    pub(super) scaled: DMatrix<f64>,
}

/// Least squares of `target` on `columns`, refined to the precision of its data.
///
/// # Formula
/// `X = QR` of the scaled columns; then corrections of residuals and coefficients together from
/// the system `r + X b = y`, `Xᵀ r = 0`, whose own residuals are summed with twice the digits.
///
/// # Errors
/// [`RegressionError`]: too few rows, not finite, collinear columns.
///
/// # References
/// Björck (1967), *BIT* 7, 257-278.
pub fn least_squares(columns: &[Vec<f64>], target: &[f64]) -> Result<LeastSquares, RegressionError> {
    let (rows, count) = (target.len(), columns.len());
    check_values(columns, target)?;
    if rows < count || rows == 0 {
        return Err(RegressionError::TooFewRows { rows, coefficients: count });
    }
    let units: Vec<f64> = columns.iter().map(|column| unit(column)).collect();
    let scaled = DMatrix::from_fn(rows, count, |t, j| columns[j][t] / units[j]);
    let decomposition = scaled.clone().qr();
    let (directions, upper) = (decomposition.q(), decomposition.unpack_r());
    check_rank(&upper)?;
    let dependent = || RegressionError::Collinear { column: count.saturating_sub(1), of: Vec::new() };
    let half = upper.solve_upper_triangular(&DMatrix::identity(count, count)).ok_or_else(dependent)?;
    let system = Augmented { columns, target, units: &units, directions: &directions, half: &half };
    let (coefficients, residuals) = system.solve();
    Ok(LeastSquares { coefficients, residuals, inverse: &half * half.transpose(), directions, scaled, units })
}

/// A power of two near the largest value, so that scaling does not round.
fn unit(column: &[f64]) -> f64 {
    let largest = crate::num::scale::largest(column);
    if largest > 0.0 { 2.0_f64.powf(largest.log2().round()) } else { 1.0 }
}

fn check_values(columns: &[Vec<f64>], target: &[f64]) -> Result<(), RegressionError> {
    let bad = |values: &[f64]| {
        values.iter().position(|value| {
            let usable = value.abs() <= LARGEST_SQUARABLE;
            !usable
        })
    };
    if let Some(place) = bad(target) {
        return Err(RegressionError::NotFinite { column: None, place });
    }
    for (column, values) in columns.iter().enumerate() {
        if let Some(place) = bad(values) {
            return Err(RegressionError::NotFinite { column: Some(column), place });
        }
    }
    Ok(())
}

/// Names the first column that is a combination of those before it, and of which.
fn check_rank(upper: &DMatrix<f64>) -> Result<(), RegressionError> {
    let Some(column) = crate::ols::dependent_column_beyond(upper, upper.ncols(), COLLINEAR) else {
        return Ok(());
    };
    let before = upper.view((0, 0), (column, column)).into_owned();
    let own = upper.view((0, column), (column, 1)).into_owned();
    let weights = before.solve_upper_triangular(&own).unwrap_or(own);
    let most = weights.amax();
    let of = (0..column).filter(|j| weights[(*j, 0)].abs() > NO_PART * most).collect();
    Err(RegressionError::Collinear { column, of })
}

/// The system of residuals and coefficients.
struct Augmented<'a> {
    columns: &'a [Vec<f64>],
    target: &'a [f64],
    units: &'a [f64],
    directions: &'a DMatrix<f64>,
    /// R⁻¹.
    half: &'a DMatrix<f64>,
}

impl Augmented<'_> {
    fn solve(&self) -> (Vec<f64>, Vec<f64>) {
        let (rows, count) = (self.target.len(), self.columns.len());
        let mut b = vec![0.0; count];
        let mut r = vec![0.0; rows];
        let mut last = f64::INFINITY;
        for _ in 0..ROUNDS {
            let (left, slopes) = self.defects(&b, &r);
            let along = self.directions.transpose() * &left;
            let turned = self.half.transpose() * slopes;
            let more = &left - self.directions * &along + self.directions * &turned;
            let step = self.half * (along - turned);
            let size = step
                .iter()
                .zip(&b)
                .fold(0.0_f64, |most, (d, b)| most.max(d.abs() / b.abs().max(f64::MIN_POSITIVE)));
            // Corrections that do not shrink are rounding.
            if size.is_nan() || size > 0.5 * last {
                break;
            }
            for (own, (d, unit)) in b.iter_mut().zip(step.iter().zip(self.units)) {
                *own += d / unit;
            }
            for (own, d) in r.iter_mut().zip(more.iter()) {
                *own += d;
            }
            last = if last.is_infinite() { f64::MAX } else { size };
            if size < f64::EPSILON {
                break;
            }
        }
        (b, r)
    }

    /// `y - r - X b` and `-Xᵀ r`, of the scaled columns.
    fn defects(&self, b: &[f64], r: &[f64]) -> (DVector<f64>, DVector<f64>) {
        let left = self.target.iter().zip(r).enumerate().map(|(t, (y, own))| {
            let mut sum = ExactSum::default();
            sum.add(*y);
            sum.add(-own);
            for (column, b) in self.columns.iter().zip(b) {
                sum.add_product(-column[t], *b);
            }
            sum.value()
        });
        let left = DVector::from_iterator(self.target.len(), left);
        let slopes = self.columns.iter().zip(self.units).map(|(column, unit)| {
            let mut sum = ExactSum::default();
            column.iter().zip(r).for_each(|(x, own)| sum.add_product(-x, *own));
            sum.value() / unit
        });
        (left, DVector::from_iterator(self.columns.len(), slopes))
    }
}
