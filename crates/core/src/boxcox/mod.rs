//! The Box-Cox transformation and the choice of its λ.

mod guerrero;
mod likelihood;
mod segments;
mod sum_of_squares;

pub use guerrero::guerrero;
pub use likelihood::{ProfileLikelihood, profile_likelihood};
pub use segments::{SdRatios, segment_length, segments};

use schemars::JsonSchema;
use serde::Serialize;
use thiserror::Error;

/// λ is looked for between these.
pub const SMALLEST: f64 = -2.0;
/// λ is looked for between these.
pub const LARGEST: f64 = 3.0;

/// Fewest values to choose λ from.
pub const MIN_OBSERVATIONS_BOXCOX: usize = 20;

/// Why no λ can be chosen.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum BoxCoxError {
    /// A value (by its place, 0-based) that is not positive and finite.
    #[error("a value is not positive")]
    NotPositive(usize),
    /// Fewer values than the choice needs.
    #[error("fewer than {MIN_OBSERVATIONS_BOXCOX} values")]
    TooShort,
    /// All values are equal, or follow a rule without error.
    #[error("the values do not vary")]
    NoVariation,
}

/// λ by both methods.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct Choice {
    /// By profile likelihood, with its interval: the one that is used unless Guerrero's is asked for.
    pub likelihood: ProfileLikelihood,
    /// By Guerrero's method.
    pub guerrero: f64,
    /// How even the standard deviations of segments are after each; none where a segment is missing.
    pub sd_ratios: Option<SdRatios>,
}

/// How λ is chosen.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LambdaRule {
    /// By profile likelihood.
    Likelihood,
    /// By Guerrero's method.
    Guerrero,
}

/// A logarithm whose ratio of standard deviations is at most this multiple of that with λ is nearly as even.
const NEARLY_AS_EVEN: f64 = 1.2;

impl Choice {
    /// λ by a rule.
    pub fn lambda(&self, rule: LambdaRule) -> f64 {
        match rule {
            LambdaRule::Likelihood => self.likelihood.lambda,
            LambdaRule::Guerrero => self.guerrero,
        }
    }

    /// Whether a logarithm is to be preferred to the λ of the likelihood: that is negative, which bounds the transformed
    /// series from above; or the logarithm lies within its interval; or it evens the standard deviations of segments nearly
    /// as well, and better than no transformation.
    pub fn prefers_logarithm(&self) -> bool {
        let ProfileLikelihood { lambda, low, high } = self.likelihood;
        let within = low.is_none_or(|low| low <= 0.0) && high.is_none_or(|high| high >= 0.0);
        let even = |own: SdRatios| {
            own.logarithm < own.untransformed && own.logarithm <= NEARLY_AS_EVEN * own.likelihood
        };
        lambda < 0.0 || within || self.sd_ratios.is_some_and(even)
    }
}

/// Chooses λ for a series with `season` observations in a season (1 for none).
///
/// # Errors
/// [`BoxCoxError`].
pub fn choose(y: &[f64], season: usize) -> Result<Choice, BoxCoxError> {
    let (likelihood, guerrero) = (profile_likelihood(y, season)?, guerrero(y, season)?);
    let sd_ratios = SdRatios::of(y, season, likelihood.lambda, guerrero);
    Ok(Choice { likelihood, guerrero, sd_ratios })
}

/// The transformation of a positive value, `(y^λ - 1) / λ`, or `ln y` where λ is
/// zero (Box and Cox 1964).
pub fn transform(y: f64, lambda: f64) -> f64 {
    let logarithm = y.ln();
    // expm1 keeps its digits where λ is small.
    if lambda.abs() < 1e-12 { logarithm } else { (lambda * logarithm).exp_m1() / lambda }
}

/// The value with a transformation of `x`: zero for a λ above zero and infinity for one below
/// where there is none.
pub fn inverse(x: f64, lambda: f64) -> f64 {
    if lambda.abs() < 1e-12 {
        return x.exp();
    }
    let inside = lambda * x;
    if inside > -1.0 {
        return (inside.ln_1p() / lambda).exp();
    }
    if lambda > 0.0 { 0.0 } else { f64::INFINITY }
}

fn check(y: &[f64]) -> Result<(), BoxCoxError> {
    if let Some(place) = y.iter().position(|value| !(value.is_finite() && *value > 0.0)) {
        return Err(BoxCoxError::NotPositive(place));
    }
    if y.len() < MIN_OBSERVATIONS_BOXCOX {
        return Err(BoxCoxError::TooShort);
    }
    if y.iter().all(|value| value.total_cmp(&y[0]).is_eq()) {
        return Err(BoxCoxError::NoVariation);
    }
    Ok(())
}

/// The values over their geometric mean, which changes no choice of λ and keeps
/// powers small.
fn over_geometric_mean(y: &[f64]) -> Vec<f64> {
    let logarithms: Vec<f64> = y.iter().map(|value| value.ln()).collect();
    let centre = crate::num::scale::mean(&logarithms);
    logarithms.iter().map(|logarithm| (logarithm - centre).exp()).collect()
}

