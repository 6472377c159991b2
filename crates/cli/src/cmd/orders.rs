//! `kandrel orders`: which seasonal model.

use std::time::Instant;

use crate::args::{Choices, DataArgs, OutputArgs, WithArgs, one_of};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::document::to_json;
use crate::error::CliError;
use crate::model::identified;
use crate::output::Files;
use crate::present::orders::{self, Checked, OrderFindings, OrdersResult};
use crate::read::Dataset;
use crate::session::Session;
use kandrel_core::arima::{Candidate, Data, Grid, Model, diagnose};
use kandrel_core::corr::{self, AcfOptions, Finding, extended_acf};
use kandrel_core::identify::{IdentifyOptions, RankingCriterion};
use kandrel_core::regressor::Regressors;
use kandrel_core::series::SeriesWithGaps;
use rayon::prelude::*;

pub const ABOUT: &str = "Orders (p,d,q)(P,D,Q)s: differences, patterns, every model of a grid ranked";
pub const EXAMPLES: &str = "Examples:\n  kandrel orders demo:harbour waiting\n  \
    kandrel orders demo:harbour freight:perday,ln\n  \
    kandrel orders demo:harbour berth_fee --differences 1,0 --criterion bic";

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln
    series: Vec<String>,
    /// Differences and seasonal differences, either may be auto (default: by the verdict of stationarity)
    #[arg(long, value_name = "d,D", value_parser = differences, help_heading = "Method")]
    differences: Option<(Option<usize>, Option<usize>)>,
    /// What candidates are ranked by
    #[arg(long, value_name = "NAME", default_value = "aicc", value_parser = one_of(CRITERIA), help_heading = "Method")]
    criterion: RankingCriterion,
    /// Largest p, q, P, Q (default: 3,3,2,2; seasonal ones 1 for seasons above 52)
    #[arg(long, value_name = "p,q,P,Q", value_parser = limit, help_heading = "Method")]
    limit: Option<[usize; 4]>,
    /// Every model with all its own estimates, also where missing values, regressors or more than 20,000 observations call for a shorter search
    #[arg(long, help_heading = "Method")]
    exhaustive: bool,
    /// Number of candidates shown
    #[arg(long, value_name = "N", default_value_t = 10, value_parser = clap::value_parser!(u16).range(1..), help_heading = "Method")]
    top: u16,
    #[command(flatten)]
    with: WithArgs,
    #[command(flatten)]
    output: OutputArgs,
}

fn differences(text: &str) -> Result<(Option<usize>, Option<usize>), String> {
    let wrong = || "write d,D, as 1,0 or auto,1; two differences at most, and one over the season".to_owned();
    let (first, second) = text.split_once(',').ok_or_else(wrong)?;
    let one = |text: &str| match text.trim() {
        "auto" => Ok(None),
        number => number.parse().ok().filter(|count: &usize| *count <= 2).map(Some).ok_or_else(wrong),
    };
    let (d, seasonal) = (one(first)?, one(second)?);
    if seasonal.unwrap_or(0) > 1 { Err(wrong()) } else { Ok((d, seasonal)) }
}

/// What candidates are ranked by.
const CRITERIA: Choices<RankingCriterion> = &[
    ("aicc", RankingCriterion::Aicc, "Akaike's, corrected for short series"),
    ("aic", RankingCriterion::Aic, "Akaike's"),
    ("bic", RankingCriterion::Bic, "Schwarz's"),
    ("hq", RankingCriterion::Hq, "That of Hannan and Quinn"),
];

/// The largest order that may be asked for.
const LARGEST: usize = 8;

fn limit(text: &str) -> Result<[usize; 4], String> {
    let wrong = || format!("write p,q,P,Q, each from 0 to {LARGEST}, as 5,5,2,2");
    let all: Vec<usize> = text
        .split(',')
        .map(|part| part.trim().parse().ok().filter(|order| *order <= LARGEST).ok_or_else(wrong))
        .collect::<Result<_, _>>()?;
    all.try_into().map_err(|_| wrong())
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let mut session = Session::open(&args.data, context.stdin)?;
    let season = session.season();
    let all = session.series_with_noted_smoothing(&args.series)?;
    let regressors = session.regressors(args.with.terms.as_deref())?;
    let found: Vec<OrdersResult> = all
        .iter()
        .map(|series| one(&session.dataset, series, regressors.clone(), args, season))
        .collect::<Result<_, _>>()?;
    let report = Report {
        command: "orders",
        documents: found.iter().map(|result| orders::document(result, &context.call)).collect(),
        results: found.iter().map(to_json).collect::<Result<_, _>>()?,
        chosen: found.first().map(orders::chosen),
    };
    deliver(&report, &session.dataset, season, &args.output, Files::default(), context)
}

fn one(
    dataset: &Dataset,
    series: &SeriesWithGaps,
    regressors: Regressors,
    args: &Args,
    season: usize,
) -> Result<OrdersResult, CliError> {
    let started = Instant::now();
    let (d, seasonal) = args.differences.unwrap_or_default();
    let options = IdentifyOptions {
        season,
        differences: [d, seasonal],
        criterion: args.criterion,
        limit: args.limit,
        exhaustive: args.exhaustive,
        only_choice: false,
    };
    let choice = identified(dataset, series, regressors, &options, args.output.quiet)?;
    let shown = orders::shown(&choice, usize::from(args.top));
    let checked: Vec<Option<Checked>> =
        shown.par_iter().map(|candidate| checked(&choice.data, candidate, season)).collect();
    let differenced = differenced(series, choice.grid);
    let found = OrderFindings {
        patterns: patterns(differenced.as_deref(), choice.grid),
        extended: differenced.as_deref().and_then(extended_acf),
        shown: &shown,
        checked: &checked,
        seconds: started.elapsed().as_secs_f64(),
        choice: &choice,
    };
    Ok(orders::result(series, &found))
}

fn checked(data: &Data, candidate: &Candidate, season: usize) -> Option<Checked> {
    let fit = candidate.fit(data).ok()?;
    Some(Checked { residuals: diagnose(&fit, season), fit })
}

/// The series after its differences; none of one with gaps.
fn differenced(series: &SeriesWithGaps, grid: Grid) -> Option<Vec<f64>> {
    let bare = Model {
        differences: grid.differences,
        seasonal_differences: grid.seasonal_differences,
        season: grid.season,
        ..Model::default()
    };
    let values: Vec<f64> = series.cells.iter().copied().collect::<Option<_>>()?;
    Some(bare.differenced(&values))
}

/// What ACF and PACF say.
fn patterns(differenced: Option<&[f64]>, grid: Grid) -> Vec<Finding> {
    let options = AcfOptions { season: grid.season, ..AcfOptions::default() };
    let found = corr::acf(differenced.unwrap_or_default(), &options);
    found.map_or_else(|_| Vec::new(), |acf| corr::read(&acf, grid.season))
}
