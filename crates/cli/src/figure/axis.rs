//! Scales and where their ticks fall.

use kandrel_core::time::{Frequency, Period};

/// A straight map from values to places.
#[derive(Debug, Clone, Copy)]
pub struct Scale {
    pub low: f64,
    pub high: f64,
    pub at_low: f64,
    pub at_high: f64,
}

impl Scale {
    /// The place of a value; the middle where there is only one value.
    pub fn at(&self, value: f64) -> f64 {
        let share = if self.high > self.low { (value - self.low) / (self.high - self.low) } else { 0.5 };
        self.at_low + share * (self.at_high - self.at_low)
    }
}

/// An axis has at least this number of labels.
const MIN_TICKS: usize = 3;

/// Round values from `low` to `high`, about `wanted` of them but at least three, and how many decimals they need; the
/// value itself where there is only one.
pub fn round_ticks(low: f64, high: f64, wanted: usize) -> (Vec<f64>, usize) {
    if high <= low {
        return (vec![low], 3);
    }
    let rough = (high - low) / wanted.max(1) as f64;
    let power = 10_f64.powf(rough.log10().floor());
    // Multipliers and the decimals they need beyond those of the power.
    let steps = [(10.0, 0), (5.0, 0), (2.5, 1), (2.0, 0), (1.0, 0), (0.5, 1), (0.25, 2), (0.2, 1), (0.1, 1)];
    let coarsest = steps.iter().rposition(|(m, more)| *more == 0 && m * power >= rough).unwrap_or(0);
    // Multiples of a step may lie around the range: then a finer step.
    let mut all = steps.iter().skip(coarsest).map(|(m, more)| (multiples(low, high, m * power), *more));
    let enough = all.clone().find(|(ticks, _)| ticks.len() >= MIN_TICKS);
    let (ticks, more) = enough.or_else(|| all.next_back()).unwrap_or((vec![low], 0));
    // Decimals of a step are few.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let decimals = (f64::from(more) - (power * (1.0 + 1e-9)).log10().floor()).clamp(0.0, 12.0) as usize;
    (ticks, decimals)
}

/// The multiples of a step between two values.
fn multiples(low: f64, high: f64, step: f64) -> Vec<f64> {
    let first = (low / step).ceil();
    // A handful.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let count = ((high / step).floor() - first + 1.0).max(0.0) as usize;
    (0..count).map(|k| (first + k as f64) * step).collect()
}

/// The periods to label: as many as fit, at round places of their calendar; at least three where the axis has three.
pub fn period_ticks(
    frequency: Frequency,
    length: usize,
    most: usize,
    period: &dyn Fn(usize) -> Period,
) -> Vec<usize> {
    let mut finer: Vec<usize> = (0..length).collect();
    for rule in rules(frequency) {
        let ticks: Vec<usize> = (0..length).filter(|t| rule.holds(period(*t))).collect();
        if ticks.len() < MIN_TICKS {
            break;
        }
        if ticks.len() <= most {
            return ticks;
        }
        finer = ticks;
    }
    // No rule has a number in between: evenly spaced ones of the last that has too many.
    let step = finer.len().div_ceil(most.max(1)).max(1);
    finer.into_iter().step_by(step).collect()
}

/// Periods whose number, or whose month or year, is a multiple.
enum Rule {
    Every(i64),
    MonthStart(i64),
    /// The first workday of such a month.
    MonthOf(i64),
}

impl Rule {
    fn holds(&self, period: Period) -> bool {
        match self {
            Self::Every(step) => period.is_multiple_of(*step),
            Self::MonthStart(months) => period.first_day().is_some_and(|date| {
                let month = Period::containing(date, Frequency::Month);
                date.day() == 1 && month.is_some_and(|month| month.is_multiple_of(*months))
            }),
            Self::MonthOf(months) => {
                let month = |period: Period| Period::containing(period.first_day()?, Frequency::Month);
                month(period) != month(period.offset(-1))
                    && month(period).is_some_and(|month| month.is_multiple_of(*months))
            }
        }
    }
}

fn rules(frequency: Frequency) -> Vec<Rule> {
    let months = [1, 3, 6, 12, 24, 60, 120, 240, 600];
    match frequency {
        Frequency::Week(_) => {
            [1, 2, 4, 13, 26, 52, 104, 260, 520, 1040].into_iter().map(Rule::Every).collect()
        }
        Frequency::Workday => {
            [1, 5, 10].into_iter().map(Rule::Every).chain(months.into_iter().map(Rule::MonthOf)).collect()
        }
        Frequency::Day => {
            [1, 7, 14].into_iter().map(Rule::Every).chain(months.into_iter().map(Rule::MonthStart)).collect()
        }
        Frequency::Month => months.into_iter().map(Rule::Every).collect(),
        Frequency::Quarter => [1, 2, 4, 8, 20, 40, 80, 200].into_iter().map(Rule::Every).collect(),
        Frequency::Year | Frequency::Undated => {
            let tens = (0..9_u32).map(|power| 10_i64.pow(power));
            tens.flat_map(|ten| [1, 2, 5].map(|m| Rule::Every(m * ten))).collect()
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ticks(start: Period, length: usize, most: usize) -> Vec<usize> {
        let period = |t: usize| start.offset(i64::try_from(t).unwrap_or(i64::MAX));
        period_ticks(start.frequency(), length, most, &period)
    }

    #[test]
    fn one_value_has_a_place_and_a_tick() {
        let scale = Scale { low: 5.0, high: 5.0, at_low: 100.0, at_high: 0.0 };
        assert_eq!((scale.at(5.0), round_ticks(5.0, 5.0, 5)), (50.0, (vec![5.0], 3)));
    }

    #[test]
    fn ticks_are_round_and_inside() {
        let (ticks, decimals) = round_ticks(-0.23, 0.91, 5);
        assert_eq!((ticks.len(), decimals), (4, 2));
        let expected = [0.0, 0.25, 0.5, 0.75];
        assert!(ticks.iter().zip(expected).all(|(a, b)| (a - b).abs() < 1e-12), "{ticks:?}");
        assert_eq!(round_ticks(61.6, 355.7, 5).0.len(), 3);
    }

    #[test]
    fn every_range_and_every_calendar_has_at_least_three_labels() {
        let mut low = -3.0;
        for k in 0..400 {
            low += 0.37;
            let size = 1.09_f64.powi(k % 90) * 0.01;
            for wanted in 2..9 {
                let (ticks, _) = round_ticks(low, low + size, wanted);
                assert!((3..=(wanted + 1).max(5)).contains(&ticks.len()), "{low} {size} {wanted}: {ticks:?}");
            }
        }
        for text in ["1900", "1900-Q3", "1900-11", "1900-W09", "1900-02-03"] {
            let start = Period::parse(text).expect("a period");
            for length in 3..400 {
                for most in [4, 7, 12] {
                    let count = ticks(start, length, most).len();
                    assert!((3..=most).contains(&count), "{text} {length} {most}: {count}");
                }
            }
        }
    }

    #[test]
    fn months_are_labelled_at_januaries_when_years_are_many() {
        let start = Period::month(2001, 3).expect("valid");
        let ticks = ticks(start, 288, 12);
        assert!(ticks.len() <= 12 && ticks.len() >= 4);
        let name = start.offset(i64::try_from(ticks[0]).expect("small")).to_string();
        assert!(name.ends_with("-01"), "{name}");
    }

    #[test]
    fn a_very_long_daily_series_still_has_few_labels() {
        let start = Period::parse("1900-01-01").expect("valid");
        assert!(ticks(start, 45_000, 10).len() <= 10);
    }
}
