//! Forecasts of a transformed series, carried back to its own units.

use thiserror::Error;

use crate::arima::{Data, Fit, ForecastError, Known, forecast, forecast_with_estimates};
use crate::outlook::{Joint, Stage, Step, paths, steps};
use crate::regressor::{MissingRegressor, Regressors};
use crate::series::{Frame, Span};
use crate::time::Period;
use crate::transform::{Transformed, UndoError, Undoing};

/// The steps ahead of a series.
#[derive(Debug)]
pub struct Ahead {
    /// Their periods.
    pub periods: Vec<Period>,
    /// The distribution of each.
    pub steps: Vec<Step>,
    /// The actual values, where the data have them.
    pub actual: Vec<Option<f64>>,
    joint: Joint,
    stages: Vec<Stage>,
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
    /// On the scale of the steps instead of the series' own.
    pub keep_scale: bool,
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
    Undo(#[from] UndoError),
    /// A forecast has no number in the series' own units.
    #[error("the forecasts leave what the steps can undo ({0})")]
    OutOfReach(f64),
}

impl Ahead {
    /// Simulated paths of the joint distribution.
    pub fn paths(&self, count: usize, seed: u64) -> Vec<Vec<f64>> {
        paths(&self.joint, &self.stages, count, seed)
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
    let undoing = Undoing::new(&target.expression, &frame, sample)?;
    let stages = if options.keep_scale { Vec::new() } else { undoing.stages(origin, ahead)? };
    let steps = steps(&joint, &stages);
    if let Some(step) = steps.iter().find(|step| !step.median.is_finite()) {
        return Err(AheadError::OutOfReach(step.median));
    }
    let own = |h: usize| {
        let row = origin + h;
        if options.keep_scale { undoing.value(row) } else { undoing.own_value(row) }
    };
    let actual = (1..=ahead).map(own).collect();
    Ok(Ahead { periods, steps, actual, joint, stages })
}

/// The frame with rows enough behind a period, and the row of that period.
fn extended(frame: &Frame, last: Period, ahead: usize) -> (Frame, usize) {
    let origin = (0..frame.length).rev().find(|row| frame.period(*row) <= last).unwrap_or_default();
    (frame.extended((origin + 1 + ahead).saturating_sub(frame.length)), origin)
}
