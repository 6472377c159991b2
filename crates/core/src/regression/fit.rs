//! A regression with its standard errors.

use nalgebra::DMatrix;
use schemars::JsonSchema;
use serde::Serialize;

use super::covariance::{ErrorKind, covariance};
use super::error::RegressionError;
use super::restriction::Restriction;
use super::solve::{LeastSquares, least_squares};
use super::wald::{Estimates, WaldTest, wald};
use crate::lag::{Criterion, gaussian_log_likelihood};
use crate::num::{scale, student};
use crate::ols::durbin_watson;

/// A residual below this share of the target's deviation is rounding.
const PERFECT: f64 = 1e-12;
/// Coefficients below this share of the target take no part in an exact fit.
const NO_PART: f64 = 1e-9;

/// Options of a regression.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RegressionOptions {
    /// Place of the column of ones, if there is one.
    pub constant: Option<usize>,
    /// Standard errors.
    pub errors: ErrorKind,
    /// One minus the coverage of intervals.
    pub alpha: f64,
}

/// A regression and its diagnostics.
#[derive(Debug, Clone)]
pub struct Regression {
    /// One per column.
    pub coefficients: Vec<Coefficient>,
    /// Standard errors as used.
    pub errors: ErrorKind,
    /// Place of the column of ones.
    pub constant: Option<usize>,
    /// Rows minus columns.
    pub degrees: usize,
    /// Share of the variance explained (about zero without a constant).
    pub r2: f64,
    /// The same, allowing for the number of columns.
    pub r2_adjusted: f64,
    /// Standard deviation of the residuals, divisor rows minus columns.
    pub sigma: f64,
    /// Residual sum of squares.
    pub ssr: f64,
    /// The full Gaussian log-likelihood at its maximum.
    pub log_likelihood: f64,
    /// Akaike's criterion.
    pub aic: f64,
    /// Schwarz's.
    pub bic: f64,
    /// All coefficients but the constant are zero.
    pub f: Option<FTest>,
    /// Durbin and Watson's statistic.
    pub durbin_watson: f64,
    /// Target minus residual.
    pub fitted: Vec<f64>,
    /// The bare solution.
    pub solved: LeastSquares,
    /// Covariance matrix of the coefficients of the scaled columns.
    pub(super) covariance: DMatrix<f64>,
}

/// One line of the table.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct Coefficient {
    /// The estimate.
    pub estimate: f64,
    /// Its standard error.
    pub std_error: f64,
    /// Estimate over error.
    pub t: f64,
    /// Two-sided, by Student's distribution.
    pub p_value: f64,
    /// Lower end of the interval.
    pub low: f64,
    /// Upper end.
    pub high: f64,
}

/// An F test.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct FTest {
    /// The statistic.
    pub statistic: f64,
    /// Degrees of freedom of the numerator.
    pub df1: usize,
    /// Of the denominator.
    pub df2: usize,
    /// The p-value.
    pub p_value: f64,
}

