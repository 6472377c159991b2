//! Regressors whose value is known in every period: trends, steps, ramps, pulses, seasonal dummies, harmonics, working days.

use std::fmt;

use crate::time::{Frequency, Period};

/// A regressor that the calendar alone determines.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Deterministic {
    /// Periods since one.
    Trend {
        /// Where it is zero.
        origin: Period,
    },
    /// Zero before a period, one from it on.
    Step {
        /// The first period of the new level.
        from: Period,
    },
    /// One inside, zero outside.
    Pulse {
        /// The first period inside.
        first: Period,
        /// The last one.
        last: Period,
    },
    /// Zero up to a period, then 1, 2, 3, …
    Ramp {
        /// The last period of the old slope.
        after: Period,
    },
    /// One in a place of the seasonal cycle, minus one in the first, zero in the others: the level keeps its meaning.
    Season {
        /// The seasonal period.
        length: i64,
        /// The place, from 1 to `length - 1`.
        place: i64,
        /// Where a cycle begins that the calendar does not know.
        start: Period,
        /// The first period of a new pattern, before which it is zero.
        from: Option<Period>,
    },
    /// The cosine or sine of a frequency of the season.
    Harmonic {
        /// The seasonal period.
        length: i64,
        /// Waves in a season.
        waves: i64,
        /// The sine instead of the cosine.
        is_sine: bool,
        /// How many harmonics belong together.
        of: i64,
        /// Where the cycle begins.
        start: Period,
    },
    /// Mondays to Fridays of the period.
    WorkingDays,
}

impl Deterministic {
    /// Its value in a period; none where the calendar has no answer.
    pub fn at(self, period: Period) -> Option<f64> {
        let since = |first: Period| period.steps_since(first);
        let number = |steps: i64| steps as f64;
        match self {
            Self::Trend { origin } => since(origin).map(number),
            Self::Step { from } => Some(f64::from(u8::from(period >= from))),
            Self::Pulse { first, last } => Some(f64::from(u8::from((first..=last).contains(&period)))),
            Self::Ramp { after } => since(after).map(|steps| number(steps.max(0))),
            Self::Season { from: Some(from), .. } if period < from => Some(0.0),
            Self::Season { length, place, start, .. } => Some(match place_in_cycle(period, length, start)? {
                own if own == place => 1.0,
                0 => -1.0,
                _ => 0.0,
            }),
            Self::Harmonic { length, waves, is_sine, start, .. } => {
                let place = number((since(start)? * waves).rem_euclid(length)) / number(length);
                let angle = std::f64::consts::TAU * place;
                Some(if is_sine { angle.sin() } else { angle.cos() })
            }
            Self::WorkingDays => period.workdays().map(f64::from),
        }
    }

    /// Cosines and sines of the first harmonics of a season; half the season has no sine.
    pub fn harmonics(number: usize, season: usize, start: Period) -> Vec<Self> {
        let length = i64::try_from(season).unwrap_or(i64::MAX);
        let of = i64::try_from(number).unwrap_or(i64::MAX).min(length / 2);
        let both =
            |waves: i64| [false, true].map(|is_sine| Self::Harmonic { length, waves, is_sine, of, start });
        let has_value =
            |one: &Self| !matches!(one, Self::Harmonic { waves, is_sine: true, .. } if 2 * waves == length);
        (1..=of).flat_map(both).filter(has_value).collect()
    }

    /// The dummies of a whole seasonal cycle, one fewer than it has places.
    pub fn seasons(season: usize, start: Period) -> Vec<Self> {
        let length = i64::try_from(season).unwrap_or(i64::MAX);
        (1..length).map(|place| Self::Season { length, place, start, from: None }).collect()
    }

    /// The same for a pattern that changes: what it adds to the old one from a period on.
    pub fn seasons_from(season: usize, start: Period, from: Period) -> Vec<Self> {
        let of = |one| match one {
            Self::Season { length, place, start, .. } => {
                Self::Season { length, place, start, from: Some(from) }
            }
            other => other,
        };
        Self::seasons(season, start).into_iter().map(of).collect()
    }
}

/// As a term of a list of regressors is written.
impl fmt::Display for Deterministic {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Trend { .. } => f.write_str("trend"),
            Self::Step { from } => write!(f, "step={from}"),
            Self::Pulse { first, last } if first == last => write!(f, "pulse={first}"),
            Self::Pulse { first, last } => write!(f, "pulse={first}..{last}"),
            Self::Ramp { after } => write!(f, "ramp={after}"),
            Self::Season { from: None, .. } => f.write_str("seasons"),
            Self::Season { from: Some(from), .. } => write!(f, "seasons={from}"),
            Self::Harmonic { of, .. } => write!(f, "harmonics={of}"),
            Self::WorkingDays => f.write_str("workdays"),
        }
    }
}

