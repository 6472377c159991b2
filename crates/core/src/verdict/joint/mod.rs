//! Ordinary and seasonal differences, seasonality, drift and breaks of a seasonal series, from one posterior.
//!
//! # Idea
//! `v = (1 - B^s) x` does not depend on a fixed seasonal pattern nor on the level, and has a constant mean where x has a
//! trend. A fixed pattern is a seasonal moving average with coefficient −1 in the exact likelihood of v, a unit root one
//! of its autoregressive factors: so all pairs (d, D) have exact Gaussian likelihoods of the same numbers, averaged over
//! short-run dynamics, and are compared directly. The scale is integrated out:
//! `ℓ = -½ ln|Σ| - (N/2) ln Q`, N = n − s, Q the quadratic form.
//!
//! | d, D | model of v, S(B) = 1 + B + … + B^(s-1) |
//! | --- | --- |
//! | 0, 0 | v = c + (1 − B^s) u |
//! | 1, 0 | v = c + S(B) u |
//! | 0, 1 | v = c + (1 + Θ B^s) u |
//! | 1, 1 | (1 − B) v = (1 + Θ B^s) u |
//! | 2, 0 | (1 − B) v = S(B) u |
//! | 2, 1 | (1 − B)² v = (1 + Θ B^s) u |
//!
//! `S(B) u` is computed as `(1 − B^s) u'` with `(1 − ρB) u' = u` and ρ = 1 − 10⁻⁶. First values of what is differenced
//! once more are independent and normal, their variance averaged over a prior.
//!
//! # Files
//! `prior` holds every prior weight, `dynamics` the short-run dynamics, `seasonal` the seasonal factors, `evidence` the
//! likelihood of one point, `breaks` that with a level shift, an outlier or a change in slope at any date, `pattern` the
//! evidence for no seasonality at all, `search` which points are evaluated and the posterior of all.

mod breaks;
mod dynamics;
mod evidence;
mod pattern;
mod prior;
mod search;
mod seasonal;

pub use breaks::BreakType;
pub use search::{JointPosterior, OrdersProbability, Seasonality};

#[cfg(test)]
mod tests;
