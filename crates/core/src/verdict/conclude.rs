//! The conclusion from the candidate models, with its confidence.

use schemars::JsonSchema;
use serde::Serialize;

use super::joint::{JointPosterior, Seasonality};
use super::season::SeasonFinding;
use crate::verdict::candidates::{CandidateWeights, ModelClass};

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
    /// Stationary around a mean or a trend that breaks once.
    TrendBreak,
    /// Stationary with long memory.
    LongMemory,
    /// With unit roots at the frequencies of its season.
    SeasonalUnitRoot,
    /// The data do not settle it.
    Inconclusive,
}

/// How sure the verdict is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Confidence {
    /// More likely than not, at best.
    Low,
    /// Right in four of five such verdicts.
    Moderate,
    /// Right in nineteen of twenty.
    High,
}

impl Confidence {
    /// As it is written.
    pub fn word(self) -> &'static str {
        match self {
            Self::High => "high",
            Self::Moderate => "moderate",
            Self::Low => "low",
        }
    }
}

/// What lowers the confidence by one level.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Caveat {
    /// The unit-root test contradicts the model.
    TestContradicts,
    /// The innovations of the most probable model are autocorrelated.
    InnovationsCorrelated,
    /// Fewer than 100 observations.
    Short,
    /// Fewer than 50 observations.
    VeryShort,
    /// Long memory explains the series as well.
    LongMemory,
}

/// The verdict.
#[derive(Debug, Clone, PartialEq)]
pub struct Verdict {
    /// The most likely number of differences, 0 to 2, with a seasonal one.
    pub integration: usize,
    /// Seasonal differences; none without a season.
    pub seasonal_integration: Option<usize>,
    /// What kind of series.
    pub class: Class,
    /// The most probable class of models.
    pub kind: ModelClass,
    /// Its probability.
    pub probability: f64,
    /// Order of fractional integration, where long memory explains the series as well as the
    /// candidates do.
    pub fractional_d: Option<f64>,
    /// How sure.
    pub confidence: Confidence,
    /// What lowered it by one level.
    pub caveats: Vec<Caveat>,
}

/// Probabilities from which confidence is high, moderate, low.
const HIGH: f64 = 0.90;
const MODERATE: f64 = 0.75;
const LOW: f64 = 0.50;
/// Odds from which long memory is flagged, and from which it is the verdict.
const FLAGGED: f64 = 0.7;
const CLEARLY: f64 = 5.0;

/// The most probable class of models, and its probability: that of the differences, where these have a posterior of their
/// own, times that of the kind among those of as many differences.
pub(super) fn most_probable(
    candidates: &CandidateWeights,
    posterior: Option<&JointPosterior>,
) -> (ModelClass, f64) {
    let Some(best) = posterior.and_then(|one| one.orders.first()) else {
        let kind = candidates.kind();
        return (kind, candidates.probability(kind));
    };
    let of_order = ModelClass::ALL.into_iter().filter(|kind| kind.integration() == best.differences[0]);
    let weighed: Vec<(ModelClass, f64)> = of_order.map(|kind| (kind, candidates.probability(kind))).collect();
    let total: f64 = weighed.iter().map(|(_, probability)| probability).sum();
    let most = weighed.into_iter().rev().max_by(|a, b| a.1.total_cmp(&b.1));
    let (kind, probability) = most.unwrap_or((ModelClass::Stationary, 0.0));
    (kind, best.probability * if total > 0.0 { probability / total } else { 1.0 })
}

