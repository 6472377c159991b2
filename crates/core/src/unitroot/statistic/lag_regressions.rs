//! The ADF regressions of every lag order on one sample.

use crate::nulldist::Terms;
use crate::num::triangular::TriangularFactor;
use crate::ols::{OlsError, nested_residual_sums};

/// The regression of the change on the terms, the lagged level and that number of lagged changes,
/// on the sample that the largest number leaves.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LagRegression {
    /// Coefficient of the lagged level.
    pub level: f64,
    /// Residual sum of squares.
    pub residual_sum: f64,
    /// t-ratio of the last lagged change; none without lags.
    pub last_t: Option<f64>,
}

/// Critical value of the general-to-specific t rule: 10 %, two-sided.
const T_RULE: f64 = 1.645;

/// All of these regressions with 0, 1, …, `max_lags` lags, and how many rows they have.
///
/// # Numerics
/// One triangular factor serves all of them; back substitution for each.
///
/// # Errors
/// [`OlsError`].
pub fn lag_regressions(
    x: &[f64],
    terms: Terms,
    max_lags: usize,
) -> Result<(Vec<LagRegression>, usize), OlsError> {
    let mut factor = regression(x, terms, max_lags, max_lags);
    let level = terms.count();
    let sums = nested_residual_sums(&mut factor, level + 1)?;
    let rows = factor.rows();
    let triangle = factor.triangle();
    let target = level + 1 + max_lags;
    let regression = |lags: usize| {
        // The level's coefficient, solving from the last column up.
        let last = level + lags;
        let mut solution = vec![0.0; last + 1];
        for i in (level..=last).rev() {
            let known: f64 = (i + 1..=last).map(|j| triangle[(i, j)] * solution[j]).sum();
            solution[i] = (triangle[(i, target)] - known) / triangle[(i, i)];
        }
        let degrees = rows.saturating_sub(last + 1).max(1) as f64;
        // The last coefficient is z/r with standard error s/|r|.
        let t = triangle[(last, target)] * triangle[(last, last)].signum() / (sums[lags] / degrees).sqrt();
        LagRegression { level: solution[level], residual_sum: sums[lags], last_t: (lags > 0).then_some(t) }
    };
    Ok(((0..=max_lags).map(regression).collect(), rows))
}

/// The number of lags with the smallest modified AIC.
///
/// # Formula
/// `N ln σ̂²_p + 2 (τ_p + p)`, `τ_p = γ̂_p² Σ x̃²_{t-1} / σ̂²_p`, all on one sample; x̃ the
/// series without its terms, whose squares are given.
///
/// # References
/// Ng and Perron (2001), *Econometrica* 69, 1519-1554.
pub fn chosen_by_maic(regressions: &[LagRegression], rows: usize, level_squares: f64) -> usize {
    let n = rows as f64;
    let value = |(lags, regression): (usize, &LagRegression)| {
        let variance = regression.residual_sum / n;
        n * variance.ln() + 2.0 * (regression.level.powi(2) * level_squares / variance + lags as f64)
    };
    let values = regressions.iter().enumerate().map(value).enumerate();
    values.min_by(|a, b| a.1.total_cmp(&b.1)).map_or(0, |(lags, _)| lags)
}

/// The largest number of lags whose last one has a t-ratio beyond 1.645 (10 %).
///
/// # References
/// Hall (1994), *Journal of Business & Economic Statistics* 12, 461-470; Ng and Perron
/// (1995), *JASA* 90, 268-281.
pub fn chosen_by_t(regressions: &[LagRegression]) -> usize {
    let significant = |regression: &LagRegression| regression.last_t.is_some_and(|t| t.abs() > T_RULE);
    regressions.iter().rposition(significant).unwrap_or(0)
}

/// The regression with that number of lags on all rows that it can use: terms, lagged level, lagged
/// changes, change.
pub fn adf_regression(x: &[f64], terms: Terms, lags: usize) -> TriangularFactor {
    regression(x, terms, lags, lags)
}

/// Sum of squares of the lagged level without its terms, on the sample that that number of lags
/// leave: what the modified AIC needs.
///
/// # Errors
/// [`OlsError`].
pub fn level_squares(x: &[f64], terms: Terms, max_lags: usize) -> Result<f64, OlsError> {
    // After the terms, the level's own diagonal is what they leave of it.
    let mut factor = regression(x, terms, 0, max_lags);
    let level = terms.count();
    let triangle = factor.triangle();
    triangle.get((level, level)).map(|own| own * own).ok_or(OlsError::Collinear { column: level })
}

/// Columns: terms, lagged level, lagged changes, change; rows from `reserved + 1` on.
pub(super) fn regression(x: &[f64], terms: Terms, lags: usize, reserved: usize) -> TriangularFactor {
    let n = x.len() as f64;
    let mut factor = TriangularFactor::new(terms.count() + lags + 2);
    for t in reserved + 1..x.len() {
        let clock = (t as f64 + 0.5 - 0.5 * n) / n;
        let fixed = [1.0, clock].into_iter().take(terms.count());
        let past = (1..=lags).map(|i| x[t - i] - x[t - i - 1]);
        factor.push_row(fixed.chain([x[t - 1]]).chain(past).chain([x[t] - x[t - 1]]));
    }
    factor
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;
    use crate::ols::estimate;

    #[test]
    fn each_lag_order_has_the_estimates_of_its_own_regression() {
        let x = NormalStream::new(5, 0).take(60);
        for terms in Terms::ALL {
            let (regressions, rows) = lag_regressions(&x, terms, 4).expect("well posed");
            assert_eq!((regressions.len(), rows), (5, 55));
            for (lags, own) in regressions.iter().enumerate() {
                let fit = estimate(&mut regression(&x, terms, lags, 4)).expect("well posed");
                assert!((fit.coefficients[terms.count()] - own.level).abs() < 1e-11);
                assert!((fit.residual_sum - own.residual_sum).abs() < 1e-10);
                let last = terms.count() + lags;
                let t = fit.coefficients[last] / fit.covariance[(last, last)].sqrt();
                assert!(own.last_t.is_none_or(|ours| (ours - t).abs() < 1e-9), "{terms:?} {lags}");
            }
        }
    }

    #[test]
    fn the_t_rule_takes_the_last_lag_that_matters() {
        let regression = |t| LagRegression { level: 0.0, residual_sum: 1.0, last_t: t };
        assert_eq!(
            chosen_by_t(&[
                regression(None),
                regression(Some(0.3)),
                regression(Some(-2.0)),
                regression(Some(1.0))
            ]),
            2
        );
        assert_eq!(chosen_by_t(&[regression(None), regression(Some(0.3))]), 0);
    }
}
