//! Whether there is a season in the data.

use schemars::JsonSchema;
use serde::Serialize;

use crate::corr::{AcfOptions, acf};
use crate::num::{chi_squared, scale};

/// A season found in the data.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct DetectedSeasonality {
    /// Observations in a season.
    pub season: usize,
    /// Autocorrelation of the changes at that lag.
    pub autocorrelation: f64,
    /// p-value of no season of that length: Kruskal and Wallis, on the changes.
    pub p_value: f64,
    /// Places (0-based) of the peaks: values that none within half a season exceeds.
    pub peaks: Vec<usize>,
    /// The distance between neighbouring peaks in the middle, shortest and longest.
    pub spacing: Option<[usize; 3]>,
}

/// Seasons longer than this are not looked for.
const LONGEST: usize = 400;
/// A season must be seen that number of times.
const TIMES: usize = 4;
/// The repetition after two seasons must keep this share of that after one,
const LASTING: f64 = 0.6;
/// that after three, of which fewer are seen, this.
const FADED: f64 = 0.4;
/// Among lags, the first that reaches this share of the largest autocorrelation.
const NEAR: f64 = 0.8;
const LEVEL: f64 = 0.001;

/// Looks for a season in the changes of a series, whatever its frequency.
///
/// # Method
/// Candidates are lags p, up to a quarter of the sample, at which the autocorrelation of
/// `Δy` has a peak, if it lies beyond three standard errors of white noise at p, 2p and
/// 3p and keeps 0.6 of its size at 2p and 0.4 at 3p: a cycle that decays does not. Each is
/// over the pairs that are there. Of the candidates the shortest within 0.8 of the
/// largest is taken, if the rank test of Kruskal and Wallis (1952) rejects at 0.001 that
/// changes are equal in all p places. A long, weak season drowns in the noise of the
/// changes and is not found.
///
/// # Returns
/// `None` if there is none, or the series is too short or does not vary.
pub fn seasonality(y: &[f64]) -> Option<DetectedSeasonality> {
    let changes: Vec<f64> = y.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let most = (changes.len() / TIMES).min(LONGEST);
    let options = AcfOptions {
        lags: Some((TIMES * most).min(changes.len().checked_sub(2)?)),
        season: 1,
        ..AcfOptions::default()
    };
    let correlation: Vec<f64> = acf(&changes, &options).ok()?.lags.iter().map(|lag| lag.acf).collect();
    let n = changes.len() as f64;
    // The estimate at lag k is too small by the share of pairs that are not there.
    let r = |lag: usize| {
        let estimate = lag.checked_sub(1).and_then(|place| correlation.get(place)).copied().unwrap_or(0.0);
        estimate * n / (n - lag as f64).max(1.0)
    };
    let clear = |lag: usize| r(lag) > 3.0 / (n - lag as f64).max(1.0).sqrt();
    let lasts = |lag: usize| {
        (1..TIMES).all(|times| clear(times * lag))
            && r(2 * lag) > LASTING * r(lag)
            && r(3 * lag) > FADED * r(lag)
    };
    let is_peak = |lag: usize| r(lag) >= r(lag + 1) && (lag == 2 || r(lag) >= r(lag - 1));
    let candidates: Vec<usize> = (2..=most).filter(|lag| lasts(*lag) && is_peak(*lag)).collect();
    let largest = candidates.iter().map(|lag| r(*lag)).fold(0.0, f64::max);
    let near = candidates.into_iter().filter(|lag| r(*lag) >= NEAR * largest);
    let (season, p_value) =
        near.filter_map(|lag| sharpest(&changes, lag)).find(|(_, p_value)| *p_value <= LEVEL)?;
    let peaks = peaks(y, season);
    Some(DetectedSeasonality { season, autocorrelation: r(season), p_value, spacing: spacing(&peaks), peaks })
}

/// The peak of a long, smooth season is blurred: of the lengths within a twentieth, the
/// one with the smallest p-value.
fn sharpest(changes: &[f64], near: usize) -> Option<(usize, f64)> {
    let reach = near / 20;
    let tried =
        (near - reach..=near + reach).filter_map(|season| Some((season, kruskal_wallis(changes, season)?)));
    tried.min_by(|a, b| a.1.total_cmp(&b.1))
}

