//! Measures of forecast accuracy.

use schemars::JsonSchema;
use serde::Serialize;

/// Measures of forecast accuracy: bias first.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct Accuracy {
    /// Forecasts with an actual value.
    pub count: usize,
    /// Mean error, actual minus forecast.
    pub me: f64,
    /// Mean error in per cent of the actual values; none where one is zero, or they have both signs.
    pub mpe: Option<f64>,
    /// Mean absolute error.
    pub mae: f64,
    /// Root mean squared error.
    pub rmse: f64,
    /// Mean absolute error in per cent of the actual values; none where one is zero, or they have both signs.
    pub mape: Option<f64>,
    /// Mean of `200 |error| / (|actual| + |forecast|)`; none where both are zero.
    pub smape: Option<f64>,
    /// Mean absolute scaled error: over a scale, if there is one.
    pub mase: Option<f64>,
}

/// Evaluates forecasts: pairs of actual value and forecast. `scale` is the mean
/// absolute seasonal difference of the series ([`mean_change`]). None without any pair.
///
/// # Source
/// Hyndman, R. J. and Koehler, A. B. (2006), International Journal of Forecasting 22, 679-688.
pub fn accuracy(pairs: &[(f64, f64)], scale: Option<f64>) -> Option<Accuracy> {
    if pairs.is_empty() {
        return None;
    }
    let n = pairs.len() as f64;
    let mean =
        |of: &dyn Fn(f64, f64) -> f64| pairs.iter().map(|(actual, own)| of(*actual, *own)).sum::<f64>() / n;
    let mae = mean(&|actual, own| (actual - own).abs());
    let shares =
        pairs.iter().all(|(actual, _)| *actual > 0.0) || pairs.iter().all(|(actual, _)| *actual < 0.0);
    let sums = pairs.iter().all(|(actual, own)| actual.abs() + own.abs() > 0.0);
    Some(Accuracy {
        count: pairs.len(),
        me: mean(&|actual, own| actual - own),
        rmse: mean(&|actual, own| (actual - own).powi(2)).sqrt(),
        mae,
        mpe: shares.then(|| mean(&|actual, own| 100.0 * (actual - own) / actual)),
        mape: shares.then(|| mean(&|actual, own| (100.0 * (actual - own) / actual).abs())),
        smape: sums.then(|| mean(&|actual, own| 200.0 * (actual - own).abs() / (actual.abs() + own.abs()))),
        mase: scale.filter(|scale| *scale > 0.0).map(|scale| mae / scale),
    })
}

/// The mean absolute change over `lag` periods, of the pairs that are known.
pub fn mean_change(cells: &[Option<f64>], lag: usize) -> Option<f64> {
    let pairs = cells.iter().skip(lag.max(1)).zip(cells);
    let changes: Vec<f64> = pairs.filter_map(|(now, then)| Some(((*now)? - (*then)?).abs())).collect();
    (!changes.is_empty()).then(|| changes.iter().sum::<f64>() / changes.len() as f64)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn measures_by_hand() {
        let found = accuracy(&[(10.0, 8.0), (20.0, 24.0)], Some(6.0)).expect("pairs");
        assert_eq!((found.me, found.mae, found.mase), (-1.0, 3.0, Some(0.5)));
        assert!((found.rmse - 10.0_f64.sqrt()).abs() < 1e-15);
        assert_eq!((found.mpe, found.mape), (Some(0.0), Some(20.0)));
        let smape = 0.5 * (400.0 / 18.0 + 800.0 / 44.0);
        assert!((found.smape.expect("sums") - smape).abs() < 1e-12);
        let both = accuracy(&[(1.0, 2.0), (-1.0, 0.0)], None).expect("pairs");
        assert_eq!((both.mpe, both.mape), (None, None), "a share of what has both signs says nothing");
        let zero = accuracy(&[(0.0, 1.0)], Some(0.0)).expect("a pair");
        assert_eq!((zero.mape, zero.mase, zero.smape), (None, None, Some(200.0)));
        assert_eq!(accuracy(&[], None), None);
    }

    #[test]
    fn changes_over_a_gap_are_left_out() {
        let cells = [Some(1.0), Some(4.0), None, Some(2.0), Some(3.0)];
        assert_eq!(mean_change(&cells, 1), Some(2.0));
        assert_eq!(mean_change(&cells, 2), Some(2.0));
        assert_eq!(mean_change(&cells[..1], 1), None);
    }
}
