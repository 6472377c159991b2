//! Robust covariance matrices of coefficients.

use std::fmt;
use std::str::FromStr;

use nalgebra::DMatrix;
use schemars::JsonSchema;
use serde::Serialize;

use super::error::RegressionError;
use super::solve::LeastSquares;

/// How standard errors are computed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, JsonSchema, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum ErrorKind {
    /// Homoskedasticity, no autocorrelation.
    #[default]
    Classical,
    /// Heteroskedasticity (White 1980).
    Hc0,
    /// The same times n/(n-k).
    Hc1,
    /// The same with leverage allowed for (`MacKinnon` and White 1985).
    Hc3,
    /// Heteroskedasticity and autocorrelation up to that number of lags (Newey and West 1987).
    NeweyWest(usize),
}

impl fmt::Display for ErrorKind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Classical => f.write_str("classical"),
            Self::Hc0 => f.write_str("hc0"),
            Self::Hc1 => f.write_str("hc1"),
            Self::Hc3 => f.write_str("hc3"),
            Self::NeweyWest(lags) => write!(f, "newey-west={lags}"),
        }
    }
}

impl FromStr for ErrorKind {
    type Err = ErrorKindError;

    fn from_str(text: &str) -> Result<Self, ErrorKindError> {
        let known = [Self::Classical, Self::Hc0, Self::Hc1, Self::Hc3];
        let lags = || text.strip_prefix("newey-west=").and_then(|lags| lags.parse().ok());
        let named = known.into_iter().find(|kind| kind.to_string() == text);
        named.or_else(|| lags().map(Self::NeweyWest)).ok_or(ErrorKindError)
    }
}

/// The text names no kind.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("write classical, hc0, hc1, hc3, newey-west or newey-west=4")]
pub struct ErrorKindError;

/// Values closer to one than this are one.
const FULL: f64 = 1e-10;

/// A robust error this small relative to the classical one is what rounding left of zero.
const NO_SPREAD: f64 = 1e-10;

/// The covariance matrix of the coefficients of the scaled columns.
///
/// # Formula
/// `(XᵀX)⁻¹ M (XᵀX)⁻¹` with `M = s² XᵀX`, `Σ e² x xᵀ` (HC0), that times n/(n-k) (HC1),
/// `Σ (e/(1-h))² x xᵀ` (HC3), or `n/(n-k) [Γ₀ + Σ (1 - j/(L+1)) (Γ_j + Γ_jᵀ)]`,
/// `Γ_j = Σ e_t e_{t-j} x_t x_{t-j}ᵀ`.
pub(super) fn covariance(solved: &LeastSquares, kind: ErrorKind) -> Result<DMatrix<f64>, RegressionError> {
    let (rows, count) = solved.scaled.shape();
    let e = &solved.residuals;
    let degrees = (rows - count) as f64;
    let inflation = rows as f64 / degrees;
    let squares: f64 = e.iter().map(|e| e * e).sum();
    let sandwich = |middle: DMatrix<f64>| &solved.inverse * middle * &solved.inverse;
    let weighted = |weights: Vec<f64>| {
        let scores = scores(&solved.scaled, &weights);
        scores.transpose() * &scores
    };
    let classical = &solved.inverse * (squares / degrees);
    let robust = match kind {
        ErrorKind::Classical => return Ok(classical),
        ErrorKind::Hc0 => sandwich(weighted(e.clone())),
        ErrorKind::Hc1 => sandwich(weighted(e.clone())) * inflation,
        ErrorKind::Hc3 => sandwich(weighted(without_leverage(solved)?)),
        ErrorKind::NeweyWest(lags) => {
            let scores = scores(&solved.scaled, e);
            let mut middle = scores.transpose() * &scores;
            for lag in 1..=lags.min(rows - 1) {
                let weight = 1.0 - lag as f64 / (lags as f64 + 1.0);
                let (late, early) = (scores.rows(lag, rows - lag), scores.rows(0, rows - lag));
                let product = late.transpose() * early;
                middle += (&product + product.transpose()) * weight;
            }
            sandwich(middle) * inflation
        }
    };
    let least = |column: usize| NO_SPREAD * NO_SPREAD * classical[(column, column)];
    match (0..count).find(|column| robust[(*column, *column)] <= least(*column)) {
        Some(column) => Err(RegressionError::NoSpread { column }),
        None => Ok(robust),
    }
}

/// Rows of X times their weights.
fn scores(scaled: &DMatrix<f64>, weights: &[f64]) -> DMatrix<f64> {
    DMatrix::from_fn(scaled.nrows(), scaled.ncols(), |t, j| weights[t] * scaled[(t, j)])
}

fn without_leverage(solved: &LeastSquares) -> Result<Vec<f64>, RegressionError> {
    let leverage = solved.directions.row_iter().map(|row| row.norm_squared());
    let each = solved.residuals.iter().zip(leverage).enumerate().map(|(place, (e, h))| {
        if 1.0 - h < FULL { Err(RegressionError::FullLeverage { place }) } else { Ok(e / (1.0 - h)) }
    });
    each.collect()
}
