//! `kandrel lags`: the order of an autoregression of one series or of several together.

use crate::args::{Choices, DataArgs, FigureArgs, OutputArgs, alpha, one_of};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::model::{checked, diagnoses, var_refusal};
use crate::output::Files;
use crate::present::diagnosis::SeriesDiagnosis;
use crate::present::lags::{self as text, Checked, Influences, LagOrderFindings, LagsResult};
use crate::read::Dataset;
use crate::session::Session;
use crate::wording;
use kandrel_core::series::Series;
use kandrel_core::time::Frequency;
use kandrel_core::var::{LagTerms, VarError, VarInput, causality, default_most_lags, lag_table};

pub const ABOUT: &str = "Lag order of an autoregression, of one series or of several together";
pub const EXAMPLES: &str = "Examples:\n  kandrel lags demo:harbour waiting\n  \
    kandrel lags demo:region wages:d1 rents:d1 output:d1\n  \
    kandrel lags demo:region wages rents --max 6 --causality\n  \
    kandrel lags demo:harbour waiting --figure lags.html";

/// The deterministic terms and regressors of the lags in each equation.
const TERMS: Choices<LagTerms> = &[
    ("none", LagTerms::None, ""),
    ("constant", LagTerms::Constant, ""),
    ("trend", LagTerms::Trend, ""),
    ("seasonal", LagTerms::Seasonal, ""),
];

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: wages:ln,d1
    series: Vec<String>,
    /// Largest order (by the frequency and the sample if not given)
    #[arg(long, value_name = "N", help_heading = "Method")]
    max: Option<usize>,
    /// Deterministic terms of each equation
    #[arg(long, value_name = "TERMS", default_value = "constant", value_parser = one_of(TERMS), help_heading = "Method")]
    terms: LagTerms,
    /// Columns that are included in each equation with their own period's value, separated by commas
    #[arg(long, value_name = "COLUMNS", help_heading = "Method")]
    exogenous: Option<String>,
    /// Whether the past of one series helps to predict another
    #[arg(long, help_heading = "Method")]
    causality: bool,
    /// Significance level of all decisions
    #[arg(long, value_name = "P", default_value = "0.05", value_parser = alpha, help_heading = "Method")]
    alpha: f64,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let request = args.figure.request(args.output.force, context)?;
    let mut session = Session::open(&args.data, context.stdin)?;
    let season = session.season();
    if args.terms == LagTerms::Seasonal && season < 2 {
        return Err(CliError::call("--terms seasonal: the data have no season")
            .advise("give the number of observations in a season with --season N"));
    }
    let (all, exogenous) = columns(args, &mut session)?;
    if args.causality && all.len() < 2 {
        return Err(CliError::call("--causality needs at least two series")
            .advise("name them: kandrel lags FILE first second --causality"));
    }
    let result = found(args, &session.dataset, &all, &exogenous, season)?;
    let mut files = Files::default();
    request.draw(&mut files, || {
        let plot = text::plot(&result, session.dataset.file_name());
        Ok(figure::plot::drawing(&plot, &args.figure.sheet()))
    })?;
    let report = Report::of("lags", [&result], vec![text::document(&result, &context.call)])?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

/// The series and their exogenous variables, over the periods all of them have.
fn columns(args: &Args, session: &mut Session<'_>) -> Result<(Vec<Series>, Vec<Series>), CliError> {
    let mut own = args.series.clone();
    if own.is_empty() {
        own.extend(session.series(&[])?.into_iter().map(|series| wording::column(&series.name)));
    }
    let count = own.len();
    let exogenous = args.exogenous.as_deref().map(kandrel_core::expr::terms).unwrap_or_default();
    own.extend(exogenous.into_iter().map(str::to_owned));
    let mut all = session.in_common(&own)?;
    let exogenous = all.split_off(count);
    Ok((all, exogenous))
}

fn found(
    args: &Args,
    dataset: &Dataset,
    all: &[Series],
    exogenous: &[Series],
    season: usize,
) -> Result<LagsResult, CliError> {
    let refused = |error: VarError| var_refusal(dataset, all, exogenous, error);
    let values = |list: &[Series]| list.iter().map(|series| series.values.clone()).collect::<Vec<_>>();
    let (own, regressors) = (values(all), values(exogenous));
    let slices: Vec<&[f64]> = own.iter().map(Vec::as_slice).collect();
    let regressors: Vec<&[f64]> = regressors.iter().map(Vec::as_slice).collect();
    let input = VarInput { series: &slices, exogenous: &regressors, terms: args.terms, season };
    let wanted = usual_most(dataset.frame.frequency());
    let most = match args.max {
        Some(most) => most,
        None => default_most_lags(input, wanted).map_err(refused)?,
    };
    let table = lag_table(input, most).map_err(refused)?;
    let mut orders = vec![table.chosen.bic, table.chosen.hq, table.chosen.aic];
    orders.sort_unstable();
    orders.dedup();
    let checked: Vec<Checked> =
        orders.into_iter().map(|lags| checked(input, lags)).collect::<Result<_, _>>().map_err(refused)?;
    let recommended = text::recommended(&checked, args.alpha);
    let diagnoses = diagnoses(all, season);
    let influences = if args.causality && recommended > 0 {
        let integration: Vec<_> = diagnoses.iter().map(SeriesDiagnosis::integration).collect();
        let augmented = integration.iter().flatten().copied().max().unwrap_or(0);
        Some(Influences {
            plain: causality(input, recommended, 0).map_err(refused)?,
            augmented: (augmented > 0)
                .then(|| causality(input, recommended, augmented))
                .transpose()
                .map_err(refused)?,
            integration,
        })
    } else {
        None
    };
    let found = LagOrderFindings { table, checked, recommended, influences, season, wanted: args.causality };
    Ok(text::result(all, exogenous, diagnoses, found, args.alpha))
}

/// The default largest order, by frequency.
fn usual_most(frequency: Frequency) -> usize {
    match frequency {
        Frequency::Year => 2,
        Frequency::Month => 24,
        Frequency::Quarter | Frequency::Week(_) | Frequency::Undated => 8,
        Frequency::Workday => 10,
        Frequency::Day => 14,
    }
}