/// The place in the seasonal cycle, as the calendar counts it where that has such a cycle.
fn place_in_cycle(period: Period, length: i64, start: Period) -> Option<i64> {
    let by_calendar = matches!(
        period.frequency(),
        Frequency::Quarter | Frequency::Month | Frequency::Day | Frequency::Workday
    ) && i64::try_from(period.frequency().season()) == Ok(length);
    if by_calendar {
        period.season_place().and_then(|place| i64::try_from(place).ok())
    } else {
        period.steps_since(start).map(|steps| steps.rem_euclid(length))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn month(year: i64, month: i64) -> Period {
        Period::month(year, month).expect("a month")
    }

    #[test]
    fn harmonics_are_orthogonal_over_a_season() {
        let start = month(2003, 5);
        let all = Deterministic::harmonics(9, 12, start);
        // Five pairs, and the cosine of half the season.
        assert_eq!((all.len(), all[0].to_string()), (11, "harmonics=6".to_owned()));
        let column = |one: Deterministic| -> Vec<f64> {
            (0..12).map(|t| one.at(start.offset(t)).expect("a value")).collect()
        };
        for (i, a) in all.iter().enumerate() {
            for (j, b) in all.iter().enumerate() {
                let product: f64 = column(*a).iter().zip(column(*b)).map(|(a, b)| a * b).sum();
                let expected = match (i == j, i) {
                    (true, 10) => 12.0,
                    (true, _) => 6.0,
                    _ => 0.0,
                };
                assert!((product - expected).abs() < 1e-9, "{i} {j} {product}");
            }
        }
        assert_eq!(all[0].at(start), Some(1.0));
        assert!(Deterministic::harmonics(2, 1, start).is_empty());
    }

    #[test]
    fn values_by_hand() {
        let (origin, later) = (month(2003, 11), month(2004, 2));
        let at = |one: Deterministic| one.at(later);
        assert_eq!(at(Deterministic::Trend { origin }), Some(3.0));
        assert_eq!(at(Deterministic::Step { from: later }), Some(1.0));
        assert_eq!(Deterministic::Step { from: later }.at(origin), Some(0.0));
        assert_eq!(at(Deterministic::Pulse { first: origin, last: month(2004, 1) }), Some(0.0));
        assert_eq!(
            (at(Deterministic::Ramp { after: origin }), at(Deterministic::Ramp { after: later })),
            (Some(3.0), Some(0.0))
        );
        assert_eq!(Deterministic::Ramp { after: later }.at(origin), Some(0.0));
        // February 2004 has twenty Mondays to Fridays.
        assert_eq!(at(Deterministic::WorkingDays), Some(20.0));
    }

    #[test]
    fn dummies_of_a_year_sum_to_zero_and_span_a_fixed_pattern() {
        let all = Deterministic::seasons(12, month(2003, 5));
        assert_eq!(all.len(), 11);
        for one in &all {
            let sum: f64 = (0..12).filter_map(|t| one.at(month(2010, 1).offset(t))).sum();
            assert!(sum.abs() < 1e-15);
        }
        // The calendar's January is the first place, wherever the data begin.
        assert_eq!(all[0].at(month(2010, 1)), Some(-1.0));
        assert_eq!((all[0].at(month(2010, 2)), all[0].at(month(2010, 3))), (Some(1.0), Some(0.0)));
    }

    #[test]
    fn dummies_of_a_new_pattern_are_those_of_the_season_from_its_first_period_on() {
        let from = month(2010, 6);
        let pairs = Deterministic::seasons(12, month(2003, 5)).into_iter();
        for (old, new) in pairs.zip(Deterministic::seasons_from(12, month(2003, 5), from)) {
            for t in 0..24 {
                let period = month(2009, 12).offset(t);
                assert_eq!(new.at(period), if period < from { Some(0.0) } else { old.at(period) });
            }
        }
    }

    #[test]
    fn terms_are_written_as_they_are_typed() {
        let (first, last) = (month(2003, 1), month(2003, 4));
        let written = |one: Deterministic| one.to_string();
        assert_eq!(written(Deterministic::Pulse { first, last }), "pulse=2003-01..2003-04");
        assert_eq!(written(Deterministic::Pulse { first, last: first }), "pulse=2003-01");
        assert_eq!(written(Deterministic::Ramp { after: last }), "ramp=2003-04");
        let season = |from| Deterministic::Season { length: 4, place: 1, start: first, from };
        assert_eq!(written(season(None)), "seasons");
        assert_eq!(written(season(Some(last))), "seasons=2003-04");
    }
}
