//! What the seasonality of a series is, and the series without it.

use super::joint::{JointPosterior, Seasonality};
use crate::nulldist::SeasonLength;
use crate::unitroot::UnitRootTest;
use crate::unitroot::{SeasonalOptions, hegy};

/// The minimum number of seasonal cycles for which seasonality is assessed.
const MIN_CYCLES_SEASONAL: usize = 3;

/// The seasonality of a series.
#[derive(Debug, Clone, PartialEq)]
pub struct SeasonFinding {
    /// Seasonal period; 1 where there is no seasonality.
    pub season: usize,
    /// Of which kind.
    pub seasonality: Seasonality,
    /// The seasonal autoregressive coefficient of a stationary seasonal process.
    pub coefficient: Option<f64>,
    /// The place of the first observation of a new pattern, where a fixed pattern changes once.
    pub changed_at: Option<usize>,
    /// The posterior of differences and seasonality; none without a seasonal period, or for a series of fewer than
    /// three cycles.
    pub posterior: Option<JointPosterior>,
    /// The test of seasonal unit roots, where there are tables for this period.
    pub roots: Option<UnitRootTest>,
}

impl SeasonFinding {
    /// Of a series of this seasonal period, by the joint posterior ([`JointPosterior`]).
    pub fn of(y: &[f64], season: usize) -> Self {
        let none = Self {
            season: 1,
            seasonality: Seasonality::None,
            coefficient: None,
            changed_at: None,
            posterior: None,
            roots: None,
        };
        if season < 2 || y.len() < MIN_CYCLES_SEASONAL * season {
            return none;
        }
        let posterior = JointPosterior::of(y, season);
        // Without a posterior nothing is left of the seasonal differences.
        let most_probable =
            |one: &JointPosterior| one.seasonality.first().map(|(seasonality, _)| *seasonality);
        let seasonality = posterior.as_ref().map_or(Some(Seasonality::Deterministic), most_probable);
        let Some(seasonality) = seasonality.filter(|one| *one != Seasonality::None) else {
            return Self { posterior, ..none };
        };
        let options = SeasonalOptions { season, trend: true, lags: None, max_lags: None };
        let roots = SeasonLength::of(season).and_then(|_| hegy(y, &options).ok());
        let is_stationary = seasonality == Seasonality::Stationary;
        let coefficient = posterior.as_ref().map(|one| one.seasonal_coefficient).filter(|_| is_stationary);
        let changes = seasonality == Seasonality::ChangingPattern;
        let changed_at = posterior.as_ref().filter(|_| changes).and_then(JointPosterior::pattern_changes_at);
        Self { season, seasonality, coefficient, changed_at, posterior, roots }
    }

    /// The series without its seasonality; shorter by a season where it was differenced or filtered.
    pub fn adjusted(&self, y: &[f64]) -> Vec<f64> {
        let filtered = |x: &[f64], share: f64| -> Vec<f64> {
            x.iter().zip(x.iter().skip(self.season)).map(|(before, now)| now - share * before).collect()
        };
        match self.seasonality {
            Seasonality::None => y.to_vec(),
            Seasonality::Deterministic | Seasonality::ChangingPattern => {
                match self.posterior.as_ref().and_then(|posterior| posterior.harmonics) {
                    Some(number) => without_harmonics(y, self.season, number),
                    None => without_patterns(y, self.season, self.changed_at),
                }
            }
            Seasonality::Stationary => {
                filtered(&without_pattern(y, self.season), self.coefficient.unwrap_or_default())
            }
            Seasonality::UnitRoots => filtered(y, 1.0),
        }
    }

    /// Observations lost at the start.
    pub fn lost(&self) -> usize {
        if matches!(self.seasonality, Seasonality::UnitRoots | Seasonality::Stationary) {
            self.season
        } else {
            0
        }
    }
}

/// The series without its pattern, or without each of two.
fn without_patterns(y: &[f64], season: usize, changed_at: Option<usize>) -> Vec<f64> {
    let (before, after) = y.split_at(changed_at.unwrap_or(y.len()).min(y.len()));
    [before, after]
        .into_iter()
        .filter(|part| !part.is_empty())
        .flat_map(|part| without_pattern(part, season))
        .collect()
}

