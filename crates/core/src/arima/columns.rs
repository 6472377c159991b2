use std::ops::Range;

use super::kernels::{subtract_all, whiten_row};
use super::seasonal::Seasonal;
use crate::num::sum::dot;

/// Below this a response counts as nought: far below what rounding does to the likelihood.
pub(super) const NOUGHT: f64 = 1e-15;

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

    /// The values of a period.
    pub fn range(self, period: usize) -> Range<usize> {
        let start = period * self.season;
        start..(start + self.season).min(self.count)
    }

    /// Places below this one that lie in these phases.
    fn places_in(self, phases: &Range<usize>, below: usize) -> usize {
        let (period, phase) = (below / self.season, below % self.season);
        period * phases.len() + phase.clamp(phases.start, phases.end) - phases.start
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

/// A column before and after whitening: phases do not meet, so it consists of pieces, outside of
/// which it is nought.
#[derive(Debug, Clone)]
pub(super) struct Column {
    pub pieces: Vec<Piece>,
}

impl Column {
    /// A column that is nought nowhere.
    pub fn whole(raw: Vec<f64>, grid: Grid) -> Self {
        let count = raw.len();
        let (white, over) = (Vec::new(), Vec::new());
        Self { pieces: vec![Piece { first: 0, grid, raw_ends: count, input_ends: count, raw, white, over }] }
    }

    pub fn whiten(&mut self, ar: &[f64], seasonal: &Seasonal<f64>) {
        for piece in &mut self.pieces {
            piece.whiten(ar, seasonal);
        }
    }

    /// The whitened values over their variances and nothing else.
    pub fn over_only(&self) -> Self {
        let bare =
            |piece: &Piece| Piece { raw: Vec::new(), white: Vec::new(), over: piece.over.clone(), ..*piece };
        Self { pieces: self.pieces.iter().map(bare).collect() }
    }

    /// Sum of products of two whitened columns over the variances.
    pub fn product(&self, other: &Self) -> f64 {
        let pairs = self.pieces.iter().flat_map(|a| other.pieces.iter().map(move |b| (a, b)));
        pairs
            .flat_map(|(a, b)| a.shared(b).map(move |same| dot(&a.white[same.own()], &b.over[same.theirs()])))
            .sum()
    }
}

/// The part of a column that lies in some phases of every period.
#[derive(Debug, Clone)]
pub(super) struct Piece {
    /// The first phase.
    pub first: usize,
    /// Its values, period by period: a grid whose season is the number of phases.
    pub grid: Grid,
    /// From this place on the values before whitening are nought.
    pub raw_ends: usize,
    /// From this place on the autoregressive filter leaves nothing.
    pub input_ends: usize,
    /// Before whitening.
    pub raw: Vec<f64>,
    /// After.
    pub white: Vec<f64>,
    /// The same over their variances.
    pub over: Vec<f64>,
}

impl Piece {
    /// These phases of a column that is nought from place `raw_ends` on, and from place
    /// `input_ends` on after the autoregressive filter.
    pub fn new(
        whole: Grid,
        phases: &Range<usize>,
        (raw_ends, input_ends): (usize, usize),
        value: impl Fn(usize) -> f64,
    ) -> Self {
        let grid = Grid { count: whole.places_in(phases, whole.count), season: phases.len() };
        let inside = |end: usize| whole.places_in(phases, end.min(whole.count));
        let mut raw = Vec::with_capacity(grid.count);
        for period in 0..raw_ends.min(whole.count).div_ceil(whole.season) {
            let start = period * whole.season;
            let end = (start + phases.end).min(raw_ends).min(whole.count);
            raw.extend((start + phases.start..end).map(&value));
        }
        raw.resize(grid.count, 0.0);
        let (raw_ends, input_ends) = (inside(raw_ends), inside(input_ends));
        Self { first: phases.start, grid, raw_ends, input_ends, raw, white: Vec::new(), over: Vec::new() }
    }

    /// Whitens it: in each phase on its own, with the same numbers.
    fn whiten(&mut self, ar: &[f64], seasonal: &Seasonal<f64>) {
        let s = self.grid.season;
        let first = (seasonal.raw * s).min(self.grid.count);
        let until = self.input_ends.max(first);
        let mut white = self.raw.clone();
        subtract_all(&mut white[first..until], ar, |i| &self.raw[first - i * s..]);
        white[until..].fill(0.0);
        let mut over = vec![0.0; white.len()];
        let mut quiet = 0;
        for period in 0..self.grid.periods() {
            let weights = seasonal.weights(period);
            let range = self.grid.range(period);
            let (before, rest) = white.split_at_mut(range.start);
            let now = &mut rest[..range.len()];
            whiten_row(now, &mut over[range.clone()], weights, 1.0 / seasonal.variance(period), before, s);
            if range.start >= until {
                // What has faded for as many periods as are looked back on stays away.
                let faded = now.iter().all(|value| value.abs() < NOUGHT);
                quiet = if faded { quiet + 1 } else { 0 };
                if quiet > weights.len() {
                    self.grid.count = range.end;
                    break;
                }
            }
        }
        white.truncate(self.grid.count);
        over.truncate(self.grid.count);
        (self.white, self.over) = (white, over);
    }

    /// Stretches of places that another piece has too: all at once where it has the same phases,
    /// else period by period.
    pub fn shared<'a>(&'a self, other: &'a Self) -> impl Iterator<Item = Shared> + use<'a> {
        let same = self.first == other.first && self.grid.season == other.grid.season;
        let first = self.first.max(other.first);
        let last = (self.first + self.grid.season).min(other.first + other.grid.season);
        let width = last.saturating_sub(first);
        let periods = if same || width == 0 { 0 } else { self.grid.periods().min(other.grid.periods()) };
        let length = self.grid.count.min(other.grid.count);
        let row = move |period: usize| {
            let start = period * self.grid.season + first - self.first;
            let there = period * other.grid.season + first - other.first;
            let room = self.grid.count.saturating_sub(start).min(other.grid.count.saturating_sub(there));
            Shared { start, there, length: width.min(room) }
        };
        let all = same.then_some(Shared { start: 0, there: 0, length });
        all.into_iter().chain((0..periods).map(row).filter(|row| row.length > 0))
    }
}

/// Places that two pieces both have.
#[derive(Debug, Clone, Copy)]
pub(super) struct Shared {
    start: usize,
    there: usize,
    length: usize,
}

impl Shared {
    /// In the first.
    pub fn own(self) -> Range<usize> {
        self.start..self.start + self.length
    }

    /// In the other.
    pub fn theirs(self) -> Range<usize> {
        self.there..self.there + self.length
    }
}
