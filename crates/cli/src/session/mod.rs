//! From the options of the data to the series of a sample: the file is read, expressions are evaluated, gaps treated,
//! and what was done is noted.

mod expressions;
mod refusal;
mod regressors;
mod series;

use std::io::Read;

use kandrel_core::series::Span;

use crate::args::DataArgs;
use crate::error::CliError;
use crate::progress::Progress;
use crate::read::{self, Dataset};
use crate::threads;

/// A file that is open, with the options it was opened by.
pub struct Session<'a> {
    args: &'a DataArgs,
    pub dataset: Dataset,
    /// What is said while long series are worked on.
    waiting: Option<Progress>,
}

impl<'a> Session<'a> {
    /// Reads the file that the options name.
    pub fn open(args: &'a DataArgs, stdin: &mut dyn Read) -> Result<Self, CliError> {
        Self::of_file(args, &args.file, stdin)
    }

    /// Reads another file by the same options.
    pub fn of_file(args: &'a DataArgs, file: &str, stdin: &mut dyn Read) -> Result<Self, CliError> {
        let dataset = read::open(file, &args.read_options(), stdin)?;
        threads::prepare();
        let session = Self { args, dataset, waiting: None };
        if let Some(season) = session.said_season() {
            check_season(season, session.dataset.frame.length)?;
        }
        Ok(session)
    }

    /// The seasonal period that the call says, or the data.
    fn said_season(&self) -> Option<usize> {
        let typed = self.args.season.and_then(|season| usize::try_from(season).ok());
        typed.or(self.dataset.record.as_ref().and_then(|record| record.season)).map(|season| season.max(1))
    }

    /// The seasonal period in force.
    pub fn season(&self) -> usize {
        self.said_season().unwrap_or_else(|| self.dataset.frame.frequency().season())
    }

    /// The periods to use.
    pub fn span(&self) -> Result<Span, CliError> {
        let Some(text) = &self.args.sample else {
            return Ok(Span::default());
        };
        let frame = &self.dataset.frame;
        let ends: Vec<String> = text.split("..").map(|end| self.dataset.standard(end)).collect();
        Span::parse(&ends.join(".."), frame.frequency()).map_err(|error| {
            CliError::call(format!("--sample: {error}")).advise(format!(
                "the data are {} and run from {} to {}: write --sample {}..{}",
                frame.frequency().adjective(),
                frame.start,
                frame.last(),
                frame.start,
                frame.last()
            ))
        })
    }
}

/// Refuses a seasonal period longer than half of the rows.
pub fn check_season(season: usize, length: usize) -> Result<(), CliError> {
    if season <= 1 || season <= length / 2 {
        return Ok(());
    }
    Err(CliError::data(format!("{length} rows are fewer than two seasonal cycles of {season}"))
        .advise("take a shorter one with --season, or 1 for none"))
}

#[cfg(test)]
mod tests;
