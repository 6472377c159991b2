//! Mean, variance and first-order autocorrelation by subsample.

use crate::num::chi_squared;
use crate::num::scale;
use crate::num::sum::dot;
use crate::ols::{Bandwidth, bartlett_variance};

/// The customary number of segments.
pub const SEGMENTS: usize = 4;
/// A segment has at least that number of values.
const MIN_OBSERVATIONS_SUBSAMPLE: usize = 10;

/// Mean, variance and autocorrelation of one stretch of a series.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Segment {
    /// Place of its first value, 0-based.
    pub first: usize,
    /// Place of its last value.
    pub last: usize,
    /// Mean.
    pub mean: f64,
    /// Standard deviation, divisor n - 1.
    pub sd: f64,
    /// First autocorrelation about its own mean.
    pub r1: f64,
}

/// A test that a moment is the same in all segments.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MomentTest {
    /// The Wald statistic.
    pub statistic: f64,
    /// Its degrees of freedom: segments less one.
    pub degrees: usize,
    /// Its p-value.
    pub p_value: f64,
}

/// The three parts of weak stationarity, each on its own.
#[derive(Debug, Clone, PartialEq)]
pub struct Moments {
    /// The segments.
    pub segments: Vec<Segment>,
    /// Equal means.
    pub mean: MomentTest,
    /// Equal variances about the overall mean of each segment.
    pub variance: MomentTest,
    /// Equal first autocovariances.
    pub autocovariance: MomentTest,
}

/// Mean, variance and first autocovariance by segment, with tests of their being equal that
/// allow for serial correlation.
///
/// # Formula
/// For `z_t = y_t`, `(y_t - ȳ_k)²` and `(y_t - ȳ_k)(y_{t-1} - ȳ_k)`, `ȳ_k` the mean of the segment:
/// `W = Σ_k n_k (z̄_k - z̄)² / ω²`, ω² the long-run variance of z about its segment means with
/// Bartlett weights and automatic bandwidth; χ² with segments less one degrees of freedom.
///
/// # Returns
/// `None` for fewer than ten values a segment, or a constant stretch that leaves no variance.
pub fn moments(y: &[f64], segments: usize) -> Option<Moments> {
    let n = y.len();
    if segments < 2 || n < MIN_OBSERVATIONS_SUBSAMPLE * segments || scale::check(y).is_err() {
        return None;
    }
    let x = scale::deviations(y);
    let bounds: Vec<(usize, usize)> =
        (0..segments).map(|k| (k * n / segments, (k + 1) * n / segments)).collect();
    let centred: Vec<Vec<f64>> = bounds
        .iter()
        .map(|(from, to)| {
            let part = &x[*from..*to];
            let mean = scale::mean(part);
            part.iter().map(|value| value - mean).collect()
        })
        .collect();
    let levels: Vec<Vec<f64>> = bounds.iter().map(|(from, to)| x[*from..*to].to_vec()).collect();
    let squares: Vec<Vec<f64>> = centred.iter().map(|e| e.iter().map(|v| v * v).collect()).collect();
    let products: Vec<Vec<f64>> =
        centred.iter().map(|e| e.windows(2).map(|pair| pair[0] * pair[1]).collect()).collect();
    Some(Moments {
        segments: bounds.iter().zip(&centred).map(|(bound, e)| segment(y, *bound, e)).collect(),
        mean: equal(&levels)?,
        variance: equal(&squares)?,
        autocovariance: equal(&products)?,
    })
}

fn segment(y: &[f64], (from, to): (usize, usize), e: &[f64]) -> Segment {
    let square = dot(e, e);
    let part = &y[from..to];
    let mean = scale::mean(part);
    let unit = part.iter().map(|v| (v - mean).powi(2)).sum::<f64>();
    let r1 = if square > 0.0 { dot(&e[1..], e) / square } else { 0.0 };
    Segment { first: from, last: to - 1, mean, sd: (unit / (part.len() as f64 - 1.0)).sqrt(), r1 }
}

fn equal(parts: &[Vec<f64>]) -> Option<MomentTest> {
    let count = parts.iter().map(Vec::len).sum::<usize>() as f64;
    let means: Vec<f64> = parts.iter().map(|part| scale::mean(part)).collect();
    let whole = parts.iter().zip(&means).map(|(part, mean)| part.len() as f64 * mean).sum::<f64>() / count;
    let e: Vec<f64> = parts
        .iter()
        .zip(&means)
        .flat_map(|(part, mean)| part.iter().map(move |value| value - mean))
        .collect();
    let variance = bartlett_variance(&e, Bandwidth::Automatic.resolve(&e));
    let between: f64 =
        parts.iter().zip(&means).map(|(part, mean)| part.len() as f64 * (mean - whole).powi(2)).sum();
    let statistic = between / variance;
    let degrees = parts.len() - 1;
    let p_value = chi_squared::survival(statistic, degrees)?;
    (variance > 0.0 && statistic.is_finite()).then_some(MomentTest { statistic, degrees, p_value })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn segments_have_their_own_figures() {
        let y: Vec<f64> = (0..40).map(|t| f64::from(t % 10) + if t >= 30 { 100.0 } else { 0.0 }).collect();
        let found = moments(&y, 4).expect("long enough");
        assert_eq!(
            found.segments.iter().map(|s| (s.first, s.last)).collect::<Vec<_>>(),
            [(0, 9), (10, 19), (20, 29), (30, 39)]
        );
        assert!((found.segments[3].mean - 104.5).abs() < 1e-12);
        // 0 … 9: sum of squares about 4.5 is 82.5.
        assert!((found.segments[0].sd - (82.5_f64 / 9.0).sqrt()).abs() < 1e-12);
    }

    #[test]
    fn each_test_sees_its_own_moment() {
        let n = 400;
        let (mut by_mean, mut by_spread, mut by_autocorrelation, mut none) = (0, 0, 0, 0);
        for seed in 0..40 {
            let e = NormalStream::new(900 + seed, 0).take(n);
            let shifted: Vec<f64> =
                e.iter().enumerate().map(|(t, v)| v + if t >= 200 { 1.0 } else { 0.0 }).collect();
            let wider: Vec<f64> =
                e.iter().enumerate().map(|(t, v)| if t >= 200 { 2.5 * v } else { *v }).collect();
            let mut dependent = e.clone();
            for t in 200..n {
                dependent[t] = 0.8 * dependent[t - 1] + 0.6 * e[t];
            }
            let low = |test: MomentTest| usize::from(test.p_value < 0.05);
            by_mean += low(moments(&shifted, 4).expect("long enough").mean);
            by_spread += low(moments(&wider, 4).expect("long enough").variance);
            by_autocorrelation += low(moments(&dependent, 4).expect("long enough").autocovariance);
            none += low(moments(&e, 4).expect("long enough").mean);
        }
        assert!(
            by_mean >= 38 && by_spread >= 36 && by_autocorrelation >= 30,
            "{by_mean} {by_spread} {by_autocorrelation}"
        );
        assert!(none <= 6, "{none}");
    }

    #[test]
    fn too_short_or_constant_gives_nothing() {
        assert_eq!(moments(&[1.0; 60], 4), None);
        assert_eq!(moments(&NormalStream::new(1, 0).take(39), 4), None);
    }
}
