//! Residual checks of a vector autoregression.

use nalgebra::DMatrix;
use schemars::JsonSchema;
use serde::Serialize;

use super::estimate::Var;
use crate::num::triangular::TriangularFactor;
use crate::num::{chi_squared, fisher, scale};
use crate::ols::dependent_column;

/// Whether anything of the past is left in the residuals of a system.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ResidualChecks {
    /// The portmanteau statistic.
    pub portmanteau: Check,
    /// The Lagrange multiplier statistic, in the form of an F.
    pub multiplier: Option<Check>,
}

/// A statistic and what it is held against.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct Check {
    /// Lags looked at.
    pub lags: usize,
    /// The statistic.
    pub statistic: f64,
    /// Degrees of freedom.
    pub df: usize,
    /// Those of the denominator of an F.
    pub df2: Option<f64>,
    /// The p-value.
    pub p_value: f64,
}

/// Both checks; the portmanteau over `lags` lags beyond the order, the multiplier over `recent`.
/// `None` where the sample does not bear it.
pub fn residual_checks(fit: &Var, lags: usize, recent: usize) -> Option<ResidualChecks> {
    Some(ResidualChecks {
        portmanteau: portmanteau(fit, fit.lags + lags.max(1))?,
        multiplier: multiplier(fit, recent.max(1)),
    })
}

/// `Q = T² Σ_{i=1..h} tr(C_i' C₀⁻¹ C_i C₀⁻¹)/(T - i)`, with `K² (h - p)` degrees of freedom.
///
/// # References
/// Hosking (1980), *Journal of the American Statistical Association* 75, 602-608.
fn portmanteau(fit: &Var, lags: usize) -> Option<Check> {
    let k = fit.residuals.len();
    let rows = fit.rows;
    if lags + 1 >= rows {
        return None;
    }
    let residuals = standardised(fit);
    let own = residuals.transpose() * &residuals / rows as f64;
    let inverse = own.cholesky()?.inverse();
    let mut sum = 0.0;
    for lag in 1..=lags {
        let (late, early) = (residuals.rows(lag, rows - lag), residuals.rows(0, rows - lag));
        let product = late.transpose() * early / rows as f64;
        let trace = (product.transpose() * &inverse * &product * &inverse).trace();
        sum += trace / (rows - lag) as f64;
    }
    let statistic = sum * (rows * rows) as f64;
    let df = k * k * (lags - fit.lags);
    Some(Check { lags, statistic, df, df2: None, p_value: chi_squared::survival(statistic, df)? })
}

/// Rao's F of the residuals on the regressors and on their own `h` lags (zero before the first).
///
/// # Formula
/// With `U = |Σ̂_restricted|/|Σ̂_augmented|`, q = K h, `r = ((K²q² - 4)/(K² + q² - 5))^{1/2}`,
/// `N = T - m - q - (K - q + 1)/2`, `w = K q/2 - 1`:
/// `F = (U^{1/r} - 1)(N r - w)/(K q)` with K q and N r - w degrees of freedom.
///
/// # References
/// Edgerton and Shukur (1999), *Econometric Reviews* 18, 343-386; Rao (1973), *Linear
/// Statistical Inference*, section 8c.5.
fn multiplier(fit: &Var, lags: usize) -> Option<Check> {
    let residuals = standardised(fit);
    let (rows, k) = residuals.shape();
    let m = fit.regressors.ncols();
    let added = k * lags;
    if rows <= m + added + 2 * k + 2 {
        return None;
    }
    let lagged = DMatrix::from_fn(rows, added, |t, column| {
        let (lag, series) = (column / k + 1, column % k);
        if t >= lag { residuals[(t - lag, series)] } else { 0.0 }
    });
    let mut factor = TriangularFactor::new(m + added + k);
    for t in 0..rows {
        let (own, past, error) = (fit.regressors.row(t), lagged.row(t), residuals.row(t));
        factor.push_row(own.iter().chain(past.iter()).chain(error.iter()).copied());
    }
    let triangle = factor.triangle();
    dependent_column(triangle, m + added).is_none().then_some(())?;
    let first = m + added;
    let products = |from: usize| {
        let block = triangle.view((from, first), (first + k - from, k));
        let products = block.transpose() * block;
        Some(2.0 * products.cholesky()?.l_dirty().diagonal().iter().map(|d| d.ln()).sum::<f64>())
    };
    let log_ratio = products(m)? - products(first)?;
    let (equations, q) = (k as f64, added as f64);
    let spread = equations * equations + q * q - 5.0;
    let root = if spread > 0.0 { ((equations * q).powi(2) - 4.0).max(0.0) / spread } else { 1.0 };
    let root = if root > 0.0 { root.sqrt() } else { 1.0 };
    let effective = rows as f64 - m as f64 - q - 0.5 * (equations - q + 1.0);
    let df2 = effective * root - (0.5 * equations * q - 1.0);
    if df2 <= 0.0 {
        return None;
    }
    let df = k * added;
    let statistic = ((log_ratio / root).exp() - 1.0) * df2 / df as f64;
    let p_value = fisher::survival(statistic, df as f64, df2)?;
    Some(Check { lags, statistic, df, df2: Some(df2), p_value })
}

/// Residuals, each equation's in units of its own size.
fn standardised(fit: &Var) -> DMatrix<f64> {
    let units: Vec<f64> = fit.residuals.iter().map(|e| scale::largest(e).max(f64::MIN_POSITIVE)).collect();
    DMatrix::from_fn(fit.rows, fit.residuals.len(), |t, series| fit.residuals[series][t] / units[series])
}
