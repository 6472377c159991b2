//! Each step applied to a column.

use super::cells::{Cell, Undefined, logarithm, power, quotient};
use super::evaluate_error::EvaluateError;
use crate::boxcox;
use crate::expr::Step;
use crate::num::scale;
use crate::series::{Frame, Span};
use crate::time::{Frequency, Period};

/// What a step needs to know with the cells.
#[derive(Clone, Copy)]
pub(super) struct Setting<'a> {
    pub frame: &'a Frame,
    /// Steps that estimate something use these periods only.
    pub sample: Span,
}

/// The average year has that number of days.
const DAYS_OF_A_YEAR: f64 = 365.25;

/// Applies one step to all cells.
///
/// # Formula
/// As in the table of steps; `avgK` with even K takes half weights at both
/// ends, so that it is centred on a period. Estimated means, standard deviations
/// (divisor n - 1) and polynomials are those of the sample.
pub(super) fn apply(step: &Step, cells: &[Cell], setting: Setting<'_>) -> Result<Vec<Cell>, EvaluateError> {
    Ok(match step {
        Step::Ln => each(cells, logarithm),
        Step::Exp => each(cells, |v| Ok(v.exp())),
        Step::Sqrt => each(cells, |v| power(v, 0.5)),
        Step::Abs => each(cells, |v| Ok(v.abs())),
        Step::BoxCox(lambda) => each(cells, |v| logarithm(v).map(|_| boxcox::transform(v, *lambda))),
        Step::ChooseBoxCox(_) | Step::Deseason | Step::Repair => return Err(EvaluateError::Open),
        Step::Difference(lag) => with_earlier(cells, *lag, |now, then| Ok(now - then)),
        Step::Percent(lag) => with_earlier(cells, *lag, |now, then| Ok(100.0 * (quotient(now, then)? - 1.0))),
        Step::Growth(lag) => {
            let change = |now, then| Ok(100.0 * (logarithm(now)? - logarithm(then)?));
            with_earlier(cells, *lag, change)
        }
        Step::PerDay => per_calendar(cells, setting, 1.0, Period::days)?,
        Step::PerWorkday => per_calendar(cells, setting, 5.0 / 7.0, Period::workdays)?,
        Step::Per(name) => beside(cells, name, setting, quotient)?,
        Step::Real(name) => beside(cells, name, setting, |v, index| Ok(100.0 * quotient(v, index)?))?,
        Step::Index(period) => rebased(cells, period, setting)?,
        Step::Detrend(degree) => without_trend(cells, *degree, setting)?,
        Step::Average(width) => centred_average(cells, *width),
        Step::Trail(width) => windowed(cells, *width, |row| row.checked_sub(width - 1)),
        Step::Demean => {
            let (mean, _) = moments(cells, setting)?;
            each(cells, |v| Ok(v - mean))
        }
        Step::Standardize => {
            let (mean, sd) = moments(cells, setting)?;
            if sd <= 0.0 {
                return Err(EvaluateError::NoVariation);
            }
            each(cells, |v| Ok((v - mean) / sd))
        }
        Step::Cumulate => cumulated(cells),
        Step::Without(season) => without(cells, season),
        Step::Replaced(found) => replaced(cells, found),
    })
}

fn each(cells: &[Cell], function: impl Fn(f64) -> Result<f64, Undefined>) -> Vec<Cell> {
    cells.iter().enumerate().map(|(row, cell)| cell.map(row, &function)).collect()
}

fn without(cells: &[Cell], season: &[f64]) -> Vec<Cell> {
    let pairs = cells.iter().zip(season).enumerate();
    pairs.map(|(row, (cell, season))| cell.map(row, |value| Ok(value - season))).collect()
}

fn replaced(cells: &[Cell], found: &[(usize, f64)]) -> Vec<Cell> {
    let mut out = cells.to_vec();
    for (row, value) in found {
        if let Some(cell) = out.get_mut(*row) {
            *cell = Cell::Value(*value);
        }
    }
    out
}

