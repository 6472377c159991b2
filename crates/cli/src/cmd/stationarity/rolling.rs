//! Tests over rolling and recursive windows.

use kandrel_core::robustness::{WindowError, Windows, windows};
use kandrel_core::series::Series;

use super::{Args, MIN_OBSERVATIONS_TESTED};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::model::unit_root_refusal;
use crate::output::{Files, only_one};
use crate::present::stationarity::{StationarityOrPanel, windows as present};
use crate::read::Dataset;
use crate::session::Session;

pub fn run(
    args: &Args,
    session: &Session<'_>,
    all: &[Series],
    (season, window): (usize, usize),
    context: &mut Context<'_>,
) -> Result<(), CliError> {
    let request = args.figure.request(args.output.force, context)?;
    let dataset = &session.dataset;
    if window < MIN_OBSERVATIONS_TESTED {
        return Err(CliError::call(format!("--rolling {window}: a window has too few observations"))
            .advise(format!("take windows of {MIN_OBSERVATIONS_TESTED} at least")));
    }
    let method = &args.method;
    let options = method.assessment(season);
    let of = |series: &Series| {
        windows(&series.values, window, &options).map_err(|error| refused(dataset, series, &error))
    };
    let found: Vec<Windows> = all.iter().map(of).collect::<Result<_, _>>()?;
    let results: Vec<present::WindowsResult> =
        all.iter().zip(&found).map(|(series, own)| present::result(series, own, method.alpha)).collect();
    let mut files = Files::default();
    request.draw(&mut files, || {
        let plot = present::plot(only_one(&results)?, only_one(all)?, only_one(&found)?, dataset.file_name());
        Ok(figure::plot::drawing(&plot, &args.figure.sheet()))
    })?;
    let documents = results.iter().map(|one| present::document(one, &context.call)).collect();
    let results = results.into_iter().map(|one| StationarityOrPanel::Windows(Box::new(one)));
    let report = Report::of("stationarity", results, documents)?;
    deliver(&report, dataset, season, &args.output, files, context)
}

fn refused(dataset: &Dataset, series: &Series, error: &WindowError) -> CliError {
    match error {
        WindowError::Series(reason) => unit_root_refusal(dataset, series, *reason),
        WindowError::TooLong { observations, .. } => {
            CliError::data(format!("--rolling, {}: {error}", series.name))
                .advise(format!("take windows of {observations} at most"))
        }
    }
}
