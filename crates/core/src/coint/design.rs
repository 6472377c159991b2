//! The regressions of a system of lagged levels and differences.

use super::error::CointError;
use crate::nulldist::{MAX_COMMON_TRENDS, SystemTerms};
use crate::num::scale::{self, Scale};

/// Residual degrees of freedom that each equation keeps, at least.
const DEGREES_KEPT: usize = 5;

/// The data of a system.
#[derive(Debug, Clone, Copy)]
pub struct SystemInput<'a> {
    /// The series, each of the same length, without gaps.
    pub series: &'a [&'a [f64]],
    /// Lags of the levels, one at least: changes have one fewer.
    pub lags: usize,
    /// Fixed terms.
    pub terms: SystemTerms,
}

/// Columns of a system of `n` observations, centred and scaled.
pub(super) struct Design<'a> {
    pub input: SystemInput<'a>,
    pub scales: Vec<Scale>,
    pub n: usize,
}

impl<'a> Design<'a> {
    pub fn new(input: SystemInput<'a>) -> Result<Self, CointError> {
        let series = input.series.len();
        if !(2..=MAX_COMMON_TRENDS).contains(&series) {
            return Err(CointError::Count { series, most: MAX_COMMON_TRENDS });
        }
        if input.lags == 0 {
            return Err(CointError::NoLags);
        }
        for (place, values) in input.series.iter().enumerate() {
            scale::check(values).map_err(|reason| CointError::unusable(place, reason))?;
        }
        let n = input.series.iter().map(|one| one.len()).min().unwrap_or(0);
        let centred = input.terms != SystemTerms::None;
        let scales = input.series.iter().map(|y| Scale::of(y, centred)).collect();
        let design = Self { input, scales, n };
        design.check_size()?;
        Ok(design)
    }

    /// `n - k` rows bear `K (k - 1)` lagged changes, K levels, the terms, and what is kept free.
    fn check_size(&self) -> Result<(), CointError> {
        let (series, n) = (self.count(), self.n);
        let needed = |lags: usize| lags + series * (lags + 1) + 2 + DEGREES_KEPT;
        if n < needed(1) {
            return Err(CointError::TooShort { observations: n, series, needed: needed(1) });
        }
        if n < needed(self.input.lags) {
            let most = (1..self.input.lags).rev().find(|lags| needed(*lags) <= n).unwrap_or(1);
            return Err(CointError::TooManyLags { lags: self.input.lags, most, observations: n, series });
        }
        Ok(())
    }

    pub fn count(&self) -> usize {
        self.input.series.len()
    }

    /// Columns outside the relations: unrestricted terms, then the lagged changes.
    pub fn outside(&self) -> usize {
        self.input.terms.unrestricted() + self.count() * (self.input.lags - 1)
    }

    /// Columns inside the relations: the levels, then the restricted term.
    pub fn inside(&self) -> usize {
        self.count() + usize::from(restricted(self.input.terms, 0, self.n).is_some())
    }

    pub fn level(&self, series: usize, t: usize) -> f64 {
        self.scales[series].apply(self.input.series[series][t])
    }

    /// The series that a column of a row belongs to; the last one for a term.
    pub fn series_of(&self, column: usize) -> usize {
        let (count, outside) = (self.count(), self.outside());
        let place = match column.checked_sub(outside) {
            // Lagged changes follow the terms.
            None => column.checked_sub(self.input.terms.unrestricted()).map(|place| place % count),
            Some(place) if place >= self.inside() => Some(place - self.inside()),
            Some(place) => Some(place),
        };
        place.unwrap_or(count).min(count - 1)
    }

    fn change(&self, series: usize, t: usize) -> f64 {
        (self.input.series[series][t] - self.input.series[series][t - 1]) / self.scales[series].unit
    }

    /// What is outside the relations at `t`, what is inside, and the changes.
    pub fn row(&self, t: usize) -> impl Iterator<Item = f64> + '_ {
        let count = self.count();
        let lagged =
            (1..self.input.lags).flat_map(move |lag| (0..count).map(move |s| self.change(s, t - lag)));
        unrestricted(self.input.terms, t, self.n)
            .chain(lagged)
            .chain((0..count).map(move |s| self.level(s, t - 1)))
            .chain(restricted(self.input.terms, t, self.n))
            .chain((0..count).map(move |s| self.change(s, t)))
    }
}

/// Terms outside the relations at place `t` of `n`.
pub(super) fn unrestricted(terms: SystemTerms, t: usize, n: usize) -> impl Iterator<Item = f64> {
    [1.0, clock(t, n)].into_iter().take(terms.unrestricted())
}

/// The term inside the relations at place `t` of `n`.
pub(super) fn restricted(terms: SystemTerms, t: usize, n: usize) -> Option<f64> {
    match terms {
        SystemTerms::ConstantIn => Some(1.0),
        SystemTerms::TrendIn => Some(clock(t, n)),
        SystemTerms::None | SystemTerms::Constant | SystemTerms::Trend => None,
    }
}

/// Time of place `t` of `n`, from minus one half to one half.
pub(super) fn clock(t: usize, n: usize) -> f64 {
    (t as f64 + 0.5 - 0.5 * n as f64) / n as f64
}
