//! Whether a series has a trend, and of which shape.

use schemars::JsonSchema;
use serde::Serialize;

use crate::lag::{Criterion, LagRule};
use crate::nulldist::Terms;
use crate::num::{normal, scale};
use crate::ols::{Bandwidth, bartlett_variance};
use crate::unitroot::{AdfOptions, KpssOptions, adf, kpss};

/// A test of a linear trend that holds whether or not there is a unit root.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct TrendTest {
    /// Rise per observation: by regression and by the mean change, weighed alike.
    pub per_period: f64,
    /// The weighted statistic, standard normal without a trend.
    pub z: f64,
    /// Two-sided p-value.
    pub p_value: f64,
    /// The weight of the mean change: near one with a unit root, near zero without.
    pub weight: f64,
}

/// The shape of a trend.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum TrendShape {
    /// No trend.
    None,
    /// By the same amount.
    Linear,
    /// By the same share.
    Exponential,
    /// Neither the amount nor the share stays the same.
    Other,
}

/// The shape and the tests behind it.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct TrendVerdict {
    /// The shape; of linear and exponential the more probable, where neither is excluded.
    pub trend_shape: TrendShape,
    /// Whether the other of linear and exponential is excluded.
    pub certain: bool,
    /// A trend in the series.
    pub level: TrendTest,
    /// A trend in its logarithm, for positive series.
    pub logarithm: Option<TrendTest>,
    /// A trend in its changes: whether the amount changes.
    pub differences: TrendTest,
    /// A trend in its relative changes, for positive series: whether the share changes.
    pub growth_rates: Option<TrendTest>,
}

/// How fast the weight goes from one to zero (Harvey, Leybourne and Taylor 2007).
const KAPPA: f64 = 0.000_25;
/// The local alternative of GLS detrending (Elliott, Rothenberg and Stock 1996).
const C_BAR: f64 = -13.5;
/// Fewest observations.
const MIN_OBSERVATIONS_TREND: usize = 30;
const LEVEL: f64 = 0.05;

/// Tests for a linear trend.
///
/// # Formula
/// `z = (1-λ) z_0 + λ z_1`: `z_0` is the regression slope on time over the square root of
/// `ω̂²_u / Σ(t-t̄)²`, `z_1` the mean change over that of `ω̂²_v / n`, with long-run variances
/// of the residuals u and of the changes less their mean v (Bartlett kernel, automatic
/// bandwidth). `λ = exp(-κ (U/S)²)`, U the unit-root t of the GLS-detrended series, S the
/// KPSS statistic around a trend (bandwidth `floor(4 (n/100)^{1/4})`). A season is taken
/// out of the changes first. Of random walks of 200 values about one in ten is given a
/// trend at 5 %, of stationary series about one in twenty.
///
/// # Source
/// Harvey, D. I., Leybourne, S. J. and Taylor, A. M. R. (2007), Journal of Econometrics
/// 141, 1302-1330.
///
/// # Returns
/// `None` for fewer than 30 values, or values that follow a rule without error.
pub fn trend(y: &[f64], season: usize) -> Option<TrendTest> {
    if y.len() < MIN_OBSERVATIONS_TREND || scale::check(y).is_err() {
        return None;
    }
    let y = without_season(y, season);
    let n = y.len() as f64;
    let middle = 0.5 * (n - 1.0);
    let squares: f64 = (0..y.len()).map(|t| (t as f64 - middle).powi(2)).sum();
    let mean = scale::mean(&y);
    let slope = y.iter().enumerate().map(|(t, v)| (t as f64 - middle) * (v - mean)).sum::<f64>() / squares;
    let residuals: Vec<f64> =
        y.iter().enumerate().map(|(t, v)| v - mean - slope * (t as f64 - middle)).collect();
    let changes: Vec<f64> = y.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let drift = scale::mean(&changes);
    let around: Vec<f64> = changes.iter().map(|change| change - drift).collect();
    let long_run = |e: &[f64]| bartlett_variance(e, Bandwidth::Automatic.resolve(e));
    let z_level = slope / (long_run(&residuals) / squares).sqrt();
    let z_drift = drift / (long_run(&around) / changes.len() as f64).sqrt();
    let weight = weight(&y)?;
    let z = (1.0 - weight) * z_level + weight * z_drift;
    let per_period = (1.0 - weight) * slope + weight * drift;
    z.is_finite().then(|| TrendTest { per_period, z, p_value: 2.0 * normal::survival(z.abs()), weight })
}