/// The smallest place of a function that falls and then rises on the interval, to
/// within `1e-6`: the best of a grid, then golden sections around it.
fn minimum(function: impl Fn(f64) -> f64) -> f64 {
    const STEPS: i32 = 50;
    let step = (LARGEST - SMALLEST) / f64::from(STEPS);
    let grid = (0..=STEPS).map(|k| SMALLEST + f64::from(k) * step);
    let best = grid.min_by(|a, b| function(*a).total_cmp(&function(*b))).unwrap_or(1.0);
    let golden = 0.5 * (5.0_f64.sqrt() - 1.0);
    let (mut low, mut high) = ((best - step).max(SMALLEST), (best + step).min(LARGEST));
    while high - low > 1e-6 {
        let (left, right) = (high - golden * (high - low), low + golden * (high - low));
        if function(left) <= function(right) {
            high = right;
        } else {
            low = left;
        }
    }
    0.5 * (low + high)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    /// A seasonal random walk in logarithms.
    fn growing(n: usize, stream: u64) -> Vec<f64> {
        let shocks = NormalStream::new(7, stream).take(n);
        let mut y = vec![0.0; n];
        for t in 0..n {
            let before = |k: usize| t.checked_sub(k).map_or(0.0, |earlier| y[earlier]);
            y[t] = before(1) + before(12) - before(13) + 0.02 * shocks[t];
        }
        y.iter().zip(0..).map(|(v, t)| (5.0 + v + 0.005 * f64::from(t)).exp()).collect()
    }

    #[test]
    fn the_transformation_is_that_of_the_paper() {
        assert!((transform(4.0, 0.5) - 2.0).abs() < 1e-15);
        assert!((transform(4.0, -1.0) - 0.75).abs() < 1e-15);
        assert!((transform(4.0, 0.0) - 4.0_f64.ln()).abs() < 1e-15);
        assert!((transform(4.0, 1e-9) - 4.0_f64.ln()).abs() < 1e-8);
    }

    #[test]
    fn what_grows_with_its_level_needs_a_logarithm() {
        for stream in 0..5 {
            let choice = choose(&growing(240, stream), 12).expect("positive");
            let interval = choice.likelihood;
            assert!(
                interval.low.is_some_and(|low| low < 0.1) && interval.high.is_some_and(|high| high > -0.1)
            );
            assert!(interval.lambda.abs() < 0.3 && choice.guerrero.abs() < 0.6, "{choice:?}");
        }
    }

    #[test]
    fn a_power_is_taken_back() {
        // The square of a series whose own spread is even needs a root.
        let even: Vec<f64> = NormalStream::new(3, 0)
            .take(400)
            .iter()
            .zip(0..)
            .map(|(e, t)| 20.0 + 0.1 * f64::from(t) + e)
            .collect();
        let own = choose(&even, 1).expect("positive").likelihood.lambda;
        let squared: Vec<f64> = even.iter().map(|v| v * v).collect();
        let root = choose(&squared, 1).expect("positive").likelihood.lambda;
        assert!((own - 1.0).abs() < 0.25, "{own}");
        // (y²)^λ is y^2λ: the same family, so the same place.
        assert!((root - 0.5 * own).abs() < 2e-3, "{root} {own}");
    }

    #[test]
    fn the_unit_of_measurement_does_not_matter() {
        let y = growing(120, 9);
        let scaled: Vec<f64> = y.iter().map(|v| 1000.0 * v).collect();
        let (a, b) = (choose(&y, 12).expect("positive"), choose(&scaled, 12).expect("positive"));
        assert!((a.likelihood.lambda - b.likelihood.lambda).abs() < 1e-4);
        assert!((a.guerrero - b.guerrero).abs() < 1e-4);
    }

    #[test]
    fn a_logarithm_is_preferred_where_it_is_probable_or_nearly_as_even() {
        let of = |lambda: f64, low: f64, high: f64, [untransformed, logarithm, likelihood]: [f64; 3]| {
            let sd_ratios = Some(SdRatios { untransformed, logarithm, likelihood, guerrero: 1.0 });
            let likelihood = ProfileLikelihood { lambda, low: Some(low), high: Some(high) };
            Choice { likelihood, guerrero: 0.3, sd_ratios }
        };
        assert!(of(0.2, -0.1, 0.5, [9.0, 6.0, 2.0]).prefers_logarithm());
        assert!(of(0.4, 0.1, 0.7, [9.0, 2.3, 2.0]).prefers_logarithm());
        assert!(!of(0.4, 0.1, 0.7, [9.0, 3.0, 2.0]).prefers_logarithm());
        // Nothing is to be gained from a logarithm that is less even than the values as they are.
        assert!(!of(0.9, 0.6, 1.2, [2.0, 2.1, 1.9]).prefers_logarithm());
        assert!(of(-0.4, -0.8, -0.1, [9.0, 6.0, 2.0]).prefers_logarithm());
        let choice = of(0.4, 0.1, 0.7, [9.0, 3.0, 2.0]);
        assert_eq!((choice.lambda(LambdaRule::Likelihood), choice.lambda(LambdaRule::Guerrero)), (0.4, 0.3));
    }

    #[test]
    fn what_has_no_choice_is_refused() {
        assert_eq!(choose(&[1.0; 40], 1), Err(BoxCoxError::NoVariation));
        assert_eq!(choose(&[1.0, 2.0, 3.0], 1), Err(BoxCoxError::TooShort));
        let mut y = growing(40, 0);
        y[7] = 0.0;
        assert_eq!(choose(&y, 12), Err(BoxCoxError::NotPositive(7)));
        let line: Vec<f64> = (1..50).map(f64::from).collect();
        assert_eq!(profile_likelihood(&line, 1), Err(BoxCoxError::NoVariation));
    }
}
