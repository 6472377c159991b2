//! The whole argument: season, candidate models, supporting tests, conclusion.

use schemars::JsonSchema;
use serde::Serialize;

use super::conclude::{Caveat, Verdict, conclude, most_probable};
use super::joint::Seasonality;
use super::season::SeasonFinding;
use crate::corr::{AcfOptions, acf};
use crate::lag::{Criterion, LagRule};
use crate::nulldist::Terms;
use crate::num::scale;
use crate::ols::Bandwidth;
use crate::unitroot::{AdfOptions, Kernel, KpssOptions, Note, UnitRootError, UnitRootTest, adf, kpss};
use crate::unitroot::{TermsChoice, adf_with_terms_by_data};
use crate::verdict::candidates::{CandidateWeights, ModelClass, weigh_candidates};

/// A longer season's moving average would make the filters dear.
const LONGEST_SEASONAL_FILTER: usize = 24;
/// Below that number of observations confidence is one level lower.
const SHORT: usize = 100;
/// Below this number two levels lower.
const VERY_SHORT: usize = 50;
/// Level at which a test contradicts.
const LEVEL: f64 = 0.05;
/// Innovations with a smaller p-value are correlated.
const CORRELATED: f64 = 0.01;

/// How the deterministic terms of the level are found.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TermsRule {
    /// By [`adf_with_terms_by_data`].
    Auto,
    /// As given.
    Given(Terms),
}

/// Options of an assessment.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AssessOptions {
    /// Terms at the level.
    pub terms: TermsRule,
    /// Lags of the unit-root test.
    pub lags: LagRule,
    /// The most lags a search may take.
    pub max_lags: Option<usize>,
    /// Bandwidth of the stationarity test.
    pub bandwidth: Bandwidth,
    /// Its weights.
    pub kernel: Kernel,
    /// Level of every decision.
    pub alpha: f64,
    /// Observations in a season; 1 for none.
    pub season: usize,
}

impl Default for AssessOptions {
    fn default() -> Self {
        Self {
            terms: TermsRule::Auto,
            lags: LagRule::Criterion(Criterion::Aic),
            max_lags: None,
            bandwidth: Bandwidth::Automatic,
            kernel: Kernel::Bartlett,
            alpha: 0.05,
            season: 1,
        }
    }
}

/// What tests of opposite nulls say together.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Reading {
    /// The unit root is rejected, stationarity is not.
    Stationary,
    /// Stationarity is rejected, the unit root is not.
    UnitRoot,
    /// Both nulls are rejected.
    Conflict,
    /// Neither null is rejected.
    Silent,
    /// One of the two has no p-value.
    Undecided,
    /// The bandwidth of the test of stationarity leaves it too little power to count.
    WideBandwidth,
}

impl Reading {
    /// Of a test of a unit root and one of stationarity at level `alpha`.
    pub fn of(unit_root: &UnitRootTest, stationarity: &UnitRootTest, alpha: f64) -> Self {
        if stationarity.notes.contains(&Note::WideBandwidth) {
            return Self::WideBandwidth;
        }
        match (unit_root.decision(alpha), stationarity.decision(alpha)) {
            (None, _) | (_, None) => Self::Undecided,
            (Some(true), Some(false)) => Self::Stationary,
            (Some(false), Some(true)) => Self::UnitRoot,
            (Some(true), Some(true)) => Self::Conflict,
            (Some(false), Some(false)) => Self::Silent,
        }
    }
}

/// Both tests at one number of differences.
#[derive(Debug, Clone, PartialEq)]
pub struct DifferenceTests {
    /// How often the series was differenced.
    pub differenced: usize,
    /// Test of a unit root.
    pub unit_root: UnitRootTest,
    /// Test of stationarity.
    pub stationarity: UnitRootTest,
    /// The two read together.
    pub reading: Reading,
}

/// Models, tests at the level and at differences, and what follows.
#[derive(Debug, Clone, PartialEq)]
pub struct Assessment {
    /// Length of the series.
    pub observations: usize,
    /// Its season and how it was taken out.
    pub season: SeasonFinding,
    /// The series that was assessed: without its season.
    pub judged: Vec<f64>,
    /// The candidates of it.
    pub candidates: CandidateWeights,
    /// How the terms were chosen; `None` if they were given.
    pub terms_choice: Option<TermsChoice>,
    /// Of the judged series, from the level up: the level, the first and the second difference.
    pub stages: Vec<DifferenceTests>,
    /// p-value of no autocorrelation in the innovations of the most probable model.
    pub innovations_p_value: Option<f64>,
    /// Place, in the series as it is, of the last observation before the break of the most
    /// probable class of models.
    pub break_at: Option<usize>,
    /// Where the largest root lies in nine cases of ten.
    pub largest_root: (f64, f64),
    /// What follows.
    pub verdict: Verdict,
}

