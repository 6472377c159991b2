//! The one registry of commands.

mod acf;
mod cointegration;
mod compare;
mod completions;
mod decompose;
mod explain;
mod fit;
mod forecast;
mod inspect;
mod lags;
mod man;
mod ols;
mod orders;
mod outliers;
mod plot;
mod power;
mod randomness;
mod records;
mod relate;
mod screen;
mod stationarity;
mod study;
mod tour;
mod transform;

use std::ffi::OsStr;

pub use self::completions::VARIABLE as COMPLETE;
pub use self::records::run;

use clap::{ArgMatches, CommandFactory, FromArgMatches, Parser, Subcommand};
use schemars::Schema;

use crate::args::{Color, DataArgs, Format, OutputArgs};
use crate::call::{Call, Name};
use crate::context::{Context, Kept, Screen};
use crate::document::{Document, Extent, Report};
use crate::error::CliError;
use crate::output::Files;
use crate::present;
use crate::read::Dataset;
use crate::render::{self, Charts, Style};
use crate::visible::visible;
use crate::wording;

/// Declares every command once: its module gives `ABOUT`, `EXAMPLES`, `Args` and `run`; its JSON is of a type.
macro_rules! commands {
    ($($variant:ident => $module:ident $(-> $result:ty)?),+ $(,)?) => {
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

        /// The schema of each command's JSON, by the command's name.
        pub fn schemas() -> Vec<(&'static str, Schema)> {
            vec![$($((stringify!($module), present::schema::<$result>()),)?)+]
        }
    };
}

commands! {
    Inspect => inspect -> present::inspect::Inspection,
    Plot => plot -> present::plot::PlotResult,
    Acf => acf -> present::acf::AcfResult,
    Relate => relate -> present::relate::RelateResult,
    Randomness => randomness -> present::randomness::RandomnessResult,
    Stationarity => stationarity -> present::stationarity::StationarityOrPanel,
    Power => power -> present::power::PowerResult,
    Decompose => decompose -> present::decompose::DecomposeResult,
    Outliers => outliers -> present::outliers::OutliersResult,
    Lags => lags -> present::lags::LagsResult,
    Ols => ols -> present::ols::OlsResult,
    Cointegration => cointegration -> present::cointegration::CointegrationResult,
    Orders => orders -> present::orders::OrdersResult,
    Fit => fit -> present::fit::FitResult,
    Forecast => forecast -> present::forecast::ForecastResult,
    Compare => compare -> present::compare::CompareResult,
    Transform => transform -> present::transform::TransformResult,
    Screen => screen -> present::screen::ScreenRow,
    Study => study,
    Tour => tour,
    Explain => explain,
    Completions => completions,
    Man => man,
}

/// A call, read.
pub struct Parsed {
    /// As words.
    pub call: Call,
    command: Command,
}

/// Words without the program's name.
#[derive(Parser)]
#[command(no_binary_name = true)]
struct Typed {
    #[command(subcommand)]
    command: Command,
}

/// A syntax whose options take their values in any case.
pub fn ignoring_case(syntax: clap::Command) -> clap::Command {
    let ignoring = |arg: clap::Arg| {
        let takes_value = arg.get_action().takes_values();
        arg.ignore_case(takes_value)
    };
    syntax.mut_subcommands(|command| command.mut_args(ignoring))
}

/// The command of words, as if they had been typed.
pub fn typed(words: &[impl AsRef<OsStr>]) -> Result<Parsed, clap::Error> {
    let mut syntax = ignoring_case(Typed::command());
    let matches = syntax.try_get_matches_from_mut(words.iter().map(|word| word.as_ref().to_owned()))?;
    let command = Command::from_arg_matches(&matches)?;
    Ok(Parsed { call: call_of(&syntax, &matches), command })
}

