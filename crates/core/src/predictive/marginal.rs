//! The distribution of one forecast on the original scale.

use super::inverse::{InverseStep, Map};
use super::joint::Joint;
use super::simulate::{Shocks, simulated};
use crate::num::normal;

/// The distribution of one forecast.
#[derive(Debug, Clone, PartialEq)]
pub enum Marginal {
    /// Monotone functions of a normal variable, applied in their order.
    Normal {
        /// Its expected value.
        mean: f64,
        /// Its standard deviation.
        sd: f64,
        /// The functions.
        maps: Vec<Map>,
    },
    /// Simulated values in ascending order.
    Simulated(Vec<f64>),
    /// A mixture: probabilities that sum to one, and the distributions.
    Mixture(Vec<(f64, Marginal)>),
}

/// Paths that are simulated where no formula leads back.
const PATHS: usize = 20_000;
/// Seed of these paths.
const SEED: u64 = 20_261_127;
/// A standard normal value beyond which there is no probability left in double precision.
const FARTHEST: f64 = 38.0;
/// Bisections that halve any interval down to rounding.
const HALVINGS: usize = 80;

/// The distribution of each step ahead on the original scale.
///
/// # Method
/// Inverse steps that keep the distribution normal are carried out on it; behind them steps that transform each value by
/// itself carry quantiles exactly, and moments by the trapezoid rule over the normal density, which is exact to rounding
/// for smooth functions. A step with lags behind a nonlinear one is followed along 20,000 simulated paths, the same for
/// each call.
pub fn marginals(joint: &Joint, steps: &[InverseStep]) -> Vec<Marginal> {
    let mut normal = joint.clone();
    let done = steps.iter().take_while(|step| step.on(&mut normal)).count();
    let rest = &steps[done..];
    let single: Option<Vec<&[Map]>> = rest.iter().map(InverseStep::maps).collect();
    let Some(maps) = single else {
        return simulated(&normal, rest, PATHS, &Shocks::Normal { seed: SEED });
    };
    let of = |h: usize| Marginal::Normal {
        mean: normal.mean[h],
        sd: normal.variance(h).sqrt(),
        maps: maps.iter().map(|maps| maps[h]).collect(),
    };
    (0..normal.ahead()).map(of).collect()
}

/// The value of a chain of functions at `mean + sd z`.
fn at(mean: f64, sd: f64, maps: &[Map], z: f64) -> f64 {
    maps.iter().fold(mean + sd * z, |x, map| map.at(x))
}

/// Whether a chain of functions decreases.
fn decreases(maps: &[Map]) -> bool {
    maps.iter().filter(|map| matches!(map, Map::Line { scale, .. } if *scale < 0.0)).count() % 2 == 1
}

impl Marginal {
    /// The value below which lies the probability `p`, `0 < p < 1`; infinite where the distribution has no such value.
    pub fn quantile(&self, p: f64) -> f64 {
        match self {
            Self::Normal { mean, sd, maps } => {
                let p = if decreases(maps) { 1.0 - p } else { p };
                at(*mean, *sd, maps, normal::quantile(p))
            }
            Self::Simulated(values) => interpolated(values, p),
            Self::Mixture(parts) => self.quantile_between(parts, p),
        }
    }

