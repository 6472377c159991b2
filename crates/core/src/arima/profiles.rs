use std::ops::Range;

use super::grid::Grid;
use super::kernels::add;
use super::symmetric::Pairs;
use crate::num::sum::dot;

/// Profiles over the phases of a season, of two kinds, each of which is nought but in some stretches
/// of phases.
pub(super) struct Profiles {
    /// Phases.
    pub width: usize,
    /// So many are of the first kind.
    pub first: usize,
    /// One after the other.
    pub values: Vec<f64>,
    /// Stretches of the first kind and of the others.
    pub stretches: [Vec<Range<usize>>; 2],
}

impl Profiles {
    pub fn count(&self) -> usize {
        self.values.len() / self.width
    }

    pub fn stretches(&self, which: usize) -> &[Range<usize>] {
        &self.stretches[usize::from(which >= self.first)]
    }

    fn values(&self, which: usize) -> &[f64] {
        &self.values[which * self.width..][..self.width]
    }

    /// Sum of products with the first values of a period.
    pub fn dot(&self, which: usize, others: &[f64]) -> f64 {
        let values = self.values(which);
        within(self.stretches(which), others.len()).map(|own| dot(&values[own.clone()], &others[own])).sum()
    }

    /// Adds a share of it to the first values of a period.
    pub fn add_to(&self, which: usize, others: &mut [f64], share: f64) {
        for own in within(self.stretches(which), others.len()) {
            add(&mut others[own.clone()], share, &self.values(which)[own]);
        }
    }

    /// Products of all pairs, over a whole period and over the last where that is incomplete.
    pub fn products(&self, grid: Grid) -> Pairs {
        let mut all = Pairs::new(self.count());
        for i in 0..self.count() {
            for j in 0..=i {
                let own = self.values(i);
                let last = grid.incomplete().map_or(0.0, |(_, left)| self.dot(j, &own[..left]));
                all.add_both(i, j, [self.dot(j, own), last]);
            }
        }
        all
    }

    /// From the slopes of the products to those of the profiles, one after the other.
    pub fn products_backwards(&self, of_products: &Pairs, grid: Grid) -> Vec<f64> {
        let left = grid.incomplete().map_or(0, |(_, left)| left);
        let mut out = vec![0.0; self.values.len()];
        for (i, own) in out.chunks_exact_mut(self.width).enumerate() {
            for j in 0..self.count() {
                let [whole, last] = of_products.slopes(i, j);
                if whole.abs() > 0.0 {
                    self.add_to(j, own, whole);
                }
                if last.abs() > 0.0 {
                    self.add_to(j, &mut own[..left], last);
                }
            }
        }
        out
    }
}

/// Stretches as far as they lie among the first phases.
pub(super) fn within(stretches: &[Range<usize>], phases: usize) -> impl Iterator<Item = Range<usize>> {
    stretches.iter().map(move |own| own.start.min(phases)..own.end.min(phases))
}
