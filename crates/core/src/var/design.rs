//! The regressors of a vector autoregression.

use schemars::JsonSchema;
use serde::Serialize;

use super::column::SystemColumn;
use super::error::VarError;
use crate::num::scale::{self, Scale};
use crate::num::triangular::TriangularFactor;
use crate::ols::dependent_column;

/// What is in every equation with the lags.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum LagTerms {
    /// Nothing.
    None,
    /// A constant.
    #[default]
    Constant,
    /// A constant and a linear trend.
    Trend,
    /// A constant and seasonal dummies.
    Seasonal,
}

/// The data of a system.
#[derive(Debug, Clone, Copy)]
pub struct VarInput<'a> {
    /// The series, each of the same length, without gaps.
    pub series: &'a [&'a [f64]],
    /// Columns that are in every equation with their own period's value.
    pub exogenous: &'a [&'a [f64]],
    /// Fixed terms.
    pub terms: LagTerms,
    /// Observations in a season, for seasonal terms.
    pub season: usize,
}

/// Columns centred (with a constant) and scaled.
pub(crate) struct Design<'a> {
    pub input: VarInput<'a>,
    pub scales: Vec<Scale>,
    exogenous: Vec<Scale>,
    pub observations: usize,
}

impl<'a> Design<'a> {
    pub fn new(input: VarInput<'a>) -> Result<Self, VarError> {
        let centred = input.terms != LagTerms::None;
        let scale_of = |(place, values): (usize, &&[f64])| {
            scale::check(values).map_err(|reason| VarError::unusable(place, reason))?;
            Ok(Scale::of(values, centred))
        };
        let count = input.series.len();
        let scales = input.series.iter().enumerate().map(scale_of).collect::<Result<_, VarError>>()?;
        let exogenous =
            input.exogenous.iter().enumerate().map(|(place, values)| scale_of((count + place, values)));
        let exogenous = exogenous.collect::<Result<_, VarError>>()?;
        let lengths = input.series.iter().chain(input.exogenous).map(|values| values.len());
        Ok(Self { input, scales, exogenous, observations: lengths.min().unwrap_or(0) })
    }

    pub fn equations(&self) -> usize {
        self.input.series.len()
    }

    /// Columns before the lags.
    pub fn fixed(&self) -> usize {
        let terms = match self.input.terms {
            LagTerms::None => 0,
            LagTerms::Constant => 1,
            LagTerms::Trend => 2,
            LagTerms::Seasonal => self.input.season.max(1),
        };
        terms + self.input.exogenous.len()
    }

    /// The most lags that leave `degrees` residual degrees of freedom in each equation:
    /// `n - P` rows and `fixed + K P` coefficients.
    pub fn largest(&self, degrees: usize) -> Option<usize> {
        let free = self.observations.checked_sub(self.fixed() + degrees)?;
        Some(free / (self.equations() + 1))
    }

    pub fn value(&self, series: usize, t: usize) -> f64 {
        self.scales[series].apply(self.input.series[series][t])
    }

    /// Regressors of period `t`, then the values themselves.
    pub fn row(&self, t: usize, lags: usize) -> impl Iterator<Item = f64> + '_ {
        let count = self.equations();
        let past = (1..=lags).flat_map(move |lag| (0..count).map(move |series| (series, lag)));
        self.fixed_row(t)
            .chain(past.map(move |(series, lag)| self.value(series, t - lag)))
            .chain((0..count).map(move |series| self.value(series, t)))
    }

    fn fixed_row(&self, t: usize) -> impl Iterator<Item = f64> + '_ {
        let (terms, season) = (self.input.terms, self.input.season);
        let n = self.observations as f64;
        let constant = (terms != LagTerms::None).then_some(1.0);
        let trend = (terms == LagTerms::Trend).then(|| (t as f64 + 0.5 - 0.5 * n) / n);
        let places = if terms == LagTerms::Seasonal { 1..season.max(1) } else { 0..0 };
        // Centred, so that the constant keeps its meaning.
        let dummies = places
            .map(move |place| f64::from(u8::from(t % season.max(1) == place)) - 1.0 / season.max(1) as f64);
        let exogenous = self.input.exogenous.iter().zip(&self.exogenous);
        let exogenous = exogenous.map(move |(values, scale)| scale.apply(values[t]));
        constant.into_iter().chain(trend).chain(dummies).chain(exogenous)
    }

    /// What a column of the regressors is.
    pub fn column(&self, place: usize) -> SystemColumn {
        let fixed = self.fixed();
        let exogenous = fixed - self.input.exogenous.len();
        match place {
            _ if place >= fixed => {
                let (lag, series) = ((place - fixed) / self.equations(), (place - fixed) % self.equations());
                SystemColumn::Lag { series, lag: lag + 1 }
            }
            _ if place >= exogenous => SystemColumn::Exogenous(place - exogenous),
            0 => SystemColumn::Constant,
            _ if self.input.terms == LagTerms::Trend => SystemColumn::Trend,
            _ => SystemColumn::Season(place + 1),
        }
    }

    /// The factor with `lags` lags on the rows that `reserved` lags leave.
    pub fn factor(&self, lags: usize, reserved: usize) -> TriangularFactor {
        let mut factor = TriangularFactor::new(self.fixed() + (lags + 1) * self.equations());
        for t in reserved..self.observations {
            factor.push_row(self.row(t, lags));
        }
        factor
    }

    /// Refuses a factor whose regressors are collinear.
    pub fn check(&self, factor: &mut TriangularFactor) -> Result<(), VarError> {
        let regressors = factor.columns() - self.equations();
        match dependent_column(factor.triangle(), regressors) {
            None => Ok(()),
            Some(place) => Err(VarError::Collinear { column: self.column(place) }),
        }
    }

    /// Sum of the logarithms of the units: what scaling took from half a log-determinant.
    pub fn log_units(&self) -> f64 {
        self.scales.iter().map(|scale| scale.unit.ln()).sum()
    }
}
