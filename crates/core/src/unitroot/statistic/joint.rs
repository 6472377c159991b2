//! F statistics of joint hypotheses on a regression.

use nalgebra::{DMatrix, DVector};

use crate::ols::{Estimates, OlsError};

/// The F statistic of the hypothesis that all of these coefficients are zero.
///
/// # Formula
/// `b' V⁻¹ b / q`, b the q coefficients and V the classical covariance matrix of them.
///
/// # Errors
/// [`OlsError::Collinear`] if that matrix has no inverse.
pub fn wald_f(fit: &Estimates, which: &[usize]) -> Result<f64, OlsError> {
    let q = which.len();
    let b = DVector::from_fn(q, |i, _| fit.coefficients[which[i]]);
    let v = DMatrix::from_fn(q, q, |i, j| fit.covariance[(which[i], which[j])]);
    let collinear = OlsError::Collinear { column: which.first().copied().unwrap_or(0) };
    let solved = v.cholesky().ok_or(collinear)?.solve(&b);
    Ok(b.dot(&solved) / q.max(1) as f64)
}
