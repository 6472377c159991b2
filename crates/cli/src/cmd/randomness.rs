//! `kandrel randomness`: runs and other tests, read together.

use crate::args::{DataArgs, FigureArgs, OutputArgs, alpha};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::model::correlations_of_only;
use crate::output::Files;
use crate::present::randomness;
use crate::read::Dataset;
use crate::session::Session;
use crate::wording;
use kandrel_core::randomness::{Cut, RandomnessError, RandomnessOptions, randomness_tests};
use kandrel_core::series::Series;
use rayon::prelude::*;

pub const ABOUT: &str = "Runs and other tests of randomness, with a joint reading";
pub const EXAMPLES: &str = "Examples:\n  kandrel randomness demo:harbour claims\n  \
    kandrel randomness demo:harbour berth_fee:ln,d1 --horizons 2,12";

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln,d1
    series: Vec<String>,
    /// Where the runs test cuts the series
    #[arg(long, value_name = "mean|median|VALUE", default_value = "mean", allow_hyphen_values = true, value_parser = cut, help_heading = "Method")]
    about: About,
    /// Lags of the portmanteau tests (default: 10, or two seasons, at most a fifth of the observations)
    #[arg(long, value_name = "N", help_heading = "Method")]
    lags: Option<usize>,
    /// Horizons of the variance ratio (default: 2,4,8,16, at most an eighth of the observations)
    #[arg(long, value_name = "N,N", value_delimiter = ',', help_heading = "Method")]
    horizons: Option<Vec<usize>>,
    /// Significance level of all decisions
    #[arg(long, value_name = "P", default_value = "0.05", value_parser = alpha, help_heading = "Method")]
    alpha: f64,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

/// A cut, and how it was typed.
#[derive(Debug, Clone)]
struct About {
    cut: Cut,
    name: String,
}

fn cut(text: &str) -> Result<About, String> {
    let cut = match text {
        "mean" => Cut::Mean,
        "median" => Cut::Median,
        number => Cut::Value(
            number
                .parse()
                .ok()
                .filter(|value: &f64| value.is_finite())
                .ok_or_else(|| "write mean, median or a number".to_owned())?,
        ),
    };
    let name = if matches!(cut, Cut::Value(_)) { format!("value {text}") } else { text.to_owned() };
    Ok(About { cut, name })
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let request = args.figure.request(args.output.force, context)?;
    let mut session = Session::open(&args.data, context.stdin)?;
    let season = session.season();
    let all = session.series(&args.series)?;
    let results: Vec<randomness::RandomnessResult> =
        all.par_iter().map(|series| one(&session.dataset, series, args, season)).collect::<Result<_, _>>()?;
    let mut files = Files::default();
    request.draw(&mut files, || {
        let (series, correlation) = correlations_of_only(&session.dataset, &all, season)?;
        let (reading, cut) = results.first().map_or(("", 0.0), |one| (one.reading.as_str(), one.cut));
        let pair = [(&series, &correlation)];
        let drawing = figure::acf::with_cut(&pair, reading, &session.dataset, &args.figure.sheet(), cut);
        Ok(drawing)
    })?;
    let documents = results.iter().zip(&all);
    let report = Report::of(
        "randomness",
        &results,
        documents.map(|(result, series)| randomness::document(result, series, &context.call)).collect(),
    )?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

fn one(
    dataset: &Dataset,
    series: &Series,
    args: &Args,
    season: usize,
) -> Result<randomness::RandomnessResult, CliError> {
    let options =
        RandomnessOptions { cut: args.about.cut, lags: args.lags, horizons: args.horizons.clone(), season };
    let randomness_tests =
        randomness_tests(&series.values, &options).map_err(|error| refusal(dataset, series, error))?;
    Ok(randomness::result(series, &randomness_tests, &args.about.name, args.alpha))
}

fn refusal(dataset: &Dataset, series: &Series, error: RandomnessError) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        RandomnessError::InvalidSeries(reason) => {
            wording::unusable(&at, reason, "cannot be tested", |t| series.period(t))
        }
        RandomnessError::OneSided => CliError::call(format!("{at}: --about: {error}"))
            .advise("take a cut between the lowest and the highest value"),
        RandomnessError::Horizon { observations, .. } => CliError::call(format!("{at}: --horizons: {error}"))
            .advise(format!("take horizons between 2 and {}", observations / 2)),
        RandomnessError::Lags { observations, .. } => CliError::call(format!("{at}: --lags: {error}"))
            .advise(format!("take between 1 and {} lags", observations.saturating_sub(1))),
    }
}
