//! `kandrel relate`: correlation, cross-correlation, lagged scatter.

use crate::args::{DataArgs, FigureArgs, OutputArgs};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure::cross::Crossed;
use crate::figure::matrix::Matrix;
use crate::figure::{self, Drawing};
use crate::model::diagnoses;
use crate::output::Files;
use crate::present::diagnosis::DiagnosisResult;
use crate::present::relate::{
    self, CrossResult, Function, LeadResult, MatrixResult, RelateResult, ScatterResult, Unit,
};

use crate::read::Dataset;
use crate::session::Session;
use crate::wording;
use kandrel_core::corr::{AcfOptions, Finding, acf, read};
use kandrel_core::relation::{
    RelationError, correlation_matrix, cross_correlations, default_cross_lags, prewhiten,
};
use kandrel_core::series::Series;
use rayon::prelude::*;

pub const ABOUT: &str = "Correlation matrix, cross-correlation and lead-lag relations, lagged scatter plots";
pub const EXAMPLES: &str = "Examples:\n  kandrel relate demo:harbour freight claims waiting\n  \
    kandrel relate demo:harbour bookings sailings --cross --prewhiten\n  \
    kandrel relate demo:harbour bookings sailings --scatter --figure lags.svg";

/// A figure holds that number of pairs.
const MAX_PAIRS: usize = 15;
/// The largest lag of scatter panels.
const MAX_SCATTER_LAGS: usize = 24;
/// A panel has at least that number of points.
const MIN_SCATTER_POINTS: usize = 4;

// Each flag is independent of the others.
#[allow(clippy::struct_excessive_bools)]
#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln,d1
    series: Vec<String>,
    /// Correlations at lags to both sides: who leads
    #[arg(long, help_heading = "Method")]
    cross: bool,
    /// The second series against the first, lag by lag, with the regression line
    #[arg(long, help_heading = "Method", conflicts_with_all = ["cross", "prewhiten"])]
    scatter: bool,
    /// A smooth curve (lowess) in the scatter panels
    #[arg(long, help_heading = "Method", requires = "scatter")]
    curve: bool,
    /// Largest lag (cross: two seasons, at most a quarter of the observations; scatter: nine lags around the strongest)
    #[arg(long, value_name = "N", help_heading = "Method")]
    lags: Option<usize>,
    /// Filter both series with the autoregression that makes the first white (implies --cross)
    #[arg(long, help_heading = "Method")]
    prewhiten: bool,
    /// First differences instead of levels
    #[arg(long, help_heading = "Method")]
    changes: bool,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let request = args.figure.request(args.output.force, context)?;
    let mut session = Session::open(&args.data, context.stdin)?;
    let season = session.season();
    let all = series_in_common(args, &mut session)?;
    let result = related(args, &session.dataset, &all, season)?;
    let mut files = Files::default();
    request.draw(&mut files, || drawing(args, &session.dataset, &all, &result))?;
    let report = Report::of("relate", [&result], vec![relate::document(&result, &context.call)])?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

/// The series, or their changes, over the periods all of them have.
fn series_in_common(args: &Args, session: &mut Session<'_>) -> Result<Vec<Series>, CliError> {
    let mut all = session.series(&args.series)?;
    if args.changes {
        let changed: Vec<String> =
            all.iter().map(|series| wording::with_steps(&series.name, &["d1"])).collect();
        all = session.series(&changed)?;
    }
    let wanted = match (args.scatter, all.len()) {
        (true, 1 | 2) | (false, 2..) => None,
        (true, _) => Some("--scatter takes one series, or two"),
        (false, _) => Some("relate needs at least two series"),
    };
    if let Some(wanted) = wanted {
        return Err(CliError::call(wanted).advise("name the series: kandrel relate FILE first second"));
    }
    session.over_common_periods(&all)
}