fn with_earlier(
    cells: &[Cell],
    lag: usize,
    function: impl Fn(f64, f64) -> Result<f64, Undefined>,
) -> Vec<Cell> {
    (0..cells.len())
        .map(|row| {
            row.checked_sub(lag)
                .map_or(Cell::Missing, |earlier| cells[row].join(cells[earlier], row, &function))
        })
        .collect()
}

fn per_calendar(
    cells: &[Cell],
    setting: Setting<'_>,
    share: f64,
    count: fn(Period) -> Option<u32>,
) -> Result<Vec<Cell>, EvaluateError> {
    let frequency = setting.frame.frequency();
    let average = frequency.per_year().map(|periods| share * DAYS_OF_A_YEAR / periods);
    // A workday is one day, whichever days are counted.
    let average = average.map(|days| if frequency == Frequency::Workday { 1.0 } else { days });
    let average = average.ok_or(EvaluateError::Undated)?;
    let scaled = |(row, cell): (usize, &Cell)| {
        let days = count(setting.frame.period(row)).map_or(0.0, f64::from);
        cell.map(row, |value| Ok(quotient(value, days)? * average))
    };
    Ok(cells.iter().enumerate().map(scaled).collect())
}

fn beside(
    cells: &[Cell],
    name: &str,
    setting: Setting<'_>,
    function: impl Fn(f64, f64) -> Result<f64, Undefined>,
) -> Result<Vec<Cell>, EvaluateError> {
    let column = setting.frame.column(name).ok_or_else(|| EvaluateError::UnknownColumn(name.to_owned()))?;
    let other = column.cells.iter().map(|cell| cell.map_or(Cell::Missing, Cell::Value));
    let pairs = cells.iter().zip(other).enumerate();
    Ok(pairs.map(|(row, (cell, other))| cell.join(other, row, &function)).collect())
}

fn rebased(cells: &[Cell], period: &str, setting: Setting<'_>) -> Result<Vec<Cell>, EvaluateError> {
    let no_base = || EvaluateError::NoBase { period: period.to_owned() };
    let range = Period::parse_range(period, setting.frame.frequency()).map_err(|_| no_base())?;
    let inside = |row: &usize| (range.0..=range.1).contains(&setting.frame.period(*row));
    let base: Vec<f64> = (0..cells.len()).filter(inside).filter_map(|row| cells[row].value()).collect();
    if base.is_empty() {
        return Err(no_base());
    }
    let mean = scale::mean(&base);
    Ok(each(cells, |v| Ok(100.0 * quotient(v, mean)?)))
}

/// Rows of the sample with a known value, and these values.
fn known(cells: &[Cell], setting: Setting<'_>) -> Vec<(usize, f64)> {
    let inside = |row: &usize| setting.sample.holds(setting.frame.period(*row));
    (0..cells.len()).filter(inside).filter_map(|row| cells[row].value().map(|value| (row, value))).collect()
}

fn moments(cells: &[Cell], setting: Setting<'_>) -> Result<(f64, f64), EvaluateError> {
    let values: Vec<f64> = known(cells, setting).into_iter().map(|(_, value)| value).collect();
    if values.len() < 2 {
        return Err(EvaluateError::TooFew { needed: 2 });
    }
    let mean = scale::mean(&values);
    let squares: f64 = values.iter().map(|v| (v - mean).powi(2)).sum();
    Ok((mean, (squares / (values.len() as f64 - 1.0)).sqrt()))
}

