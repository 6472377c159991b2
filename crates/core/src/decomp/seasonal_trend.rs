//! Decomposition into seasonal components, trend and irregular component by local polynomials.

use rayon::prelude::*;

use super::error::DecompError;
use super::loess::{Loess, Points};
use super::moving::moving_average;
use super::window::{SeasonWindow, SubPoints, SubSeries};

/// Fewer values than this are not shared among threads.
const WORTH_SHARING: usize = 20_000;
/// Rounds that settle season and trend, at most.
const ROUNDS: usize = 20;
/// They end once neither moves by more than this share of its range.
const STILL: f64 = 1e-10;
/// Rounds of weighing, at most.
const WEIGHINGS: usize = 10;
/// They end once nothing moves by more than this share of its range.
const SETTLED: f64 = 0.01;

/// How one season is taken out.
#[derive(Debug, Clone, Copy)]
pub(super) struct Method {
    pub season: usize,
    pub seasonal_window: SeasonWindow,
    pub seasonal_degree: usize,
    pub trend_window: usize,
    pub trend_degree: usize,
    pub robust: bool,
}

/// Trend and season of every period, and the weight of each value.
#[derive(Debug, Clone)]
pub(super) struct Parts {
    pub trend: Vec<f64>,
    pub season: Vec<f64>,
    pub weights: Vec<f64>,
}

struct Smoother<'a> {
    cells: &'a [Option<f64>],
    /// Places of the known values.
    known: Vec<f64>,
    method: Method,
    sub_series: SubSeries,
    low_pass: Loess,
    trend: Loess,
}

/// Season and trend by local polynomials, in turn.
///
/// # Formula
/// Each round: the series less the trend is smoothed at each place of the season over the
/// years, one year beyond both ends; of that the low frequencies (moving averages of s, s and
/// 3, then a local line over the smallest odd window from s on) are taken out, which leaves the
/// season; the series less the season is smoothed to the trend. Rounds follow until neither
/// moves by more than 1e-10 of its range, so that the start does not matter (20 at most). With
/// robust weighing come weights `(1 - (|R| / 6 median|R|)²)²` by the irregular component R and a round
/// under them, up to ten times until nothing moves by more than a hundredth of its range, then
/// rounds under the last weights as before.
///
/// # Source
/// Cleveland, R. B. and others (1990), Journal of
/// Official Statistics 6, 3-73.
///
/// # Errors
/// [`DecompError::EmptyPlace`].
pub(super) fn seasonal_trend(cells: &[Option<f64>], method: Method) -> Result<Parts, DecompError> {
    let season = method.season;
    let low_pass = if season.is_multiple_of(2) { season + 1 } else { season };
    let is_known = |(t, cell): (usize, &Option<f64>)| cell.map(|_| t as f64);
    let workings = Smoother {
        cells,
        known: cells.iter().enumerate().filter_map(is_known).collect(),
        method,
        sub_series: method.seasonal_window.smoother(method.seasonal_degree),
        low_pass: Loess::new(low_pass.max(3), 1),
        trend: Loess::new(method.trend_window, method.trend_degree),
    };
    if let Some(place) =
        (0..season).find(|place| cells.iter().skip(*place).step_by(season).all(Option::is_none))
    {
        return Err(DecompError::EmptyPlace { place, season });
    }
    let n = cells.len();
    let mut parts = Parts { trend: vec![0.0; n], season: vec![0.0; n], weights: vec![1.0; n] };
    parts = workings.settled(parts);
    if !method.robust {
        return Ok(parts);
    }
    for _ in 0..WEIGHINGS {
        let weights = weights(cells, &parts);
        let next = workings.round(Parts { weights, ..parts.clone() });
        let settled = stands_still(&parts.trend, &next.trend, SETTLED)
            && stands_still(&parts.season, &next.season, SETTLED);
        parts = next;
        if settled {
            break;
        }
    }
    Ok(workings.settled(parts))
}

