//! `kandrel forecast`: dated point forecasts with prediction intervals on the original scale.

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
use crate::present::forecast::{
    self as text, Chosen, ForecastResult, Made, MemberResult, PastValue, ScaleResult, WeightedModel,
};
use crate::present::orders::{rivals, why_differences};
use crate::read::Dataset;
use crate::render;
use crate::session::Session;
use kandrel_core::arima::diagnose;
use kandrel_core::evaluate::{
    AheadOptions, Member, average_weights, averaged, members_of_average, mixture, rivals_with_weights,
};
use kandrel_core::expr;
use kandrel_core::identify::ScaleComparison;
use kandrel_core::predictive::{HorizonForecast, Map, Marginal, Shocks, mean_change};
use kandrel_core::regressor::Regressors;
use kandrel_core::shape::Transformation;
use kandrel_core::transform::Transformed;

pub const ABOUT: &str = "Point forecasts with prediction intervals, dated, on the original scale";
pub const EXAMPLES: &str = "Examples:\n  kandrel forecast demo:harbour freight:perday,ln --ahead 24\n  \
    kandrel forecast demo:harbour waiting --model '(2,0,0)' --figure next.svg\n  \
    kandrel forecast demo:harbour tug_hours --with trend,step=2012-06\n  \
    kandrel forecast demo:harbour freight:ln --sample ..2022-12 --ahead 24";

// Each flag is an option of the command line.
#[allow(clippy::struct_excessive_bools)]
#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln
    series: Vec<String>,
    /// The model as in the literature: (2,0,0), (0,1,1)(0,1,1)12; auto searches as orders does
    #[arg(long, value_name = "M|auto", default_value = "auto", value_parser = model_or_auto, help_heading = "Method")]
    model: ModelOrAuto,
    /// Whether a column without steps may be modelled on the scale that the diagnosis advises
    #[arg(long, value_enum, value_name = "WHEN", default_value = "auto", help_heading = "Method")]
    transform: TransformChoice,
    /// Weighted average of the chosen model, its strongest rival and a reference model
    #[arg(long, conflicts_with = "paths", help_heading = "Method")]
    average: bool,
    /// Periods ahead (default: one seasonal cycle, 8 without a season)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..=5000), help_heading = "Method")]
    ahead: Option<u16>,
    #[command(flatten)]
    with: WithArgs,
    /// File with the columns of --with (and of per= and real=) over the periods ahead
    #[arg(long, value_name = "FILE", help_heading = "Data")]
    future: Option<PathBuf>,
    /// Point forecasts are expected values instead of medians
    #[arg(long, help_heading = "Method")]
    mean: bool,
    /// Coverage of the prediction intervals in per cent
    #[arg(long, value_name = "LEVELS", default_value = "68,95", value_delimiter = ',', value_parser = level, help_heading = "Method")]
    levels: Vec<f64>,
    /// Forecast the transformed series (the default for growth rates and differences)
    #[arg(long, help_heading = "Method")]
    transformed: bool,
    /// Forecast the original series, also where its growth rates or differences are modelled
    #[arg(long, conflicts_with = "transformed", help_heading = "Method")]
    original: bool,
    /// Intervals from N paths whose innovations are resampled from the residuals
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u32).range(200..=100_000), help_heading = "Method")]
    bootstrap: Option<u32>,
    /// Simulate N paths from the joint distribution of the next values (in JSON and with --save)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u32).range(1..=100_000), help_heading = "Method")]
    paths: Option<u32>,
    /// Seed of --paths and --bootstrap
    #[arg(long, value_name = "N", default_value_t = 1, help_heading = "Method")]
    seed: u64,
    /// Write the paths into a CSV file, one column each
    #[arg(long, value_name = "PATH", requires = "paths", help_heading = "Output")]
    save: Option<PathBuf>,
    /// Observations shown before the forecast in the chart (default: three seasonal cycles, at least 20)
    #[arg(long, value_name = "N", help_heading = "Output")]
    show: Option<usize>,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

/// When the transformation that the diagnosis advises may be used.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
enum TransformChoice {
    /// For a column without steps whose model is searched for, unless the original scale forecasts better
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
        let plot = text::plot(only_one(&found)?, session.dataset.file_name());
        Ok(figure::plot::drawing(&plot, &args.figure.sheet()))
    })?;
    let time = session.dataset.time_name();
    if let Some(path) = &args.save {
        let [one] = found.as_slice() else {
            return Err(CliError::call("--save takes the paths of one series").advise("name one series"));
        };
        files.add(path, render::csv(&[text::paths(one, &time)]).into_bytes());
    }
    let as_data = args.output.format_or(Format::Text)? == Format::Csv;
    let document = |result: &ForecastResult| {
        if as_data { text::data(result, &time) } else { text::document(result, &context.call) }
    };
    let report = Report::of("forecast", &found, found.iter().map(document).collect())?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

/// Columns of the expression before its steps: these are forecast.
fn base_columns(text: &str) -> Vec<String> {
    expr::parse(expr::without_steps(text))
        .map(|parsed| parsed.node.columns().into_iter().map(str::to_owned).collect())
        .unwrap_or_default()
}

