//! `kandrel orders`: which seasonal model.

use std::time::Instant;

use kandrel_core::arima::{Candidate, Criteria, Diagnosis, FitError, Grid, Model, diagnose, search};
use kandrel_core::corr::{self, AcfOptions, Finding};
use kandrel_core::series::Series;
use kandrel_core::unitroot::verdict::{AssessOptions, Class, Treatment, assess};
use rayon::prelude::*;
use schemars::Schema;

use crate::args::{DataArgs, OutputArgs};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::output::Files;
use crate::present;
use crate::present::orders::{self, Differencing, Found, OrdersResult};
use crate::present::{stationarity, to_json};
use crate::progress::Progress;
use crate::read::Dataset;
use crate::words;

pub const ABOUT: &str = "Orders (p,d,q)(P,D,Q)s: differences, patterns, every model of a grid ranked";
pub const EXAMPLES: &str = "Examples:\n  kandrel orders demo:harbour waiting\n  \
    kandrel orders demo:harbour freight:perday,ln\n  \
    kandrel orders demo:harbour berth_fee --differences 1,0 --criterion bic";

/// By which candidates are ranked.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum By {
    /// Akaike's, corrected for short series
    Aicc,
    /// Akaike's
    Aic,
    /// Schwarz's
    Bic,
    /// That of Hannan and Quinn
    Hq,
}

impl By {
    fn value(self, criteria: &Criteria) -> f64 {
        match self {
            Self::Aicc => criteria.aicc.unwrap_or(f64::INFINITY),
            Self::Aic => criteria.aic,
            Self::Bic => criteria.bic,
            Self::Hq => criteria.hq,
        }
    }

    fn name(self) -> &'static str {
        match self {
            Self::Aicc => "AICc",
            Self::Aic => "AIC",
            Self::Bic => "BIC",
            Self::Hq => "HQ",
        }
    }
}

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// Columns, or columns with steps: freight:ln
    series: Vec<String>,
    /// Differences and seasonal differences, either may be auto (default: by the verdict of stationarity)
    #[arg(long, value_name = "d,D", value_parser = differences, help_heading = "Method")]
    differences: Option<(Option<usize>, Option<usize>)>,
    /// What candidates are ranked by
    #[arg(long, value_name = "NAME", default_value = "aicc", help_heading = "Method")]
    criterion: By,
    /// Largest p, q, P, Q (default: 3,3,2,2; seasonal ones 1 for seasons above 52)
    #[arg(long, value_name = "p,q,P,Q", value_parser = limit, help_heading = "Method")]
    limit: Option<[usize; 4]>,
    /// So many candidates are shown
    #[arg(long, value_name = "N", default_value_t = 10, value_parser = clap::value_parser!(u16).range(1..), help_heading = "Method")]
    top: u16,
    #[command(flatten)]
    output: OutputArgs,
}

fn differences(text: &str) -> Result<(Option<usize>, Option<usize>), String> {
    let wrong = || "write d,D, as 1,0 or auto,1; two differences at most".to_owned();
    let (first, second) = text.split_once(',').ok_or_else(wrong)?;
    let one = |text: &str| match text.trim() {
        "auto" => Ok(None),
        number => number.parse().ok().filter(|count: &usize| *count <= 2).map(Some).ok_or_else(wrong),
    };
    let (d, seasonal) = (one(first)?, one(second)?);
    if d.unwrap_or(0) + seasonal.unwrap_or(0) > 2 || seasonal.unwrap_or(0) > 1 {
        Err(wrong())
    } else {
        Ok((d, seasonal))
    }
}

/// The largest order that may be asked for.
const LARGEST: usize = 8;

fn limit(text: &str) -> Result<[usize; 4], String> {
    let wrong = || format!("write p,q,P,Q, each from 0 to {LARGEST}, as 5,5,2,2");
    let all: Vec<usize> = text
        .split(',')
        .map(|part| part.trim().parse().ok().filter(|order| *order <= LARGEST).ok_or_else(wrong))
        .collect::<Result<_, _>>()?;
    all.try_into().map_err(|_| wrong())
}

/// The schema of its JSON.
pub const SCHEMA: Option<fn() -> Schema> = Some(present::schema::<OrdersResult>);

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let mut dataset = args.data.read(context)?;
    let season = args.data.season(&dataset);
    let all = args.data.series(&mut dataset, &args.series)?;
    let file = words::shell_word(&args.data.file);
    let found: Vec<OrdersResult> =
        all.iter().map(|series| one(&dataset, series, args, season)).collect::<Result<_, _>>()?;
    let report = Report {
        command: "orders",
        documents: found.iter().map(|result| orders::document(result, &file)).collect(),
        results: found.iter().map(to_json).collect::<Result<_, _>>()?,
    };
    deliver(&report, &dataset, season, &args.output, Files::default(), context)
}

