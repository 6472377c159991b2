//! Forecasts of a target in its own units.

use kandrel_core::arima::{Data, Known, forecast};
use kandrel_core::expr::{UndoError, Undoing};
use kandrel_core::outlook::{Joint, Stage, Step, paths, steps};
use kandrel_core::series::{Frame, SeriesWithGaps, Span};
use kandrel_core::time::Period;

use crate::args::Target;
use crate::error::CliError;
use crate::model::Regressors;

/// The steps ahead of a series.
pub struct Ahead {
    pub periods: Vec<Period>,
    pub steps: Vec<Step>,
    /// What came to be, where the data know it.
    pub actual: Vec<Option<f64>>,
    joint: Joint,
    stages: Vec<Stage>,
}

impl Ahead {
    /// So many drawn paths.
    pub fn paths(&self, count: usize, seed: u64) -> Vec<Vec<f64>> {
        paths(&self.joint, &self.stages, count, seed)
    }
}

/// Foretells a target from a model.
pub fn foretell(
    target: &Target,
    data: &Data,
    known: &Known,
    regressors: &Regressors,
    ahead: usize,
    keep_scale: bool,
) -> Result<Ahead, CliError> {
    let series = &target.series;
    let last = series.period(series.cells.len().saturating_sub(1));
    let (frame, origin) = extended(&target.frame, last, ahead);
    let periods: Vec<Period> = (1..=ahead).map(|h| frame.period(origin + h)).collect();
    let future = regressors.over(&periods)?;
    let failed = |error: &dyn std::fmt::Display| CliError::computation(format!("{}: {error}", series.name));
    let joint = forecast(known, data, &future, ahead).map_err(|error| failed(&error))?;
    // Steps that estimate something have seen no more than the series.
    let sample = Span { to: Some(last), ..target.span };
    let undoing =
        Undoing::new(&target.expression, &frame, sample).map_err(|error| refusal(series, &error))?;
    let stages = if keep_scale {
        Vec::new()
    } else {
        undoing.stages(origin, ahead).map_err(|error| refusal(series, &error))?
    };
    let steps = steps(&joint, &stages);
    if let Some(step) = steps.iter().find(|step| !step.median.is_finite()) {
        return Err(failed(&format!("the forecasts leave what the steps can undo ({})", step.median))
            .advise("take another transformation, or stay on its scale with --keep-scale"));
    }
    let own = |h: usize| {
        let row = origin + h;
        if keep_scale { undoing.value(row) } else { undoing.own_value(row) }
    };
    Ok(Ahead { actual: (1..=ahead).map(own).collect(), periods, steps, joint, stages })
}

/// The frame with rows enough behind a period, and the row of that period.
fn extended(frame: &Frame, last: Period, ahead: usize) -> (Frame, usize) {
    let origin = (0..frame.length).rev().find(|row| frame.period(*row) <= last).unwrap_or_default();
    (frame.extended((origin + 1 + ahead).saturating_sub(frame.length)), origin)
}

fn refusal(series: &SeriesWithGaps, error: &UndoError) -> CliError {
    let at = format!("{}: forecasts cannot be carried back to its own units", series.name);
    match error {
        UndoError::Lossy(_) => CliError::call(format!("{at}: {error}"))
            .advise("leave the step out, or stay on its scale with --keep-scale"),
        UndoError::Missing(_) => CliError::data(format!("{at}: {error}")).advise(
            "fill the gap with --gaps, take the difference in the model instead of a step, or give --keep-scale",
        ),
        UndoError::Future { .. } => CliError::data(format!("{at}: {error}"))
            .advise("give future values with --future FILE, or stay on its scale with --keep-scale"),
        UndoError::Evaluate(_) => CliError::data(format!("{at}: {error}")),
    }
}
