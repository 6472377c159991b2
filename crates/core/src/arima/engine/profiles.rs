//! The correcting columns over the phases of a period.

use std::ops::Range;

use super::kernels::{add, subtract_all};
use super::layout::SeasonLayout;
use super::symmetric::SymmetricBlocks;
use crate::num::sum::dot;

/// Profiles over the phases of a season, of two kinds, each of which is zero but in some stretches
/// of phases.
pub(in crate::arima) struct Profiles {
    /// Phases.
    pub width: usize,
    /// That number of are of the first kind.
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
    pub fn products(&self, layout: SeasonLayout) -> SymmetricBlocks {
        let mut all = SymmetricBlocks::new(self.count());
        let left = layout.left();
        for i in 0..self.count() {
            let own = self.values(i);
            for j in 0..=i {
                let other = self.values(j);
                let over = |phases: Range<usize>| -> f64 {
                    let parts = common(self.stretches(j), &phases);
                    parts.map(|part| dot(&own[part.clone()], &other[part])).sum()
                };
                let last = over(0..left);
                all.add_both(i, j, [last + over(left..self.width), last]);
            }
        }
        all
    }

    /// From the slopes of the products to those of the profiles, one after the other.
    pub fn products_backwards(&self, of_products: &SymmetricBlocks, layout: SeasonLayout) -> Vec<f64> {
        let (count, left) = (self.count(), layout.left());
        let mut out = vec![0.0; self.values.len()];
        let (mut early, mut late) = (vec![0.0; count], vec![0.0; count]);
        for (i, own) in out.chunks_exact_mut(self.width).enumerate() {
            for (j, (early, late)) in early.iter_mut().zip(&mut late).enumerate() {
                let [whole, last] = of_products.slopes(i, j);
                (*early, *late) = (-whole - last, -whole);
            }
            for (phases, shares) in [(0..left, &early), (left..self.width, &late)] {
                for (kind, profiles) in [(0, 0..self.first), (1, self.first..count)] {
                    for part in common(&self.stretches[kind], &phases) {
                        let start = |j: usize| (profiles.start + j - 1) * self.width + part.start;
                        let shares = &shares[profiles.clone()];
                        subtract_all(&mut own[part.clone()], shares, |j| &self.values[start(j)..]);
                    }
                }
            }
        }
        out
    }
}

/// Stretches as far as they lie among the first phases.
pub(in crate::arima) fn within(
    stretches: &[Range<usize>],
    phases: usize,
) -> impl Iterator<Item = Range<usize>> {
    stretches.iter().map(move |own| own.start.min(phases)..own.end.min(phases))
}

/// Stretches as far as they lie among these phases.
fn common(stretches: &[Range<usize>], phases: &Range<usize>) -> impl Iterator<Item = Range<usize>> {
    let inside = |place: usize| place.clamp(phases.start, phases.end);
    stretches.iter().map(move |own| inside(own.start)..inside(own.end))
}
