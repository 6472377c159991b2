//! The tests to show with the verdict.

use kandrel_core::lag::LagRule;
use kandrel_core::nulldist::Terms;
use kandrel_core::series::Series;
use kandrel_core::time::Period;
use kandrel_core::unitroot::{
    BootstrapOptions, BreakRequest, FurtherOptions, SeasonalOptions, StabilityOptions, TestName,
    UnitRootError, UnitRootTest, bootstrap, canova_hansen, further_tests, hegy,
};
use kandrel_core::verdict::Assessment;

use super::method::MethodArgs;
use crate::error::CliError;
use crate::present::stationarity::Shown;
use crate::progress::Progress;

/// A series is never differenced more often than this.
const MOST_DIFFERENCES: usize = 2;
/// Tests that keep their meaning in differences.
const IN_DIFFERENCES: [TestName; 3] = [TestName::Pp, TestName::LogPeriodogram, TestName::LocalWhittle];

/// Observations up to the period that `--break-at` names.
pub fn before_break(series: &Series, text: &str) -> Result<usize, CliError> {
    let span = || format!("{} runs from {} to {}", series.name, series.start, series.last());
    let (period, _) = Period::parse_range(text, series.start.frequency()).map_err(|error| {
        CliError::call(format!("--break-at: {error}")).advise(format!("{}: write a period of it", span()))
    })?;
    let place = (0..series.values.len()).find(|place| series.period(*place) == period);
    place.map(|place| place + 1).ok_or_else(|| {
        CliError::call(format!("--break-at {text}: {} has no such period", series.name)).advise(span())
    })
}

/// What is asked for.
#[derive(Clone, Copy)]
pub struct Request<'a> {
    pub args: &'a MethodArgs,
    /// Observations in a season.
    pub season: usize,
    /// Observations before a known break.
    pub known: Option<usize>,
    /// Whether no progress is shown.
    pub quiet: bool,
}

/// The tests, level by level, from the series of the verdict or (those of a season) the whole one.
pub fn shown(
    series: &Series,
    assessment: &Assessment,
    request: Request<'_>,
) -> Result<(Vec<Shown>, Vec<LeftOut>), UnitRootError> {
    let Request { args, season, known, .. } = request;
    let names = args.names();
    let usual = 0..=assessment.verdict.integration.max(1);
    let at: Vec<usize> = args
        .at
        .as_ref()
        .map_or_else(|| usual.collect(), |at| at.iter().map(|times| usize::from(*times)).collect());
    let wanted = |name: TestName| names.contains(&name);
    let mut all = Vec::new();
    let mut left_out = Vec::new();
    let mut judged = assessment.judged.clone();
    for times in 0..=MOST_DIFFERENCES {
        let stage = assessment.stages.iter().find(|stage| stage.differenced == times);
        if let Some(stage) = stage.filter(|_| at.contains(&times)) {
            let pair = [&stage.unit_root, &stage.stationarity].into_iter().filter(|test| wanted(test.test));
            let mut level: Vec<UnitRootTest> = pair.cloned().collect();
            let kept = |name: &TestName| times == 0 || IN_DIFFERENCES.contains(name);
            let further_options = FurtherOptions {
                tests: names.iter().copied().filter(kept).collect(),
                terms: stage.unit_root.terms,
                lags: args.lags,
                max_lags: args.max_lags,
                bandwidth: args.bandwidth,
                kernel: args.kernel,
                breaks: BreakRequest {
                    count: usize::from(args.breaks.unwrap_or(1)),
                    known: known.map(|before| before.saturating_sub(assessment.season.lost())),
                    trim: args.trim,
                },
            };
            level.extend(further(&judged, &further_options, args.is_all(), &mut left_out)?);
            all.extend(with_bootstrap(&judged, level, times, request));
        }
        judged = differenced(&judged);
    }
    if season > 1 && at.contains(&0) {
        all.extend(of_season(series, assessment, request)?);
    }
    Ok((all, left_out))
}

/// A test that the series does not bear.
pub type LeftOut = (TestName, UnitRootError);

/// The further tests; among all tests, those that the series does not bear are left out.
fn further(
    y: &[f64],
    options: &FurtherOptions,
    is_all: bool,
    left_out: &mut Vec<LeftOut>,
) -> Result<Vec<UnitRootTest>, UnitRootError> {
    if !is_all {
        return further_tests(y, options);
    }
    let mut all = Vec::new();
    for name in &options.tests {
        match further_tests(y, &FurtherOptions { tests: vec![*name], ..options.clone() }) {
            Ok(tests) => all.extend(tests),
            Err(error) => left_out.push((*name, error)),
        }
    }
    Ok(all)
}

fn differenced(y: &[f64]) -> Vec<f64> {
    y.windows(2).map(|pair| pair[1] - pair[0]).collect()
}

/// The tests of the season, of the series as it is; that of a pattern that stays, which a
/// unit root at the long run would upset, of its difference where there is one.
fn of_season(
    series: &Series,
    assessment: &Assessment,
    request: Request<'_>,
) -> Result<Vec<Shown>, UnitRootError> {
    let Request { args, season, .. } = request;
    let names = args.names();
    let mut all = Vec::new();
    if names.contains(&TestName::Hegy) {
        let lags = match args.lags {
            LagRule::Given(lags) => Some(lags),
            _ => None,
        };
        let is_usual = lags.is_none() && args.max_lags.is_none();
        let roots = match &assessment.season.roots {
            Some(roots) if is_usual => Some(roots.clone()),
            // By default only where there is a season, and by its table.
            found if found.is_some() || args.is_named(TestName::Hegy) => {
                let options = SeasonalOptions { season, trend: true, lags, max_lags: args.max_lags };
                Some(hegy(&series.values, &options)?)
            }
            _ => None,
        };
        all.extend(with_bootstrap(&series.values, roots.into_iter().collect(), 0, request));
    }
    if names.contains(&TestName::CanovaHansen) {
        let times = assessment.verdict.integration.min(1);
        let y = if times == 1 { differenced(&series.values) } else { series.values.clone() };
        let trend =
            times == 0 && assessment.stages.first().is_some_and(|s| s.unit_root.terms == Terms::Trend);
        let stays = canova_hansen(&y, &StabilityOptions { season, trend, bandwidth: args.bandwidth });
        // Among all tests, one that a short series does not bear is left out.
        let stays = if args.is_named(TestName::CanovaHansen) { Some(stays?) } else { stays.ok() };
        all.extend(with_bootstrap(&y, stays.into_iter().collect(), times, request));
    }
    Ok(all)
}

/// Each test with its bootstrap p-value, where one is asked for.
fn with_bootstrap(
    y: &[f64],
    tests: Vec<UnitRootTest>,
    differenced: usize,
    request: Request<'_>,
) -> Vec<Shown> {
    let Request { args, season, quiet, .. } = request;
    let p_values = args.bootstrap.map(|draws| {
        let options = BootstrapOptions {
            draws: draws as usize,
            seed: args.seed,
            wild: args.wild,
            season: season.max(1),
        };
        let progress = Progress::new("Bootstrap", u64::from(draws), quiet);
        bootstrap(y, &tests, &options, &|| progress.step())
    });
    let p_value = |place: usize| p_values.as_ref().and_then(|all| all.get(place).copied().flatten());
    tests
        .into_iter()
        .enumerate()
        .map(|(place, test)| Shown { differenced, bootstrap_p_value: p_value(place), test })
        .collect()
}
