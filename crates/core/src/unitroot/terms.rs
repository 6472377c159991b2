//! The choice of deterministic terms by the data.

use super::adf::{AdfOptions, adf, lag_choice};
use super::error::UnitRootError;
use super::outcome::{Note, UnitRootTest, note_on_p_value};
use crate::lag::LagRule;
use crate::nulldist::{CriticalValues, LagChoice, Statistic, Tail, Terms};
use crate::num::{normal, scale};
use crate::ols::{Bandwidth, bartlett_variance};

/// Level of the two steps below.
const LEVEL: f64 = 0.05;

/// What the choice of terms rests on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TermsReason {
    /// The unit root is rejected with a trend, so the slope of the level was
    /// tested.
    Slope,
    /// It is not, so the mean change was tested.
    MeanChange,
}

/// Constant or trend, and why.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TermsChoice {
    /// The choice.
    pub terms: Terms,
    /// What it rests on.
    pub reason: TermsReason,
    /// Slope or mean change per period.
    pub per_period: f64,
    /// Its ratio to a standard error that allows for serial dependence.
    pub z: f64,
    /// Two-sided normal p-value.
    pub p_value: f64,
}

/// A unit-root test and the terms that the data chose for it.
#[derive(Debug, Clone, PartialEq)]
pub struct TestWithChosenTerms {
    /// The choice.
    pub choice: TermsChoice,
    /// The test with these terms.
    pub test: UnitRootTest,
}

/// The ADF test with a constant or a trend, whichever the data ask for, its
/// p-value as if the terms had been given.
///
/// A slope in the level is tested where the level can be taken as stationary
/// around a trend, since a random walk has slopes without a trend; otherwise
/// the mean change is tested. Both use Bartlett long-run variances with
/// automatic bandwidth. A trend is taken at 5 %.
///
/// # Errors
/// [`UnitRootError`] as for [`adf`].
///
/// # References
/// The order of the argument follows Dolado, Jenkinson and Sosvilla-Rivero
/// (1990), *Journal of Economic Surveys* 4, 249-273.
pub fn adf_with_chosen_terms(
    y: &[f64],
    lags: LagRule,
    max_lags: Option<usize>,
) -> Result<TestWithChosenTerms, UnitRootError> {
    let beside_trend = adf(y, &AdfOptions { terms: Terms::Trend, lags, max_lags })?;
    let choice = choose(y, &beside_trend);
    let test = match choice.terms {
        Terms::Trend => beside_trend,
        terms => adf(y, &AdfOptions { terms, lags, max_lags })?,
    };
    Ok(TestWithChosenTerms { choice, test })
}

/// [`adf_with_chosen_terms`] with a p-value and critical values that allow for
/// the choice.
///
/// # Formula
/// `p = G(p_given)`, `G` the distribution of the p-value for given terms when
/// a random walk without drift goes through the same choice; it is about 1.6
/// times as large near 5 %.
///
/// # Errors
/// [`UnitRootError`] as for [`adf`].
///
/// # Notes
/// With a drift the choice is soon certain and the result is too large by that
/// factor, never too small.
pub fn adf_with_terms_by_data(
    y: &[f64],
    lags: LagRule,
    max_lags: Option<usize>,
) -> Result<TestWithChosenTerms, UnitRootError> {
    let TestWithChosenTerms { choice, mut test } = adf_with_chosen_terms(y, lags, max_lags)?;
    let most = test.max_lags.unwrap_or(0);
    // Of the other rules only the search by a criterion was simulated with chosen terms.
    let after = match lag_choice(lags, most) {
        searched @ LagChoice::Searched(_) => searched,
        _ => LagChoice::Given,
    };
    let size = if after == LagChoice::Given { test.lags.unwrap_or(0) } else { most };
    let of = |statistic: Statistic| statistic.after(after).surface();
    let surfaces = of(Statistic::Adf(choice.terms)).zip(of(Statistic::AdfTermsByData));
    let (given, chosen) = surfaces.ok_or(UnitRootError::NeedsConstant)?;
    let n = test.observations;
    let choosing = chosen.at(n, size);
    let for_given_terms = given.at(n, size);
    let critical = |level| {
        let allowed = normal::cdf(choosing.critical_value(level, Tail::Lower));
        for_given_terms.critical_value(allowed, Tail::Lower)
    };
    let Some(p_value) = test.p_value else {
        return Ok(TestWithChosenTerms { choice, test });
    };
    let p_value = choosing.p_value(normal_score(p_value), Tail::Lower);
    test.critical = Some(CriticalValues { one: critical(0.01), five: critical(0.05), ten: critical(0.10) });
    test.p_value = Some(p_value);
    test.notes.retain(|note| *note != Note::BeyondSimulatedLevels);
    test.notes.extend(note_on_p_value(p_value));
    Ok(TestWithChosenTerms { choice, test: test.where_simulated(chosen.covers(n, size)) })
}

