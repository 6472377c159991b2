use serde::Serialize;

use crate::nulldist::Terms;
use crate::unitroot::{Note, UnitRootTest};

/// Below this length confidence goes down one notch.
const SHORT: usize = 100;

/// The four readings of two tests with opposite nulls.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Reading {
    /// Unit root rejected, stationarity not.
    Stationary,
    /// Stationarity rejected, unit root not.
    UnitRoot,
    /// Both rejected.
    Conflict,
    /// Neither rejected.
    Silent,
}

impl Reading {
    /// Reads a test of a unit root and one of stationarity at level `alpha`.
    pub fn of(unit_root: &UnitRootTest, stationarity: &UnitRootTest, alpha: f64) -> Self {
        match (unit_root.rejects(alpha), stationarity.rejects(alpha)) {
            (true, false) => Self::Stationary,
            (false, true) => Self::UnitRoot,
            (true, true) => Self::Conflict,
            (false, false) => Self::Silent,
        }
    }
}

/// What kind of series it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Class {
    /// Stationary around a constant.
    Stationary,
    /// Stationary around a trend.
    TrendStationary,
    /// Stationary after differencing.
    DifferenceStationary,
    /// The tests do not settle it.
    Inconclusive,
}

/// How sure the verdict is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Confidence {
    /// The tests contradict each other or say nothing.
    Low,
    /// They agree, one of them narrowly or on shaky ground.
    Moderate,
    /// They agree clearly.
    High,
}

/// The verdict.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Verdict {
    /// The most likely number of differences, 0 to 2.
    pub integration: usize,
    /// What kind of series.
    pub class: Class,
    /// How sure.
    pub confidence: Confidence,
}

/// The pair of tests at one number of differences.
pub(super) struct Stage<'a> {
    pub unit_root: &'a UnitRootTest,
    pub stationarity: &'a UnitRootTest,
    pub reading: Reading,
}

/// Weighs the stages, from the level up.
///
/// The first stage read as stationary gives the order of integration; a stage
/// that is not settled goes to the hypothesis less spoken against. Agreement
/// at every stage with room to spare is high confidence. With a season left in,
/// no more than one difference follows from these tests.
pub(super) fn conclude(
    stages: &[Stage<'_>],
    terms: Terms,
    season_left: bool,
    observations: usize,
) -> Verdict {
    let unsettled_order = if season_left { 1 } else { stages.len() };
    let integration = stages.iter().position(leans_stationary).unwrap_or(unsettled_order);
    let counted = stages.iter().take(integration + 1);
    let unsettled = |stage: &Stage<'_>| matches!(stage.reading, Reading::Conflict | Reading::Silent);
    let level_unsettled = stages.first().is_some_and(unsettled);
    let class = match (level_unsettled, integration, terms) {
        (true, ..) => Class::Inconclusive,
        (false, 0, Terms::Trend) => Class::TrendStationary,
        (false, 0, _) => Class::Stationary,
        (false, ..) => Class::DifferenceStationary,
    };
    let agreed = counted.map(strength).min().unwrap_or(Confidence::Low);
    // Differenced as often as was tried and still not stationary.
    let reached = stages.iter().any(leans_stationary);
    let confidence = match (reached, observations < SHORT, agreed) {
        (false, ..) | (_, true, Confidence::Moderate) => Confidence::Low,
        (true, true, Confidence::High) => Confidence::Moderate,
        (true, _, agreed) => agreed,
    };
    Verdict { integration: integration.min(2), class, confidence }
}

pub(super) fn leans_stationary(stage: &Stage<'_>) -> bool {
    match stage.reading {
        Reading::Stationary => true,
        Reading::UnitRoot => false,
        Reading::Conflict | Reading::Silent => stage.unit_root.p_value < stage.stationarity.p_value,
    }
}

fn strength(stage: &Stage<'_>) -> Confidence {
    let doubtful = [stage.unit_root, stage.stationarity].iter().any(|test| {
        test.notes.iter().any(|note| matches!(note, Note::WideBandwidth | Note::OutsideSimulation))
    });
    agreement(stage).min(if doubtful { Confidence::Moderate } else { Confidence::High })
}

fn agreement(stage: &Stage<'_>) -> Confidence {
    let (against_root, against_stationarity) = (stage.unit_root.p_value, stage.stationarity.p_value);
    match stage.reading {
        Reading::Stationary if against_root <= 0.01 && against_stationarity > 0.10 => Confidence::High,
        Reading::UnitRoot if against_root > 0.10 && against_stationarity <= 0.01 => Confidence::High,
        Reading::Stationary | Reading::UnitRoot => Confidence::Moderate,
        Reading::Conflict | Reading::Silent => Confidence::Low,
    }
}