/// Takes out harmonics whose changes are those that the changes have in the mean, so that a trend, or a unit root, is
/// left as it is: over whole seasons their cosines and sines are orthogonal.
fn without_harmonics(y: &[f64], season: usize, number: usize) -> Vec<f64> {
    let cycles = y.len().saturating_sub(1) / season * season;
    let changes: Vec<f64> = y.windows(2).map(|pair| pair[1] - pair[0]).take(cycles).collect();
    let mut out = y.to_vec();
    for waves in 1..=number.min((season - 1) / 2) {
        let angle = |t: usize| std::f64::consts::TAU * ((waves * t) % season) as f64 / season as f64;
        let product = |wave: fn(f64) -> f64| -> f64 {
            (1..).zip(&changes).map(|(t, change)| change * wave(angle(t))).sum::<f64>() * 2.0 / cycles as f64
        };
        // The change of a cos ωt + b sin ωt is c cos ωt + d sin ωt.
        let (c, d) = (product(f64::cos), product(f64::sin));
        let (cos, sin) = (angle(1).cos(), angle(1).sin());
        let square = (1.0 - cos) * (1.0 - cos) + sin * sin;
        let a = ((1.0 - cos) * c - sin * d) / square;
        let b = ((1.0 - cos) * d + sin * c) / square;
        for (t, value) in out.iter_mut().enumerate() {
            *value -= a * angle(t).cos() + b * angle(t).sin();
        }
    }
    out
}

/// Takes out a pattern whose changes are the mean changes at each place of the season, less
/// the mean of all: so a trend, or a unit root, is left as it is.
fn without_pattern(y: &[f64], season: usize) -> Vec<f64> {
    let mut sums = vec![(0.0, 0.0); season];
    for t in 1..y.len() {
        let (sum, count) = &mut sums[t % season];
        *sum += y[t] - y[t - 1];
        *count += 1.0;
    }
    let means: Vec<f64> = sums.iter().map(|(sum, count)| sum / f64::max(*count, 1.0)).collect();
    let overall = means.iter().sum::<f64>() / season as f64;
    let mut pattern = vec![0.0; season];
    for place in 1..season {
        pattern[place] = pattern[place - 1] + means[place] - overall;
    }
    let middle = pattern.iter().sum::<f64>() / season as f64;
    y.iter().enumerate().map(|(t, value)| value - (pattern[t % season] - middle)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn a_pattern_on_a_line_is_taken_out_and_the_line_left() {
        let y: Vec<f64> = (0..48_usize).map(|t| 2.0 * t as f64 + [3.0, -1.0, 0.0, -2.0][t % 4]).collect();
        let out = without_pattern(&y, 4);
        for (t, value) in out.iter().enumerate() {
            assert!((value - 2.0 * t as f64).abs() < 1e-9, "{t} {value}");
        }
    }

    #[test]
    fn harmonics_on_a_line_are_taken_out_and_the_line_left() {
        let wave = |waves: usize, t: usize| std::f64::consts::TAU * (waves * t) as f64 / 24.0;
        let y: Vec<f64> = (0..97)
            .map(|t| 2.0 * t as f64 + 3.0 * (wave(1, t) + 0.4).sin() - (wave(2, t) + 1.0).cos())
            .collect();
        for (t, value) in without_harmonics(&y, 24, 2).iter().enumerate() {
            assert!((value - 2.0 * t as f64).abs() < 1e-9, "{t} {value}");
        }
    }

    #[test]
    fn stationary_seasonality_is_distinguished_from_seasonal_unit_roots() {
        for (season, n) in [(4, 200), (12, 288)] {
            let (mut stationary, mut unit_roots) = (0, 0);
            for seed in 0..20 {
                let e = NormalStream::new(700 + seed, 0).take(n + 200);
                let mut y = e.clone();
                let mut walk = e.clone();
                for t in season + 1..n + 200 {
                    y[t] += 0.5 * y[t - 1] + 0.6 * y[t - season] - 0.3 * y[t - season - 1];
                    walk[t] += walk[t - season] - 0.6 * e[t - season];
                }
                let of = |path: &[f64]| SeasonFinding::of(&path[200..], season).seasonality;
                stationary += usize::from(of(&y) == Seasonality::Stationary);
                unit_roots += usize::from(of(&walk) == Seasonality::UnitRoots);
            }
            assert!(stationary >= 15 && unit_roots >= 18, "{season}: {stationary} {unit_roots}");
        }
    }

    #[test]
    fn a_fixed_pattern_is_distinguished_from_seasonal_unit_roots() {
        let (mut patterns, mut unit_roots) = (0, 0);
        for seed in 0..20 {
            let e = NormalStream::new(300 + seed, 0).take(240);
            let fixed: Vec<f64> =
                e.iter().enumerate().map(|(t, v)| v + 4.0 * f64::from(u8::from(t % 12 < 4))).collect();
            let mut walk = e.clone();
            for t in 12..240 {
                walk[t] += walk[t - 12];
            }
            let of = |y: &[f64], season: usize| SeasonFinding::of(y, season).seasonality;
            patterns += usize::from(of(&fixed, 12) == Seasonality::Deterministic);
            unit_roots += usize::from(of(&walk, 12) == Seasonality::UnitRoots);
            assert_eq!(of(&e, 1), Seasonality::None);
            assert_eq!(of(&e, 12), Seasonality::None);
        }
        assert!(patterns >= 18 && unit_roots >= 17, "{patterns} {unit_roots}");
    }
}
