use schemars::JsonSchema;
use serde::Serialize;

use crate::nulldist::Terms;
use crate::unitroot::{Note, UnitRootTest};

/// Below this length confidence goes down one notch.
const SHORT: usize = 100;

/// The four readings of two tests with opposite nulls.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
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
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
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
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, JsonSchema, Serialize)]
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;
    use crate::unitroot::{AdfOptions, KpssOptions, adf, kpss};

    /// Both tests with these p-values; all else is of no account here.
    fn pair(root: f64, stationarity: f64) -> [UnitRootTest; 2] {
        let y = NormalStream::new(1, 0).take(60);
        let mut first = adf(&y, &AdfOptions::default()).expect("long enough");
        let mut second = kpss(&y, &KpssOptions::default()).expect("long enough");
        first.p_value = root;
        second.p_value = stationarity;
        first.notes.clear();
        second.notes.clear();
        [first, second]
    }

    fn verdict(stages: &[(f64, f64)], terms: Terms, season_left: bool, observations: usize) -> Verdict {
        let tests: Vec<[UnitRootTest; 2]> = stages.iter().map(|(a, b)| pair(*a, *b)).collect();
        let staged: Vec<Stage<'_>> = tests
            .iter()
            .map(|[unit_root, stationarity]| Stage {
                unit_root,
                stationarity,
                reading: Reading::of(unit_root, stationarity, 0.05),
            })
            .collect();
        conclude(&staged, terms, season_left, observations)
    }

    #[test]
    fn agreement_with_room_to_spare_is_high_confidence() {
        let level = verdict(&[(0.001, 0.5), (0.001, 0.5)], Terms::Constant, false, 200);
        assert_eq!((level.integration, level.class), (0, Class::Stationary));
        assert_eq!(level.confidence, Confidence::High);
        let trend = verdict(&[(0.001, 0.5), (0.001, 0.5)], Terms::Trend, false, 200);
        assert_eq!(trend.class, Class::TrendStationary);
        let once = verdict(&[(0.6, 0.001), (0.001, 0.5)], Terms::Trend, false, 200);
        assert_eq!((once.integration, once.class), (1, Class::DifferenceStationary));
        assert_eq!(once.confidence, Confidence::High);
        let twice = verdict(&[(0.9, 0.001), (0.6, 0.001), (0.001, 0.5)], Terms::Constant, false, 200);
        assert_eq!((twice.integration, twice.class), (2, Class::DifferenceStationary));
    }

    #[test]
    fn a_narrow_margin_a_short_series_or_a_doubt_costs_confidence() {
        let of = |stage: (f64, f64), n| verdict(&[stage, (0.001, 0.5)], Terms::Constant, false, n).confidence;
        assert_eq!(of((0.03, 0.5), 200), Confidence::Moderate);
        assert_eq!(of((0.001, 0.07), 200), Confidence::Moderate);
        assert_eq!(of((0.001, 0.5), 99), Confidence::Moderate);
        assert_eq!(of((0.03, 0.5), 99), Confidence::Low);
        let [unit_root, mut stationarity] = pair(0.001, 0.5);
        stationarity.notes.push(Note::WideBandwidth);
        let reading = Reading::of(&unit_root, &stationarity, 0.05);
        let stage = Stage { unit_root: &unit_root, stationarity: &stationarity, reading };
        assert_eq!(conclude(&[stage], Terms::Constant, false, 200).confidence, Confidence::Moderate);
    }

    #[test]
    fn contradiction_and_silence_settle_nothing() {
        // Both nulls rejected: the weaker rejection gives way.
        let conflict = verdict(&[(0.001, 0.04), (0.001, 0.5)], Terms::Constant, false, 200);
        assert_eq!((conflict.integration, conflict.class), (0, Class::Inconclusive));
        assert_eq!(conflict.confidence, Confidence::Low);
        let silence = verdict(&[(0.4, 0.06), (0.001, 0.5)], Terms::Constant, false, 200);
        assert_eq!((silence.integration, silence.class), (1, Class::Inconclusive));
    }

    #[test]
    fn a_season_left_in_stops_at_one_difference() {
        let stages = [(0.9, 0.001), (0.6, 0.07)];
        assert_eq!(verdict(&stages, Terms::Constant, true, 200).integration, 1);
        assert_eq!(verdict(&stages, Terms::Constant, true, 200).confidence, Confidence::Low);
        assert_eq!(verdict(&stages, Terms::Constant, false, 200).integration, 2);
    }
}
