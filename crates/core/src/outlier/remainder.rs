//! Outliers in the irregular component of a decomposition.

use crate::num::scale;

/// Interquartile ranges beyond the quartiles from which a component is outlying.
pub(super) const RANGES: f64 = 3.0;
/// Interquartile range of the standard normal distribution.
const NORMAL_RANGE: f64 = 1.348_979_500_392_163_7;

/// The remainders of a robust decomposition, in standard deviations as their interquartile range
/// gives them, and which of them lie more than three ranges beyond the quartiles.
///
/// # Source
/// The fences are those of Tukey, J. W. (1977), Exploratory Data Analysis, "far out".
pub(super) fn far_out(remainder: &[f64]) -> (Vec<Option<f64>>, Vec<bool>) {
    let mut sorted = remainder.to_vec();
    sorted.sort_unstable_by(f64::total_cmp);
    let at = |share| scale::quantile(&sorted, share).unwrap_or_default();
    let (low, middle, high) = (at(0.25), at(0.5), at(0.75));
    let range = high - low;
    if range <= 0.0 {
        return (vec![None; remainder.len()], vec![false; remainder.len()]);
    }
    let score = |value: &f64| Some((value - middle) * NORMAL_RANGE / range);
    let beyond = |value: &f64| *value < low - RANGES * range || *value > high + RANGES * range;
    (remainder.iter().map(score).collect(), remainder.iter().map(beyond).collect())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn fences_by_hand() {
        let mut values: Vec<f64> = (0..=100).map(f64::from).collect();
        // Quartiles 25 and 75: fences at -125 and 225.
        values[0] = -124.0;
        assert!(far_out(&values).1.iter().all(|one| !one));
        values[0] = -126.0;
        assert_eq!(far_out(&values).1.iter().position(|one| *one), Some(0));
        assert_eq!(far_out(&[2.0; 9]).1, [false; 9]);
    }
}
