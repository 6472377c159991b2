//! The level and the spread of each segment of a series, and how even the spreads are after a transformation.

use schemars::JsonSchema;
use serde::Serialize;

use super::transform;
use crate::num::scale;

/// Segments without a season are so long.
const LENGTH: usize = 8;
/// A season shorter than this makes too short a segment.
const SHORTEST: usize = 4;

/// The largest over the smallest standard deviation of a segment under each transformation.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct SdRatios {
    /// Of the values as they are.
    pub untransformed: f64,
    /// Of their logarithms.
    pub logarithm: f64,
    /// With λ of the largest likelihood.
    pub likelihood: f64,
    /// With λ by Guerrero's method.
    pub guerrero: f64,
}

impl SdRatios {
    /// Of a positive series; none with fewer than two segments in which it varies.
    pub(super) fn of(y: &[f64], season: usize, likelihood: f64, guerrero: f64) -> Option<Self> {
        Some(Self {
            untransformed: ratio(y, season, 1.0)?,
            logarithm: ratio(y, season, 0.0)?,
            likelihood: ratio(y, season, likelihood)?,
            guerrero: ratio(y, season, guerrero)?,
        })
    }
}

/// The number of observations in a segment: a season, or eight.
pub fn segment_length(season: usize) -> usize {
    if season >= SHORTEST { season } else { LENGTH }
}

/// The mean of each segment, and the standard deviation around a line in time (divisor length - 2), from the last segment
/// backwards; segments without any spread are left out.
pub fn segments(y: &[f64], season: usize) -> Vec<(f64, f64)> {
    y.rchunks_exact(segment_length(season)).map(level_and_spread).filter(|(_, s)| *s > 0.0).collect()
}

fn ratio(y: &[f64], season: usize, lambda: f64) -> Option<f64> {
    let x: Vec<f64> = y.iter().map(|value| transform(*value, lambda)).collect();
    let spreads: Vec<f64> = segments(&x, season).into_iter().map(|(_, spread)| spread).collect();
    let largest = spreads.iter().copied().fold(0.0, f64::max);
    let smallest = spreads.iter().copied().fold(f64::INFINITY, f64::min);
    let ratio = largest / smallest;
    (spreads.len() > 1 && ratio.is_finite()).then_some(ratio)
}

fn level_and_spread(stretch: &[f64]) -> (f64, f64) {
    let n = stretch.len() as f64;
    let mean = scale::mean(stretch);
    let middle = 0.5 * (n - 1.0);
    let clock = |t: usize| t as f64 - middle;
    let squares: f64 = (0..stretch.len()).map(|t| clock(t).powi(2)).sum();
    let slope = stretch.iter().enumerate().map(|(t, value)| clock(t) * (value - mean)).sum::<f64>() / squares;
    let residual: f64 =
        stretch.iter().enumerate().map(|(t, value)| (value - mean - slope * clock(t)).powi(2)).sum();
    (mean, (residual / (n - 2.0)).sqrt())
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Three segments of four values about a level that doubles, with spreads in proportion to a power of it.
    fn stairs(power: f64) -> Vec<f64> {
        let of = |level: f64| [1.0, -1.0, -1.0, 1.0].map(|e| level + 0.1 * level.powf(power) * e);
        [of(10.0), of(20.0), of(40.0)].concat()
    }

    #[test]
    fn segments_and_their_ratios_by_hand() {
        // The values of a segment have no slope: squares of 0.1 each, four of them over two.
        let all = segments(&stairs(0.0), 4);
        assert_eq!(all.len(), 3);
        assert!(all.iter().all(|(_, spread)| (spread - 0.1 * 2.0_f64.sqrt()).abs() < 1e-12), "{all:?}");
        assert_eq!(all.iter().map(|(level, _)| *level).collect::<Vec<_>>(), [40.0, 20.0, 10.0]);
        let of = |power: f64| SdRatios::of(&stairs(power), 4, 0.5, 0.0).expect("segments");
        assert!((of(0.0).untransformed - 1.0).abs() < 1e-12);
        assert!((of(1.0).untransformed - 4.0).abs() < 1e-12);
        // In proportion to the level a logarithm evens them, to the root of the level a square root nearly does.
        assert!((of(1.0).logarithm - 1.0).abs() < 1e-12 && (of(1.0).guerrero - 1.0).abs() < 1e-12);
        assert!((of(0.5).likelihood - 1.0).abs() < 0.01 && of(0.5).logarithm > 1.9);
        assert_eq!(SdRatios::of(&[1.0; 12], 4, 0.5, 0.0), None);
        assert_eq!((segment_length(12), segment_length(1), segment_length(2)), (12, 8, 8));
    }
}
