//! Classical decomposition by moving averages.

use super::error::DecompError;
use super::moving::centred;

/// Trend, where it is known, and the season of every period.
pub(super) struct Classical {
    pub trend: Vec<Option<f64>>,
    pub season: Vec<f64>,
}

/// Decomposition by moving averages: one season for all years.
///
/// # Formula
/// Trend: the centred moving average over one season (half weights at both ends if s is even).
/// Season: at each place the mean of `y - trend` (of `y / trend`, if `ratio`), shifted to sum to
/// zero (scaled to a mean of one) over a season.
///
/// # Source
/// Kendall, M. and Stuart, A. (1966), The Advanced Theory of Statistics, vol. 3, ch. 46; the
/// ratio goes back to Macaulay, F. R. (1931), The Smoothing of Time Series.
///
/// # Errors
/// [`DecompError::EmptyPlace`] where a place has no value with a trend.
pub(super) fn classical(cells: &[Option<f64>], season: usize, ratio: bool) -> Result<Classical, DecompError> {
    let trend = centred(cells, season);
    let without = |t: usize| {
        let (value, trend) = (cells[t]?, trend[t]?);
        Some(if ratio { value / trend } else { value - trend })
    };
    let mean = |place: usize| {
        let own: Vec<f64> = (place..cells.len()).step_by(season).filter_map(without).collect();
        if own.is_empty() {
            Err(DecompError::EmptyPlace { place, season })
        } else {
            Ok(own.iter().sum::<f64>() / own.len() as f64)
        }
    };
    let means: Vec<f64> = (0..season).map(mean).collect::<Result<_, _>>()?;
    let level = means.iter().sum::<f64>() / season as f64;
    let pattern: Vec<f64> =
        means.iter().map(|mean| if ratio { mean / level } else { mean - level }).collect();
    Ok(Classical { trend, season: (0..cells.len()).map(|t| pattern[t % season]).collect() })
}
