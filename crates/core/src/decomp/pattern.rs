//! The seasonal pattern of a decomposition and how it has changed.

use schemars::JsonSchema;
use serde::Serialize;

use crate::series::Place;

/// A season as it is on average and as it has changed.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct Pattern {
    /// Each place of the season.
    pub places: Vec<PlacePattern>,
    /// Root mean square change from the first to the last season, as a share of the root mean
    /// square of the mean pattern's deviations.
    pub change: f64,
    /// Highest less lowest place of the first season.
    pub first_amplitude: f64,
    /// Of the last.
    pub last_amplitude: f64,
}

/// One place of the season.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct PlacePattern {
    /// From 0.
    pub place: usize,
    /// Mean over all seasons.
    pub mean: f64,
    /// When it first comes.
    pub first: f64,
    /// When it last comes.
    pub last: f64,
}

/// The season by places.
///
/// # Input
/// The season of every period, and where each period is in it. Places without a period
/// are left out.
pub fn pattern(season: &[f64], places: &[Place]) -> Pattern {
    let count = places.iter().map(|place| place.place + 1).max().unwrap_or(0);
    let mut own: Vec<Vec<f64>> = vec![Vec::new(); count];
    for (value, place) in season.iter().zip(places) {
        own[place.place].push(*value);
    }
    let one = |(place, values): (usize, &Vec<f64>)| {
        let (first, last) = (*values.first()?, *values.last()?);
        Some(PlacePattern { place, mean: values.iter().sum::<f64>() / values.len() as f64, first, last })
    };
    let places: Vec<PlacePattern> = own.iter().enumerate().filter_map(one).collect();
    let level = places.iter().map(|place| place.mean).sum::<f64>() / places.len().max(1) as f64;
    let size = places.iter().map(|place| (place.mean - level).powi(2)).sum::<f64>().sqrt();
    let moved = places.iter().map(|place| (place.last - place.first).powi(2)).sum::<f64>().sqrt();
    let amplitude = |value: fn(&PlacePattern) -> f64| {
        let values = places.iter().map(value);
        values.clone().fold(f64::NEG_INFINITY, f64::max) - values.fold(f64::INFINITY, f64::min)
    };
    Pattern {
        change: if size > 0.0 { moved / size } else { 0.0 },
        first_amplitude: amplitude(|place| place.first),
        last_amplitude: amplitude(|place| place.last),
        places,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn means_ends_and_swings_by_hand() {
        let season = [1.0, -1.0, 2.0, -2.0, 3.0, -3.0];
        let places: Vec<Place> =
            (0..6).map(|t| Place { cycle: t / 2, place: usize::from(t % 2 == 1) }).collect();
        let found = pattern(&season, &places);
        assert_eq!(found.places[1], PlacePattern { place: 1, mean: -2.0, first: -1.0, last: -3.0 });
        assert_eq!((found.first_amplitude, found.last_amplitude), (2.0, 6.0));
        assert!((found.change - 1.0).abs() < 1e-12);
    }
}
