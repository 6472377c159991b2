//! Forecasts of a transformed series, transformed back to the original scale.

use thiserror::Error;

use crate::arima::{Data, Fit, ForecastError, Known, forecast, forecast_with_estimates};
use crate::predictive::{HorizonForecast, InverseStep, Joint, Marginal, Shocks, marginals, paths, simulated};
use crate::regressor::{MissingRegressor, Regressors};
use crate::series::{Frame, Span};
use crate::time::Period;
use crate::transform::{InverseError, InverseTransform, Transformed};

/// The steps ahead of a series.
#[derive(Debug)]
pub struct Ahead {
    /// Their periods.
    pub periods: Vec<Period>,
    /// The distribution of each.
    pub marginals: Vec<Marginal>,
    /// The actual values, where the data have them.
    pub actual: Vec<Option<f64>>,
    joint: Joint,
    stages: Vec<InverseStep>,
}

/// What is forecast from.
#[derive(Debug, Clone, Copy)]
pub enum Estimates<'a> {
    /// Coefficients and variance count as known.
    Known(&'a Known),
    /// Their uncertainty widens the intervals ([`forecast_with_estimates`]).
    Uncertain(&'a Fit),
}

/// Options of a forecast.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct AheadOptions {
    /// Periods ahead.
    pub ahead: usize,
    /// On the scale of the transformed series instead of the original one.
    pub transformed: bool,
}

/// Why there is no forecast.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum AheadError {
    /// A regressor has no future value.
    #[error(transparent)]
    Regressor(#[from] MissingRegressor),
    /// The model has no forecast.
    #[error(transparent)]
    Model(#[from] ForecastError),
    /// The steps cannot be undone.
    #[error(transparent)]
    Undo(#[from] InverseError),
    /// A forecast has no number on the original scale.
    #[error("the forecasts are outside the range of the inverse transformation ({0})")]
    OutOfReach(f64),
}

impl Ahead {
    /// Each distribution in figures, with an interval for each level in per cent.
    pub fn steps(&self, levels: &[f64]) -> Vec<HorizonForecast> {
        self.marginals.iter().map(|own| HorizonForecast::of(own, levels)).collect()
    }

    /// Simulated paths of the joint distribution.
    pub fn paths(&self, count: usize, shocks: &Shocks) -> Vec<Vec<f64>> {
        paths(&self.joint, &self.stages, count, shocks)
    }

    /// The same forecasts with innovations from elsewhere: their distributions over that number of simulated paths.
    pub fn simulated(&self, count: usize, shocks: &Shocks) -> Vec<Marginal> {
        simulated(&self.joint, &self.stages, count, shocks)
    }
}

/// Forecasts a series from an estimated model. Steps that take something from the data have seen no more than the
/// series.
///
/// # Errors
/// [`AheadError`].
pub fn ahead(
    target: &Transformed,
    data: &Data,
    estimates: Estimates<'_>,
    regressors: &Regressors,
    options: AheadOptions,
) -> Result<Ahead, AheadError> {
    let (series, ahead) = (&target.series, options.ahead);
    let last = series.period(series.cells.len().saturating_sub(1));
    let (frame, origin) = extended(&target.frame, last, ahead);
    let periods: Vec<Period> = (1..=ahead).map(|h| frame.period(origin + h)).collect();
    let future = regressors.over(&periods)?;
    let joint = match estimates {
        Estimates::Known(known) => forecast(known, data, &future, ahead),
        Estimates::Uncertain(fit) => forecast_with_estimates(fit, data, &future, ahead),
    }?;
    let sample = Span { to: Some(last), ..target.span };
    let undoing = InverseTransform::new(&target.expression, &frame, sample)?;
    let stages = if options.transformed { Vec::new() } else { undoing.stages(origin, ahead)? };
    let marginals = marginals(&joint, &stages);
    if let Some(median) = marginals.iter().map(|own| own.quantile(0.5)).find(|median| !median.is_finite()) {
        return Err(AheadError::OutOfReach(median));
    }
    let own = |h: usize| {
        let row = origin + h;
        if options.transformed { undoing.value(row) } else { undoing.own_value(row) }
    };
    let actual = (1..=ahead).map(own).collect();
    Ok(Ahead { periods, marginals, actual, joint, stages })
}

/// The frame with rows enough behind a period, and the row of that period.
fn extended(frame: &Frame, last: Period, ahead: usize) -> (Frame, usize) {
    let origin = (0..frame.length).rev().find(|row| frame.period(*row) <= last).unwrap_or_default();
    (frame.extended((origin + 1 + ahead).saturating_sub(frame.length)), origin)
}
