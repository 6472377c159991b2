//! Years drawn over each other.

use std::collections::BTreeMap;

use kandrel_core::series::{SeriesWithGaps, season_places};
use kandrel_core::time::{Frequency, Period};
use schemars::JsonSchema;
use serde::Serialize;

use super::{PlotResult, Plotted, Setting, Summary, by_mean, known, sample, summary_table};
use crate::document::to_json;
use crate::document::{Along, Document, Ink, Line, Panel, Plot, Table};
use crate::error::CliError;
use crate::present::steps;
use crate::wording;

/// The result of a plot of years over each other.
#[derive(JsonSchema, Serialize)]
pub struct YearsResult {
    series: String,
    years: Vec<YearResult>,
}

/// One year (or cycle).
#[derive(JsonSchema, Serialize)]
pub struct YearResult {
    year: String,
    #[serde(flatten)]
    summary: Summary,
    /// Values by their position within the year.
    values: BTreeMap<usize, f64>,
}

/// One line for each year.
pub fn years(all: &[SeriesWithGaps], setting: Setting<'_>) -> Result<Plotted, CliError> {
    let results: Vec<YearsResult> = all.iter().map(|series| by_year(series, setting.season)).collect();
    let title = results.iter().map(answer).collect::<Vec<_>>().join(" ");
    let plot = Plot {
        title: title.clone(),
        subtitle: all.first().map_or(String::new(), |series| sample(series, setting.source)),
        foot: String::new(),
        columns: if all.len() > 4 { 2 } else { 1 },
        panels: all
            .iter()
            .zip(&results)
            .map(|(series, result)| panel(series, result, setting.season))
            .collect(),
    };
    let mut document = Document::default();
    document.paragraph(title);
    document.plot(plot.clone());
    for result in &results {
        document.table(table(result));
    }
    let results =
        results.into_iter().map(|one| to_json(&PlotResult::Years(one))).collect::<Result<_, _>>()?;
    Ok(Plotted { plot, document, results })
}

/// Years of the calendar, unless the season is not of the year.
fn year_of(periods: &[Period], season: usize) -> Vec<Option<(i64, usize)>> {
    let own = periods.first().is_some_and(|first| first.frequency().season() == season);
    if own && periods.iter().all(|period| period.year_place().is_some()) {
        return periods.iter().map(|period| period.year_place()).collect();
    }
    season_places(periods, season).iter().map(|place| Some((place.cycle + 1, place.place))).collect()
}

fn by_year(series: &SeriesWithGaps, season: usize) -> YearsResult {
    let periods: Vec<Period> = (0..series.cells.len()).map(|t| series.period(t)).collect();
    let places = year_of(&periods, season);
    let mut years: BTreeMap<i64, Vec<(usize, Period, f64)>> = BTreeMap::new();
    for (t, value) in known(series) {
        if let Some((year, place)) = places.get(t).copied().flatten() {
            years.entry(year).or_default().push((place, series.period(t), value));
        }
    }
    let one = |(year, values): (i64, Vec<(usize, Period, f64)>)| {
        let dated: Vec<(Period, f64)> = values.iter().map(|(_, period, value)| (*period, *value)).collect();
        Some(YearResult {
            year: year.to_string(),
            summary: Summary::of(&dated)?,
            values: values.iter().map(|(place, _, value)| (*place, *value)).collect(),
        })
    };
    YearsResult { series: series.name.clone(), years: years.into_iter().filter_map(one).collect() }
}

fn answer(result: &YearsResult) -> String {
    by_mean(&result.years, |year| &year.summary).map_or_else(String::new, |(highest, lowest)| {
        format!(
            "{}, {} over each other: highest on average in {} ({}), lowest in {} ({}).",
            result.series,
            wording::count(result.years.len(), "year"),
            highest.year,
            wording::short(highest.summary.mean),
            lowest.year,
            wording::short(lowest.summary.mean)
        )
    })
}

fn panel(series: &SeriesWithGaps, result: &YearsResult, season: usize) -> Panel {
    let frequency = series.start.frequency();
    let daily = matches!(frequency, Frequency::Day | Frequency::Workday) && frequency.season() == season;
    let names = if daily { days_of_the_year() } else { wording::season_names(frequency, season) };
    let newest = result.years.len().saturating_sub(1).max(1) as f64;
    let line = |(number, year): (usize, &YearResult)| {
        let places = year.values.keys().copied().collect::<Vec<_>>();
        let first = places.first().copied().unwrap_or(0);
        let last = places.last().copied().unwrap_or(0);
        // Weekends are no gaps of workdays.
        let points: Vec<Option<(f64, f64)>> = if frequency == Frequency::Workday {
            year.values.iter().map(|(place, value)| Some((*place as f64, *value))).collect()
        } else {
            (first..=last).map(|place| year.values.get(&place).map(|value| (place as f64, *value))).collect()
        };
        Line::with_gaps(&year.year, Ink::Age(number as f64 / newest), points.into_iter())
    };
    Panel {
        title: result.series.clone(),
        about: steps::in_words(&series.name, series.start),
        along: Along::Points(names),
        axis: if daily { "Day of the year".to_owned() } else { wording::season_axis(frequency, season) },
        lines: result.years.iter().enumerate().map(line).collect(),
        ..Panel::default()
    }
}

fn days_of_the_year() -> Vec<String> {
    (1..=366).map(|day| day.to_string()).collect()
}

fn table(result: &YearsResult) -> Table {
    summary_table("Year", &result.years, |year| &year.year, |year| &year.summary, |rows, _| rows)
}
