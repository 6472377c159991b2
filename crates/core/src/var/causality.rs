//! Tests of Granger causality.

use nalgebra::{DMatrix, DVector};

use super::column::SystemColumn;
use super::design::VarInput;
use super::error::VarError;
use super::estimate::{Var, estimate};
use crate::num::{chi_squared, fisher};

/// Whether the past of some series helps to predict others.
#[derive(Debug, Clone, PartialEq)]
pub struct Causality {
    /// The order whose lags are tested.
    pub lags: usize,
    /// Lags added for integrated series and not tested.
    pub augmented: usize,
    /// Each series on each other.
    pub pairs: Vec<Influence>,
    /// All other series together on each.
    pub blocks: Vec<Influence>,
}

/// One hypothesis of no Granger causality.
#[derive(Debug, Clone, PartialEq)]
pub struct Influence {
    /// Places of the series whose past is tested.
    pub causes: Vec<usize>,
    /// Place of the series they may help to predict.
    pub effect: usize,
    /// Wald statistic over its number of coefficients.
    pub f: f64,
    /// Coefficients tested.
    pub df1: usize,
    /// Residual degrees of freedom of the equation.
    pub df2: usize,
    /// p-value of the F.
    pub p_value: f64,
    /// Wald statistic.
    pub chi2: f64,
    /// Its p-value.
    pub p_chi2: f64,
}

/// Tests of no Granger causality at order `lags`, with `augmented` lags more in the system.
///
/// # Formula
/// `W = (R b)ᵀ [R V Rᵀ]⁻¹ R b` of the coefficients of lags `1..=lags`, V the classical covariance;
/// `F = W/q`. With integrated series the usual distributions hold if as many lags are added,
/// untested, as the highest order of integration.
///
/// # Errors
/// [`VarError`].
///
/// # References
/// Granger (1969), *Econometrica* 37, 424-438; Toda and Yamamoto (1995), *Journal of
/// Econometrics* 66, 225-250.
pub fn causality(input: VarInput<'_>, lags: usize, augmented: usize) -> Result<Causality, VarError> {
    let fit = estimate(input, lags + augmented)?;
    let k = input.series.len();
    let mut pairs = Vec::new();
    let mut blocks = Vec::new();
    for effect in 0..k {
        let others: Vec<usize> = (0..k).filter(|place| *place != effect).collect();
        pairs.extend(others.iter().filter_map(|cause| influence(&fit, lags, &[*cause], effect)));
        blocks.extend(influence(&fit, lags, &others, effect));
    }
    Ok(Causality { lags, augmented, pairs, blocks })
}

fn influence(fit: &Var, lags: usize, causes: &[usize], effect: usize) -> Option<Influence> {
    let is_tested = |place: &usize| match fit.columns[*place] {
        SystemColumn::Lag { series, lag } => causes.contains(&series) && lag <= lags,
        _ => false,
    };
    let places: Vec<usize> = (0..fit.columns.len()).filter(is_tested).collect();
    let df1 = places.len();
    let df2 = fit.rows - fit.columns.len();
    let variance = fit.covariance[(effect, effect)];
    let covariance = DMatrix::from_fn(df1, df1, |i, j| variance * fit.inverse[(places[i], places[j])]);
    let tested = DVector::from_fn(df1, |i, _| fit.coefficients[(places[i], effect)]);
    let chi2 = tested.dot(&covariance.cholesky()?.solve(&tested));
    let f = chi2 / df1 as f64;
    Some(Influence {
        causes: causes.to_vec(),
        effect,
        f,
        df1,
        df2,
        p_value: fisher::survival(f, df1 as f64, df2 as f64)?,
        chi2,
        p_chi2: chi_squared::survival(chi2, df1)?,
    })
}
