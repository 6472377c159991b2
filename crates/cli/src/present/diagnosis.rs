//! The joint assessment of a series as every command quotes it.

use kandrel_core::series::SeriesWithGaps;
use kandrel_core::verdict::{Assessment, Class, Confidence, Seasonality};
use schemars::JsonSchema;
use serde::Serialize;

/// The joint assessment of a series: the same object wherever the series is analysed.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct DiagnosisResult {
    pub integration: usize,
    pub seasonal_integration: Option<usize>,
    pub class: Class,
    /// The last period before a structural break.
    pub break_at: Option<String>,
    pub confidence: Confidence,
    /// The posterior probability of the class with its differences.
    pub probability: f64,
    pub seasonality: Seasonality,
    /// The seasonal autoregressive coefficient of a stationary seasonal process.
    pub seasonal_coefficient: Option<f64>,
    /// The first period of a new seasonal pattern, where the pattern changes once.
    pub pattern_changes_at: Option<String>,
    /// The joint posterior of ordinary and seasonal differences, from the most probable down; empty without a seasonal
    /// period.
    pub differences: Vec<DifferencesResult>,
}

/// A pair of differences and its posterior probability.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct DifferencesResult {
    pub d: usize,
    #[serde(rename = "D")]
    pub seasonal: usize,
    pub probability: f64,
}

impl DiagnosisResult {
    /// Of an assessed series.
    pub fn of(series: &SeriesWithGaps, assessment: &Assessment) -> Self {
        let (verdict, season) = (&assessment.verdict, &assessment.season);
        let period = |place: usize| series.period(place).to_string();
        let orders = season.posterior.iter().flat_map(|posterior| &posterior.orders);
        Self {
            integration: verdict.integration,
            seasonal_integration: verdict.seasonal_integration,
            class: verdict.class,
            break_at: assessment.break_at.map(period),
            confidence: verdict.confidence,
            probability: verdict.probability,
            seasonality: season.seasonality,
            seasonal_coefficient: season.coefficient,
            pattern_changes_at: season.changed_at.map(period),
            differences: orders
                .map(|one| DifferencesResult {
                    d: one.differences[0],
                    seasonal: one.differences[1],
                    probability: one.probability,
                })
                .collect(),
        }
    }

    /// One line for other commands than `stationarity`.
    pub fn line(&self) -> String {
        let seasonal =
            self.seasonal_integration.map_or(String::new(), |seasonal| format!(", D = {seasonal}"));
        let seasonality = match self.seasonality {
            Seasonality::None if self.differences.is_empty() => "",
            Seasonality::None => "; no seasonality",
            Seasonality::Deterministic if self.pattern_changes_at.is_some() => {
                "; deterministic seasonality whose pattern changes once"
            }
            Seasonality::Deterministic => "; deterministic seasonality",
            Seasonality::Stationary => "; stationary seasonality",
            Seasonality::UnitRoots => "; seasonal unit roots",
        };
        format!(
            "Joint assessment: d = {}{seasonal} (probability {}, confidence {}){seasonality}.",
            self.integration,
            self.probability(),
            self.confidence.word()
        )
    }

    /// The probability with two decimals.
    pub fn probability(&self) -> String {
        if self.probability > 0.995 { "above 0.99".to_owned() } else { format!("{:.2}", self.probability) }
    }

    /// Whether any difference is called for.
    pub fn is_differenced(&self) -> bool {
        self.integration + self.seasonal_integration.unwrap_or(0) > 0
    }

    /// The steps that take the differences, for a seasonal period.
    pub fn steps(&self, season: usize) -> Vec<String> {
        let seasonal = (self.seasonal_integration == Some(1)).then(|| format!("d{season}"));
        let mut all = vec!["d1".to_owned(); self.integration];
        all.extend(seasonal);
        all
    }
}
