//! Autocorrelations as facts: the contract's result of `acf`.

use kandrel_core::corr::{Acf, Finding};
use kandrel_core::series::{Lost, SeriesWithGaps};
use schemars::JsonSchema;
use serde::Serialize;

use super::text::sentence;
use crate::present::diagnosis::DiagnosisResult;
use crate::present::sample::Sample;

/// The contract's result of `acf`.
#[derive(JsonSchema, Serialize)]
pub struct AcfResult {
    pub series: String,
    pub first: String,
    pub last: String,
    /// Gaps that were kept.
    pub missing: usize,
    pub lost: Lost,
    #[serde(flatten)]
    pub acf: Acf,
    pub reading: Vec<String>,
    /// What the reading says, as data.
    pub findings: Vec<Finding>,
    /// The observations that were used.
    pub sample: Sample,
    /// Seasonal period.
    pub season: usize,
    /// The joint assessment; none of residuals, and of a series that cannot be assessed.
    pub diagnosis: Option<DiagnosisResult>,
}

/// Puts a result together.
pub fn result(series: &SeriesWithGaps, acf: Acf, findings: Vec<Finding>, season: usize) -> AcfResult {
    let last = series.period(series.cells.len().saturating_sub(1));
    let missing = series.cells.len() - acf.observations;
    AcfResult {
        series: series.name.clone(),
        first: series.start.to_string(),
        last: last.to_string(),
        missing,
        lost: series.lost,
        sample: Sample::with_gaps(series),
        reading: findings.iter().map(sentence).collect(),
        acf,
        findings,
        season,
        diagnosis: None,
    }
}
