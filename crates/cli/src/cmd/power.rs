//! `kandrel power`: the power of the tests at this length.

use crate::args::{Choices, DataArgs, FigureArgs, OutputArgs, alpha, one_of};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::model::unit_root_refusal;
use crate::output::{Files, only_one};
use crate::present::power::{self as text, PowerResult};
use crate::progress::Progress;
use crate::session::Session;
use kandrel_core::lag::LagRule;
use kandrel_core::nulldist::Terms;
use kandrel_core::power::{PowerError, PowerOptions, power};
use kandrel_core::verdict::{AssessOptions, TermsRule};

pub const ABOUT: &str = "Power of the unit-root tests for a series of this length and these dynamics";
pub const EXAMPLES: &str = "Examples:\n  kandrel power demo:harbour waiting --draws 50\n  \
    kandrel power demo:region wages --terms trend --draws 50 --figure power.svg";

/// Deterministic terms of the tests.
const TERMS: Choices<TermsRule> = &[
    ("auto", TermsRule::Auto, "As stationarity takes them for this series"),
    ("none", TermsRule::Given(Terms::None), ""),
    ("constant", TermsRule::Given(Terms::Constant), ""),
    ("trend", TermsRule::Given(Terms::Trend), ""),
];

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln
    series: Vec<String>,
    /// Deterministic terms at the level
    #[arg(long, default_value = "auto", value_parser = one_of(TERMS), help_heading = "Method")]
    terms: TermsRule,
    /// Lagged differences in the regressions: a number, or chosen by a criterion or by t-ratios
    #[arg(long, value_name = "N|aic|bic|hq|maic|t", default_value = "aic", help_heading = "Method")]
    lags: LagRule,
    /// Replications for each root
    #[arg(long, value_name = "N", default_value_t = 200, value_parser = clap::value_parser!(u16).range(50..=10_000), help_heading = "Method")]
    draws: u16,
    /// Seed of the simulation
    #[arg(long, value_name = "N", default_value_t = 1, help_heading = "Method")]
    seed: u64,
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
    let all = session.series(&args.series)?;
    let draws = usize::from(args.draws);
    let assess = AssessOptions {
        terms: args.terms,
        lags: args.lags,
        alpha: args.alpha,
        season,
        ..AssessOptions::default()
    };
    let options = PowerOptions { assess, draws, seed: args.seed };
    let mut found: Vec<PowerResult> = Vec::new();
    for series in &all {
        let progress = Progress::new("roots", 0, args.output.quiet);
        let reach = |done: usize, all: usize| progress.reach_of(done as u64, all as u64);
        let own = power(&series.values, &options, reach).map_err(|error| match error {
            PowerError::Verdict(reason) => unit_root_refusal(&session.dataset, series, reason),
            PowerError::Draws { .. } => CliError::call(format!("--draws: {error}")),
        })?;
        found.push(text::result(series, &own, args.alpha, draws, args.seed));
    }
    let mut files = Files::default();
    request.draw(&mut files, || {
        let plot = text::plot(only_one(&found)?, session.dataset.file_name());
        Ok(figure::plot::drawing(&plot, &args.figure.sheet()))
    })?;
    let documents = found.iter().map(|one| text::document(one, &context.call)).collect();
    let report = Report::of("power", &found, documents)?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}
