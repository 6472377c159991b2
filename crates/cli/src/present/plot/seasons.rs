//! Seasonal sub-series: each position of the seasonal cycle over the years.

use kandrel_core::series::{FiveNumbers, SeriesWithGaps, five_numbers, season_places};
use kandrel_core::time::Period;
use schemars::JsonSchema;
use serde::Serialize;

use super::{PlotResult, Plotted, Setting, Summary, by_mean, known, sample, summary_table};
use crate::document::to_json;
use crate::document::{Along, BoxMark, Document, Ink, Line, Panel, Plot, Table};
use crate::error::CliError;
use crate::present::diagnosis::DiagnosisResult;
use crate::present::steps;
use crate::wording;
use crate::wording::heads;

/// What is in each place of the season.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SeasonKind {
    /// The values in order of time, and their mean.
    Lines,
    /// A box.
    Boxes,
}

/// The result of a plot by season.
#[derive(JsonSchema, Serialize)]
pub struct SeasonsResult {
    series: String,
    season: usize,
    positions: Vec<PlaceResult>,
    /// The joint assessment of the series.
    diagnosis: Option<Box<DiagnosisResult>>,
}

/// One place of the season.
#[derive(JsonSchema, Serialize)]
pub struct PlaceResult {
    place: String,
    #[serde(flatten)]
    summary: Summary,
    /// Mean deviation from the centred average of a season; none where no average of the series is complete.
    deviation: Option<f64>,
    lower_quartile: f64,
    median: f64,
    upper_quartile: f64,
    /// Beyond one and a half box heights.
    beyond: Vec<String>,
    /// Each with its period.
    values: Vec<(Period, f64)>,
    /// The ends of the whiskers and the box; places of the values beyond.
    five: FiveNumbers,
}

/// Sub-series or boxes for each place of the season.
pub fn seasons(
    all: &[SeriesWithGaps],
    kind: SeasonKind,
    setting: Setting<'_>,
    diagnoses: Vec<Option<DiagnosisResult>>,
) -> Result<Plotted, CliError> {
    let with = |(series, diagnosis): (&SeriesWithGaps, Option<DiagnosisResult>)| SeasonsResult {
        diagnosis: diagnosis.map(Box::new),
        ..by_place(series, setting.season)
    };
    let results: Vec<SeasonsResult> = all.iter().zip(diagnoses).map(with).collect();
    let title = results.iter().map(answer).collect::<Vec<_>>().join(" ");
    let first = all.first();
    let plot = Plot {
        title: title.clone(),
        subtitle: first.map_or(String::new(), |series| sample(series, setting.source)),
        foot: match kind {
            SeasonKind::Lines => {
                "Thin: values of each position in order of time. Thick: their mean.".to_owned()
            }
            SeasonKind::Boxes => {
                "Box: quartiles and median. Whiskers: to the last value within one and a half \
                box heights. Dots: values beyond, with their periods."
                    .to_owned()
            }
        },
        columns: if all.len() > 4 { 2 } else { 1 },
        panels: all.iter().zip(&results).map(|(series, result)| panel(series, result, kind)).collect(),
    };
    let mut document = Document::default();
    document.paragraph(title);
    document.plot(plot.clone());
    for result in &results {
        document.table(table(result));
    }
    let results =
        results.into_iter().map(|one| to_json(&PlotResult::Seasons(one))).collect::<Result<_, _>>()?;
    Ok(Plotted { plot, document, results })
}

fn by_place(series: &SeriesWithGaps, season: usize) -> SeasonsResult {
    let periods: Vec<Period> = (0..series.cells.len()).map(|t| series.period(t)).collect();
    let places = season_places(&periods, season);
    let names = wording::season_names(series.start.frequency(), season);
    let count = places.iter().map(|place| place.place + 1).max().unwrap_or(0).max(season);
    let mut values: Vec<Vec<(Period, f64)>> = vec![Vec::new(); count];
    let mut deviations: Vec<Vec<f64>> = vec![Vec::new(); count];
    for (t, value) in known(series) {
        let Some(place) = places.get(t).map(|place| place.place).filter(|place| *place < count) else {
            continue;
        };
        values[place].push((series.period(t), value));
        deviations[place].extend(centred_average(&series.cells, t, season).map(|average| value - average));
    }
    let named = values.into_iter().zip(deviations).enumerate().map(|(place, (values, deviations))| {
        let name = names.get(place).cloned().unwrap_or_else(|| (place + 1).to_string());
        one_place(name, values, &deviations)
    });
    SeasonsResult {
        series: series.name.clone(),
        season,
        positions: named.flatten().collect(),
        diagnosis: None,
    }
}

/// The average of a season around a value, the ends of an even one counting half; none with a gap in it.
fn centred_average(cells: &[Option<f64>], t: usize, season: usize) -> Option<f64> {
    let half = season / 2;
    let window = cells.get(t.checked_sub(half)?..=t + half)?;
    let values: Vec<f64> = window.iter().copied().collect::<Option<_>>()?;
    let ends = match (season % 2, values.first(), values.last()) {
        (0, Some(first), Some(last)) => 0.5 * (first + last),
        _ => 0.0,
    };
    Some((values.iter().sum::<f64>() - ends) / season as f64)
}

