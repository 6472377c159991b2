//! The program's errors and the one table of exit statuses.

use std::fmt;
use std::io;

use serde::{Deserialize, Serialize};

use crate::visible::visible;

/// Exit statuses.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[repr(u8)]
pub enum Status {
    /// All went well.
    Done = 0,
    /// The call is wrong.
    Call = 2,
    /// The data cannot be used.
    Data = 3,
    /// The computation failed.
    Computation = 4,
}

/// One error as the user sees it: what and where, then what to do.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct CliError {
    pub status: Status,
    message: String,
    advice: Vec<String>,
    closed_pipe: bool,
}

impl CliError {
    /// The call is wrong.
    pub fn call(message: impl Into<String>) -> Self {
        Self::new(Status::Call, message)
    }

    /// The data cannot be used.
    pub fn data(message: impl Into<String>) -> Self {
        Self::new(Status::Data, message)
    }

    /// The computation failed.
    pub fn computation(message: impl Into<String>) -> Self {
        Self::new(Status::Computation, message)
    }

    fn new(status: Status, message: impl Into<String>) -> Self {
        Self { status, message: in_message(&message.into()), advice: Vec::new(), closed_pipe: false }
    }

    /// Adds a line on what to do.
    pub fn advise(mut self, advice: impl Into<String>) -> Self {
        self.advice.push(in_message(&advice.into()));
        self
    }

    /// Message and advice in one line.
    pub fn in_one_line(&self) -> String {
        std::iter::once(&self.message).chain(&self.advice).map(String::as_str).collect::<Vec<_>>().join("; ")
    }

    /// A reader of our output went away: a quiet end, not a failure.
    pub fn is_closed_pipe(&self) -> bool {
        self.closed_pipe
    }
}

/// Letters of a line of a message.
const LONGEST: usize = 400;

/// A text as a line of a message: harmless, and not longer than anybody reads.
pub fn in_message(text: &str) -> String {
    let text = visible(text);
    let count = text.chars().count();
    if count <= LONGEST {
        return text;
    }
    let half = LONGEST / 2 - 1;
    let start: String = text.chars().take(half).collect();
    let end: String = text.chars().skip(count - half).collect();
    format!("{start} … {end}")
}

impl From<io::Error> for CliError {
    fn from(error: io::Error) -> Self {
        let closed_pipe = error.kind() == io::ErrorKind::BrokenPipe;
        Self { closed_pipe, ..Self::data(format!("writing failed: {error}")) }
    }
}

impl fmt::Display for CliError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        writeln!(f, "kandrel: {}", self.message)?;
        for line in &self.advice {
            writeln!(f, "  {line}")?;
        }
        Ok(())
    }
}