fn related(args: &Args, dataset: &Dataset, all: &[Series], season: usize) -> Result<RelateResult, CliError> {
    let refused = |error| refusal(dataset, all, error);
    let is_several = all.len() > 1;
    let matrix_of = |values: &[Vec<f64>]| -> Result<MatrixResult, RelationError> {
        let slices: Vec<&[f64]> = values.iter().map(Vec::as_slice).collect();
        Ok(MatrixResult {
            names: all.iter().map(|series| series.name.clone()).collect(),
            matrix: correlation_matrix(&slices)?,
            observations: values.first().map_or(0, Vec::len),
        })
    };
    let levels: Vec<Vec<f64>> = all.iter().map(|series| series.values.clone()).collect();
    let changes: Vec<Vec<f64>> =
        levels.iter().map(|y| y.windows(2).map(|pair| pair[1] - pair[0]).collect()).collect();
    let first = all.first();
    let marked = |marks: &[bool]| -> Vec<String> {
        all.iter().zip(marks).filter(|(_, mark)| **mark).map(|(series, _)| series.name.clone()).collect()
    };
    let diagnoses = diagnoses(all, season);
    let each = |is: fn(&DiagnosisResult) -> bool| -> Vec<bool> {
        diagnoses.iter().map(|one| one.diagnosis.as_ref().is_some_and(is)).collect()
    };
    let is_level = |is: bool| is && !args.changes;
    let trending: Vec<bool> = each(DiagnosisResult::is_trending).into_iter().map(is_level).collect();
    let seasonal = each(DiagnosisResult::is_seasonal);
    let mut result = RelateResult {
        first: first.map_or(String::new(), |series| series.start.to_string()),
        last: first.map_or(String::new(), |series| series.last().to_string()),
        correlations: is_several.then(|| matrix_of(&levels)).transpose().map_err(refused)?,
        // A straight line has correlations, though its changes have none.
        changes: if is_several && !args.changes { matrix_of(&changes).ok() } else { None },
        cross: if args.cross || args.prewhiten {
            crossed(args, all, season).map_err(refused)?
        } else {
            Vec::new()
        },
        lead: None,
        diagnoses,
        nonstationary: Vec::new(),
        seasonal: Vec::new(),
        scatter: if args.scatter { Some(scattered(args, dataset, all)?) } else { None },
        reading: Vec::new(),
        is_of_changes: args.changes,
        unit: Unit { noun: first.map_or("observation", |series| series.start.frequency().noun()), season },
    };
    for (number, pair) in pairs(all.len()).zip(&mut result.cross) {
        pair.shared_seasonality = number.iter().all(|place| seasonal[*place]);
        pair.both_nonstationary = number.iter().all(|place| trending[*place]);
    }
    result.lead = lead(args, all, season, trending.contains(&true));
    (result.nonstationary, result.seasonal) = (marked(&trending), marked(&seasonal));
    result.reading = relate::reading(&result);
    Ok(result)
}

/// Which of two series leads after prewhitening, in first differences where a level is non-stationary.
fn lead(args: &Args, all: &[Series], season: usize, of_differences: bool) -> Option<LeadResult> {
    let [first, second] = all else {
        return None;
    };
    if args.cross || args.prewhiten || args.scatter {
        return None;
    }
    let of = |series: &Series| {
        if of_differences {
            series.values.windows(2).map(|pair| pair[1] - pair[0]).collect()
        } else {
            series.values.clone()
        }
    };
    let (x, y) = (of(first), of(second));
    let most = args.lags.unwrap_or_else(|| default_cross_lags(x.len(), season));
    let names = [first.name.as_str(), second.name.as_str()];
    let function =
        |x: &[f64], y: &[f64]| Some(Function::new(cross_correlations(x, y, most).ok()?, names, season));
    let both = prewhiten(&x, &y, season).ok()?;
    let (raw, white) = (function(&x, &y)?, function(&both.first, &both.second)?);
    Some(LeadResult {
        first: first.name.clone(),
        second: second.name.clone(),
        strongest: white.strongest,
        raw: raw.strongest,
        of_differences,
        order: both.order,
        functions: [raw.cross, white.cross],
    })
}

/// Places of every two of this number of series.
fn pairs(count: usize) -> impl Iterator<Item = [usize; 2]> {
    (0..count).flat_map(move |a| (a + 1..count).map(move |b| [a, b]))
}

