//! `kandrel acf`: autocorrelation and its reading.

use kandrel_core::corr::{self, AcfError, AcfOptions, PacfMethod};
use kandrel_core::series::{Series, SeriesWithGaps};
use rayon::prelude::*;

use schemars::Schema;

use crate::args::{DataArgs, FigureArgs, OutputArgs};
use crate::cmd::{deliver, only_one};
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

/// A figure holds the functions of so many series.
const MOST: usize = 8;

/// How partial autocorrelations are estimated.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum Pacf {
    /// From the autocorrelations (Durbin and Levinson)
    YuleWalker,
    /// By regressions on the lags, all on one sample
    LeastSquares,
}

impl From<Pacf> for PacfMethod {
    fn from(typed: Pacf) -> Self {
        match typed {
            Pacf::YuleWalker => Self::YuleWalker,
            Pacf::LeastSquares => Self::LeastSquares,
        }
    }
}

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln,d1
    series: Vec<String>,
    /// Largest lag (default: three seasons, at most a quarter of the observations)
    #[arg(long, value_name = "N", help_heading = "Method")]
    lags: Option<usize>,
    /// Parameters fitted to the series, where it is one of residuals
    #[arg(long, value_name = "K", default_value_t = 0, help_heading = "Method")]
    fitted: usize,
    /// How partial autocorrelations are estimated
    #[arg(long, value_name = "METHOD", default_value = "yule-walker", help_heading = "Method")]
    pacf: Pacf,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

/// The schema of its JSON.
pub const SCHEMA: Option<fn() -> Schema> = Some(present::schema::<acf::AcfResult>);

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let target = args.figure.target(args.output.force)?;
    let mut dataset = args.data.read(context.stdin)?;
    let season = args.data.season(&dataset);
    let all = args.data.series_with_noted_smoothing(&mut dataset, &args.series)?;
    let options = AcfOptions { lags: args.lags, season, pacf: args.pacf.into(), fitted: args.fitted };
    let results: Vec<acf::AcfResult> =
        all.par_iter().map(|series| computed(&dataset, series, &options)).collect::<Result<_, _>>()?;
    let mut files = Files::default();
    if let Some((path, form)) = target {
        if all.len() > MOST {
            return Err(CliError::call(format!(
                "--figure: {} series are too many for one figure",
                all.len()
            ))
            .advise(format!("name at most {MOST}, or leave out --figure")));
        }
        let title = match results.as_slice() {
            [one] => acf::answer(one),
            several => format!(
                "Autocorrelation of {}",
                several.iter().map(|one| one.series.as_str()).collect::<Vec<_>>().join(", ")
            ),
        };
        let pairs: Vec<_> = all.iter().zip(&results).collect();
        files.add(path, form.draw(&figure::acf::drawing(&pairs, &title, &dataset, &args.figure.sheet()))?);
    }
    let report = Report {
        command: "acf",
        documents: results.iter().map(|result| acf::document(result, &context.call)).collect(),
        results: results.iter().map(to_json).collect::<Result<_, _>>()?,
    };
    deliver(&report, &dataset, season, &args.output, files, context)
}

/// The result for one series; errors say which.
pub(super) fn computed(
    dataset: &Dataset,
    series: &SeriesWithGaps,
    options: &AcfOptions,
) -> Result<acf::AcfResult, CliError> {
    let computed =
        corr::acf_with_gaps(&series.cells, options).map_err(|error| refusal(dataset, series, error))?;
    let findings = corr::read(&computed, options.season);
    Ok(acf::result(series, computed, findings, options.season))
}

/// The only series with its functions at the usual lags, for the figure of another
/// result.
pub(super) fn beside(
    dataset: &Dataset,
    all: &[Series],
    season: usize,
) -> Result<(SeriesWithGaps, acf::AcfResult), CliError> {
    let series = only_one(all)?;
    let series = SeriesWithGaps::from(series.clone());
    let options = AcfOptions { season, ..AcfOptions::default() };
    let result = computed(dataset, &series, &options)?;
    Ok((series, result))
}

fn refusal(dataset: &Dataset, series: &SeriesWithGaps, error: AcfError) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        AcfError::TooShort { .. } => {
            CliError::data(format!("{at}: {error}")).advise("take a longer series or a wider --sample")
        }
        AcfError::Lags { observations, .. } => CliError::call(format!("{at}: --lags: {error}"))
            .advise(format!("take between 1 and {} lags", observations.saturating_sub(1))),
        AcfError::LeastSquares => CliError::call(format!("{at}: {error}"))
            .advise("take fewer --lags, fill the gaps, or leave out --pacf"),
        AcfError::Constant => CliError::data(format!("{at}: the series is constant"))
            .advise("a series that never changes has no autocorrelation; check the column or the --sample"),
        AcfError::NotFinite { place } => words::too_large(&at, series.period(place)),
    }
}
