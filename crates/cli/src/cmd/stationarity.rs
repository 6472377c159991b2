//! `kandrel stationarity`: unit-root and stationarity tests and what follows.

use clap::ValueEnum;
use kandrel_core::lag::{Criterion, LagRule};
use kandrel_core::nulldist::Terms;
use kandrel_core::ols::Bandwidth;
use kandrel_core::series::Series;
use kandrel_core::shape::spread;
use kandrel_core::unitroot::verdict::{AssessOptions, Assessment, TermsRule, assess};
use kandrel_core::unitroot::{
    FurtherOptions, SEGMENTS, TestName, UnitRootError, UnitRootTest, further_tests, moments,
};
use rayon::prelude::*;

use schemars::Schema;

use crate::args::{DataArgs, FigureArgs, OutputArgs, alpha};
use crate::cmd::{acf, deliver};
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::output::Files;
use crate::present;
use crate::present::{stationarity, to_json};
use crate::read::Dataset;
use crate::words;

pub const ABOUT: &str = "Unit-root and stationarity tests at level and difference, with a joint verdict";
pub const EXAMPLES: &str = "Examples:\n  kandrel stationarity demo:harbour berth_fee\n  \
    kandrel stationarity demo:harbour freight:ln --terms trend --lags bic\n  \
    kandrel stationarity demo:harbour tug_hours --tests all";

/// Observations a series needs so that its differences can be tested too.
const FEWEST: usize = 20;
/// A series is never differenced more often than this.
const MOST_DIFFERENCES: usize = 2;

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln
    series: Vec<String>,
    /// Deterministic terms at the level
    #[arg(long, default_value = "auto", help_heading = "Method")]
    terms: TermsArg,
    /// Lagged differences in the regressions: a number, or chosen by a criterion or by t-ratios
    #[arg(long, value_name = "N|aic|bic|hq|maic|t", default_value = "aic", value_parser = lag_rule, help_heading = "Method")]
    lags: LagRule,
    /// The most lags a choice may take (default: 12 (n/100)^(1/4))
    #[arg(long, value_name = "N", help_heading = "Method")]
    max_lags: Option<usize>,
    /// Lags in the long-run variance of KPSS and PP
    #[arg(long, value_name = "N|auto|short|long", default_value = "auto", value_parser = bandwidth, help_heading = "Method")]
    bandwidth: Bandwidth,
    #[arg(long, help = "Tests to show: adf, kpss, pp, adf_gls, point_optimal, ng_perron, zivot_andrews, hegy, or all", value_name = "LIST|all", default_value = "adf,kpss,pp,adf_gls,hegy", value_parser = tests, help_heading = "Method")]
    tests: Tests,
    /// Numbers of differences to test, 0 for the level (default: as many as the verdict needs)
    #[arg(long, value_name = "N,N", value_delimiter = ',', value_parser = clap::value_parser!(u8).range(0..=2), help_heading = "Method")]
    at: Option<Vec<u8>>,
    /// Print the regression of the ADF test
    #[arg(long, help_heading = "Method")]
    regression: bool,
    /// Level of every decision
    #[arg(long, value_name = "P", default_value = "0.05", value_parser = alpha, help_heading = "Method")]
    alpha: f64,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

/// Names of tests.
#[derive(Debug, Clone)]
struct Tests(Vec<TestName>);

/// Every test by its name in results.
const TESTS: [(&str, TestName); 8] = [
    ("adf", TestName::Adf),
    ("kpss", TestName::Kpss),
    ("pp", TestName::Pp),
    ("adf_gls", TestName::AdfGls),
    ("point_optimal", TestName::PointOptimal),
    ("ng_perron", TestName::NgPerron),
    ("zivot_andrews", TestName::ZivotAndrews),
    ("hegy", TestName::Hegy),
];

fn tests(text: &str) -> Result<Tests, String> {
    if text == "all" {
        return Ok(Tests(TESTS.map(|(_, test)| test).into()));
    }
    let one = |name: &str| {
        let plain = name.trim().replace('-', "_");
        TESTS.iter().find(|(known, _)| *known == plain).map(|(_, test)| *test).ok_or_else(|| {
            let names: Vec<&str> = TESTS.iter().map(|(known, _)| *known).collect();
            format!("there is no test {name:?}; there are {} and all", names.join(", "))
        })
    };
    text.split(',').map(one).collect::<Result<_, _>>().map(Tests)
}

#[derive(Clone, Copy, ValueEnum)]
enum TermsArg {
    /// Constant or trend, whichever the data ask for
    Auto,
    None,
    Constant,
    Trend,
}

fn lag_rule(text: &str) -> Result<LagRule, String> {
    match text {
        "aic" => Ok(LagRule::Criterion(Criterion::Aic)),
        "bic" => Ok(LagRule::Criterion(Criterion::Bic)),
        "hq" => Ok(LagRule::Criterion(Criterion::Hq)),
        "maic" => Ok(LagRule::Maic),
        "t" => Ok(LagRule::T),
        number => number
            .parse()
            .map(LagRule::Given)
            .map_err(|_| "write a number, aic, bic, hq, maic or t".to_owned()),
    }
}

fn bandwidth(text: &str) -> Result<Bandwidth, String> {
    match text {
        "auto" => Ok(Bandwidth::Automatic),
        "short" => Ok(Bandwidth::Short),
        "long" => Ok(Bandwidth::Long),
        number => {
            number.parse().map(Bandwidth::Given).map_err(|_| "write a number, auto, short or long".to_owned())
        }
    }
}