/// Every pair's cross-correlations.
fn crossed(args: &Args, all: &[Series], season: usize) -> Result<Vec<CrossResult>, RelationError> {
    let autocorrelated: Vec<bool> = all.par_iter().map(|series| is_autocorrelated(series, season)).collect();
    let pairs: Vec<[usize; 2]> = pairs(all.len()).collect();
    pairs
        .into_par_iter()
        .map(|[a, b]| {
            let mut one = pair(args, [&all[a], &all[b]], season).map_err(|error| named(error, [a, b]))?;
            one.both_autocorrelated = autocorrelated[a] && autocorrelated[b];
            Ok(one)
        })
        .collect()
}

/// An error about the pair's own numbers, as one about all series.
fn named(error: RelationError, pair: [usize; 2]) -> RelationError {
    let of = |place: usize| pair.get(place).copied().unwrap_or(place);
    match error {
        RelationError::Series { series, reason } => RelationError::Series { series: of(series), reason },
        other => other,
    }
}

fn pair(args: &Args, [first, second]: [&Series; 2], season: usize) -> Result<CrossResult, RelationError> {
    let (x, y) = (&first.values, &second.values);
    let most = args.lags.unwrap_or_else(|| default_cross_lags(x.len(), season));
    let names = [first.name.as_str(), second.name.as_str()];
    let function = |x: &[f64], y: &[f64]| -> Result<Function, RelationError> {
        Ok(Function::new(cross_correlations(x, y, most)?, names, season))
    };
    let raw = function(x, y)?;
    let (of, filter, raw) = if args.prewhiten {
        let both = prewhiten(x, y, season)?;
        (function(&both.first, &both.second)?, Some((&both).into()), Some(raw))
    } else {
        (raw, None, None)
    };
    Ok(CrossResult {
        first: first.name.clone(),
        second: second.name.clone(),
        of,
        filter,
        raw,
        shared_seasonality: false,
        both_nonstationary: false,
        both_autocorrelated: false,
    })
}

fn is_autocorrelated(series: &Series, season: usize) -> bool {
    let options = AcfOptions { season, ..AcfOptions::default() };
    let findings = acf(&series.values, &options).map(|acf| read(&acf, season)).unwrap_or_default();
    !findings.iter().any(|finding| matches!(finding, Finding::NoAutocorrelation { .. }))
}

fn scattered(args: &Args, dataset: &Dataset, all: &[Series]) -> Result<ScatterResult, CliError> {
    let observations = all.first().map_or(0, |series| series.values.len());
    let possible = MAX_SCATTER_LAGS.min(observations.saturating_sub(MIN_SCATTER_POINTS));
    if let Some(most) = args.lags.filter(|most| *most > possible) {
        return Err(CliError::call(format!("--lags: panels for {most} lags of {observations} observations"))
            .advise(format!("take at most {possible}")));
    }
    let panels = |first: &Series, second: &Series, lowest: usize| {
        let lags = match args.lags {
            Some(most) => lowest..=most.max(lowest),
            None => {
                relate::around_strongest(first, second, lowest, possible.min(observations / 4).max(lowest))?
            }
        };
        relate::scatter(first, second, lags, args.curve)
    };
    let found = match all {
        [first, second, ..] => panels(first, second, 0),
        [own] => panels(own, own, 1),
        [] => Err(RelationError::TooShort { observations: 0, needed: 1 }),
    };
    found.map_err(|error| refusal(dataset, all, error))
}