fn one_place(place: String, values: Vec<(Period, f64)>, deviations: &[f64]) -> Option<PlaceResult> {
    let numbers: Vec<f64> = values.iter().map(|(_, value)| *value).collect();
    let five = five_numbers(&numbers)?;
    let beyond = five.beyond.iter().filter_map(|t| values.get(*t));
    Some(PlaceResult {
        place,
        summary: Summary::of(&values)?,
        deviation: (!deviations.is_empty()).then(|| kandrel_core::num::scale::mean(deviations)),
        lower_quartile: five.lower,
        median: five.median,
        upper_quartile: five.upper,
        beyond: beyond.map(|(period, _)| period.to_string()).collect(),
        values,
        five,
    })
}

/// Of a series with a trend the order of the means may be that of time; the deviations from the average of a season tell
/// the season.
fn around_the_average(result: &SeasonsResult) -> Option<String> {
    let all: Vec<(&str, f64)> = result
        .positions
        .iter()
        .map(|one| Some((one.place.as_str(), one.deviation?)))
        .collect::<Option<_>>()?;
    let (high, above) = all.iter().max_by(|a, b| a.1.total_cmp(&b.1))?;
    let (low, below) = all.iter().min_by(|a, b| a.1.total_cmp(&b.1))?;
    Some(format!(
        "Relative to its centred average over a season {} is highest in {high} ({}) and lowest in {low} ({}).",
        result.series,
        signed(*above),
        signed(*below)
    ))
}

fn signed(value: f64) -> String {
    let sign = if value > 0.0 { "+" } else { "" };
    format!("{sign}{}", wording::short(value))
}

fn answer(result: &SeasonsResult) -> String {
    let is_seasonal = result.diagnosis.as_ref().is_none_or(|own| own.is_seasonal());
    if result.diagnosis.as_ref().is_some_and(|own| own.is_seasonal() && own.is_trending())
        && let Some(answer) = around_the_average(result)
    {
        return answer;
    }
    by_mean(&result.positions, |place| &place.summary).map_or_else(String::new, |(highest, lowest)| {
        if !is_seasonal {
            return format!(
                "No seasonality is detected in {}: its means lie between {} ({}) and {} ({}).",
                result.series,
                wording::short(lowest.summary.mean),
                lowest.place,
                wording::short(highest.summary.mean),
                highest.place
            );
        }
        format!(
            "{} is highest in {} (mean {}) and lowest in {} (mean {}).",
            result.series,
            highest.place,
            wording::short(highest.summary.mean),
            lowest.place,
            wording::short(lowest.summary.mean)
        )
    })
}

fn panel(series: &SeriesWithGaps, result: &SeasonsResult, kind: SeasonKind) -> Panel {
    let strips = result.positions.iter().zip(0_u32..).map(|(place, number)| (f64::from(number), place));
    let lines = || {
        strips.clone().flat_map(|(left, place)| {
            let count = place.values.len().max(2) as f64 - 1.0;
            let along = |k: usize| left + 0.1 + 0.8 * k as f64 / count;
            let points = place.values.iter().enumerate().map(|(k, (_, value))| Some((along(k), *value)));
            let mean = [left + 0.1, left + 0.9].map(|x| Some((x, place.summary.mean)));
            [
                Line::with_gaps(&place.place, Ink::Series(0), points),
                Line::with_gaps(&format!("mean of {}", place.place), Ink::Mean, mean.into_iter()),
            ]
        })
    };
    let boxes = || strips.clone().map(|(left, place)| box_mark(left + 0.5, place));
    Panel {
        title: result.series.clone(),
        about: steps::in_words(&series.name, series.start),
        along: Along::Strips(result.positions.iter().map(|place| place.place.clone()).collect()),
        axis: wording::season_axis(series.start.frequency(), result.season),
        lines: if kind == SeasonKind::Lines { lines().collect() } else { Vec::new() },
        boxes: if kind == SeasonKind::Boxes { boxes().collect() } else { Vec::new() },
        ..Panel::default()
    }
}

fn box_mark(at: f64, place: &PlaceResult) -> BoxMark {
    let five = &place.five;
    let beyond = five.beyond.iter().filter_map(|t| place.values.get(*t));
    BoxMark {
        at,
        name: place.place.clone(),
        values: [five.low, five.lower, five.median, five.upper, five.high],
        beyond: beyond.map(|(period, value)| (*value, period.to_string())).collect(),
    }
}

fn table(result: &SeasonsResult) -> Table {
    summary_table(
        "Position",
        &result.positions,
        |place| &place.place,
        |place| &place.summary,
        |rows, decimals| rows.number(heads::MEDIAN, decimals, |place| place.median),
    )
}
