//! `kandrel study`: from a small file to a whole report.

mod article;
mod chain;
mod check;
mod file;
mod report;

use std::path::{Path, PathBuf};

use clap::Parser;
use kandrel_core::series::{Fill, fill};
use serde_json::Value;

use self::chain::{Chain, Member};
use self::file::Study;
use self::report::About;
use crate::args::{DataArgs, Gaps};
use crate::call::{Call, Name};
use crate::cmd::typed;
use crate::context::Context;
use crate::demo;
use crate::document::Document;
use crate::error::CliError;
use crate::figure::Form;
use crate::model::diagnosis;
use crate::output::{Files, check_target, make_folder};
use crate::read::Dataset;
use crate::render;
use crate::session::Session;
use crate::wording;
use crate::wording::titles;

pub const ABOUT: &str = "Runs a study file from data to report";
pub const EXAMPLES: &str = "Examples:\n  kandrel study --new demo:harbour freight --out freight.toml\n  \
    kandrel study demo:freight.toml --into freight-report";

/// Seasons predicted where a starting file says how many.
const SEASONS_AHEAD: usize = 2;
/// Periods predicted without a season.
const AHEAD: usize = 8;

// Each flag is independent of the others.
#[allow(clippy::struct_excessive_bools)]
#[derive(clap::Args)]
pub struct Args {
    /// The study file; with --new the data file
    file: String,
    /// With --new: columns, or columns with steps
    #[arg(requires = "new")]
    series: Vec<String>,
    /// Write a commented starting file for a series instead
    #[arg(long, conflicts_with_all = ["check", "into"], help_heading = "Method")]
    new: bool,
    /// Do the study again and say what has changed since the report was written
    #[arg(long, help_heading = "Method")]
    check: bool,
    /// Folder of the report (default: the study file's name and -report)
    #[arg(long, value_name = "DIR", help_heading = "Output")]
    into: Option<PathBuf>,
    /// With --new: file to write in place of standard output
    #[arg(long, value_name = "PATH", requires = "new", help_heading = "Output")]
    out: Option<PathBuf>,
    /// Overwrite files that exist
    #[arg(long, help_heading = "Output")]
    force: bool,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    if args.new { start(args, context) } else { study(args, context) }
}

/// Whether a text is a study file.
pub fn check(text: &str) -> Result<(), CliError> {
    Study::parse("study.toml", text).map(|_| ())
}

/// The data options of a study.
#[derive(Parser)]
#[command(no_binary_name = true)]
struct Typed {
    #[command(flatten)]
    data: DataArgs,
}

fn data_args(file: &str, options: &[String]) -> Result<DataArgs, CliError> {
    let words: Vec<String> = std::iter::once(file.to_owned()).chain(options.iter().cloned()).collect();
    let typed = Typed::try_parse_from(words).map_err(|error| {
        let text = error.to_string();
        CliError::call(format!("the study's data options: {}", text.lines().next().unwrap_or_default()))
            .advise("they are those of every command: kandrel inspect --help")
    })?;
    Ok(typed.data)
}

/// A call on the data of a study, which its other calls follow.
fn data_call(file: &str, options: &[String]) -> Result<Call, CliError> {
    let words: Vec<String> =
        ["inspect", file].into_iter().map(str::to_owned).chain(options.iter().cloned()).collect();
    typed(&words).map(|parsed| parsed.call).map_err(|error| CliError::call(error.to_string()))
}

