//! `kandrel stationarity`: unit-root and stationarity tests and what follows.

mod method;
mod panel;
mod picture;
mod robustness;
mod rolling;
mod shown;

use kandrel_core::diagnosis::Diagnosis;
use kandrel_core::num::scale::InvalidSeries;
use kandrel_core::power::{PowerOptions, root_found_by_adf};
use kandrel_core::series::Series;
use kandrel_core::unitroot::{SEGMENTS, TestName, UnitRootError, moments};
use kandrel_core::verdict::{Assessment, assess};
use rayon::prelude::*;

use self::method::MethodArgs;
use self::shown::{Request, before_break, shown};
use crate::args::{DataArgs, FigureArgs, OutputArgs};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::{Extent, Report, to_json};
use crate::error::CliError;
use crate::model::unit_root_refusal;
use crate::output::Files;
use crate::output::only_one;
use crate::present::stationarity;
use crate::present::stationarity::{StationarityOrPanel, StationarityResult};
use crate::read::Dataset;
use crate::session::Session;

pub const ABOUT: &str = "Unit-root and stationarity tests at level and difference, with a joint verdict";
pub const EXAMPLES: &str = "Examples:\n  kandrel stationarity demo:harbour berth_fee\n  \
    kandrel stationarity demo:harbour freight:ln --terms trend --lags bic\n  \
    kandrel stationarity demo:harbour tug_hours --tests all";

/// Observations a series needs so that its differences can be tested too.
const MIN_OBSERVATIONS_TESTED: usize = 20;
/// The power of ADF is quoted up to this length: longer series find any root that is worth finding.
const LONGEST_FOR_POWER: usize = 1_000;
/// Series drawn for it at each root, and their seed.
const DRAWS: usize = 100;
const SEED: u64 = 1;

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln
    series: Vec<String>,
    #[command(flatten)]
    method: MethodArgs,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    args.method.check()?;
    let request = args.figure.request(args.output.force, context)?;
    let mut session = Session::open(&args.data, context.stdin)?;
    let season = session.season();
    let all = session.series(&args.series)?;
    if args.method.panel {
        return panel::run(args, &session, &all, season, context);
    }
    if args.method.robustness {
        return robustness::run(args, &session, &all, season, context);
    }
    if let Some(window) = args.method.rolling {
        return rolling::run(args, &session, &all, (season, usize::from(window)), context);
    }
    let setting = stationarity::Setting {
        call: &context.call,
        alpha: args.method.alpha,
        bootstrap: args.method.drawing(),
    };
    let found: Vec<(Assessment, StationarityResult)> = all
        .par_iter()
        .map(|series| one(&session.dataset, series, args, season, setting))
        .collect::<Result<_, _>>()?;
    let documents = match (found.as_slice(), all.as_slice()) {
        ([(_, result)], [series]) => {
            let document = stationarity::document(result, series, args.method.regression);
            // Tests that are named are shown with all their tables.
            let named = args.method.tests.is_some() && !args.output.brief;
            vec![if named { document.at(Extent::Whole) } else { document }]
        }
        (several, _) => {
            let results: Vec<&StationarityResult> = several.iter().map(|(_, result)| result).collect();
            vec![stationarity::overview(&results, &context.call)]
        }
    };
    let mut files = Files::default();
    request.draw(&mut files, || {
        let (series, (assessment, result)) = (only_one(&all)?, only_one(&found)?);
        let sheet = args.figure.sheet();
        let drawing = picture::draw(&session.dataset, series, assessment, result, season, &sheet)?;
        Ok(drawing)
    })?;
    let one = |(_, result)| to_json(&StationarityOrPanel::One(Box::new(result)));
    let results = found.into_iter().map(one).collect::<Result<_, _>>()?;
    let report = Report { command: "stationarity", documents, results, ..Report::default() };
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

fn one(
    dataset: &Dataset,
    series: &Series,
    args: &Args,
    season: usize,
    setting: stationarity::Setting<'_>,
) -> Result<(Assessment, StationarityResult), CliError> {
    let observations = series.values.len();
    if observations < MIN_OBSERVATIONS_TESTED {
        let error = UnitRootError::InvalidSeries(InvalidSeries::TooShort {
            observations,
            needed: MIN_OBSERVATIONS_TESTED,
        });
        return Err(unit_root_refusal(dataset, series, error));
    }
    let method = &args.method;
    let known =
        method.break_at.as_ref().map(|text| before_break(series, &dataset.standard(text))).transpose()?;
    let options = method.assessment(season);
    let refused = |error| unit_root_refusal(dataset, series, error);
    let assessment = assess(&series.values, &options).map_err(refused)?;
    let request = Request { args: method, season, known, quiet: args.output.quiet };
    let diagnosis = Diagnosis::from_assessment(&series.values, season, assessment);
    let (shown, left_out) = shown(series, &diagnosis.assessment, request).map_err(refused)?;
    let with_adf = shown.iter().any(|one| one.test.test == TestName::Adf);
    let found = stationarity::StationarityFindings {
        diagnosis: &diagnosis,
        shown,
        left_out,
        moments: moments(&series.values, SEGMENTS),
        root_found_by_adf: (with_adf && observations <= LONGEST_FOR_POWER)
            .then(|| {
                root_found_by_adf(
                    &diagnosis.assessment,
                    &PowerOptions { assess: options, draws: DRAWS, seed: SEED },
                )
            })
            .flatten(),
    };
    let result = stationarity::result(series, &found, setting);
    Ok((diagnosis.assessment, result))
}
