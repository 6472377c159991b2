//! Products of detrended columns for every break date.

use super::lanes::{LANES, Lanes, lanes};

/// Sums of columns and of their products, the lower triangle row by row.
pub(super) struct Products {
    width: usize,
    pub rows: Lanes,
    pub sums: Vec<Lanes>,
    pub pairs: Vec<Lanes>,
    /// The column that is being eliminated.
    column: Vec<Lanes>,
}

/// Where row i of a triangle begins.
pub(super) fn triangle(i: usize) -> usize {
    i * (i + 1) / 2
}

impl Products {
    pub fn new(width: usize) -> Self {
        let zero = [0.0; LANES];
        let (sums, pairs) = (vec![zero; width], vec![zero; triangle(width)]);
        Self { width, rows: zero, sums, pairs, column: Vec::with_capacity(width) }
    }

    pub fn clear(&mut self) {
        self.rows = [0.0; LANES];
        self.sums.fill([0.0; LANES]);
        self.pairs.fill([0.0; LANES]);
    }

    /// One row, or none where `used` is zero rather than one.
    pub fn add_row(&mut self, row: &[Lanes], used: Lanes) {
        self.rows = lanes(|l| self.rows[l] + used[l]);
        let mut rest = self.pairs.as_mut_slice();
        for (i, (value, sum)) in row.iter().zip(&mut self.sums).enumerate() {
            let own = lanes(|l| used[l] * value[l]);
            *sum = lanes(|l| sum[l] + own[l]);
            let (cells, below) = rest.split_at_mut(i + 1);
            for (cell, other) in cells.iter_mut().zip(row) {
                *cell = lanes(|l| cell[l] + own[l] * other[l]);
            }
            rest = below;
        }
    }

    /// Adds the products of another.
    pub fn add(&mut self, other: &Self) {
        for (own, more) in self.pairs.iter_mut().zip(&other.pairs) {
            *own = lanes(|l| own[l] + more[l]);
        }
    }

    /// Takes the mean out of every column.
    pub fn centre(&mut self) {
        let mut rest = self.pairs.as_mut_slice();
        for (i, sum) in self.sums.iter().enumerate() {
            let mean = lanes(|l| sum[l] / self.rows[l]);
            let (cells, below) = rest.split_at_mut(i + 1);
            for (cell, other) in cells.iter_mut().zip(&self.sums) {
                *cell = lanes(|l| cell[l] - mean[l] * other[l]);
            }
            rest = below;
        }
    }

    /// The t-ratio of the last column but one in the regression of the last on all others,
    /// infinite where columns depend on each other.
    pub fn t_ratio(&mut self, degrees: Lanes) -> Lanes {
        let (change, level) = (self.width - 1, self.width - 2);
        let own = triangle(level) + level;
        let whole = self.pairs[own];
        let mut sound = [true; LANES];
        for pivot in 0..level {
            let own = self.pairs[triangle(pivot) + pivot];
            (0..LANES).for_each(|l| sound[l] &= own[l] > 0.0);
            self.eliminate(pivot);
        }
        let [level, cross, change] =
            [own, triangle(change) + level, triangle(change) + change].map(|at| self.pairs[at]);
        lanes(|l| {
            let left = change[l] - cross[l] * cross[l] / level[l];
            let sound = sound[l] && degrees[l] >= 1.0 && level[l] > 1e-12 * whole[l] && left > 0.0;
            if sound { cross[l] / (level[l] * left / degrees[l]).sqrt() } else { f64::INFINITY }
        })
    }

    /// Takes a column out of all that follow it.
    fn eliminate(&mut self, pivot: usize) {
        let Self { width, pairs, column, .. } = self;
        column.clear();
        column.extend((pivot..*width).map(|i| pairs[triangle(i) + pivot]));
        let inverse = column[0].map(|value| 1.0 / value);
        for (i, entry) in (pivot..*width).zip(column.iter()).skip(1) {
            let share = lanes(|l| entry[l] * inverse[l]);
            let row = &mut pairs[triangle(i) + pivot + 1..=triangle(i) + i];
            for (cell, other) in row.iter_mut().zip(&column[1..]) {
                *cell = lanes(|l| cell[l] - share[l] * other[l]);
            }
        }
    }
}
