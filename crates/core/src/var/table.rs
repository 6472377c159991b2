//! The table of lag orders with their criteria.

use std::f64::consts::PI;

use nalgebra::DMatrix;
use schemars::JsonSchema;
use serde::Serialize;

use super::design::{Design, LagTerms, VarInput};
use super::error::VarError;
use crate::lag::Criterion;
use crate::num::chi_squared;

/// Residual degrees of freedom that the largest regression must keep.
const DEGREES_KEPT: usize = 4;
/// A share of the rows beyond which coefficients are not searched by default.
const DEFAULT_SHARE: usize = 3;
/// A part of a column below this share of it is rounding.
const NO_ERROR: f64 = 1e-11;
/// The sequence of likelihood ratios is tested at this level.
const LEVEL: f64 = 0.05;

/// All lag orders of one system on one sample.
#[derive(Debug, Clone, PartialEq)]
pub struct LagTable {
    /// Fixed terms.
    pub terms: LagTerms,
    /// The largest order.
    pub most: usize,
    /// Rows: the sample that the largest order leaves.
    pub rows_used: usize,
    /// Coefficients of each equation at the largest order.
    pub most_coefficients: usize,
    /// Orders 0, 1, ….
    pub rows: Vec<LagRow>,
    /// The best by each measure.
    pub chosen: ChosenLags,
}

/// One order.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct LagRow {
    /// The order.
    pub lag: usize,
    /// The full Gaussian log-likelihood at its maximum.
    pub log_likelihood: f64,
    /// Likelihood ratio against one lag less.
    pub lr: Option<f64>,
    /// Its degrees of freedom.
    pub df: Option<usize>,
    /// Its p-value.
    pub p_value: Option<f64>,
    /// Final prediction error; none where it is beyond the range of numbers.
    pub fpe: Option<f64>,
    /// Its logarithm, which is within it always.
    pub log_fpe: f64,
    /// Akaike's criterion, as a total.
    pub aic: f64,
    /// That of Hannan and Quinn.
    pub hq: f64,
    /// Schwarz's.
    pub bic: f64,
}

/// Orders by each measure.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
pub struct ChosenLags {
    /// From the largest down, the first whose likelihood ratio rejects at 5 %.
    pub lr: usize,
    /// Smallest final prediction error.
    pub fpe: usize,
    /// Smallest AIC.
    pub aic: usize,
    /// Smallest HQ.
    pub hq: usize,
    /// Smallest BIC.
    pub bic: usize,
}

/// The default largest order: `wanted` by the frequency, but no more coefficients in an equation
/// than a third of the rows, and one lag at least where the sample bears it.
///
/// # Errors
/// [`VarError`]: a series is unusable.
pub fn default_most_lags(input: VarInput<'_>, wanted: usize) -> Result<usize, VarError> {
    let design = Design::new(input)?;
    let largest = design.largest(DEGREES_KEPT).unwrap_or(0);
    let coefficients = |lags: usize| design.fixed() + lags * design.equations();
    let modest = |lags: &usize| DEFAULT_SHARE * coefficients(*lags) <= design.observations - lags;
    Ok((1..=wanted.min(largest)).rev().find(modest).unwrap_or(1.min(largest)))
}

