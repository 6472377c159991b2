//! Values by their position in the seasonal cycle.

use schemars::JsonSchema;
use serde::Serialize;

use crate::num::scale;
use crate::time::Period;

/// Where an observation is in the seasonal cycle of the series.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Place {
    /// The year (or week, for days; or cycle since the first observation).
    pub cycle: i64,
    /// The month, quarter, weekday or other place within it, from 0.
    pub place: usize,
}

/// The places of consecutive observations with `season` observations in a season.
///
/// Where that is the calendar's own season (12 for months, 4 for quarters, 7 for days),
/// places are those of the calendar; else they count from the first observation.
pub fn season_places(periods: &[Period], season: usize) -> Vec<Place> {
    let calendar = periods.first().is_some_and(|first| first.frequency().season() == season && season > 1);
    let counted =
        |t: usize| Place { cycle: i64::try_from(t / season.max(1)).unwrap_or(0), place: t % season.max(1) };
    let place = |(t, period): (usize, &Period)| match (period.season_place(), period.season_cycle()) {
        (Some(place), Some(cycle)) if calendar => Place { cycle, place },
        _ => counted(t),
    };
    periods.iter().enumerate().map(place).collect()
}

/// The five numbers of a box, and what lies beyond its whiskers.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct FiveNumbers {
    /// The lowest value within one and a half box heights below the box.
    pub low: f64,
    /// The lower quartile.
    pub lower: f64,
    /// The median.
    pub median: f64,
    /// The upper quartile.
    pub upper: f64,
    /// The highest value within one and a half box heights above the box.
    pub high: f64,
    /// Places (0-based) of the values beyond.
    pub beyond: Vec<usize>,
}

/// The box of some values; `None` without any.
///
/// # Source
/// Tukey, J. W. (1977), *Exploratory Data Analysis*; quartiles by linear interpolation
/// between order statistics (Hyndman and Fan 1996, definition 7).
pub fn five_numbers(values: &[f64]) -> Option<FiveNumbers> {
    let mut sorted = values.to_vec();
    sorted.sort_unstable_by(f64::total_cmp);
    let [lower, median, upper] = [0.25, 0.5, 0.75].map(|share| scale::quantile(&sorted, share));
    let (lower, median, upper) = (lower?, median?, upper?);
    let reach = 1.5 * (upper - lower);
    let inside = |value: &f64| *value >= lower - reach && *value <= upper + reach;
    let within: Vec<f64> = sorted.iter().copied().filter(inside).collect();
    Some(FiveNumbers {
        low: *within.first()?,
        lower,
        median,
        upper,
        high: *within.last()?,
        beyond: values
            .iter()
            .enumerate()
            .filter(|(_, value)| !inside(value))
            .map(|(place, _)| place)
            .collect(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn months_stand_in_their_year_and_other_seasons_count_from_the_start() {
        let start = Period::month(2003, 11).expect("valid");
        let periods: Vec<Period> = (0..4).map(|t| start.offset(t)).collect();
        let at = |season| -> Vec<(i64, usize)> {
            season_places(&periods, season).iter().map(|place| (place.cycle, place.place)).collect()
        };
        assert_eq!(at(12), [(2003, 10), (2003, 11), (2004, 0), (2004, 1)]);
        assert_eq!(at(3), [(0, 0), (0, 1), (0, 2), (1, 0)]);
    }

    #[test]
    fn weeks_of_days_run_from_monday() {
        let start = Period::parse("2024-01-06").expect("a Saturday");
        let periods: Vec<Period> = (0..3).map(|t| start.offset(t)).collect();
        let places = season_places(&periods, 7);
        assert_eq!(places.iter().map(|place| place.place).collect::<Vec<_>>(), [5, 6, 0]);
        assert_eq!(places[2].cycle, places[0].cycle + 1);
    }

    #[test]
    fn a_box_is_that_of_a_hand_count() {
        // Quartiles of 1..9 are 3, 5, 7, so whiskers end within -3 and 13.
        let five = five_numbers(&[9.0, 1.0, 2.0, 30.0, 3.0, 4.0, 5.0, 6.0, 7.0, 8.0, -30.0]).expect("values");
        assert_eq!((five.low, five.median, five.high), (1.0, 5.0, 9.0));
        assert_eq!((five.lower, five.upper), (2.5, 7.5));
        assert_eq!(five.beyond, [3, 10]);
        assert_eq!(five_numbers(&[]), None);
    }
}
