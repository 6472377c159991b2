//! A decomposed series: trend, seasonal and irregular component.

mod classical;
mod error;
mod loess;
mod moving;
mod pattern;
mod seasonal_trend;
mod window;

use crate::num::scale::InvalidSeries;
use schemars::JsonSchema;
use serde::Serialize;

pub use error::{DecompError, LEAST_SEASON_WINDOW};
pub use loess::{Loess, Points};
pub use pattern::{Pattern, PlacePattern, pattern};
pub use window::{SeasonWindow, default_trend_window};

use crate::num::scale;
use seasonal_trend::{Method, seasonal_trend};

/// How the parts make the series.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum DecompositionKind {
    /// Their sum.
    #[default]
    Additive,
    /// Their product: seasonal and irregular component are factors around one.
    Multiplicative,
}

/// What is asked for.
#[derive(Debug, Clone, PartialEq)]
pub struct DecompOptions {
    /// Observations in each season, one or several.
    pub seasons: Vec<usize>,
    /// Sum or product.
    pub kind: DecompositionKind,
    /// Chosen from the data where there is none.
    pub seasonal_window: Option<SeasonWindow>,
    /// The usual one where there is none.
    pub trend_window: Option<usize>,
    /// Degree of the season's local polynomials, 0 to 2.
    pub seasonal_degree: usize,
    /// Degree of the trend's, 0 to 2.
    pub trend_degree: usize,
    /// Whether outliers lose their weight.
    pub robust: bool,
}

impl DecompOptions {
    /// Local lines, one season, its window chosen from the data.
    pub fn of(season: usize) -> Self {
        Self {
            seasons: vec![season],
            kind: DecompositionKind::Additive,
            seasonal_window: None,
            trend_window: None,
            seasonal_degree: 1,
            trend_degree: 1,
            robust: false,
        }
    }
}

/// The windows of one season.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
pub struct Windows {
    /// Observations in the season.
    pub season: usize,
    /// How far it may change.
    pub seasonal_window: SeasonWindow,
    /// Whether that was chosen from the data.
    pub chosen: bool,
    /// Observations that the trend takes together.
    pub trend_window: usize,
}

/// Share of the variance that a part explains: 0 for none, 1 for all.
///
/// # Formula
/// `max(0, 1 - Var(R) / Var(T + R))` and `max(0, 1 - Var(R) / Var(S + R))`; of a product, by
/// its logarithms.
///
/// # Source
/// Wang, X., Smith, K. and Hyndman, R. (2006), Data Mining and Knowledge Discovery 13, 335-364.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct Strength {
    /// Of the trend.
    pub trend: f64,
    /// Of all seasons together.
    pub season: f64,
    /// Of each season.
    pub seasons: Vec<f64>,
}

/// A decomposed series.
#[derive(Debug, Clone, PartialEq)]
pub struct Decomposition {
    /// Sum or product.
    pub kind: DecompositionKind,
    /// Windows of each season; none by the classical method.
    pub windows: Vec<Windows>,
    /// Of every period; unknown at the ends by the classical method.
    pub trend: Vec<Option<f64>>,
    /// Each season at every period.
    pub seasons: Vec<Vec<f64>>,
    /// What is left; unknown where the value or the trend is.
    pub remainder: Vec<Option<f64>>,
    /// How strong trend and season are.
    pub strength: Strength,
    /// Whether each season improves cross-validated predictions significantly.
    pub evident: Vec<bool>,
}

impl Decomposition {
    /// All seasons together.
    pub fn season(&self) -> Vec<f64> {
        let join = |t: usize| self.seasons.iter().map(move |season| season[t]);
        (0..self.trend.len())
            .map(|t| match self.kind {
                DecompositionKind::Additive => join(t).sum(),
                DecompositionKind::Multiplicative => join(t).product(),
            })
            .collect()
    }