/// Log-likelihood, likelihood ratio and criteria of the orders `0..=most`.
///
/// # Formula
/// On the rows t = P+1..n, K equations, m coefficients in each:
/// `log L = -(T K/2)(1 + ln 2π) - (T/2) ln|Σ̂|`, `LR = T (ln|Σ̂_{p-1}| - ln|Σ̂_p|)` with K² degrees
/// of freedom, `FPE = ((T+m)/(T-m))^K |Σ̂|`; criteria are totals with `K m + K(K+1)/2` parameters.
///
/// # Errors
/// [`VarError`]: unusable or collinear columns, too many lags, a series without error.
///
/// # Numerics
/// One Householder factorisation of the largest regression, `2 T (K(P+1))²`; the residual
/// cross-products of every smaller order are sums over more of its rows.
///
/// # References
/// Akaike (1969), *Annals of the Institute of Statistical Mathematics* 21, 243-247;
/// Lütkepohl (2005), *New Introduction to Multiple Time Series Analysis*, chapter 4.
pub fn lag_table(input: VarInput<'_>, most: usize) -> Result<LagTable, VarError> {
    let design = Design::new(input)?;
    let observations = design.observations;
    let (k, fixed) = (design.equations(), design.fixed());
    let largest = design.largest(DEGREES_KEPT);
    let largest = largest.ok_or(VarError::TooShort { observations, needed: fixed + DEGREES_KEPT + k + 1 })?;
    if most > largest {
        return Err(VarError::TooManyLags { lags: most, most: largest, observations });
    }
    let mut factor = design.factor(most, most);
    design.check(&mut factor)?;
    let rows_used = factor.rows();
    let determinants = log_determinants(factor.triangle(), rows_used, [fixed, k, most])?;
    let shift = 2.0 * design.log_units();
    let mut rows: Vec<LagRow> = Vec::with_capacity(most + 1);
    for (lag, determinant) in determinants.iter().enumerate() {
        rows.push(row(lag, determinant + shift, rows.last(), [k, fixed + k * lag, rows_used]));
    }
    let chosen = chosen(&rows);
    Ok(LagTable { terms: input.terms, most, rows_used, most_coefficients: fixed + k * most, rows, chosen })
}

fn row(lag: usize, determinant: f64, before: Option<&LagRow>, [k, m, rows]: [usize; 3]) -> LagRow {
    let (n, equations) = (rows as f64, k as f64);
    let log_likelihood = -0.5 * n * (equations * (1.0 + (2.0 * PI).ln()) + determinant);
    let parameters = k * m + k * (k + 1) / 2;
    let lr = before.map(|before| (2.0 * (log_likelihood - before.log_likelihood)).max(0.0));
    let value = |criterion: Criterion| criterion.value(log_likelihood, parameters, rows);
    let coefficients = m as f64;
    let log_fpe = equations * ((n + coefficients) / (n - coefficients)).ln() + determinant;
    LagRow {
        lag,
        log_likelihood,
        lr,
        df: before.map(|_| k * k),
        p_value: lr.and_then(|lr| chi_squared::survival(lr, k * k)),
        fpe: Some(log_fpe.exp()).filter(|fpe| fpe.is_normal()),
        log_fpe,
        aic: value(Criterion::Aic),
        hq: value(Criterion::Hq),
        bic: value(Criterion::Bic),
    }
}

fn chosen(rows: &[LagRow]) -> ChosenLags {
    let least =
        |of: fn(&LagRow) -> f64| rows.iter().min_by(|a, b| of(a).total_cmp(&of(b))).map_or(0, |row| row.lag);
    let rejects = |row: &&LagRow| row.p_value.is_some_and(|p| p <= LEVEL);
    ChosenLags {
        lr: rows.iter().rev().find(rejects).map_or(0, |row| row.lag),
        fpe: least(|row| row.log_fpe),
        aic: least(|row| row.aic),
        hq: least(|row| row.hq),
        bic: least(|row| row.bic),
    }
}

/// `ln|Σ̂_p|` for p = 0..=most, of the scaled series.
fn log_determinants(
    triangle: &DMatrix<f64>,
    rows_used: usize,
    [fixed, k, most]: [usize; 3],
) -> Result<Vec<f64>, VarError> {
    let first = fixed + k * most;
    let lowest = triangle.view((first, first), (k, k)).into_owned();
    for series in 0..k {
        // What neither the lags nor the series before it explain, against the whole column.
        let own = lowest[(series, series)].abs();
        let has_error = own > NO_ERROR * triangle.column(first + series).norm();
        if !has_error {
            return Err(VarError::PerfectFit { series });
        }
    }
    let mut products = lowest.transpose() * &lowest;
    let mut all = Vec::with_capacity(most + 1);
    for lag in (0..=most).rev() {
        if lag < most {
            let more = triangle.view((fixed + k * lag, first), (k, k));
            products += more.transpose() * more;
        }
        let factor = products.clone().cholesky().ok_or(VarError::PerfectFit { series: k - 1 })?;
        let half: f64 = factor.l_dirty().diagonal().iter().map(|d| d.ln()).sum();
        all.push(2.0 * half - k as f64 * (rows_used as f64).ln());
    }
    all.reverse();
    Ok(all)
}
