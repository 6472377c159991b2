//! The options that say in which form a result is written, where, and with which figure.

use std::path::PathBuf;

use clap::{Args, ValueEnum};

use crate::context::Context;
use crate::document::Extent;
use crate::error::CliError;
use crate::figure::{self, Drawing, Sheet};
use crate::output::{Files, check_target};

/// How a result is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Format {
    /// Sentences and tables
    Text,
    /// The full result, numbers at full precision
    Json,
    /// Each result as JSON in a line of its own
    Jsonl,
    /// The tables, numbers at full precision
    Csv,
    /// Sentences and tables for a web page or a repository
    Markdown,
    /// The tables for a paper
    Latex,
}

/// When text is set off by bold print.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Color {
    /// On a terminal, unless `NO_COLOR` is set
    Auto,
    Always,
    Never,
}

/// A level of significance.
pub fn alpha(text: &str) -> Result<f64, String> {
    let value: f64 = text.parse().map_err(|_| "write a number, as 0.05".to_owned())?;
    if value > 0.0 && value < 0.5 { Ok(value) } else { Err("write a number between 0 and 0.5".to_owned()) }
}

/// Where a result goes and in which form.
// Each flag is independent of the others.
#[allow(clippy::struct_excessive_bools)]
#[derive(Args, Clone)]
pub struct OutputArgs {
    /// Form of the result (default: by the ending of --out, else text; transform: CSV)
    #[arg(long = "as", value_name = "FORM", help_heading = "Output")]
    pub form: Option<Format>,
    /// File for the result instead of standard output
    #[arg(long, value_name = "PATH", help_heading = "Output")]
    pub out: Option<PathBuf>,
    /// Draw charts in the text even where standard output is no terminal
    #[arg(long, help_heading = "Output")]
    pub chart: bool,
    /// Draw charts with plain ASCII characters
    #[arg(long, help_heading = "Output")]
    pub ascii: bool,
    /// Decimals of the numbers in tables (each its own if not given)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u8).range(0..=17), help_heading = "Output")]
    pub digits: Option<u8>,
    /// Bold print of answers and titles
    #[arg(long, value_name = "WHEN", default_value = "auto", help_heading = "Output")]
    pub color: Color,
    /// No notes on standard error
    #[arg(short, long, conflicts_with = "verbose", help_heading = "Output")]
    pub quiet: bool,
    /// The answer and one table only
    #[arg(long, conflicts_with = "verbose", help_heading = "Output")]
    pub brief: bool,
    /// The details of the result too, and notes on standard error: how the file was read
    #[arg(short, long, help_heading = "Output")]
    pub verbose: bool,
    /// Overwrite files that exist
    #[arg(long, help_heading = "Output")]
    pub force: bool,
}

/// A figure of the result.
#[derive(Args, Clone)]
pub struct FigureArgs {
    /// Draw a figure into a .svg, .png or .html file (.html answers to the pointer)
    #[arg(long, value_name = "PATH", help_heading = "Output")]
    pub figure: Option<PathBuf>,
    /// Title of the figure, in place of its own
    #[arg(long, value_name = "TEXT", requires = "figure", help_heading = "Output")]
    pub title: Option<String>,
    /// Size of the figure in pixels
    #[arg(long, value_name = "WxH", value_parser = size, requires = "figure", help_heading = "Output")]
    pub size: Option<(u32, u32)>,
}

fn size(text: &str) -> Result<(u32, u32), String> {
    let parts =
        text.split_once(['x', 'X', '×']).and_then(|(w, h)| w.trim().parse().ok().zip(h.trim().parse().ok()));
    let fits = |(width, height): &(u32, u32)| (480..=8000).contains(width) && (360..=8000).contains(height);
    parts
        .filter(fits)
        .ok_or_else(|| "write width x height, from 480x360 to 8000x8000, as 1280x800".to_owned())
}

impl FigureArgs {
    /// The sheet to draw on.
    pub fn sheet(&self) -> Sheet {
        let usual = Sheet::default();
        let (width, height) =
            self.size.map_or((usual.width, usual.height), |(w, h)| (f64::from(w), f64::from(h)));
        Sheet { width, height, title: self.title.clone() }
    }

    /// What is to be drawn, once it is clear that it may be written.
    pub fn request(&self, force: bool, context: &Context<'_>) -> Result<FigureRequest, CliError> {
        let file = self.figure.as_ref().map(|path| {
            let form = figure::Form::of_path(path)?;
            check_target(path, force)?;
            Ok::<_, CliError>((path.clone(), form))
        });
        let is_kept = context.kept.as_ref().is_some_and(|keeping| keeping.wants_figure);
        Ok(FigureRequest { file: file.transpose()?, is_kept })
    }
}

/// A figure that is to be written to a file, or kept for a report.
pub struct FigureRequest {
    file: Option<(PathBuf, figure::Form)>,
    is_kept: bool,
}

impl FigureRequest {
    /// Draws it, if it is wanted at all.
    pub fn draw(
        self,
        files: &mut Files,
        drawing: impl FnOnce() -> Result<Drawing, CliError>,
    ) -> Result<(), CliError> {
        if self.file.is_none() && !self.is_kept {
            return Ok(());
        }
        let drawing = drawing()?;
        if let Some((path, form)) = &self.file {
            files.add(path, form.draw(&drawing)?);
        }
        if self.is_kept {
            files.keep_figure(drawing);
        }
        Ok(())
    }
}

impl OutputArgs {
    /// How much of a document is shown: a text for the screen is shorter than a file for a paper.
    pub fn extent(&self, form: Format) -> Extent {
        match (self.brief, self.verbose || form != Format::Text) {
            (true, _) => Extent::Brief,
            (false, true) => Extent::Whole,
            (false, false) => Extent::Usual,
        }
    }

    /// The form in force: as named, by the file's ending, or the usual one where there is no ending.
    pub fn format_or(&self, usual: Format) -> Result<Format, CliError> {
        if let Some(form) = self.form {
            return Ok(form);
        }
        let ending = self.out.as_ref().and_then(|path| path.extension());
        Ok(match ending.map(|ending| ending.to_string_lossy().to_lowercase()).as_deref() {
            None => usual,
            Some("json") => Format::Json,
            Some("jsonl") => Format::Jsonl,
            Some("csv") => Format::Csv,
            Some("txt") => Format::Text,
            Some("md") => Format::Markdown,
            Some("tex") => Format::Latex,
            Some(other) => {
                return Err(CliError::call(format!("--out: results are not written as .{other}"))
                    .advise("take .txt, .json, .jsonl, .csv, .md or .tex, or name the form with --as"));
            }
        })
    }
}
