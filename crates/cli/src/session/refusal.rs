//! What is wrong with an expression, its gaps or its sample, and what to do.

use kandrel_core::decomp::DecompError;
use kandrel_core::outlier::OutlierError;
use kandrel_core::series::SeriesError;
use kandrel_core::time::Period;
use kandrel_core::transform::{EvaluateError, Undefined};

use crate::error::CliError;
use crate::read::Dataset;
use crate::wording;

/// Missing values inside a series, with the sample that has none.
pub fn gaps_error(
    dataset: &Dataset,
    text: &str,
    periods: &[Period],
    stretch: Option<&str>,
    keeps: bool,
) -> CliError {
    let sample = stretch.map_or("--sample".to_owned(), |stretch| format!("--sample {stretch}"));
    let error = CliError::data(format!(
        "{}, {text}: values are missing in {}",
        dataset.source,
        wording::periods(periods)
    ))
    .advise("fill them with --gaps linear, seasonal or previous");
    let error = if keeps { error.advise("or leave them open with --gaps keep") } else { error };
    error
        .advise("or leave them out with --gaps drop")
        .advise(format!("or take the longest stretch without gaps with {sample}"))
}

/// An expression that has no values.
pub fn evaluation_error(dataset: &Dataset, text: &str, error: EvaluateError) -> CliError {
    let at = format!("{}, {text}", dataset.source);
    let span = format!("the data run from {} to {}", dataset.frame.start, dataset.frame.last());
    match error {
        EvaluateError::UnknownColumn(name) => dataset.unknown_column(&name),
        EvaluateError::Undefined { period, why } => {
            let (what, advice) = undefined(why);
            CliError::data(format!("{at}: {what} in {period}"))
                .advise(format!("{advice}, or use --sample to leave out the period"))
        }
        EvaluateError::NoColumn => CliError::call(format!("{at}: there is no column in it"))
            .advise(format!("name one of {}", wording::list(&dataset.numeric_names()))),
        EvaluateError::Undated => {
            CliError::data(format!("{at}: calendar steps need dates, and the rows have none"))
                .advise("name the time column with --time")
        }
        EvaluateError::NoBase { period } => {
            CliError::data(format!("{at}: there is no value in {period} to be 100")).advise(span)
        }
        EvaluateError::Open => CliError::computation(format!("{at}: {error}")),
        EvaluateError::Season(DecompError::NoSeason) | EvaluateError::Repair(OutlierError::NoSeason) => {
            CliError::call(format!("{at}: {error}"))
                .advise("give the number of observations in a season with --season N")
        }
        EvaluateError::Season(_) | EvaluateError::Repair(_) => {
            CliError::data(format!("{at}: {error}")).advise("take a longer series or leave the step out")
        }
        EvaluateError::BoxCox(reason) => CliError::data(format!("{at}: no λ can be chosen: {reason}"))
            .advise("write the λ yourself, as boxcox=0.5, or take a longer series"),
        EvaluateError::TooFew { .. } => {
            CliError::data(format!("{at}: {error}")).advise("use a longer series or a wider --sample")
        }
        EvaluateError::NoVariation => {
            CliError::data(format!("{at}: the series is constant")).advise("check the column or the --sample")
        }
        EvaluateError::Series(SeriesError::Empty) => {
            CliError::data(format!("{at}: no values in the periods asked for")).advise(span)
        }
        EvaluateError::Series(SeriesError::Gaps { periods }) => {
            gaps_error(dataset, text, &periods, None, false)
        }
    }
}

/// What has no result, and what to do.
fn undefined(why: Undefined) -> (String, &'static str) {
    match why {
        Undefined::Logarithm(value) => {
            (format!("no logarithm of {value}"), "logarithms need values above zero: leave the step out")
        }
        Undefined::Power(value) => (format!("no such root or power of {value}"), "leave the step out"),
        Undefined::Division => ("a division by zero".to_owned(), "divide by something else"),
        Undefined::TooLarge => ("a number too large to compute with".to_owned(), "rescale the series"),
    }
}
