//! `kandrel forecast`: what comes next, dated, in own units.

use std::path::PathBuf;

use crate::args::{DataArgs, FigureArgs, Format, OutputArgs, WithArgs};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::model::{Estimated, ModelOrAuto, ahead_refusal, estimated, model_or_auto};
use crate::output::Files;
use crate::output::only_one;
use crate::present::forecast::{self as text, Chosen, ForecastResult, Made, MemberResult, PastValue};
use crate::present::orders::{rivals, why_differences};
use crate::read::Dataset;
use crate::render;
use crate::session::Session;
use kandrel_core::arima::{Data, Fit, diagnose, fit};
use kandrel_core::diagnosis::filled;
use kandrel_core::evaluate::{Ahead, AheadOptions, Estimates, ahead, averaged};
use kandrel_core::expr;
use kandrel_core::identify::{Rival, reference_model};
use kandrel_core::outlook::{Step, mean_change};
use kandrel_core::regressor::Regressors;
use kandrel_core::shape::advised_transformation;
use kandrel_core::transform::Transformed;

pub const ABOUT: &str = "Forecasts with intervals, dated, in the series' own units";
pub const EXAMPLES: &str = "Examples:\n  kandrel forecast demo:harbour freight:perday,ln --ahead 24\n  \
    kandrel forecast demo:harbour waiting --model '(2,0,0)' --figure next.svg\n  \
    kandrel forecast demo:harbour tug_hours --with trend,step=2012-06\n  \
    kandrel forecast demo:harbour freight:ln --sample ..2022-12 --ahead 24";

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln
    series: Vec<String>,
    /// The model as in the literature: (2,0,0), (0,1,1)(0,1,1)12; auto searches as orders does
    #[arg(long, value_name = "M|auto", default_value = "auto", value_parser = model_or_auto, help_heading = "Method")]
    model: ModelOrAuto,
    /// Whether a column without steps is modelled on the scale that the diagnosis advises
    #[arg(long, value_enum, value_name = "WHEN", default_value = "auto", help_heading = "Method")]
    transform: TransformChoice,
    /// The mean of three forecasts: of the chosen model, of its strongest rival and of a reference model
    #[arg(long, conflicts_with = "paths", help_heading = "Method")]
    average: bool,
    /// Periods ahead (default: two seasons, 10 without a season)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..=5000), help_heading = "Method")]
    ahead: Option<u16>,
    #[command(flatten)]
    with: WithArgs,
    /// File with the columns of --with (and of per= and real=) over the periods ahead
    #[arg(long, value_name = "FILE", help_heading = "Data")]
    future: Option<PathBuf>,
    /// Points are expected values instead of medians
    #[arg(long, help_heading = "Method")]
    mean: bool,
    /// Stay on the scale of the steps instead of the column's own units
    #[arg(long, help_heading = "Method")]
    keep_scale: bool,
    /// So many paths drawn from the joint distribution of the next values, in the JSON (and --save)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u32).range(1..=100_000), help_heading = "Method")]
    paths: Option<u32>,
    /// Seed of the paths
    #[arg(long, value_name = "N", default_value_t = 1, requires = "paths", help_heading = "Method")]
    seed: u64,
    /// Write the paths into a CSV file, one column each
    #[arg(long, value_name = "PATH", requires = "paths", help_heading = "Output")]
    save: Option<PathBuf>,
    /// So many observations are drawn before the forecast (default: three seasons, 20 at least)
    #[arg(long, value_name = "N", help_heading = "Output")]
    show: Option<usize>,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

