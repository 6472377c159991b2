//! What ACF and PACF suggest.

use schemars::JsonSchema;
use serde::Serialize;

use super::acf::Acf;

/// The largest orders worth naming from a pattern.
const LARGEST_ORDER: usize = 4;

/// From fewer observations nothing is read: the band alone is half of all that is possible.
const MIN_OBSERVATIONS_PATTERN: usize = 16;

/// How many lags count as low without a season.
const LOW_LAGS: usize = 12;

/// The largest of a dozen lags of noise reaches this many half widths of the
/// band (2.8 standard errors) about once in seventeen series; a larger spike
/// is no stray one.
const LARGEST_STRAY: f64 = 1.43;

/// What the two functions suggest about low lags.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Pattern {
    /// The PACF ends first: autoregression of this order.
    Autoregression(usize),
    /// The ACF ends first: moving average of this order.
    MovingAverage(usize),
    /// Both end at the same lag: either of this order.
    Either(usize),
    /// Neither ends soon: a mixture, or a longer model.
    Mixed,
}

/// One finding, in the order of the argument.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Finding {
    /// The ACF does not decay to zero: still `acf` at lag `lag`, a third of the way.
    DoesNotDieOut {
        /// A third of the lags.
        lag: usize,
        /// The autocorrelation there.
        acf: f64,
    },
    /// The ACF decays to zero within a third of the lags.
    DiesOut,
    /// The seasonal lags are above their neighbours.
    Seasonal {
        /// The seasonal period.
        season: usize,
        /// The autocorrelation at one season.
        acf: f64,
        /// Whether the second season is nearly as high as the first, so that
        /// the pattern may have unit roots.
        lasting: bool,
    },
    /// The seasonal lag is significant below zero, as a seasonal moving average
    /// leaves it.
    SeasonalAverage {
        /// The seasonal period.
        season: usize,
        /// The autocorrelation at one season.
        acf: f64,
    },
    /// What low lags suggest.
    Suggests(Pattern),
    /// No more lags outside the band than chance puts there, and a
    /// portmanteau statistic that agrees.
    NoAutocorrelation {
        /// Lags taken together.
        lags: usize,
        /// The portmanteau p-value.
        p_value: f64,
    },
    /// Too short a series for its autocorrelations to say anything.
    TooFew {
        /// Known values.
        observations: usize,
    },
    /// How many lags lie outside the band, and how many chance would put there.
    Chance {
        /// Lags outside the band.
        outside: usize,
        /// Lags looked at.
        lags: usize,
    },
}

/// Reads the functions in the right order: does the ACF decay to zero; is there a
/// season; what orders; what could be sampling variation.
///
/// Orders are read only from a series whose ACF decays to zero, at seasonal lags too:
/// the PACF of a random walk cuts off after lag one, and the series is still no
/// autoregression.
pub fn read(acf: &Acf, season: usize) -> Vec<Finding> {
    if acf.observations < MIN_OBSERVATIONS_PATTERN {
        return vec![Finding::TooFew { observations: acf.observations }];
    }
    let mut findings = Vec::new();
    let white = no_autocorrelation(acf, season);
    let lasting = does_not_die_out(acf);
    if let Some(finding) = white {
        findings.push(finding);
    } else {
        let season_found = seasonal(acf, season);
        let repeats = matches!(season_found, Some(Finding::Seasonal { lasting: true, .. }));
        let settled = lasting.is_none() && !repeats;
        findings.extend(lasting);
        findings.extend(settled.then_some(Finding::DiesOut));
        findings.extend(season_found);
        if settled {
            findings.extend(pattern(acf, season).map(Finding::Suggests));
        }
    }
    findings.push(Finding::Chance { outside: acf.significant.len(), lags: acf.lags.len() });
    findings
}

fn at(acf: &Acf, lag: usize) -> Option<f64> {
    lag.checked_sub(1).and_then(|place| acf.lags.get(place)).map(|lag| lag.acf)
}

