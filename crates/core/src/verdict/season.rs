//! What the season is: none, deterministic, stationary or with unit roots.

use crate::arima::{Data, Model, fit, season_changes};
use crate::corr::{self, AcfOptions, Finding};
use crate::nulldist::SeasonLength;
use crate::unitroot::UnitRootTest;
use crate::unitroot::{SeasonalOptions, hegy};

/// Level at which seasonal unit roots are rejected.
const LEVEL: f64 = 0.05;
/// Twice a logarithm of likelihoods from which on a season changes: one fixed pattern in twenty
/// exceeds it.
const CHANGES: f64 = 2.0;
/// A season is judged from so many of it.
const SEASONS: usize = 6;

/// How a season is taken out before the rest is judged.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Treatment {
    /// There is none.
    None,
    /// It repeats itself: the pattern of its means is taken out.
    Pattern,
    /// It wanders: by a seasonal difference.
    Difference,
    /// It is alike from one season to the next and fades: by its seasonal autoregression.
    Fades,
}

/// What is known of a season.
#[derive(Debug, Clone, PartialEq)]
pub struct SeasonFinding {
    /// Observations in it; 1 for none.
    pub season: usize,
    /// How it is taken out.
    pub treatment: Treatment,
    /// Share of a value that comes back a season later, where the season fades.
    pub share: Option<f64>,
    /// Autocorrelation of the changes one season apart, where that is what shows it.
    pub acf: Option<f64>,
    /// The test of seasonal unit roots, where there is one for this season.
    pub roots: Option<UnitRootTest>,
}

impl SeasonFinding {
    /// Judges the season of a series.
    ///
    /// A season is there where the changes are alike a season apart. It repeats itself unless the
    /// likelihood says that it changes ([`season_changes`]). One that changes wanders; it fades
    /// instead where both the test of seasonal unit roots (seasons of 4 and 12), which alone
    /// rejects too often where a season wanders slowly, and the likelihood reject a seasonal unit
    /// root.
    pub fn of(y: &[f64], season: usize) -> Self {
        let none = Self { season: 1, treatment: Treatment::None, share: None, acf: None, roots: None };
        if season < 2 || y.len() < SEASONS * season {
            return none;
        }
        let Some(acf) = seasonal_acf(y, season) else {
            return none;
        };
        let options = SeasonalOptions { season, trend: true, lags: None, max_lags: None };
        let has_tables = SeasonLength::of(season).is_some();
        let roots = has_tables.then(|| hegy(y, &options).ok()).flatten();
        let rejected = roots.as_ref().is_some_and(|test| test.rejects(LEVEL));
        let wanders = season_changes(y, season).is_some_and(|ratio| ratio > CHANGES);
        let share = (wanders && rejected).then(|| fading(y, season)).flatten();
        let treatment = match (wanders, share) {
            (false, _) => Treatment::Pattern,
            (true, None) => Treatment::Difference,
            (true, Some(_)) => Treatment::Fades,
        };
        Self { season, treatment, share, acf: Some(acf), roots }
    }

    /// The series without its season; shorter by a season where it was differenced.
    pub fn taken_out(&self, y: &[f64]) -> Vec<f64> {
        match self.treatment {
            Treatment::None => y.to_vec(),
            Treatment::Pattern => without_pattern(y, self.season),
            Treatment::Difference | Treatment::Fades => {
                let share = self.share.unwrap_or(1.0);
                y.iter().zip(y.iter().skip(self.season)).map(|(before, now)| now - share * before).collect()
            }
        }
    }

    /// Observations lost at the start.
    pub fn lost(&self) -> usize {
        if matches!(self.treatment, Treatment::Difference | Treatment::Fades) { self.season } else { 0 }
    }
}

/// The autocorrelation of the changes one season apart, if it stands out.
fn seasonal_acf(y: &[f64], season: usize) -> Option<f64> {
    let changes: Vec<f64> = y.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let lags = (2 * season + 1).min(changes.len() / 2);
    let options = AcfOptions { lags: Some(lags), season, ..AcfOptions::default() };
    let acf = corr::acf(&changes, &options).ok()?;
    corr::read(&acf, season).into_iter().find_map(|finding| match finding {
        Finding::Seasonal { acf, .. } => Some(acf),
        _ => None,
    })
}

/// The seasonal autoregression of the changes without their mean pattern, if it is so far below
/// one, in standard errors, that a season that wanders shows it in fewer than one case in twenty.
///
/// The bounds, -3.5 for a season of 4 and -4.6 for one of 12, are about what 200 series of each of
/// five wandering seasons (Θ from 0 to -0.8) of 120 and 240 values gave.
fn fading(y: &[f64], season: usize) -> Option<f64> {
    let text = format!("(1,1,1)(1,0,1){season}");
    let found = fit(&Data::complete(&without_pattern(y, season)), Model::parse(&text).ok()?).ok()?;
    let share = *found.coefficients.seasonal_ar.first()?;
    // φ and θ stand before it.
    let error = *found.errors.as_ref()?.get(2)?;
    let bound = -2.9 - 0.14 * season as f64;
    (share > 0.0 && (share - 1.0) / error < bound).then_some(share)
}

/// Takes out a pattern whose changes are the mean changes at each place of the season, less
/// the mean of all: so a trend, or a wandering level, is left as it is.
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
    fn a_season_that_fades_is_told_from_one_that_wanders() {
        for (season, n) in [(4, 200), (12, 288)] {
            let (mut fading, mut wandering) = (0, 0);
            for seed in 0..20 {
                let e = NormalStream::new(700 + seed, 0).take(n + 200);
                let mut y = e.clone();
                let mut walk = e.clone();
                for t in season + 1..n + 200 {
                    y[t] += 0.5 * y[t - 1] + 0.6 * y[t - season] - 0.3 * y[t - season - 1];
                    walk[t] += walk[t - season] - 0.6 * e[t - season];
                }
                let of = |path: &[f64]| SeasonFinding::of(&path[200..], season);
                fading += usize::from(of(&y).treatment == Treatment::Fades);
                wandering += usize::from(of(&walk).treatment == Treatment::Difference);
            }
            assert!(fading >= 15 && wandering >= 18, "{season}: {fading} {wandering}");
        }
    }

    #[test]
    fn a_repeating_season_is_told_from_a_wandering_one() {
        let (mut patterns, mut differences) = (0, 0);
        for seed in 0..20 {
            let e = NormalStream::new(300 + seed, 0).take(240);
            let fixed: Vec<f64> =
                e.iter().enumerate().map(|(t, v)| v + 4.0 * f64::from(u8::from(t % 12 < 4))).collect();
            let mut walk = e.clone();
            for t in 12..240 {
                walk[t] += walk[t - 12];
            }
            patterns += usize::from(SeasonFinding::of(&fixed, 12).treatment == Treatment::Pattern);
            differences += usize::from(SeasonFinding::of(&walk, 12).treatment == Treatment::Difference);
            assert_eq!(SeasonFinding::of(&e, 1).treatment, Treatment::None);
        }
        assert!(patterns >= 18 && differences >= 17, "{patterns} {differences}");
    }
}
