//! `kandrel stationarity`: unit-root and stationarity tests and what follows.

use clap::ValueEnum;
use kandrel_core::lag::{Criterion, LagRule};
use kandrel_core::nulldist::Terms;
use kandrel_core::ols::Bandwidth;
use kandrel_core::series::Series;
use kandrel_core::unitroot::UnitRootError;
use kandrel_core::unitroot::verdict::{AssessOptions, TermsRule, assess};

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
    kandrel stationarity demo:harbour freight:ln --terms trend --lags bic";

/// Observations a series needs so that its differences can be tested too.
const FEWEST: usize = 20;

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln
    series: Vec<String>,
    /// Deterministic terms at the level
    #[arg(long, default_value = "auto", help_heading = "Method")]
    terms: TermsArg,
    /// Lagged differences in the ADF regression: a number, or chosen by aic, bic or hq
    #[arg(long, value_name = "N|aic|bic|hq", default_value = "aic", value_parser = lag_rule, help_heading = "Method")]
    lags: LagRule,
    /// The most lags a choice may take (default: 12 (n/100)^(1/4))
    #[arg(long, value_name = "N", help_heading = "Method")]
    max_lags: Option<usize>,
    /// Lags in the long-run variance of KPSS
    #[arg(long, value_name = "N|auto|short|long", default_value = "auto", value_parser = bandwidth, help_heading = "Method")]
    bandwidth: Bandwidth,
    /// Level of every decision
    #[arg(long, value_name = "P", default_value = "0.05", value_parser = alpha, help_heading = "Method")]
    alpha: f64,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
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
        number => number.parse().map(LagRule::Given).map_err(|_| "write a number, aic, bic or hq".to_owned()),
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
    let setting = stationarity::Setting { file: &file, season, alpha: args.alpha };
    let mut documents = Vec::new();
    let mut results = Vec::new();
    let mut answers = Vec::new();
    for series in &all {
        let result = one(&dataset, series, args, setting)?;
        documents.push(stationarity::document(&result, series));
        results.push(to_json(&result)?);
        answers.push(result.verdict.sentence);
    }
    let mut files = Files::default();
    if let Some((path, form)) = target {
        let (series, correlation) = acf::beside(&dataset, &all, season)?;
        let answer = answers.first().map_or("", String::as_str);
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
        season: setting.season,
    };
    let assessment = assess(&series.values, &options).map_err(|error| refusal(dataset, series, error))?;
    Ok(stationarity::result(series, &assessment, setting))
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
        UnitRootError::NeedsConstant => CliError::computation(format!("{at}: {error}")),
    }
}