impl Smoother<'_> {
    fn round(&self, mut parts: Parts) -> Parts {
        parts.season = self.season(&parts);
        parts.trend = self.trend(&parts);
        parts
    }

    /// Rounds under the same weights until nothing moves.
    fn settled(&self, mut parts: Parts) -> Parts {
        for _ in 0..ROUNDS {
            let next = self.round(parts.clone());
            let still = stands_still(&parts.trend, &next.trend, STILL)
                && stands_still(&parts.season, &next.season, STILL);
            parts = next;
            if still {
                break;
            }
        }
        parts
    }

    /// The weights, if any differs from one.
    fn weights(parts: &Parts) -> Option<&[f64]> {
        parts.weights.iter().any(|weight| *weight < 1.0).then_some(parts.weights.as_slice())
    }

    fn season(&self, parts: &Parts) -> Vec<f64> {
        let (n, s) = (self.cells.len(), self.method.season);
        let detrended: Vec<Option<f64>> = self
            .cells
            .iter()
            .zip(&parts.trend)
            .map(|(cell, trend)| cell.map(|value| value - trend))
            .collect();
        let weights = Self::weights(parts);
        let of_place = |place: usize| {
            let own = SubPoints::of(&detrended, weights, s, place);
            self.sub_series.smooth(own.points(), (n - place).div_ceil(s) + 2)
        };
        let smooth: Vec<Vec<f64>> = if n < WORTH_SHARING {
            (0..s).map(of_place).collect()
        } else {
            (0..s).into_par_iter().map(of_place).collect()
        };
        // From one season before the first period to one after the last.
        let cycle: Vec<f64> = (0..n + 2 * s).map(|t| smooth[t % s][t / s]).collect();
        let low = self.low_frequencies(&cycle);
        cycle.iter().skip(s).zip(low).map(|(value, low)| value - low).collect()
    }

    /// What of the smoothed seasons belongs to the trend.
    fn low_frequencies(&self, cycle: &[f64]) -> Vec<f64> {
        let s = self.method.season;
        let averaged = moving_average(&moving_average(&moving_average(cycle, s), s), 3);
        let places: Vec<f64> = (0..averaged.len()).map(|t| t as f64).collect();
        let points = Points { places: &places, values: &averaged, weights: None };
        self.low_pass.smooth(points, 0.0, averaged.len())
    }

    fn trend(&self, parts: &Parts) -> Vec<f64> {
        let adjusted: Vec<f64> = self
            .cells
            .iter()
            .zip(&parts.season)
            .filter_map(|(cell, season)| cell.map(|v| v - season))
            .collect();
        let known = Self::weights(parts).map(|all| -> Vec<f64> {
            all.iter().zip(self.cells).filter(|(_, cell)| cell.is_some()).map(|(weight, _)| *weight).collect()
        });
        let points = Points { places: &self.known, values: &adjusted, weights: known.as_deref() };
        self.trend.smooth(points, 0.0, self.cells.len())
    }
}

/// Bisquare weights by the irregular component; ones where the median irregular component is no more than rounding.
fn weights(cells: &[Option<f64>], parts: &Parts) -> Vec<f64> {
    let sizes: Vec<Option<f64>> = (0..cells.len())
        .map(|t| cells[t].map(|value| (value - parts.trend[t] - parts.season[t]).abs()))
        .collect();
    let mut known: Vec<f64> = sizes.iter().flatten().copied().collect();
    known.sort_unstable_by(f64::total_cmp);
    let middle = crate::num::scale::quantile(&known, 0.5).unwrap_or_default();
    let largest = cells.iter().flatten().fold(0.0, |most: f64, value| most.max(value.abs()));
    if middle <= 1e-12 * largest {
        return vec![1.0; cells.len()];
    }
    let reach = 6.0 * middle;
    let weight = |size: &Option<f64>| {
        size.map_or(1.0, |size| {
            let rest = 1.0 - (size / reach).powi(2);
            if rest > 0.0 { rest * rest } else { 0.0 }
        })
    };
    sizes.iter().map(weight).collect()
}

/// Whether a part moves by no more than a share of its range.
fn stands_still(before: &[f64], after: &[f64], share: f64) -> bool {
    let change = before.iter().zip(after).map(|(a, b)| (a - b).abs()).fold(0.0, f64::max);
    let (low, high) =
        before.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), v| (low.min(*v), high.max(*v)));
    change <= share * (high - low)
}
