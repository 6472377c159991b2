//! What can follow the words that are typed: commands, options, files, columns of the file, steps, topics.

use std::ffi::{OsStr, OsString};
use std::io;
use std::path::Path;
use std::sync::Arc;

use clap::{ArgMatches, Command, CommandFactory, FromArgMatches};
use clap_complete::engine::{
    ArgValueCompleter, CompletionCandidate, PathCompleter, ValueCompleter, complete,
};
use clap_complete::env::Shells;
use kandrel_core::expr::STEPS;

use crate::Program;
use crate::args::DataArgs;
use crate::call::{shell_word, shell_words};
use crate::cmd;
use crate::demo;
use crate::explain;
use crate::read::{self, Dataset};

/// Arguments that are expressions of columns, by their identifiers.
const EXPRESSIONS: [&str; 6] = ["series", "target", "with", "on", "restrict", "names"];
/// Marks behind which a new column begins.
const OPERATORS: [char; 8] = [' ', '+', '-', '*', '/', '^', '(', '='];

/// The candidates for the last word, in the form that the shell wants: `words` are those of the line with the program's
/// name first; for bash the line itself, up to the cursor.
pub fn answer(shell: &str, words: Vec<OsString>, folder: Option<&Path>) -> io::Result<Vec<u8>> {
    if shell == "bash" {
        let line = words.first().map(|line| line.to_string_lossy().into_owned()).unwrap_or_default();
        return of_line(&line, folder);
    }
    let mut out = Vec::new();
    let shells = Shells::builtins();
    let known = shells.completer(shell).ok_or_else(|| io::Error::other(format!("unknown shell {shell}")))?;
    let mut syntax = syntax(&words);
    known.write_complete(&mut syntax, words, folder, &mut out)?;
    Ok(out)
}

/// One candidate a line. The shell takes colons and equals signs for ends of words, so what precedes them is left out.
fn of_line(line: &str, folder: Option<&Path>) -> io::Result<Vec<u8>> {
    let mut words = shell_words(line);
    if line.ends_with(char::is_whitespace) {
        words.push(String::new());
    }
    let last = words.last().cloned().unwrap_or_default();
    let kept = last.rfind([':', '=']).map_or("", |at| &last[..=at]);
    let words: Vec<OsString> = words.into_iter().map(OsString::from).collect();
    let place = words.len().saturating_sub(1);
    let candidates = complete(&mut syntax(&words), words, place, folder)?;
    // Options would drown the rest where nothing is typed yet.
    let is_open = last.is_empty();
    let values = candidates.iter().map(|candidate| candidate.get_value().to_string_lossy());
    let lines = values.filter(|value| !(is_open && value.starts_with('-'))).map(|value| {
        let rest = value.strip_prefix(kept).unwrap_or(&value);
        // A folder is gone into, so it is not closed with a quote.
        let word = if rest.ends_with('/') { rest.to_owned() } else { shell_word(rest) };
        word + "\n"
    });
    Ok(lines.collect::<String>().into_bytes())
}

/// The syntax whose arguments know what they can be on the file that is typed.
fn syntax(words: &[OsString]) -> Command {
    let plain = cmd::ignoring_case(Program::command());
    let file = File(Arc::new(typed_data(&plain, words)));
    let names: Vec<String> = plain.get_subcommands().map(|one| one.get_name().to_owned()).collect();
    plain.mut_subcommands(|command| {
        command.mut_args(|arg| {
            let id = arg.get_id().as_str();
            match id {
                "file" => arg.add(ArgValueCompleter::new(file_candidates)),
                "time" => arg.add(ArgValueCompleter::new(file.clone().of(any_column))),
                "topic" => arg.add(ArgValueCompleter::new(topic_candidates)),
                "command" => {
                    let names = names.clone();
                    arg.add(ArgValueCompleter::new(move |typed: &OsStr| {
                        beginning(typed, names.iter().cloned())
                    }))
                }
                _ if EXPRESSIONS.contains(&id) => {
                    arg.add(ArgValueCompleter::new(file.clone().of(expression)))
                }
                _ => arg,
            }
        })
    })
}

/// The data that the words name, as far as they can be read.
fn typed_data(syntax: &Command, words: &[OsString]) -> Option<DataArgs> {
    let before = words.get(..words.len().saturating_sub(1))?;
    let matches = syntax.clone().ignore_errors(true).try_get_matches_from(before).ok()?;
    let (_, own) = matches.subcommand()?;
    let has_data = |own: &ArgMatches| {
        own.try_get_one::<String>("file").ok().flatten().is_some() && own.try_contains_id("gaps").is_ok()
    };
    has_data(own).then(|| DataArgs::from_arg_matches(own).ok()).flatten()
}

/// The file that is typed, read only if its columns are asked for.
#[derive(Clone)]
struct File(Arc<Option<DataArgs>>);

impl File {
    fn of(self, candidates: fn(&Dataset, &str) -> Vec<CompletionCandidate>) -> impl ValueCompleter + 'static {
        move |typed: &OsStr| {
            let Some(args) = self.0.as_ref() else {
                return Vec::new();
            };
            let dataset = read::open(&args.file, &args.read_options(), &mut io::empty());
            dataset.map_or_else(|_| Vec::new(), |dataset| candidates(&dataset, &typed.to_string_lossy()))
        }
    }
}

fn beginning(typed: &OsStr, names: impl Iterator<Item = String>) -> Vec<CompletionCandidate> {
    let typed = typed.to_string_lossy().to_lowercase();
    names.filter(|name| name.to_lowercase().starts_with(&typed)).map(CompletionCandidate::new).collect()
}

fn file_candidates(typed: &OsStr) -> Vec<CompletionCandidate> {
    let mut all = beginning(typed, demo::names().map(|name| format!("demo:{name}")));
    all.extend(PathCompleter::any().complete(typed));
    all
}

fn topic_candidates(typed: &OsStr) -> Vec<CompletionCandidate> {
    let topics = explain::topics().map(|topic| topic.name.to_owned());
    let more = ["glossary", "steps"].map(str::to_owned);
    beginning(typed, topics.chain(more))
}

fn any_column(dataset: &Dataset, typed: &str) -> Vec<CompletionCandidate> {
    beginning(OsStr::new(typed), dataset.columns.iter().map(|column| column.name.clone()))
}

/// A column, or behind a colon a step; what stands before it stays.
fn expression(dataset: &Dataset, typed: &str) -> Vec<CompletionCandidate> {
    let chain = typed.rfind(OPERATORS).map_or(0, |at| at + 1);
    let own = typed.get(chain..).unwrap_or_default();
    let step = own.rfind([':', ',']).filter(|_| own.contains(':')).map(|at| chain + at + 1);
    if let Some(at) = step {
        let (before, rest) = typed.split_at(at);
        let steps = STEPS.iter().filter_map(|step| {
            let name = step.form.split(|c: char| c.is_ascii_uppercase()).next().unwrap_or(step.form);
            let candidate =
                CompletionCandidate::new(format!("{before}{name}")).help(Some(step.summary.into()));
            name.starts_with(rest).then_some(candidate)
        });
        return steps.collect();
    }
    let at = own.rfind(',').map_or(chain, |at| chain + at + 1);
    let (before, rest) = typed.split_at(at);
    let names = dataset.numeric_names().into_iter().chain(dataset.other_name().map(|(name, _)| name));
    beginning(OsStr::new(rest), names).into_iter().map(|candidate| candidate.add_prefix(before)).collect()
}
