//! The one registry of commands.

mod acf;
mod inspect;
mod plot;
mod stationarity;
mod tour;
mod transform;

use clap::Subcommand;

use crate::args::{Format, OutputArgs};
use crate::context::{Context, Screen};
use crate::document::{Document, Report};
use crate::error::CliError;
use crate::output::Files;
use crate::read::Dataset;
use crate::render::{self, Charts};

/// Declares every command once: its module gives `NAME`, `Args` and `run`.
macro_rules! commands {
    ($($variant:ident => $module:ident),+ $(,)?) => {
        /// What a call asks for.
        #[derive(Subcommand)]
        pub enum Command {
            $(
                #[command(about = $module::ABOUT, after_long_help = $module::EXAMPLES)]
                $variant($module::Args),
            )+
        }

        impl Command {
            /// Runs it.
            pub fn run(&self, context: &mut Context<'_>) -> Result<(), CliError> {
                match self {
                    $(Self::$variant(args) => $module::run(args, context),)+
                }
            }
        }
    };
}

commands! {
    Inspect => inspect,
    Plot => plot,
    Acf => acf,
    Stationarity => stationarity,
    Transform => transform,
    Tour => tour,
}

/// [`deliver_as`] text unless another form is asked for.
pub fn deliver(
    report: &Report,
    dataset: &Dataset,
    season: usize,
    output: &OutputArgs,
    files: Files,
    context: &mut Context<'_>,
) -> Result<(), CliError> {
    deliver_as(output.format_or(Format::Text), report, dataset, season, output, files, context)
}

/// Adds the report to standard output or to the files to be written, and
/// writes them.
pub fn deliver_as(
    form: Format,
    report: &Report,
    dataset: &Dataset,
    season: usize,
    output: &OutputArgs,
    mut files: Files,
    context: &mut Context<'_>,
) -> Result<(), CliError> {
    let text = match form {
        Format::Text => each(report, |document| render::text(document, charts(output, context.screen))),
        Format::Csv => render::csv(&report.documents)?,
        Format::Markdown => each(report, render::markdown),
        Format::Latex => each(report, render::latex),
        Format::Json => render::json(report, dataset, season, &context.arguments)?,
    };
    if let Some(path) = &output.out {
        files.add(path, text.into_bytes());
        files.write(output.force)?;
    } else {
        files.write(output.force)?;
        context.stdout.write_all(text.as_bytes())?;
    }
    for note in &dataset.notes {
        writeln!(context.stderr, "note: {note}")?;
    }
    Ok(())
}

/// Charts are drawn on a terminal, or where they are asked for; never into a file
/// unasked.
fn charts(output: &OutputArgs, screen: Screen) -> Charts {
    let wanted = output.chart || output.ascii || (screen.is_terminal && output.out.is_none());
    match (wanted, screen.is_unicode && !output.ascii) {
        (false, _) => Charts::None,
        (true, true) => Charts::Braille,
        (true, false) => Charts::Ascii,
    }
}

/// The documents in one form, one after the other.
fn each(report: &Report, render: impl Fn(&Document) -> String) -> String {
    report.documents.iter().map(render).collect::<Vec<_>>().join("\n")
}
