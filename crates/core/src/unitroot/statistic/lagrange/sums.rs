//! Running sums from which the products are read.

use super::LagrangeModel;
use super::detrended::Detrended;
use super::lanes::{LANES, Lanes, lanes};
use super::products::{Products, triangle};
use crate::ols::OlsError;

/// Columns before the lagged changes.
const FIXED: usize = 4;
const CONSTANT: usize = 0;
const CLOCK: usize = 1;
const LEVEL: usize = 2;
const CHANGE: usize = 3;

/// Running sums of products of the columns `1, t, x_{t-1}, Δx_t, Δx_{t-1}, …`: the lower
/// triangle row by row, over all rows before each.
pub(super) struct RunningSums<'a> {
    x: &'a [f64],
    model: LagrangeModel,
    /// Lags, `S̃_{t-1}` and `Δx_t`: the columns of the regression with its means.
    width: usize,
    /// Products of one row.
    size: usize,
    sums: Vec<f64>,
}

/// Sets of dates side by side.
pub(super) type Sets = [Detrended; LANES];

/// Room for the sums at some sets of dates.
pub(super) struct Work {
    part: Products,
    total: Products,
    /// Sums over one stretch.
    between: Vec<Lanes>,
    /// Changes about a break, in order of time.
    near: Vec<Lanes>,
    row: Vec<Lanes>,
}

impl<'a> RunningSums<'a> {
    pub fn new(x: &'a [f64], model: LagrangeModel) -> Result<Self, OlsError> {
        let (n, lags) = (x.len(), model.lags);
        let columns = FIXED + lags;
        let coefficients = 2 + lags + 2 * model.breaks;
        if n < lags + 1 + coefficients + 2 {
            return Err(OlsError::TooFewRows { rows: n.saturating_sub(lags + 1), coefficients });
        }
        let size = triangle(columns);
        let mut sums = vec![0.0; size * (n + 1)];
        let mut row = vec![1.0; columns];
        for t in lags + 1..n {
            row[CLOCK] = t as f64;
            row[LEVEL] = x[t - 1];
            for (i, place) in row[CHANGE..].iter_mut().enumerate() {
                *place = x[t - i] - x[t - i - 1];
            }
            let (done, open) = sums.split_at_mut(size * (t + 1));
            let pairs =
                row.iter().enumerate().flat_map(|(i, one)| row[..=i].iter().map(move |two| one * two));
            for ((after, before), pair) in open.iter_mut().zip(&done[size * t..]).zip(pairs) {
                *after = before + pair;
            }
        }
        Ok(Self { x, model, width: lags + 2, size, sums })
    }

    pub fn work(&self) -> Work {
        let products = || Products::new(self.width);
        let between = vec![[0.0; LANES]; self.size];
        Work { part: products(), total: products(), between, near: Vec::new(), row: Vec::new() }
    }

    /// The t-ratios with breaks at these dates.
    pub fn t_ratios(&self, sets: &Sets, work: &mut Work) -> Lanes {
        work.part.clear();
        work.total.clear();
        let mut rows = [0.0; LANES];
        for place in 0..=self.model.breaks {
            if place > 0 {
                self.add_rows_near(work, sets, place);
            }
            self.add_stretch(work, sets, place);
            if self.model.slope || place == self.model.breaks {
                rows = lanes(|l| rows[l] + work.part.rows[l] - 1.0);
                work.part.centre();
                work.total.add(&work.part);
                work.part.clear();
            }
        }
        work.total.t_ratio(rows.map(|count| count + 1.0 - self.width as f64))
    }

