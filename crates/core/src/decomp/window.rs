//! The windows of a decomposition, and their choice by cross-validation.

use rayon::prelude::*;
use schemars::JsonSchema;
use serde::Serialize;

use super::error::{DecompError, LEAST_SEASON_WINDOW};
use super::loess::{Loess, Points};
use super::moving::centred;
use crate::num::scale;
use crate::series::{Fill, fill};

/// How far a season may change over the years.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum SeasonWindow {
    /// Not at all: each place has its mean.
    Periodic,
    /// As far as local polynomials over that number of years (seasons) follow.
    Evolving(usize),
}

/// The windows that are tried where none is given.
const TRIED: [usize; 5] = [7, 11, 15, 23, 35];

impl SeasonWindow {
    /// Checks a window that was asked for.
    ///
    /// # Errors
    /// [`DecompError::SeasonWindow`] for an even or a short one.
    pub fn checked(self) -> Result<Self, DecompError> {
        match self {
            Self::Evolving(window) if window < LEAST_SEASON_WINDOW || window % 2 == 0 => {
                Err(DecompError::SeasonWindow(window))
            }
            fine => Ok(fine),
        }
    }

    /// What smooths the values of one place of the season.
    pub(super) fn smoother(self, degree: usize) -> SubSeries {
        match self {
            Self::Periodic => SubSeries::Mean,
            Self::Evolving(window) => SubSeries::Curve(Loess::new(window, degree)),
        }
    }
}

/// The trend window that separates trend and seasonal component: the smallest odd number from
/// `1.5 s / (1 - 1.5 / window)` on (Cleveland and others 1990, section 3.4).
pub fn default_trend_window(season: usize, window: SeasonWindow) -> usize {
    let reach = match window {
        SeasonWindow::Periodic => 1.5 * season as f64,
        SeasonWindow::Evolving(window) => 1.5 * season as f64 / (1.0 - 1.5 / window as f64),
    };
    // Positive and no larger than twice the season.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let whole = reach.ceil() as usize;
    if whole.is_multiple_of(2) { whole + 1 } else { whole }
}

/// A trend window that was asked for, or the usual one.
///
/// # Errors
/// [`DecompError`] for an even one, or one shorter than the season.
pub fn trend_window(asked: Option<usize>, season: usize, window: SeasonWindow) -> Result<usize, DecompError> {
    match asked {
        None => Ok(default_trend_window(season, window)),
        Some(window) if window < season => Err(DecompError::TrendWithinSeason { window, season }),
        Some(window) if window % 2 == 0 => Err(DecompError::EvenTrendWindow(window)),
        Some(window) => Ok(window),
    }
}

/// Smooths the values of one place of the season over the years.
#[derive(Debug, Clone)]
pub(super) enum SubSeries {
    Mean,
    Curve(Loess),
}

impl SubSeries {
    /// The smooth values from the year before the first slot on, that number of them.
    pub fn smooth(&self, points: Points<'_>, count: usize) -> Vec<f64> {
        match self {
            Self::Curve(loess) => loess.smooth(points, -1.0, count),
            Self::Mean => vec![mean(points); count],
        }
    }

    /// What the other years say about each.
    fn left_out(&self, points: Points<'_>) -> Vec<f64> {
        match self {
            Self::Curve(loess) => loess.left_out(points),
            Self::Mean => {
                let sum: f64 = points.values.iter().sum();
                let others = (points.values.len() as f64 - 1.0).max(1.0);
                points.values.iter().map(|value| (sum - value) / others).collect()
            }
        }
    }
}

/// The weighted mean; the plain one without any weight.
fn mean(points: Points<'_>) -> f64 {
    let plain = points.values.iter().sum::<f64>() / points.values.len() as f64;
    let Some(weights) = points.weights else {
        return plain;
    };
    let total: f64 = weights.iter().sum();
    let sum: f64 = weights.iter().zip(points.values).map(|(weight, value)| weight * value).sum();
    if total > f64::MIN_POSITIVE { sum / total } else { plain }
}

/// Fewer years than this say nothing about each other.
const MIN_CYCLES_VALIDATED: usize = 3;
/// A window other than periodic must predict better by that number of standard errors.
const CLEARLY: f64 = 2.0;

/// The window under which the other years foresee each value best.
///
/// # Formula
/// The series less its centred moving average (gaps filled for it) is cut into one series for each place of the
/// season; each value is predicted by the smoother of its place without it. Among 7, 11, 15, 23
/// and 35 years that with the least mean absolute error is taken (no more years than there are,
/// the stiffer of equals) if its errors are smaller than those of a periodic season by more than
/// two standard errors of the mean difference; else the season is periodic.
pub(super) fn choose(cells: &[Option<f64>], season: usize, degree: usize) -> SeasonWindow {
    let detrended = detrended(cells, season);
    let years = cells.len() / season.max(1);
    let fixed = errors(&detrended, season, &SubSeries::Mean);
    let mut best: Option<(f64, SeasonWindow, Vec<f64>)> = None;
    for window in TRIED.into_iter().rev().filter(|window| *window <= years) {
        let window = SeasonWindow::Evolving(window);
        let own = errors(&detrended, season, &window.smoother(degree));
        let mean = scale::mean(&own);
        if best.as_ref().is_none_or(|(least, ..)| mean < *least) {
            best = Some((mean, window, own));
        }
    }
    let better = best.filter(|(_, _, own)| clearly_smaller(own, &fixed));
    better.map_or(SeasonWindow::Periodic, |(_, window, _)| window)
}

