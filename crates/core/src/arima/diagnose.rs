//! Tests of the residuals of an estimated model.

use super::fit::Fit;
use crate::corr::{self, AcfOptions};
use crate::randomness::{Cut, Outcome, default_portmanteau_lags, jarque_bera, mcleod_li, runs};

/// What the residuals of a model say.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Diagnosis {
    /// Lags of the portmanteau tests.
    pub lags: usize,
    /// Degrees of freedom of Ljung-Box: lags less coefficients.
    pub degrees: usize,
    /// Ljung-Box, degrees of freedom reduced by the coefficients; none if they leave none.
    pub ljung_box: Option<Outcome>,
    /// Runs about zero.
    pub runs: Option<Outcome>,
    /// Jarque-Bera.
    pub jarque_bera: Option<Outcome>,
    /// `McLeod` and Li: dependence in the squares.
    pub mcleod_li: Option<Outcome>,
}

/// Tests whether the residuals of a model are white noise; the season is the model's own, or the
/// one given where it has none.
///
/// # Source
/// Ljung, G. M. and Box, G. E. P. (1978), Biometrika 65, 297-303, and those of the other tests.
pub fn diagnose(fit: &Fit, season: usize) -> Diagnosis {
    let season = if fit.model.season > 1 { fit.model.season } else { season };
    let coefficients = fit.model.coefficients();
    let usual = default_portmanteau_lags(fit.residuals.len(), season);
    // A few degrees of freedom must be left.
    let lags = usual.max(coefficients + 3).min(fit.residuals.len().saturating_sub(1)).max(1);
    let options = AcfOptions { lags: Some(lags), fitted: coefficients, season, ..AcfOptions::default() };
    let ljung_box = corr::acf(&fit.residuals, &options).ok().and_then(|acf| {
        let last = acf.lags.last()?;
        Some(Outcome { statistic: last.q, p_value: last.p_value? })
    });
    Diagnosis {
        lags,
        degrees: lags.saturating_sub(coefficients),
        ljung_box,
        runs: runs(&fit.residuals, Cut::Value(0.0)).ok().map(|runs| runs.outcome),
        jarque_bera: jarque_bera(&fit.residuals).ok().map(|(outcome, _, _)| outcome),
        mcleod_li: mcleod_li(&fit.residuals, lags).ok(),
    }
}
