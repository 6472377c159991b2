//! `kandrel cointegration`: cointegration among series with unit roots.

use crate::args::{Choices, DataArgs, FigureArgs, OutputArgs, alpha, one_of};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::model::{checked, coint_refusal, diagnoses, var_refusal};
use crate::output::Files;
use crate::present::cointegration::{self as text, CointegrationFindings, SystemFound};
use crate::present::lags::{self, Checked};
use crate::read::Dataset;
use crate::session::Session;
use crate::wording;
use kandrel_core::coint::{
    CointError, ResidualOptions, SystemInput, bartlett, relations, residual_tests, suggested_terms, system,
};
use kandrel_core::lag::{Criterion, LagRule};
use kandrel_core::nulldist::{MAX_COMMON_TRENDS, SystemTerms, Terms};
use kandrel_core::series::Series;
use kandrel_core::var::{LagTerms, VarError, VarInput, default_most_lags, lag_table};

pub const ABOUT: &str =
    "Cointegration: residual-based and system tests, cointegrating relations, adjustment coefficients";
pub const EXAMPLES: &str = "Examples:\n  kandrel cointegration demo:region wages rents output\n  \
    kandrel cointegration demo:charters lighter coaster feeder bulker --lags 2\n  \
    kandrel cointegration demo:region wages rents --terms restricted-constant --bartlett";

/// The largest default order.
const MOST_LAGS: usize = 8;
/// Replications of a Bartlett correction.
const DRAWS: usize = 999;

/// Fixed terms of the system.
const TERMS: Choices<SystemTerms> = &[
    ("none", SystemTerms::None, ""),
    ("restricted-constant", SystemTerms::ConstantIn, ""),
    ("constant", SystemTerms::Constant, ""),
    ("restricted-trend", SystemTerms::TrendIn, ""),
    ("trend", SystemTerms::Trend, ""),
];

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: wages:ln
    series: Vec<String>,
    /// The series that relations are written for (the first if not given)
    #[arg(long, value_name = "SERIES", help_heading = "Method")]
    target: Option<String>,
    /// Fixed terms, inside the relations (-in) or unrestricted (suggested by the data if not given)
    #[arg(long, value_name = "TERMS", value_parser = one_of(TERMS), help_heading = "Method")]
    terms: Option<SystemTerms>,
    /// Lags of the levels (by criteria and residual checks if not given); one fewer of the changes
    #[arg(long, value_name = "N", help_heading = "Method")]
    lags: Option<usize>,
    /// Bartlett correction of the trace statistics by 999 simulated systems
    #[arg(long, help_heading = "Method")]
    bartlett: bool,
    /// Seed of the simulation
    #[arg(long, value_name = "N", default_value_t = 1, requires = "bartlett", help_heading = "Method")]
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
    let all = session.in_common(&ordered(args)?)?;
    let findings = found(args, &session.dataset, &all, season)?;
    let target = all.first().ok_or_else(too_few)?;
    let result = text::result(target, &all, &findings, args.alpha);
    let mut files = Files::default();
    request.draw(&mut files, || {
        let plot = text::plot(&result, &findings, &all, session.dataset.file_name());
        Ok(figure::plot::drawing(&plot, &args.figure.sheet()))
    })?;
    let report = Report::of("cointegration", [&result], vec![text::document(&result, &context.call)])?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

fn too_few() -> CliError {
    CliError::call("cointegration needs at least two series")
        .advise("name them: kandrel cointegration FILE first second")
}

/// The series with the target first.
fn ordered(args: &Args) -> Result<Vec<String>, CliError> {
    if args.series.len() < 2 {
        return Err(too_few());
    }
    let Some(target) = &args.target else {
        return Ok(args.series.clone());
    };
    if !args.series.contains(target) {
        return Err(CliError::call(format!("--target {target} is not among the series"))
            .advise(format!("they are {}", wording::list(&args.series))));
    }
    let others = args.series.iter().filter(|name| *name != target);
    Ok(std::iter::once(target).chain(others).cloned().collect())
}

fn found(
    args: &Args,
    dataset: &Dataset,
    all: &[Series],
    season: usize,
) -> Result<CointegrationFindings, CliError> {
    let refused = |error: CointError| coint_refusal(dataset, all, error);
    let values: Vec<&[f64]> = all.iter().map(|series| series.values.as_slice()).collect();
    let is_system = values.len() <= MAX_COMMON_TRENDS;
    let lags = match args.lags {
        Some(lags) => lags,
        None if is_system => {
            chosen_lags(&values, season, args.alpha).map_err(|error| var_refusal(dataset, all, &[], error))?
        }
        None => 1,
    };
    let suggestion =
        is_system.then(|| suggested_terms(&values, lags, args.alpha)).transpose().map_err(refused)?;
    let terms = match (args.terms, &suggestion) {
        (Some(given), _) => given,
        (None, Some(suggested)) => suggested.terms,
        (None, None) => SystemTerms::Constant,
    };
    let rule = match args.lags {
        Some(lags) => LagRule::Given(lags.saturating_sub(1)),
        None => LagRule::Criterion(Criterion::Aic),
    };
    let options = ResidualOptions { terms: residual_terms(terms), lags: rule, bandwidth: None };
    let residual = residual_tests(&values, &options).map_err(refused)?;
    let of_system = if is_system {
        let input = SystemInput { series: &values, lags, terms };
        let found = system(input).map_err(refused)?;
        let rank = found.rank(args.alpha);
        let shown = rank.min(values.len() - 1);
        Some(SystemFound {
            rank,
            relations: (shown > 0).then(|| relations(&found, shown)).transpose().map_err(refused)?,
            bartlett: args
                .bartlett
                .then(|| bartlett(input, DRAWS, args.seed))
                .transpose()
                .map_err(refused)?
                .unwrap_or_default(),
            system: found,
        })
    } else {
        None
    };
    Ok(CointegrationFindings {
        diagnoses: diagnoses(all, season),
        residual,
        system: of_system,
        suggestion: suggestion.filter(|_| args.terms.is_none()),
        draws: args.bartlett.then_some((DRAWS, args.seed)),
    })
}

/// The terms of a single relation that go with those of a system.
fn residual_terms(terms: SystemTerms) -> Terms {
    match terms {
        SystemTerms::None => Terms::None,
        SystemTerms::ConstantIn | SystemTerms::Constant => Terms::Constant,
        SystemTerms::TrendIn | SystemTerms::Trend => Terms::Trend,
    }
}

/// The order of the levels: the smallest that a criterion chooses and whose residuals look white,
/// else the largest of those; one at least.
fn chosen_lags(values: &[&[f64]], season: usize, alpha: f64) -> Result<usize, VarError> {
    let input = VarInput { series: values, exogenous: &[], terms: LagTerms::Constant, season };
    let most = default_most_lags(input, MOST_LAGS)?;
    let chosen = lag_table(input, most)?.chosen;
    let mut orders = [chosen.bic, chosen.hq, chosen.aic].map(|order| order.max(1));
    orders.sort_unstable();
    let looked_at: Vec<Checked> =
        orders.iter().map(|order| checked(input, *order)).collect::<Result<_, _>>()?;
    Ok(lags::recommended(&looked_at, alpha))
}
