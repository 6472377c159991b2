//! Lag orders of a regression with a break at each date.

use std::ops::RangeInclusive;

use super::breaks::{BreakSearch, break_search, rows_before};
use super::lagrange::{LagrangeModel, LagrangeSearch, lagrange_lags, lagrange_search};
use crate::lag::{Criterion, LagRule};
use crate::nulldist::BreakModel;
use crate::num::triangular::TriangularFactor;
use crate::ols::{OlsError, nested_residual_sums};

/// How the lags of a regression with breaks are chosen.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum BreakLagRule {
    /// A given number.
    Given(usize),
    /// With the best criterion.
    Criterion(Criterion),
}

impl BreakLagRule {
    /// The modified criterion and t-tests are made for a regression without a break: AIC is
    /// for them.
    pub fn of(rule: LagRule) -> Self {
        match rule {
            LagRule::Given(lags) => Self::Given(lags),
            LagRule::Criterion(criterion) => Self::Criterion(criterion),
            LagRule::Maic | LagRule::T => Self::Criterion(Criterion::Aic),
        }
    }

    /// The rule in effect.
    pub fn in_effect(self) -> LagRule {
        match self {
            Self::Given(lags) => LagRule::Given(lags),
            Self::Criterion(criterion) => LagRule::Criterion(criterion),
        }
    }

    /// Whether the data choose.
    pub fn is_search(self) -> bool {
        matches!(self, Self::Criterion(_))
    }
}

/// [`break_search`] with lags that the data choose: the date without lags, the lags up to
/// `most` with the best criterion for a break there, the date again.
///
/// # Errors
/// [`OlsError`].
pub fn break_search_with_lags(
    x: &[f64],
    model: BreakModel,
    criterion: Criterion,
    most: usize,
    dates: RangeInclusive<usize>,
) -> Result<(usize, BreakSearch), OlsError> {
    let first = break_search(x, model, 0, dates.clone())?;
    let lags = best_lags(x, model, first.before, criterion, most)?;
    Ok((lags, if lags == 0 { first } else { break_search(x, model, lags, dates)? }))
}

/// [`lagrange_search`] with lags that the data choose in the same way.
///
/// # Errors
/// [`OlsError`].
pub fn lagrange_search_with_lags(
    x: &[f64],
    model: LagrangeModel,
    criterion: Criterion,
    most: usize,
    fewest: usize,
) -> Result<(usize, LagrangeSearch), OlsError> {
    let first = lagrange_search(x, LagrangeModel { lags: 0, ..model }, fewest)?;
    let lags = lagrange_lags(x, LagrangeModel { lags: most, ..model }, &first.before, criterion)?;
    Ok((lags, if lags == 0 { first } else { lagrange_search(x, LagrangeModel { lags, ..model }, fewest)? }))
}

/// The lags with the best criterion for a break at this date, all on one sample.
fn best_lags(
    x: &[f64],
    model: BreakModel,
    before: usize,
    criterion: Criterion,
    most: usize,
) -> Result<usize, OlsError> {
    let dummies = if model == BreakModel::Both { 2 } else { 1 };
    let base = 3 + dummies;
    // With more lags too few rows would lie before the break.
    let most = most.min(before.saturating_sub(1 + rows_before(model)));
    let n = x.len() as f64;
    let mut factor = TriangularFactor::new(base + most + 1);
    for t in most + 1..x.len() {
        let since = (t + 1).saturating_sub(before) as f64 / n;
        let step = if t >= before { 1.0 } else { 0.0 };
        let both = match model {
            BreakModel::Intercept => [step, 0.0],
            BreakModel::Trend => [since, 0.0],
            BreakModel::Both => [step, since],
        };
        let fixed = [1.0, t as f64 / n, x[t - 1]].into_iter().chain(both.into_iter().take(dummies));
        let past = (1..=most).map(|i| x[t - i] - x[t - i - 1]);
        factor.push_row(fixed.chain(past).chain([x[t] - x[t - 1]]));
    }
    let sums = nested_residual_sums(&mut factor, base)?;
    Ok(criterion.best_of(&sums, base, factor.rows()).unwrap_or(0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn both_searches_take_the_lags_that_the_changes_have() {
        let mut x = NormalStream::new(25, 0).take(240);
        for t in 2..240 {
            x[t] += 0.6 * (x[t - 1] - x[t - 2]) + x[t - 1];
        }
        for model in BreakModel::ALL {
            let (lags, found) =
                break_search_with_lags(&x, model, Criterion::Bic, 6, 36..=204).expect("well posed");
            assert_eq!(lags, 1);
            assert_eq!(Ok(found), break_search(&x, model, 1, 36..=204));
        }
        let model = LagrangeModel { slope: true, breaks: 1, lags: 0 };
        let (lags, found) = lagrange_search_with_lags(&x, model, Criterion::Bic, 6, 36).expect("well posed");
        assert_eq!(lags, 1);
        assert_eq!(Ok(found), lagrange_search(&x, LagrangeModel { lags: 1, ..model }, 36));
    }
}
