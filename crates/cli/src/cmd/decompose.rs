//! `kandrel decompose`: trend, seasonal and irregular component.

use crate::args::{Choices, DataArgs, FigureArgs, Format, Gaps, OutputArgs, one_of};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::model::diagnosis;
use crate::output::Files;
use crate::output::only_one;
use crate::present::decompose::{self, DecomposeResult, MethodName, Rule, Rules, Way};
use crate::present::diagnosis::DiagnosisResult;
use crate::read::Dataset;
use crate::session::Session;
use crate::wording;
use kandrel_core::decomp::{
    DecompError, DecompOptions, Decomposition, DecompositionKind, SeasonWindow, by_loess, by_moving_averages,
};
use kandrel_core::series::SeriesWithGaps;
use kandrel_core::verdict::Seasonality;
use rayon::prelude::*;

pub const ABOUT: &str =
    "Decomposes a series into trend, seasonal and irregular components; seasonal adjustment";
pub const EXAMPLES: &str = "Examples:\n  kandrel decompose demo:harbour ice\n  \
    kandrel decompose demo:harbour freight --kind multiplicative\n  \
    kandrel decompose demo:harbour ice --by-season --figure seasons.svg\n  \
    kandrel decompose demo:gate lorries --seasons 7,365 --gaps keep";

/// How the parts are found.
const METHODS: Choices<MethodName> = &[
    ("loess", MethodName::Loess, "Local polynomials; the seasonal pattern may evolve"),
    ("classical", MethodName::Classical, "Moving averages; fixed seasonal pattern"),
];

/// How the parts make the series.
const KINDS: Choices<DecompositionKind> = &[
    ("additive", DecompositionKind::Additive, "Their sum"),
    (
        "multiplicative",
        DecompositionKind::Multiplicative,
        "Their product, for a seasonal amplitude proportional to the level",
    ),
];

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:perday
    series: Vec<String>,
    /// Decomposition method
    #[arg(long, value_name = "METHOD", default_value = "loess", value_parser = one_of(METHODS), help_heading = "Method")]
    method: MethodName,
    /// Composition of the components (default: multiplicative where the joint assessment advises logarithms)
    #[arg(long, value_name = "KIND", value_parser = one_of(KINDS), help_heading = "Method")]
    kind: Option<DecompositionKind>,
    /// Window of the seasonal component in years (cycles), an odd number from 7 on, or fixed
    /// for a constant pattern (default: fixed where the joint assessment finds deterministic
    /// seasonality, else chosen by cross-validation)
    #[arg(long, value_name = "fixed|N", value_parser = seasonal_window, help_heading = "Method")]
    seasonal_window: Option<SeasonWindow>,
    /// Window of the trend in observations, odd and at least the seasonal period
    #[arg(long, value_name = "N", help_heading = "Method")]
    trend_window: Option<usize>,
    /// Degree of the local polynomials of the seasonal component
    #[arg(long, value_name = "0|1|2", default_value_t = 1, value_parser = clap::value_parser!(u8).range(0..=2), help_heading = "Method")]
    seasonal_degree: u8,
    /// Degree of the local polynomials of the trend
    #[arg(long, value_name = "0|1|2", default_value_t = 1, value_parser = clap::value_parser!(u8).range(0..=2), help_heading = "Method")]
    trend_degree: u8,
    /// Down-weight outliers
    #[arg(long, help_heading = "Method")]
    robust: bool,
    /// Several seasonal periods: 7,365
    #[arg(long, value_name = "N,N", value_delimiter = ',', value_parser = clap::value_parser!(u32).range(2..), conflicts_with = "season", help_heading = "Method")]
    seasons: Vec<u32>,
    /// Chart of the seasonal component by month or quarter over the years
    #[arg(long, requires = "figure", help_heading = "Output")]
    by_season: bool,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

