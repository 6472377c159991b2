//! What the figure of one series shows.

use kandrel_core::corr::{Acf, AcfOptions, acf};
use kandrel_core::series::{Series, SeriesWithGaps};
use kandrel_core::unitroot::{Null, rolling};
use kandrel_core::verdict::candidates::fixed_part;
use kandrel_core::verdict::{Assessment, Seasonality};

use crate::error::CliError;
use crate::figure::Drawing;
use crate::figure::Sheet;
use crate::figure::stationarity::{Picture, StripRow, drawing};
use crate::present::stationarity::{StationarityResult, TestResult};
use crate::read::Dataset;
use crate::wording::{number, test_names};

/// Periods over which mean and standard deviation are taken, where there is no season.
fn window(n: usize, season: usize) -> usize {
    let tenth = (n / 10).max(8);
    if season > 1 { season * (tenth + season / 2).max(season).div_euclid(season) } else { tenth }
}

/// The figure of one series and its verdict.
pub fn draw(
    dataset: &Dataset,
    series: &Series,
    assessment: &Assessment,
    result: &StationarityResult,
    season: usize,
    sheet: &Sheet,
) -> Result<Drawing, CliError> {
    let y = &series.values;
    let window = window(y.len(), season);
    // What is fixed about a seasonal difference cannot be drawn next to the level.
    let seasonality = assessment.season.seasonality;
    let drawn = seasonality == Seasonality::None || seasonality.is_fixed();
    let best = assessment.candidates.best_of(assessment.verdict.kind).filter(|_| drawn);
    let rows: Vec<StripRow> = strip(result);
    let change: Vec<f64> = y.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let function = |values: &[f64]| -> Result<Acf, CliError> {
        let options = AcfOptions { season, ..AcfOptions::default() };
        acf(values, &options).map_err(|error| {
            CliError::data(format!("{}, {}: {error}", dataset.source, series.name))
                .advise("take a longer series, or leave out --figure")
        })
    };
    let whole = SeriesWithGaps::from(series.clone());
    let picture = Picture {
        title: &result.verdict.sentence,
        subtitle: format!(
            "{}, {} to {}, {} {} observations",
            dataset.file_name(),
            series.start,
            series.last(),
            y.len(),
            series.start.frequency().adjective()
        ),
        series: &whole,
        fixed: best.and_then(|top| fixed_part(y, top.model, top.before)),
        break_at: assessment.break_at.filter(|_| drawn),
        rolling: (rolling(y, window), window),
        tests: rows,
        functions: [
            ("ACF of the level".to_owned(), function(y)?),
            ("ACF of Δ".to_owned(), function(&change)?),
        ],
        season,
        axis: format!("Lag in {}s", series.start.frequency().noun()),
    };
    Ok(drawing(&picture, sheet))
}

/// Every test of the result that has a p-value, in its order.
fn strip(result: &StationarityResult) -> Vec<StripRow> {
    let row = |test: &TestResult| {
        Some(StripRow {
            name: match test.differenced {
                0 => test_names::name_of(test.test, test.detail.model).to_owned(),
                1 => format!("{} of Δ", test_names::name_of(test.test, test.detail.model)),
                _ => format!("{} of Δ²", test_names::name_of(test.test, test.detail.model)),
            },
            null: match test.null {
                Null::UnitRoot => "unit root",
                Null::Stationary => "stationary",
                Null::FixedSeason => "constant pattern",
                Null::NoMemory => "d = 0",
            },
            numbers: format!("{} ({})", number(test.statistic, 2), number(test.critical?.five, 2)),
            p_value: test.p_value?,
            is_rejected: test.p_value? <= 0.05,
        })
    };
    result.tests.iter().filter_map(row).collect()
}
