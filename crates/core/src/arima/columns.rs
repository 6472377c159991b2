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
    /// Whether it may fade before the last period.
    pub ends: bool,
}

impl Column {
    /// A column that is not nought anywhere.
    pub fn whole(raw: Vec<f64>, grid: Grid) -> Self {
        let filtered_until = raw.len();
        Self {
            raw,
            white: Vec::new(),
            width: grid.season,
            periods: grid.periods(),
            filtered_until,
            ends: false,
        }
    }

    /// Whitens it: in each phase on its own, with the same numbers.
    pub fn whiten(&mut self, grid: Grid, ar: &[f64], seasonal: &Seasonal<f64>) {
        let s = grid.season;
        self.white = self.raw.clone();
        let first = (seasonal.raw * s).min(grid.count);
        let until = self.filtered_until.max(first);
        for (i, phi) in ar.iter().enumerate() {
            let lag = (i + 1) * s;
            subtract(&mut self.white[first..until], *phi, &self.raw[first - lag..until - lag]);
        }
        self.white[until..].fill(0.0);
        let mut quiet = 0;
        for period in 0..self.periods {
            let weights = &seasonal.step(period).weights;
            if weights.is_empty() {
                continue;
            }
            let range = grid.range(period, self.width);
            let (before, rest) = self.white.split_at_mut(range.start);
            let now = &mut rest[..range.len()];
            for (j, weight) in weights.iter().enumerate() {
                let start = range.start - (j + 1) * s;
                subtract(now, *weight, &before[start..start + range.len()]);
            }
            if self.ends {
                // What has faded for as many periods as are looked back on stays away.
                let faded = range.start >= until && now.iter().all(|value| value.abs() < NOUGHT);
                quiet = if faded { quiet + 1 } else { 0 };
                if quiet > weights.len() {
                    self.white[range.end..].fill(0.0);
                    self.periods = period + 1;
                    break;
                }
            }
        }
    }
}

/// Below this a response counts as nought.
pub(super) const NOUGHT: f64 = 1e-18;

/// `x_t -= Σ θ_j x_{t-j}` from place q on, in order of time.
pub(super) fn recur_forwards(x: &mut [f64], theta: &[f64]) {
    match *theta {
        [] => {}
        [a] => {
            let mut last = x.first().copied().unwrap_or_default();
            for value in x.iter_mut().skip(1) {
                *value -= a * last;
                last = *value;
            }
        }
        [a, b] => {
            let [mut before, mut last] = x.first_chunk().copied().unwrap_or_default();
            for value in x.iter_mut().skip(2) {
                // The older term first: only the newer one has to be waited for.
                *value = (*value - b * before) - a * last;
                (before, last) = (last, *value);
            }
        }
        [a, b, c] => {
            let [mut first, mut before, mut last] = x.first_chunk().copied().unwrap_or_default();
            for value in x.iter_mut().skip(3) {
                *value = (*value - c * first - b * before) - a * last;
                (first, before, last) = (before, last, *value);
            }
        }
        _ => {
            for t in theta.len()..x.len() {
                let past: f64 = theta.iter().zip(1..).map(|(weight, j)| weight * x[t - j]).sum();
                x[t] -= past;
            }
        }
    }
}

/// `x_t -= Σ θ_j x_{t+j}` down to place q, against the order of time.
pub(super) fn recur_backwards(x: &mut [f64], theta: &[f64]) {
    let q = theta.len();
    let x = x.get_mut(q..).unwrap_or_default();
    let (mut last, mut before, mut first) = (0.0, 0.0, 0.0);
    match *theta {
        [] => {}
        [a] => {
            for value in x.iter_mut().rev() {
                *value -= a * last;
                last = *value;
            }
        }
        [a, b] => {
            for value in x.iter_mut().rev() {
                *value = (*value - b * before) - a * last;
                (before, last) = (last, *value);
            }
        }
        [a, b, c] => {
            for value in x.iter_mut().rev() {
                *value = (*value - c * first - b * before) - a * last;
                (first, before, last) = (before, last, *value);
            }
        }
        _ => {
            for t in (0..x.len()).rev() {
                let ahead: f64 =
                    theta.iter().zip(1..).filter_map(|(weight, j)| Some(weight * x.get(t + j)?)).sum();
                x[t] -= ahead;
            }
        }
    }
}

/// `now -= factor * then`.
pub(super) fn subtract(now: &mut [f64], factor: f64, then: &[f64]) {
    for (value, earlier) in now.iter_mut().zip(then) {
        *value -= factor * earlier;
    }
}

/// Stretches of places over which the variance is the same, with the step each belongs to:
/// single periods first, then all that has settled as one, if whole periods are looked at.
pub(super) fn stretches(
    grid: Grid,
    width: usize,
    periods: usize,
    settled: usize,
) -> impl Iterator<Item = (usize, std::ops::Range<usize>)> {
    let whole = width >= grid.season;
    let single = if whole { periods.min(settled) } else { periods };
    let late = settled * grid.season..(periods * grid.season).min(grid.count);
    let early = (0..single).map(move |period| (period.min(settled), grid.range(period, width)));
    early.chain((whole && periods > settled).then_some((settled, late)))
}

/// Sum of products of two whitened columns over the variances.
pub(super) fn product(a: &Column, b: &Column, grid: Grid, seasonal: &Seasonal<f64>) -> f64 {
    let (width, periods) = (a.width.min(b.width), a.periods.min(b.periods));
    stretches(grid, width, periods, seasonal.steps.len() - 1)
        .map(|(step, range)| dot(&a.white[range.clone()], &b.white[range]) / seasonal.steps[step].variance)
        .sum()
}