    /// The quantile of a mixture lies between those of its parts, where its distribution function is bisected.
    fn quantile_between(&self, parts: &[(f64, Self)], p: f64) -> f64 {
        let own = parts.iter().map(|(_, part)| part.quantile(p));
        let (mut low, mut high) = own
            .fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), value| (low.min(value), high.max(value)));
        if !low.is_finite() || !high.is_finite() {
            return if low.is_finite() { high } else { low };
        }
        for _ in 0..HALVINGS {
            let middle = 0.5 * (low + high);
            if self.cdf(middle) < p {
                low = middle;
            } else {
                high = middle;
            }
        }
        0.5 * (low + high)
    }

    /// The probability below a value.
    pub fn cdf(&self, value: f64) -> f64 {
        match self {
            Self::Normal { mean, sd, maps } => {
                let falling = decreases(maps);
                let (mut low, mut high) = (-FARTHEST, FARTHEST);
                for _ in 0..HALVINGS {
                    let middle = 0.5 * (low + high);
                    if (at(*mean, *sd, maps, middle) < value) == falling {
                        high = middle;
                    } else {
                        low = middle;
                    }
                }
                normal::cdf(if falling { -0.5 * (low + high) } else { 0.5 * (low + high) })
            }
            Self::Simulated(values) => {
                values.partition_point(|own| *own < value) as f64 / values.len().max(1) as f64
            }
            Self::Mixture(parts) => parts.iter().map(|(weight, part)| weight * part.cdf(value)).sum(),
        }
    }

    /// Mean and standard deviation; not finite where they do not exist.
    pub fn moments(&self) -> (f64, f64) {
        match self {
            Self::Normal { mean, sd, maps } if maps.is_empty() => (*mean, *sd),
            Self::Normal { mean, sd, maps } => mapped_moments(&|z| at(*mean, *sd, maps, z)),
            Self::Simulated(values) => {
                let count = values.len() as f64;
                let mean = values.iter().sum::<f64>() / count;
                let variance = values.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / count;
                (mean, variance.sqrt())
            }
            Self::Mixture(parts) => {
                let own: Vec<(f64, f64, f64)> = parts
                    .iter()
                    .map(|(weight, part)| (*weight, part.moments()))
                    .map(|(weight, (mean, sd))| (weight, mean, sd))
                    .collect();
                let mean: f64 = own.iter().map(|(weight, mean, _)| weight * mean).sum();
                let variance: f64 =
                    own.iter().map(|(weight, own, sd)| weight * (sd * sd + (own - mean).powi(2))).sum();
                (mean, variance.sqrt())
            }
        }
    }
}

/// Mean and standard deviation of a function of a standard normal value.
fn mapped_moments(at: &impl Fn(f64) -> f64) -> (f64, f64) {
    const WIDTH: f64 = 0.1;
    const REACH: i32 = 120;
    let weight = |z: f64| WIDTH * (-0.5 * z * z).exp() / (2.0 * std::f64::consts::PI).sqrt();
    let nodes: Vec<(f64, f64)> =
        (-REACH..=REACH).map(|k| WIDTH * f64::from(k)).map(|z| (weight(z), at(z))).collect();
    let mean: f64 = nodes.iter().map(|(weight, value)| weight * value).sum();
    let variance: f64 = nodes.iter().map(|(weight, value)| weight * (value - mean).powi(2)).sum();
    (mean, variance.sqrt())
}

