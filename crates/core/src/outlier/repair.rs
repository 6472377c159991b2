//! Values in the place of outliers.

use schemars::JsonSchema;
use serde::Serialize;

use super::error::OutlierError;
use super::event::EventKind;
use super::likelihood::additive_sizes;
use super::search::Outliers;
use crate::series::{Fill, fill};

/// What an outlier is replaced by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Repair {
    /// The mean of the middle half of the other years at its place of the season, about the trend.
    SeasonalMean,
    /// A straight line between its neighbours, added to the season.
    Interpolate,
    /// What a model of the others predicts from both sides.
    Model,
}

impl Repair {
    /// By the season where there is one.
    pub fn usual(season: usize) -> Self {
        if season > 1 { Self::SeasonalMean } else { Self::Interpolate }
    }
}

/// A value that was replaced.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Repaired {
    /// Where.
    pub place: usize,
    /// What it was.
    pub from: f64,
    /// What it is.
    pub to: f64,
}

/// Replaces the marked values. Level shifts stay: they are no single values.
///
/// # Errors
/// [`OutlierError::NoSeason`] where there is no season to take a mean of; [`OutlierError::Deterministic`].
pub fn repair(
    y: &[f64],
    season: usize,
    found: &Outliers,
    rule: Repair,
) -> Result<Vec<Repaired>, OutlierError> {
    let single = found.marked().filter(|one| one.kind != EventKind::LevelShift);
    let places: Vec<usize> = single.map(|one| one.place).collect();
    if places.is_empty() {
        return Ok(Vec::new());
    }
    let to = match rule {
        Repair::SeasonalMean if season < 2 => return Err(OutlierError::NoSeason),
        Repair::SeasonalMean => by_season(y, season, found, &places),
        Repair::Interpolate => by_neighbours(y, found, &places),
        Repair::Model => {
            let adjusted: Vec<f64> =
                y.iter().zip(&found.background.season).map(|(value, season)| value - season).collect();
            let sizes = additive_sizes(&adjusted, &places, &found.events)?;
            places.iter().zip(sizes).map(|(place, size)| y[*place] - size).collect()
        }
    };
    Ok(places.into_iter().zip(to).map(|(place, to)| Repaired { place, from: y[place], to }).collect())
}

/// The trend, with any shift of level, and the usual gap to it at the same place in other years.
fn by_season(y: &[f64], season: usize, found: &Outliers, places: &[usize]) -> Vec<f64> {
    let trend = |t: usize| found.expected[t] - found.background.season[t];
    let usual_gap = |place: usize| {
        let others = (place % season..y.len()).step_by(season).filter(|t| !places.contains(t));
        let gaps: Vec<f64> = others.map(|t| y[t] - trend(t)).collect();
        if gaps.is_empty() { found.background.season[place] } else { interquartile_mean(gaps) }
    };
    places.iter().map(|place| trend(*place) + usual_gap(*place)).collect()
}

/// The mean of the middle half, so that a single bad value among few does not count.
fn interquartile_mean(mut values: Vec<f64>) -> f64 {
    values.sort_by(f64::total_cmp);
    let cut = values.len().div_ceil(4).min(values.len().saturating_sub(1) / 2);
    let middle = values.get(cut..values.len() - cut).unwrap_or_default();
    middle.iter().sum::<f64>() / middle.len().max(1) as f64
}

fn by_neighbours(y: &[f64], found: &Outliers, places: &[usize]) -> Vec<f64> {
    let season = &found.background.season;
    let open = |t: usize| Some(y[t] - season[t]).filter(|_| !places.contains(&t));
    let cells: Vec<Option<f64>> = (0..y.len()).map(open).collect();
    let filled = fill(&cells, Fill::Linear, 1).cells;
    // At the ends the nearest known value is carried on.
    let nearest = |place: usize| {
        let before = filled.iter().take(place).rev().flatten().next();
        before.or_else(|| filled.iter().skip(place).flatten().next()).copied()
    };
    let value = |place: usize| filled[place].or_else(|| nearest(place)).unwrap_or(found.expected[place]);
    places.iter().map(|place| value(*place) + season[*place]).collect()
}
