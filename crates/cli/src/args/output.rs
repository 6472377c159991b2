use std::path::{Path, PathBuf};

use clap::{Args, ValueEnum};

use crate::error::CliError;
use crate::figure;
use crate::output::check_target;

/// How a result is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Format {
    /// Sentences and tables
    Text,
    /// The full result, numbers at full precision
    Json,
    /// The tables, numbers at full precision
    Csv,
    /// Sentences and tables for a web page or a repository
    Markdown,
    /// The tables for a paper
    Latex,
}

/// Where a result goes and in which form.
#[derive(Args, Clone)]
pub struct OutputArgs {
    /// Form of the result (default: by the ending of --out, else text; transform: CSV)
    #[arg(long = "as", value_name = "FORM", help_heading = "Output")]
    pub form: Option<Format>,
    /// File for the result instead of standard output
    #[arg(long, value_name = "PATH", help_heading = "Output")]
    pub out: Option<PathBuf>,
    /// Overwrite files that exist
    #[arg(long, help_heading = "Output")]
    pub force: bool,
}

/// A figure beside the result.
#[derive(Args, Clone)]
pub struct FigureArgs {
    /// Draw the series, its ACF and its PACF into a .svg or .png file
    #[arg(long, value_name = "PATH", help_heading = "Output")]
    pub figure: Option<PathBuf>,
}

impl FigureArgs {
    /// The file and its form, once it is clear that it may be written.
    pub fn target(&self, force: bool) -> Result<Option<(&Path, figure::Form)>, CliError> {
        let Some(path) = &self.figure else {
            return Ok(None);
        };
        let form = figure::Form::of_path(path)?;
        check_target(path, force)?;
        Ok(Some((path, form)))
    }
}

impl OutputArgs {
    /// The form in force: as named, by the file's ending, or the usual one.
    pub fn format_or(&self, usual: Format) -> Format {
        let ending = self.out.as_ref().and_then(|path| path.extension());
        let by_ending = match ending.map(|ending| ending.to_string_lossy().to_lowercase()).as_deref() {
            Some("json") => Some(Format::Json),
            Some("csv") => Some(Format::Csv),
            Some("txt") => Some(Format::Text),
            Some("md") => Some(Format::Markdown),
            Some("tex") => Some(Format::Latex),
            _ => None,
        };
        self.form.or(by_ending).unwrap_or(usual)
    }
}
