//! The value of an expression in every period.

use super::apply::{Setting, apply};
use super::cells::{Cell, Undefined, UndefinedOperation, power, quotient};
use super::evaluate_error::EvaluateError;
use crate::expr::Expression;
use crate::expr::{Node, NodeKind, Operator};
use crate::series::{Frame, Lost, Series, SeriesError, SeriesWithGaps, Span};
use crate::time::Period;

/// The series of an expression, on the periods of `sample`.
///
/// Lags, differences and averages reach back before the sample; steps that
/// estimate something use the sample only. Missing ends are trimmed; missing
/// values inside are refused, named by the periods of the columns themselves.
///
/// # Errors
/// [`EvaluateError`].
pub fn evaluate(expression: &Expression, frame: &Frame, sample: Span) -> Result<Series, EvaluateError> {
    let names = expression.node.columns();
    let (rows, finished) = finished(expression, frame, sample)?;
    let extent = Extent::of(&expression.node, frame, &names, &rows);
    let gaps = extent.map(|extent| extent.gaps(frame, &names)).unwrap_or_default();
    let short = extent.is_some_and(|extent| extent.loses_an_end(&rows, &finished));
    if short && !gaps.is_empty() {
        return Err(EvaluateError::Series(SeriesError::Gaps { periods: gaps }));
    }
    let series = trimmed(expression, frame, &rows, &finished, extent)?;
    series.complete().map_err(|error| match error {
        // A value missing in a column costs a differenced series several; only
        // the columns' own ones can be repaired, so they are the ones to name.
        SeriesError::Gaps { .. } if !gaps.is_empty() => SeriesError::Gaps { periods: gaps }.into(),
        other => other.into(),
    })
}

/// The series of an expression with its gaps.
///
/// # Errors
/// [`EvaluateError`], but not for gaps.
pub fn evaluate_with_gaps(
    expression: &Expression,
    frame: &Frame,
    sample: Span,
) -> Result<SeriesWithGaps, EvaluateError> {
    let (rows, finished) = finished(expression, frame, sample)?;
    let extent = Extent::of(&expression.node, frame, &expression.node.columns(), &rows);
    Ok(trimmed(expression, frame, &rows, &finished, extent)?)
}

fn trimmed(
    expression: &Expression,
    frame: &Frame,
    rows: &[usize],
    finished: &[Option<f64>],
    extent: Option<Extent>,
) -> Result<SeriesWithGaps, SeriesError> {
    let dates: Option<Vec<Period>> =
        frame.dates.is_some().then(|| rows.iter().map(|row| frame.period(*row)).collect());
    let start = rows.first().map_or(frame.start, |row| frame.period(*row));
    let series = SeriesWithGaps::trimmed(&expression.text, start, finished, dates.as_deref())?;
    Ok(SeriesWithGaps { lost: extent.map(Extent::lost).unwrap_or_default(), ..series })
}

/// The rows of the sample and their values.
fn finished(
    expression: &Expression,
    frame: &Frame,
    sample: Span,
) -> Result<(Vec<usize>, Vec<Option<f64>>), EvaluateError> {
    if expression.node.columns().is_empty() {
        return Err(EvaluateError::NoColumn);
    }
    let cells = value_of(&expression.node, Setting { frame, sample })?;
    let inside = |row: &usize| sample.holds(frame.period(*row));
    let rows: Vec<usize> = (0..frame.length).filter(inside).collect();
    let value = |row: &usize| match cells.get(*row) {
        Some(Cell::Value(value)) => Ok(Some(*value)),
        Some(Cell::Undefined(UndefinedOperation { row, why })) => {
            Err(EvaluateError::Undefined { period: frame.period(*row), why: *why })
        }
        Some(Cell::Missing) | None => Ok(None),
    };
    let values = rows.iter().map(value).collect::<Result<_, _>>()?;
    Ok((rows, values))
}

/// The rows for which an expression would have values if its columns had no
/// gaps, and the rows that these values need.
#[derive(Clone, Copy)]
struct Extent {
    earliest: usize,
    latest: usize,
    needed_from: usize,
    needed_to: usize,
    /// First and last rows of the sample in which every column has values.
    known_from: usize,
    known_to: usize,
}

