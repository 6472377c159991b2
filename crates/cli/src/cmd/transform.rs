//! `kandrel transform`: computes series and writes them.

use kandrel_core::series::SeriesWithGaps;

use crate::args::{DataArgs, Format, Gaps, OutputArgs};
use crate::cmd::deliver_as;
use crate::context::Context;
use crate::document::Report;
use crate::document::to_json;
use crate::error::CliError;
use crate::output::Files;
use crate::present::transform;
use crate::session::Session;

pub const ABOUT: &str = "Computes series and writes them as CSV or JSON";
pub const EXAMPLES: &str = "Examples:\n  kandrel transform demo:harbour freight:ln,d12 'bookings - sailings'\n  \
    kandrel transform demo:harbour gap --let 'gap=bookings[t-2] - 2 * sailings' --out gap.csv\n\nSteps: kandrel explain steps";

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, columns with steps, or arithmetic on them: freight:ln,d1
    series: Vec<String>,
    #[command(flatten)]
    output: OutputArgs,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let mut session = Session::open(&args.data, context.stdin)?;
    let season = session.season();
    let all: Vec<SeriesWithGaps> = session.series_with_gaps(&args.series, Gaps::Refuse)?;
    let time = session.dataset.time_name();
    let results = all.iter().map(|series| to_json(&transform::result(series))).collect::<Result<_, _>>()?;
    let report = Report {
        command: "transform",
        documents: vec![transform::document(&all, &time)],
        results,
        ..Report::default()
    };
    let form = args.output.format_or(Format::Csv)?;
    deliver_as(form, &report, &session.dataset, season, &args.output, Files::default(), context)
}
