//! `kandrel acf`: autocorrelation and its reading.

use kandrel_core::corr::{AcfOptions, PacfMethod};
use rayon::prelude::*;

use crate::args::{Choices, DataArgs, FigureArgs, OutputArgs, one_of};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::model::{correlations, diagnosis};
use crate::output::Files;
use crate::present::acf;
use crate::session::Session;

pub const ABOUT: &str =
    "Autocorrelation, partial autocorrelation, portmanteau statistics, and how to read them";
pub const EXAMPLES: &str = "Examples:\n  kandrel acf demo:harbour waiting\n  \
    kandrel acf demo:harbour freight:ln,d1 --figure freight.svg";

/// A figure holds the functions of that number of series.
const MOST: usize = 8;

/// How partial autocorrelations are estimated.
const PACF: Choices<PacfMethod> = &[
    ("yule-walker", PacfMethod::YuleWalker, "From the autocorrelations (Durbin and Levinson)"),
    ("least-squares", PacfMethod::LeastSquares, "By regressions on the lags, all on one sample"),
];

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
    #[arg(long, value_name = "METHOD", default_value = "yule-walker", value_parser = one_of(PACF), help_heading = "Method")]
    pacf: PacfMethod,
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
    let options = AcfOptions { lags: args.lags, season, pacf: args.pacf, fitted: args.fitted };
    let results: Vec<acf::AcfResult> = all
        .par_iter()
        .map(|series| {
            let result = correlations(&session.dataset, series, &options)?;
            // Of residuals the question is whether they are noise.
            let diagnosis = if args.fitted > 0 { None } else { diagnosis(series, season) };
            Ok(acf::AcfResult { diagnosis, ..result })
        })
        .collect::<Result<_, CliError>>()?;
    let mut files = Files::default();
    request.draw(&mut files, || {
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
        Ok(figure::acf::drawing(&pairs, &title, &session.dataset, &args.figure.sheet()))
    })?;
    let own = results.iter().map(|result| acf::document(result, &context.call));
    let report = Report::of("acf", &results, acf::together(&results).into_iter().chain(own).collect())?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}