/// Outside the band at every lag up to a third of them, and there still above
/// half of the first: a decline nearer to a line than to a geometric one.
fn does_not_die_out(acf: &Acf) -> Option<Finding> {
    let third = acf.lags.len().div_ceil(3);
    let first = at(acf, 1)?;
    let there = at(acf, third)?;
    let all_outside = acf.lags.iter().take(third).all(|lag| lag.acf > acf.band);
    (all_outside && third > 1 && there > 0.5 * first)
        .then_some(Finding::DoesNotDieOut { lag: third, acf: there })
}

fn seasonal(acf: &Acf, season: usize) -> Option<Finding> {
    if season < 2 {
        return None;
    }
    let here = at(acf, season)?;
    // With a seasonal period of two or three the neighbours are seasonal repetitions.
    let neighbours = [at(acf, season - 1), at(acf, season + 1)];
    let beyond = |larger: fn(f64, f64) -> bool| neighbours.iter().flatten().all(|r| larger(here, *r));
    if here < -acf.band && beyond(|here, r| here < r) {
        return Some(Finding::SeasonalAverage { season, acf: here });
    }
    let stands_out = here > acf.band && beyond(|here, r| here > r);
    let second = at(acf, 2 * season);
    stands_out.then(|| Finding::Seasonal {
        season,
        acf: here,
        lasting: here > 0.5 && second.is_some_and(|r| r > 0.7 * here),
    })
}

fn no_autocorrelation(acf: &Acf, season: usize) -> Option<Finding> {
    let tenth = (acf.observations / 5).min(10);
    let together = if season > 1 { 2 * season } else { tenth }.min(acf.lags.len());
    let p_value = together.checked_sub(1).and_then(|place| acf.lags.get(place))?.p_value?;
    (p_value > 0.05).then_some(Finding::NoAutocorrelation { lags: together, p_value })
}

/// Where each function ends, among the lags below the season, and what that
/// suggests.
fn pattern(acf: &Acf, season: usize) -> Option<Pattern> {
    // A seasonal spike has satellites on both sides, which are no low lags.
    let satellites = (season / 4).max(1);
    let low = if season > 2 { season - satellites } else { LOW_LAGS }.min(acf.lags.len());
    let z = acf.band * (acf.observations as f64).sqrt();
    let lags = acf.lags.iter().take(low);
    let moving = end(lags.clone().map(|lag| lag.acf.abs() / (z * lag.acf_se)));
    let auto = end(lags.map(|lag| lag.pacf.abs() / acf.band));
    match (auto, moving) {
        (End::Nothing, End::Nothing) => None,
        (End::After(p), End::After(q)) if p == q => Some(Pattern::Either(p)),
        (End::After(p), End::After(q)) if q < p => Some(Pattern::MovingAverage(q)),
        (End::After(p), _) => Some(Pattern::Autoregression(p)),
        (_, End::After(q)) => Some(Pattern::MovingAverage(q)),
        _ => Some(Pattern::Mixed),
    }
}

/// How a function ends.
enum End {
    /// No lag is significant, but for a stray one.
    Nothing,
    /// A few leading lags are significant, then none beyond a stray one.
    After(usize),
    /// Lags go on standing out.
    Later,
}

