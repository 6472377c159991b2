//! Workbooks whose reader cannot be trusted with memory are read by a process of the program's own, which has a limit.

use std::io::{BufRead, BufReader, Read, Write};
use std::path::PathBuf;
use std::process::{Child, Command, ExitStatus, Stdio};
use std::sync::OnceLock;

use serde::{Deserialize, Serialize};

use super::budget::{Budget, Memory};
use super::grid::Grid;
use super::number::Decimal;
use super::table::Table;
use super::{guard, workbook};
use crate::error::CliError;

/// The variable that makes the program such a process: what it is to read, as JSON.
pub const APART: &str = "KANDREL_READ_APART";

/// The program that is started for it; without one, as in a library, workbooks are read in this process.
static PROGRAM: OnceLock<PathBuf> = OnceLock::new();

/// Lets this program be started for workbooks.
pub fn allow() {
    if let Ok(program) = std::env::current_exe() {
        // A second call says the same.
        let _ = PROGRAM.set(program);
    }
}

/// What the program takes before it has read anything.
#[cfg(unix)]
const OWN: u64 = 100_000_000;

/// What is to be read.
#[derive(Serialize, Deserialize)]
struct Task {
    source: String,
    sheet: Option<String>,
    /// In bytes.
    memory: u64,
}

/// What comes before the rows, which are records of CSV with their number in the sheet first.
#[derive(Serialize, Deserialize)]
enum Answer {
    Table { header: Vec<String>, decimal: Decimal, notes: Vec<String>, sheet: Option<String> },
    Refused(CliError),
}

/// Reads one sheet of a workbook.
///
/// # Errors
/// Those of the workbook; it takes more memory than is left.
pub fn parse(source: &str, bytes: &[u8], sheet: Option<&str>, budget: &Budget) -> Result<Table, CliError> {
    let started = if workbook::is_harmless(bytes, budget) { None } else { start(source, sheet, budget) };
    match started {
        None => guard::guarded(source, || workbook::parse(source, bytes, sheet, budget)),
        Some(child) => table_of(source, bytes, child, budget),
    }
}

/// The process, where one can be started.
fn start(source: &str, sheet: Option<&str>, budget: &Budget) -> Option<Child> {
    let task = Task { source: source.to_owned(), sheet: sheet.map(str::to_owned), memory: budget.left() };
    Command::new(PROGRAM.get()?)
        .env(APART, serde_json::to_string(&task).ok()?)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .spawn()
        .ok()
}

fn table_of(source: &str, bytes: &[u8], mut child: Child, budget: &Budget) -> Result<Table, CliError> {
    let (input, output) = (child.stdin.take(), child.stdout.take());
    if let Some(mut input) = input {
        // It answers when it has all of the file, so neither waits for the other; one that ends early is found out below.
        drop(input.write_all(bytes));
    }
    let table = output.map_or(Ok(None), |output| received(source, BufReader::new(output), budget));
    if table.is_err() {
        // Nobody reads the rest of what it has to say.
        drop(child.kill());
    }
    let ended = child.wait();
    match table? {
        Some(table) if ended.as_ref().is_ok_and(ExitStatus::success) => Ok(table),
        _ if ended.is_ok_and(is_out_of_time) => {
            Err(CliError::data(format!("{source} cannot be read: its reader does not come to an end"))
                .advise("it is damaged: open it in a spreadsheet program and save the sheet as CSV"))
        }
        // It was ended by its limit, for a panic of the reader is caught and refused.
        _ => Err(budget.refusal(source, Memory(0)).advise(
            "a damaged workbook may ask for any amount: open it in a spreadsheet program and save it",
        )),
    }
}

/// Whether the process was ended because it had computed for too long.
#[cfg(unix)]
fn is_out_of_time(status: ExitStatus) -> bool {
    std::os::unix::process::ExitStatusExt::signal(&status) == Some(signal_hook::consts::SIGXCPU)
}

#[cfg(not(unix))]
fn is_out_of_time(_: ExitStatus) -> bool {
    false
}

/// The table of an answer; none where the answer is cut off.
fn received(source: &str, mut from: impl BufRead, budget: &Budget) -> Result<Option<Table>, CliError> {
    let mut line = Vec::new();
    if from.by_ref().take(budget.left()).read_until(b'\n', &mut line).is_err() {
        return Ok(None);
    }
    let (header, decimal, notes, sheet) = match serde_json::from_slice(&line) {
        Ok(Answer::Table { header, decimal, notes, sheet }) => (header, decimal, notes, sheet),
        Ok(Answer::Refused(refusal)) => return Err(refusal),
        Err(_) => return Ok(None),
    };
    let mut rows = Grid::default();
    let mut reader = csv::ReaderBuilder::new().has_headers(false).flexible(true).from_reader(from);
    let mut record = csv::StringRecord::new();
    loop {
        match reader.read_record(&mut record) {
            Ok(true) => {}
            Ok(false) => break,
            Err(_) => return Ok(None),
        }
        budget.take(source, record.as_slice().len() as u64)?;
        let number = record.get(0).and_then(|number| number.parse().ok()).unwrap_or(0);
        rows.push(number, record.iter().skip(1));
    }
    budget.take_table(source, rows.len(), header.len())?;
    Ok(Some(Table { rows, decimal, notes, sheet, ..Table::new(header) }))
}

/// What the process does: reads the workbook on `input` with its memory limited, and writes the table to `output`.
///
/// # Errors
/// The task or the streams are not to be had.
pub fn serve(task: &str, input: &mut dyn Read, output: &mut dyn Write) -> std::io::Result<()> {
    let Task { source, sheet, memory } = serde_json::from_str(task)?;
    #[cfg(unix)]
    // Where it cannot be set, the crash of this process alone is gained.
    drop(rlimit::setrlimit(rlimit::Resource::AS, memory + OWN, memory + OWN));
    let mut bytes = Vec::new();
    input.read_to_end(&mut bytes)?;
    #[cfg(unix)]
    drop(limit_time(&bytes));
    let budget = Budget::new(Some(Memory(memory)));
    let table = guard::guarded(&source, || workbook::parse(&source, &bytes, sheet.as_deref(), &budget));
    let mut output = std::io::BufWriter::new(output);
    match table {
        Err(refusal) => send(&Answer::Refused(refusal), &mut output),
        Ok(Table { header, rows, decimal, notes, sheet, .. }) => {
            send(&Answer::Table { header, decimal, notes, sheet }, &mut output)?;
            let mut writer = csv::WriterBuilder::new().flexible(true).from_writer(output);
            for row in rows.rows() {
                let number = row.line.to_string();
                writer.write_record(std::iter::once(number.as_str()).chain(row.cells()))?;
            }
            writer.flush()
        }
    }
}

/// Limits processor time by the size of the file: a reader that never ends is ended by it.
#[cfg(unix)]
fn limit_time(bytes: &[u8]) -> std::io::Result<()> {
    let seconds = 30 + bytes.len() as u64 / 200_000;
    rlimit::setrlimit(rlimit::Resource::CPU, seconds, seconds + 1)
}

fn send(answer: &Answer, output: &mut impl Write) -> std::io::Result<()> {
    serde_json::to_writer(&mut *output, answer)?;
    output.write_all(b"\n")
}

#[cfg(all(test, unix))]
mod tests {
    use super::*;

    #[test]
    fn a_process_that_computes_for_too_long_is_told_from_others() {
        let ended = |signal: &str| {
            let status = Command::new("sh").args(["-c", &format!("kill -{signal} $$")]).status();
            is_out_of_time(status.expect("a shell"))
        };
        assert!(ended("XCPU") && !ended("KILL"));
    }
}