/// Writes a starting file.
fn start(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let data = data_args(&args.file, &[])?;
    let mut session = Session::open(&data, context.stdin)?;
    let season = session.season();
    let all = session.series_with_gaps(&args.series, Gaps::Keep)?;
    if all.is_empty() || (args.series.is_empty() && all.len() > 1) {
        return Err(CliError::call("which series?")
            .advise(format!("name one or several of {}", wording::list(&session.dataset.numeric_names()))));
    }
    let series: Vec<String> = all.into_iter().map(|one| one.name).collect();
    let horizon = if season > 1 && season <= 60 { SEASONS_AHEAD * season } else { AHEAD };
    // The file is found from wherever the study file is.
    let file = match std::path::absolute(&args.file) {
        Ok(path) if args.out.is_some() && path.is_file() => {
            let beside = args.out.as_ref().and_then(|out| std::path::absolute(out).ok());
            let folder = beside.as_deref().and_then(Path::parent).map(Path::to_owned);
            match folder.and_then(|folder| path.strip_prefix(folder).ok().map(Path::to_owned)) {
                Some(near) => near.to_string_lossy().into_owned(),
                None => path.to_string_lossy().into_owned(),
            }
        }
        _ => args.file.clone(),
    };
    let title =
        format!("A study of {}", wording::joined(&series.iter().map(String::as_str).collect::<Vec<_>>()));
    let text = file::starting(&file, &series, &title, season, horizon);
    match &args.out {
        None => Ok(context.stdout.write_all(text.as_bytes())?),
        Some(path) => {
            let mut files = Files::default();
            files.add(path, text.into_bytes());
            files.write(args.force)?;
            writeln!(
                context.stdout,
                "{} is written. Next:\n  kandrel study {}",
                path.display(),
                path.display()
            )?;
            Ok(())
        }
    }
}

/// The data file, found from the study file's folder.
fn data_file(study_file: &str, file: &str) -> String {
    if file.starts_with("demo:") || Path::new(file).is_absolute() {
        return file.to_owned();
    }
    let folder = Path::new(study_file).parent().filter(|folder| !folder.as_os_str().is_empty());
    folder.map_or_else(|| file.to_owned(), |folder| folder.join(file).to_string_lossy().into_owned())
}

fn study(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let text = text_of(&args.file)?;
    let study = Study::parse(&args.file, &text)?;
    let folder = args.into.clone().unwrap_or_else(|| report_folder(&args.file));
    if !args.check {
        check_target(&folder.join("report.html"), args.force).or_else(|error| {
            // A folder that is not there yet is made.
            if folder.exists() { Err(error) } else { Ok(()) }
        })?;
    }
    let (about, parts) = done(&study, args, &text, context)?;
    let record = check::record(&about, &parts);
    if args.check {
        return compared(&folder, &record, context);
    }
    let mut files = Files::default();
    files.add(&folder.join("report.html"), report::html(&about, &parts).into_bytes());
    files.add(&folder.join("report.md"), report::markdown(&about, &parts).into_bytes());
    files.add(&folder.join("report.tex"), article::latex(&about, &parts).into_bytes());
    let results = serde_json::to_vec_pretty(&record)
        .map_err(|error| CliError::computation(format!("the results cannot be written: {error}")))?;
    files.add(&folder.join("results.json"), results);
    for (name, drawing) in parts.iter().flat_map(|part| &part.steps).filter_map(|step| step.figure.as_ref()) {
        for form in [Form::Svg, Form::Png] {
            // LaTeX includes pictures of points.
            files.add(&folder.join("figures").join(format!("{name}.{}", form.ending())), form.draw(drawing)?);
        }
    }
    make_folder(&folder.join("figures"))?;
    files.write(args.force)?;
    let document = summary(&about, &parts, &folder, &args.file);
    context.stdout.write_all(render::plain_text(&document).as_bytes())?;
    Ok(())
}

/// The text of a study file, which may be a built-in one.
fn text_of(file: &str) -> Result<String, CliError> {
    if let Some(text) = file.strip_prefix("demo:").and_then(demo::study) {
        return Ok(text.to_owned());
    }
    std::fs::read_to_string(file).map_err(|error| {
        CliError::data(format!("the study file {file} cannot be read: {error}"))
            .advise("kandrel study --new DATA SERIES writes one to begin with")
    })
}

fn report_folder(file: &str) -> PathBuf {
    let path = Path::new(file.strip_prefix("demo:").unwrap_or(file));
    let name = path.file_stem().unwrap_or_default().to_string_lossy().into_owned();
    path.with_file_name(format!("{name}-report"))
}