/// The verdict on the most probable kind, its confidence lowered by every caveat.
pub(super) fn conclude(
    candidates: &CandidateWeights,
    season: &SeasonFinding,
    mut caveats: Vec<Caveat>,
) -> Verdict {
    let memory = candidates.long_memory.filter(|memory| memory.odds >= FLAGGED);
    caveats.extend(memory.map(|_| Caveat::LongMemory));
    let (kind, probability) = most_probable(candidates, season.posterior.as_ref());
    let levels_lower = usize::from(probability < HIGH) + usize::from(probability < MODERATE) + caveats.len();
    // A break that a unit root would explain nearly as well is no ground to act on.
    let needed = if kind == ModelClass::Broken { MODERATE } else { LOW };
    let settled = probability >= needed && levels_lower <= 3;
    let confidence = match levels_lower {
        0 => Confidence::High,
        1 => Confidence::Moderate,
        _ => Confidence::Low,
    };
    // What has a unit root by its candidates is not called stationary with long memory.
    let has_root = matches!(kind, ModelClass::UnitRoot | ModelClass::TwoUnitRoots);
    let clearly = !has_root && memory.is_some_and(|memory| memory.odds >= CLEARLY);
    let class = match (settled, season.seasonality, kind) {
        (_, seasonality, _) if clearly && seasonality != Seasonality::UnitRoots => Class::LongMemory,
        (false, ..) => Class::Inconclusive,
        (_, Seasonality::UnitRoots, _) => Class::SeasonalUnitRoot,
        (_, _, ModelClass::Stationary) => Class::Stationary,
        (_, _, ModelClass::TrendStationary) => Class::TrendStationary,
        (_, _, ModelClass::UnitRoot | ModelClass::TwoUnitRoots) => Class::DifferenceStationary,
        (_, _, ModelClass::Broken) => Class::TrendBreak,
    };
    Verdict {
        integration: kind.integration(),
        seasonal_integration: match season.seasonality {
            Seasonality::None => None,
            Seasonality::Deterministic | Seasonality::ChangingPattern | Seasonality::Stationary => Some(0),
            Seasonality::UnitRoots => Some(1),
        },
        class,
        kind,
        probability,
        fractional_d: memory.map(|memory| memory.d),
        confidence: if settled { confidence } else { Confidence::Low },
        caveats,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::verdict::candidates::{CandidateModel, CandidateProbability, LongMemory};
    use crate::verdict::joint::OrdersProbability;

    fn season(seasonality: Seasonality) -> SeasonFinding {
        SeasonFinding {
            season: 12,
            seasonality,
            coefficient: None,
            changed_at: None,
            posterior: None,
            roots: None,
        }
    }

    fn candidates(walk: f64, mean: f64) -> CandidateWeights {
        let one = |model, probability| CandidateProbability { model, probability, before: None };
        let rest = 1.0 - walk - mean;
        CandidateWeights {
            candidates: vec![
                one(CandidateModel::RandomWalk, walk),
                one(CandidateModel::Mean, mean),
                one(CandidateModel::TrendWithSlopeBreak, rest),
            ],
            roots: Vec::new(),
            innovations: Vec::new(),
            long_memory: None,
            cycle: None,
        }
    }

    #[test]
    fn probability_makes_the_confidence_and_doubts_take_notches_off() {
        let of = |p: f64, caveats: &[Caveat]| {
            let verdict =
                conclude(&candidates(p, 1.0 - p - 0.01), &season(Seasonality::None), caveats.to_vec());
            (verdict.class, verdict.confidence)
        };
        let walk = Class::DifferenceStationary;
        assert_eq!(of(0.95, &[]), (walk, Confidence::High));
        assert_eq!(of(0.80, &[]), (walk, Confidence::Moderate));
        assert_eq!(of(0.60, &[]), (walk, Confidence::Low));
        assert_eq!(of(0.95, &[Caveat::TestContradicts]), (walk, Confidence::Moderate));
        assert_eq!(of(0.80, &[Caveat::Short, Caveat::TestContradicts]), (walk, Confidence::Low));
        assert_eq!(of(0.60, &[Caveat::Short, Caveat::TestContradicts]).0, Class::Inconclusive);
        let open = conclude(&candidates(0.45, 0.30), &season(Seasonality::None), Vec::new());
        let with_memory = |odds: f64| {
            let long_memory = Some(LongMemory { odds, d: 0.3, sd: 0.05 });
            let verdict = conclude(
                &CandidateWeights { long_memory, ..candidates(0.02, 0.97) },
                &season(Seasonality::None),
                Vec::new(),
            );
            (verdict.class, verdict.confidence, verdict.fractional_d)
        };
        assert_eq!(with_memory(0.5), (Class::Stationary, Confidence::High, None));
        assert_eq!(with_memory(1.0), (Class::Stationary, Confidence::Moderate, Some(0.3)));
        assert_eq!(with_memory(4.0).0, Class::Stationary);
        assert_eq!(with_memory(30.0).0, Class::LongMemory);
        let long_memory = Some(LongMemory { odds: 30.0, d: 0.3, sd: 0.05 });
        let walk = CandidateWeights { long_memory, ..candidates(0.97, 0.02) };
        assert_eq!(
            conclude(&walk, &season(Seasonality::None), Vec::new()).class,
            Class::DifferenceStationary
        );
        assert_eq!((open.class, open.confidence), (Class::Inconclusive, Confidence::Low));
    }

    #[test]
    fn a_seasonal_difference_makes_the_class() {
        let verdict = conclude(&candidates(0.95, 0.04), &season(Seasonality::UnitRoots), Vec::new());
        assert_eq!((verdict.class, verdict.integration), (Class::SeasonalUnitRoot, 1));
        assert_eq!(verdict.seasonal_integration, Some(1));
        let level = conclude(&candidates(0.02, 0.97), &season(Seasonality::Deterministic), Vec::new());
        assert_eq!((level.class, level.integration), (Class::Stationary, 0));
        assert_eq!(level.seasonal_integration, Some(0));
    }

    #[test]
    fn the_posterior_of_the_differences_decides_and_the_candidates_only_the_kind() {
        let orders = |differences, probability| OrdersProbability { differences, probability };
        let posterior = JointPosterior {
            harmonics: None,
            orders: vec![orders([0, 0], 0.9), orders([1, 0], 0.1)],
            seasonality: vec![(Seasonality::Deterministic, 1.0)],
            slope: Some(0.5),
            breaks: Vec::new(),
            seasonal_coefficient: 0.0,
        };
        let finding = SeasonFinding { posterior: Some(posterior), ..season(Seasonality::Deterministic) };
        let verdict = conclude(&candidates(0.6, 0.3), &finding, Vec::new());
        assert_eq!((verdict.kind, verdict.integration), (ModelClass::Stationary, 0));
        // Of what is not a unit root the mean has three quarters: 0.9 times 0.3 / 0.4.
        assert!((verdict.probability - 0.9 * 0.75).abs() < 1e-12, "{}", verdict.probability);
    }
}
