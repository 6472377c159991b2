//! Cross-correlations.

use schemars::JsonSchema;
use serde::Serialize;

use super::RelationError;
use crate::num::sum::dot;
use crate::num::{normal, scale};

/// The fewest periods in common whose cross-correlations are worth showing.
const MIN_PAIRS_CROSS_CORRELATION: usize = 8;

/// The cross-correlation at one lag.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct CrossLag {
    /// How many periods the first series is ahead; negative if it is behind.
    pub lag: i64,
    /// Correlation of the first series at `t - lag` with the second at `t`.
    pub r: f64,
}

/// The lag where the two are correlated most.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Strongest {
    /// The lag, positive if the first series is ahead.
    pub lag: i64,
    /// The correlation there.
    pub r: f64,
    /// Whether the largest of that number of lags of unrelated noise is smaller in 95 of 100
    /// pairs.
    pub significant: bool,
}

/// Cross-correlations of two series.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct Cross {
    /// Lags -K, …, K.
    pub lags: Vec<CrossLag>,
    /// Half the width of the 95 % band of two unrelated series one of which is white
    /// noise, `1.96/√n`.
    pub band: f64,
    /// Periods in common.
    pub observations: usize,
}

/// The default largest lag: two seasons, at least 12 and at most 60; 20 without a season;
/// a quarter of the observations at most.
pub fn default_cross_lags(n: usize, season: usize) -> usize {
    let wanted = if season > 1 { (2 * season).clamp(12, 60) } else { 20 };
    wanted.min(n / 4).max(1)
}

/// Cross-correlations of two series over the same periods at lags -K, …, K.
///
/// # Formula
/// `r_k = c_k / √(c_xx(0) c_yy(0))`, `c_k = (1/n) Σ (x_{t-k} - x̄)(y_t - ȳ)` over all t for
/// which both are there, means and divisor those of all n periods. Of a series with
/// itself these are its autocorrelations.
///
/// # Input
/// Two series of the same length, in order of time, without gaps, at least 8 values.
///
/// # Errors
/// [`RelationError`].
///
/// # References
/// Bartlett (1955), *An Introduction to Stochastic Processes*, section 9; Haugh (1976),
/// *JASA* 71, 378-385.
pub fn cross_correlations(first: &[f64], second: &[f64], most: usize) -> Result<Cross, RelationError> {
    let n = first.len().min(second.len());
    if n < MIN_PAIRS_CROSS_CORRELATION {
        return Err(RelationError::TooShort { observations: n, needed: MIN_PAIRS_CROSS_CORRELATION });
    }
    if most == 0 || most >= n {
        return Err(RelationError::Lags { lags: most, observations: n });
    }
    let (first, second) = (&first[..n], &second[..n]);
    scale::check(first).map_err(RelationError::of(0))?;
    scale::check(second).map_err(RelationError::of(1))?;
    let (x, y) = (scale::deviations(first), scale::deviations(second));
    let size = (dot(&x, &x) * dot(&y, &y)).sqrt();
    let behind = (1..=most).rev().map(|k| (-whole(k), dot(&x[k..], &y)));
    let ahead = (0..=most).map(|k| (whole(k), dot(&x, &y[k..])));
    let lags = behind.chain(ahead).map(|(lag, product)| CrossLag { lag, r: product / size });
    Ok(Cross { lags: lags.collect(), band: normal::quantile(0.975) / (n as f64).sqrt(), observations: n })
}

fn whole(k: usize) -> i64 {
    i64::try_from(k).unwrap_or(i64::MAX)
}

impl Cross {
    /// The largest correlation by size; of equals the one at the shortest lag.
    pub fn strongest(&self) -> Strongest {
        let order = |a: &&CrossLag, b: &&CrossLag| {
            a.r.abs().total_cmp(&b.r.abs()).then_with(|| b.lag.abs().cmp(&a.lag.abs()))
        };
        let most = self.lags.iter().max_by(order).copied().unwrap_or(CrossLag { lag: 0, r: 0.0 });
        Strongest { lag: most.lag, r: most.r, significant: most.r.abs() > self.threshold() }
    }

    /// What the largest of all lags exceeds in 5 % of pairs of unrelated white noise
    /// (Šidák 1967, the lags nearly independent).
    pub fn threshold(&self) -> f64 {
        let each = 0.95_f64.powf(1.0 / self.lags.len().max(1) as f64);
        normal::quantile(0.5 + 0.5 * each) / (self.observations as f64).sqrt()
    }

