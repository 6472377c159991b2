use kandrel_core::arima::{Candidate, Criteria, Data, Grid, chosen};

use super::regressors::Regressors;

/// By which candidates are ranked.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum By {
    /// Akaike's, corrected for short series
    Aicc,
    /// Akaike's
    Aic,
    /// Schwarz's
    Bic,
    /// That of Hannan and Quinn
    Hq,
}

impl By {
    pub fn value(self, criteria: &Criteria) -> f64 {
        match self {
            Self::Aicc => criteria.aicc.unwrap_or(f64::INFINITY),
            Self::Aic => criteria.aic,
            Self::Bic => criteria.bic,
            Self::Hq => criteria.hq,
        }
    }

    pub fn name(self) -> &'static str {
        match self {
            Self::Aicc => "AICc",
            Self::Aic => "AIC",
            Self::Bic => "BIC",
            Self::Hq => "HQ",
        }
    }
}

/// How often a series is differenced, and why.
pub struct Differencing {
    pub d: usize,
    pub seasonal: usize,
    pub why: String,
}

/// The models, best first, and what they rest on.
pub struct Choice {
    pub differencing: Differencing,
    /// Those given, or those the verdict calls for.
    pub regressors: Regressors,
    pub grid: Grid,
    pub data: Data,
    pub ranked: Vec<Candidate>,
    /// Whether every model of the grid was estimated.
    pub whole: bool,
    pub criterion: By,
}

impl Choice {
    /// Models that were looked at.
    pub fn searched(&self) -> usize {
        if self.whole { self.grid.count() } else { self.ranked.len() }
    }

    /// The best that nothing speaks against, unless it is far behind the best of all.
    pub fn best(&self) -> Option<&Candidate> {
        chosen(&self.ranked, |criteria| self.criterion.value(criteria))
    }
}
