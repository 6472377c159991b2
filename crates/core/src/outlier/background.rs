//! A series without its outliers, against which they are compared.

use super::error::OutlierError;
use crate::decomp::{DecompOptions, Loess, Points, SeasonWindow, by_loess};
use crate::num::scale;

/// What a series would be without outliers: trend and season that these do not move.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Background {
    /// Over how many years a season that evolves may change; none for one that does not.
    pub evolving: Option<usize>,
    /// Degrees of freedom that the season takes.
    pub degrees: f64,
    pub trend: Vec<f64>,
    pub season: Vec<f64>,
}

/// Values that the trend of a series without season takes together.
const TREND_WINDOW: usize = 13;
/// What arithmetic leaves of the largest value.
const ROUNDING: f64 = 1e-12;

/// Rounds of weighing of such a trend.
const ROUNDS: usize = 5;

impl Background {
    /// Of the robust decomposition; where there is no season, a robust local line.
    pub fn of(y: &[f64], season: usize) -> Result<Self, OutlierError> {
        if season > 1 {
            let cells: Vec<Option<f64>> = y.iter().copied().map(Some).collect();
            let options = DecompOptions { robust: true, ..DecompOptions::of(season) };
            let found = by_loess(&cells, &options)?;
            let (length, years) = (season, y.len() as f64 / season as f64);
            let season = found.season();
            let evolving = found.windows.iter().find_map(|windows| match windows.seasonal_window {
                SeasonWindow::Evolving(window) => Some(window),
                SeasonWindow::Periodic => None,
            });
            // A season that evolves is a new one after each window of years.
            let lives = evolving.map_or(1.0, |window| 1.0 + years / window as f64);
            let degrees = lives * (length as f64 - 1.0);
            return Ok(Self {
                evolving,
                degrees,
                trend: found.trend.into_iter().flatten().collect(),
                season,
            });
        }
        let places: Vec<f64> = (0..y.len()).map(|t| t as f64).collect();
        let line = Loess::new(TREND_WINDOW, 1);
        let mut weights = vec![1.0; y.len()];
        let mut trend = Vec::new();
        for _ in 0..ROUNDS {
            let points = Points { places: &places, values: y, weights: Some(&weights) };
            trend = line.smooth(points, 0.0, y.len());
            let sizes: Vec<f64> = y.iter().zip(&trend).map(|(value, level)| (value - level).abs()).collect();
            let reach = 6.0 * scale::median(&sizes);
            if reach <= 0.0 {
                break;
            }
            let weight = |size: &f64| (1.0 - (size / reach).powi(2)).max(0.0).powi(2);
            weights = sizes.iter().map(weight).collect();
        }
        Ok(Self { evolving: None, degrees: 0.0, trend, season: vec![0.0; y.len()] })
    }

    /// Whether what it leaves of the series is more than arithmetic leaves of a series that is exactly it.
    pub fn leaves_more_than_rounding(&self, y: &[f64]) -> bool {
        let largest = |values: &[f64]| values.iter().fold(0.0, |most: f64, value| most.max(value.abs()));
        largest(&self.remainder(y)) > ROUNDING * largest(y)
    }

    /// What a value would be if no outlier had occurred.
    pub fn expected(&self, t: usize) -> f64 {
        self.trend[t] + self.season[t]
    }

    /// What is left of each value.
    pub fn remainder(&self, y: &[f64]) -> Vec<f64> {
        y.iter().enumerate().map(|(t, value)| value - self.expected(t)).collect()
    }
}
