//! The length of the simulated system that a statistic is compared with.

use super::error::CointError;
use crate::nulldist::{Quantiles, Statistic, SystemStatistic, SystemTerms};

/// Lags of the changes that were simulated, at most.
const SIMULATED_LAGS: usize = 4;

/// How large a sample a test has.
///
/// The simulated systems have walks only and lagged changes of these. What else is in the
/// equations, the relations under the null and the lagged changes that belong to them, explains
/// nothing of the walks: it takes as many rows, and the statistic in proportion.
#[derive(Debug, Clone, Copy)]
pub(super) struct Size {
    apart: usize,
    rows: usize,
    own: usize,
    /// Rows left over all rows.
    pub share: f64,
}

impl Size {
    pub fn new(rows: usize, count: usize, rank: usize, lags: usize) -> Self {
        let apart = count - rank;
        let own = apart * (lags - 1).min(SIMULATED_LAGS);
        let left = rows.saturating_sub(count * (lags - 1) + rank - own).max(1);
        Self { apart, rows: left, own, share: left as f64 / rows as f64 }
    }

    /// The null distribution of the statistic times the share, and whether it was simulated.
    pub fn distribution(
        self,
        statistic: SystemStatistic,
        terms: SystemTerms,
    ) -> Result<(Quantiles, bool), CointError> {
        let surface = Statistic::System(statistic, terms, self.apart).given().surface();
        let surface = surface.ok_or(CointError::NoDistribution)?;
        Ok((surface.at(self.rows, self.own), surface.covers(self.rows, self.own)))
    }
}
