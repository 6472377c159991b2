use super::seasonal::Seasonal;
use crate::num::sum::dot;

/// How a column of values in order of time falls into periods of a season.
#[derive(Debug, Clone, Copy)]
pub(super) struct Grid {
    /// Values.
    pub count: usize,
    /// Values in a period.
    pub season: usize,
}

impl Grid {
    pub fn periods(self) -> usize {
        self.count.div_ceil(self.season)
    }

    /// The values of a period whose phase is below `width`.
    pub fn range(self, period: usize, width: usize) -> std::ops::Range<usize> {
        let start = period * self.season;
        start..(start + width.min(self.season)).min(self.count)
    }
}

/// A column before and after whitening. It is nought outside its first phases and periods.
#[derive(Debug, Clone)]
pub(super) struct Column {
    /// Before.
    pub raw: Vec<f64>,
    /// After.
    pub white: Vec<f64>,
    /// Phases that are not nought.
    pub width: usize,
    /// Periods that are not nought.
    pub periods: usize,
    /// From this place on the autoregressive filter leaves nothing.
    pub filtered_until: usize,
}

impl Column {
    /// A column that is not nought anywhere.
    pub fn whole(raw: Vec<f64>, grid: Grid) -> Self {
        let filtered_until = raw.len();
        Self { raw, white: Vec::new(), width: grid.season, periods: grid.periods(), filtered_until }
    }

    /// Whitens it: in each phase on its own, with the same numbers.
    pub fn whiten(&mut self, grid: Grid, ar: &[f64], seasonal: &Seasonal<f64>) {
        let s = grid.season;
        self.white = vec![0.0; grid.count];
        for period in 0..self.periods {
            let range = grid.range(period, self.width);
            if range.is_empty() {
                break;
            }
            let (before, rest) = self.white.split_at_mut(range.start);
            let now = &mut rest[..range.len()];
            let input = range.start..range.end.min(self.filtered_until.max(range.start));
            if period < seasonal.raw {
                now.copy_from_slice(&self.raw[range.clone()]);
            } else {
                now[..input.len()].copy_from_slice(&self.raw[input.clone()]);
                for (i, phi) in ar.iter().enumerate() {
                    let earlier = &self.raw[input.start - (i + 1) * s..input.end - (i + 1) * s];
                    subtract(&mut now[..input.len()], *phi, earlier);
                }
            }
            for (j, weight) in seasonal.step(period).weights.iter().enumerate() {
                let start = range.start - (j + 1) * s;
                subtract(now, *weight, &before[start..start + range.len()]);
            }
        }
    }
}

/// `now -= factor * then`.
fn subtract(now: &mut [f64], factor: f64, then: &[f64]) {
    for (value, earlier) in now.iter_mut().zip(then) {
        *value -= factor * earlier;
    }
}

/// Sum of products of two whitened columns over the variances.
pub(super) fn product(a: &Column, b: &Column, grid: Grid, seasonal: &Seasonal<f64>) -> f64 {
    let (width, periods) = (a.width.min(b.width), a.periods.min(b.periods));
    let own = |period: usize| {
        let range = grid.range(period, width);
        dot(&a.white[range.clone()], &b.white[range])
    };
    let settled = seasonal.steps.len() - 1;
    let early: f64 = (0..periods.min(settled)).map(|k| own(k) / seasonal.steps[k].variance).sum();
    if periods <= settled {
        return early;
    }
    let late = if width >= grid.season {
        let range = settled * grid.season..(periods * grid.season).min(grid.count);
        dot(&a.white[range.clone()], &b.white[range])
    } else {
        (settled..periods).map(own).sum()
    };
    early + late / seasonal.steps[settled].variance
}
