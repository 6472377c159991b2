//! Power of the tests as facts: the contract's result.

use kandrel_core::nulldist::Terms;
use kandrel_core::power::{Power, PowerRow};
use kandrel_core::series::Series;
use schemars::JsonSchema;
use serde::Serialize;

use crate::present::sample::Sample;

/// The contract's result of `power`.
#[derive(JsonSchema, Serialize)]
pub struct PowerResult {
    pub series: String,
    pub sample: Sample,
    /// Length of the series without its seasonality.
    pub observations: usize,
    pub terms: Terms,
    /// Coefficients of the lagged differences that series are drawn with.
    pub short_run: Vec<f64>,
    /// From the smallest root up; the last is a unit root.
    pub rows: Vec<PowerRow>,
    /// The largest root that ADF finds in 80 % of series.
    pub found: Option<f64>,
    /// Posterior median of the largest root.
    pub estimated: f64,
    /// Observations with which ADF finds that root in 80 % of series.
    pub needed: Option<usize>,
    pub alpha: f64,
    pub draws: usize,
    pub seed: u64,
}

/// Puts a result together.
pub fn result(series: &Series, found: &Power, alpha: f64, draws: usize, seed: u64) -> PowerResult {
    PowerResult {
        series: series.name.clone(),
        sample: Sample::of(series),
        observations: found.observations,
        terms: found.terms,
        short_run: found.short_run.clone(),
        rows: found.rows.clone(),
        found: found.found,
        estimated: found.estimated,
        needed: found.needed,
        alpha,
        draws,
        seed,
    }
}
