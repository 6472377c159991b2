//! Autocorrelations of a series, refusals that name it.

use kandrel_core::corr::{self, Acf, AcfError, AcfOptions, Finding};
use kandrel_core::diagnosis::Diagnosis;
use kandrel_core::num::scale::is_too_small;
use kandrel_core::series::{Series, SeriesWithGaps};

use crate::error::CliError;
use crate::output::only_one;
use crate::present::acf;
use crate::present::diagnosis::DiagnosisResult;
use crate::read::Dataset;
use crate::wording;

/// The result for one series; errors say which.
pub fn correlations(
    dataset: &Dataset,
    series: &SeriesWithGaps,
    options: &AcfOptions,
) -> Result<acf::AcfResult, CliError> {
    let computed =
        corr::acf_with_gaps(&series.cells, options).map_err(|error| refusal(dataset, series, error))?;
    let findings = findings(series, &computed, options);
    Ok(acf::result(series, computed, findings, options.season))
}

/// What the functions show: read at the usual lags, so that it does not depend on how many are shown; only the count of
/// lags outside the band is of those shown.
fn findings(series: &SeriesWithGaps, shown: &Acf, options: &AcfOptions) -> Vec<Finding> {
    let usual = corr::acf_with_gaps(&series.cells, &AcfOptions { lags: None, ..*options });
    let mut findings = corr::read(usual.as_ref().unwrap_or(shown), options.season);
    for finding in &mut findings {
        if let Finding::Chance { outside, lags } = finding {
            (*outside, *lags) = (shown.significant.len(), shown.lags.len());
        }
    }
    findings
}

/// The joint assessment of a series, gaps filled for it alone; none of one that cannot be assessed.
pub fn diagnosis(series: &SeriesWithGaps, season: usize) -> Option<DiagnosisResult> {
    if is_too_small(series.cells.iter().copied().flatten()) {
        return None;
    }
    Diagnosis::of(series, season).ok().map(|found| DiagnosisResult::of(series, &found))
}

/// The only series with its functions at the usual lags, for the figure of another
/// result.
pub fn correlations_of_only(
    dataset: &Dataset,
    all: &[Series],
    season: usize,
) -> Result<(SeriesWithGaps, acf::AcfResult), CliError> {
    let series = only_one(all)?;
    let series = SeriesWithGaps::from(series.clone());
    let options = AcfOptions { season, ..AcfOptions::default() };
    let result = correlations(dataset, &series, &options)?;
    Ok((series, result))
}

fn refusal(dataset: &Dataset, series: &SeriesWithGaps, error: AcfError) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        AcfError::InvalidSeries(reason) => {
            wording::unusable(&at, reason, "has no autocorrelation", |t| series.period(t))
        }
        AcfError::Lags { observations, .. } => CliError::call(format!("{at}: --lags: {error}"))
            .advise(format!("take between 1 and {} lags", observations.saturating_sub(1))),
        AcfError::LeastSquares => CliError::call(format!("{at}: {error}"))
            .advise("take fewer --lags, fill the gaps, or leave out --pacf"),
    }
}
