//! Diagnostic tests of a regression.

use nalgebra::DMatrix;

use super::error::RegressionError;
use super::fit::Regression;
use crate::num::triangular::TriangularFactor;
use crate::num::{chi_squared, fisher, scale};

/// A test of what a regression takes for granted.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Diagnostic {
    /// The statistic in its χ² form, `n R²` of the auxiliary regression.
    pub chi2: f64,
    /// Regressors added, or tested.
    pub df1: usize,
    /// p-value of the χ² form.
    pub p_chi2: f64,
    /// The statistic in its F form, which is the better one in small samples.
    pub f: f64,
    /// Residual degrees of freedom of the auxiliary regression.
    pub df2: usize,
    /// p-value of the F form.
    pub p_value: f64,
}

/// No autocorrelation of the errors up to `lags`.
///
/// # Formula
/// Residuals on the regressors and on their own lags, zero before the first.
///
/// # Errors
/// [`RegressionError::TooFewRows`].
///
/// # References
/// Breusch (1978), *Australian Economic Papers* 17, 334-355; Godfrey (1978), *Econometrica* 46,
/// 1293-1301.
pub fn breusch_godfrey(regression: &Regression, lags: usize) -> Result<Diagnostic, RegressionError> {
    let e = &regression.solved.residuals;
    let lagged =
        |lag: usize| (0..e.len()).map(|t| if t >= lag { e[t - lag] } else { 0.0 }).collect::<Vec<_>>();
    added(&regression.solved.scaled, &(1..=lags).map(lagged).collect::<Vec<_>>(), e)
}

/// Homoskedasticity: the squared residuals do not depend on regressors, their squares and products.
///
/// # Errors
/// [`RegressionError::TooFewRows`].
///
/// # References
/// White (1980), *Econometrica* 48, 817-838.
pub fn white(regression: &Regression) -> Result<Diagnostic, RegressionError> {
    let e = &regression.solved.residuals;
    let slopes: Vec<Vec<f64>> = (0..regression.coefficients.len())
        .filter(|place| Some(*place) != regression.constant)
        .map(|place| scale::deviations(regression.solved.scaled.column(place).as_slice()))
        .collect();
    let mut columns = slopes.clone();
    for (i, a) in slopes.iter().enumerate() {
        columns.extend(slopes[i..].iter().map(|b| a.iter().zip(b).map(|(x, y)| x * y).collect::<Vec<f64>>()));
    }
    let squares: Vec<f64> = e.iter().map(|e| e * e).collect();
    added(&DMatrix::from_element(e.len(), 1, 1.0), &columns, &scale::deviations(&squares))
}

/// A linear relation: squares and cubes of the fitted values add nothing.
///
/// # Errors
/// [`RegressionError::TooFewRows`].
///
/// # References
/// Ramsey (1969), *Journal of the Royal Statistical Society B* 31, 350-371.
pub fn reset(regression: &Regression) -> Result<Diagnostic, RegressionError> {
    let fitted = scale::deviations(&regression.fitted);
    let powers = [2, 3].map(|power| fitted.iter().map(|value| value.powi(power)).collect()).to_vec();
    added(&regression.solved.scaled, &powers, &regression.solved.residuals)
}

/// The auxiliary regression of `target` on `base` and the columns added; those of them that are
/// combinations of others are left out.
fn added(base: &DMatrix<f64>, more: &[Vec<f64>], target: &[f64]) -> Result<Diagnostic, RegressionError> {
    let rows = target.len();
    let (kept, count) = (base.ncols(), base.ncols() + more.len());
    if rows < count + 2 {
        return Err(RegressionError::TooFewRows { rows, coefficients: count });
    }
    let mut factor = TriangularFactor::new(count + 1);
    let units: Vec<f64> = more.iter().map(|column| scale::largest(column).max(f64::MIN_POSITIVE)).collect();
    for t in 0..rows {
        let own = base.row(t);
        let added = more.iter().zip(&units).map(|(column, unit)| column[t] / unit);
        factor.push_row(own.iter().copied().chain(added).chain([target[t]]));
    }
    let mut keep: Vec<usize> = (0..=count).collect();
    while let Some(place) = crate::ols::dependent_column(factor.triangle(), keep.len() - 1) {
        if place < kept {
            return Err(RegressionError::Collinear { column: place, of: Vec::new() });
        }
        keep.remove(place);
        let left: Vec<usize> = (0..=keep.len()).filter(|column| *column != place).collect();
        factor = factor.with_columns(&left);
    }
    let last = keep.len() - 1;
    let triangle = factor.triangle();
    let below = |from: usize| (from..=last).map(|i| triangle[(i, last)].powi(2)).sum::<f64>();
    let (restricted, full) = (below(kept), below(last));
    let (df1, df2) = (last - kept, rows - last);
    let few = RegressionError::TooFewRows { rows, coefficients: count };
    if df1 == 0 || full <= 0.0 {
        return Err(few);
    }
    let chi2 = rows as f64 * (1.0 - full / restricted);
    let f = (restricted - full) / df1 as f64 / (full / df2 as f64);
    Ok(Diagnostic {
        chi2,
        df1,
        p_chi2: chi_squared::survival(chi2, df1).ok_or(few.clone())?,
        f,
        df2,
        p_value: fisher::survival(f, df1 as f64, df2 as f64).ok_or(few)?,
    })
}
