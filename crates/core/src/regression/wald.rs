//! The Wald test of linear restrictions.

use nalgebra::{DMatrix, DVector};
use schemars::JsonSchema;
use serde::Serialize;

use super::error::RegressionError;
use super::restriction::Restriction;
use crate::num::{chi_squared, fisher};

/// A Wald test of restrictions.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct WaldTest {
    /// The statistic over the number of restrictions.
    pub f: f64,
    /// Number of restrictions.
    pub df1: usize,
    /// Residual degrees of freedom.
    pub df2: usize,
    /// p-value of the F.
    pub p_f: f64,
    /// The statistic.
    pub chi2: f64,
    /// Its p-value.
    pub p_chi2: f64,
}

/// Coefficients and what they are uncertain by.
pub(super) struct Estimates<'a> {
    pub coefficients: &'a [f64],
    /// Sizes by which columns were divided.
    pub units: &'a [f64],
    /// Covariance matrix of the coefficients of the scaled columns.
    pub covariance: &'a DMatrix<f64>,
    /// Residual degrees of freedom.
    pub degrees: usize,
}

/// Wald test that all the restrictions hold.
pub(super) fn wald(own: &Estimates<'_>, restrictions: &[Restriction]) -> Result<WaldTest, RegressionError> {
    let count = restrictions.len();
    let dependent = RegressionError::DependentRestrictions;
    // In the units of the scaled columns, and each restriction of length one.
    let mut rows = DMatrix::from_fn(count, own.units.len(), |i, j| restrictions[i].weights[j] / own.units[j]);
    let mut gaps = DVector::from_fn(count, |i, _| {
        let sum: f64 = restrictions[i].weights.iter().zip(own.coefficients).map(|(w, b)| w * b).sum();
        sum - restrictions[i].value
    });
    let spread = &rows * own.covariance * rows.transpose();
    for i in 0..count {
        let size = spread[(i, i)].sqrt();
        if size.is_nan() || size <= 0.0 {
            return Err(dependent);
        }
        rows.row_mut(i).unscale_mut(size);
        gaps[i] /= size;
    }
    let spread = &rows * own.covariance * rows.transpose();
    let factor = spread.cholesky().ok_or(dependent.clone())?;
    if count == 0 || factor.l_dirty().diagonal().min() < INDEPENDENT {
        return Err(dependent);
    }
    let chi2 = gaps.dot(&factor.solve(&gaps));
    let f = chi2 / count as f64;
    let p_f = fisher::survival(f, count as f64, own.degrees as f64).ok_or(dependent.clone())?;
    let p_chi2 = chi_squared::survival(chi2, count).ok_or(dependent)?;
    Ok(WaldTest { f, df1: count, df2: own.degrees, p_f, chi2, p_chi2 })
}

/// A restriction whose own part is below this share of it follows from those before it.
const INDEPENDENT: f64 = 1e-7;
