use clap::Args;
use kandrel_core::expr::{self, EvaluateError, Expression};
use kandrel_core::series::{Series, SeriesError, Span};

use crate::context::Context;
use crate::error::CliError;
use crate::read::{self, Dataset};
use crate::words;

/// Where the data are and which part is used.
#[derive(Args, Clone)]
pub struct DataArgs {
    /// CSV file with a header, `-` for standard input, or demo:NAME
    pub file: String,
    /// Time column (found by itself if not named)
    #[arg(long, value_name = "COLUMN", help_heading = "Data")]
    pub time: Option<String>,
    /// Periods to use, either end open: 2004-01..2019-12, 2004.., ..2019
    #[arg(long, value_name = "FROM..TO", help_heading = "Data")]
    pub sample: Option<String>,
    /// Observations in a season (from the frequency if not given; 1 for none)
    #[arg(long, value_name = "N", help_heading = "Data", value_parser = clap::value_parser!(u32).range(1..))]
    pub season: Option<u32>,
}

impl DataArgs {
    /// Reads the file.
    pub fn read(&self, context: &mut Context<'_>) -> Result<Dataset, CliError> {
        read::open(&self.file, self.time.as_deref(), context.stdin)
    }

    /// The seasonal period in force.
    pub fn season(&self, dataset: &Dataset) -> usize {
        self.season
            .and_then(|season| usize::try_from(season).ok())
            .unwrap_or_else(|| dataset.frame.frequency().season())
    }

    /// The periods to use.
    pub fn span(&self, dataset: &Dataset) -> Result<Span, CliError> {
        let Some(text) = &self.sample else {
            return Ok(Span::default());
        };
        Span::parse(text, dataset.frame.frequency()).map_err(|error| {
            CliError::call(format!("--sample: {error}")).advise(format!(
                "the data are {} and run from {} to {}: write --sample {}..{}",
                dataset.frame.frequency().adjective(),
                dataset.frame.start,
                dataset.frame.last(),
                dataset.frame.start,
                dataset.frame.last()
            ))
        })
    }

    /// The series of the expressions; of the only numeric column if there are none.
    pub fn series(&self, dataset: &Dataset, expressions: &[String]) -> Result<Vec<Series>, CliError> {
        let span = self.span(dataset)?;
        let named = if expressions.is_empty() { vec![only_column(dataset)?] } else { expressions.to_vec() };
        named.iter().map(|text| one_series(dataset, text, span)).collect()
    }
}

fn only_column(dataset: &Dataset) -> Result<String, CliError> {
    let names = dataset.numeric_names();
    match names.as_slice() {
        [only] => Ok(format!("`{only}`")),
        [] => Err(CliError::data(format!("{} has no column of numbers", dataset.source))),
        several => Err(CliError::call("which series? name one or more").advise(format!(
            "{} has {}",
            dataset.source,
            words::list(several)
        ))),
    }
}

fn one_series(dataset: &Dataset, text: &str, span: Span) -> Result<Series, CliError> {
    let expression = expr::parse(text).map_err(|error| words::expression_error(text, &error))?;
    dataset.check_usable(&expression.column)?;
    check_reach(dataset, &expression)?;
    let mut series = expr::evaluate(&expression, &dataset.frame, span)
        .map_err(|error| evaluation_error(dataset, text, error))?;
    // Back-quotes are for typing; sentences are clearer without them.
    series.name = series.name.replace('`', "");
    Ok(series)
}

/// Refuses differences that reach back beyond the whole of the data.
fn check_reach(dataset: &Dataset, expression: &Expression) -> Result<(), CliError> {
    let reach = expression.steps.iter().fold(0_usize, |sum, step| sum.saturating_add(step.loss()));
    let length = dataset.frame.length;
    if reach < length {
        return Ok(());
    }
    let (source, text) = (&dataset.source, &expression.text);
    Err(CliError::data(format!(
        "{source}, {text}: its differences reach {reach} periods back, and the data have {length}"
    ))
    .advise("difference at smaller lags"))
}

fn evaluation_error(dataset: &Dataset, text: &str, error: EvaluateError) -> CliError {
    let source = &dataset.source;
    match error {
        EvaluateError::UnknownColumn(name) => dataset.unknown_column(&name),
        EvaluateError::Logarithm { period, value } => CliError::data(format!(
            "{source}, {text}: no logarithm of {value} in {period}"
        ))
        .advise("logarithms need values above zero: leave out :ln, or use --sample to leave out the period"),
        EvaluateError::Series(SeriesError::Empty) => CliError::data(format!(
            "{source}, {text}: no values in the periods asked for"
        ))
        .advise(format!("the data run from {} to {}", dataset.frame.start, dataset.frame.last())),
        EvaluateError::Series(SeriesError::Gaps { periods }) => {
            CliError::data(format!("{source}, {text}: values are missing in {}", words::periods(&periods)))
                .advise("fill them in the file, or use --sample to take a stretch without gaps")
        }
    }
}
