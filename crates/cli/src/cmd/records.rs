//! A stream of records: every command answers each of them by itself, in a line for each result.

use std::io::{BufReader, Cursor, Read};

use rayon::prelude::*;
use serde::Serialize;

use super::Command;
use crate::call::{Call, Name};
use crate::context::{Context, Screen};
use crate::error::CliError;
use crate::read::Budget;
use crate::read::record::{self, Record};
use crate::threads;

/// Records for each thread before their answers are written.
const PER_THREAD: usize = 8;

/// What would be written again for each record.
const FILES: [&str; 3] = ["out", "figure", "save"];

/// Runs a command; one that is called for records on standard input runs once for each.
pub fn run(command: &Command, context: &mut Context<'_>) -> Result<(), CliError> {
    // A screening reads its records itself, and has its rows in files too.
    if context.kept.is_some() || context.call.command() == Name::Screen || !context.call.takes_lines() {
        return command.run(context);
    }
    let call = context.call.clone();
    let mut reader = BufReader::new(&mut *context.stdin);
    let budget = Budget::new(None);
    let (mut lines, is_records) = record::beginning(STREAM, &mut reader, &budget)?;
    if !is_records {
        // What was read already comes first.
        let mut whole = Cursor::new(lines.concat()).chain(reader);
        let mut context = Context {
            kept: None,
            arguments: context.arguments.clone(),
            call,
            screen: context.screen,
            stdin: &mut whole,
            stdout: &mut *context.stdout,
            stderr: &mut *context.stderr,
        };
        return command.run(&mut context);
    }
    if let Some(option) = FILES.into_iter().find(|option| call.has(option)) {
        return Err(CliError::call(format!(
            "--{option}: records are answered on standard output, a line each"
        ))
        .advise(format!("leave out --{option}")));
    }
    threads::prepare();
    while !lines.is_empty() {
        while lines.len() < PER_THREAD * rayon::current_num_threads() {
            match record::line(STREAM, &mut reader, &budget)? {
                Some(line) => lines.push(line),
                None => break,
            }
        }
        let is_full = |line: &&Vec<u8>| !line.trim_ascii().is_empty();
        let filled: Vec<&Vec<u8>> = lines.iter().filter(is_full).collect();
        let answers: Vec<Vec<u8>> = filled.par_iter().map(|line| answer(command, &call, line)).collect();
        for answer in answers {
            context.stdout.write_all(&answer)?;
        }
        context.stdout.flush()?;
        lines.clear();
        lines.extend(record::line(STREAM, &mut reader, &budget)?);
    }
    Ok(())
}

const STREAM: &str = "standard input";

/// A record without a result.
#[derive(Serialize)]
struct Failed {
    series: Option<String>,
    error: String,
}

/// The lines that answer a record.
fn answer(command: &Command, call: &Call, line: &[u8]) -> Vec<u8> {
    let (mut stdin, mut stdout, mut stderr) = (line, Vec::new(), std::io::sink());
    let mut context = Context {
        kept: None,
        arguments: call.words(),
        call: call.clone(),
        screen: Screen::default(),
        stdin: &mut stdin,
        stdout: &mut stdout,
        stderr: &mut stderr,
    };
    let Err(error) = command.run(&mut context) else {
        return stdout;
    };
    let series = serde_json::from_slice::<Record>(line).ok().map(|record| record.series);
    let failed = Failed { series, error: error.in_one_line() };
    // Texts always have a form in JSON.
    let mut text = serde_json::to_vec(&failed).unwrap_or_default();
    text.push(b'\n');
    text
}
