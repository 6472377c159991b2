//! The deterministic part of a series: mean, drift, trend, level shift, change in slope.

use schemars::JsonSchema;
use serde::Serialize;

use crate::verdict::candidates::{CandidateModel, CandidateProbability};
use crate::verdict::{Assessment, Seasonality};

/// The deterministic part without the seasonality.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum DeterministicPart {
    /// None: no drift, or a mean that differencing takes out.
    None,
    /// A constant mean.
    Mean,
    /// A constant mean of the differences.
    Drift,
    /// A linear trend.
    Trend,
    /// A level that shifts once.
    LevelShift,
    /// A slope, or a drift, that changes once.
    SlopeChange,
    /// Level and slope that change together.
    LevelAndSlope,
}

/// A deterministic part and its probability.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct DeterministicProbability {
    /// Which.
    pub part: DeterministicPart,
    /// Given the most probable number of ordinary differences.
    pub probability: f64,
    /// The place of the last observation before the change, where there is one.
    pub before: Option<usize>,
}

impl DeterministicPart {
    fn of(model: CandidateModel) -> Self {
        match model {
            CandidateModel::Mean => Self::Mean,
            CandidateModel::Trend => Self::Trend,
            CandidateModel::RandomWalk | CandidateModel::TwiceIntegrated => Self::None,
            CandidateModel::RandomWalkWithDrift => Self::Drift,
            CandidateModel::MeanWithLevelBreak
            | CandidateModel::TrendWithLevelBreak
            | CandidateModel::RandomWalkWithLevelBreak
            | CandidateModel::DriftWithLevelBreak => Self::LevelShift,
            CandidateModel::TrendWithBothBreaks => Self::LevelAndSlope,
            CandidateModel::TrendWithSlopeBreak | CandidateModel::DriftWithSlopeBreak => Self::SlopeChange,
        }
    }
}

/// The parts given the d of the verdict: that of its kind first, the others by probability.
pub fn parts(assessment: &Assessment) -> Vec<DeterministicProbability> {
    let verdict = &assessment.verdict;
    let has_root = assessment.season.seasonality == Seasonality::UnitRoots;
    if let (true, 0, Some(slope)) = (has_root, verdict.integration, slope(assessment)) {
        return of_seasonal_differences(slope);
    }
    let is_of_order = |one: &&CandidateProbability| one.model.kind().integration() == verdict.integration;
    let own: Vec<&CandidateProbability> =
        assessment.candidates.candidates.iter().filter(is_of_order).collect();
    let total: f64 = own.iter().map(|one| one.probability).sum();
    let mut all: Vec<DeterministicProbability> = Vec::new();
    for one in own {
        let part = DeterministicPart::of(one.model);
        let share = if total > 0.0 { one.probability / total } else { 0.0 };
        match all.iter_mut().find(|known| known.part == part) {
            Some(known) => known.probability += share,
            None => all.push(DeterministicProbability {
                part,
                probability: share,
                before: one.before.map(|before| (before + assessment.season.lost()).saturating_sub(1)),
            }),
        }
    }
    let chosen = assessment.candidates.best_of(verdict.kind).map(|one| DeterministicPart::of(one.model));
    all.sort_by(|a, b| {
        let is_own = |one: &DeterministicProbability| Some(one.part) == chosen;
        is_own(b).cmp(&is_own(a)).then(b.probability.total_cmp(&a.probability))
    });
    all
}

/// The probability that the seasonal differences have a mean.
fn slope(assessment: &Assessment) -> Option<f64> {
    assessment.season.posterior.as_ref().and_then(|posterior| posterior.slope)
}

/// A mean of the seasonal differences is a drift.
fn of_seasonal_differences(slope: f64) -> Vec<DeterministicProbability> {
    let of = |part, probability| DeterministicProbability { part, probability, before: None };
    let mut all = vec![of(DeterministicPart::Drift, slope), of(DeterministicPart::None, 1.0 - slope)];
    all.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    all
}
