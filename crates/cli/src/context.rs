//! What one call has to work with.

use std::io::{Read, Write};

use crate::call::Call;
use crate::document::Report;
use crate::figure::Drawing;

/// What standard output can show.
#[derive(Debug, Clone, Copy, Default)]
pub struct Screen {
    /// It is a terminal, not a file or a pipe.
    pub is_terminal: bool,
    /// It shows more than ASCII.
    pub is_unicode: bool,
    /// Bold print and colours are unwanted there.
    pub is_plain: bool,
}

/// Takes what commands find in place of writing it.
#[derive(Default)]
pub struct Keeping {
    /// Whether a figure is drawn as well.
    pub wants_figure: bool,
    pub all: Vec<Kept>,
}

/// What a command found, kept for a report in place of being written.
pub struct Kept {
    pub report: Report,
    pub notes: Vec<String>,
    pub figure: Option<Drawing>,
}

/// The streams and words of one call.
pub struct Context<'a> {
    /// Takes what is found, so that nothing is written.
    pub kept: Option<&'a mut Keeping>,
    /// The words as typed.
    pub arguments: Vec<String>,
    /// What they call for.
    pub call: Call,
    pub screen: Screen,
    pub stdin: &'a mut dyn Read,
    pub stdout: &'a mut dyn Write,
    pub stderr: &'a mut dyn Write,
}

impl Context<'_> {
    /// Runs a job with its results thrown away.
    pub fn quiet<T>(&mut self, job: impl FnOnce(&mut Context<'_>) -> T) -> T {
        let mut nowhere = std::io::sink();
        job(&mut Context {
            kept: None,
            arguments: self.arguments.clone(),
            call: self.call.clone(),
            screen: Screen::default(),
            stdin: &mut *self.stdin,
            stdout: &mut nowhere,
            stderr: &mut *self.stderr,
        })
    }

    /// Runs a job and keeps what it finds, with its figure if that is wanted; files are written, streams are not.
    pub fn keeping<T>(
        &mut self,
        wants_figure: bool,
        job: impl FnOnce(&mut Context<'_>) -> T,
    ) -> (T, Vec<Kept>) {
        let mut nowhere = std::io::sink();
        let mut kept = Keeping { wants_figure, all: Vec::new() };
        let done = job(&mut Context {
            kept: Some(&mut kept),
            arguments: self.arguments.clone(),
            call: self.call.clone(),
            screen: Screen::default(),
            stdin: &mut *self.stdin,
            stdout: &mut nowhere,
            stderr: &mut *self.stderr,
        });
        (done, kept.all)
    }

    /// Runs a job as if this call had been typed.
    pub fn with_call<T>(&mut self, call: &Call, job: impl FnOnce(&mut Context<'_>) -> T) -> T {
        job(&mut Context {
            kept: self.kept.as_deref_mut(),
            arguments: call.words(),
            call: call.clone(),
            screen: self.screen,
            stdin: &mut *self.stdin,
            stdout: &mut *self.stdout,
            stderr: &mut *self.stderr,
        })
    }
}
