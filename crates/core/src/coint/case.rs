//! Which deterministic terms a system calls for.

use super::design::SystemInput;
use super::error::CointError;
use super::relation::trend_in_relations;
use super::system::{System, system};
use crate::nulldist::SystemTerms;
use crate::num::{scale, student};
use crate::ols::{Bandwidth, bartlett_variance};

/// Terms that the data suggest, and why.
#[derive(Debug, Clone, PartialEq)]
pub struct Suggestion {
    /// The terms.
    pub terms: SystemTerms,
    /// Why.
    pub reason: CaseReason,
    /// p-value of no drift, for each series.
    pub drift_p_values: Vec<f64>,
}

/// Why terms were suggested.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum CaseReason {
    /// No series drifts.
    NoDrift,
    /// A series drifts, and the relations need no trend (p-value, relations).
    Drift(Option<(f64, usize)>),
    /// A series drifts, and the relations need a trend (p-value, relations).
    TrendInside(f64, usize),
}

/// The p-value of no drift: mean change against its long-run standard error.
pub fn drift(y: &[f64]) -> Option<f64> {
    let changes: Vec<f64> = y.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let mean = scale::mean(&changes);
    let around: Vec<f64> = changes.iter().map(|change| change - mean).collect();
    let variance = bartlett_variance(&around, Bandwidth::Short.resolve(&around));
    let error = (variance / changes.len() as f64).sqrt();
    student::two_sided(mean / error, changes.len().checked_sub(1)?)
}

/// Suggests the fixed terms of a system, at a level that allows for the number of series.
///
/// Without drift in any series the constant stays inside the relations; with drift it is
/// unrestricted, and a likelihood ratio says whether the relations have a trend of their own.
///
/// # Errors
/// [`CointError`].
///
/// # References
/// Johansen (1995), sections 5.7 and 11.2.
pub fn suggested_terms(series: &[&[f64]], lags: usize, alpha: f64) -> Result<Suggestion, CointError> {
    let of = |terms| system(SystemInput { series, lags, terms });
    let drift_p_values: Vec<f64> = series.iter().map(|y| drift(y).unwrap_or(1.0)).collect();
    let level = alpha / series.len() as f64;
    if drift_p_values.iter().all(|p| *p > level) {
        return Ok(Suggestion {
            terms: SystemTerms::ConstantIn,
            reason: CaseReason::NoDrift,
            drift_p_values,
        });
    }
    let (with, without): (System, System) = (of(SystemTerms::TrendIn)?, of(SystemTerms::Constant)?);
    let rank = with.rank(alpha).min(series.len() - 1);
    let tested = (rank > 0).then(|| trend_in_relations(&with, &without, rank)).flatten();
    let (terms, reason) = match tested {
        Some((_, p)) if p <= alpha => (SystemTerms::TrendIn, CaseReason::TrendInside(p, rank)),
        other => (SystemTerms::Constant, CaseReason::Drift(other.map(|(_, p)| (p, rank)))),
    };
    Ok(Suggestion { terms, reason, drift_p_values })
}
