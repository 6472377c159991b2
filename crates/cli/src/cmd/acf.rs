//! `kandrel acf`: autocorrelation and its reading.

use kandrel_core::corr::{self, AcfError, AcfOptions};
use kandrel_core::series::Series;

use schemars::Schema;

use crate::args::{DataArgs, FigureArgs, OutputArgs};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::output::Files;
use crate::present;
use crate::present::{acf, to_json};
use crate::read::Dataset;
use crate::words;

pub const ABOUT: &str =
    "Autocorrelation, partial autocorrelation, portmanteau statistics, and how to read them";
pub const EXAMPLES: &str = "Examples:\n  kandrel acf demo:harbour waiting\n  \
    kandrel acf demo:harbour freight:ln,d1 --figure freight.svg";

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln,d1
    series: Vec<String>,
    /// Largest lag (default: three seasons, at most a quarter of the observations)
    #[arg(long, value_name = "N", help_heading = "Method")]
    lags: Option<usize>,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

/// The schema of its JSON.
pub const SCHEMA: Option<fn() -> Schema> = Some(present::schema::<acf::AcfResult>);

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let target = args.figure.target(args.output.force)?;
    let mut dataset = args.data.read(context)?;
    let season = args.data.season(&dataset);
    let all = args.data.series(&mut dataset, &args.series)?;
    let file = words::shell_word(&args.data.file);
    let results: Vec<acf::AcfResult> =
        all.iter().map(|series| computed(&dataset, series, args.lags, season)).collect::<Result<_, _>>()?;
    let mut files = Files::default();
    if let Some((path, form)) = target {
        let ([series], [result]) = (all.as_slice(), results.as_slice()) else {
            return Err(several_in_a_figure());
        };
        let title = acf::answer(result);
        files.add(
            path,
            form.draw(&figure::acf::drawing(series, result, &title, &dataset, &args.figure.sheet()))?,
        );
    }
    let report = Report {
        command: "acf",
        documents: results.iter().map(|result| acf::document(result, &file)).collect(),
        results: results.iter().map(to_json).collect::<Result<_, _>>()?,
    };
    deliver(&report, &dataset, season, &args.output, files, context)
}

/// A figure shows one series.
pub(super) fn several_in_a_figure() -> CliError {
    CliError::call("--figure draws one series").advise("name one series, or leave out --figure")
}

/// The result for one series; errors say which.
pub(super) fn computed(
    dataset: &Dataset,
    series: &Series,
    lags: Option<usize>,
    season: usize,
) -> Result<acf::AcfResult, CliError> {
    let options = AcfOptions { lags, season };
    let computed = corr::acf(&series.values, &options).map_err(|error| refusal(dataset, series, error))?;
    let findings = corr::read(&computed, season);
    Ok(acf::result(series, computed, findings, season))
}

fn refusal(dataset: &Dataset, series: &Series, error: AcfError) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        AcfError::TooShort { .. } => {
            CliError::data(format!("{at}: {error}")).advise("take a longer series or a wider --sample")
        }
        AcfError::Lags { observations, .. } => CliError::call(format!("{at}: --lags: {error}"))
            .advise(format!("take between 1 and {} lags", observations.saturating_sub(1))),
        AcfError::Constant => CliError::data(format!("{at}: the series is constant"))
            .advise("a series that never changes has no autocorrelation; check the column or the --sample"),
        AcfError::NotFinite { place } => CliError::data(format!(
            "{at}: the value in {} is too large to compute with",
            series.period(place)
        ))
        .advise("rescale the series"),
    }
}
