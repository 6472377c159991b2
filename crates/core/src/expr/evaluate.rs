use thiserror::Error;

use super::parse::Expression;
use super::steps::Step;
use crate::series::{Frame, Series, SeriesError, Span, without_gaps};
use crate::time::Period;

/// Why an expression has no series.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum EvaluateError {
    /// No such column.
    #[error("there is no column {0:?}")]
    UnknownColumn(String),
    /// The logarithm of a value that has none.
    #[error("no logarithm of {value} in {period}")]
    Logarithm {
        /// When.
        period: Period,
        /// The value.
        value: f64,
    },
    /// Values missing inside, or none at all.
    #[error(transparent)]
    Series(#[from] SeriesError),
}

/// A cell on its way through a chain.
#[derive(Debug, Clone, Copy)]
enum Cell {
    Value(f64),
    Missing,
    /// Undefined since the row named: no matter unless the sample needs it.
    NoLogarithm {
        row: usize,
        value: f64,
    },
}

/// The series of an expression, on the periods of `sample`.
///
/// Steps reach back before the sample; missing ends are trimmed; missing
/// values inside are refused, named by the periods of the column itself.
///
/// # Errors
/// [`EvaluateError`].
pub fn evaluate(expression: &Expression, frame: &Frame, sample: Span) -> Result<Series, EvaluateError> {
    let unknown = || EvaluateError::UnknownColumn(expression.column.clone());
    let column = frame.column(&expression.column).ok_or_else(unknown)?;
    let raw = column.cells.iter().map(|cell| cell.map_or(Cell::Missing, Cell::Value));
    let cells = expression.steps.iter().fold(raw.collect(), |cells: Vec<Cell>, step| apply(*step, &cells));
    let inside = |row: &usize| sample.holds(frame.period(*row));
    let rows: Vec<usize> = (0..frame.length).filter(inside).collect();
    let finished: Vec<Option<f64>> = rows
        .iter()
        .map(|row| match cells.get(*row) {
            Some(Cell::Value(value)) => Ok(Some(*value)),
            Some(Cell::NoLogarithm { row, value }) => {
                Err(EvaluateError::Logarithm { period: frame.period(*row), value: *value })
            }
            Some(Cell::Missing) | None => Ok(None),
        })
        .collect::<Result<_, _>>()?;
    let start = rows.first().map_or(frame.start, |row| frame.period(*row));
    without_gaps(&expression.text, start, &finished).map_err(|error| match error {
        SeriesError::Gaps { periods } => EvaluateError::Series(own_gaps(frame, &column.cells, periods)),
        SeriesError::Empty => EvaluateError::Series(SeriesError::Empty),
    })
}

/// A value missing in the column costs a differenced series several; only the
/// column's own ones can be mended, so they are the ones to name.
fn own_gaps(frame: &Frame, cells: &[Option<f64>], finished: Vec<Period>) -> SeriesError {
    let own = |period: &Period| {
        let row = period.steps_since(frame.start).and_then(|steps| usize::try_from(steps).ok());
        row.and_then(|row| cells.get(row)).is_some_and(Option::is_none)
    };
    let of_column: Vec<Period> = finished.iter().copied().filter(own).collect();
    let periods = if of_column.is_empty() { finished } else { of_column };
    SeriesError::Gaps { periods }
}

fn apply(step: Step, cells: &[Cell]) -> Vec<Cell> {
    match step {
        Step::Ln => cells.iter().enumerate().map(|(row, cell)| logarithm(row, *cell)).collect(),
        Step::Difference(lag) => (0..cells.len())
            .map(|row| {
                row.checked_sub(lag).map_or(Cell::Missing, |earlier| minus(cells[row], cells[earlier]))
            })
            .collect(),
    }
}

fn logarithm(row: usize, cell: Cell) -> Cell {
    match cell {
        Cell::Value(value) if value > 0.0 => Cell::Value(value.ln()),
        Cell::Value(value) => Cell::NoLogarithm { row, value },
        other => other,
    }
}

fn minus(now: Cell, then: Cell) -> Cell {
    match (now, then) {
        (Cell::Value(a), Cell::Value(b)) => Cell::Value(a - b),
        (broken @ Cell::NoLogarithm { .. }, _) | (_, broken @ Cell::NoLogarithm { .. }) => broken,
        _ => Cell::Missing,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::expr::parse;
    use crate::series::Column;
    use crate::time::Frequency;

    fn frame(cells: &[Option<f64>]) -> Frame {
        let column = Column { name: "x".into(), cells: cells.to_vec() };
        Frame { start: Period::year(2000), length: cells.len(), columns: vec![column] }
    }

    fn run(text: &str, cells: &[Option<f64>], sample: &str) -> Result<Series, EvaluateError> {
        let sample = Span::parse(sample, Frequency::Year).expect("valid");
        evaluate(&parse(text).expect("valid"), &frame(cells), sample)
    }

    #[test]
    fn steps_reach_back_before_the_sample() {
        let squares: Vec<Option<f64>> = (0..6_u32).map(|t| Some(f64::from(t * t))).collect();
        let changes = run("x:d1", &squares, "2003..").expect("defined");
        assert_eq!((changes.start, changes.values), (Period::year(2003), vec![5.0, 7.0, 9.0]));
        let second = run("x:d1,d1", &squares, "..").expect("defined");
        assert_eq!((second.start, second.values), (Period::year(2002), vec![2.0; 4]));
    }

    #[test]
    fn a_logarithm_matters_only_where_the_sample_needs_it() {
        let cells = [Some(0.0), Some(1.0), Some(1.0), Some(1.0)];
        assert_eq!(run("x:ln", &cells, "2001..").expect("defined").values, [0.0; 3]);
        assert_eq!(
            run("x:ln,d1", &cells, "2001.."),
            Err(EvaluateError::Logarithm { period: Period::year(2000), value: 0.0 })
        );
    }

    #[test]
    fn gaps_are_those_of_the_column_not_those_of_its_differences() {
        let cells = [Some(1.0), Some(2.0), None, Some(4.0), Some(5.0), Some(6.0)];
        let gap = EvaluateError::Series(SeriesError::Gaps { periods: vec![Period::year(2002)] });
        assert_eq!(run("x", &cells, ".."), Err(gap.clone()));
        assert_eq!(run("x:d1", &cells, ".."), Err(gap));
        assert_eq!(run("y", &cells, ".."), Err(EvaluateError::UnknownColumn("y".into())));
    }
}
