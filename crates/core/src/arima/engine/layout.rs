//! How a column of values falls into periods of a season.

use std::ops::Range;

/// Below this a response counts as zero: far below what rounding does to the likelihood.
pub(in crate::arima) const NEGLIGIBLE: f64 = 1e-15;

/// How a column of values in order of time falls into periods of a season.
#[derive(Debug, Clone, Copy)]
pub(in crate::arima) struct SeasonLayout {
    /// Values.
    pub count: usize,
    /// Values in a period.
    pub season: usize,
}

impl SeasonLayout {
    pub fn periods(self) -> usize {
        self.count.div_ceil(self.season)
    }

    /// The values of a period.
    pub fn range(self, period: usize) -> Range<usize> {
        let start = period * self.season;
        start..(start + self.season).min(self.count)
    }

    /// Periods that are complete.
    pub fn whole(self) -> usize {
        self.count / self.season
    }

    /// Values of the last period, where that is incomplete.
    pub fn left(self) -> usize {
        self.count % self.season
    }

    /// Single periods up to the settled one, then all that is left as one, with the step each
    /// belongs to.
    pub fn stretches(self, settled: usize) -> impl Iterator<Item = (usize, Range<usize>)> {
        let single = self.periods().min(settled);
        let rest = single * self.season..self.count;
        let early = (0..single).map(move |period| (period, self.range(period)));
        early.chain((!rest.is_empty()).then_some((settled, rest)))
    }
}
