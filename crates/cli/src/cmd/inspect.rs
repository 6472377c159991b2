//! `kandrel inspect`: what is in the file.

use crate::args::{DataArgs, OutputArgs};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::output::Files;
use crate::present::inspect;
use crate::session::Session;

pub const ABOUT: &str = "What is in a file: rows, columns, time, frequency, gaps, summary";
pub const EXAMPLES: &str = "Example:\n  kandrel inspect demo:harbour";

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    #[command(flatten)]
    output: OutputArgs,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let mut session = Session::open(&args.data, context.stdin)?;
    let span = session.span()?;
    session.dataset.restrict(span)?;
    let season = session.season();
    let result = inspect::inspection(&session.dataset, season);
    let report = Report::of(
        "inspect",
        [&result],
        vec![inspect::document(&session.dataset, &result, season, &context.call)],
    )?;
    deliver(&report, &session.dataset, season, &args.output, Files::default(), context)
}