fn seasonal_window(text: &str) -> Result<SeasonWindow, String> {
    if text == "fixed" {
        return Ok(SeasonWindow::Periodic);
    }
    let window = text.parse().map_err(|_| "write fixed or an odd number from 7 on".to_owned())?;
    let nearest = |error: DecompError| match window {
        even if even > 7 && even % 2 == 0 => format!("{error}: take {} or {}", even - 1, even + 1),
        _ => error.to_string(),
    };
    SeasonWindow::Evolving(window).checked().map_err(nearest)
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let request = args.figure.request(args.output.force, context)?;
    let way = args.way()?;
    let mut session = Session::open(&args.data, context.stdin)?;
    let all = session.series_with_gaps(&args.series, Gaps::Refuse)?;
    session.check_sizes(all.iter())?;
    let options = args.options(session.season());
    let season = options.seasons.iter().copied().max().unwrap_or(1);
    let found: Vec<DecomposeResult> = all
        .par_iter()
        .map(|series| one(&session.dataset, series, args, way, session.season()))
        .collect::<Result<_, _>>()?;
    let mut files = Files::default();
    request.draw(&mut files, || {
        let (series, result) = (only_one(&all)?, only_one(&found)?);
        let plot = if args.by_season {
            decompose::seasons_plot(result, series, session.dataset.file_name())
        } else {
            decompose::parts_plot(result, series, session.dataset.file_name())
        };
        Ok(figure::plot::drawing(&plot, &args.figure.sheet()))
    })?;
    let time = session.dataset.time_name();
    let as_data = args.output.format_or(Format::Text)? == Format::Csv;
    let document = |(result, series): (&DecomposeResult, &SeriesWithGaps)| {
        if as_data {
            decompose::data(result, &time)
        } else {
            decompose::document(result, series, &context.call)
        }
    };
    let report = Report::of("decompose", &found, found.iter().zip(&all).map(document).collect())?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

impl Args {
    /// The way the parts are found; options of the other one are refused.
    fn way(&self) -> Result<Way, CliError> {
        match self.method {
            MethodName::Loess => Ok(Way::Loess { robust: self.robust }),
            MethodName::Classical => {
                let given = [
                    ("--seasonal-window", self.seasonal_window.is_some()),
                    ("--trend-window", self.trend_window.is_some()),
                    ("--robust", self.robust),
                    ("--seasons", self.seasons.len() > 1),
                ];
                match given.iter().find(|(_, given)| *given) {
                    Some((option, _)) => Err(CliError::call(format!("{option} is for --method loess"))
                        .advise(format!("leave out {option}, or leave out --method classical"))),
                    None => Ok(Way::Classical),
                }
            }
        }
    }

    fn options(&self, season: usize) -> DecompOptions {
        let named = self.seasons.iter().filter_map(|season| usize::try_from(*season).ok());
        let seasons: Vec<usize> = if self.seasons.is_empty() { vec![season] } else { named.collect() };
        DecompOptions {
            seasons,
            kind: self.kind.unwrap_or(DecompositionKind::Additive),
            seasonal_window: self.seasonal_window,
            trend_window: self.trend_window,
            seasonal_degree: usize::from(self.seasonal_degree),
            trend_degree: usize::from(self.trend_degree),
            robust: self.robust,
        }
    }
}

impl Args {
    /// The options, with kind and seasonal window by the joint assessment where they are not given.
    fn advised(&self, found: Option<&DiagnosisResult>, season: usize) -> (DecompOptions, Rules) {
        let mut options = self.options(season);
        let mut rules = Rules { kind: self.kind.map(|_| Rule::Option), window: Rule::CrossValidation };
        if self.kind.is_none() && found.is_some_and(DiagnosisResult::is_proportional) {
            options.kind = DecompositionKind::Multiplicative;
            rules.kind = Some(Rule::Assessment);
        }
        let own = found.map(|found| decompose::of_kind(found, options.kind));
        let is_fixed = own.is_some_and(|own| own.seasonality == Seasonality::Deterministic);
        if self.seasonal_window.is_some() {
            rules.window = Rule::Option;
        } else if is_fixed && options.seasons == [season] {
            options.seasonal_window = Some(SeasonWindow::Periodic);
            rules.window = Rule::Assessment;
        }
        (options, rules)
    }
}

fn one(
    dataset: &Dataset,
    series: &SeriesWithGaps,
    args: &Args,
    way: Way,
    assessed: usize,
) -> Result<DecomposeResult, CliError> {
    // As every other command assesses the series, whatever seasons it is decomposed by.
    let diagnosis = diagnosis(series, assessed);
    let (options, rules) = args.advised(diagnosis.as_ref(), assessed);
    let found: Result<Decomposition, DecompError> = match way {
        Way::Loess { .. } => by_loess(&series.cells, &options),
        Way::Classical => by_moving_averages(&series.cells, &options),
    };
    let found = found.map_err(|error| refusal(dataset, series, error))?;
    let mut seasons = options.seasons.clone();
    seasons.sort_unstable();
    seasons.dedup();
    let mut result = decompose::result(series, &found, way, &seasons);
    result.take_over(diagnosis, rules);
    Ok(result)
}

fn refusal(dataset: &Dataset, series: &SeriesWithGaps, error: DecompError) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        DecompError::NoSeason => {
            CliError::call(format!("{at}: {} data have no season", dataset.frame.frequency().adjective()))
                .advise("give the number of observations in a season with --season N")
        }
        DecompError::TooShort { .. } => CliError::data(format!("{at}: {error}"))
            .advise("take a longer series, a wider --sample, or a shorter --season"),
        DecompError::EmptyPlace { .. } => CliError::data(format!("{at}: {error}"))
            .advise("fill the gaps with --gaps linear, or take another --sample"),
        DecompError::NotPositive { place } => CliError::data(format!(
            "{at}: the value in {} is not positive, and a product has no such factor",
            series.period(place)
        ))
        .advise("use --kind additive, or take another --sample"),
        DecompError::SeasonWindow(_) | DecompError::OneSeasonOnly => CliError::call(format!("{at}: {error}")),
        DecompError::InvalidSeries(reason) => {
            wording::unusable(&at, reason, "has no parts", |t| series.period(t))
        }
        DecompError::TrendWithinSeason { window, season } => CliError::call(format!(
            "{at}: --trend-window: {error}"
        ))
        .advise(format!(
            "a trend window of {window} observations would follow the seasonal component; use an odd number \
                  from {} on, or leave the option out",
            season + 1 - season % 2
        )),
        DecompError::EvenTrendWindow(window) => CliError::call(format!("{at}: --trend-window: {error}"))
            .advise(format!("take {} or {}", window.saturating_sub(1), window + 1)),
    }
}
