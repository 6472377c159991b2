//! `kandrel screen`: the whole diagnosis of many series, one row each.

mod form;
mod rows_file;
mod source;

use std::io::Write;
use std::path::Path;

use self::form::{Form, Key};
use self::rows_file::{Fingerprint, RowsFile};
use self::source::{Item, Source};
use crate::args::{DataArgs, FigureArgs, FigureRequest, Format, OutputArgs};
use crate::call::Call;
use crate::cmd::deliver_as;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::output::{Files, is_same};
use crate::present::screen::{self as text, Flagged, ScreenRow};
use crate::progress::Progress;
use crate::read::Dataset;
use crate::render;
use crate::threads;
use crate::visible::visible;
use kandrel_core::screen::{ScreenOptions, screen};
use rayon::prelude::*;

pub const ABOUT: &str = "The whole diagnosis of many series, one row each, in parallel";
pub const EXAMPLES: &str = "Examples:\n  kandrel screen demo:harbour\n  \
    kandrel screen demo:region wages:ln rents:ln --quick\n  \
    kandrel screen demo:timber --as jsonl";

/// Series that a thread gets at a time.
const PER_THREAD: usize = 16;

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, columns with steps, or further files (all columns of each file if none is named)
    series: Vec<String>,
    /// Threads (as many as there are processors if not given)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..=1024), help_heading = "Method")]
    jobs: Option<u16>,
    /// Go on with a screening into --out that was interrupted
    #[arg(long, requires = "out", conflicts_with = "figure", help_heading = "Method")]
    resume: bool,
    /// Transformation and order of integration only: no model, no outliers
    #[arg(long, help_heading = "Method")]
    quick: bool,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let request = args.figure.request(args.output.force, context)?;
    if let (Some(rows), Some(figure)) = (&args.output.out, &args.figure.figure)
        && is_same(rows, figure)
    {
        return Err(CliError::call(format!("{} is named for two results", rows.display()))
            .advise("give each its own file"));
    }
    threads::prepare();
    let pool = args.jobs.and_then(threads::pool);
    let (mut files, mut wanted) = (vec![args.data.file.clone()], Vec::new());
    for word in &args.series {
        if word.starts_with("demo:") || Path::new(word).is_file() {
            files.push(word.clone());
        } else {
            wanted.push(word.clone());
        }
    }
    let form = args.output.format_or(Format::Text)?;
    let rows_form = match form {
        Format::Csv => Some(Form::Csv),
        Format::Jsonl => Some(Form::Jsonl),
        _ => None,
    };
    let Context { call, stdin, stdout, stderr, .. } = context;
    let mut source = Source::new(&args.data, files, wanted, &mut **stdin);
    let Some(rows_form) = rows_form else {
        if args.resume {
            return Err(CliError::call("--resume goes with rows: --as csv or --as jsonl")
                .advise("name the file rows.csv or rows.jsonl"));
        }
        let (rows, flagged) = collected(args, &mut source, pool.as_ref())?;
        let opened = source.opened;
        let file = source.session.take().map(|session| (session.season(), session.dataset));
        drop(source);
        let figure = drawn(args, request, &flagged)?;
        return whole(args, form, &rows, file.filter(|_| opened == 1), figure, context);
    };
    let mut file = rows_file(args, call, rows_form)?;
    let flagged = streamed(args, rows_form, &mut source, pool.as_ref(), file.as_mut(), &mut **stdout)?;
    file.map_or(Ok(()), RowsFile::finish)?;
    drawn(args, request, &flagged)?.write(args.output.force)?;
    if !args.output.quiet {
        for note in &source.notes {
            writeln!(stderr, "note: {}", visible(note))?;
        }
    }
    Ok(())
}

/// The figure of the flagged series, where it is wanted.
fn drawn(args: &Args, request: FigureRequest, flagged: &Flagged) -> Result<Files, CliError> {
    let mut files = Files::default();
    request.draw(&mut files, || Ok(figure::plot::drawing(&flagged.plot(), &args.figure.sheet())))?;
    Ok(files)
}

/// Counts rows, and keeps the flagged series where there will be a figure of them.
fn add_flagged(args: &Args, flagged: &mut Flagged, items: &[Item], rows: &[ScreenRow]) {
    for (item, row) in items.iter().zip(rows) {
        flagged.add(item.data.as_ref().ok().filter(|_| args.figure.figure.is_some()), row);
    }
}

