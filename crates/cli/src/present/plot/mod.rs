//! Plots of series: what is drawn, and what it shows in words.

mod levels;
mod seasons;
mod years;

use kandrel_core::num::scale;
use kandrel_core::series::SeriesWithGaps;
use kandrel_core::time::Period;
use schemars::JsonSchema;
use serde::Serialize;

pub use levels::{Arrangement, levels};
pub use seasons::{SeasonKind, seasons};
pub use years::years;

use crate::document::{Document, Plot, Rows, Table};
use crate::wording;
use crate::wording::heads;

/// The contract's result of `plot`: by the kind of plot.
#[derive(JsonSchema, Serialize)]
#[serde(untagged)]
pub enum PlotResult {
    Levels(levels::LevelsResult),
    Seasons(seasons::SeasonsResult),
    Years(years::YearsResult),
}

/// A plot with its results in both forms.
pub struct Plotted {
    pub plot: Plot,
    pub document: Document,
    pub results: Vec<serde_json::Value>,
}

/// What the plots share of the data.
#[derive(Clone, Copy)]
pub struct Setting<'a> {
    pub source: &'a str,
    pub season: usize,
}

/// Values of a place in the season, or of a year, summed up.
#[derive(JsonSchema, Serialize)]
pub struct Summary {
    observations: usize,
    mean: f64,
    min: f64,
    min_at: String,
    max: f64,
    max_at: String,
}

impl Summary {
    /// `None` without values.
    fn of(values: &[(Period, f64)]) -> Option<Self> {
        let numbers: Vec<f64> = values.iter().map(|(_, value)| *value).collect();
        let lowest = values.iter().min_by(|a, b| a.1.total_cmp(&b.1))?;
        let highest = values.iter().max_by(|a, b| a.1.total_cmp(&b.1))?;
        Some(Self {
            observations: values.len(),
            mean: scale::mean(&numbers),
            min: lowest.1,
            min_at: lowest.0.to_string(),
            max: highest.1,
            max_at: highest.0.to_string(),
        })
    }
}

/// Values and their mean, what a kind of plot has of its own, lowest and highest.
fn summary_table<T>(
    name: &str,
    rows: &[T],
    label: fn(&T) -> &str,
    summary: fn(&T) -> &Summary,
    own: impl FnOnce(Rows<&T>, usize) -> Rows<&T>,
) -> Table {
    let decimals = decimals(rows.iter().map(summary));
    let means = Table::of(rows)
        .text(name, |row| label(row))
        .count(heads::VALUES, |row| summary(row).observations)
        .number(heads::MEAN, decimals, |row| summary(row).mean);
    own(means, decimals)
        .number(heads::MINIMUM, decimals, |row| summary(row).min)
        .text(heads::DATE, |row| summary(row).min_at.clone())
        .number(heads::MAXIMUM, decimals, |row| summary(row).max)
        .text(heads::DATE, |row| summary(row).max_at.clone())
        .table()
}

/// Decimals that show the differences among all of them.
fn decimals<'a>(all: impl Iterator<Item = &'a Summary>) -> usize {
    let ends = (f64::INFINITY, f64::NEG_INFINITY);
    let (low, high) = all.fold(ends, |(low, high), one| (low.min(one.min), high.max(one.max)));
    wording::decimals(high - low)
}

/// The highest and the lowest mean.
fn by_mean<T>(all: &[T], summary: impl Fn(&T) -> &Summary) -> Option<(&T, &T)> {
    let order = |a: &&T, b: &&T| summary(a).mean.total_cmp(&summary(b).mean);
    all.iter().max_by(order).zip(all.iter().min_by(order))
}

/// Known values with the place of each.
fn known(series: &SeriesWithGaps) -> impl Iterator<Item = (usize, f64)> {
    series.cells.iter().enumerate().filter_map(|(t, cell)| cell.map(|value| (t, value)))
}

/// The span and the number of values, for a subtitle.
fn sample(series: &SeriesWithGaps, source: &str) -> String {
    let last = series.period(series.cells.len().saturating_sub(1));
    format!(
        "{source}, {} to {last}, {} {} values",
        series.start,
        known(series).count(),
        series.start.frequency().adjective()
    )
}