fn one(dataset: &Dataset, series: &Series, args: &Args, season: usize) -> Result<OrdersResult, CliError> {
    let started = Instant::now();
    let refused = |error| refusal(dataset, series, error);
    let differencing = differencing(dataset, series, args, season)?;
    let mut grid = Grid::usual(differencing.d, differencing.seasonal, season);
    if let Some([p, q, seasonal_p, seasonal_q]) = args.limit {
        let seasonal = if season > 1 { [seasonal_p, seasonal_q] } else { [0, 0] };
        grid.limit = [p, q, seasonal[0], seasonal[1]];
    }
    let progress = Progress::new("models", grid.count() as u64, args.output.quiet);
    let by = |criteria: &Criteria| args.criterion.value(criteria);
    let ranked =
        search(&series.values, grid, &[], by, |done| progress.reach(done as u64)).map_err(refused)?;
    drop(progress);
    let shown = orders::shown(&ranked, usize::from(args.top));
    let checked: Vec<Option<Diagnosis>> =
        shown.par_iter().map(|candidate| checked(series, candidate, season)).collect();
    let found = Found {
        differencing,
        patterns: patterns(series, grid),
        ranked: &ranked,
        shown: &shown,
        checked: &checked,
        criterion: args.criterion.name(),
        value: &by,
        season: grid.season,
        seconds: started.elapsed().as_secs_f64(),
    };
    Ok(orders::result(series, &found))
}

/// How often the series is differenced, and why.
fn differencing(
    dataset: &Dataset,
    series: &Series,
    args: &Args,
    season: usize,
) -> Result<Differencing, CliError> {
    let asked = args.differences.unwrap_or_default();
    if season < 2 && asked.1.is_some_and(|times| times > 0) {
        return Err(CliError::call(format!(
            "--differences: {} data have no season to be differenced over",
            dataset.frame.frequency().adjective()
        ))
        .advise("give the number of observations in a season with --season N"));
    }
    if let (Some(d), Some(seasonal)) = asked {
        let why = "The differences are those asked for.".to_owned();
        return Ok(Differencing { d, seasonal, why, take_first: Vec::new() });
    }
    let options = AssessOptions { season, ..AssessOptions::default() };
    let assessment = assess(&series.values, &options).map_err(|error| {
        CliError::data(format!("{}, {}: {error}", dataset.source, series.name))
            .advise("give the differences yourself, as --differences 1,0")
    })?;
    let verdict = &assessment.verdict;
    let (d, seasonal) = (
        asked.0.unwrap_or(verdict.integration),
        asked.1.unwrap_or(verdict.seasonal_integration.unwrap_or(0)),
    );
    let mut take_first = Vec::new();
    if seasonal == 0 && assessment.season.treatment == Treatment::Pattern {
        take_first.push("deseason".to_owned());
    }
    if d + seasonal == 0 && verdict.class == Class::TrendStationary {
        take_first.push("detrend".to_owned());
    }
    Ok(Differencing { d, seasonal, why: stationarity::answer(series, &assessment), take_first })
}

fn checked(series: &Series, candidate: &Candidate, season: usize) -> Option<Diagnosis> {
    let found = candidate.fit(&series.values, &[]).ok()?;
    Some(diagnose(&found, season))
}

/// What ACF and PACF of the differenced series say.
fn patterns(series: &Series, grid: Grid) -> Vec<Finding> {
    let bare = Model {
        differences: grid.differences,
        seasonal_differences: grid.seasonal_differences,
        season: grid.season,
        ..Model::default()
    };
    let w = bare.differenced(&series.values);
    let options = AcfOptions { season: grid.season, ..AcfOptions::default() };
    corr::acf(&w, &options).map_or_else(|_| Vec::new(), |acf| corr::read(&acf, grid.season))
}

fn refusal(dataset: &Dataset, series: &Series, error: FitError) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        FitError::NotFinite { place } => words::too_large(&at, series.period(place)),
        FitError::Constant => {
            CliError::data(format!("{at}: {error}")).advise("difference it less with --differences")
        }
        _ => CliError::data(format!("{at}: {error}")).advise("take a longer series or a wider --sample"),
    }
}
