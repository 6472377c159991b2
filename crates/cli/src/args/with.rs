use clap::Args;
use kandrel_core::expr;
use kandrel_core::time::Period;
use kandrel_core::unitroot::verdict::MOST_PLACES;

use super::data::DataArgs;
use crate::error::CliError;
use crate::model::{Regressor, Regressors, Source};
use crate::read::Dataset;

/// What stands beside a model.
#[derive(Args, Clone)]
pub struct WithArgs {
    /// Regressors, separated by commas: columns, (a:ln,d1), step=PERIOD, pulse=PERIOD, bend=PERIOD, trend, seasons, workdays
    #[arg(long = "with", value_name = "COLUMNS", help_heading = "Method")]
    pub terms: Option<String>,
}

impl WithArgs {
    /// Finds the regressors.
    pub fn regressors(
        &self,
        data: &DataArgs,
        dataset: &mut Dataset,
        season: usize,
    ) -> Result<Regressors, CliError> {
        match &self.terms {
            None => Ok(Regressors::default()),
            Some(text) => regressors(text, data, dataset, season),
        }
    }
}

/// The regressors of a list of terms.
pub fn regressors(
    text: &str,
    data: &DataArgs,
    dataset: &mut Dataset,
    season: usize,
) -> Result<Regressors, CliError> {
    let mut all = Vec::new();
    for term in expr::terms(text) {
        all.extend(term_of(term, data, dataset, season)?);
    }
    if all.is_empty() {
        return Err(CliError::call("--with names nothing").advise("write columns, separated by commas"));
    }
    Ok(Regressors { text: Some(text.to_owned()), all })
}

/// The regressors of one term.
fn term_of(
    term: &str,
    data: &DataArgs,
    dataset: &mut Dataset,
    season: usize,
) -> Result<Vec<Regressor>, CliError> {
    match known_everywhere(term, dataset, season)? {
        Some(found) => Ok(found),
        None => of_expression(term, data, dataset),
    }
}

/// The regressors of a term that has a value in any period: steps, pulses, bends, a trend, places
/// of the season, workdays; none for a column or an expression.
pub fn known_everywhere(
    term: &str,
    dataset: &Dataset,
    season: usize,
) -> Result<Option<Vec<Regressor>>, CliError> {
    let one = |source: Source| Ok(Some(vec![Regressor { name: term.to_owned(), source }]));
    let start = dataset.frame.start;
    if dataset.has_column(term) {
        return Ok(None);
    }
    if let Some((word @ ("step" | "pulse" | "bend"), text)) = term.split_once('=') {
        let (first, last) = Period::parse_range(text, dataset.frame.frequency()).map_err(|error| {
            CliError::call(format!("{term}: {error}"))
                .advise(format!("write a period, as {word}={}", dataset.frame.last()))
        })?;
        return one(match word {
            "step" => Source::Step(first),
            "pulse" => Source::Pulse(first, last),
            _ => Source::Bend(last),
        });
    }
    match term {
        "trend" => one(Source::Trend(start)),
        "workdays" => {
            if !dataset.is_dated() {
                return Err(CliError::data("workdays: the rows have no dates".to_owned())
                    .advise("name the time column with --time"));
            }
            one(Source::Workdays)
        }
        "seasons" => seasons(season, start).map(Some),
        _ => Ok(None),
    }
}

fn seasons(season: usize, start: Period) -> Result<Vec<Regressor>, CliError> {
    if season < 2 {
        return Err(CliError::call("seasons: the data have no season")
            .advise("give the number of observations in a season with --season N"));
    }
    if season > MOST_PLACES {
        return Err(CliError::call(format!(
            "seasons: a season of {season} has more places than can be told apart; {MOST_PLACES} at most"
        ))
        .advise("take seasonal orders, as (1,0,0)(0,1,1)365, or the step deseason"));
    }
    let length = i64::try_from(season).unwrap_or(i64::MAX);
    let place = |place: i64| Regressor {
        name: format!("season_{}", place + 1),
        source: Source::Season { length, place, start },
    };
    Ok((1..length).map(place).collect())
}

fn of_expression(term: &str, data: &DataArgs, dataset: &mut Dataset) -> Result<Vec<Regressor>, CliError> {
    let series = data.whole_series(dataset, term)?;
    let values = series.cells.iter().enumerate().filter_map(|(t, cell)| Some((series.period(t), (*cell)?)));
    Ok(vec![Regressor { name: term.to_owned(), source: Source::Known(values.collect()) }])
}
