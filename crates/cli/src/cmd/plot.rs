//! `kandrel plot`: series as lines, by season, or by year.

use kandrel_core::series::SeriesWithGaps;
use rayon::prelude::*;

use crate::args::{DataArgs, FigureArgs, Gaps, OutputArgs};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::model::diagnosis;
use crate::output::Files;
use crate::present::plot::{self, Arrangement, Plotted, SeasonKind, Setting};
use crate::session::Session;
use crate::wording;

pub const ABOUT: &str = "Charts of series: together, as panels, with a transformation, by season or by year";
pub const EXAMPLES: &str = "Examples:\n  kandrel plot demo:harbour freight --chart\n  \
    kandrel plot demo:harbour freight claims ice --panels --figure three.svg\n  \
    kandrel plot demo:harbour freight:ln --with d12 --figure beside.svg\n  \
    kandrel plot demo:harbour ice --by-season --figure seasons.svg";

/// A figure holds at most that number of series.
const MOST: usize = 24;

// Each flag is one kind of plot; clap allows one.
#[allow(clippy::struct_excessive_bools)]
#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, columns with steps, or arithmetic on them: freight:ln,d1
    series: Vec<String>,
    /// One panel for each series
    #[arg(long, help_heading = "Method")]
    panels: bool,
    /// Each series beside a transformation of it: d1, ln, pct12 (below it with --panels)
    #[arg(long, value_name = "STEP", help_heading = "Method")]
    with: Option<String>,
    /// The values of each month, quarter or weekday, and their mean
    #[arg(long, help_heading = "Method", conflicts_with_all = ["panels", "with"])]
    by_season: bool,
    /// One line for each year
    #[arg(long, help_heading = "Method", conflicts_with_all = ["panels", "with", "by_season"])]
    by_year: bool,
    /// A box for each month, quarter or weekday
    #[arg(long, help_heading = "Method", conflicts_with_all = ["panels", "with", "by_season", "by_year"])]
    boxes: bool,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let request = args.figure.request(args.output.force, context)?;
    let mut session = Session::open(&args.data, context.stdin)?;
    let season = session.season();
    let mut all = session.series_with_gaps(&args.series, Gaps::Keep)?;
    if let Some(step) = &args.with {
        let then = std::slice::from_ref(step);
        let changed: Vec<String> = all.iter().map(|series| wording::with_steps(&series.name, then)).collect();
        let changed = session.series_with_gaps(&changed, Gaps::Keep)?;
        all = all.into_iter().zip(changed).flat_map(|(level, step)| [level, step]).collect();
    }
    if all.len() > MOST {
        return Err(CliError::call(format!("{} series are too many for one figure", all.len()))
            .advise(format!("name at most {MOST}")));
    }
    let setting = Setting { source: session.dataset.file_name(), season };
    let plotted = plotted(args, &all, setting)?;
    let mut files = Files::default();
    request.draw(&mut files, || Ok(figure::plot::drawing(&plotted.plot, &args.figure.sheet())))?;
    let Plotted { document, results, .. } = plotted;
    let report = Report { command: "plot", documents: vec![document], results, ..Report::default() };
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

fn plotted(args: &Args, all: &[SeriesWithGaps], setting: Setting<'_>) -> Result<Plotted, CliError> {
    if (args.by_season || args.by_year || args.boxes) && setting.season < 2 {
        return Err(CliError::call(format!("{} data have no season", wording::frequency_of(all)))
            .advise("give the number of observations in a season with --season N"));
    }
    let diagnoses = || all.par_iter().map(|series| diagnosis(series, setting.season)).collect();
    if args.by_season {
        plot::seasons(all, SeasonKind::Lines, setting, diagnoses())
    } else if args.boxes {
        plot::seasons(all, SeasonKind::Boxes, setting, diagnoses())
    } else if args.by_year {
        plot::years(all, setting)
    } else {
        let arrangement = match (&args.with, args.panels) {
            (_, true) => Arrangement::Panels,
            (Some(_), false) => Arrangement::Pairs,
            (None, false) => Arrangement::Together,
        };
        plot::levels(all, arrangement, setting, diagnoses())
    }
}
