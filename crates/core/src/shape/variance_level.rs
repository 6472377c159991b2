//! How the variance of a series depends on its level.

use schemars::JsonSchema;
use serde::Serialize;

use crate::boxcox::{segment_length, segments};
use crate::num::{scale, student};

/// How the variance of a series depends on its level.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct VarianceLevelRelation {
    /// Stretches compared.
    pub stretches: usize,
    /// Observations in each.
    pub length: usize,
    /// The exponent b of `spread ∝ level^b`; of `exp(b · level / sd)` where the series
    /// is not positive.
    pub exponent: f64,
    /// Its standard error.
    pub std_error: f64,
    /// Two-sided p-value of b = 0, Student's distribution.
    pub p_value: f64,
    /// What follows.
    pub advice: TransformationAdvice,
}

/// What to do about the variance.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum TransformationAdvice {
    /// Nothing: no dependence on the level is seen.
    None,
    /// Take logarithms: the variance is in proportion to the level.
    Logarithm,
    /// A Box-Cox transformation: The variance grows with the level, not in proportion.
    BoxCox,
    /// It grows with the level, but values that are not positive have no logarithm.
    IncreasingNonpositive,
    /// Nothing: the level moves too little for a transformation to matter.
    LevelConstant,
    /// It falls as the level rises.
    Falls,
}

/// Fewest stretches to compare.
const MIN_SEGMENTS: usize = 6;
const LEVEL: f64 = 0.05;
/// A power this near to one is taken for one.
const NEAR_ONE: f64 = 0.25;
/// Levels within this factor look the same through any transformation.
const STEADY: f64 = 1.5;

/// Compares spread and level over stretches of one season (of eight observations where
/// there is none, or it is short).
///
/// # Formula
/// In each stretch the level is the mean and the variance the standard deviation around
/// a line in time (divisor length - 2); the logarithm of the variance is regressed on
/// that of the level. In proportion (b = 1) logarithms even the variance; Box-Cox with
/// λ = 1 - b does for other b (Box and Cox 1964). Powers from 0.75 to 1.25, and those whose
/// 95 % interval holds one, count as one.
///
/// # Returns
/// `None` if the series has fewer than six stretches with any spread, or one level only.
pub fn variance_level(y: &[f64], season: usize) -> Option<VarianceLevelRelation> {
    let (length, all) = (segment_length(season), segments(y, season));
    if all.len() < MIN_SEGMENTS {
        return None;
    }
    let positive = y.iter().all(|value| *value > 0.0);
    let levels: Vec<f64> = all.iter().map(|(level, _)| *level).collect();
    let mean = scale::mean(&levels);
    let own =
        (levels.iter().map(|level| (level - mean).powi(2)).sum::<f64>() / (levels.len() as f64 - 1.0)).sqrt();
    let x: Vec<f64> =
        levels.iter().map(|level| if positive { level.ln() } else { (level - mean) / own }).collect();
    let z: Vec<f64> = all.iter().map(|(_, spread)| spread.ln()).collect();
    let line = line(&x, &z)?;
    let degrees = all.len() - 2;
    let p_value = student::two_sided(line.slope / line.std_error, degrees)?;
    // About the 95 % point of Student's distribution with few degrees of freedom.
    let near_one = (line.slope - 1.0).abs() <= (2.2 * line.std_error).max(NEAR_ONE);
    let (low, high) =
        levels.iter().fold((f64::INFINITY, 0.0_f64), |(a, b), level| (a.min(*level), b.max(*level)));
    let steady = positive && high < STEADY * low;
    let advice = match (p_value <= LEVEL, line.slope > 0.0, positive, near_one) {
        (false, ..) => TransformationAdvice::None,
        _ if steady => TransformationAdvice::LevelConstant,
        (true, false, ..) => TransformationAdvice::Falls,
        (true, true, false, _) => TransformationAdvice::IncreasingNonpositive,
        (true, true, true, true) => TransformationAdvice::Logarithm,
        (true, true, true, false) => TransformationAdvice::BoxCox,
    };
    let Line { slope: exponent, std_error } = line;
    Some(VarianceLevelRelation { stretches: all.len(), length, exponent, std_error, p_value, advice })
}

struct Line {
    slope: f64,
    std_error: f64,
}

fn line(x: &[f64], z: &[f64]) -> Option<Line> {
    let (mean_x, mean_z) = (scale::mean(x), scale::mean(z));
    let squares: f64 = x.iter().map(|value| (value - mean_x).powi(2)).sum();
    let product: f64 = x.iter().zip(z).map(|(a, b)| (a - mean_x) * (b - mean_z)).sum();
    let slope = product / squares;
    let residual: f64 = x.iter().zip(z).map(|(a, b)| (b - mean_z - slope * (a - mean_x)).powi(2)).sum();
    let std_error = (residual / (x.len() as f64 - 2.0) / squares).sqrt();
    (slope.is_finite() && std_error > 0.0 && std_error.is_finite()).then_some(Line { slope, std_error })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    /// A level that rises from 10 to 60 and noise whose spread is a power of it.
    fn rising(power: f64, stream: u64) -> Vec<f64> {
        let noise = NormalStream::new(11, stream).take(240);
        noise
            .iter()
            .zip(0..)
            .map(|(e, t)| (10.0 + f64::from(t) / 4.8, e))
            .map(|(m, e)| m + 0.1 * m.powf(power) * e)
            .collect()
    }

    #[test]
    fn the_exponent_is_found_and_the_advice_follows() {
        let (mut even, mut logarithm, mut root) = (0, 0, 0);
        for stream in 0..100 {
            let of = |power| variance_level(&rising(power, stream), 12).expect("enough").advice;
            even += u32::from(of(0.0) == TransformationAdvice::None);
            logarithm += u32::from(of(1.0) == TransformationAdvice::Logarithm);
            root += u32::from(matches!(of(0.5), TransformationAdvice::BoxCox));
        }
        assert!((90..=99).contains(&even), "{even}");
        assert!(logarithm >= 90, "{logarithm}");
        assert!(root >= 80, "{root}");
        let exponent = variance_level(&rising(1.0, 1), 12).expect("enough").exponent;
        assert!((exponent - 1.0).abs() < 0.3, "{exponent}");
    }

    #[test]
    fn values_below_nought_have_no_logarithm() {
        let y: Vec<f64> = rising(1.0, 3).iter().map(|value| value - 30.0).collect();
        assert_eq!(
            variance_level(&y, 12).map(|found| found.advice),
            Some(TransformationAdvice::IncreasingNonpositive)
        );
        assert_eq!(variance_level(&[1.0, 2.0, 1.0], 1), None);
        assert_eq!(variance_level(&[1.0; 100], 1), None);
    }

    #[test]
    fn a_level_that_hardly_moves_needs_no_transformation() {
        let noise = NormalStream::new(12, 0).take(240);
        let level = |t: usize| 100.0 + t as f64 / 24.0;
        let y: Vec<f64> = noise.iter().enumerate().map(|(t, e)| level(t) + 0.02 * t as f64 * e).collect();
        assert_eq!(
            variance_level(&y, 12).map(|found| found.advice),
            Some(TransformationAdvice::LevelConstant)
        );
    }

    #[test]
    fn the_unit_of_measurement_does_not_matter() {
        let y = rising(0.5, 7);
        let scaled: Vec<f64> = y.iter().map(|value| 250.0 * value).collect();
        let (a, b) = (variance_level(&y, 12).expect("enough"), variance_level(&scaled, 12).expect("enough"));
        assert!((a.exponent - b.exponent).abs() < 1e-9 && (a.p_value - b.p_value).abs() < 1e-9);
    }
}
