//! Relations between series: the contract's result.

mod reading;
mod scatter;
mod text;

use kandrel_core::relation::{Cross, Prewhitened};
use schemars::JsonSchema;
use serde::Serialize;

pub use reading::{reading, sentence};
pub use scatter::{ScatterResult, around_strongest, plot as scatter_plot, scatter};
pub use text::document;

use crate::present::diagnosis::SeriesDiagnosis;
use crate::wording;

/// The contract's result of `relate`.
#[derive(JsonSchema, Serialize)]
pub struct RelateResult {
    pub first: String,
    pub last: String,
    /// Of the series as named; none for a single series.
    pub correlations: Option<MatrixResult>,
    /// Of their changes from one period to the next; none if those are what was asked for.
    pub changes: Option<MatrixResult>,
    /// Series with a trend or a unit root.
    pub nonstationary: Vec<String>,
    /// Series with a season.
    pub seasonal: Vec<String>,
    /// The joint assessment of each series.
    pub diagnoses: Vec<SeriesDiagnosis>,
    pub cross: Vec<CrossResult>,
    /// Which of two series moves first, after prewhitening; none where the functions themselves are asked for, and where
    /// the series cannot be prewhitened.
    pub lead: Option<LeadResult>,
    pub scatter: Option<ScatterResult>,
    pub reading: Vec<String>,
    /// Whether the series are first differences.
    pub is_of_changes: bool,
    /// One period, and the seasonal period.
    pub unit: Unit,
}

/// How lags are counted in words.
#[derive(Clone, JsonSchema, Serialize)]
pub struct Unit {
    /// One period: month.
    pub noun: &'static str,
    pub season: usize,
}

/// Correlations of all pairs.
#[derive(JsonSchema, Serialize)]
pub struct MatrixResult {
    pub names: Vec<String>,
    pub matrix: Vec<Vec<f64>>,
    pub observations: usize,
}

/// Cross-correlations of a pair.
#[derive(JsonSchema, Serialize)]
pub struct CrossResult {
    pub first: String,
    pub second: String,
    #[serde(flatten)]
    pub of: Function,
    /// The filter, where both series went through one.
    pub filter: Option<Filter>,
    /// The same before filtering.
    pub raw: Option<Function>,
    /// Whether both have a season, which correlates them by itself.
    pub shared_seasonality: bool,
    /// Whether the levels of both have trends or unit roots.
    pub both_nonstationary: bool,
    /// Whether both depend on their own past, which makes correlations of unrelated series larger than
    /// the band.
    pub both_autocorrelated: bool,
}

/// A cross-correlation function and its reading.
#[derive(JsonSchema, Serialize)]
pub struct Function {
    #[serde(flatten)]
    pub cross: Cross,
    pub strongest: StrongestResult,
    /// Lags where the strongest relation is seen again, whole seasons away.
    pub seasonal_repeats: Vec<i64>,
}

/// The lag where two series are correlated most.
#[derive(JsonSchema, Serialize)]
pub struct StrongestResult {
    pub lag: i64,
    pub r: f64,
    /// Which moves first; none at lag zero or where no lag is significant.
    pub leads: Option<String>,
    /// Whether the largest cross-correlation exceeds the 95 % point of the maximum over all lags of unrelated series.
    pub significant: bool,
}

/// The lead-lag relation of two series after prewhitening.
#[derive(JsonSchema, Serialize)]
pub struct LeadResult {
    pub first: String,
    pub second: String,
    /// Of the prewhitened series.
    pub strongest: StrongestResult,
    /// Before prewhitening.
    pub raw: StrongestResult,
    /// Whether first differences were taken, as a level is non-stationary.
    pub of_differences: bool,
    /// Order of the filter.
    pub order: usize,
    /// The functions before and after prewhitening, for the figure.
    #[serde(skip)]
    #[schemars(skip)]
    pub functions: [Cross; 2],
}

/// The autoregression of the first series that both went through.
#[derive(JsonSchema, Serialize)]
pub struct Filter {
    pub order: usize,
    pub coefficients: Vec<f64>,
}

impl From<&Prewhitened> for Filter {
    fn from(both: &Prewhitened) -> Self {
        Self { order: both.order, coefficients: both.coefficients.clone() }
    }
}

impl CrossResult {
    /// Whether trend or season could make the correlation by themselves.
    fn is_spurious(&self) -> bool {
        self.filter.is_none() && (self.shared_seasonality || self.both_nonstationary)
    }
}

impl Function {
    /// Reads a function of two named series.
    pub fn new(cross: Cross, names: [&str; 2], season: usize) -> Self {
        let strongest = cross.strongest();
        let leads = match strongest.lag {
            _ if !strongest.significant => None,
            0 => None,
            1.. => Some(names[0].to_owned()),
            _ => Some(names[1].to_owned()),
        };
        Self {
            strongest: StrongestResult {
                lag: strongest.lag,
                r: strongest.r,
                leads,
                significant: strongest.significant,
            },
            seasonal_repeats: cross.echoes(season),
            cross,
        }
    }
}

impl MatrixResult {
    /// The pair of the largest correlation by size.
    pub fn closest(&self) -> Option<(&str, &str, f64)> {
        let pairs = self.pairs();
        pairs.into_iter().max_by(|a, b| a.2.abs().total_cmp(&b.2.abs()))
    }

    /// Every pair with its correlation.
    pub fn pairs(&self) -> Vec<(&str, &str, f64)> {
        let rows = self.names.iter().zip(&self.matrix).enumerate();
        rows.flat_map(|(row, (name, values))| {
            self.names
                .iter()
                .zip(values)
                .skip(row + 1)
                .map(move |(other, r)| (name.as_str(), other.as_str(), *r))
        })
        .collect()
    }
}

impl Unit {
    /// `2 months`.
    fn count(&self, lag: i64) -> String {
        wording::count(usize::try_from(lag.unsigned_abs()).unwrap_or(usize::MAX), self.noun)
    }
}
