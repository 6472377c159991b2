//! Long-run variances and their bandwidths.

use std::str::FromStr;

use schemars::JsonSchema;
use serde::Serialize;

use crate::num::sum::{dot, squared_distance};

/// How many autocovariances a long-run variance takes in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Bandwidth {
    /// From the data: Newey and West (1994).
    #[default]
    Automatic,
    /// `floor(4 (n/100)^{1/4})`
    Short,
    /// `floor(12 (n/100)^{1/4})`
    Long,
    /// The number itself.
    Given(usize),
}

impl Bandwidth {
    const NAMED: [(&'static str, Self); 3] =
        [("auto", Self::Automatic), ("l4", Self::Short), ("l12", Self::Long)];

    /// The name of the rule; `given` for a number.
    pub fn name(self) -> &'static str {
        Self::NAMED.iter().find(|(_, rule)| *rule == self).map_or("given", |(name, _)| name)
    }

    /// The number of lags for the values `e` (zero mean), at most `n - 1`.
    pub fn resolve(self, e: &[f64]) -> usize {
        let n = e.len();
        let wanted = match self {
            Self::Automatic => automatic_bandwidth(e, autocovariances_examined(n)),
            Self::Short => whole(4.0 * (n as f64 / 100.0).powf(0.25)),
            Self::Long => whole(12.0 * (n as f64 / 100.0).powf(0.25)),
            Self::Given(lags) => lags,
        };
        wanted.min(n.saturating_sub(1))
    }
}

impl FromStr for Bandwidth {
    type Err = BandwidthError;