/// The schema of its JSON.
pub const SCHEMA: Option<fn() -> Schema> = Some(present::schema::<stationarity::StationarityResult>);

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    if args.max_lags.is_some() && matches!(args.lags, LagRule::Given(_)) {
        return Err(CliError::call("--max-lags bounds a choice, and --lags gives the number")
            .advise("leave one of them out"));
    }
    let target = args.figure.target(args.output.force)?;
    let mut dataset = args.data.read(context)?;
    let season = args.data.season(&dataset);
    let all = args.data.series(&mut dataset, &args.series)?;
    let file = words::shell_word(&args.data.file);
    let setting = stationarity::Setting { file: &file, alpha: args.alpha, shows_regression: args.regression };
    let found: Vec<stationarity::StationarityResult> = all
        .par_iter()
        .map(|series| one(&dataset, series, args, season, setting))
        .collect::<Result<_, _>>()?;
    let documents =
        found.iter().zip(&all).map(|(result, series)| stationarity::document(result, series)).collect();
    let results = found.iter().map(to_json).collect::<Result<_, _>>()?;
    let mut files = Files::default();
    if let Some((path, form)) = target {
        let (series, correlation) = acf::beside(&dataset, &all, season)?;
        let answer = found.first().map_or("", |result| result.verdict.sentence.as_str());
        let pair = [(&series, &correlation)];
        files.add(path, form.draw(&figure::acf::drawing(&pair, answer, &dataset, &args.figure.sheet()))?);
    }
    let report = Report { command: "stationarity", documents, results };
    deliver(&report, &dataset, season, &args.output, files, context)
}

fn one(
    dataset: &Dataset,
    series: &Series,
    args: &Args,
    season: usize,
    setting: stationarity::Setting<'_>,
) -> Result<stationarity::StationarityResult, CliError> {
    let observations = series.values.len();
    if observations < FEWEST {
        let error = UnitRootError::TooShort { observations, needed: FEWEST };
        return Err(refusal(dataset, series, error));
    }
    let options = AssessOptions {
        terms: match args.terms {
            TermsArg::Auto => TermsRule::Auto,
            TermsArg::None => TermsRule::Given(Terms::None),
            TermsArg::Constant => TermsRule::Given(Terms::Constant),
            TermsArg::Trend => TermsRule::Given(Terms::Trend),
        },
        lags: args.lags,
        max_lags: args.max_lags,
        bandwidth: args.bandwidth,
        alpha: args.alpha,
        season,
    };
    let refused = |error| refusal(dataset, series, error);
    let assessment = assess(&series.values, &options).map_err(refused)?;
    let shown = shown(args, &assessment).map_err(refused)?;
    let found = stationarity::Found {
        assessment: &assessment,
        shown,
        moments: moments(&series.values, SEGMENTS),
        spread: spread(&series.values, season),
    };
    Ok(stationarity::result(series, &found, setting))
}

/// The tests to show, level by level.
fn shown(args: &Args, assessment: &Assessment) -> Result<Vec<(usize, UnitRootTest)>, UnitRootError> {
    let usual = 0..=assessment.verdict.integration.max(1);
    let at: Vec<usize> = args
        .at
        .as_ref()
        .map_or_else(|| usual.collect(), |at| at.iter().map(|times| usize::from(*times)).collect());
    let wanted = |name: TestName| args.tests.0.contains(&name);
    let mut all = Vec::new();
    let mut judged = assessment.judged.clone();
    for times in 0..=MOST_DIFFERENCES {
        let stage = assessment.stages.iter().find(|stage| stage.differenced == times);
        if let Some(stage) = stage.filter(|_| at.contains(&times)) {
            let pair = [&stage.unit_root, &stage.stationarity].into_iter().filter(|test| wanted(test.test));
            all.extend(pair.map(|test| (times, test.clone())));
            let further = FurtherOptions {
                // In differences these lose their size or their meaning.
                tests: args
                    .tests
                    .0
                    .iter()
                    .copied()
                    .filter(|test| times == 0 || *test == TestName::Pp)
                    .collect(),
                terms: stage.unit_root.terms,
                lags: args.lags,
                max_lags: args.max_lags,
                bandwidth: args.bandwidth,
            };
            all.extend(further_tests(&judged, &further)?.into_iter().map(|test| (times, test)));
        }
        judged = judged.windows(2).map(|pair| pair[1] - pair[0]).collect();
    }
    let roots = assessment.season.roots.clone().filter(|_| wanted(TestName::Hegy) && at.contains(&0));
    all.extend(roots.map(|test| (0, test)));
    Ok(all)
}

fn refusal(dataset: &Dataset, series: &Series, error: UnitRootError) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        UnitRootError::TooShort { .. } => {
            CliError::data(format!("{at}: {error}")).advise("take a longer series or a wider --sample")
        }
        UnitRootError::TooManyLags { most, .. } => CliError::call(format!("{at}: {error}"))
            .advise(format!("take {most} lags or fewer, or a longer series")),
        UnitRootError::TooWide { most, .. } => CliError::call(format!("{at}: {error}"))
            .advise(format!("take {most} or fewer, or leave --bandwidth out")),
        UnitRootError::Constant => {
            CliError::data(format!("{at}: the series, or its difference, is constant"))
                .advise("a series without variation cannot be tested; check the column or the --sample")
        }
        UnitRootError::NotFinite { place } => CliError::data(format!(
            "{at}: the value in {} is too large to compute with",
            series.period(place)
        ))
        .advise("rescale the series"),
        UnitRootError::Deterministic | UnitRootError::Collinear => {
            CliError::computation(format!("{at}: {error}"))
                .advise("the series follows a rule without any error, so there is nothing to test")
        }
        UnitRootError::NoDistribution => CliError::call(format!("{at}: {error}"))
            .advise("leave the test out of --tests, or its rule out of --lags"),
        UnitRootError::NeedsConstant => CliError::computation(format!("{at}: {error}")),
    }
}