/// Takes the season out, weighs the candidates of what is left, tests it at its level and at
/// differences, and concludes.
///
/// The verdict is the most probable class of models. Its probability is the confidence, one
/// level lower where the unit-root test contradicts it at 5 %, where the innovations of the
/// most probable model are autocorrelated, and for fewer than 100 observations.
///
/// A trend in the level is a constant in its differences, and a constant there is needed
/// wherever the level may have a trend; so differences are tested with a constant (with
/// nothing, if the level was). The stationarity test always has a constant.
///
/// # Input
/// `y` in order of time, without gaps, at least 20 values.
///
/// # Errors
/// [`UnitRootError`] from the level or the first difference; a second difference that cannot
/// be tested is left out.
pub fn assess(y: &[f64], options: &AssessOptions) -> Result<Assessment, UnitRootError> {
    let season = SeasonFinding::of(y, options.season);
    let judged = season.adjusted(y);
    scale::check(y)?;
    // Nothing but a pattern: what is left of it is rounding.
    if season.seasonality.is_fixed() && is_rounding(&judged, y) {
        return Err(UnitRootError::Deterministic);
    }
    let (terms_choice, level) = match options.terms {
        TermsRule::Auto => {
            let by_data = adf_with_terms_by_data(&judged, options.lags, options.max_lags)?;
            (Some(by_data.choice), by_data.test)
        }
        TermsRule::Given(terms) => (None, unit_root_test(&judged, terms, options)?),
    };
    let filtered = season.season <= LONGEST_SEASONAL_FILTER && season.seasonality == Seasonality::UnitRoots;
    let mut candidates =
        weigh_candidates(&judged, filtered.then_some(season.season)).ok_or(UnitRootError::Deterministic)?;
    // One posterior of the differences: that which knows the seasonality.
    if let Some(posterior) = &season.posterior {
        candidates.with_differences(posterior.by_differences());
    }
    let terms = level.terms;
    let first = difference(&judged);
    let mut stages = vec![
        beside_stationarity(&judged, 0, level, options)?,
        both_tests(&first, 1, in_differences(terms), options)?,
    ];
    stages.extend(both_tests(&difference(&first), 2, in_differences(terms), options));
    let (kind, _) = most_probable(&candidates, season.posterior.as_ref());
    let innovations_p_value = no_autocorrelation(&candidates.innovations, season.season);
    let caveats = caveats(kind, &stages, innovations_p_value, y.len());
    let before = candidates.best_of(kind).and_then(|model| model.before);
    Ok(Assessment {
        observations: y.len(),
        break_at: before.map(|before| before + season.lost() - 1),
        largest_root: candidates.largest_root(0.9),
        verdict: conclude(&candidates, &season, caveats),
        season,
        judged,
        candidates,
        terms_choice,
        stages,
        innovations_p_value,
    })
}

fn caveats(
    kind: ModelClass,
    stages: &[DifferenceTests],
    innovations: Option<f64>,
    observations: usize,
) -> Vec<Caveat> {
    let rejects = |place: usize| stages.get(place).and_then(|stage| stage.unit_root.decision(LEVEL));
    let contradicts = match kind {
        ModelClass::Stationary | ModelClass::TrendStationary => rejects(0) == Some(false),
        ModelClass::UnitRoot => rejects(0) == Some(true) || rejects(1) == Some(false),
        ModelClass::TwoUnitRoots => rejects(1) == Some(true),
        // No test here allows for a break.
        ModelClass::Broken => false,
    };
    let correlated = innovations.is_some_and(|p| p < CORRELATED);
    [
        contradicts.then_some(Caveat::TestContradicts),
        correlated.then_some(Caveat::InnovationsCorrelated),
        (observations < SHORT).then_some(Caveat::Short),
        (observations < VERY_SHORT).then_some(Caveat::VeryShort),
    ]
    .into_iter()
    .flatten()
    .collect()
}

/// Ljung-Box at ten lags, two seasons, or a fifth of the values.
fn no_autocorrelation(e: &[f64], season: usize) -> Option<f64> {
    let lags = if season > 1 { 2 * season } else { 10 }.min(e.len() / 5);
    let options = AcfOptions { lags: Some(lags), fitted: 3, ..AcfOptions::default() };
    acf(e, &options).ok()?.lags.last()?.p_value
}

/// Whether what is left varies by no more than rounding of what there was.
fn is_rounding(left: &[f64], y: &[f64]) -> bool {
    let spread = |x: &[f64]| {
        let mean = scale::mean(x);
        x.iter().fold(0.0, |most: f64, v| most.max((v - mean).abs()))
    };
    spread(left) <= 1e-12 * spread(y).max(scale::largest(y) * 1e-3)
}

fn difference(y: &[f64]) -> Vec<f64> {
    y.windows(2).map(|pair| pair[1] - pair[0]).collect()
}

fn in_differences(terms: Terms) -> Terms {
    match terms {
        Terms::None => Terms::None,
        Terms::Constant | Terms::Trend => Terms::Constant,
    }
}

fn unit_root_test(y: &[f64], terms: Terms, options: &AssessOptions) -> Result<UnitRootTest, UnitRootError> {
    adf(y, &AdfOptions { terms, lags: options.lags, max_lags: options.max_lags })
}

fn both_tests(
    y: &[f64],
    differenced: usize,
    terms: Terms,
    options: &AssessOptions,
) -> Result<DifferenceTests, UnitRootError> {
    beside_stationarity(y, differenced, unit_root_test(y, terms, options)?, options)
}

/// Sets the test of stationarity against a unit-root test, around the same terms.
fn beside_stationarity(
    y: &[f64],
    differenced: usize,
    unit_root: UnitRootTest,
    options: &AssessOptions,
) -> Result<DifferenceTests, UnitRootError> {
    let around = if unit_root.terms == Terms::Trend { Terms::Trend } else { Terms::Constant };
    let stationarity =
        kpss(y, &KpssOptions { terms: around, bandwidth: options.bandwidth, kernel: options.kernel })?;
    let reading = Reading::of(&unit_root, &stationarity, options.alpha);
    Ok(DifferenceTests { differenced, unit_root, stationarity, reading })
}
