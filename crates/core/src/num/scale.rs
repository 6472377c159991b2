//! Bringing a series to a harmless size before squares are formed.

use thiserror::Error;

/// Above this a sum of squares may overflow.
const LARGEST_SQUARABLE: f64 = 1e150;
/// Squares of what is a ten-thousandth of this have all their digits still.
const SMALLEST_SQUARABLE: f64 = 1e-150;

/// Why a series cannot be worked on at all.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum InvalidSeries {
    /// Too few observations.
    #[error("{observations} observations are too few: at least {needed} are needed")]
    TooShort {
        /// Observations given.
        observations: usize,
        /// Observations needed.
        needed: usize,
    },
    /// A value that is infinite, not a number, or so large (above 1e150) that its square would be.
    #[error("value {} is too large to compute with", .place + 1)]
    NotFinite {
        /// Its place, 0-based.
        place: usize,
    },
    /// All values are equal, up to rounding.
    #[error("the series is constant")]
    Constant,
}

/// Whether a square can be formed of a value.
pub fn is_squarable(value: f64) -> bool {
    value.abs() <= LARGEST_SQUARABLE
}

/// Whether all values are so small, though not zero, that squares of their differences lose their digits.
pub fn is_too_small(values: impl IntoIterator<Item = f64>) -> bool {
    let most = values.into_iter().fold(0.0, |most: f64, value| most.max(value.abs()));
    most > 0.0 && most < SMALLEST_SQUARABLE
}

/// The largest absolute value; zero for an empty slice.
pub fn largest(y: &[f64]) -> f64 {
    y.iter().fold(0.0, |most, v| v.abs().max(most))
}

/// The arithmetic mean, by a running update that cannot overflow and with one
/// correcting pass, so that a large offset costs no digits.
pub fn mean(y: &[f64]) -> f64 {
    let mut rough = 0.0;
    for (k, v) in y.iter().enumerate() {
        rough += (v - rough) / (k as f64 + 1.0);
    }
    let count = y.len().max(1) as f64;
    rough + y.iter().map(|v| (v - rough) / count).sum::<f64>()
}

/// The median; zero of no value.
pub fn median(values: &[f64]) -> f64 {
    let mut sorted = values.to_vec();
    sorted.sort_unstable_by(f64::total_cmp);
    quantile(&sorted, 0.5).unwrap_or_default()
}

/// Centre and size of a column.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Scale {
    /// What is taken off.
    pub shift: f64,
    /// The largest distance from it; never zero.
    pub unit: f64,
}

impl Scale {
    /// The mean of a column, or zero where it may not be moved, and the largest distance from it.
    pub fn of(values: &[f64], centred: bool) -> Self {
        let shift = if centred { mean(values) } else { 0.0 };
        let distance = |most: f64, value: &f64| most.max((value - shift).abs());
        Self { shift, unit: values.iter().fold(f64::MIN_POSITIVE, distance) }
    }

    /// A value of the column, between minus one and one.
    pub fn apply(self, value: f64) -> f64 {
        (value - self.shift) / self.unit
    }
}

/// Deviations from the mean in units of the largest, so that no power of them overflows;
/// all zero for a constant.
pub fn deviations(y: &[f64]) -> Vec<f64> {
    let scale = Scale::of(y, true);
    y.iter().map(|value| scale.apply(*value)).collect()
}

/// A quantile of sorted values, by a straight line between neighbours (Hyndman and Fan
/// 1996, definition 7); `None` without values.
pub fn quantile(sorted: &[f64], share: f64) -> Option<f64> {
    let place = share.clamp(0.0, 1.0) * (sorted.len().checked_sub(1)? as f64);
    // Between zero and the last place.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let below = place.floor() as usize;
    let low = *sorted.get(below)?;
    let high = sorted.get(below + 1).copied().unwrap_or(low);
    Some(low + (place - place.floor()) * (high - low))
}

/// Ranks from 1; equal values share the mean of theirs.
pub fn ranks(values: &[f64]) -> Vec<f64> {
    let mut order: Vec<usize> = (0..values.len()).collect();
    order.sort_unstable_by(|a, b| values[*a].total_cmp(&values[*b]));
    let mut ranks = vec![0.0; values.len()];
    let mut below = 0;
    for equals in order.chunk_by(|a, b| values[*a] >= values[*b]) {
        let shared = below as f64 + 0.5 * (equals.len() as f64 + 1.0);
        for place in equals {
            ranks[*place] = shared;
        }
        below += equals.len();
    }
    ranks
}

/// Checks that every value is finite and that they are not all equal.
///
/// # Errors
/// [`InvalidSeries`] with the first offending place.
pub fn check(y: &[f64]) -> Result<(), InvalidSeries> {
    if let Some(place) = y.iter().position(|v| !is_squarable(*v)) {
        return Err(InvalidSeries::NotFinite { place });
    }
    let first = y.first().copied().unwrap_or(0.0);
    // Differences of decimal fractions differ by rounding only; such a series
    // is as constant as its digits allow.
    let rounding = 64.0 * f64::EPSILON * largest(y);
    if y.iter().all(|v| (v - first).abs() <= rounding) {
        return Err(InvalidSeries::Constant);
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_mean_survives_a_huge_offset_and_huge_values() {
        let offset: Vec<f64> = [1.0, 3.0, 2.0].iter().map(|v| v + 1e7).collect();
        assert!((mean(&offset) - 10_000_002.0).abs() < 1e-9);
        assert!((mean(&[1e308, 1e308]) / 1e308 - 1.0).abs() < 1e-15);
    }

    #[test]
    fn rounding_noise_counts_as_constant_and_small_variation_does_not() {
        let drift: Vec<f64> = (0..50).map(|k| 0.1 * f64::from(k + 1) - 0.1 * f64::from(k)).collect();
        assert_eq!(check(&drift), Err(InvalidSeries::Constant));
        assert_eq!(check(&[5.0, 5.0 + 1e-9, 5.0]), Ok(()));
        assert_eq!(check(&[1.0, f64::NAN]), Err(InvalidSeries::NotFinite { place: 1 }));
    }

    #[test]
    fn what_is_wrong_is_said_with_its_place_or_number() {
        let said = |reason: InvalidSeries| reason.to_string();
        let short = InvalidSeries::TooShort { observations: 7, needed: 15 };
        assert_eq!(said(short), "7 observations are too few: at least 15 are needed");
        assert_eq!(said(InvalidSeries::NotFinite { place: 3 }), "value 4 is too large to compute with");
        // The first offending place, before constancy is asked for.
        assert_eq!(check(&[1.0, 1.0, 1e200]), Err(InvalidSeries::NotFinite { place: 2 }));
        assert_eq!(check(&[2.0, 2.0]), Err(InvalidSeries::Constant));
        assert_eq!(check(&[1.0, 2.0]), Ok(()));
    }
}
