use std::ops::Range;

use super::grid::Grid;
use super::symmetric::Pairs;
use crate::num::sum::dot;

/// Values over the phases of a season, nought but in some stretches of them.
pub(super) struct Profile {
    pub values: Vec<f64>,
    pub stretches: Vec<Range<usize>>,
}

impl Profile {
    /// Nought nowhere.
    pub fn whole(values: Vec<f64>) -> Self {
        let all = 0..values.len();
        Self { values, stretches: vec![all] }
    }

    /// The stretches as far as they lie among the first phases.
    fn within(&self, phases: usize) -> impl Iterator<Item = Range<usize>> {
        let phases = phases.min(self.values.len());
        let cut = move |own: &Range<usize>| own.start.min(phases)..own.end.min(phases);
        self.stretches.iter().map(cut)
    }

    /// Sum of products with the first values of a period.
    pub fn dot(&self, others: &[f64]) -> f64 {
        self.within(others.len()).map(|own| dot(&self.values[own.clone()], &others[own])).sum()
    }

    /// Adds a share of it to the first values of a period.
    pub fn add_to(&self, others: &mut [f64], share: f64) {
        for own in self.within(others.len()) {
            for (value, other) in others[own.clone()].iter_mut().zip(&self.values[own]) {
                *value += share * other;
            }
        }
    }
}

/// Products of all pairs, over a whole period and over the last where that is incomplete.
pub(super) fn products(profiles: &[Profile], grid: Grid) -> Pairs {
    let mut all = Pairs::new(profiles.len());
    let left = grid.incomplete().map(|(_, left)| left);
    for (i, one) in profiles.iter().enumerate() {
        for (j, two) in profiles[..=i].iter().enumerate() {
            let last = left.map_or(0.0, |left| one.dot(&two.values[..left.min(two.values.len())]));
            let both = [one.dot(&two.values), last];
            all.add(i, j, both);
            if i != j {
                all.add(j, i, both);
            }
        }
    }
    all
}

/// From the slopes of the products to those of the profiles, each of its own length.
pub(super) fn products_backwards(profiles: &[Profile], of_products: &Pairs, grid: Grid) -> Vec<Vec<f64>> {
    let left = grid.incomplete().map_or(0, |(_, left)| left);
    let slopes = |(i, own): (usize, &Profile)| {
        let mut out = vec![0.0; own.values.len()];
        let first = left.min(out.len());
        for (j, other) in profiles.iter().enumerate() {
            let [whole, last] = of_products.both(i, j).map(|slope| 2.0 * slope);
            if whole.abs() > 0.0 {
                other.add_to(&mut out, whole);
            }
            if last.abs() > 0.0 {
                other.add_to(&mut out[..first], last);
            }
        }
        out
    };
    profiles.iter().enumerate().map(slopes).collect()
}
