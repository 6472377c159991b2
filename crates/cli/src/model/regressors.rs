use std::collections::BTreeMap;

use kandrel_core::time::{Frequency, Period};

use crate::error::CliError;
use crate::words;

/// Regressors over any periods.
#[derive(Debug, Clone, Default)]
pub struct Regressors {
    /// As typed.
    pub text: Option<String>,
    pub all: Vec<Regressor>,
}

/// One of them.
#[derive(Debug, Clone)]
pub struct Regressor {
    pub name: String,
    pub source: Source,
}

/// Where a regressor's values are from.
#[derive(Debug, Clone)]
pub enum Source {
    /// A column or an expression.
    Known(BTreeMap<Period, f64>),
    /// Nought before a period, one from it on.
    Step(Period),
    /// One inside, nought outside.
    Pulse(Period, Period),
    /// Nought up to a period, then 1, 2, 3, …
    Bend(Period),
    /// Periods since one.
    Trend(Period),
    /// One in a place of the season, minus one in the first, nought in the others.
    Season { length: i64, place: i64, start: Period },
    /// Mondays to Fridays.
    Workdays,
}

impl Regressors {
    /// Whether there is none.
    pub fn is_empty(&self) -> bool {
        self.all.is_empty()
    }

    /// What they are called.
    pub fn names(&self) -> Vec<String> {
        self.all.iter().map(|one| one.name.clone()).collect()
    }

    /// Their values in these periods.
    pub fn over(&self, periods: &[Period]) -> Result<Vec<Vec<f64>>, CliError> {
        self.all.iter().map(|one| one.over(periods)).collect()
    }
}

impl Regressor {
    fn over(&self, periods: &[Period]) -> Result<Vec<f64>, CliError> {
        let mut missing = Vec::new();
        let mut values = Vec::with_capacity(periods.len());
        for period in periods {
            match self.source.at(*period) {
                Some(value) => values.push(value),
                None => missing.push(*period),
            }
        }
        if missing.is_empty() {
            return Ok(values);
        }
        Err(CliError::data(format!("--with {}: it has no value in {}", self.name, words::periods(&missing)))
            .advise("give future values with --future FILE, or take a --sample in which it is known"))
    }
}

impl Source {
    fn at(&self, period: Period) -> Option<f64> {
        let since = |first: Period| period.steps_since(first);
        let number = |steps: i64| steps as f64;
        match self {
            Self::Known(values) => values.get(&period).copied(),
            Self::Step(first) => Some(f64::from(u8::from(period >= *first))),
            Self::Pulse(first, last) => Some(f64::from(u8::from((*first..=*last).contains(&period)))),
            Self::Bend(last) => since(*last).map(|steps| number(steps.max(0))),
            Self::Trend(first) => since(*first).map(number),
            Self::Season { length, place, start } => {
                let own = place_of(period, *length, *start)?;
                Some(match own {
                    own if own == *place => 1.0,
                    0 => -1.0,
                    _ => 0.0,
                })
            }
            Self::Workdays => period.workdays().map(f64::from),
        }
    }
}

/// The place in the season, as the calendar counts it where that has such a season.
fn place_of(period: Period, length: i64, start: Period) -> Option<i64> {
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