/// Does all parts of a study.
fn done(
    study: &Study,
    args: &Args,
    text: &str,
    context: &mut Context<'_>,
) -> Result<(About, Vec<chain::Part>), CliError> {
    let file = data_file(&args.file, &study.file);
    let data = data_args(&file, &study.data_options())?;
    let mut session = Session::open(&data, context.stdin)?;
    let season = session.season();
    let several = study.series.len() > 1;
    let all = session.series_with_gaps(&study.series, data.gaps.unwrap_or(Gaps::Keep))?;
    let call = data_call(&file, &study.data_options())?;
    let mut chain = Chain::new(study, call, season, context);
    if several {
        chain.file()?;
    }
    let mut members = Vec::new();
    for (expression, series) in study.series.iter().zip(&all) {
        let filled = fill(&series.cells, Fill::Linear, season);
        let values: Vec<f64> = filled.cells.into_iter().flatten().collect();
        let own = chain.of_series(expression, &values)?;
        if several {
            let gaps = data.gaps.unwrap_or(Gaps::Keep);
            let transformed = session.series_with_gaps(std::slice::from_ref(&own), gaps)?;
            let diagnosis = transformed.first().and_then(|series| diagnosis(series, season));
            members.push(Member { series: own, diagnosis });
        }
    }
    if several {
        chain.together(&members)?;
    }
    let parts = chain.parts;
    let steps = || parts.iter().flat_map(|part| &part.steps);
    if steps().count() > 0 && steps().all(|step| step.failure.is_some()) {
        let why = steps().find_map(|step| step.failure.clone()).unwrap_or_default();
        return Err(CliError::data(format!("{}: no part could be done: {why}", args.file)));
    }
    Ok((about(study, &session.dataset, text), parts))
}

fn about(study: &Study, dataset: &Dataset, text: &str) -> About {
    let frame = &dataset.frame;
    About {
        title: study.title.clone().unwrap_or_else(|| {
            let names: Vec<&str> = study.series.iter().map(String::as_str).collect();
            format!("A study of {}", wording::joined(&names))
        }),
        source: dataset.source.clone(),
        sha256: dataset.sha256.clone(),
        span: format!(
            "{} data from {} to {}, {}",
            frame.frequency().adjective(),
            frame.start,
            frame.last(),
            wording::count(dataset.rows, "row")
        ),
        notes: dataset.notes.clone(),
        study: text.to_owned(),
    }
}

/// What is said when a report is written.
fn summary(about: &About, parts: &[chain::Part], folder: &Path, file: &str) -> Document {
    let mut document = Document::default();
    document.paragraph(format!("{} is written: open it in a browser.", folder.join("report.html").display()));
    let told = report::argument(parts).into_iter().map(|(title, sentence)| format!("{title}: {sentence}"));
    document.list(&about.title, told.collect());
    let again = Call::new(Name::Study, file).with("into", folder.to_string_lossy()).flag("check");
    document.commands(titles::NEXT, vec![again]);
    document
}

/// Says what has changed.
fn compared(folder: &Path, now: &Value, context: &mut Context<'_>) -> Result<(), CliError> {
    let path = folder.join("results.json");
    let missing = |reason: String| {
        CliError::data(format!("{} cannot be read: {reason}", path.display()))
            .advise("do the study first: kandrel study FILE.toml --into DIR")
    };
    let text = std::fs::read_to_string(&path).map_err(|error| missing(error.to_string()))?;
    let before: Value = serde_json::from_str(&text).map_err(|error| missing(error.to_string()))?;
    let changes = check::changes(&before, now);
    let mut document = Document::default();
    document.paragraph(match changes.len() {
        0 => "Nothing has changed: every answer and every figure is the same.".to_owned(),
        many => format!("{} since the report was written.", wording::count(many, "change")),
    });
    document.list(titles::CHANGES, changes);
    context.stdout.write_all(render::plain_text(&document).as_bytes())?;
    Ok(())
}
