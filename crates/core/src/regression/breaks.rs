//! The test of a known break in all coefficients.

use super::error::RegressionError;
use super::fit::FTest;
use super::solve::least_squares;
use crate::num::fisher;

/// A test of coefficients that stay the same.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BreakTest {
    /// Observations before the break.
    pub before: usize,
    /// The statistic.
    pub f: FTest,
    /// Too few observations follow for coefficients of their own: their prediction is tested.
    pub predictive: bool,
}

/// Whether all coefficients are the same before and after a break of known date.
///
/// # Formula
/// `F = ((S - S₁ - S₂)/k)/((S₁ + S₂)/(n - 2k))`; where fewer than k + 1 observations follow,
/// `F = ((S - S₁)/n₂)/(S₁/(n₁ - k))`.
///
/// # Errors
/// [`RegressionError`]: too few observations before the break, or columns that are collinear on
/// one side.
///
/// # References
/// Chow (1960), *Econometrica* 28, 591-605.
pub fn break_test(columns: &[Vec<f64>], target: &[f64], before: usize) -> Result<BreakTest, RegressionError> {
    let (rows, count) = (target.len(), columns.len());
    if before <= count || before >= rows {
        return Err(RegressionError::BreakTooNear { before, rows, needed: count + 1 });
    }
    let sum_between = |from: usize, to: usize| {
        let part: Vec<Vec<f64>> = columns.iter().map(|column| column[from..to].to_vec()).collect();
        let solved = least_squares(&part, &target[from..to])?;
        Ok::<f64, RegressionError>(solved.residuals.iter().map(|e| e * e).sum())
    };
    let (whole, first) = (sum_between(0, rows)?, sum_between(0, before)?);
    let after = rows - before;
    let predictive = after <= count;
    let (df1, df2, apart) = if predictive {
        (after, before - count, first)
    } else {
        (count, rows - 2 * count, first + sum_between(before, rows)?)
    };
    let statistic = (whole - apart).max(0.0) / df1 as f64 / (apart / df2 as f64);
    let p_value = fisher::survival(statistic, df1 as f64, df2 as f64)
        .ok_or(RegressionError::TooFewRows { rows, coefficients: 2 * count })?;
    Ok(BreakTest { before, f: FTest { statistic, df1, df2, p_value }, predictive })
}
