//! The treatments of a series that its diagnosis leaves open: differences with their deterministic terms.

use crate::diagnosis::Diagnosis;
use crate::verdict::{Confidence, FixedTerm, MOST_PLACES};

/// Treatments that are tried, at most.
const MOST: usize = 3;
/// A rival has at least this probability.
const LEAST_PROBABILITY: f64 = 0.1;

/// Ordinary and seasonal differences with their deterministic terms.
#[derive(Debug, Clone, PartialEq)]
pub struct Treatment {
    /// d and D.
    pub differences: [usize; 2],
    /// With the models.
    pub terms: Vec<FixedTerm>,
    /// Of these differences.
    pub probability: f64,
}

/// The verdict's treatment, then its rivals from the most probable down: below high confidence all differences with a
/// tenth of the probability, and seasonal unit roots wherever the models include a deterministic pattern.
pub fn treatments(diagnosis: &Diagnosis, season: usize) -> Vec<Treatment> {
    let own = diagnosis.chosen_differences();
    let of = |differences: [usize; 2]| Treatment {
        differences,
        terms: terms(diagnosis, differences, season),
        probability: probability(diagnosis, differences),
    };
    let mut all = vec![of(own)];
    if diagnosis.assessment.verdict.confidence != Confidence::High {
        let open = diagnosis.differences.iter().filter(|one| one.probability >= LEAST_PROBABILITY);
        all.extend(open.map(|one| one.differences).filter(|one| *one != own).map(of));
    }
    all.truncate(MOST);
    let fixed = all.iter().any(|one| one.terms.contains(&FixedTerm::Seasons));
    if fixed && all.iter().all(|one| one.differences != EVOLVING) {
        all.push(of(EVOLVING));
    }
    all
}

/// Differences under which level and pattern both evolve.
const EVOLVING: [usize; 2] = [1, 1];

fn probability(diagnosis: &Diagnosis, differences: [usize; 2]) -> f64 {
    let own = diagnosis.differences.iter().find(|one| one.differences == differences);
    own.map_or(0.0, |one| one.probability)
}

/// The deterministic terms and regressors of the models: what the verdict calls fixed; with a rival with fewer differences than the verdict
/// also what these would have taken out.
fn terms(diagnosis: &Diagnosis, differences: [usize; 2], season: usize) -> Vec<FixedTerm> {
    let mut all = diagnosis.assessment.fixed_terms(differences, season);
    let own = diagnosis.chosen_differences();
    if differences == [0, 0]
        && own != differences
        && diagnosis.has_drift()
        && !all.contains(&FixedTerm::Trend)
    {
        all.insert(0, FixedTerm::Trend);
    }
    let has_places = (2..=MOST_PLACES).contains(&season);
    if differences[1] == 0 && own[1] > 0 && has_places && !all.contains(&FixedTerm::Seasons) {
        all.push(FixedTerm::Seasons);
    }
    all
}
