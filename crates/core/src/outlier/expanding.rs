//! Outliers against an expanding window.

use crate::num::{normal, student};

/// Deviations needed before the next can be tested.
const MIN_OBSERVATIONS_EXPANDING: usize = 8;
/// Values that make the level of a series without season.
const RECENT: usize = 4;
/// That number of outliers in a row to the same side are a new level.
const ROW: usize = 3;

/// What the values before say about each value.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Expanding {
    /// Deviations as normal scores; none for the early part.
    pub scores: Vec<Option<f64>>,
    /// Places where a new level begins.
    pub shifts: Vec<usize>,
}

/// Each value against all earlier ones, as they stood at the time.
///
/// # Formula
/// The value less the mean of the season before it (of the last four values, without a season)
/// is compared with the mean of the same in all earlier years at its place of the season (in the
/// last few `years`, where the season evolves); the difference, over `√(1 + 1/k)` for k years, is
/// measured in standard deviations of all
/// such differences before it, and turned from a Student variable into a normal score. A value
/// beyond `limit` does not enter the later means; three in a row to one side are a new level,
/// to which the earlier values are moved.
///
/// # Cost
/// Linear in the number of values.
pub(super) fn expanding(y: &[f64], season: usize, years: Option<usize>, limit: f64) -> Expanding {
    let mut state = State::new(y, season, years, limit);
    for t in 0..y.len() {
        state.take(t);
    }
    Expanding { scores: state.scores, shifts: state.shifts }
}

struct State<'a> {
    y: &'a [f64],
    season: usize,
    limit: f64,
    /// The values with outliers replaced, all at today's level.
    kept: Vec<f64>,
    /// Sum of the last `span` kept values.
    recent: f64,
    span: usize,
    /// Years that a season lasts.
    years: f64,
    /// Number and mean of the deviations at each place of the season.
    places: Vec<(f64, f64)>,
    /// Number, mean and sum of squares of the standardised differences.
    spread: (f64, f64, f64),
    /// Difference of the last few outliers, in a row.
    row: Vec<f64>,
    scores: Vec<Option<f64>>,
    shifts: Vec<usize>,
}

impl<'a> State<'a> {
    fn new(y: &'a [f64], season: usize, years: Option<usize>, limit: f64) -> Self {
        Self {
            y,
            season: season.max(1),
            limit,
            kept: Vec::with_capacity(y.len()),
            recent: 0.0,
            span: if season > 1 { season } else { RECENT },
            years: years.map_or(f64::INFINITY, |years| years as f64),
            places: vec![(0.0, 0.0); season.max(1)],
            spread: (0.0, 0.0, 0.0),
            row: Vec::new(),
            scores: vec![None; y.len()],
            shifts: Vec::new(),
        }
    }

    fn take(&mut self, t: usize) {
        let place = t % self.season;
        if t < self.span {
            return self.keep(self.y[t]);
        }
        let level = self.recent / self.span as f64;
        let deviation = self.y[t] - level;
        let (count, mean) = self.places[place];
        if count < 1.0 {
            self.places[place] = (1.0, deviation);
            return self.keep(self.y[t]);
        }
        let difference = deviation - mean;
        let standard = difference / (1.0 + 1.0 / count).sqrt();
        self.scores[t] = self.score(standard);
        if self.scores[t].is_some_and(|score| score.abs() > self.limit) {
            return self.odd(t, difference, level + mean);
        }
        self.row.clear();
        // Once the years are up, older ones fade as newer ones come.
        let count = (count + 1.0).min(self.years);
        self.places[place] = (count, mean + difference / count);
        let (n, centre, squares) = self.spread;
        let moved = centre + (standard - centre) / (n + 1.0);
        self.spread = (n + 1.0, moved, squares + (standard - centre) * (standard - moved));
        self.keep(self.y[t]);
    }

    /// Where a standardised difference is among those before it.
    fn score(&self, standard: f64) -> Option<f64> {
        let (n, mean, squares) = self.spread;
        let sd = (squares / (n - 1.0)).sqrt();
        if n < MIN_OBSERVATIONS_EXPANDING as f64 || sd <= 0.0 {
            return None;
        }
        student_score((standard - mean) / (sd * (1.0 + 1.0 / n).sqrt()), n - 1.0)
    }

