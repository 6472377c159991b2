use super::argument::{Reading, Stage, Verdict, conclude, leans_stationary};
use crate::corr::{self, AcfOptions, Finding};
use crate::lag::{Criterion, LagRule};
use crate::nulldist::Terms;
use crate::ols::Bandwidth;
use crate::unitroot::terms::{TermsChoice, adf_with_terms_by_data};
use crate::unitroot::{AdfOptions, KpssOptions, UnitRootError, UnitRootTest, adf, kpss};

/// A series is never differenced more often than this.
const MOST_DIFFERENCES: usize = 2;

/// How the deterministic terms of the level are found.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TermsRule {
    /// By [`adf_with_terms_by_data`].
    Auto,
    /// As given.
    Given(Terms),
}

/// What an assessment is told.
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
            alpha: 0.05,
            season: 1,
        }
    }
}

/// A season that differencing once does not take out.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SeasonLeft {
    /// Observations in the season.
    pub season: usize,
    /// Autocorrelation of the first difference one season apart.
    pub acf: f64,
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

/// Tests at the level and at differences, and what follows.
#[derive(Debug, Clone, PartialEq)]
pub struct Assessment {
    /// Length of the series.
    pub observations: usize,
    /// How the terms were chosen; `None` if they were given.
    pub terms_choice: Option<TermsChoice>,
    /// From the level up: the level, the first difference, and the second if
    /// the first is not yet stationary.
    pub stages: Vec<DifferenceTests>,
    /// A season that stays in the first difference; the tests do not allow for
    /// one.
    pub season_left: Option<SeasonLeft>,
    /// What follows.
    pub verdict: Verdict,
}

/// Tests a series at its level and at its differences and concludes.
///
/// A trend in the level is a constant in its differences, and a constant there
/// is needed wherever the level may have a trend; so differences are tested
/// with a constant (with nothing, if the level was). The stationarity test
/// always has a constant.
///
/// A series with a lasting season is not differenced a second time on the word
/// of these tests: what they see in its first difference is the season, which a
/// seasonal difference takes out.
///
/// # Input
/// `y` in order of time, without gaps, at least 16 values.
///
/// # Errors
/// [`UnitRootError`] from the level or the first difference; a second
/// difference that cannot be tested is left out.
pub fn assess(y: &[f64], options: &AssessOptions) -> Result<Assessment, UnitRootError> {
    let (terms_choice, level) = match options.terms {
        TermsRule::Auto => {
            let by_data = adf_with_terms_by_data(y, options.lags, options.max_lags)?;
            (Some(by_data.choice), by_data.test)
        }
        TermsRule::Given(terms) => (None, unit_root_test(y, terms, options)?),
    };
    let terms = level.terms;
    let first = difference(y);
    let mut stages = vec![
        beside_stationarity(y, 0, level, options)?,
        both_tests(&first, 1, in_differences(terms), options)?,
    ];
    let season_left = lasting_season(&first, options.season);
    if season_left.is_none() && !stages.iter().any(|stage| leans_stationary(&as_stage(stage))) {
        let second = difference(&first);
        stages.extend(both_tests(&second, MOST_DIFFERENCES, in_differences(terms), options));
    }
    let weighed: Vec<Stage<'_>> = stages.iter().map(as_stage).collect();
    let verdict = conclude(&weighed, terms, season_left.is_some(), y.len());
    Ok(Assessment { observations: y.len(), terms_choice, stages, season_left, verdict })
}

fn as_stage(tests: &DifferenceTests) -> Stage<'_> {
    Stage { unit_root: &tests.unit_root, stationarity: &tests.stationarity, reading: tests.reading }
}

/// The season of the autocorrelation, if it hardly fades from one year to the
/// next.
fn lasting_season(y: &[f64], season: usize) -> Option<SeasonLeft> {
    let options = AcfOptions { lags: Some(2 * season + 1), season, ..AcfOptions::default() };
    let acf = corr::acf(y, &options).ok().filter(|_| season > 1)?;
    corr::read(&acf, season).into_iter().find_map(|finding| match finding {
        Finding::Seasonal { season, acf, lasting: true } => Some(SeasonLeft { season, acf }),
        _ => None,
    })
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

/// Sets the test of stationarity beside a unit-root test, around the same terms.
fn beside_stationarity(
    y: &[f64],
    differenced: usize,
    unit_root: UnitRootTest,
    options: &AssessOptions,
) -> Result<DifferenceTests, UnitRootError> {
    let around = if unit_root.terms == Terms::Trend { Terms::Trend } else { Terms::Constant };
    let stationarity = kpss(y, &KpssOptions { terms: around, bandwidth: options.bandwidth })?;
    let reading = Reading::of(&unit_root, &stationarity, options.alpha);
    Ok(DifferenceTests { differenced, unit_root, stationarity, reading })
}