/// The call that matches of the whole syntax make.
pub fn call_of(syntax: &clap::Command, matches: &ArgMatches) -> Call {
    let found = matches.subcommand().and_then(|(word, own)| {
        let typed = Call::typed(Name::of(word)?, syntax.find_subcommand(word)?, own, &DataArgs::names());
        Some(typed)
    });
    found.unwrap_or_else(|| Call::new(Name::Inspect, ""))
}

impl Parsed {
    /// Makes the call.
    pub fn run(&self, context: &mut Context<'_>) -> Result<(), CliError> {
        self.run_as(&self.call, context)
    }

    /// Makes the call, recorded as another.
    pub fn run_as(&self, call: &Call, context: &mut Context<'_>) -> Result<(), CliError> {
        context.with_call(call, |context| self.command.run(context))
    }
}

/// Reads the text of a study file.
pub fn check_study(text: &str) -> Result<(), CliError> {
    study::check(text)
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
    deliver_as(output.format_or(Format::Text)?, report, dataset, season, output, files, context)
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
    // A report keeps everything.
    let extent = if context.kept.is_some() { Extent::Whole } else { output.extent(form) };
    let mut documents: Vec<Document> = report.documents.iter().map(|document| document.at(extent)).collect();
    if let Some(decimals) = output.digits {
        for document in &mut documents {
            document.set_decimals(usize::from(decimals));
        }
    }
    if let Some(kept) = context.kept.as_deref_mut() {
        kept.all.push(Kept {
            report: Report { documents, ..report.clone() },
            notes: dataset.notes.clone(),
            figure: files.take_figure(),
        });
        return files.write(output.force);
    }
    let text = match form {
        Format::Text => each(&documents, |document| render::text(document, style(output, context.screen))),
        Format::Csv => render::csv(&documents),
        Format::Markdown => each(&documents, render::markdown),
        Format::Latex => each(&documents, render::latex),
        Format::Json => render::json(report, dataset, season, &context.arguments)?,
        Format::Jsonl => report.results.iter().map(ToString::to_string).map(|line| line + "\n").collect(),
    };
    if let Some(path) = &output.out {
        files.add(path, text.into_bytes());
        files.write(output.force)?;
    } else {
        files.write(output.force)?;
        context.stdout.write_all(text.as_bytes())?;
    }
    let more = if output.verbose { details(dataset) } else { Vec::new() };
    let notes = dataset.notes.iter().chain(&more).filter(|_| !output.quiet);
    for note in notes {
        writeln!(context.stderr, "note: {}", visible(note))?;
    }
    Ok(())
}

/// Charts and bold print come on a terminal, or where they are asked for; never into a
/// file unasked.
fn style(output: &OutputArgs, screen: Screen) -> Style {
    let on_terminal = screen.is_terminal && output.out.is_none();
    let charts = match (output.chart || output.ascii || on_terminal, screen.is_unicode && !output.ascii) {
        (false, _) => Charts::None,
        (true, true) => Charts::Braille,
        (true, false) => Charts::Ascii,
    };
    let bold = match output.color {
        Color::Auto => on_terminal && !screen.is_plain,
        Color::Always => true,
        Color::Never => false,
    };
    Style { charts, bold }
}

/// What was read and how, for those who ask.
fn details(dataset: &Dataset) -> Vec<String> {
    let frame = &dataset.frame;
    let frequency = frame.frequency().adjective();
    let reason = dataset.reason.as_ref().map(|reason| format!("{frequency} because {reason}"));
    let shape = format!(
        "{}: {}, {} of numbers, {} to {}, sha256 {}",
        dataset.source,
        wording::count(dataset.rows, "row"),
        wording::count(frame.columns.len(), "column"),
        frame.start,
        frame.last(),
        dataset.sha256
    );
    std::iter::once(shape).chain(reason).collect()
}

/// The documents in one form, one after the other.
fn each(documents: &[Document], render: impl Fn(&Document) -> String) -> String {
    documents.iter().map(render).collect::<Vec<_>>().join("\n")
}

#[cfg(test)]
mod tests;
