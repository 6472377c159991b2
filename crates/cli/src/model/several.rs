//! Several series over the periods they have in common, and refusals that name them.

use kandrel_core::coint::CointError;
use kandrel_core::num::scale::InvalidSeries;
use kandrel_core::series::Series;
use kandrel_core::var::{SystemColumn, VarError, VarInput, estimate, residual_checks};
use rayon::prelude::*;

use super::correlation::diagnosis;
use crate::error::CliError;
use crate::present::diagnosis::SeriesDiagnosis;
use crate::present::lags::Checked;
use crate::read::Dataset;
use crate::wording;

/// Lags that the portmanteau looks at without a season, and at most.
const USUAL_REACH: usize = 8;
const LONGEST_REACH: usize = 12;
/// Lags that the multiplier looks at.
const RECENT: usize = 4;

/// The joint assessment of each series.
pub fn diagnoses(all: &[Series], season: usize) -> Vec<SeriesDiagnosis> {
    let of = |series: &Series| SeriesDiagnosis {
        series: series.name.clone(),
        diagnosis: diagnosis(&series.clone().into(), season),
    };
    all.par_iter().map(of).collect()
}

/// Estimates an order and looks at its residuals: over a season, or eight lags without one.
pub fn checked(input: VarInput<'_>, lags: usize) -> Result<Checked, VarError> {
    let fit = estimate(input, lags)?;
    let wide = if input.season > 1 { input.season.min(LONGEST_REACH) } else { USUAL_REACH };
    let reach = wide.min(fit.rows / 5).max(1);
    Ok(Checked {
        lags,
        checks: residual_checks(&fit, reach, reach.min(RECENT)),
        spare: fit.rows as f64 / fit.columns.len().max(1) as f64,
        moduli: fit.moduli(),
    })
}

/// What is wrong with a system of these series and their exogenous variables.
pub fn var_refusal(dataset: &Dataset, all: &[Series], exogenous: &[Series], error: VarError) -> CliError {
    let named =
        |place: usize| all.iter().chain(exogenous).nth(place).map_or("", |series| series.name.as_str());
    let at = |place: usize| format!("{}, {}", dataset.source, named(place));
    match error {
        VarError::TooShort { .. } => CliError::data(format!("{}: {error}", dataset.source))
            .advise("take longer series, a wider --sample or fewer series"),
        VarError::TooManyLags { most, .. } => {
            CliError::call(format!("{}: {error} of {} series", dataset.source, all.len()))
                .advise(format!("take {most} or fewer, or fewer series"))
        }
        VarError::Series { series, reason } => unusable(&at(series), reason, all),
        VarError::Collinear { column } => {
            let what = match column {
                SystemColumn::Constant => "the constant".to_owned(),
                SystemColumn::Trend => "the trend".to_owned(),
                SystemColumn::Season(place) => format!("the seasonal dummy {place}"),
                SystemColumn::Exogenous(place) => named(all.len() + place).to_owned(),
                SystemColumn::Lag { series, lag } => format!("{}[t-{lag}]", named(series)),
            };
            CliError::computation(format!(
                "{}: {what} is an exact combination of the other regressors",
                dataset.source
            ))
            .advise("leave out a series or a column that follows from the others, or take fewer lags")
        }
        VarError::PerfectFit { series } => CliError::computation(format!(
            "{} follows the others or its own past without any error",
            at(series)
        ))
        .advise("leave it out: there is nothing to estimate"),
    }
}

/// What is wrong with series that are tested for cointegration.
pub fn coint_refusal(dataset: &Dataset, all: &[Series], error: CointError) -> CliError {
    let named = |place: usize| all.get(place).map_or("", |series| series.name.as_str());
    let at = |place: usize| format!("{}, {}", dataset.source, named(place));
    match error {
        CointError::Count { .. } => {
            CliError::call(error.to_string()).advise("name the series: kandrel cointegration FILE a b")
        }
        CointError::TooShort { .. } => CliError::data(format!("{}: {error}", dataset.source))
            .advise("take longer series, a wider --sample or fewer series"),
        CointError::TooManyLags { most, .. } => CliError::call(format!("{}: {error}", dataset.source))
            .advise(format!("take --lags {most} or fewer")),
        CointError::NoLags => CliError::call(error.to_string()).advise("take --lags 1 or more"),
        CointError::Series { series, reason } => unusable(&at(series), reason, all),
        CointError::Collinear { series } => CliError::computation(format!(
            "{} is an exact combination of the other series, or does not enter the relations",
            at(series)
        ))
        .advise("leave out a series that follows from the others, or name another first"),
        CointError::UnitsApart { large, small } => CliError::computation(format!(
            "{}: {} and {} are in units too far apart for relations between them to be numbers",
            dataset.source,
            named(large),
            named(small)
        ))
        .advise("rescale them first: NAME/1e6 or 1e6*NAME instead of NAME"),
        CointError::Residuals(_) | CointError::NoDistribution => {
            CliError::computation(format!("{}: {error}", dataset.source))
                .advise("take longer series or fewer lags")
        }
    }
}

/// One of several series over the same periods.
fn unusable(at: &str, reason: InvalidSeries, all: &[Series]) -> CliError {
    let constant = "explains nothing";
    all.first().map_or_else(
        || CliError::data(format!("{at}: {reason}")),
        |first| wording::unusable(at, reason, constant, |t| first.period(t)),
    )
}