    /// Lags whole seasons from the strongest where the correlation has the same sign, lies
    /// outside the band and exceeds its neighbours: the same relation seen again.
    pub fn echoes(&self, season: usize) -> Vec<i64> {
        let strongest = self.strongest();
        if season < 3 || !strongest.significant {
            return Vec::new();
        }
        let season = whole(season);
        let sign = strongest.r.signum();
        let signed = |lag: i64| sign * self.at(lag).unwrap_or(0.0);
        let is_echo = |lag: i64| {
            lag != strongest.lag
                && (lag - strongest.lag) % season == 0
                && signed(lag) > self.band
                && signed(lag) >= signed(lag - 1)
                && signed(lag) >= signed(lag + 1)
        };
        self.lags.iter().map(|one| one.lag).filter(|lag| is_echo(*lag)).collect()
    }

    /// The correlation at a lag, if it was computed.
    pub fn at(&self, lag: i64) -> Option<f64> {
        let first = self.lags.first()?.lag;
        let place = usize::try_from(lag.checked_sub(first)?).ok()?;
        self.lags.get(place).map(|one| one.r)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::corr::{AcfOptions, acf};
    use crate::num::rng::NormalStream;
    use crate::num::scale::InvalidSeries;

    fn noise(stream: u64, n: usize) -> Vec<f64> {
        NormalStream::new(41, stream).take(n)
    }

    #[test]
    fn eight_pairs_by_hand() {
        // x is 1 at place 2, y is 1 at place 4: deviations 7/8 and -1/8, so at lag 2
        // (7/8)² and five products of 1/64 over a sum of squares of 7/8.
        let mut x = [0.0; 8];
        let mut y = [0.0; 8];
        (x[2], y[4]) = (1.0, 1.0);
        let cross = cross_correlations(&x, &y, 3).expect("valid");
        let expected = (49.0 / 64.0 + 5.0 / 64.0) / (7.0 / 8.0);
        assert!((cross.at(2).expect("there") - expected).abs() < 1e-14);
        assert_eq!((cross.strongest().lag, cross.at(9), cross.at(-4)), (2, None, None));
    }

    #[test]
    fn of_a_series_with_itself_they_are_its_autocorrelations() {
        let y = noise(0, 120);
        let cross = cross_correlations(&y, &y, 10).expect("valid");
        let own = acf(&y, &AcfOptions { lags: Some(10), ..AcfOptions::default() }).expect("valid");
        for (lag, acf) in own.lags.iter().map(|one| (whole(one.lag), one.acf)) {
            assert!((cross.at(lag).expect("there") - acf).abs() < 1e-13);
            assert!((cross.at(-lag).expect("there") - acf).abs() < 1e-13);
        }
        assert!((cross.at(0).expect("there") - 1.0).abs() < 1e-13);
    }

    #[test]
    fn exchanging_the_series_turns_the_lags() {
        let (x, y) = (noise(1, 60), noise(2, 60));
        let (one, other) =
            (cross_correlations(&x, &y, 5).expect("valid"), cross_correlations(&y, &x, 5).expect("valid"));
        for lag in -5..=5 {
            assert!((one.at(lag).expect("there") - other.at(-lag).expect("there")).abs() < 1e-14);
        }
    }

    #[test]
    fn the_leader_is_found_and_its_seasonal_repetition_distinguished() {
        let e = noise(3, 300);
        let season: Vec<f64> = (0..300).map(|t| e[t] + if t >= 12 { 0.8 * e[t - 12] } else { 0.0 }).collect();
        let second: Vec<f64> = (0..300).map(|t| if t >= 2 { season[t - 2] } else { 0.0 }).collect();
        let cross = cross_correlations(&season, &second, 20).expect("valid");
        let strongest = cross.strongest();
        assert!(strongest.significant && strongest.lag == 2, "{strongest:?}");
        assert_eq!(cross.echoes(12), [-10, 14]);
        assert!(cross.echoes(1).is_empty());
    }

    #[test]
    fn unrelated_noise_stands_out_in_one_pair_of_twenty() {
        let out = (0..400)
            .filter(|k| {
                let cross = cross_correlations(&noise(100 + k, 200), &noise(900 + k, 200), 12);
                cross.expect("valid").strongest().significant
            })
            .count();
        // 20 expected of 400, give or take three standard deviations of 4.4.
        assert!((7..=33).contains(&out), "{out}");
    }

    #[test]
    fn what_cannot_be_crossed_is_an_error_by_name() {
        let y = noise(4, 20);
        let error = |x: &[f64], k| cross_correlations(x, &y, k).expect_err("invalid");
        assert_eq!(error(&y, 20), RelationError::Lags { lags: 20, observations: 20 });
        assert_eq!(error(&y[..5], 2), RelationError::TooShort { observations: 5, needed: 8 });
        assert_eq!(
            error(&[3.0; 20], 2),
            RelationError::Series { series: 0, reason: InvalidSeries::Constant }
        );
        assert_eq!(default_cross_lags(288, 12), 24);
        assert_eq!(default_cross_lags(40, 12), 10);
    }
}
