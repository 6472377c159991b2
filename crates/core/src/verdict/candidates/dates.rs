//! Where a break would be.

use crate::lag::Criterion;
use crate::nulldist::BreakModel;
use crate::num::triangular::TriangularFactor;
use crate::ols::nested_residual_sums;
use crate::unitroot::statistic::least_residual_date;

/// Share of the series, in hundredths, left out at either end.
const TRIM: usize = 15;

/// The number of observations before the break that fits an ADF regression best, lags by
/// BIC, chosen once more after; `None` for a series too short.
pub fn break_date(x: &[f64], model: BreakModel, trend: bool) -> Option<usize> {
    let n = x.len();
    let dates = (TRIM * n).div_ceil(100)..=(100 - TRIM) * n / 100;
    let most = (n / 12).clamp(1, 8);
    let first = least_residual_date(x, model, lags(x, None, trend, most)?, trend, dates.clone())?;
    let again = lags(x, Some((model, first)), trend, most)?;
    least_residual_date(x, model, again, trend, dates)
}

/// The number of observations before the change that is farthest from the mean change.
pub fn largest_change(x: &[f64]) -> Option<usize> {
    let n = x.len();
    let mean = (x.last()? - x.first()?) / (n as f64 - 1.0);
    let inside = (TRIM * n).div_ceil(100)..=(100 - TRIM) * n / 100;
    let size = |before: usize| (x[before] - x[before - 1] - mean).abs();
    inside.filter(|before| (1..n).contains(before)).max_by(|a, b| size(*a).total_cmp(&size(*b)))
}

/// Lags of the ADF regression by BIC, with a break if one is given.
fn lags(x: &[f64], dummy: Option<(BreakModel, usize)>, trend: bool, most: usize) -> Option<usize> {
    let n = x.len();
    let fixed = 2 + usize::from(trend) + usize::from(dummy.is_some());
    let mut factor = TriangularFactor::new(fixed + most + 1);
    for t in most + 1..n {
        let since = dummy.map(|(model, before)| match model {
            BreakModel::Trend => (t + 1).saturating_sub(before) as f64 / n as f64,
            BreakModel::Intercept | BreakModel::Both => f64::from(u8::from(t >= before)),
        });
        let clock = trend.then_some(t as f64 / n as f64);
        let past = (1..=most).map(|i| x[t - i] - x[t - i - 1]);
        let row = [1.0, x[t - 1]].into_iter().chain(clock).chain(since).chain(past);
        factor.push_row(row.chain([x[t] - x[t - 1]]));
    }
    let rows = factor.rows();
    let sums = nested_residual_sums(&mut factor, fixed).ok()?;
    Criterion::Bic.best_of(&sums, fixed, rows)
}
