//! The estimates of a vector autoregression.

use nalgebra::DMatrix;

use super::column::SystemColumn;
use super::design::{Design, VarInput};
use super::error::VarError;
use super::roots::eigenvalues;

/// A vector autoregression of one order, estimated on all rows it can use.
#[derive(Debug, Clone)]
pub struct Var {
    /// The order.
    pub lags: usize,
    /// Rows.
    pub rows: usize,
    /// What the coefficients multiply.
    pub columns: Vec<SystemColumn>,
    /// One row per column of the regressors, one column per equation; of the scaled series.
    pub coefficients: DMatrix<f64>,
    /// `(XᵀX)⁻¹` of the scaled regressors.
    pub inverse: DMatrix<f64>,
    /// Residual covariance matrix, divisor rows minus coefficients; of the scaled series.
    pub covariance: DMatrix<f64>,
    /// Residuals in the units of the series, one column per equation.
    pub residuals: Vec<Vec<f64>>,
    /// The regressors, scaled, one row per row of the sample.
    pub(crate) regressors: DMatrix<f64>,
}

impl Var {
    /// Moduli of the eigenvalues of the companion matrix, largest first: all below one for a
    /// stationary system. Scaling the series is a similarity of the matrix and keeps them.
    pub fn moduli(&self) -> Vec<f64> {
        let k = self.residuals.len();
        let size = k * self.lags;
        let fixed = self.columns.len() - size;
        let companion = DMatrix::from_fn(size, size, |i, j| {
            if i < k { self.coefficients[(fixed + j, i)] } else { f64::from(u8::from(j + k == i)) }
        });
        eigenvalues(&companion).unwrap_or_default().iter().map(|value| value.norm()).collect()
    }
}

/// Least squares of every equation.
///
/// # Formula
/// `B = R₁₁⁻¹ R₁₂` of the factor of `[X | Y]`.
///
/// # Errors
/// [`VarError`], as for the table of lag orders.
pub fn estimate(input: VarInput<'_>, lags: usize) -> Result<Var, VarError> {
    let design = Design::new(input)?;
    let (n, k) = (design.observations, design.equations());
    let m = design.fixed() + k * lags;
    if n < lags + m + k + 1 {
        let most = design.largest(k + 1).unwrap_or(0);
        return Err(VarError::TooManyLags { lags, most, observations: n });
    }
    let mut factor = design.factor(lags, lags);
    design.check(&mut factor)?;
    let rows = factor.rows();
    let triangle = factor.triangle();
    let upper = triangle.view((0, 0), (m, m)).into_owned();
    let collinear = VarError::Collinear { column: design.column(m.saturating_sub(1)) };
    let own = triangle.view((0, m), (m, k)).into_owned();
    let coefficients = upper.solve_upper_triangular(&own).ok_or(collinear)?;
    let half = upper.solve_upper_triangular(&DMatrix::identity(m, m)).ok_or(collinear)?;
    let rest = triangle.view((m, m), (k, k));
    let covariance = rest.transpose() * rest / (rows - m) as f64;
    let all = DMatrix::from_row_iterator(rows, m + k, (lags..n).flat_map(|t| design.row(t, lags)));
    let regressors = all.columns(0, m).into_owned();
    let scaled = all.columns(m, k) - &regressors * &coefficients;
    let residuals = scaled.column_iter().zip(&design.scales);
    let residuals =
        residuals.map(|(column, scale)| column.iter().map(|e| e * scale.unit).collect()).collect();
    Ok(Var {
        lags,
        rows,
        columns: (0..m).map(|place| design.column(place)).collect(),
        inverse: &half * half.transpose(),
        coefficients,
        covariance,
        residuals,
        regressors,
    })
}
