//! Kandrel on the command line: reads files, calls the core, says what follows.
//!
//! [`run`] is the whole program with its streams passed in.

#![warn(clippy::print_stdout, clippy::print_stderr)]

mod args;
mod call;
mod cmd;
mod complete;
mod context;
mod demo;
mod document;
mod error;
mod explain;
mod figure;
mod hint;
mod interrupt;
mod model;
mod output;
mod present;
mod progress;
mod read;
mod render;
mod session;
mod threads;
mod visible;
mod wording;

use std::ffi::OsString;
use std::io::{ErrorKind, Read, Write};
use std::process::ExitCode;

use clap::{CommandFactory, FromArgMatches, Parser};

use cmd::Command;
use context::Context;
pub use context::Screen;
use error::Status;
use schemars::Schema;

/// From a file of economic series to an argument: stationarity, models, forecasts, cointegration, reports.
#[derive(Parser)]
#[command(name = "kandrel", version, infer_subcommands = true, arg_required_else_help = true)]
#[command(max_term_width = 80)]
#[command(after_help = "First steps: `kandrel tour`, `kandrel inspect FILE`, `kandrel study --new FILE`. \
    Demo data: any FILE may be `demo:harbour`, \
    `demo:region`, `demo:charters`, `demo:timber` or `demo:gate`.")]
pub(crate) struct Program {
    #[command(subcommand)]
    command: Command,
}

/// Runs one call: `arguments` with the program's name first. Results go to
/// `stdout`, everything else to `stderr`; the exit status is returned.
pub fn run(
    arguments: Vec<OsString>,
    screen: Screen,
    stdin: &mut dyn Read,
    stdout: &mut dyn Write,
    stderr: &mut dyn Write,
) -> u8 {
    let typed: Vec<String> =
        arguments.iter().skip(1).map(|word| word.to_string_lossy().into_owned()).collect();
    let mut syntax = cmd::ignoring_case(Program::command());
    let matches = syntax.try_get_matches_from_mut(arguments);
    let parsed = matches
        .and_then(|matches| Ok((cmd::call_of(&syntax, &matches), Program::from_arg_matches(&matches)?)));
    let (call, program) = match parsed {
        Ok(parsed) => parsed,
        Err(mut refusal) => {
            let examples = hint::examples(&refusal, &syntax, &typed).unwrap_or_default();
            hint::explain(&mut refusal, &syntax, &typed);
            return explain_refusal(&refusal, &examples, stdout, stderr);
        }
    };
    let mut context = Context { kept: None, arguments: typed, call, screen, stdin, stdout, stderr };
    match cmd::run(&program.command, &mut context) {
        Ok(()) => Status::Done as u8,
        Err(error) if error.is_closed_pipe() => Status::Done as u8,
        Err(error) => {
            // Nothing can be done if the error stream itself is closed.
            let _ = write!(context.stderr, "{error}");
            error.status as u8
        }
    }
}

/// The variable by which a shell asks what can follow, and its name in it.
pub use cmd::COMPLETE;

/// The variable that makes the program a reader of one workbook for another process, and what lets the program
/// start one.
pub use read::{APART, allow_apart};

/// Reads the workbook on `input`, in a process of its own, and writes its table to `output`.
pub fn read_apart(task: &str, input: &mut dyn Read, output: &mut dyn Write) -> ExitCode {
    match read::serve_apart(task, input, output) {
        Ok(()) => ExitCode::SUCCESS,
        Err(_) => ExitCode::FAILURE,
    }
}

/// Answers a shell that asks what can follow: `arguments` with the program's name first and the words behind `--`.
pub fn complete(shell: &str, arguments: Vec<OsString>, stdout: &mut dyn Write) -> u8 {
    let words: Vec<OsString> = arguments.into_iter().skip_while(|word| word != "--").skip(1).collect();
    let folder = std::env::current_dir().ok();
    let answer = complete::answer(shell, words, folder.as_deref());
    // A shell has no use for a message here.
    match answer.and_then(|text| stdout.write_all(&text)) {
        Ok(()) => Status::Done as u8,
        Err(_) => Status::Call as u8,
    }
}

/// The JSON Schema of each command's output, by the command's name.
pub fn schemas() -> Vec<(&'static str, String)> {
    let text = |schema: &Schema| serde_json::to_string_pretty(schema).unwrap_or_default() + "\n";
    cmd::schemas().iter().map(|(name, schema)| (*name, text(schema))).collect()
}

/// The glossary as a page of the documentation.
pub fn glossary() -> String {
    explain::glossary::markdown()
}

/// Reads a file and counts its numbers: what the benchmark of the reader measures.
///
/// # Errors
/// The message of the reader.
#[doc(hidden)]
pub fn count_values(file: &str) -> Result<usize, String> {
    let dataset = read::open(file, &read::ReadOptions::default(), &mut std::io::empty());
    let count = |dataset: read::Dataset| {
        dataset.frame.columns.iter().map(|column| column.cells.iter().flatten().count()).sum()
    };
    dataset.map(count).map_err(|error| error.to_string())
}

/// Reads the text of a study file: what the fuzz target checks.
///
/// # Errors
/// The message of the reader.
#[doc(hidden)]
pub fn check_study(text: &str) -> Result<(), String> {
    cmd::check_study(text).map_err(|error| error.to_string())
}

/// How the last sentence of a refusal begins.
const FURTHER: &str = "\nFor more information";

/// Help and version go to standard output with status 0, refusals to standard
/// error with status 2.
fn explain_refusal(
    refusal: &clap::Error,
    examples: &str,
    stdout: &mut dyn Write,
    stderr: &mut dyn Write,
) -> u8 {
    let text = refusal.render().to_string();
    // All refusals begin alike, whoever makes them.
    let text = text.strip_prefix("error: ").map_or_else(|| text.clone(), |own| format!("kandrel: {own}"));
    // Examples come before the sentence that leads on to the help.
    let (text, rest) = text.split_at(text.rfind(FURTHER).unwrap_or(text.len()));
    let (written, status) = if refusal.use_stderr() {
        (write!(stderr, "{text}{examples}{rest}"), Status::Call)
    } else {
        (write!(stdout, "{text}{rest}"), Status::Done)
    };
    match written {
        Err(error) if error.kind() != ErrorKind::BrokenPipe => Status::Data as u8,
        _ => status as u8,
    }
}
