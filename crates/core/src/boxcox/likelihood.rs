//! The profile likelihood of λ and its interval.

use schemars::JsonSchema;
use serde::Serialize;

use super::sum_of_squares::{Dynamics, least_sum};
use super::{BoxCoxError, LARGEST, SMALLEST, check, minimum, over_geometric_mean, transform};
use crate::num::scale;

/// λ of the largest likelihood and its interval.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct ProfileLikelihood {
    /// The estimate.
    pub lambda: f64,
    /// Lower end of the 95 % interval; none if it lies below -2.
    pub low: Option<f64>,
    /// Upper end of the 95 % interval; none if it lies above 3.
    pub high: Option<f64>,
}

/// Half of the 95 % point of chi-squared with one degree of freedom.
const DROP: f64 = 0.5 * 3.841_458_820_694_124;

/// λ by profile likelihood of a flexible model of trend and season.
///
/// # Formula
/// `ℓ(λ) = -m/2 · ln(S(λ)/m) + (λ-1) Σ ln y_t` over the m values used, where `S(λ)` is
/// the least conditional sum of squares of `y^(λ)` under
/// `(1-φB)(Δ Δ_s y_t^(λ) - μ) = (1+θB)(1+ΘB^s) e_t`, without the seasonal factors
/// where there is no season or the series is shorter than four. The interval holds
/// every λ with `ℓ(λ) ≥ ℓ(λ̂) - 1.92`.
///
/// # Source
/// Box, G. E. P. and Cox, D. R. (1964), Journal of the Royal Statistical Society B
/// 26, 211-252; the model is that of Box and Jenkins (1970) with one coefficient more.
///
/// # Errors
/// [`BoxCoxError`].
pub fn profile_likelihood(y: &[f64], season: usize) -> Result<ProfileLikelihood, BoxCoxError> {
    check(y)?;
    let season = if season > 1 && y.len() >= 4 * season { season } else { 0 };
    let profile = Profile { scaled: over_geometric_mean(y), season };
    if profile.dynamics(1.0).sum <= 1e-20 {
        return Err(BoxCoxError::NoVariation);
    }
    let lambda = minimum(|lambda| -profile.log_likelihood(lambda));
    let level = profile.log_likelihood(lambda) - DROP;
    let end = |outermost: f64| crossing(&profile, lambda, outermost, level);
    Ok(ProfileLikelihood { lambda, low: end(SMALLEST), high: end(LARGEST) })
}

/// Where the likelihood falls to the level between λ and an outermost value.
fn crossing(profile: &Profile, lambda: f64, outermost: f64, level: f64) -> Option<f64> {
    if profile.log_likelihood(outermost) > level {
        return None;
    }
    let (mut inside, mut outside) = (lambda, outermost);
    while (inside - outside).abs() > 1e-5 {
        let middle = 0.5 * (inside + outside);
        if profile.log_likelihood(middle) > level {
            inside = middle;
        } else {
            outside = middle;
        }
    }
    Some(0.5 * (inside + outside))
}

struct Profile {
    /// The series over its geometric mean.
    scaled: Vec<f64>,
    /// 0 for none.
    season: usize,
}

impl Profile {
    fn log_likelihood(&self, lambda: f64) -> f64 {
        let used = self.scaled.get(1 + self.season..).unwrap_or_default();
        let m = used.len() as f64;
        let logarithms: f64 = used.iter().map(|value| value.ln()).sum();
        let sum = self.dynamics(lambda).sum.max(f64::MIN_POSITIVE);
        -0.5 * m * (sum / m).ln() + (lambda - 1.0) * logarithms
    }

    fn dynamics(&self, lambda: f64) -> Dynamics {
        let z: Vec<f64> = self.scaled.iter().map(|value| transform(*value, lambda)).collect();
        let changes: Vec<f64> = z.windows(2).map(|pair| pair[1] - pair[0]).collect();
        let changes = match self.season {
            0 => changes,
            s => changes.iter().skip(s).zip(&changes).map(|(now, then)| now - then).collect(),
        };
        let mean = scale::mean(&changes);
        least_sum(&changes.iter().map(|change| change - mean).collect::<Vec<_>>(), self.season)
    }
}
