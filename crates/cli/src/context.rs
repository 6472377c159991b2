//! What one call has to work with.

use std::io::{Read, Write};

/// The streams and words of one call.
pub struct Context<'a> {
    pub arguments: Vec<String>,
    pub stdin: &'a mut dyn Read,
    pub stdout: &'a mut dyn Write,
    pub stderr: &'a mut dyn Write,
}

impl Context<'_> {
    /// Runs a job with its results thrown away.
    pub fn quiet<T>(&mut self, job: impl FnOnce(&mut Context<'_>) -> T) -> T {
        let mut nowhere = std::io::sink();
        job(&mut Context {
            arguments: self.arguments.clone(),
            stdin: &mut *self.stdin,
            stdout: &mut nowhere,
            stderr: &mut *self.stderr,
        })
    }

    /// Runs a job as if these words had been typed.
    pub fn with_arguments<T>(&mut self, words: &[&str], job: impl FnOnce(&mut Context<'_>) -> T) -> T {
        job(&mut Context {
            arguments: words.iter().map(|word| (*word).to_owned()).collect(),
            stdin: &mut *self.stdin,
            stdout: &mut *self.stdout,
            stderr: &mut *self.stderr,
        })
    }
}
