//! A decomposed series: the contract's result, its sentences, its figures.

mod picture;
mod sentence;
mod text;

use kandrel_core::decomp::{Decomposition, DecompositionKind, PlacePattern, Strength, Windows, pattern};
use kandrel_core::series::{SeriesWithGaps, season_places};
use kandrel_core::time::Period;
use schemars::JsonSchema;
use serde::Serialize;

pub use picture::{parts_plot, seasons_plot};
pub use text::{data, document};

use crate::present::diagnosis::DiagnosisResult;
use crate::present::sample::Sample;
use crate::wording;

/// How the parts were found.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Way {
    Loess { robust: bool },
    Classical,
}

/// The contract's result of `decompose`.
#[derive(JsonSchema, Serialize)]
pub struct DecomposeResult {
    pub series: String,
    pub method: MethodName,
    pub kind: DecompositionKind,
    /// Where the kind is from; none for the usual one.
    pub kind_from: Option<Rule>,
    /// Where the seasonal window is from.
    pub seasonal_window_from: Rule,
    /// Whether outliers lost their weight.
    pub robust: bool,
    /// Observations in a season, in the longest of several.
    pub period: usize,
    pub first: String,
    pub last: String,
    pub observations: usize,
    /// Gaps that were kept.
    pub missing: usize,
    /// Of each season; empty by the classical method.
    pub windows: Vec<Windows>,
    pub strength: Strength,
    pub patterns: Vec<PatternResult>,
    pub components: Vec<Component>,
    /// The observations that were used.
    pub sample: Sample,
    /// The joint assessment; none of a series that cannot be assessed.
    pub diagnosis: Option<DiagnosisResult>,
}

/// How the parts were found.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum MethodName {
    Loess,
    Classical,
}

/// Where a choice is from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Rule {
    /// It was typed.
    Option,
    /// The joint assessment.
    Assessment,
    /// Cross-validation.
    CrossValidation,
}

/// Where kind and seasonal window are from.
#[derive(Debug, Clone, Copy)]
pub struct Rules {
    pub kind: Option<Rule>,
    pub window: Rule,
}

/// The joint assessment on the scale of a decomposition: of a product that of the logarithms.
pub fn of_kind(found: &DiagnosisResult, kind: DecompositionKind) -> &DiagnosisResult {
    match (kind, found.transformed.as_deref()) {
        (DecompositionKind::Multiplicative, Some(own)) if found.is_proportional() => own,
        _ => found,
    }
}

impl DecomposeResult {
    /// Takes over what the joint assessment decides: whether there is seasonality of the period that it looked at.
    pub fn take_over(&mut self, diagnosis: Option<DiagnosisResult>, rules: Rules) {
        (self.kind_from, self.seasonal_window_from) = (rules.kind, rules.window);
        if let Some(found) = &diagnosis {
            let (own, kind) = (found.season, self.kind);
            let patterns = self.patterns.iter_mut().filter(|pattern| pattern.season == own);
            patterns.for_each(|pattern| pattern.seasonality_detected = of_kind(found, kind).is_seasonal());
        }
        self.diagnosis = diagnosis;
    }

    /// The joint assessment on the scale of this decomposition.
    pub fn own_diagnosis(&self) -> Option<&DiagnosisResult> {
        self.diagnosis.as_ref().map(|found| of_kind(found, self.kind))
    }
}

/// A season by its places: sums or factors, as the kind says.
#[derive(JsonSchema, Serialize)]
pub struct PatternResult {
    pub season: usize,
    /// Whether it improves cross-validated predictions significantly.
    pub seasonality_detected: bool,
    /// Place of the highest mean.
    pub highest: String,
    /// Place of the lowest mean.
    pub lowest: String,
    /// Root mean square change from the first season to the last, as a share of the size of the
    /// mean pattern.
    pub change: f64,
    /// Highest less lowest of the first season.
    pub first_amplitude: f64,
    /// Of the last.
    pub last_amplitude: f64,
    pub positions: Vec<PositionResult>,
}

