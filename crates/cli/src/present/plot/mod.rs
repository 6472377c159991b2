//! Plots of series: what is drawn, and what it shows in words.

mod levels;
mod seasons;
mod years;

use kandrel_core::series::SeriesWithGaps;
use schemars::JsonSchema;
use serde::Serialize;

pub use levels::{Arrangement, levels};
pub use seasons::{SeasonKind, seasons};
pub use years::years;

use crate::document::{Document, Plot};

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