    /// The rows after a break whose lags reach back to it, written out.
    fn add_rows_near(&self, work: &mut Work, sets: &Sets, place: usize) {
        let Work { part, near, row, .. } = work;
        let (n, lags) = (self.x.len(), self.model.lags);
        near.resize((2 * lags).saturating_sub(1), [0.0; LANES]);
        for (l, dates) in sets.iter().enumerate() {
            let first = dates.starts[place] + 1;
            for (m, change) in near.iter_mut().enumerate() {
                let t = first + m;
                change[l] = if t > lags && t - lags < n { dates.change(self.x, t - lags) } else { 0.0 };
            }
        }
        for j in 0..lags {
            let mut used = [0.0; LANES];
            row.clear();
            row.extend(near[j..j + lags].iter().rev());
            row.resize(self.width, [0.0; LANES]);
            for (l, dates) in sets.iter().enumerate() {
                let t = dates.starts[place] + 1 + j;
                if t > lags && t < dates.end(place, n) {
                    used[l] = 1.0;
                    row[lags][l] = dates.sum_in(place, self.x, t - 1);
                    row[lags + 1][l] = self.x[t] - self.x[t - 1];
                }
            }
            part.add_row(row, used);
        }
    }

    /// All other rows of a stretch: their lags lie in it too.
    fn add_stretch(&self, work: &mut Work, sets: &Sets, place: usize) {
        let Work { part, between, row: lag_sums, .. } = work;
        let (n, lags) = (self.x.len(), self.model.lags);
        let (mut mean, mut shift) = ([0.0; LANES], [0.0; LANES]);
        for (l, dates) in sets.iter().enumerate() {
            let (start, to) = (dates.starts[place], dates.end(place, n));
            let from = (start + 1 + lags).min(to);
            let at = |t: usize| &self.sums[self.size * t..][..self.size];
            for ((sum, upper), lower) in between.iter_mut().zip(at(to)).zip(at(from)) {
                sum[l] = upper - lower;
            }
            mean[l] = dates.means[place];
            // S̃_{t-1} = x_{t-1} - mean t + shift.
            shift[l] = dates.levels[place] - self.x[start] + mean[l] * (1 + start) as f64;
        }
        let row = |i: usize| &between[triangle(i)..=triangle(i) + i];
        let level = |products: &[Lanes]| {
            let (levels, clock, constant) = (&products[LEVEL], &products[CLOCK], &products[CONSTANT]);
            lanes(|l| levels[l] - mean[l] * clock[l] + shift[l] * constant[l])
        };
        let (count, clock, levels, change) = (row(CONSTANT)[0], row(CLOCK), row(LEVEL), row(CHANGE));
        let level_sum = lanes(|l| levels[CONSTANT][l] - mean[l] * clock[CONSTANT][l] + shift[l] * count[l]);
        let by_clock =
            lanes(|l| levels[CLOCK][l] - mean[l] * clock[CLOCK][l] + shift[l] * clock[CONSTANT][l]);
        part.rows = lanes(|l| part.rows[l] + count[l]);
        lag_sums.clear();
        lag_sums.extend((0..lags).map(|i| row(FIXED + i)[CONSTANT]));
        let (mut rest, others) = part.pairs.split_at_mut(triangle(lags));
        let (by_level, by_change) = others.split_at_mut(lags + 1);
        for i in 0..lags {
            let own = row(FIXED + i);
            let centred = lanes(|l| own[CONSTANT][l] - mean[l] * count[l]);
            increase(&mut part.sums[i], centred);
            let (cells, below) = rest.split_at_mut(i + 1);
            for ((cell, both), other) in cells.iter_mut().zip(&own[FIXED..]).zip(&*lag_sums) {
                *cell = lanes(|l| cell[l] + both[l] - mean[l] * (centred[l] + other[l]));
            }
            rest = below;
            let own_level = level(own);
            increase(&mut by_level[i], lanes(|l| own_level[l] - mean[l] * level_sum[l]));
            increase(&mut by_change[i], lanes(|l| own[CHANGE][l] - mean[l] * change[CONSTANT][l]));
        }
        increase(&mut part.sums[lags], level_sum);
        increase(&mut part.sums[lags + 1], change[CONSTANT]);
        let squares = level(levels);
        increase(
            &mut by_level[lags],
            lanes(|l| squares[l] - mean[l] * by_clock[l] + shift[l] * level_sum[l]),
        );
        increase(&mut by_change[lags], level(change));
        increase(&mut by_change[lags + 1], change[CHANGE]);
    }
}

fn increase(to: &mut Lanes, by: Lanes) {
    *to = lanes(|l| to[l] + by[l]);
}