/// A series as it was typed, and on the scale that the diagnosis advises where that is left to it.
struct Target {
    typed: Transformed,
    advised: Option<(Transformed, Transformation)>,
}

impl Args {
    fn target(&self, session: &mut Session<'_>, typed: Transformed) -> Result<Target, CliError> {
        let asked = self.transform == TransformChoice::Auto && matches!(self.model, ModelOrAuto::Auto);
        let advised = if asked && !self.transformed { session.on_advised_scale(&typed)? } else { None };
        Ok(Target { typed, advised })
    }
}

/// A series with its model, and with the model on the other scale where two were compared.
struct Modelled<'a> {
    target: &'a Transformed,
    made: Estimated,
    /// From its scale to the original one, where two were compared and it is another.
    inverse: Option<Map>,
    other: Option<(&'a Transformed, Estimated, Option<Map>)>,
    scale: Option<ScaleResult>,
    comparison: Option<ScaleComparison>,
}

impl<'a> Modelled<'a> {
    /// The better of the two scales where the diagnosis advises another than the original one.
    fn of(
        target: &'a Target,
        season: usize,
        searched: impl Fn(&Transformed) -> Result<Estimated, CliError>,
    ) -> Result<Self, CliError> {
        let typed = (&target.typed, searched(&target.typed)?, None);
        let Some((own, transformation)) = &target.advised else {
            let (target, made, inverse) = typed;
            return Ok(Self { target, made, inverse, other: None, scale: None, comparison: None });
        };
        let advised = (own, searched(own)?, transformation.inverse());
        let comparison = advised.1.found().zip(typed.1.found()).zip(advised.2).and_then(
            |((advised, original), inverse)| ScaleComparison::of(advised, original, inverse, season),
        );
        let is_advised = comparison.is_none_or(ScaleComparison::prefers_advised);
        let scale = Some(ScaleResult::new(&own.typed.text, is_advised, comparison));
        let (chosen, other) = if is_advised { (advised, typed) } else { (typed, advised) };
        let (target, made, inverse) = chosen;
        Ok(Self { target, made, inverse, other: Some(other), scale, comparison })
    }
}

/// The level of an interval as it is typed.
fn level(text: &str) -> Result<f64, String> {
    match text.trim().parse::<f64>() {
        Ok(level) if (1.0..=99.9).contains(&level) => Ok(level),
        _ => Err("a level is a number of per cent between 1 and 99.9".to_owned()),
    }
}

impl Args {
    /// The levels in ascending order, each once.
    fn levels(&self) -> Vec<f64> {
        let mut levels = self.levels.clone();
        levels.sort_by(f64::total_cmp);
        levels.dedup();
        levels
    }

    /// Whether the transformed series is forecast: where that is asked for, and by default for growth rates and
    /// differences.
    fn is_transformed(&self, target: &Transformed) -> bool {
        self.transformed || (!self.original && target.typed.is_change())
    }

    fn bootstrap(&self) -> Option<(usize, u64)> {
        Some((usize::try_from(self.bootstrap?).ok()?, self.seed))
    }
}

fn one(
    dataset: &Dataset,
    target: &Target,
    regressors: &Regressors,
    args: &Args,
    season: usize,
) -> Result<ForecastResult, CliError> {
    let searched =
        |of: &Transformed| estimated(dataset, &of.series, args.model, regressors, season, args.output.quiet);
    let Modelled { target, made, inverse, other, scale, comparison } =
        Modelled::of(target, season, searched)?;
    let options = AheadOptions {
        ahead: args.ahead.map_or_else(|| usual_ahead(season), usize::from),
        transformed: args.is_transformed(target),
    };
    let of = |target: &Transformed, made: &Estimated, inverse: Option<Map>| {
        Member::of(target, &made.fit, &made.data, &made.regressors, options)
            .map(|member| member.on_scale_of(inverse))
            .map_err(|error| ahead_refusal(&target.series, error))
    };
    let chosen = of(target, &made, inverse)?;
    let other = other.as_ref().map(|(own, made, inverse)| of(own, made, *inverse)).transpose()?;
    let combined = if args.average {
        combination(target, &made, &chosen, other, options)
    } else {
        let other = comparison.map(ScaleComparison::probability_of_other).zip(other);
        mixture_of(target, &made, other, options)
    };
    let steps = steps(&chosen, &combined, args);
    let original: Vec<Option<f64>> =
        history(target, options.transformed, usize::MAX).into_iter().map(|past| past.value).collect();
    let shown = args.show.unwrap_or_else(|| (3 * season).clamp(20, 400));
    Ok(text::result(&Made {
        series: &target.series,
        units: if options.transformed {
            target.expression.text.as_str()
        } else {
            expr::without_steps(&target.expression.text)
        },
        history: history(target, options.transformed, shown),
        fit: &made.fit,
        checked: diagnose(&made.fit, season),
        regressors: &made.regressors,
        chosen: made.search.as_ref().map(|search| Chosen {
            searched: search.found.searched(),
            why: why_differences(&search.found, &search.series),
            season,
            needed_for_season: search.found.needed_for_season(),
            parameters: made.fit.parameters,
        }),
        rivals: made.search.as_ref().map_or_else(Vec::new, |search| rivals(&search.found)),
        scale,
        average: combined.average(&chosen),
        mixture: combined.mixture(&chosen),
        overlap: target.typed.overlap(),
        diagnosis: made.diagnosis(&target.series, season),
        periods: &chosen.ahead.periods,
        steps: &steps,
        actual: &chosen.ahead.actual,
        mean_change: mean_change(&original, season.max(1)),
        paths: args.paths.map(|count| {
            let shocks = Shocks::Normal { seed: args.seed };
            chosen.ahead.paths(usize::try_from(count).unwrap_or(0), &shocks)
        }),
        bootstrap: args.bootstrap,
        seed: args.seed,
        mean: args.mean,
    }))
}

