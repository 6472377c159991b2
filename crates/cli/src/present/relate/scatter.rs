//! One series against an earlier one, lag by lag.

use std::ops::RangeInclusive;

use kandrel_core::relation::{Cross, LowessOptions, RelationError, cross_correlations, fitted_line, lowess};
use kandrel_core::series::Series;
use schemars::JsonSchema;
use serde::Serialize;

use super::{Unit, reading};
use crate::document::{Along, Ink, Interval, Line, Panel, Plot};
use crate::wording;

/// The number of places at which a line and a curve are given.
const PLACES: usize = 60;
/// Confidence of the band around the regression line.
const LEVEL: f64 = 0.95;
/// Panels where no lags are asked for: the strongest lag and half of the others on either side of it.
const PANELS: usize = 9;

/// Panels of one pair, or of a series with its own past.
#[derive(JsonSchema, Serialize)]
pub struct ScatterResult {
    pub first: String,
    pub second: String,
    pub panels: Vec<ScatterPanel>,
}

/// The points of one lag.
#[derive(JsonSchema, Serialize)]
pub struct ScatterPanel {
    /// How many periods the first series is earlier.
    pub lag: usize,
    /// Cross-correlation at this lag.
    pub r: f64,
    pub observations: usize,
    /// The regression line with its 95 % confidence band; none where a series has no variation.
    pub line: Option<LineResult>,
    /// The smooth curve (lowess), where it is asked for: places and heights.
    pub curve: Vec<(f64, f64)>,
    /// Values of the first series and of the second.
    pub points: Vec<(f64, f64)>,
}

/// A regression line `y = a + b x` and the 95 % confidence band of its mean.
#[derive(JsonSchema, Serialize)]
pub struct LineResult {
    pub intercept: f64,
    pub slope: f64,
    /// Value of the first series, lower and upper limit.
    pub band: Vec<(f64, f64, f64)>,
}

/// The lags of the panels where none are asked for: around the lag with the largest correlation up to `most`.
pub fn around_strongest(
    first: &Series,
    second: &Series,
    lowest: usize,
    most: usize,
) -> Result<RangeInclusive<usize>, RelationError> {
    let mut strongest = (lowest, 0.0_f64);
    let all = correlations(first, second, most)?;
    for lag in lowest..=most {
        let r = at_lag(&all, lag).abs();
        strongest = if r > strongest.1 { (lag, r) } else { strongest };
    }
    let start =
        strongest.0.saturating_sub(PANELS / 2).clamp(lowest, most.saturating_sub(PANELS - 1).max(lowest));
    Ok(start..=(start + PANELS - 1).min(most))
}

/// Cross-correlations with the variances of the whole series: the numbers of `--cross` too.
fn correlations(first: &Series, second: &Series, most: usize) -> Result<Cross, RelationError> {
    cross_correlations(&first.values, &second.values, most.max(1))
}

fn at_lag(all: &Cross, lag: usize) -> f64 {
    i64::try_from(lag).ok().and_then(|lag| all.at(lag)).unwrap_or(0.0)
}

/// The first series at `t - lag` against the second at `t`, for each lag.
pub fn scatter(
    first: &Series,
    second: &Series,
    lags: RangeInclusive<usize>,
    with_curve: bool,
) -> Result<ScatterResult, RelationError> {
    let all = correlations(first, second, *lags.end())?;
    let panel = |lag: usize| {
        let later = second.values.get(lag..).unwrap_or(&[]);
        let points: Vec<(f64, f64)> = first.values.iter().copied().zip(later.iter().copied()).collect();
        let r = at_lag(&all, lag);
        let curve = if with_curve {
            lowess(&points, LowessOptions::default()).unwrap_or_default()
        } else {
            Vec::new()
        };
        let step = curve.len().div_ceil(PLACES).max(1);
        let last = curve.len().saturating_sub(1);
        let kept = curve.iter().enumerate().filter(|(place, _)| place % step == 0 || *place == last);
        let curve = kept.map(|(_, point)| *point).collect();
        let line = fitted_line(&points, LEVEL, PLACES);
        let line = line.map(|own| LineResult { intercept: own.intercept, slope: own.slope, band: own.band });
        ScatterPanel { lag, r, observations: points.len(), line, curve, points }
    };
    Ok(ScatterResult {
        first: first.name.clone(),
        second: second.name.clone(),
        panels: lags.map(panel).collect(),
    })
}

