//! What is wrong with an expression, its gaps or its sample, and what to do.

use kandrel_core::decomp::DecompError;
use kandrel_core::outlier::OutlierError;
use kandrel_core::series::{GapsAdvice, SeriesError};
use kandrel_core::time::Period;
use kandrel_core::transform::{EvaluateError, Undefined};

use crate::error::CliError;
use crate::read::Dataset;
use crate::wording;

/// What is missing inside a series.
pub struct Missing<'a> {
    pub periods: &'a [Period],
    /// The rule that suits.
    pub advice: GapsAdvice,
    /// The longest stretch without gaps, where it has half the periods or more.
    pub sample: Option<String>,
    /// Whether the command can leave them open.
    pub keeps: bool,
}

/// Missing values inside a series, with the rule that suits them, and the others.
pub fn gaps_error(dataset: &Dataset, text: &str, missing: &Missing<'_>) -> CliError {
    let error = CliError::data(format!(
        "{}, {text}: values are missing in {}",
        dataset.source,
        wording::periods(missing.periods)
    ));
    let (rule, why) = wording::gaps_rule(missing.advice);
    let first = match (rule, missing.keeps) {
        (Some(rule), _) => format!("fill them with --gaps {rule}: {why}"),
        (None, true) => format!("leave them open with --gaps keep: {why}"),
        (None, false) => format!("{why}: take a part with --sample"),
    };
    let kept = (missing.keeps && rule.is_some()).then(|| "or leave them open with --gaps keep".to_owned());
    let dropped = match missing.advice {
        GapsAdvice::Previous => "or count days with a value only, with --gaps drop".to_owned(),
        _ => "or leave them out with --gaps drop".to_owned(),
    };
    let sample = missing
        .sample
        .as_ref()
        .map(|sample| format!("or take the longest stretch without gaps with --sample {sample}"));
    std::iter::once(first).chain(kept).chain([dropped]).chain(sample).fold(error, CliError::advise)
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
            let missing = Missing { periods: &periods, advice: GapsAdvice::None, sample: None, keeps: false };
            gaps_error(dataset, text, &missing)
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