/// What the chosen model's forecasts are combined with; weights sum to one.
enum Combined {
    /// The weighted mean with these.
    Average(f64, Vec<(f64, Member)>),
    /// Intervals of the mixture with these.
    Mixture(f64, Vec<(f64, Member)>),
}

impl Combined {
    fn average(&self, chosen: &Member) -> Vec<WeightedModel> {
        match self {
            Self::Average(own, others) => weighted(*own, chosen, others),
            Self::Mixture(..) => Vec::new(),
        }
    }

    fn mixture(&self, chosen: &Member) -> Vec<WeightedModel> {
        match self {
            Self::Mixture(own, others) if !others.is_empty() => weighted(*own, chosen, others),
            Self::Average(..) | Self::Mixture(..) => Vec::new(),
        }
    }
}

fn weighted(own: f64, chosen: &Member, others: &[(f64, Member)]) -> Vec<WeightedModel> {
    let of = |weight: f64, member: &Member| WeightedModel { weight, model: MemberResult::of(member) };
    let others = others.iter().map(|(weight, member)| of(*weight, member));
    std::iter::once(of(own, chosen)).chain(others).collect()
}

fn combination(
    target: &Transformed,
    made: &Estimated,
    chosen: &Member,
    other: Option<Member>,
    options: AheadOptions,
) -> Combined {
    let others =
        made.found().map_or_else(Vec::new, |found| members_of_average(target, found, chosen, other, options));
    let weights = average_weights(std::iter::once(chosen).chain(&others));
    let own = weights.first().copied().unwrap_or(1.0);
    Combined::Average(own, weights.into_iter().skip(1).zip(others).collect())
}

fn mixture_of(
    target: &Transformed,
    made: &Estimated,
    other: Option<(f64, Member)>,
    options: AheadOptions,
) -> Combined {
    let (weight, others) = match made.found() {
        Some(found) => rivals_with_weights(target, found, other, options),
        None => (1.0, Vec::new()),
    };
    Combined::Mixture(weight, others)
}

/// The forecasts with their intervals: of the average, or those of the chosen model with the intervals of the mixture.
fn steps(chosen: &Member, combined: &Combined, args: &Args) -> Vec<HorizonForecast> {
    let (levels, bootstrap) = (args.levels(), args.bootstrap());
    let summary = |marginals: &[Marginal]| -> Vec<HorizonForecast> {
        marginals.iter().map(|own| HorizonForecast::of(own, &levels)).collect()
    };
    let own = chosen.marginals(bootstrap);
    match combined {
        Combined::Average(weight, others) => {
            let theirs =
                others.iter().map(|(weight, member)| (*weight, summary(&member.marginals(bootstrap))));
            averaged(&std::iter::once((*weight, summary(&own))).chain(theirs).collect::<Vec<_>>())
        }
        Combined::Mixture(_, others) if others.is_empty() => summary(&own),
        Combined::Mixture(weight, others) => {
            let theirs = others.iter().map(|(weight, member)| (*weight, member.marginals(bootstrap)));
            let mixed = mixture(&std::iter::once((*weight, own.clone())).chain(theirs).collect::<Vec<_>>());
            let with = |(own, mixed): (HorizonForecast, HorizonForecast)| HorizonForecast {
                median: own.median,
                mean: own.mean,
                ..mixed
            };
            summary(&own).into_iter().zip(summary(&mixed)).map(with).collect()
        }
    }
}

/// One seasonal cycle; eight periods where there is none.
fn usual_ahead(season: usize) -> usize {
    if season > 1 { season } else { 8 }
}

/// The last observations on the scale of the forecast.
fn history(target: &Transformed, transformed: bool, count: usize) -> Vec<PastValue> {
    let series = &target.series;
    let first = series.cells.len().saturating_sub(count);
    let own = target.own_values();
    (first..series.cells.len())
        .map(|t| {
            let period = series.period(t);
            let value = if transformed { series.cells[t] } else { own.get(&period).copied() };
            PastValue { period, value }
        })
        .collect()
}
