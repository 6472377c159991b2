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
}

/// Where a result goes and in which form.
#[derive(Args, Clone)]
pub struct OutputArgs {
    /// Form of the result (default: text, or by the ending of --out)
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
    /// The form in force.
    pub fn format(&self) -> Format {
        let json_ending = || {
            let ending = self.out.as_ref().and_then(|path| path.extension());
            ending.is_some_and(|ending| ending.eq_ignore_ascii_case("json"))
        };
        self.form.unwrap_or_else(|| if json_ending() { Format::Json } else { Format::Text })
    }
}
