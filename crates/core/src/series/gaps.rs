//! Missing values and what may take their place.

use std::ops::Range;

use schemars::JsonSchema;
use serde::Serialize;

use crate::num::scale;
use crate::time::Frequency;

/// How values missing inside a series are filled.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Fill {
    /// The last known value is carried forward.
    Previous,
    /// A straight line between the neighbours.
    Linear,
    /// A straight line between the neighbours once the mean of each place of the
    /// season is taken out; the means are put back.
    Seasonal,
}

/// Cells with their inner gaps filled, and the places that were.
#[derive(Debug, Clone, PartialEq)]
pub struct Filled {
    /// The cells; missing ends stay missing.
    pub cells: Vec<Option<f64>>,
    /// Places (0-based) of the filled ones.
    pub places: Vec<usize>,
}

/// Fills what is missing between known values.
///
/// # Input
/// One cell per period; `season` observations in a season, used by
/// [`Fill::Seasonal`] only. A place of the season without any known value takes
/// the mean of all.
pub fn fill(cells: &[Option<f64>], how: Fill, season: usize) -> Filled {
    let season = season.max(1);
    let means = match how {
        Fill::Seasonal => seasonal_means(cells, season),
        Fill::Previous | Fill::Linear => vec![0.0; season],
    };
    let mut filled = Filled { cells: cells.to_vec(), places: Vec::new() };
    let known: Vec<(usize, f64)> =
        cells.iter().enumerate().filter_map(|(place, cell)| cell.map(|value| (place, value))).collect();
    for pair in known.windows(2) {
        let [(left, before), (right, after)] = [pair[0], pair[1]];
        let adjusted = |place: usize, value: f64| value - means[place % season];
        for place in left + 1..right {
            let share = (place - left) as f64 / (right - left) as f64;
            let (start, end) = (adjusted(left, before), adjusted(right, after));
            let value = match how {
                Fill::Previous => before,
                Fill::Linear | Fill::Seasonal => start + share * (end - start) + means[place % season],
            };
            filled.cells[place] = Some(value);
            filled.places.push(place);
        }
    }
    filled
}

/// Places of the longest stretch of known values, the first of equally long ones; empty
/// without any.
pub fn longest_stretch(cells: &[Option<f64>]) -> Range<usize> {
    let (mut best, mut run) = (0..0, 0);
    for (place, cell) in cells.iter().enumerate() {
        run = if cell.is_some() { run + 1 } else { 0 };
        if run > best.len() {
            best = place + 1 - run..place + 1;
        }
    }
    best
}

/// The rule that suits the missing values of a series.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum GapsAdvice {
    /// Days without trade: the last price stands.
    Previous,
    /// Single values of seasonal data.
    Seasonal,
    /// Single values of data without a season.
    Linear,
    /// Too much is missing to be filled.
    None,
}

/// Holidays are no longer than this.
const LONGEST_HOLIDAY: usize = 5;
/// Holidays are at most this share of the working days.
const MOST_HOLIDAYS: f64 = 0.15;
/// Weekends are this share of all days.
const WEEKENDS: f64 = 2.0 / 7.0;
/// Filled values are at most this share of all.
const MOST_FILLED: f64 = 0.2;
/// Seasonal means need that number of seasons.
const MIN_CYCLES_SEASONAL_MEANS: usize = 3;
/// A gap longer than this share of the series is not bridged.
const LONGEST_BRIDGED: f64 = 0.05;

/// Which rule suits what is missing between known values: of days the previous value where the gaps are as few and as
/// short as holidays, or weekends and holidays; otherwise a line, about the seasonal means where there is a season; none where a
/// fifth of the values or a twentieth of the periods in one piece would be invented.
pub fn gaps_advice(cells: &[Option<f64>], frequency: Frequency) -> GapsAdvice {
    let season = frequency.season();
    let known: Vec<usize> = (0..cells.len()).filter(|place| cells[*place].is_some()).collect();
    let span = known.last().zip(known.first()).map_or(0, |(last, first)| last + 1 - first) as f64;
    let missing = span - known.len() as f64;
    let longest = known.windows(2).map(|pair| pair[1] - pair[0] - 1).max().unwrap_or(0);
    let bridged = longest as f64 <= (LONGEST_BRIDGED * span).max(season as f64).max(1.0);
    let holidays = match frequency {
        Frequency::Workday => missing <= MOST_HOLIDAYS * span,
        Frequency::Day => {
            let weekends = WEEKENDS * span;
            (0.9 * weekends..=weekends + MOST_HOLIDAYS * span).contains(&missing)
        }
        _ => false,
    };
    match season {
        _ if holidays && longest <= LONGEST_HOLIDAY => GapsAdvice::Previous,
        _ if missing > MOST_FILLED * span || !bridged => GapsAdvice::None,
        _ if season < 2 || known.len() < MIN_CYCLES_SEASONAL_MEANS * season => GapsAdvice::Linear,
        _ => GapsAdvice::Seasonal,
    }
}

