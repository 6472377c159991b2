//! The deterministic terms that a verdict calls for.

use super::assess::Assessment;
use super::conclude::Class;
use crate::verdict::candidates::ModelClass;

/// Seasons with more places are left to seasonal orders.
pub const MOST_PLACES: usize = 60;

/// What the verdict calls fixed, and is included with a model as a regressor.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum FixedTerm {
    /// A linear trend.
    Trend,
    /// A level shift from this place on.
    Step(usize),
    /// A trend whose slope changes after this place.
    Bend(usize),
    /// The places of the season.
    Seasons,
    /// That number of harmonics of the season.
    Harmonics(usize),
    /// What they add from this place on, where the pattern changes.
    SeasonsFrom(usize),
}

impl Assessment {
    /// What is fixed with a model with that number of differences, the plain ones and the seasonal: a
    /// trend or a break where nothing is differenced, a repeated pattern where its season is not.
    pub fn fixed_terms(&self, [plain, seasonal]: [usize; 2], season: usize) -> Vec<FixedTerm> {
        let class = self.verdict.class;
        let mut all = Vec::new();
        if plain + seasonal == 0 && class == Class::TrendStationary {
            all.push(FixedTerm::Trend);
        }
        if let (Class::TrendBreak, 0, Some(place)) = (class, plain + seasonal, self.break_at) {
            let top = self.candidates.candidates.first().map(|top| top.model);
            let (step, bend) = (FixedTerm::Step(place + 1), FixedTerm::Bend(place));
            if let Some(model) = top.filter(|model| model.kind() == ModelClass::Broken) {
                all.extend(model.has_trend().then_some(FixedTerm::Trend));
                all.extend(model.has_step().then_some(step));
                all.extend(model.has_ramp().then_some(bend));
            }
        }
        let repeats = self.season.seasonality.is_fixed();
        if seasonal == 0 && repeats {
            all.extend(self.pattern(season));
        }
        all
    }

    /// The terms of a fixed pattern.
    fn pattern(&self, season: usize) -> Vec<FixedTerm> {
        let harmonics = self.season.posterior.as_ref().and_then(|posterior| posterior.harmonics);
        match harmonics {
            Some(harmonics) => vec![FixedTerm::Harmonics(harmonics)],
            None if !(2..=MOST_PLACES).contains(&season) => Vec::new(),
            None => std::iter::once(FixedTerm::Seasons)
                .chain(self.season.changed_at.map(FixedTerm::SeasonsFrom))
                .collect(),
        }
    }
}