    fn odd(&mut self, t: usize, difference: f64, expected: f64) {
        if self.row.last().is_some_and(|last| last * difference < 0.0) {
            self.row.clear();
        }
        self.row.push(difference);
        if self.row.len() < ROW {
            return self.keep(expected);
        }
        // All values before are moved to the new level; those of the row are what they were.
        let shift = self.row.iter().sum::<f64>() / self.row.len() as f64;
        let start = t + 1 - self.row.len();
        self.kept.truncate(start);
        self.kept.iter_mut().for_each(|value| *value += shift);
        self.kept.extend_from_slice(&self.y[start..=t]);
        self.recent = self.kept.iter().rev().take(self.span).sum();
        for later in start + 1..=t {
            self.scores[later] = None;
        }
        self.shifts.push(start);
        self.row.clear();
    }

    fn keep(&mut self, value: f64) {
        self.kept.push(value);
        self.recent += value;
        if let Some(old) = self.kept.len().checked_sub(self.span + 1) {
            self.recent -= self.kept[old];
        }
    }
}

/// The normal score with the same tails as a Student variable.
pub(super) fn student_score(t: f64, degrees: f64) -> Option<f64> {
    // Whole and not negative.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let both = student::two_sided(t, degrees.max(0.0) as usize)?;
    // Beyond all tables the score is as good as the smallest number allows.
    Some(-t.signum() * normal::quantile((0.5 * both).max(f64::MIN_POSITIVE)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn seasonal(n: usize) -> Vec<f64> {
        let noise = NormalStream::new(9, 0).take(n);
        noise
            .iter()
            .enumerate()
            .map(|(t, e)| 20.0 + [4.0, -1.0, 2.0, -5.0][t % 4] + 0.1 * t as f64 + e)
            .collect()
    }

    #[test]
    fn one_outlier_is_significant_and_does_not_spoil_the_next_year() {
        let mut y = seasonal(80);
        y[50] += 9.0;
        let found = expanding(&y, 4, None, 3.0);
        assert!(found.scores[50].expect("judged") > 4.0);
        let later = found.scores[51..].iter().flatten().filter(|score| score.abs() > 3.0).count();
        assert_eq!((later, found.shifts.len()), (0, 0));
        // Two seasons make the first differences, eight more the first standard deviation.
        assert!(found.scores[..8 + 8].iter().all(Option::is_none) && found.scores[16].is_some());
    }

    #[test]
    fn a_new_level_is_found_where_it_begins_and_then_taken_as_usual() {
        let mut y = seasonal(120);
        y[60..].iter_mut().for_each(|value| *value += 12.0);
        let found = expanding(&y, 4, None, 3.0);
        assert_eq!(found.shifts, [60]);
        assert!(found.scores[63..].iter().flatten().all(|score| score.abs() < 4.0));
    }

    #[test]
    fn a_season_that_evolves_is_followed() {
        // One place of four sinks by one each year, without an end.
        let mut y = seasonal(160);
        y.iter_mut().enumerate().filter(|(t, _)| t % 4 == 0).for_each(|(t, value)| *value -= t as f64 / 4.0);
        let odd = |years| {
            expanding(&y, 4, years, 3.0).scores.iter().flatten().filter(|score| score.abs() > 3.0).count()
        };
        assert!(odd(Some(3)) < 2 && odd(None) > 4, "{} {}", odd(Some(3)), odd(None));
    }

    #[test]
    fn shift_and_unit_change_nothing() {
        let y = seasonal(60);
        let moved: Vec<f64> = y.iter().map(|v| 300.0 - 7.0 * v).collect();
        for (a, b) in expanding(&y, 4, None, 3.0).scores.iter().zip(expanding(&moved, 4, None, 3.0).scores) {
            assert_eq!(a.is_some(), b.is_some());
            assert!((a.unwrap_or(0.0) + b.unwrap_or(0.0)).abs() < 1e-7);
        }
    }
}