/// The normal quantile of a p-value, finite even where the p-value is zero or
/// one in double precision.
pub fn normal_score(p_value: f64) -> f64 {
    normal::quantile(p_value.clamp(1e-300, 1.0 - f64::EPSILON))
}

fn choose(y: &[f64], beside_trend: &UnitRootTest) -> TermsChoice {
    let (reason, per_period, z) = if beside_trend.rejects(LEVEL) {
        let (slope, z) = slope(y);
        (TermsReason::Slope, slope, z)
    } else {
        let changes: Vec<f64> = y.windows(2).map(|pair| pair[1] - pair[0]).collect();
        let (mean, z) = mean_over_error(&changes);
        (TermsReason::MeanChange, mean, z)
    };
    let p_value = 2.0 * normal::survival(z.abs());
    let terms = if p_value <= LEVEL { Terms::Trend } else { Terms::Constant };
    TermsChoice { terms, reason, per_period, z, p_value }
}

/// Mean and its ratio to `√(ω²/n)`.
fn mean_over_error(x: &[f64]) -> (f64, f64) {
    let mean = scale::mean(x);
    let e: Vec<f64> = x.iter().map(|v| v - mean).collect();
    let variance = bartlett_variance(&e, Bandwidth::Automatic.resolve(&e));
    (mean, ratio(mean, variance / x.len() as f64))
}

/// Least-squares slope and its ratio to `√(ω² / Σ(t - t̄)²)`.
fn slope(y: &[f64]) -> (f64, f64) {
    let n = y.len() as f64;
    let mean = scale::mean(y);
    let clock = |t: usize| t as f64 - 0.5 * (n - 1.0);
    let square = n * (n * n - 1.0) / 12.0;
    let slope = y.iter().enumerate().map(|(t, v)| clock(t) * (v - mean)).sum::<f64>() / square;
    let e: Vec<f64> = y.iter().enumerate().map(|(t, v)| v - mean - slope * clock(t)).collect();
    let variance = bartlett_variance(&e, Bandwidth::Automatic.resolve(&e));
    (slope, ratio(slope, variance / square))
}

/// A certain slope is infinitely many errors away from none.
fn ratio(estimate: f64, variance: f64) -> f64 {
    if variance > 0.0 { estimate / variance.sqrt() } else { f64::MAX.copysign(estimate) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::lag::Criterion;
    use crate::num::rng::NormalStream;

    fn choice(y: &[f64]) -> TermsChoice {
        adf_with_chosen_terms(y, LagRule::Criterion(Criterion::Aic), None).expect("long enough").choice
    }

    fn with_slope(noise: &[f64], slope: f64) -> Vec<f64> {
        noise.iter().enumerate().map(|(t, e)| e + slope * t as f64).collect()
    }

    fn five(test: &UnitRootTest) -> f64 {
        test.critical.expect("simulated").five
    }

    #[test]
    fn a_trend_is_found_beside_noise_and_beside_a_random_walk() {
        let noise = NormalStream::new(21, 0).take(200);
        let found = choice(&with_slope(&noise, 0.05));
        assert_eq!((found.terms, found.reason), (Terms::Trend, TermsReason::Slope));
        assert!((found.per_period - 0.05).abs() < 0.005);
        let mut walk = noise.clone();
        for t in 1..200 {
            walk[t] += walk[t - 1];
        }
        let found = choice(&with_slope(&walk, 0.5));
        assert_eq!((found.terms, found.reason), (Terms::Trend, TermsReason::MeanChange));
    }

    #[test]
    fn a_trend_is_rarely_seen_where_there_is_none() {
        let mut false_trends = 0;
        for seed in 0..100 {
            let noise = NormalStream::new(300 + seed, 0).take(150);
            let mut walk = noise.clone();
            for t in 1..150 {
                walk[t] += walk[t - 1];
            }
            false_trends += usize::from(choice(&noise).terms == Terms::Trend);
            false_trends += usize::from(choice(&walk).terms == Terms::Trend);
        }
        assert!(false_trends <= 30, "{false_trends} of 200");
    }

    #[test]
    fn allowing_for_the_choice_only_raises_the_p_value() {
        for seed in 0..20 {
            let noise = NormalStream::new(700 + seed, 0).take(80);
            let mut y = noise.clone();
            for t in 1..80 {
                y[t] += 0.8 * y[t - 1];
            }
            for lags in [LagRule::Given(1), LagRule::Criterion(Criterion::Bic)] {
                let plain = adf_with_chosen_terms(&y, lags, None).expect("long enough").test;
                let ours = adf_with_terms_by_data(&y, lags, None).expect("long enough").test;
                assert_eq!((plain.statistic.to_bits(), plain.terms), (ours.statistic.to_bits(), ours.terms));
                assert!(ours.p_value >= plain.p_value && five(&ours) <= five(&plain));
                assert_eq!(ours.rejects(0.05), ours.statistic <= five(&ours));
            }
        }
    }

    #[test]
    fn a_p_value_of_nought_has_a_finite_score() {
        assert!(normal_score(0.0).is_finite() && normal_score(1.0).is_finite());
    }
}