/// From the size of each lag in half widths of the band.
fn end(sizes: impl Iterator<Item = f64> + Clone) -> End {
    let leading = sizes.clone().take_while(|size| *size > 1.0).count();
    let later: Vec<f64> = sizes.skip(leading).filter(|size| *size > 1.0).collect();
    let stray = match later.as_slice() {
        [] => true,
        [only] => *only < LARGEST_STRAY,
        _ => false,
    };
    match (leading, stray) {
        (0, true) => End::Nothing,
        (1..=LARGEST_ORDER, true) => End::After(leading),
        _ => End::Later,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::corr::{AcfOptions, acf};
    use crate::num::rng::NormalStream;

    fn readings(y: &[f64], season: usize) -> Vec<Finding> {
        read(
            &acf(y, &AcfOptions { lags: None, season, ..AcfOptions::default() }).expect("long enough"),
            season,
        )
    }

    fn autoregression(coefficients: &[f64], seed: u64) -> Vec<f64> {
        let noise = NormalStream::new(seed, 0).take(600);
        let mut y = vec![0.0; 600];
        for t in coefficients.len()..600 {
            let past: f64 = coefficients.iter().zip(1..).map(|(phi, i)| phi * y[t - i]).sum();
            y[t] = past + noise[t];
        }
        y.split_off(200)
    }

    #[test]
    fn a_random_walk_is_never_read_as_an_autoregression() {
        for seed in 0..20 {
            let found = readings(&autoregression(&[1.0], seed), 12);
            assert!(matches!(found[0], Finding::DoesNotDieOut { .. }), "seed {seed}: {found:?}");
            assert!(!found.iter().any(|f| matches!(f, Finding::Suggests(_))));
        }
    }

    /// How many of twenty seeded series are read as the pattern says.
    fn hits(wanted: Pattern, make: impl Fn(u64) -> Vec<f64>) -> usize {
        (0..20).filter(|seed| readings(&make(*seed), 1).contains(&Finding::Suggests(wanted))).count()
    }

    #[test]
    fn autoregressions_are_read_from_the_partial_function() {
        assert!(hits(Pattern::Autoregression(1), |seed| autoregression(&[0.6], seed)) >= 12);
        assert!(hits(Pattern::Autoregression(2), |seed| autoregression(&[1.2, -0.6], seed)) >= 12);
    }

    #[test]
    fn a_moving_average_is_read_from_the_acf() {
        let average = |seed| -> Vec<f64> {
            NormalStream::new(seed, 0).take(401).windows(2).map(|e| e[1] + 0.8 * e[0]).collect()
        };
        assert!(hits(Pattern::MovingAverage(1), average) >= 12);
    }

    #[test]
    fn noise_is_called_noise_and_its_stray_spikes_chance() {
        let quiet = (0..40).filter(|seed| {
            let found = readings(&NormalStream::new(100 + seed, 0).take(300), 12);
            matches!(found[0], Finding::NoAutocorrelation { .. })
        });
        // A test at 5 % is wrong in about two of forty.
        assert!(quiet.count() >= 34);
    }

    #[test]
    fn a_seasonal_moving_average_is_read_with_its_low_order() {
        // (1 - 0.5 B)(1 - 0.7 B^12) e, with spikes at 1, 12 and around 12.
        let found = (0..20).filter(|seed| {
            let e = NormalStream::new(500 + seed, 0).take(413);
            let y: Vec<f64> =
                (13..413).map(|t| e[t] - 0.5 * e[t - 1] - 0.7 * e[t - 12] + 0.35 * e[t - 13]).collect();
            let read = readings(&y, 12);
            read.contains(&Finding::Suggests(Pattern::MovingAverage(1)))
                && read.iter().any(|f| matches!(f, Finding::SeasonalAverage { season: 12, .. }))
        });
        assert!(found.count() >= 12);
    }

    #[test]
    fn nothing_is_read_from_a_few_numbers() {
        let y = NormalStream::new(1, 0).take(15);
        assert_eq!(readings(&y, 1), [Finding::TooFew { observations: 15 }]);
    }

    #[test]
    fn a_season_is_found_at_its_lag() {
        let noise = NormalStream::new(12, 0).take(240);
        let y: Vec<f64> =
            noise.iter().enumerate().map(|(t, e)| e + if t % 12 == 6 { 5.0 } else { 0.0 }).collect();
        let found = readings(&y, 12);
        assert!(found.iter().any(|f| matches!(f, Finding::Seasonal { season: 12, lasting: true, .. })));
        // It does not decay, so no orders are read with it.
        assert!(!found.iter().any(|f| matches!(f, Finding::DiesOut | Finding::Suggests(_))));
    }
}