impl ScatterResult {
    /// The lag with the largest correlation by size.
    pub fn closest(&self) -> Option<&ScatterPanel> {
        self.panels.iter().max_by(|a, b| a.r.abs().total_cmp(&b.r.abs()))
    }

    /// The answer in one sentence.
    pub fn sentence(&self, unit: &Unit) -> String {
        let Some(closest) = self.closest() else {
            return "There are no two series to correlate.".to_owned();
        };
        let lag = i64::try_from(closest.lag).unwrap_or(i64::MAX);
        let earlier = match closest.lag {
            0 => format!("in the same {}", unit.noun),
            _ => format!("{} earlier", unit.count(lag)),
        };
        let whom = if self.first == self.second { "itself" } else { self.first.as_str() };
        format!("{} is closest to {whom} {earlier}: r = {}.", self.second, reading::r(closest.r))
    }
}

/// All panels, or only the closest, as a plot.
pub fn plot(result: &ScatterResult, unit: &Unit, source: &str, only_closest: bool) -> Plot {
    let closest = result.closest().map(|panel| panel.lag);
    let shown = result.panels.iter().filter(|panel| !only_closest || Some(panel.lag) == closest);
    let panels: Vec<Panel> = shown.map(|panel| one(result, panel, unit)).collect();
    let columns = match panels.len() {
        0..=1 => 1,
        2..=4 => 2,
        5..=9 => 3,
        _ => 4,
    };
    Plot {
        title: result.sentence(unit),
        subtitle: format!(
            "{source}; vertical axis: {}, horizontal axis: {} at the given lag",
            result.second, result.first
        ),
        foot: foot(result).to_owned(),
        columns,
        panels,
    }
}

/// What the lines mean.
fn foot(result: &ScatterResult) -> &'static str {
    if result.panels.iter().any(|panel| !panel.curve.is_empty()) {
        "Straight line: least-squares regression with the 95 % confidence band of its mean (uncorrelated errors). Curve: lowess."
    } else {
        "Line: least-squares regression with the 95 % confidence band of its mean (uncorrelated errors)."
    }
}

fn one(result: &ScatterResult, panel: &ScatterPanel, unit: &Unit) -> Panel {
    let ends = (f64::INFINITY, f64::NEG_INFINITY);
    let (low, high) = panel.points.iter().fold(ends, |(low, high), (x, _)| (low.min(*x), high.max(*x)));
    let mut lines = Vec::new();
    let mut intervals = Vec::new();
    if let Some(own) = &panel.line {
        let ends = [low, high].map(|x| Some((x, own.intercept + own.slope * x)));
        lines.push(Line::with_gaps("regression line", Ink::Series(1), ends.into_iter()));
        intervals
            .push(Interval { name: "95 % confidence band of the mean".to_owned(), ends: own.band.clone() });
    }
    if !panel.curve.is_empty() {
        lines.push(Line::with_gaps(
            "smooth curve (lowess)",
            Ink::Series(2),
            panel.curve.iter().map(|point| Some(*point)),
        ));
    }
    Panel {
        title: format!("Lag {}: r = {}, n = {}", panel.lag, reading::r(panel.r), panel.observations),
        about: match panel.lag {
            0 => format!("in the same {}", unit.noun),
            lag => format!("{} earlier", wording::count(lag, unit.noun)),
        },
        along: Along::Values(low, high),
        axis: result.first.clone(),
        dots: panel.points.clone(),
        lines,
        intervals,
        ..Panel::default()
    }
}
