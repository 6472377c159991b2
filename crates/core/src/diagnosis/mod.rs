//! The diagnosis of a series: everything that is decided about it, once for a series and a sample.

mod deterministic;

pub use deterministic::{DeterministicPart, DeterministicProbability};

use crate::num::scale;
use crate::series::{Fill, Series, SeriesWithGaps, fill};
use crate::shape::{AdvisedTransformation, Transformation, advised_transformation};
use crate::unitroot::UnitRootError;
use crate::verdict::candidates::Cycle;
use crate::verdict::{AssessOptions, Assessment, OrdersProbability, Seasonality, assess};

/// Innovations beyond this many robust standard deviations are outliers.
const OUTLYING: f64 = 4.5;
/// Where more than this share is outlying, the variance changes or the tails are heavy: none of them is an outlier.
const MOST_OUTLYING: f64 = 0.05;
/// The median absolute deviation of a standard normal distribution.
const MEDIAN_DEVIATION: f64 = 0.674_489_750_196_082;
/// A cycle is reported from this probability.
const CYCLE: f64 = 0.5;
/// A period this near to the seasonal one is seasonality, not a cycle of its own.
const NEAR_SEASON: f64 = 0.15;

/// Everything that is decided about a series.
///
/// # Units
/// Places count from 0 in the series that was diagnosed; probabilities are posterior ones.
#[derive(Debug, Clone, PartialEq)]
pub struct Diagnosis {
    /// Length, filled gaps included.
    pub observations: usize,
    /// Gaps that were filled for the diagnosis alone.
    pub filled: usize,
    /// The seasonal period it was asked about; 1 for none.
    pub season: usize,
    /// Whether the variance depends on the level, and what stabilises it. The rest is of the series as it is.
    pub transformation: AdvisedTransformation,
    /// The diagnosis of the transformed series, where a transformation is advised.
    pub transformed: Option<Box<Diagnosis>>,
    /// Candidate models, joint posterior, tests and verdict.
    pub assessment: Assessment,
    /// Ordinary and seasonal differences, from the most probable down.
    pub differences: Vec<OrdersProbability>,
    /// The deterministic part given the most probable d, that of the verdict first.
    pub deterministic: Vec<DeterministicProbability>,
    /// A cycle that is no seasonality, where it is more probable than not.
    pub cycle: Option<Cycle>,
    /// Places of outlying innovations under the most probable model.
    pub outliers: Vec<usize>,
}

impl Diagnosis {
    /// Of a series at its default options; gaps are filled for it, and for it alone.
    ///
    /// # Errors
    /// [`UnitRootError`] where there is no verdict.
    pub fn of(series: &SeriesWithGaps, season: usize) -> Result<Self, UnitRootError> {
        let whole = filled(series, season);
        let options = AssessOptions { season, ..AssessOptions::default() };
        let assessment = assess(&whole.values, &options)?;
        let filled = series.cells.iter().filter(|cell| cell.is_none()).count();
        Ok(Self { filled, ..Self::from_assessment(&whole.values, season, assessment) })
    }

    /// What else follows from an assessment of these values; where a transformation is advised, the transformed ones are
    /// diagnosed too.
    pub fn from_assessment(y: &[f64], season: usize, assessment: Assessment) -> Self {
        let mut own = Self::of_scale(y, season, assessment);
        let transformation = own.transformation.transformation;
        if transformation != Transformation::None {
            let x = transformation.apply(y);
            let assessment = assess(&x, &AssessOptions { season, ..AssessOptions::default() });
            own.transformed = assessment.ok().map(|found| Box::new(Self::of_scale(&x, season, found)));
        }
        own
    }

    fn of_scale(y: &[f64], season: usize, assessment: Assessment) -> Self {
        Self {
            observations: y.len(),
            filled: 0,
            season: season.max(1),
            transformation: advised_transformation(y, season),
            transformed: None,
            differences: differences(&assessment),
            deterministic: deterministic::parts(&assessment),
            cycle: cycle(&assessment),
            outliers: outliers(&assessment),
            assessment,
        }
    }

    /// d and D of the verdict.
    pub fn chosen_differences(&self) -> [usize; 2] {
        let verdict = &self.assessment.verdict;
        [verdict.integration, verdict.seasonal_integration.unwrap_or(0)]
    }

    /// Whether the differences of the verdict have a mean, more probably than not.
    pub fn has_drift(&self) -> bool {
        let drifts = |one: &&DeterministicProbability| {
            !matches!(
                one.part,
                DeterministicPart::None | DeterministicPart::Mean | DeterministicPart::LevelShift
            )
        };
        self.deterministic.iter().filter(drifts).map(|one| one.probability).sum::<f64>() > 0.5
    }

    /// The most probable differences other than those of the verdict.
    pub fn runner_up(&self) -> Option<OrdersProbability> {
        let own = self.chosen_differences();
        self.differences.iter().find(|one| one.differences != own).copied()
    }
}

/// A series with its gaps filled: by the line between their neighbours, added to the means of the seasonal positions.
pub fn filled(series: &SeriesWithGaps, season: usize) -> Series {
    Series {
        name: series.name.clone(),
        start: series.start,
        values: fill(&series.cells, Fill::Seasonal, season).cells.into_iter().flatten().collect(),
        dates: series.dates.clone(),
        lost: series.lost,
    }
}

/// The joint posterior of the differences; without a seasonal period that of the candidate models.
fn differences(assessment: &Assessment) -> Vec<OrdersProbability> {
    if let Some(posterior) = &assessment.season.posterior {
        return posterior.orders.clone();
    }
    let of = |d: usize| {
        let own = assessment.candidates.candidates.iter().filter(|one| one.model.kind().integration() == d);
        OrdersProbability { differences: [d, 0], probability: own.map(|one| one.probability).sum() }
    };
    let mut all: Vec<OrdersProbability> = (0..=2).map(of).collect();
    all.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    all
}

fn cycle(assessment: &Assessment) -> Option<Cycle> {
    let season = &assessment.season;
    let is_seasonal = |period: f64| {
        let length = season.season as f64;
        season.seasonality != Seasonality::None && (period / length - 1.0).abs() < NEAR_SEASON
    };
    assessment.candidates.cycle.filter(|one| one.probability > CYCLE && !is_seasonal(one.period))
}

fn outliers(assessment: &Assessment) -> Vec<usize> {
    let e = &assessment.candidates.innovations;
    let size = scale::median(&e.iter().map(|value| value.abs()).collect::<Vec<_>>()) / MEDIAN_DEVIATION;
    let lost = assessment.observations.saturating_sub(e.len());
    let outlying = e.iter().enumerate().filter(|(_, value)| value.abs() > OUTLYING * size && size > 0.0);
    let places: Vec<usize> = outlying.map(|(place, _)| place + lost).collect();
    if places.len() as f64 > MOST_OUTLYING * e.len() as f64 { Vec::new() } else { places }
}

#[cfg(test)]
mod tests;
