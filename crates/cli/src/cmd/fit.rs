//! `kandrel fit`: one named model.

use crate::args::{DataArgs, FigureArgs, OutputArgs, WithArgs, alpha};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::figure::residuals::LastPanel;
use crate::model::{correlations, diagnosis, fit_refusal, missing_regressor, model, of_season};
use crate::output::Files;
use crate::output::only_one;
use crate::present::fit::{self as text, FitResult};
use crate::read::Dataset;
use crate::session::Session;
use kandrel_core::arima::{WrittenModel, diagnose, fit};
use kandrel_core::corr::AcfOptions;
use kandrel_core::identify;
use kandrel_core::regressor::Regressors;
use kandrel_core::series::SeriesWithGaps;
use rayon::prelude::*;

pub const ABOUT: &str = "Estimates one named model by exact maximum likelihood and checks its residuals";
pub const EXAMPLES: &str = "Examples:\n  kandrel fit demo:harbour waiting --model '(2,0,0)'\n  \
    kandrel fit demo:harbour freight:ln --model '(0,1,1)(0,1,1)12'\n  \
    kandrel fit demo:harbour berth_fee --model '(0,1,0)+drift' --residuals";

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln
    series: Vec<String>,
    /// The model as in the literature: (2,0,0), (0,1,1)(0,1,1)12, ARIMA(0,1,1), AR(2); +mean, +drift or +none behind it;
    /// without a season that of the data
    #[arg(long, value_name = "M", value_parser = model, help_heading = "Method")]
    model: WrittenModel,
    #[command(flatten)]
    with: WithArgs,
    /// Give the residuals in the JSON
    #[arg(long, help_heading = "Method")]
    residuals: bool,
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
    let all = session.series_with_noted_smoothing(&args.series)?;
    let regressors = session.regressors(args.with.terms.as_deref())?;
    let (found, residuals): (Vec<FitResult>, Vec<SeriesWithGaps>) = all
        .par_iter()
        .map(|series| one(&session.dataset, series, &regressors, args, season))
        .collect::<Result<Vec<_>, _>>()?
        .into_iter()
        .unzip();
    let mut files = Files::default();
    request.draw(&mut files, || {
        let (result, residuals) = (only_one(&found)?, only_one(&residuals)?);
        let options = AcfOptions { season, fitted: args.model.coefficients(), ..AcfOptions::default() };
        let functions = correlations(&session.dataset, residuals, &options)?;
        let [ar, ma] = result.inverse_roots();
        let shown = figure::residuals::Residuals {
            title: text::answer(result),
            series: residuals,
            functions: &functions,
            about: "one-step prediction errors scaled to equal variance",
            last: LastPanel::Roots { ar, ma },
        };
        let drawing = figure::residuals::drawing(&shown, &session.dataset, &args.figure.sheet());
        Ok(drawing)
    })?;
    let report = Report::of(
        "fit",
        &found,
        found.iter().map(|result| text::document(result, &context.call)).collect(),
    )?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

fn one(
    dataset: &Dataset,
    series: &SeriesWithGaps,
    regressors: &Regressors,
    args: &Args,
    season: usize,
) -> Result<(FitResult, SeriesWithGaps), CliError> {
    let data = identify::data(series, regressors).map_err(|error| missing_regressor(&error))?;
    let refused = |error| fit_refusal(dataset, series, &regressors.names(), error);
    let found = fit(&data, of_season(args.model, season)?).map_err(refused)?;
    let checked = diagnose(&found, season);
    let own = diagnosis(series, season);
    let result = text::result(series, &found, &checked, regressors, args.alpha, args.residuals, own);
    Ok((result, text::residuals(series, &found)))
}
