//! `kandrel inspect`: what is in the file.

use crate::args::{DataArgs, Gaps, OutputArgs};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::model::diagnosis;
use crate::output::Files;
use crate::present::diagnosis::DiagnosisResult;
use crate::present::inspect;
use crate::session::Session;
use kandrel_core::series::{Column, Frame, SeriesWithGaps};
use rayon::prelude::*;

/// A file of more columns is left to `screen`.
const MOST_ASSESSED: usize = 24;
/// So is one of more values.
const MOST_VALUES: usize = 300_000;

pub const ABOUT: &str = "What is in a file: rows, columns, time, frequency, gaps, summary";
pub const EXAMPLES: &str =
    "Examples:\n  kandrel inspect demo:harbour\n  kandrel inspect demo:harbour freight:ln";

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln (all columns if none is named)
    series: Vec<String>,
    #[command(flatten)]
    output: OutputArgs,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let mut session = Session::open(&args.data, context.stdin)?;
    let span = session.span()?;
    session.dataset.restrict(span)?;
    if !args.series.is_empty() {
        let named = session.series_with_gaps(&args.series, Gaps::Keep)?;
        session.dataset.keep_only(&named);
    }
    let season = session.season();
    let diagnoses = diagnoses(&session.dataset.frame, season);
    let result = inspect::inspection(&session.dataset, season, diagnoses);
    let report = Report::of(
        "inspect",
        [&result],
        vec![inspect::document(&session.dataset, &result, season, &context.call)],
    )?;
    deliver(&report, &session.dataset, season, &args.output, Files::default(), context)
}

/// The joint assessment of every column of numbers; none for a file of many columns or values.
fn diagnoses(frame: &Frame, season: usize) -> Vec<Option<DiagnosisResult>> {
    let is_assessed = frame.columns.len() <= MOST_ASSESSED
        && frame.columns.len().saturating_mul(frame.length) <= MOST_VALUES;
    let of = |column: &Column| {
        let dates = frame.dates.as_deref();
        let whole = SeriesWithGaps::trimmed(&column.name, frame.start, &column.cells, dates).ok();
        whole.filter(|_| is_assessed).and_then(|series| diagnosis(&series, season))
    };
    frame.columns.par_iter().map(of).collect()
}
