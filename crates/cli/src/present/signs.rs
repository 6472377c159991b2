//! How often a series is negative, and how often it crosses zero.

use schemars::JsonSchema;
use serde::Serialize;

use crate::wording;

/// Counts of the signs of a series that takes both.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
pub struct SignCounts {
    /// Observations below zero.
    pub negative: usize,
    /// Changes of sign from one observation to the next; zeros in between do not count.
    pub zero_crossings: usize,
}

impl SignCounts {
    /// Of the known values; none where they have one sign only.
    pub fn of(values: impl Iterator<Item = f64>) -> Option<Self> {
        let (mut negative, mut positive, mut zero_crossings, mut last) = (0, 0, 0, None);
        for value in values.filter(|value| *value != 0.0) {
            let is_negative = value < 0.0;
            negative += usize::from(is_negative);
            positive += usize::from(!is_negative);
            zero_crossings += usize::from(last.is_some_and(|before| before != is_negative));
            last = Some(is_negative);
        }
        (negative > 0 && positive > 0).then_some(Self { negative, zero_crossings })
    }

    /// As a clause of a sentence about this number of observations.
    pub fn clause(self, observations: usize, noun: &str) -> String {
        format!(
            "negative in {} of {}, {}",
            self.negative,
            wording::count(observations, noun),
            wording::count(self.zero_crossings, "zero crossing")
        )
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn signs_and_crossings_by_hand() {
        let of = |values: &[f64]| SignCounts::of(values.iter().copied());
        let found = of(&[1.0, -2.0, 0.0, -3.0, 0.0, 4.0, 5.0]).expect("both signs");
        assert_eq!(found, SignCounts { negative: 2, zero_crossings: 2 });
        assert_eq!(found.clause(7, "month"), "negative in 2 of 7 months, 2 zero crossings");
        assert_eq!(of(&[1.0, 0.0, 2.0]), None);
        assert_eq!(of(&[-1.0, -2.0]), None);
        assert_eq!(of(&[]), None);
    }
}