fn drawing(
    args: &Args,
    dataset: &Dataset,
    all: &[Series],
    result: &RelateResult,
) -> Result<Drawing, CliError> {
    let sheet = args.figure.sheet();
    let title = relate::sentence(result);
    let subtitle = format!("{}, {} to {}", dataset.file_name(), result.first, result.last);
    if let Some(scatter) = &result.scatter {
        return Ok(figure::plot::drawing(
            &relate::scatter_plot(scatter, &result.unit, &subtitle, false),
            &sheet,
        ));
    }
    let heads = (title.as_str(), subtitle.as_str());
    let season = result.unit.season;
    let of_pair = |first: &Series, second: &Series, functions: &[Crossed<'_>]| {
        let axis = format!("{}s that {} is ahead of {}", result.unit.noun, first.name, second.name);
        let axis = wording::capitalised(&axis);
        figure::cross::drawing([first, second], functions, season, &axis, heads, &sheet)
    };
    match (result.cross.as_slice(), &result.lead, all) {
        ([], Some(lead), [first, second]) => Ok(of_pair(first, second, &functions_of_lead(lead))),
        ([], ..) => Ok(figure::matrix::drawing(&matrices(result), &title, &subtitle, &sheet)),
        ([one], _, [first, second]) => Ok(of_pair(first, second, &functions(one))),
        (several, ..) if several.len() <= MAX_PAIRS => {
            let one = |pair: &'_ CrossResult| format!("{} ahead of {}", pair.first, pair.second);
            let functions: Vec<Crossed<'_>> =
                several.iter().map(|pair| Crossed { title: one(pair), cross: &pair.of.cross }).collect();
            let axis = format!("Lag in {}s", result.unit.noun);
            Ok(figure::cross::grid(&functions, season, &axis, heads, &sheet))
        }
        (several, ..) => {
            Err(CliError::call(format!("--figure: {} pairs are too many for one figure", several.len()))
                .advise(format!("name fewer series: {MAX_PAIRS} pairs fit, those of six series")))
        }
    }
}

fn functions_of_lead(lead: &LeadResult) -> [Crossed<'_>; 2] {
    let [raw, white] = &lead.functions;
    let of = if lead.of_differences { " of first differences" } else { "" };
    [
        Crossed { title: format!("Cross-correlation{of}"), cross: raw },
        Crossed { title: format!("Cross-correlation{of} after prewhitening"), cross: white },
    ]
}

fn functions(pair: &CrossResult) -> Vec<Crossed<'_>> {
    match &pair.raw {
        Some(raw) => vec![
            Crossed { title: "Cross-correlation as it is".to_owned(), cross: &raw.cross },
            Crossed { title: "After prewhitening".to_owned(), cross: &pair.of.cross },
        ],
        None => vec![Crossed { title: "Cross-correlation".to_owned(), cross: &pair.of.cross }],
    }
}

fn matrices(result: &RelateResult) -> Vec<Matrix<'_>> {
    let one = |title: &str, matrix: &'_ MatrixResult| (title.to_owned(), matrix.observations);
    let named = [("Levels", &result.correlations), ("Changes", &result.changes)];
    let only_changes = result.changes.is_none();
    named
        .into_iter()
        .filter_map(|(title, matrix)| matrix.as_ref().map(|matrix| (title, matrix)))
        .map(|(title, matrix)| {
            let (title, observations) = one(if only_changes { "Changes" } else { title }, matrix);
            Matrix {
                title: format!("{title}, {observations} {}s", result.unit.noun),
                names: &matrix.names,
                values: &matrix.matrix,
            }
        })
        .collect()
}

fn refusal(dataset: &Dataset, all: &[Series], error: RelationError) -> CliError {
    let at = |place: usize| {
        let name = all.get(place).map_or("", |series| series.name.as_str());
        format!("{}, {name}", dataset.source)
    };
    match error {
        RelationError::TooShort { .. } => CliError::data(format!("{}: {error}", dataset.source))
            .advise("take longer series or a wider --sample"),
        RelationError::Lags { observations, .. } => {
            let most = if observations > 4 { observations - 1 } else { 1 };
            CliError::call(format!("{}: --lags: {error}", dataset.source))
                .advise(format!("take between 1 and {most} lags"))
        }
        RelationError::Series { series, reason } => all.get(series).map_or_else(
            || CliError::data(error.to_string()),
            |own| wording::unusable(&at(series), reason, "has no correlation", |t| own.period(t)),
        ),
        RelationError::Predictable => {
            CliError::computation(format!("{}: {error}", at(0))).advise("leave out --prewhiten")
        }
    }
}