    /// The series without its seasons.
    pub fn adjusted(&self, cells: &[Option<f64>]) -> Vec<Option<f64>> {
        cells
            .iter()
            .zip(self.season())
            .map(|(cell, season)| cell.map(|value| self.kind.without(value, season)))
            .collect()
    }
}

impl DecompositionKind {
    /// A value without a part.
    pub fn without(self, value: f64, part: f64) -> f64 {
        match self {
            Self::Additive => value - part,
            Self::Multiplicative => value / part,
        }
    }

    /// A value with a part.
    pub fn with(self, value: f64, part: f64) -> f64 {
        match self {
            Self::Additive => value + part,
            Self::Multiplicative => value * part,
        }
    }
}

/// Decomposes a series by local polynomials; several seasons in turn, the shortest first,
/// twice over. Gaps are taken as they are: trend and season are known there, the irregular component is
/// not. A product is decomposed as the sum of its logarithms.
///
/// # Source
/// Cleveland and others (1990), Journal of Official Statistics 6, 3-73; several seasons as in
/// Bandara, K., Hyndman, R. J. and Bergmeir, C. (2021), arXiv:2107.13462.
///
/// # Cost
/// Linear in the number of periods, and in the windows.
///
/// # Errors
/// [`DecompError`].
pub fn by_loess(cells: &[Option<f64>], options: &DecompOptions) -> Result<Decomposition, DecompError> {
    let kind = options.kind;
    let seasons = checked(cells, options)?;
    let logs = worked(cells, kind);
    let mut left = logs.clone();
    let mut found: Vec<Vec<f64>> = vec![vec![0.0; cells.len()]; seasons.len()];
    let mut windows: Vec<Windows> = Vec::new();
    let mut trend = vec![0.0; cells.len()];
    let asked = options.seasonal_window.map(SeasonWindow::checked).transpose()?;
    for round in 0..if seasons.len() > 1 { 2 } else { 1 } {
        for (place, season) in seasons.iter().copied().enumerate() {
            add(&mut left, &found[place], 1.0);
            if round == 0 {
                let seasonal_window =
                    asked.unwrap_or_else(|| window::choose(&left, season, options.seasonal_degree));
                let trend_window = window::trend_window(options.trend_window, season, seasonal_window)?;
                windows.push(Windows { season, seasonal_window, chosen: asked.is_none(), trend_window });
            }
            let method = Method {
                season,
                seasonal_window: windows[place].seasonal_window,
                seasonal_degree: options.seasonal_degree,
                trend_window: windows[place].trend_window,
                trend_degree: options.trend_degree,
                robust: options.robust,
            };
            let parts = seasonal_trend(&left, method)?;
            add(&mut left, &parts.season, -1.0);
            (found[place], trend) = (parts.season, parts.trend);
        }
    }
    let mut evident = Vec::new();
    for (own, windows) in found.iter().zip(&windows) {
        // With the others' seasons, which are known to it.
        let mut beside = left.clone();
        add(&mut beside, own, 1.0);
        evident.push(window::season_foretells(
            &beside,
            windows.season,
            windows.seasonal_window,
            options.seasonal_degree,
        ));
    }
    Ok(assembled(&logs, kind, trend.into_iter().map(Some).collect(), found, windows, evident))
}

/// Decomposes a series by moving averages ([`DecompositionKind::Multiplicative`]: ratios to them).
///
/// # Errors
/// [`DecompError`].
pub fn by_moving_averages(
    cells: &[Option<f64>],
    options: &DecompOptions,
) -> Result<Decomposition, DecompError> {
    let [length] = checked(cells, options)?[..] else {
        return Err(DecompError::OneSeasonOnly);
    };
    let kind = options.kind;
    let parts = classical::classical(cells, length, kind == DecompositionKind::Multiplicative)?;
    let log = |cells: Vec<Option<f64>>| worked(&cells, kind);
    let season = log(parts.season.into_iter().map(Some).collect());
    let season = season.into_iter().map(Option::unwrap_or_default).collect();
    let cells = worked(cells, kind);
    let evident = window::season_foretells(&cells, length, SeasonWindow::Periodic, 0);
    Ok(assembled(&cells, kind, log(parts.trend), vec![season], Vec::new(), vec![evident]))
}