/// Tells no trend, a constant amount, a constant share and neither apart.
///
/// # Method
/// A trend is one that [`trend`] finds at 5 % in the series or, if it is positive, in its
/// logarithm. It is linear if the changes have none, exponential if those of the
/// logarithm have none; where both hold, whichever is further from a trend. A trend of the logarithm alone is not linear.
pub fn trend_shape(y: &[f64], season: usize) -> Option<TrendVerdict> {
    let level = trend(y, season)?;
    let differences =
        |values: &[f64]| -> Vec<f64> { values.windows(2).map(|pair| pair[1] - pair[0]).collect() };
    let changes = trend_of_changes(&differences(y), season)?;
    let positive = y.iter().all(|value| *value > 0.0);
    let logarithms: Vec<f64> = if positive { y.iter().map(|value| value.ln()).collect() } else { Vec::new() };
    let growth_rates = trend_of_changes(&differences(&logarithms), season);
    let logarithm = trend(&logarithms, season);
    let [has_level, has_logarithm] =
        [Some(level), logarithm].map(|test| test.is_some_and(|test| test.p_value <= LEVEL));
    let constant_amount = changes.p_value > LEVEL;
    let constant_share = growth_rates.is_some_and(|test| test.p_value > LEVEL);
    let nearer_to_share = growth_rates.is_some_and(|test| test.z.abs() < changes.z.abs());
    let shape = match (constant_amount, constant_share) {
        _ if !has_level && !has_logarithm => TrendShape::None,
        (_, true) if !has_level => TrendShape::Exponential,
        _ if !has_level => TrendShape::Other,
        (true, true) if nearer_to_share => TrendShape::Exponential,
        (true, _) => TrendShape::Linear,
        (false, true) => TrendShape::Exponential,
        (false, false) => TrendShape::Other,
    };
    let certain = !(constant_amount && constant_share);
    Some(TrendVerdict { trend_shape: shape, certain, level, logarithm, differences: changes, growth_rates })
}

/// The regression of changes on time and the season, with a standard error that allows
/// for serial correlation and for spread that itself changes (Newey and West 1987).
fn trend_of_changes(changes: &[f64], season: usize) -> Option<TrendTest> {
    if changes.len() + 1 < MIN_OBSERVATIONS_TREND || scale::check(changes).is_err() {
        return None;
    }
    let changes = without_means(changes, season);
    let middle = 0.5 * (changes.len() as f64 - 1.0);
    let clock = |t: usize| t as f64 - middle;
    let squares: f64 = (0..changes.len()).map(|t| clock(t).powi(2)).sum();
    let mean = scale::mean(&changes);
    let slope = changes.iter().enumerate().map(|(t, v)| clock(t) * (v - mean)).sum::<f64>() / squares;
    let scores: Vec<f64> =
        changes.iter().enumerate().map(|(t, v)| clock(t) * (v - mean - slope * clock(t))).collect();
    let variance = bartlett_variance(&scores, Bandwidth::Automatic.resolve(&scores)) * changes.len() as f64;
    let z = slope * squares / variance.sqrt();
    let p_value = 2.0 * normal::survival(z.abs());
    z.is_finite().then_some(TrendTest { per_period: slope, z, p_value, weight: 0.0 })
}

/// Changes less the means of their places in the season, plus the mean of all.
fn without_means(changes: &[f64], season: usize) -> Vec<f64> {
    if season < 2 || changes.len() < 2 * season {
        return changes.to_vec();
    }
    let mut sums = vec![(0.0, 0.0); season];
    for (t, change) in changes.iter().enumerate() {
        let (sum, count) = &mut sums[t % season];
        *sum += change;
        *count += 1.0;
    }
    let means: Vec<f64> = sums.iter().map(|(sum, count)| sum / count).collect();
    let centre = scale::mean(&means);
    changes.iter().enumerate().map(|(t, change)| change - (means[t % season] - centre)).collect()
}

/// The series whose changes are free of deterministic seasonality.
fn without_season(y: &[f64], season: usize) -> Vec<f64> {
    let changes: Vec<f64> = y.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let mut level = y.first().copied().unwrap_or(0.0);
    let mut adjusted = vec![level];
    for change in without_means(&changes, season) {
        level += change;
        adjusted.push(level);
    }
    adjusted
}

/// λ, from a unit-root and a stationarity statistic.
fn weight(y: &[f64]) -> Option<f64> {
    let options = AdfOptions { terms: Terms::None, lags: LagRule::Criterion(Criterion::Aic), max_lags: None };
    let unit_root = adf(&gls_detrended(y), &options).ok()?.statistic;
    let options = KpssOptions { terms: Terms::Trend, bandwidth: Bandwidth::Short, ..KpssOptions::default() };
    let stationarity = kpss(y, &options).ok()?.statistic;
    Some((-KAPPA * (unit_root / stationarity).powi(2)).exp())
}