/// All rows, before a word is said.
fn collected(
    args: &Args,
    source: &mut Source<'_>,
    pool: Option<&rayon::ThreadPool>,
) -> Result<(Vec<ScreenRow>, Flagged), CliError> {
    let (mut rows, mut flagged) = (Vec::new(), Flagged::default());
    let size =
        PER_THREAD * pool.map_or_else(rayon::current_num_threads, rayon::ThreadPool::current_num_threads);
    let mut progress = None;
    loop {
        let items = source.block(size)?;
        if items.is_empty() {
            return Ok((rows, flagged));
        }
        let steps = (rows.len() + items.len() + source.left().unwrap_or(0)) as u64;
        let bar = progress.get_or_insert_with(|| Progress::new("series", steps, args.output.quiet));
        let own = screened(&items, args.quick, bar, pool);
        add_flagged(args, &mut flagged, &items, &own);
        rows.extend(own);
    }
}

/// Rows of a block, in order.
fn screened(
    items: &[Item],
    quick: bool,
    progress: &Progress,
    pool: Option<&rayon::ThreadPool>,
) -> Vec<ScreenRow> {
    let one = |item: &Item| {
        let row = match &item.data {
            Err(why) => text::failed(&item.source, &item.series, item.sha256.as_deref(), why),
            Ok(series) => {
                let options = ScreenOptions { season: item.season, quick };
                match screen(series, &options) {
                    Ok(found) => text::row(&item.source, series, item.sha256.as_deref(), item.season, &found),
                    Err(error) => {
                        text::failed(&item.source, &item.series, item.sha256.as_deref(), &error.to_string())
                    }
                }
            }
        };
        progress.step();
        row
    };
    let all = || items.par_iter().map(one).collect();
    match pool {
        Some(pool) => pool.install(all),
        None => all(),
    }
}

/// The file of the rows, where one is named.
fn rows_file(args: &Args, call: &Call, form: Form) -> Result<Option<RowsFile>, CliError> {
    let Some(path) = &args.output.out else {
        return Ok(None);
    };
    let (fingerprint, force) = (Fingerprint::new(call, form), args.output.force);
    let begin = if args.resume { RowsFile::resume } else { RowsFile::begin };
    begin(path, fingerprint, force).map(Some)
}

/// Rows as they are done.
fn streamed(
    args: &Args,
    form: Form,
    source: &mut Source<'_>,
    pool: Option<&rayon::ThreadPool>,
    mut file: Option<&mut RowsFile>,
    stdout: &mut dyn Write,
) -> Result<Flagged, CliError> {
    let size =
        PER_THREAD * pool.map_or_else(rayon::current_num_threads, rayon::ThreadPool::current_num_threads);
    let (mut progress, mut flagged) = (None, Flagged::default());
    let mut head = form.head()?;
    loop {
        let mut items = source.block(size)?;
        if items.is_empty() {
            break;
        }
        let steps = (items.len() + source.left().unwrap_or(0)) as u64;
        let bar = progress.get_or_insert_with(|| Progress::new("series", steps, args.output.quiet));
        if let Some(file) = &mut file {
            items = not_done(file, items)?;
        }
        let rows = screened(&items, args.quick, bar, pool);
        add_flagged(args, &mut flagged, &items, &rows);
        let lines: Vec<Vec<u8>> = rows.iter().map(|row| form.line(row)).collect::<Result<_, _>>()?;
        let lines = lines.concat();
        if let Some(file) = &mut file {
            file.add(&lines)?;
        } else {
            stdout.write_all(&std::mem::take(&mut head))?;
            stdout.write_all(&lines)?;
            stdout.flush()?;
        }
    }
    if file.is_none() {
        // Without a series there is a table without rows.
        stdout.write_all(&head)?;
    }
    Ok(flagged)
}

/// Items that an earlier run has not done.
fn not_done(file: &mut RowsFile, items: Vec<Item>) -> Result<Vec<Item>, CliError> {
    let mut left = Vec::with_capacity(items.len());
    for item in items {
        let key =
            Key { source: item.source.clone(), series: item.series.clone(), sha256: item.sha256.clone() };
        if !file.has(&key)? {
            left.push(item);
        }
    }
    Ok(left)
}

/// Rows as one result.
fn whole(
    args: &Args,
    form: Format,
    rows: &[ScreenRow],
    file: Option<(usize, Dataset)>,
    mut files: Files,
    context: &mut Context<'_>,
) -> Result<(), CliError> {
    let document = text::document(rows, &context.call);
    if let Some((season, dataset)) = file {
        let report = Report::of("screen", rows, vec![document])?;
        return deliver_as(form, &report, &dataset, season, &args.output, files, context);
    }
    let text = match form {
        Format::Text => render::plain_text(&document),
        Format::Markdown => render::markdown(&document),
        Format::Latex => render::latex(&document),
        Format::Json | Format::Csv | Format::Jsonl => {
            return Err(CliError::call("--as json is about one file of columns")
                .advise("take --as jsonl: one row of JSON for each series"));
        }
    };
    if let Some(path) = &args.output.out {
        files.add(path, text.into_bytes());
    } else {
        context.stdout.write_all(text.as_bytes())?;
    }
    files.write(args.output.force)
}
