//! What candidate models are ranked by.

use schemars::JsonSchema;
use serde::Serialize;

use crate::arima::Criteria;

/// An information criterion of a ranking.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
pub enum RankingCriterion {
    /// Akaike's, corrected for short series.
    #[serde(rename = "AICc")]
    Aicc,
    /// Akaike's.
    #[serde(rename = "AIC")]
    Aic,
    /// Schwarz's.
    #[serde(rename = "BIC")]
    Bic,
    /// That of Hannan and Quinn.
    #[serde(rename = "HQ")]
    Hq,
}

impl RankingCriterion {
    /// Its value; infinite where it does not exist.
    pub fn value(self, criteria: &Criteria) -> f64 {
        self.known(criteria).unwrap_or(f64::INFINITY)
    }

    /// Its value, where it exists.
    pub fn known(self, criteria: &Criteria) -> Option<f64> {
        match self {
            Self::Aicc => criteria.aicc,
            Self::Aic => Some(criteria.aic),
            Self::Bic => Some(criteria.bic),
            Self::Hq => Some(criteria.hq),
        }
    }

    /// As it is written.
    pub fn name(self) -> &'static str {
        match self {
            Self::Aicc => "AICc",
            Self::Aic => "AIC",
            Self::Bic => "BIC",
            Self::Hq => "HQ",
        }
    }
}