/// Residuals from the line fitted to quasi-differences with `1 + c̄/n`.
fn gls_detrended(y: &[f64]) -> Vec<f64> {
    let n = y.len() as f64;
    let alpha = 1.0 + C_BAR / n;
    let quasi = |now: f64, before: Option<f64>| before.map_or(now, |before| now - alpha * before);
    let rows = y.iter().enumerate().map(|(t, value)| {
        let before = t.checked_sub(1);
        let one = quasi(1.0, before.map(|_| 1.0));
        let time = quasi(t as f64 + 1.0, before.map(|earlier| earlier as f64 + 1.0));
        [one, time, quasi(*value, before.map(|earlier| y[earlier]))]
    });
    let (mut aa, mut ab, mut bb, mut az, mut bz) = (0.0, 0.0, 0.0, 0.0, 0.0);
    for [a, b, z] in rows {
        aa += a * a;
        ab += a * b;
        bb += b * b;
        az += a * z;
        bz += b * z;
    }
    let determinant = aa * bb - ab * ab;
    let (level, slope) = ((az * bb - bz * ab) / determinant, (bz * aa - az * ab) / determinant);
    y.iter().enumerate().map(|(t, value)| value - level - slope * (t as f64 + 1.0)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    const DRAWS: u64 = 400;

    /// An autoregression of order one; a random walk for one.
    fn autoregression(phi: f64, n: usize, stream: u64) -> Vec<f64> {
        let mut level = 0.0;
        let e = NormalStream::new(31, stream).take(n + 50);
        let all: Vec<f64> = e
            .iter()
            .map(|e| {
                level = phi * level + e;
                level
            })
            .collect();
        all[50..].to_vec()
    }

    fn rejections(make: impl Fn(u64) -> Vec<f64>, season: usize) -> f64 {
        let found = (0..DRAWS)
            .filter(|stream| trend(&make(*stream), season).is_some_and(|test| test.p_value <= 0.05));
        found.count() as f64 / DRAWS as f64
    }

    #[test]
    fn a_walk_and_a_stationary_series_are_rarely_given_a_trend() {
        for (phi, most) in [(1.0, 0.13), (0.95, 0.08), (0.8, 0.08), (0.0, 0.08)] {
            let share = rejections(|stream| autoregression(phi, 200, stream), 1);
            assert!(share < most, "{phi}: {share}");
        }
    }

    #[test]
    fn a_trend_is_found_beside_either() {
        let with_slope = |phi, slope: f64| {
            move |stream| {
                autoregression(phi, 200, stream)
                    .iter()
                    .zip(0..)
                    .map(|(v, t)| v + slope * f64::from(t))
                    .collect()
            }
        };
        let (walk, stationary) = (rejections(with_slope(1.0, 0.3), 1), rejections(with_slope(0.5, 0.02), 1));
        assert!(walk > 0.9 && stationary > 0.9, "{walk} {stationary}");
    }

    #[test]
    fn shapes_are_distinguished() {
        let (mut linear, mut exponential, mut none, mut wrong) = (0, 0, 0, 0);
        for stream in 0..100 {
            let walk = autoregression(1.0, 240, stream);
            let line: Vec<f64> =
                walk.iter().zip(0..).map(|(v, t)| 100.0 + 2.0 * f64::from(t) + 2.0 * v).collect();
            let growth: Vec<f64> =
                walk.iter().zip(0..).map(|(v, t)| (3.0 + 0.02 * f64::from(t) + 0.02 * v).exp()).collect();
            let verdict =
                |y: &[f64]| trend_shape(y, 12).map(|verdict| (verdict.trend_shape, verdict.certain));
            linear += u32::from(verdict(&line).is_some_and(|(shape, _)| shape == TrendShape::Linear));
            exponential +=
                u32::from(verdict(&growth).is_some_and(|(shape, _)| shape == TrendShape::Exponential));
            wrong += u32::from(verdict(&line) == Some((TrendShape::Exponential, true)));
            wrong += u32::from(verdict(&growth) == Some((TrendShape::Linear, true)));
            none += u32::from(
                verdict(&autoregression(0.5, 240, stream)).is_some_and(|(s, _)| s == TrendShape::None),
            );
        }
        assert!(linear >= 85 && exponential >= 85 && none >= 88, "{linear} {exponential} {none}");
        assert!(wrong <= 10, "{wrong} of 200");
    }

    #[test]
    fn growth_that_accelerates_is_not_linear() {
        for stream in 0..20 {
            // A price level that rises a billion times, faster from month to month.
            let shocks = NormalStream::new(15, stream).take(72);
            let mut logarithm = 0.0;
            let prices: Vec<f64> = shocks
                .iter()
                .zip(0..)
                .map(|(shock, t)| {
                    logarithm += 0.01 * (0.07 * f64::from(t)).exp() * (1.0 + 0.3 * shock).max(0.1);
                    f64::exp(logarithm)
                })
                .collect();
            let found = trend_shape(&prices, 12).expect("long enough");
            assert!(
                matches!(found.trend_shape, TrendShape::Exponential | TrendShape::Other),
                "{stream}: {found:?}"
            );
        }
    }

    #[test]
    fn the_season_does_not_hide_a_trend() {
        let y: Vec<f64> = autoregression(0.3, 120, 5)
            .iter()
            .zip(0..)
            .map(|(v, t)| v + 0.05 * f64::from(t) + 30.0 * f64::from(u8::from(t % 12 == 6)))
            .collect();
        assert!(
            trend(&y, 12).is_some_and(|test| test.p_value < 0.01 && (test.per_period - 0.05).abs() < 0.02)
        );
        assert_eq!(trend(&[1.0; 60], 1), None);
        assert_eq!(trend(&[1.0, 2.0], 1), None);
    }
}
