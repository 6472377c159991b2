//! What a model is estimated from: values, missing ones, regressors.

use crate::series::{Fill, fill};

/// Values to be modelled, some of which may be missing, with regressors.
#[derive(Debug, Clone, PartialEq)]
pub struct Data {
    /// Missing ones hold a value between their neighbours.
    pub(super) values: Vec<f64>,
    /// Places of missing values.
    pub(super) missing: Vec<usize>,
    /// Each as long as the values.
    pub(super) regressors: Vec<Vec<f64>>,
}

impl Data {
    /// Values none of which is missing.
    pub fn complete(values: &[f64]) -> Self {
        Self { values: values.to_vec(), missing: Vec::new(), regressors: Vec::new() }
    }

    /// Values some of which may be missing.
    pub fn with_gaps(cells: &[Option<f64>]) -> Self {
        let missing = (0..cells.len()).filter(|place| cells[*place].is_none()).collect();
        let filled = fill(cells, Fill::Linear, 1).cells;
        let first = filled.iter().flatten().next().copied().unwrap_or_default();
        // Missing ends hold their neighbour; any number would do.
        let values = filled
            .iter()
            .scan(first, |last, cell| {
                *last = cell.unwrap_or(*last);
                Some(*last)
            })
            .collect();
        Self { values, missing, regressors: Vec::new() }
    }

    /// With regressors, each as long as the values.
    #[must_use]
    pub fn with_regressors(self, regressors: Vec<Vec<f64>>) -> Self {
        Self { regressors, ..self }
    }

    /// As it was known before a place.
    #[must_use]
    pub fn until(&self, place: usize) -> Self {
        let head = |list: &Vec<f64>| list.iter().take(place).copied().collect();
        Self {
            values: head(&self.values),
            missing: self.missing.iter().copied().filter(|missing| *missing < place).collect(),
            regressors: self.regressors.iter().map(head).collect(),
        }
    }

    /// The values from a place on; none for missing ones.
    pub fn known_from(&self, place: usize) -> impl Iterator<Item = Option<f64>> + '_ {
        let known = |(at, value): (usize, &f64)| self.missing.binary_search(&at).is_err().then_some(*value);
        self.values.iter().enumerate().skip(place).map(known)
    }

    /// That number of values of each regressor from a place on.
    pub fn regressors_from(&self, place: usize, count: usize) -> Vec<Vec<f64>> {
        self.regressors.iter().map(|own| own.iter().skip(place).take(count).copied().collect()).collect()
    }

    /// Values, missing ones among them.
    pub fn len(&self) -> usize {
        self.values.len()
    }

    /// Whether there is no value.
    pub fn is_empty(&self) -> bool {
        self.values.is_empty()
    }

    /// What a missing value at each missing place adds to the series.
    pub(super) fn pulses(&self) -> Vec<Vec<f64>> {
        let pulse = |place: &usize| {
            let mut column = vec![0.0; self.values.len()];
            column[*place] = 1.0;
            column
        };
        self.missing.iter().map(pulse).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn missing_places_hold_a_number_between_their_neighbours() {
        let data = Data::with_gaps(&[None, Some(1.0), None, Some(3.0), None]);
        assert_eq!(data.values, [1.0, 1.0, 2.0, 3.0, 3.0]);
        assert_eq!(data.missing, [0, 2, 4]);
        assert_eq!(data.pulses()[1], [0.0, 0.0, 1.0, 0.0, 0.0]);
    }
}