    fn from_str(text: &str) -> Result<Self, BandwidthError> {
        let known =
            Self::NAMED.iter().find(|(name, _)| name.eq_ignore_ascii_case(text)).map(|(_, rule)| *rule);
        known.or_else(|| text.parse().map(Self::Given).ok()).ok_or(BandwidthError)
    }
}

/// The text names no rule.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("write a number, auto, l4 or l12")]
pub struct BandwidthError;

/// How many autocovariances the automatic bandwidth looks at:
/// `floor(4 (n/100)^{2/9})` for the Bartlett kernel.
///
/// # References
/// Newey and West (1994), Review of Economic Studies 61, table II C;
/// Hobijn, Franses and Ooms (2004), *Statistica Neerlandica* 58, eq. 10-12.
pub fn autocovariances_examined(n: usize) -> usize {
    whole(4.0 * (n as f64 / 100.0).powf(2.0 / 9.0)).min(n.saturating_sub(1))
}

/// The automatic bandwidth for the Bartlett kernel.
///
/// # Formula
/// `floor(1.1447 [(s₁/s₀)²]^{1/3} n^{1/3})` with `s₀ = γ₀ + 2 Σ γ_j` and
/// `s₁ = 2 Σ j γ_j` over the first `examined` lags; at most a quarter of n.
///
/// The bound matters only where `s₀` is nearly zero: there the formula asks
/// for more lags than there are data, and at `n - 1` lags the KPSS statistic is
/// one half for any series whatever.
pub fn automatic_bandwidth(e: &[f64], examined: usize) -> usize {
    let n = e.len();
    let mut s0 = lagged_product(e, 0);
    let mut s1 = 0.0;
    for j in 1..=examined {
        let twice = 2.0 * lagged_product(e, j);
        s0 += twice;
        s1 += j as f64 * twice;
    }
    let ratio = s1 / s0;
    let wanted = 1.1447 * (ratio * ratio * n as f64).cbrt();
    let most = n / 4;
    // Written so that an infinite or undefined ratio takes the bound as well.
    if wanted < most as f64 { whole(wanted) } else { most }
}

/// Long-run variance with Bartlett weights, `γ₀ + 2 Σ (1 - j/(l+1)) γ_j`, of
/// values with zero mean; divisor n.
///
/// # Numerics
/// Equal to `Σ_t (e_t + … + e_{t+l})² / (n (l+1))` with zeros beyond both
/// ends. With partial sums at hand these are `n + l` squares for any `l`, and
/// the result cannot be negative.
pub fn bartlett_variance(e: &[f64], lags: usize) -> f64 {
    variance_from_partial_sums(&partial_sums(e), lags)
}

/// `0, e_1, e_1 + e_2, …`: one more than there are values.
pub fn partial_sums(e: &[f64]) -> Vec<f64> {
    let mut total = 0.0;
    let mut sums = Vec::with_capacity(e.len() + 1);
    sums.push(0.0);
    sums.extend(e.iter().map(|v| {
        total += v;
        total
    }));
    sums
}

/// [`bartlett_variance`] of values whose [`partial_sums`] are known.
pub fn variance_from_partial_sums(sums: &[f64], lags: usize) -> f64 {
    let n = sums.len().saturating_sub(1);
    if n == 0 {
        return 0.0;
    }
    let total = sums[n];
    // Windows that begin before the first value, lie inside, end after the last.
    let width = (lags + 1).min(n);
    let entering = dot(&sums[1..width], &sums[1..width]);
    let inside = squared_distance(&sums[width..], &sums[..=n - width]);
    let leaving: f64 = sums[n + 1 - width..n].iter().map(|s| (total - s).powi(2)).sum();
    let whole_sample = (lags + 1 - width) as f64 * total * total;
    (entering + inside + leaving + whole_sample) / (n as f64 * (lags as f64 + 1.0))
}

fn lagged_product(e: &[f64], lag: usize) -> f64 {
    dot(e.get(lag..).unwrap_or_default(), e)
}

/// The whole part of a non-negative number far below 2^52.
fn whole(value: f64) -> usize {
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let count = value.floor() as usize;
    count
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn by_definition(e: &[f64], lags: usize) -> f64 {
        let n = e.len() as f64;
        (1..=lags).fold(lagged_product(e, 0) / n, |sum, j| {
            let weight = 1.0 - j as f64 / (lags as f64 + 1.0);
            sum + 2.0 * weight * lagged_product(e, j) / n
        })
    }

    #[test]
    fn the_window_form_is_the_weighted_sum_of_autocovariances() {
        let e = NormalStream::new(5, 0).take(200);
        for lags in [0, 1, 7, 60, 198, 199, 230] {
            let direct = by_definition(&e, lags);
            assert!((bartlett_variance(&e, lags) - direct).abs() < 1e-12 * direct.max(1.0));
        }
    }

    #[test]
    fn the_automatic_bandwidth_by_hand() {
        assert_eq!(autocovariances_examined(100), 4);
        assert_eq!(autocovariances_examined(27), 2);
        // e = 2, 1, -1, -2 repeated: γ sums 20, s₀ = 20 + 2(2-1+2-4+2-1+2) = 24,
        // s₁ = 4: 1.1447 ((1/6)² · 8)^{1/3} = 0.69; with e = 1 .. the bound.
        let e = [2.0, 1.0, -1.0, -2.0, 2.0, 1.0, -1.0, -2.0];
        assert_eq!(automatic_bandwidth(&e, 1), 0);
        // s₀ = 8 - 14 = -6, s₁ = -14: 1.1447 (5.44 · 8)^{1/3} = 4.03, at most 2.
        let alternating = [1.0, -1.0, 1.0, -1.0, 1.0, -1.0, 1.0, -1.0];
        assert_eq!(automatic_bandwidth(&alternating, 1), 2);
    }

    #[test]
    fn more_persistence_asks_for_a_wider_window() {
        let noise = NormalStream::new(6, 0).take(400);
        let mut persistent = vec![0.0; 400];
        for t in 1..400 {
            persistent[t] = 0.9 * persistent[t - 1] + noise[t];
        }
        assert!(Bandwidth::Automatic.resolve(&persistent) > Bandwidth::Automatic.resolve(&noise));
        assert_eq!(Bandwidth::Short.resolve(&noise), 5);
        assert_eq!(Bandwidth::Long.resolve(&noise), 16);
        assert_eq!(Bandwidth::Given(1000).resolve(&noise), 399);
    }

    #[test]
    fn every_rule_is_read_from_its_name() {
        for (name, rule) in Bandwidth::NAMED {
            assert_eq!((name.parse(), rule.name()), (Ok(rule), name));
        }
        assert_eq!("Auto".parse::<Bandwidth>(), "auto".parse());
        assert_eq!(("12".parse(), Bandwidth::Given(12).name()), (Ok(Bandwidth::Given(12)), "given"));
        for wrong in ["", "-3", "autos", "1.5"] {
            assert_eq!(wrong.parse::<Bandwidth>(), Err(BandwidthError));
        }
    }
}