/// One place of the season.
#[derive(JsonSchema, Serialize)]
pub struct PositionResult {
    pub position: String,
    pub mean: f64,
    pub first: f64,
    pub last: f64,
}

/// One period.
#[derive(JsonSchema, Serialize)]
pub struct Component {
    pub period: String,
    /// None for a gap that is kept.
    pub value: Option<f64>,
    /// None where the classical method has none.
    pub trend: Option<f64>,
    /// All seasons together.
    pub seasonal: f64,
    /// Each season, where there are several.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schemars(default)]
    pub seasons: Vec<f64>,
    pub irregular: Option<f64>,
    /// The value without its seasons.
    pub seasonally_adjusted: Option<f64>,
}

/// Puts a result together.
pub fn result(
    series: &SeriesWithGaps,
    found: &Decomposition,
    way: Way,
    seasons: &[usize],
) -> DecomposeResult {
    let count = series.cells.len();
    let observations = series.cells.iter().flatten().count();
    let periods: Vec<Period> = (0..count).map(|t| series.period(t)).collect();
    let last = series.period(count.saturating_sub(1));
    let missing = count - observations;
    let (method, robust) = match way {
        Way::Loess { robust } => (MethodName::Loess, robust),
        Way::Classical => (MethodName::Classical, false),
    };
    DecomposeResult {
        series: series.name.clone(),
        method,
        kind: found.kind,
        kind_from: None,
        seasonal_window_from: Rule::CrossValidation,
        robust,
        period: seasons.iter().copied().max().unwrap_or(1),
        first: series.start.to_string(),
        last: last.to_string(),
        observations,
        missing,
        windows: found.windows.clone(),
        strength: found.strength.clone(),
        patterns: seasons
            .iter()
            .zip(&found.seasons)
            .zip(&found.evident)
            .map(|((season, values), evident)| pattern_of(series, &periods, *season, values, *evident))
            .collect(),
        components: components(series, &periods, found),
        sample: Sample::with_gaps(series),
        diagnosis: None,
    }
}

fn components(series: &SeriesWithGaps, periods: &[Period], found: &Decomposition) -> Vec<Component> {
    let together = found.season();
    let adjusted = found.adjusted(&series.cells);
    let several = found.seasons.len() > 1;
    let one = |(t, period): (usize, &Period)| Component {
        period: period.to_string(),
        value: series.cells[t],
        trend: found.trend[t],
        seasonal: together[t],
        seasons: if several { found.seasons.iter().map(|season| season[t]).collect() } else { Vec::new() },
        irregular: found.remainder[t],
        seasonally_adjusted: adjusted[t],
    };
    periods.iter().enumerate().map(one).collect()
}

fn pattern_of(
    series: &SeriesWithGaps,
    periods: &[Period],
    season: usize,
    values: &[f64],
    evident: bool,
) -> PatternResult {
    let places = season_places(periods, season);
    let found = pattern(values, &places);
    let frequency = series.start.frequency();
    let names = wording::season_names(frequency, season);
    // Places that the calendar has no name for are named by the last period there.
    let name = |place: usize| {
        let dated = || places.iter().rposition(|own| own.place == place).map(|t| periods[t].to_string());
        let own = names.get(place).cloned().unwrap_or_else(|| (place + 1).to_string());
        if season == frequency.season() { own } else { dated().unwrap_or(own) }
    };
    let by_mean = |a: &&PlacePattern, b: &&PlacePattern| a.mean.total_cmp(&b.mean);
    let end = |place: Option<&PlacePattern>| place.map_or(String::new(), |place| name(place.place));
    PatternResult {
        season,
        seasonality_detected: evident,
        highest: end(found.places.iter().max_by(by_mean)),
        lowest: end(found.places.iter().min_by(by_mean)),
        change: found.change,
        first_amplitude: found.first_amplitude,
        last_amplitude: found.last_amplitude,
        positions: found
            .places
            .iter()
            .map(|place| PositionResult {
                position: name(place.place),
                mean: place.mean,
                first: place.first,
                last: place.last,
            })
            .collect(),
    }
}
