//! What candidate models are ranked by.

use crate::arima::Criteria;

/// An information criterion of a ranking.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum RankingCriterion {
    /// Akaike's, corrected for short series.
    Aicc,
    /// Akaike's.
    Aic,
    /// Schwarz's.
    Bic,
    /// That of Hannan and Quinn.
    Hq,
}

impl RankingCriterion {
    /// Its value; infinite where it does not exist.
    pub fn value(self, criteria: &Criteria) -> f64 {
        match self {
            Self::Aicc => criteria.aicc.unwrap_or(f64::INFINITY),
            Self::Aic => criteria.aic,
            Self::Bic => criteria.bic,
            Self::Hq => criteria.hq,
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
