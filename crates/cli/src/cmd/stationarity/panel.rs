//! Several series tested together.

use kandrel_core::series::Series;
use kandrel_core::unitroot::panel::{PanelError, PanelOptions, panel};

use super::Args;
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::model::unit_root_refusal;
use crate::output::Files;
use crate::present::stationarity::{StationarityOrPanel, panel as present};
use crate::read::Dataset;
use crate::session::Session;

pub fn run(
    args: &Args,
    session: &Session<'_>,
    all: &[Series],
    season: usize,
    context: &mut Context<'_>,
) -> Result<(), CliError> {
    check(args)?;
    let dataset = &session.dataset;
    let together = session.over_common_periods(all)?;
    let values: Vec<Vec<f64>> = together.iter().map(|series| series.values.clone()).collect();
    let method = &args.method;
    let options = PanelOptions {
        terms: method.given_terms(),
        lags: method.lags,
        max_lags: method.max_lags,
        bandwidth: method.bandwidth,
    };
    let found = panel(&values, &options).map_err(|error| refused(dataset, &together, error))?;
    let result = present::result(&together, &found, &context.call, method.alpha);
    let documents = vec![present::document(&result)];
    let report = Report::of("stationarity", [StationarityOrPanel::Panel(Box::new(result))], documents)?;
    deliver(&report, dataset, season, &args.output, Files::default(), context)
}

/// Options that one series has and a panel has not.
fn check(args: &Args) -> Result<(), CliError> {
    let method = &args.method;
    let without = [
        (method.tests.is_some(), "--tests"),
        (method.at.is_some(), "--at"),
        (method.breaks.is_some(), "--breaks"),
        (method.break_at.is_some(), "--break-at"),
        (method.bootstrap.is_some(), "--bootstrap"),
        (method.regression, "--regression"),
        (args.figure.figure.is_some(), "--figure"),
    ];
    match without.into_iter().find(|(is_given, _)| *is_given) {
        Some((_, option)) => {
            Err(CliError::call(format!("{option} is for one series at a time, not for --panel"))
                .advise("leave one of them out"))
        }
        None => Ok(()),
    }
}

fn refused(dataset: &Dataset, all: &[Series], error: PanelError) -> CliError {
    match error {
        PanelError::Series { place, reason } => match all.get(place) {
            Some(series) => unit_root_refusal(dataset, series, reason),
            None => CliError::data(reason.to_string()),
        },
        PanelError::OneSeries | PanelError::Lengths => CliError::call(format!("--panel: {error}"))
            .advise("name the series: kandrel stationarity FILE first second --panel"),
        PanelError::Together(reason) => CliError::computation(format!("{}: {reason}", dataset.source))
            .advise("take longer series, fewer lags or other --lags"),
    }
}