/// The seasons in order, each once.
fn checked(cells: &[Option<f64>], options: &DecompOptions) -> Result<Vec<usize>, DecompError> {
    let mut seasons: Vec<usize> = options.seasons.iter().copied().filter(|season| *season > 1).collect();
    seasons.sort_unstable();
    seasons.dedup();
    let longest = *seasons.last().ok_or(DecompError::NoSeason)?;
    let observations = cells.len();
    if observations < 2 * longest {
        return Err(DecompError::TooShort { observations, season: longest });
    }
    let known: Vec<f64> = cells.iter().flatten().copied().collect();
    let odd = |cell: &Option<f64>| cell.is_some_and(|value| !scale::is_squarable(value));
    if let Some(place) = cells.iter().position(odd) {
        return Err(DecompError::InvalidSeries(InvalidSeries::NotFinite { place }));
    }
    scale::check(&known)?;
    let refused = |cell: &Option<f64>| cell.is_some_and(|value| value <= 0.0);
    match cells.iter().position(refused) {
        Some(place) if options.kind == DecompositionKind::Multiplicative => {
            Err(DecompError::NotPositive { place })
        }
        _ => Ok(seasons),
    }
}

/// The values, or for a product their logarithms.
fn worked(cells: &[Option<f64>], kind: DecompositionKind) -> Vec<Option<f64>> {
    let worked = |value: f64| if kind == DecompositionKind::Multiplicative { value.ln() } else { value };
    cells.iter().map(|cell| cell.map(worked)).collect()
}

fn add(cells: &mut [Option<f64>], part: &[f64], sign: f64) {
    for (cell, part) in cells.iter_mut().zip(part) {
        *cell = cell.map(|value| value + sign * part);
    }
}

/// The parts of a sum, turned into those of a product where that is asked for.
fn assembled(
    cells: &[Option<f64>],
    kind: DecompositionKind,
    trend: Vec<Option<f64>>,
    seasons: Vec<Vec<f64>>,
    windows: Vec<Windows>,
    evident: Vec<bool>,
) -> Decomposition {
    let left = |t: usize| {
        let season: f64 = seasons.iter().map(|season| season[t]).sum();
        Some(cells[t]? - trend[t]? - season)
    };
    let remainder: Vec<Option<f64>> = (0..cells.len()).map(left).collect();
    let strength = strength(&trend, &seasons, &remainder);
    let back = |value: f64| if kind == DecompositionKind::Multiplicative { value.exp() } else { value };
    let each = |part: Vec<Option<f64>>| part.into_iter().map(|value| value.map(back)).collect();
    Decomposition {
        kind,
        windows,
        trend: each(trend),
        seasons: seasons.into_iter().map(|season| season.into_iter().map(back).collect()).collect(),
        remainder: each(remainder),
        strength,
        evident,
    }
}

fn strength(trend: &[Option<f64>], seasons: &[Vec<f64>], remainder: &[Option<f64>]) -> Strength {
    let left: Vec<f64> = remainder.iter().flatten().copied().collect();
    let beside = |part: &dyn Fn(usize) -> f64| -> f64 {
        let with: Vec<f64> =
            remainder.iter().enumerate().filter_map(|(t, rest)| rest.map(|rest| rest + part(t))).collect();
        let whole = variance(&with);
        if whole > 0.0 { (1.0 - variance(&left) / whole).max(0.0) } else { 0.0 }
    };
    Strength {
        trend: beside(&|t| trend[t].unwrap_or_default()),
        season: beside(&|t| seasons.iter().map(|season| season[t]).sum()),
        seasons: seasons.iter().map(|season| beside(&|t| season[t])).collect(),
    }
}

fn variance(values: &[f64]) -> f64 {
    let mean = scale::mean(values);
    values.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / values.len().max(1) as f64
}