/// p-value that values are alike in all places of a season, by their ranks.
fn kruskal_wallis(values: &[f64], season: usize) -> Option<f64> {
    let n = values.len() as f64;
    let ranks = scale::ranks(values);
    let mut sums = vec![(0.0, 0.0); season];
    for (t, rank) in ranks.iter().enumerate() {
        let (sum, count) = &mut sums[t % season];
        *sum += rank - 0.5 * (n + 1.0);
        *count += 1.0;
    }
    let between: f64 = sums.iter().map(|(sum, count)| sum * sum / count).sum();
    // The variance of the ranks themselves allows for ties.
    let variance = ranks.iter().map(|rank| (rank - 0.5 * (n + 1.0)).powi(2)).sum::<f64>() / (n - 1.0);
    chi_squared::survival(between / variance, season - 1)
}

fn peaks(y: &[f64], season: usize) -> Vec<usize> {
    let half = (season / 2).max(1);
    let is_peak = |t: &usize| {
        let around = &y[t - half..=t + half];
        // The first of equals is the peak.
        y[*t] > y[*t - 1] && around.iter().all(|value| *value <= y[*t])
    };
    let last = y.len().saturating_sub(half);
    (half..last).filter(is_peak).collect()
}

fn spacing(peaks: &[usize]) -> Option<[usize; 3]> {
    let mut gaps: Vec<usize> = peaks.windows(2).map(|pair| pair[1] - pair[0]).collect();
    gaps.sort_unstable();
    Some([*gaps.get(gaps.len() / 2)?, *gaps.first()?, *gaps.last()?])
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn a_season_of_any_length_is_found_under_a_wandering_level() {
        for (season, stream) in [(4, 0), (7, 1), (12, 2), (24, 3), (52, 4)] {
            let noise = NormalStream::new(21, stream).take(12 * season);
            let mut level = 0.0;
            let y: Vec<f64> = noise
                .iter()
                .enumerate()
                .map(|(t, e)| {
                    level += 0.2 * e;
                    level
                        + 0.25 * season as f64 * (std::f64::consts::TAU * t as f64 / season as f64).sin()
                        + 0.1 * e
                })
                .collect();
            let found = seasonality(&y).unwrap_or_else(|| panic!("no season of {season}"));
            assert_eq!(found.season, season);
            let [middle, least, most] = found.spacing.expect("several peaks");
            assert!(
                middle.abs_diff(season) <= 1 + season / 10 && least <= middle && middle <= most,
                "{found:?}"
            );
        }
    }

    #[test]
    fn noise_walks_and_fading_cycles_have_none() {
        let mut found = 0;
        for stream in 0..200 {
            let e = NormalStream::new(22, stream).take(200);
            let mut cycle = vec![0.0; 200];
            let mut walk = 0.0;
            let mut walked = Vec::new();
            for t in 0_usize..200 {
                let before = |k: usize| t.checked_sub(k).map_or(0.0, |earlier| cycle[earlier]);
                cycle[t] = 1.4 * before(1) - 0.7 * before(2) + e[t];
                walk += e[t];
                walked.push(walk);
            }
            found += [&e, &cycle, &walked].into_iter().filter(|y| seasonality(y).is_some()).count();
        }
        // 600 series, none with a season; a third of them cycles that fade slowly.
        assert!(found <= 12, "{found}");
    }

    #[test]
    fn peaks_are_the_first_highest_values_around() {
        let y = [0.0, 1.0, 3.0, 1.0, 0.0, 2.0, 2.0, 0.0, 1.0];
        assert_eq!(peaks(&y, 4), [2, 5]);
        assert_eq!(spacing(&[2, 5]), Some([3, 3, 3]));
        assert_eq!(seasonality(&[1.0, 2.0]), None);
        assert_eq!(seasonality(&[1.0; 50]), None);
    }
}
