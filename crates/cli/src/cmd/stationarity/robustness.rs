//! The verdict over sub-samples, terms, lag rules and bandwidths.

use kandrel_core::robustness::robustness;
use kandrel_core::series::Series;
use rayon::prelude::*;

use super::Args;
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::model::unit_root_refusal;
use crate::output::Files;
use crate::present::stationarity::{StationarityOrPanel, robustness as present};
use crate::session::Session;

pub fn run(
    args: &Args,
    session: &Session<'_>,
    all: &[Series],
    season: usize,
    context: &mut Context<'_>,
) -> Result<(), CliError> {
    let dataset = &session.dataset;
    let method = &args.method;
    let options = method.assessment(season);
    let of = |series: &Series| {
        let found = robustness(&series.values, &options)
            .map_err(|error| unit_root_refusal(dataset, series, error))?;
        Ok(present::result(series, &found, method.alpha))
    };
    let results: Vec<present::RobustnessResult> = all.par_iter().map(of).collect::<Result<_, CliError>>()?;
    let documents = results.iter().map(|one| present::document(one, &context.call)).collect();
    let results = results.into_iter().map(|one| StationarityOrPanel::Robustness(Box::new(one)));
    let report = Report::of("stationarity", results, documents)?;
    deliver(&report, dataset, season, &args.output, Files::default(), context)
}