/// When the transformation of the diagnosis is taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
enum TransformChoice {
    /// Where the column has no steps and the model is searched for
    Auto,
    /// Never
    None,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    if args.average && matches!(args.model, ModelOrAuto::Named(_)) {
        return Err(CliError::call("--average combines the models of a search, and --model names one")
            .advise("leave --model out, or --average"));
    }
    let request = args.figure.request(args.output.force, context)?;
    let mut session = Session::open(&args.data, context.stdin)?;
    let known = session.dataset.frame.clone();
    if let Some(path) = &args.future {
        let file = path.to_string_lossy();
        let other = Session::of_file(&args.data, &file, context.stdin)?.dataset;
        let own: Vec<String> = match args.series.as_slice() {
            [] => session.dataset.numeric_names(),
            named => named.iter().flat_map(|text| base_columns(text)).collect(),
        };
        session.dataset.continue_with(&other, &own)?;
    }
    let season = session.season();
    let typed = session.transformed(&args.series)?;
    let targets: Vec<Target> =
        typed.into_iter().map(|own| args.target(&mut session, own)).collect::<Result<_, _>>()?;
    let regressors = session.regressors(args.with.terms.as_deref())?;
    let mut found = Vec::new();
    for target in &targets {
        found.push(one(&session.dataset, target, &regressors, args, season)?);
    }
    // What the result says of the data is of the file itself.
    session.dataset.frame = known;
    let mut files = Files::default();
    request.draw(&mut files, || {
        let plot = text::plot(only_one(&found)?, &session.dataset.source);
        Ok(figure::plot::drawing(&plot, &args.figure.sheet()))
    })?;
    let time = session.dataset.time_name();
    if let Some(path) = &args.save {
        let [one] = found.as_slice() else {
            return Err(CliError::call("--save takes the paths of one series").advise("name one series"));
        };
        files.add(path, render::csv(&[text::paths(one, &time)])?.into_bytes());
    }
    let as_data = args.output.format_or(Format::Text)? == Format::Csv;
    let document = |result: &ForecastResult| {
        if as_data { text::data(result, &time) } else { text::document(result, &context.call) }
    };
    let report = Report::of("forecast", &found, found.iter().map(document).collect())?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

/// Columns of the expression before its steps: these are what is foretold.
fn base_columns(text: &str) -> Vec<String> {
    expr::parse(expr::without_steps(text))
        .map(|parsed| parsed.node.columns().into_iter().map(str::to_owned).collect())
        .unwrap_or_default()
}

/// A series as it is forecast.
struct Target {
    own: Transformed,
    /// As it was typed, where its step is the one that the diagnosis advises.
    plain: Option<Transformed>,
}

impl Args {
    /// The series on the scale that the diagnosis advises, where that is left to it.
    fn target(&self, session: &mut Session<'_>, typed: Transformed) -> Result<Target, CliError> {
        let asked = self.transform == TransformChoice::Auto && matches!(self.model, ModelOrAuto::Auto);
        let is_bare = expr::steps_of(&typed.typed.text).is_none();
        let advised = (asked && is_bare && !self.keep_scale)
            .then(|| filled(&typed.series, session.season()).values)
            .and_then(|values| advised_transformation(&values, session.season()).transformation.step());
        let Some(step) = advised else {
            return Ok(Target { own: typed, plain: None });
        };
        let text = expr::with_steps(&typed.typed, &[step]);
        match session.transformed(&[text])?.into_iter().next() {
            Some(own) => Ok(Target { own, plain: Some(typed) }),
            None => Ok(Target { own: typed, plain: None }),
        }
    }
}

fn one(
    dataset: &Dataset,
    target: &Target,
    regressors: &Regressors,
    args: &Args,
    season: usize,
) -> Result<ForecastResult, CliError> {
    let Target { own: target, plain } = target;
    let searched =
        |of: &Transformed| estimated(dataset, &of.series, args.model, regressors, season, args.output.quiet);
    let made = searched(target)?;
    let options = AheadOptions {
        ahead: args.ahead.map_or_else(|| usual_ahead(season), usize::from),
        keep_scale: args.keep_scale,
    };
    let refused = |error| ahead_refusal(&target.series, error);
    let next = ahead(target, &made.data, Estimates::Uncertain(&made.fit), &made.regressors, options)
        .map_err(refused)?;
    let members = if args.average {
        let of_plain = plain.as_ref().map(|own| searched(own).map(|made| (own, made))).transpose()?;
        members(target, &made, &next, of_plain, options)
    } else {
        Vec::new()
    };
    let steps = if args.average { combined(&members) } else { next.steps.clone() };
    let past: Vec<Option<f64>> =
        history(target, args.keep_scale, usize::MAX).into_iter().map(|past| past.value).collect();
    let shown = args.show.unwrap_or_else(|| (3 * season).clamp(20, 400));
    Ok(text::result(&Made {
        series: &target.series,
        units: if args.keep_scale {
            target.expression.text.as_str()
        } else {
            expr::without_steps(&target.expression.text)
        },
        history: history(target, args.keep_scale, shown),
        fit: &made.fit,
        checked: diagnose(&made.fit, season),
        regressors: &made.regressors,
        chosen: made.search.as_ref().map(|search| Chosen {
            searched: search.found.searched(),
            why: why_differences(&search.found, &search.series),
        }),
        rivals: made.search.as_ref().map_or_else(Vec::new, |search| rivals(&search.found)),
        advised: plain.is_some(),
        average: members.into_iter().map(|member| member.name).collect(),
        diagnosis: made.diagnosis(&target.series, season),
        periods: &next.periods,
        steps: &steps,
        actual: &next.actual,
        scale: mean_change(&past, season.max(1)),
        paths: args.paths.map(|count| next.paths(usize::try_from(count).unwrap_or(0), args.seed)),
        seed: args.seed,
        mean: args.mean,
    }))
}

/// A forecast of an average.
struct Member {
    name: MemberResult,
    steps: Vec<Step>,
}

fn combined(members: &[Member]) -> Vec<Step> {
    averaged(&members.iter().map(|member| member.steps.clone()).collect::<Vec<_>>())
}

/// The chosen model, its strongest rival (on the column's own scale where the diagnosis advises another, otherwise the
/// next treatment if there is one), and the reference model where it is another.
fn members(
    target: &Transformed,
    made: &Estimated,
    chosen: &Ahead,
    plain: Option<(&Transformed, Estimated)>,
    options: AheadOptions,
) -> Vec<Member> {
    let member = |of: &Transformed, fit: &Fit, regressors: &Regressors, steps: Vec<Step>| Member {
        name: MemberResult {
            series: of.typed.text.clone(),
            model: fit.model.to_string(),
            with: regressors.terms(),
        },
        steps,
    };
    let next = |of: &Transformed, fit: Option<Fit>, data: &Data, regressors: &Regressors| {
        let fit = fit?;
        let next = ahead(of, data, Estimates::Uncertain(&fit), regressors, options).ok()?;
        Some(member(of, &fit, regressors, next.steps))
    };
    let strongest = made.search.as_ref().and_then(|search| search.found.rivals.get(1));
    let rival = match (plain, strongest) {
        (Some((of, own)), _) => next(of, Some(own.fit), &own.data, &own.regressors),
        (None, Some(Rival { model, data, regressors, .. })) => {
            next(target, model.fit(data).ok(), data, regressors)
        }
        (None, None) => None,
    };
    let model = reference_model(target.season);
    let is_another = model != made.fit.model || !made.regressors.is_empty();
    let reference = is_another
        .then(|| Data::with_gaps(&target.series.cells))
        .and_then(|data| next(target, fit(&data, model).ok(), &data, &Regressors::default()));
    let own = member(target, &made.fit, &made.regressors, chosen.steps.clone());
    [Some(own), rival, reference].into_iter().flatten().collect()
}

/// Two seasons; ten where there is none.
fn usual_ahead(season: usize) -> usize {
    if season > 1 { 2 * season } else { 10 }
}

/// The last observations in the units of the forecast.
fn history(target: &Transformed, keep_scale: bool, count: usize) -> Vec<PastValue> {
    let series = &target.series;
    let first = series.cells.len().saturating_sub(count);
    let own = target.own_values();
    (first..series.cells.len())
        .map(|t| {
            let period = series.period(t);
            let value = if keep_scale { series.cells[t] } else { own.get(&period).copied() };
            PastValue { period, value }
        })
        .collect()
}