/// The mean of the known values at each place of the season.
fn seasonal_means(cells: &[Option<f64>], season: usize) -> Vec<f64> {
    let all: Vec<f64> = cells.iter().flatten().copied().collect();
    let overall = scale::mean(&all);
    (0..season)
        .map(|place| {
            let own: Vec<f64> = cells.iter().skip(place).step_by(season).flatten().copied().collect();
            if own.is_empty() { overall } else { scale::mean(&own) }
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn values(cells: &[Option<f64>], how: Fill, season: usize) -> Vec<Option<f64>> {
        fill(cells, how, season).cells
    }

    const GAP: [Option<f64>; 6] = [None, Some(1.0), None, None, Some(4.0), None];

    #[test]
    fn lines_and_carried_values_by_hand() {
        let [one, four] = [Some(1.0), Some(4.0)];
        assert_eq!(values(&GAP, Fill::Previous, 1), [None, one, one, one, four, None]);
        assert_eq!(values(&GAP, Fill::Linear, 1), [None, one, Some(2.0), Some(3.0), four, None]);
        assert_eq!(fill(&GAP, Fill::Linear, 1).places, [2, 3]);
        assert_eq!(fill(&[None, None], Fill::Linear, 4).places, [] as [usize; 0]);
    }

    #[test]
    fn a_seasonal_fill_restores_a_season_on_a_flat_level() {
        let pattern = [10.0, 20.0, 60.0];
        let whole: Vec<Option<f64>> = (0..12).map(|t| Some(pattern[t % 3])).collect();
        let mut holed = whole.clone();
        holed[4] = None;
        holed[5] = None;
        for (ours, truth) in values(&holed, Fill::Seasonal, 3).iter().zip(&whole) {
            assert!((ours.expect("filled") - truth.expect("whole")).abs() < 1e-12);
        }
    }

    #[test]
    fn without_gaps_nothing_changes() {
        let whole: Vec<Option<f64>> = (0..9).map(|t| Some(f64::from(t * t))).collect();
        for how in [Fill::Previous, Fill::Linear, Fill::Seasonal] {
            let filled = fill(&whole, how, 4);
            assert_eq!((filled.cells, filled.places.len()), (whole.clone(), 0));
        }
    }

    #[test]
    fn the_advice_is_that_of_the_data() {
        let without = |n: usize, missing: &dyn Fn(usize) -> bool| -> Vec<Option<f64>> {
            (0..n).map(|t| (!missing(t)).then_some(t as f64)).collect()
        };
        let holidays = without(2_000, &|t| t % 26 == 7);
        assert_eq!(gaps_advice(&holidays, Frequency::Workday), GapsAdvice::Previous);
        assert_eq!(gaps_advice(&holidays, Frequency::Day), GapsAdvice::Seasonal);
        assert_eq!(gaps_advice(&holidays, Frequency::Year), GapsAdvice::Linear);
        let weekends = without(2_000, &|t| t % 7 > 4 || t % 90 == 7);
        assert_eq!(gaps_advice(&weekends, Frequency::Day), GapsAdvice::Previous);
        // A month without trade is no holiday, and half the values no gap.
        assert_eq!(
            gaps_advice(&without(300, &|t| (40..62).contains(&t)), Frequency::Workday),
            GapsAdvice::None
        );
        assert_eq!(gaps_advice(&without(300, &|t| t % 2 == 1), Frequency::Month), GapsAdvice::None);
        // Two years have no seasonal means to speak of.
        assert_eq!(gaps_advice(&without(24, &|t| t == 7), Frequency::Month), GapsAdvice::Linear);
        // One season is bridged by its pattern, whatever the length; missing ends are no gaps.
        assert_eq!(
            gaps_advice(&without(120, &|t| (40..52).contains(&t)), Frequency::Month),
            GapsAdvice::Seasonal
        );
        assert_eq!(
            gaps_advice(&without(120, &|t| !(10..30).contains(&t)), Frequency::Year),
            GapsAdvice::Linear
        );
        assert_eq!(gaps_advice(&[], Frequency::Workday), GapsAdvice::Previous);
    }

    #[test]
    fn the_longest_stretch_is_the_first_of_the_longest() {
        let cells =
            |text: &str| -> Vec<Option<f64>> { text.chars().map(|c| (c == 'x').then_some(1.0)).collect() };
        for (text, expected) in [("xx.xxx.xxx", 3..6), ("...", 0..0), ("xxx", 0..3), (".x", 1..2), ("", 0..0)]
        {
            assert_eq!(longest_stretch(&cells(text)), expected, "{text}");
        }
    }
}