/// The known values less their centred moving average, for which gaps are filled around the mean
/// of each place.
fn detrended(cells: &[Option<f64>], season: usize) -> Vec<Option<f64>> {
    let filled = fill(cells, Fill::Seasonal, season).cells;
    let level = centred(&filled, season);
    cells.iter().zip(&level).map(|(cell, level)| Some((*cell)? - (*level)?)).collect()
}

/// Whether cross-validated predictions are better with the season than without one, by more than two
/// standard errors of the mean difference of the absolute errors.
pub(super) fn season_foretells(
    cells: &[Option<f64>],
    season: usize,
    window: SeasonWindow,
    degree: usize,
) -> bool {
    let detrended = detrended(cells, season);
    let with = errors(&detrended, season, &window.smoother(degree));
    clearly_smaller(&with, &without_season(&detrended, season))
}

/// Absolute errors of predicting zero, in the order of [`errors`].
fn without_season(detrended: &[Option<f64>], season: usize) -> Vec<f64> {
    let of_place = |place| SubPoints::of(detrended, None, season, place).values;
    let judged = (0..season).map(of_place).filter(|values| values.len() >= MIN_CYCLES_VALIDATED);
    judged.flatten().map(f64::abs).collect()
}

/// Whether errors are smaller by more than two standard errors of the mean difference.
fn clearly_smaller(own: &[f64], than: &[f64]) -> bool {
    let gains: Vec<f64> = than.iter().zip(own).map(|(than, own)| than - own).collect();
    let gain = scale::mean(&gains);
    let squares: f64 = gains.iter().map(|one| (one - gain).powi(2)).sum();
    gain > CLEARLY * squares.sqrt() / gains.len().max(1) as f64
}

/// Absolute errors of the values predicted by the other years.
fn errors(detrended: &[Option<f64>], season: usize, smoother: &SubSeries) -> Vec<f64> {
    let of_place = |place: usize| {
        let own = SubPoints::of(detrended, None, season, place);
        if own.values.len() < MIN_CYCLES_VALIDATED {
            return Vec::new();
        }
        let predicted = smoother.left_out(own.points());
        own.values.iter().zip(&predicted).map(|(value, fit)| (value - fit).abs()).collect()
    };
    let parts: Vec<Vec<f64>> = (0..season).into_par_iter().map(of_place).collect();
    parts.concat()
}

/// The known values at one place of the season, and the years they belong to.
pub(super) struct SubPoints {
    pub years: Vec<f64>,
    pub values: Vec<f64>,
    pub weights: Option<Vec<f64>>,
}

impl SubPoints {
    /// Those of the place, counted from the first cell.
    pub fn of(cells: &[Option<f64>], weights: Option<&[f64]>, season: usize, place: usize) -> Self {
        let mut own = Self { years: Vec::new(), values: Vec::new(), weights: weights.map(|_| Vec::new()) };
        for (year, t) in (place..cells.len()).step_by(season).enumerate() {
            if let Some(value) = cells[t] {
                own.years.push(year as f64);
                own.values.push(value);
                if let (Some(kept), Some(all)) = (own.weights.as_mut(), weights) {
                    kept.push(all[t]);
                }
            }
        }
        own
    }

    pub fn points(&self) -> Points<'_> {
        Points { places: &self.years, values: &self.values, weights: self.weights.as_deref() }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn trend_windows_follow_the_paper() {
        // Cleveland and others (1990) take 1.5 s / (1 - 1.5 / 35) for s = 12: 19.
        assert_eq!(default_trend_window(12, SeasonWindow::Evolving(35)), 19);
        assert_eq!(default_trend_window(12, SeasonWindow::Evolving(7)), 23);
        assert_eq!(default_trend_window(365, SeasonWindow::Periodic), 549);
        let asked = |window| trend_window(Some(window), 12, SeasonWindow::Periodic);
        assert_eq!(asked(11), Err(DecompError::TrendWithinSeason { window: 11, season: 12 }));
        assert_eq!((asked(14), asked(13)), (Err(DecompError::EvenTrendWindow(14)), Ok(13)));
        assert!(SeasonWindow::Evolving(8).checked().is_err() && SeasonWindow::Evolving(5).checked().is_err());
    }

    #[test]
    fn a_fixed_season_is_called_periodic_and_a_moving_one_evolving() {
        let noise = NormalStream::new(5, 0).take(240);
        let series = |drift: f64| -> Vec<Option<f64>> {
            let value = |(t, e): (usize, &f64)| {
                let angle = std::f64::consts::TAU * (t as f64 - drift * t as f64 / 240.0) / 12.0;
                Some(10.0 * angle.sin() + e)
            };
            noise.iter().enumerate().map(value).collect()
        };
        assert_eq!(choose(&series(0.0), 12, 1), SeasonWindow::Periodic);
        assert!(matches!(choose(&series(2.0), 12, 1), SeasonWindow::Evolving(_)));
    }
}