/// Residuals from a polynomial in time, by orthogonal polynomials on the rows of
/// the sample, which stay well conditioned at any degree.
fn without_trend(cells: &[Cell], degree: usize, setting: Setting<'_>) -> Result<Vec<Cell>, EvaluateError> {
    let known = known(cells, setting);
    if known.len() < degree + 2 {
        return Err(EvaluateError::TooFew { needed: degree + 2 });
    }
    let rows: Vec<f64> = known.iter().map(|(row, _)| *row as f64).collect();
    let (first, last) = (rows[0], rows[rows.len() - 1]);
    let clock = |row: f64| (2.0 * row - first - last) / (last - first).max(1.0);
    let all: Vec<f64> = (0..cells.len()).map(|row| clock(row as f64)).collect();
    let inside = |values: &[f64]| -> Vec<f64> { known.iter().map(|(row, _)| values[*row]).collect() };
    let mut residual: Vec<f64> = known.iter().map(|(_, value)| *value).collect();
    let mut trend = vec![0.0; cells.len()];
    let mut basis: Vec<Vec<f64>> = Vec::new();
    for power in 0..=degree {
        let raw: Vec<f64> = match power {
            0 => vec![1.0; all.len()],
            _ => all.iter().zip(&basis[power - 1]).map(|(x, before)| x * before).collect(),
        };
        let column = orthogonal(raw, &basis, &inside);
        let own = inside(&column);
        let share = product(&own, &residual) / product(&own, &own);
        for (value, x) in residual.iter_mut().zip(&own) {
            *value -= share * x;
        }
        for (value, x) in trend.iter_mut().zip(&column) {
            *value += share * x;
        }
        basis.push(column);
    }
    let pairs = cells.iter().zip(trend).enumerate();
    Ok(pairs.map(|(row, (cell, trend))| cell.map(row, |value| Ok(value - trend))).collect())
}

/// A column less its parts along the earlier ones, measured on the sample.
fn orthogonal(mut column: Vec<f64>, basis: &[Vec<f64>], inside: &impl Fn(&[f64]) -> Vec<f64>) -> Vec<f64> {
    for before in basis {
        let own = inside(before);
        let share = product(&inside(&column), &own) / product(&own, &own);
        for (value, x) in column.iter_mut().zip(before) {
            *value -= share * x;
        }
    }
    column
}

fn product(a: &[f64], b: &[f64]) -> f64 {
    a.iter().zip(b).map(|(x, y)| x * y).sum()
}

/// Means of `width` cells from the first row that `start` gives for each row.
fn windowed(cells: &[Cell], width: usize, start: impl Fn(usize) -> Option<usize>) -> Vec<Cell> {
    (0..cells.len())
        .map(|row| {
            let window = start(row).and_then(|first| cells.get(first..first + width));
            window.map_or(Cell::Missing, |window| {
                let sum =
                    window.iter().fold(Cell::Value(0.0), |sum, cell| sum.join(*cell, row, |a, b| Ok(a + b)));
                sum.map(row, |sum| Ok(sum / width as f64))
            })
        })
        .collect()
}

fn centred_average(cells: &[Cell], width: usize) -> Vec<Cell> {
    let half = width / 2;
    if width % 2 == 1 {
        return windowed(cells, width, |row| row.checked_sub(half));
    }
    // The mean of the two windows that lean either way.
    let early = windowed(cells, width, |row| row.checked_sub(half));
    let late = windowed(cells, width, |row| (row + 1).checked_sub(half));
    let pairs = early.iter().zip(late).enumerate();
    pairs.map(|(row, (a, b))| a.join(b, row, |a, b| Ok(0.5 * (a + b)))).collect()
}

/// Sums from the first known value on; a missing one ends them.
fn cumulated(cells: &[Cell]) -> Vec<Cell> {
    let mut sum: Option<Cell> = None;
    cells
        .iter()
        .enumerate()
        .map(|(row, cell)| {
            let now = match sum {
                None => *cell,
                Some(before) => before.join(*cell, row, |a, b| Ok(a + b)),
            };
            if sum.is_some() || cell.value().is_some() {
                sum = Some(now);
            }
            now
        })
        .collect()
}