impl Extent {
    /// `None` if a column is empty, or if no row could have a value.
    fn of(node: &Node, frame: &Frame, names: &[&str], rows: &[usize]) -> Option<Self> {
        let (mut first, mut last) = (0, frame.length.checked_sub(1)?);
        for column in names.iter().filter_map(|name| frame.column(name)) {
            first = first.max(column.cells.iter().position(Option::is_some)?);
            last = last.min(column.cells.iter().rposition(Option::is_some)?);
        }
        let (sample_from, sample_to) = (*rows.first()?, *rows.last()?);
        let earliest = first.saturating_add(node.reach()).max(sample_from);
        let latest = last.saturating_sub(node.ahead()).min(sample_to);
        (earliest <= latest).then(|| Self {
            earliest,
            latest,
            needed_from: earliest.saturating_sub(node.reach()),
            needed_to: latest.saturating_add(node.ahead()),
            known_from: first.max(sample_from),
            known_to: last.min(sample_to),
        })
    }

    /// What reaching beyond the columns' ends costs.
    fn lost(self) -> Lost {
        Lost {
            start: self.earliest.saturating_sub(self.known_from),
            end: self.known_to.saturating_sub(self.latest),
        }
    }

    /// Periods, among the rows needed, in which a column has a gap.
    fn gaps(self, frame: &Frame, names: &[&str]) -> Vec<Period> {
        let columns: Vec<_> = names.iter().filter_map(|name| frame.column(name)).collect();
        let missing = |row: &usize| columns.iter().any(|c| c.cells.get(*row).is_some_and(Option::is_none));
        (self.needed_from..=self.needed_to).filter(missing).map(|row| frame.period(row)).collect()
    }

    /// Whether values that could be there are missing at an end: a gap near an end
    /// must not pass for values that were never there.
    fn loses_an_end(self, rows: &[usize], finished: &[Option<f64>]) -> bool {
        let row_of = |place: Option<usize>| place.and_then(|place| rows.get(place)).copied();
        let from = row_of(finished.iter().position(Option::is_some));
        let to = row_of(finished.iter().rposition(Option::is_some));
        from.is_none_or(|row| row > self.earliest) || to.is_none_or(|row| row < self.latest)
    }
}

pub(super) fn value_of(node: &Node, setting: Setting<'_>) -> Result<Vec<Cell>, EvaluateError> {
    let length = setting.frame.length;
    Ok(match &node.kind {
        NodeKind::Number(value) => vec![Cell::Value(*value); length],
        NodeKind::Column(name) => {
            let column = setting.frame.column(name);
            let column = column.ok_or_else(|| EvaluateError::UnknownColumn(name.clone()))?;
            column.cells.iter().map(|cell| cell.map_or(Cell::Missing, Cell::Value)).collect()
        }
        NodeKind::Lag(inner, lag) => {
            let cells = value_of(inner, setting)?;
            (0..length)
                .map(|row| row.checked_sub(*lag).map_or(Cell::Missing, |earlier| cells[earlier]))
                .collect()
        }
        NodeKind::Negative(inner) => {
            let cells = value_of(inner, setting)?;
            cells.iter().enumerate().map(|(row, cell)| cell.map(row, |value| Ok(-value))).collect()
        }
        NodeKind::Joined(operator, left, right) => {
            let (left, right) = (value_of(left, setting)?, value_of(right, setting)?);
            let pairs = left.iter().zip(right).enumerate();
            pairs.map(|(row, (a, b))| a.join(b, row, |a, b| operate(*operator, a, b))).collect()
        }
        NodeKind::Chain(inner, steps) => {
            steps.iter().try_fold(value_of(inner, setting)?, |cells, step| apply(step, &cells, setting))?
        }
    })
}

fn operate(operator: Operator, a: f64, b: f64) -> Result<f64, Undefined> {
    match operator {
        Operator::Plus => Ok(a + b),
        Operator::Minus => Ok(a - b),
        Operator::Times => Ok(a * b),
        Operator::Over => quotient(a, b),
        Operator::Power => power(a, b),
    }
}
