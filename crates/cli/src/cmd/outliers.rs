//! `kandrel outliers`: outliers, found and replaced.

use crate::args::{Choices, DataArgs, FigureArgs, Format, OutputArgs, one_of};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::document::to_json;
use crate::error::CliError;
use crate::figure;
use crate::model::diagnosis;
use crate::output::Files;
use crate::output::only_one;
use crate::present::outliers::{self, OutliersResult};
use crate::read::Dataset;
use crate::session::Session;
use crate::wording;
use kandrel_core::outlier::{Method, OutlierError, OutlierOptions, Repair, ScaledOutliers};
use kandrel_core::series::Series;
use rayon::prelude::*;

pub const ABOUT: &str = "Outliers: detected by four methods, flagged where these agree, replaced";
pub const EXAMPLES: &str = "Examples:\n  kandrel outliers demo:harbour ice\n  \
    kandrel outliers demo:harbour tug_hours --figure outliers.svg\n  \
    kandrel outliers demo:harbour ice --repair model --out repaired.csv";

/// Methods of outlier detection.
const METHODS: Choices<Method> = &[
    ("expanding", Method::Expanding, "Each value compared with an expanding window of all earlier values"),
    ("seasonal", Method::Seasonal, "Each value compared with the same month or quarter in other years"),
    ("irregular", Method::Irregular, "Irregular component of a robust decomposition"),
    (
        "likelihood",
        Method::Likelihood,
        "Likelihood ratio for additive outliers, level shifts and temporary changes",
    ),
];

/// What an outlier is replaced by.
const REPAIRS: Choices<Repair> = &[
    (
        "seasonal-mean",
        Repair::SeasonalMean,
        "Mean of the same month or quarter in other years (their middle half), around the trend",
    ),
    (
        "interpolate",
        Repair::Interpolate,
        "Linear interpolation between neighbouring values, plus the seasonal component",
    ),
    ("model", Repair::Model, "Prediction of a model estimated from the other values"),
];

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln
    series: Vec<String>,
    /// Detection methods (default: all that the series is long enough for)
    #[arg(long, value_name = "LIST", value_delimiter = ',', value_parser = one_of(METHODS), help_heading = "Method")]
    methods: Vec<Method>,
    /// Replacement of the outliers (default: seasonal-mean, or interpolate without a season)
    #[arg(long, value_name = "RULE", value_parser = one_of(REPAIRS), help_heading = "Method")]
    repair: Option<Repair>,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let request = args.figure.request(args.output.force, context)?;
    let mut session = Session::open(&args.data, context.stdin)?;
    let season = session.season();
    let all = session.series(&args.series)?;
    let found: Vec<OutliersResult> =
        all.par_iter().map(|series| one(&session.dataset, series, args, season)).collect::<Result<_, _>>()?;
    let mut files = Files::default();
    request.draw(&mut files, || {
        let (series, result) = (only_one(&all)?, only_one(&found)?);
        let plot = outliers::plot(result, series, session.dataset.file_name());
        Ok(figure::plot::drawing(&plot, &args.figure.sheet()))
    })?;
    let time = session.dataset.time_name();
    let documents = if args.output.format_or(Format::Text)? == Format::Csv {
        vec![outliers::data(&found, &all, &time)]
    } else {
        let pairs = found.iter().zip(&all);
        pairs.map(|(result, series)| outliers::document(result, series, &context.call)).collect()
    };
    let results = found.iter().map(to_json).collect::<Result<_, _>>()?;
    let report = Report { command: "outliers", documents, results, ..Report::default() };
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

fn one(dataset: &Dataset, series: &Series, args: &Args, season: usize) -> Result<OutliersResult, CliError> {
    let methods: Vec<Method> =
        if args.methods.is_empty() { Method::ALL.to_vec() } else { args.methods.clone() };
    let refused = |error| refusal(dataset, series, error);
    let found = ScaledOutliers::find(&series.values, &OutlierOptions { season, methods }).map_err(refused)?;
    let rule = args.repair.map_or_else(|| Repair::usual(season), Repair::from);
    let repaired = found.repair(&series.values, rule).map_err(refused)?;
    let own = diagnosis(&series.clone().into(), season);
    let after = (!repaired.is_empty())
        .then(|| {
            let mut replaced = series.clone();
            for one in &repaired {
                if let Some(value) = replaced.values.get_mut(one.place) {
                    *value = one.to;
                }
            }
            diagnosis(&replaced.into(), season)
        })
        .flatten();
    Ok(outliers::result(series, &found, rule, &repaired, [own, after]))
}

fn refusal(dataset: &Dataset, series: &Series, error: OutlierError) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        OutlierError::InvalidSeries(reason) => wording::unusable(&at, reason, "has no outliers", |t| series.period(t)),
        OutlierError::NoSeason => CliError::call(format!("{at}: {error}")).advise(
            "give the number of observations in a season with --season N, or take other --methods or --repair",
        ),
        OutlierError::FewSeasons { .. } => CliError::data(format!("{at}: {error}"))
            .advise("use a longer series, or look for outliers without a season: --season 1"),
        OutlierError::Deterministic => CliError::computation(format!("{at}: {error}"))
            .advise("without an irregular component outliers are not defined"),
        OutlierError::Decomposition(_) => CliError::data(format!("{at}: {error}")),
    }
}
