//! Which model: how often a series is differenced, what stands beside it, and every model of a
//! grid ranked.

use kandrel_core::arima::{Criteria, Data, FitError, Grid, search, walk};
use kandrel_core::series::{Fill, Series, SeriesWithGaps, fill};
use kandrel_core::unitroot::verdict::{AssessOptions, assess};

use crate::args::{DataArgs, regressors};
use crate::error::CliError;
use crate::model::{By, Choice, Differencing, Regressors};
use crate::present::stationarity;
use crate::progress::Progress;
use crate::read::Dataset;
use crate::words;

/// What of the choice is given.
#[derive(Debug, Clone)]
pub struct Asked {
    pub differences: (Option<usize>, Option<usize>),
    pub criterion: By,
    pub limit: Option<[usize; 4]>,
    /// The whole grid, however long the series.
    pub exhaustive: bool,
    /// No bar.
    pub quiet: bool,
}

impl Default for Asked {
    fn default() -> Self {
        Self { differences: (None, None), criterion: By::Aicc, limit: None, exhaustive: false, quiet: false }
    }
}

/// From this length on a walk through the grid takes the place of the whole.
const LONG: usize = 20_000;

/// Ranks the models of a series.
pub fn choose(
    dataset: &mut Dataset,
    series: &SeriesWithGaps,
    given: Regressors,
    data_args: &DataArgs,
    season: usize,
    asked: &Asked,
) -> Result<Choice, CliError> {
    let (differencing, fixed) = differencing(dataset, series, asked.differences, season)?;
    let beside = match fixed {
        Some(terms) if given.is_empty() => regressors(&terms, data_args, dataset, season)?,
        _ => given,
    };
    let mut grid = Grid::usual(differencing.d, differencing.seasonal, season);
    if let Some([p, q, seasonal_p, seasonal_q]) = asked.limit {
        let seasonal = if season > 1 { [seasonal_p, seasonal_q] } else { [0, 0] };
        grid.limit = [p, q, seasonal[0], seasonal[1]];
    }
    let data = data_of(series, &beside)?;
    let progress = Progress::new("models", grid.count() as u64, asked.quiet);
    let by = |criteria: &Criteria| asked.criterion.value(criteria);
    let reach = |done: usize| progress.reach(done as u64);
    let whole = asked.exhaustive || data.len() <= LONG;
    let found = if whole { search(&data, grid, by, reach) } else { walk(&data, grid, by, reach) };
    let ranked = found.map_err(|error| refusal(dataset, series, &beside, error))?;
    drop(progress);
    Ok(Choice { whole, differencing, regressors: beside, grid, data, ranked, criterion: asked.criterion })
}

/// The values of a series and the regressors in its periods.
pub fn data_of(series: &SeriesWithGaps, regressors: &Regressors) -> Result<Data, CliError> {
    let periods: Vec<_> = (0..series.cells.len()).map(|t| series.period(t)).collect();
    Ok(Data::with_gaps(&series.cells).beside(regressors.over(&periods)?))
}

/// How often the series is differenced, and the terms that the verdict calls fixed.
fn differencing(
    dataset: &Dataset,
    series: &SeriesWithGaps,
    asked: (Option<usize>, Option<usize>),
    season: usize,
) -> Result<(Differencing, Option<String>), CliError> {
    if season < 2 && asked.1.is_some_and(|times| times > 0) {
        return Err(CliError::call(format!(
            "--differences: {} data have no season to be differenced over",
            dataset.frame.frequency().adjective()
        ))
        .advise("give the number of observations in a season with --season N"));
    }
    if let (Some(d), Some(seasonal)) = asked {
        let why = "The differences are those asked for.".to_owned();
        return Ok((Differencing { d, seasonal, why }, None));
    }
    let options = AssessOptions { season, ..AssessOptions::default() };
    // Only the verdict looks at filled values.
    let filled = Series {
        name: series.name.clone(),
        start: series.start,
        values: fill(&series.cells, Fill::Seasonal, season).cells.into_iter().flatten().collect(),
        dates: series.dates.clone(),
        lost: series.lost,
    };
    let assessment = assess(&filled.values, &options).map_err(|error| {
        CliError::data(format!("{}, {}: {error}", dataset.source, series.name))
            .advise("give the differences yourself, as --differences 1,0")
    })?;
    let verdict = &assessment.verdict;
    let (d, seasonal) = (
        asked.0.unwrap_or(verdict.integration),
        asked.1.unwrap_or(verdict.seasonal_integration.unwrap_or(0)),
    );
    let why = stationarity::answer(&filled, &assessment);
    let fixed = assessment.fixed_terms([d, seasonal], season);
    let terms = fixed
        .into_iter()
        .map(|term| words::regressor(term, |place| series.period(place)))
        .collect::<Vec<_>>();
    let terms = (!terms.is_empty()).then(|| terms.join(","));
    Ok((Differencing { d, seasonal, why }, terms))
}

/// Why a model cannot be estimated, and what to do.
pub fn refusal(
    dataset: &Dataset,
    series: &SeriesWithGaps,
    regressors: &Regressors,
    error: FitError,
) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        FitError::TooShort { .. } => CliError::data(format!("{at}: {error}"))
            .advise("take a smaller model, a longer series or a wider --sample"),
        FitError::NotFinite { place } => words::too_large(&at, series.period(place)),
        FitError::Constant => CliError::data(format!("{at}: {error}"))
            .advise("difference it less, or check the column and the --sample"),
        FitError::Collinear { regressor } => {
            let name = regressors.names().into_iter().nth(regressor).unwrap_or_default();
            CliError::data(format!(
                "{at}: after the differences nothing is left of the regressor {name} that the mean, the drift and \
                 the regressors before it do not hold"
            ))
            .advise(format!("leave {name} out of --with, or take a model with fewer differences"))
        }
        FitError::TooManyGaps => CliError::data(format!("{at}: {error}"))
            .advise("take fewer differences, or fill the gaps with --gaps seasonal"),
        FitError::NoConvergence => CliError::computation(format!("{at}: {error}"))
            .advise("take a smaller model, or rescale the series"),
    }
}
