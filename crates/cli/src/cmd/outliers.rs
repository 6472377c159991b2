//! `kandrel outliers`: odd values, found and replaced.

use kandrel_core::outlier::{Method, OutlierError, OutlierOptions, Repair, find, repair};
use kandrel_core::series::Series;
use rayon::prelude::*;
use schemars::Schema;

use crate::args::{DataArgs, FigureArgs, Format, OutputArgs};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::output::Files;
use crate::output::only_one;
use crate::present;
use crate::present::outliers::{self, OutliersResult};
use crate::present::to_json;
use crate::read::Dataset;
use crate::session::Session;
use crate::wording;

pub const ABOUT: &str = "Odd values: found in four ways, marked where these agree, replaced";
pub const EXAMPLES: &str = "Examples:\n  kandrel outliers demo:harbour ice\n  \
    kandrel outliers demo:harbour tug_hours --figure odd.svg\n  \
    kandrel outliers demo:harbour ice --repair model --out mended.csv";

/// A way to find odd values.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum Way {
    /// Each value against all before it
    Growing,
    /// Each value against the same season of the other years
    Season,
    /// Remainders of a robust decomposition
    Remainder,
    /// Likelihood ratio of single values, level shifts, temporary changes
    Likelihood,
}

/// What an odd value is replaced by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum Rule {
    /// The mean of the same season in the other years, about the trend
    Season,
    /// A straight line between the neighbours, beside the season
    Interpolate,
    /// What a model of the other values says
    Model,
}

impl From<Way> for Method {
    fn from(typed: Way) -> Self {
        match typed {
            Way::Growing => Self::Growing,
            Way::Season => Self::Season,
            Way::Remainder => Self::Remainder,
            Way::Likelihood => Self::Likelihood,
        }
    }
}

impl From<Rule> for Repair {
    fn from(typed: Rule) -> Self {
        match typed {
            Rule::Season => Self::Season,
            Rule::Interpolate => Self::Interpolate,
            Rule::Model => Self::Model,
        }
    }
}

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln
    series: Vec<String>,
    /// Ways to find them (default: all that the series bears)
    #[arg(long, value_name = "LIST", value_delimiter = ',', help_heading = "Method")]
    methods: Vec<Way>,
    /// What they are replaced by (default: season, or interpolate where there is none)
    #[arg(long, value_name = "RULE", help_heading = "Method")]
    repair: Option<Rule>,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

/// The schema of its JSON.
pub const SCHEMA: Option<fn() -> Schema> = Some(present::schema::<OutliersResult>);

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
        let plot = outliers::plot(result, series, &session.dataset.source);
        Ok(figure::plot::drawing(&plot, &args.figure.sheet()))
    })?;
    let time = session.dataset.time_name();
    let documents = if args.output.format_or(Format::Text)? == Format::Csv {
        vec![outliers::data(&found, &all, &time)]
    } else {
        let pairs = found.iter().zip(&all);
        pairs.map(|(result, series)| outliers::document(result, series, season, &context.call)).collect()
    };
    let results = found.iter().map(to_json).collect::<Result<_, _>>()?;
    let report = Report { command: "outliers", documents, results, ..Report::default() };
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

fn one(dataset: &Dataset, series: &Series, args: &Args, season: usize) -> Result<OutliersResult, CliError> {
    let methods: Vec<Method> = if args.methods.is_empty() {
        Method::ALL.to_vec()
    } else {
        args.methods.iter().copied().map(Method::from).collect()
    };
    let refused = |error| refusal(dataset, series, error);
    let found = find(&series.values, &OutlierOptions { season, methods }).map_err(refused)?;
    let rule = args.repair.map_or_else(|| Repair::usual(season), Repair::from);
    let repaired = repair(&series.values, season, &found, rule).map_err(refused)?;
    Ok(outliers::result(series, &found, rule, &repaired))
}

fn refusal(dataset: &Dataset, series: &Series, error: OutlierError) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        OutlierError::TooShort { .. } => {
            CliError::data(format!("{at}: {error}")).advise("take a longer series or a wider --sample")
        }
        OutlierError::NoSeason => CliError::call(format!("{at}: {error}")).advise(
            "give the number of observations in a season with --season N, or take other --methods or --repair",
        ),
        OutlierError::Constant => CliError::data(format!("{at}: the series is constant"))
            .advise("in a series that never changes nothing is odd; check the column or the --sample"),
        OutlierError::NotFinite { place } => wording::too_large(&at, series.period(place)),
        OutlierError::Deterministic => CliError::computation(format!("{at}: {error}"))
            .advise("without error there is nothing to measure odd values by"),
        OutlierError::Decomposition(_) => CliError::data(format!("{at}: {error}")),
    }
}