/// Least squares with its diagnostics.
///
/// # Formula
/// [`least_squares`]; `log L = -(n/2)(1 + ln 2π + ln(SSR/n))`, criteria with k + 1 parameters;
/// F the Wald test of all but the constant with the same errors.
///
/// # Errors
/// [`RegressionError`].
pub fn regression(
    columns: &[Vec<f64>],
    target: &[f64],
    options: &RegressionOptions,
) -> Result<Regression, RegressionError> {
    let (rows, count) = (target.len(), columns.len());
    if rows <= count || count == 0 {
        return Err(RegressionError::TooFewRows { rows, coefficients: count });
    }
    let solved = least_squares(columns, target)?;
    if options.constant.is_some() && scale::check(target).is_err() {
        return Err(RegressionError::ConstantTarget);
    }
    let centre = if options.constant.is_some() { scale::mean(target) } else { 0.0 };
    let total: f64 = target.iter().map(|y| (y - centre).powi(2)).sum();
    let e = &solved.residuals;
    let ssr: f64 = e.iter().map(|e| e * e).sum();
    let imperfect = ssr.sqrt() > PERFECT * total.sqrt();
    if !imperfect {
        return Err(RegressionError::PerfectFit { of: parts(&solved, target, options.constant) });
    }
    let covariance = covariance(&solved, options.errors)?;
    let degrees = rows - count;
    let likelihood = gaussian_log_likelihood(ssr, rows);
    let r2 = 1.0 - ssr / total;
    let all = (rows - usize::from(options.constant.is_some())) as f64;
    let mut regression = Regression {
        coefficients: coefficients(&solved, &covariance, degrees, options.alpha),
        errors: options.errors,
        constant: options.constant,
        degrees,
        r2,
        r2_adjusted: 1.0 - (1.0 - r2) * all / degrees as f64,
        sigma: (ssr / degrees as f64).sqrt(),
        ssr,
        log_likelihood: likelihood,
        aic: Criterion::Aic.value(likelihood, count + 1, rows),
        bic: Criterion::Bic.value(likelihood, count + 1, rows),
        f: None,
        durbin_watson: durbin_watson(e),
        fitted: target.iter().zip(e).map(|(y, e)| y - e).collect(),
        solved,
        covariance,
    };
    regression.f = regression.all_slopes();
    Ok(regression)
}

impl Regression {
    /// Wald test that all the restrictions hold, with the errors of this regression.
    ///
    /// # Formula
    /// `W = (R b - q)ᵀ [R V Rᵀ]⁻¹ (R b - q)`, χ² with as many degrees of freedom as restrictions;
    /// `F = W/m` with residual degrees of freedom in the denominator.
    ///
    /// # Errors
    /// [`RegressionError::DependentRestrictions`].
    pub fn wald(&self, restrictions: &[Restriction]) -> Result<WaldTest, RegressionError> {
        let own = Estimates {
            coefficients: &self.solved.coefficients,
            units: &self.solved.units,
            covariance: &self.covariance,
            degrees: self.degrees,
        };
        wald(&own, restrictions)
    }

    fn all_slopes(&self) -> Option<FTest> {
        let count = self.coefficients.len();
        let slopes = (0..count).filter(|place| Some(*place) != self.constant);
        let zero = |place: usize| {
            let mut weights = vec![0.0; count];
            weights[place] = 1.0;
            Restriction { weights, value: 0.0 }
        };
        let all: Vec<Restriction> = slopes.map(zero).collect();
        let test = self.wald(&all).ok()?;
        Some(FTest { statistic: test.f, df1: test.df1, df2: test.df2, p_value: test.p_f })
    }
}

/// Regressors that take part in an exact fit.
fn parts(solved: &LeastSquares, target: &[f64], constant: Option<usize>) -> Vec<usize> {
    let size = scale::largest(target);
    let share = |place: usize| solved.coefficients[place].abs() * solved.units[place] > NO_PART * size;
    (0..solved.coefficients.len()).filter(|place| Some(*place) != constant && share(*place)).collect()
}

fn coefficients(
    solved: &LeastSquares,
    covariance: &DMatrix<f64>,
    degrees: usize,
    alpha: f64,
) -> Vec<Coefficient> {
    let wide = student::quantile(1.0 - 0.5 * alpha, degrees).unwrap_or(f64::NAN);
    let line = |(place, estimate): (usize, &f64)| {
        let std_error = covariance[(place, place)].max(0.0).sqrt() / solved.units[place];
        let t = estimate / std_error;
        Coefficient {
            estimate: *estimate,
            std_error,
            t,
            p_value: student::two_sided(t, degrees).unwrap_or(f64::NAN),
            low: estimate - wide * std_error,
            high: estimate + wide * std_error,
        }
    };
    solved.coefficients.iter().enumerate().map(line).collect()
}