/// A quantile of sorted values, interpolated linearly.
fn interpolated(values: &[f64], p: f64) -> f64 {
    let place = p * (values.len() as f64 - 1.0);
    let below = place.floor();
    // A proportion of a length that fits.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let index = below as usize;
    match (values.get(index), values.get(index + 1)) {
        (Some(own), Some(next)) => own + (place - below) * (next - own),
        (Some(own), None) => *own,
        (None, _) => f64::NAN,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::predictive::HorizonForecast;

    const LEVELS: [f64; 2] = [80.0, 95.0];

    fn steps(joint: &Joint, inverse: &[InverseStep]) -> Vec<HorizonForecast> {
        marginals(joint, inverse).iter().map(|own| HorizonForecast::of(own, &LEVELS)).collect()
    }

    fn one(mean: f64, sd: f64) -> Joint {
        Joint { mean: vec![mean], responses: vec![vec![sd]] }
    }

    #[test]
    fn logarithms_are_inverted_by_the_closed_form() {
        let found = &steps(&one(2.0, 0.3), &[InverseStep::Each(vec![Map::Exp])])[0];
        let mean = (2.0_f64 + 0.045).exp();
        assert!((found.median - 2.0_f64.exp()).abs() < 1e-12);
        assert!((found.mean.expect("a mean") / mean - 1.0).abs() < 1e-12);
        let sd = mean * (0.09_f64.exp() - 1.0).sqrt();
        assert!((found.std_error.expect("a standard deviation") / sd - 1.0).abs() < 1e-12);
        let low = (2.0 - 1.959_963_984_540_054 * 0.3_f64).exp();
        assert!((found.intervals[1].lower.expect("a limit") - low).abs() < 1e-10);
    }

    #[test]
    fn a_limit_that_does_not_exist_is_none() {
        // λ below zero: from minus one over λ on there is no value.
        let found = &steps(&one(1.0, 1.0), &[InverseStep::Each(vec![Map::BoxCox(-0.5)])])[0];
        assert!(found.intervals[1].lower.is_some() && found.intervals[1].upper.is_none());
        // A logarithm of what may be negative has no lower limit.
        let found = &steps(&one(1.0, 1.0), &[InverseStep::Each(vec![Map::Ln])])[0];
        assert_eq!((found.intervals[1].lower, found.mean), (None, None));
    }

    #[test]
    fn a_decreasing_function_keeps_the_limits_in_order() {
        let line = Map::Line { scale: -2.0, shift: 0.0 };
        let found = &steps(&one(1.0, 1.0), &[InverseStep::Each(vec![line])])[0];
        let [inner, outer] = [found.intervals[0], found.intervals[1]];
        assert!(inner.lower < inner.upper && outer.lower < inner.lower);
        assert!((found.std_error.expect("a standard deviation") - 2.0).abs() < 1e-15);
        let own = Marginal::Normal { mean: 1.0, sd: 1.0, maps: vec![line] };
        assert!((own.cdf(own.quantile(0.3)) - 0.3).abs() < 1e-12);
    }

    #[test]
    fn simulated_paths_agree_with_the_exact_way() {
        // Percentage changes compounded are the logarithmic walk for small steps, and exactly so
        // at the first.
        let joint = Joint { mean: vec![1.0, 1.0], responses: vec![vec![2.0], vec![0.0, 2.0]] };
        let found = steps(&joint, &[InverseStep::Compounded { lag: 1, history: vec![50.0] }]);
        assert!((found[0].median - 50.5).abs() < 0.01);
        assert!((found[0].std_error.expect("a standard deviation") - 1.0).abs() < 0.01);
        // Two steps: the variance of a product of independent values.
        let variance = 50.0_f64.powi(2) * ((1.01_f64.powi(2) + 0.0004).powi(2) - 1.01_f64.powi(4));
        assert!((found[1].std_error.expect("a standard deviation") / variance.sqrt() - 1.0).abs() < 0.02);
        assert!((found[1].mean.expect("a mean") - 50.0 * 1.01 * 1.01).abs() < 0.02);
    }

    #[test]
    fn a_mixture_of_one_distribution_is_that_distribution() {
        let own = Marginal::Normal { mean: 2.0, sd: 0.3, maps: vec![Map::Exp] };
        let mixed = Marginal::Mixture(vec![(0.4, own.clone()), (0.6, own.clone())]);
        for p in [0.025, 0.3, 0.5, 0.9] {
            assert!((mixed.quantile(p) / own.quantile(p) - 1.0).abs() < 1e-10, "{p}");
        }
        assert!((mixed.moments().1 / own.moments().1 - 1.0).abs() < 1e-12);
    }

    #[test]
    fn a_mixture_of_two_normal_distributions_by_hand() {
        let part = |mean: f64, sd: f64| Marginal::Normal { mean, sd, maps: Vec::new() };
        let mixed = Marginal::Mixture(vec![(0.5, part(-1.0, 1.0)), (0.5, part(1.0, 2.0))]);
        let f = |x: f64| 0.5 * normal::cdf(x + 1.0) + 0.5 * normal::cdf((x - 1.0) / 2.0);
        for p in [0.01, 0.16, 0.5, 0.84, 0.99] {
            assert!((f(mixed.quantile(p)) - p).abs() < 1e-10, "{p}");
        }
        let (mean, sd) = mixed.moments();
        // Within: (1 + 4)/2; between: 1.
        assert!(mean.abs() < 1e-15 && (sd * sd - 3.5).abs() < 1e-12, "{mean} {sd}");
    }
}
