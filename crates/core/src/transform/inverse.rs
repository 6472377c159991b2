//! The way back through the steps of a chain.

use thiserror::Error;

use super::apply::{Setting, apply};
use super::cells::Cell;
use super::evaluate::value_of;
use super::evaluate_error::EvaluateError;
use crate::expr::Expression;
use crate::expr::NodeKind;
use crate::expr::Step;
use crate::predictive::{InverseStep, Map};
use crate::series::{Frame, Span};
use crate::time::Period;

/// Why the steps of a chain cannot be undone.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum InverseError {
    /// A step that more than one series has as its result.
    #[error("the step {0} has no inverse")]
    Lossy(&'static str),
    /// A value that a step needs is not there.
    #[error("a value in {0} is needed for the inverse transformation and is missing")]
    Missing(Period),
    /// The same, of a column in a period yet to come.
    #[error("the value of {column} in {period} is needed for the inverse transformation")]
    Future {
        /// The column.
        column: String,
        /// The period.
        period: Period,
    },
    /// The expression cannot be evaluated.
    #[error(transparent)]
    Evaluate(#[from] EvaluateError),
}

/// The chain at the end of an expression with the values before each of its steps, from which
/// the steps can be undone.
#[derive(Debug, Clone)]
pub struct InverseTransform<'a> {
    frame: &'a Frame,
    sample: Span,
    steps: Vec<Step>,
    /// Before the first step, between steps, after the last.
    scales: Vec<Vec<Cell>>,
}

impl<'a> InverseTransform<'a> {
    /// Of an expression whose steps have found what they take from the data.
    ///
    /// # Errors
    /// [`InverseError::Evaluate`].
    pub fn new(expression: &Expression, frame: &'a Frame, sample: Span) -> Result<Self, InverseError> {
        let (mut node, mut steps) = (&expression.node, Vec::new());
        while let NodeKind::Chain(inner, own) = &node.kind {
            steps.splice(0..0, own.iter().cloned());
            node = inner;
        }
        let setting = Setting { frame, sample };
        let mut scales = vec![value_of(node, setting)?];
        for step in &steps {
            let last = scales.last().map(Vec::as_slice).unwrap_or_default();
            scales.push(apply(step, last, setting)?);
        }
        Ok(Self { frame, sample, steps, scales })
    }

    /// The value before the first step.
    pub fn own_value(&self, row: usize) -> Option<f64> {
        self.scales.first()?.get(row)?.value()
    }

    /// The value after the last step.
    pub fn value(&self, row: usize) -> Option<f64> {
        self.scales.last()?.get(row)?.value()
    }

    /// A value of the last scale in a row whose past is known, transformed back to the scale before the
    /// first step; none where a step cannot be undone or a value is missing.
    pub fn one_back(&self, row: usize, value: f64) -> Option<f64> {
        let steps = self.steps.iter().enumerate().rev();
        let back = |value: f64, (place, step): (usize, &Step)| self.one_step_back(place, step, row, value);
        let mut value = value;
        for step in steps {
            value = back(value, step)?;
        }
        Some(value)
    }

    fn one_step_back(&self, place: usize, step: &Step, row: usize, value: f64) -> Option<f64> {
        let before = |back: usize| self.scales.get(place)?.get(row.checked_sub(back)?)?.value();
        let after = |back: usize| self.scales.get(place + 1)?.get(row.checked_sub(back)?)?.value();
        Some(match step {
            Step::Ln => Map::Exp.at(value),
            Step::Exp => Map::Ln.at(value),
            Step::Sqrt => Map::Square.at(value),
            Step::BoxCox(lambda) => Map::BoxCox(*lambda).at(value),
            Step::Difference(lag) => value + before(*lag)?,
            Step::Percent(lag) => before(*lag)? * (1.0 + value / 100.0),
            Step::Growth(lag) => before(*lag)? * (value / 100.0).exp(),
            Step::Trail(width) => *width as f64 * (value - after(1)?) + before(*width)?,
            Step::Cumulate => value - after(1)?,
            Step::PerDay | Step::PerWorkday | Step::Per(_) | Step::Real(_) | Step::Index(_) => {
                value * before(0)? / after(0)?
            }
            Step::Detrend(_) | Step::Demean | Step::Without(_) => value + (before(0)? - after(0)?),
            Step::Standardize => {
                let other = self.farthest(place, before(0)?)?;
                let slope = (before(0)? - other.0) / (after(0)? - other.1);
                before(0)? + slope * (value - after(0)?)
            }
            Step::Replaced(_) | Step::Average(1) => value,
            Step::Abs | Step::Average(_) | Step::ChooseBoxCox(_) | Step::Deseason | Step::Repair => {
                return None;
            }
        })
    }

    /// The values before and after a step where that before is farthest from one.
    fn farthest(&self, place: usize, from: f64) -> Option<(f64, f64)> {
        let pairs = self.scales.get(place)?.iter().zip(self.scales.get(place + 1)?);
        let known = pairs.filter_map(|(before, after)| Some((before.value()?, after.value()?)));
        known.max_by(|a, b| (a.0 - from).abs().total_cmp(&(b.0 - from).abs()))
    }

    /// How values of the `ahead` rows behind row `origin` are transformed back to the scale before the
    /// first step.
    ///
    /// # Errors
    /// [`InverseError`].
    pub fn stages(&self, origin: usize, ahead: usize) -> Result<Vec<InverseStep>, InverseError> {
        let mut stages = Vec::new();
        for (place, step) in self.steps.iter().enumerate().rev() {
            let at = At { undoing: self, place, origin, ahead };
            stages.extend(at.stages(step)?);
        }
        Ok(stages)
    }
}

/// A step and where it is undone.
struct At<'u, 'a> {
    undoing: &'u InverseTransform<'a>,
    place: usize,
    origin: usize,
    ahead: usize,
}

impl At<'_, '_> {
    fn stages(&self, step: &Step) -> Result<Vec<InverseStep>, InverseError> {
        let each = |map: Map| vec![InverseStep::Each(vec![map; self.ahead])];
        let scaled = |scale: f64| InverseStep::Each(vec![Map::Line { scale, shift: 0.0 }; self.ahead]);
        Ok(match step {
            Step::Ln => each(Map::Exp),
            Step::Exp => each(Map::Ln),
            Step::Sqrt => each(Map::Square),
            Step::BoxCox(lambda) => each(Map::BoxCox(*lambda)),
            Step::Difference(lag) => vec![self.summed(*lag, |value| value)?],
            Step::Percent(lag) => vec![InverseStep::Compounded { lag: *lag, history: self.history(*lag)? }],
            Step::Growth(lag) => {
                vec![scaled(0.01), self.summed(*lag, f64::ln)?, InverseStep::Each(vec![Map::Exp; self.ahead])]
            }
            Step::Trail(width) => {
                let sum = *width as f64;
                let last = sum * self.last_after()?;
                vec![scaled(sum), InverseStep::Changed { last }, self.summed(*width, |value| value)?]
            }
            Step::Cumulate => vec![InverseStep::Changed { last: self.last_after()? }],
            Step::Abs => return Err(InverseError::Lossy("abs")),
            Step::Average(2..) => return Err(InverseError::Lossy("of a centred moving average")),
            Step::Average(_) | Step::Replaced(_) => Vec::new(),
            Step::ChooseBoxCox(_) | Step::Deseason | Step::Repair => return Err(EvaluateError::Open.into()),
            Step::Index(_) => vec![scaled(1.0 / self.factor()?)],
            Step::PerDay
            | Step::PerWorkday
            | Step::Per(_)
            | Step::Real(_)
            | Step::Detrend(_)
            | Step::Demean
            | Step::Standardize
            | Step::Without(_) => vec![self.lines(step)?],
        })
    }

    fn summed(&self, lag: usize, scale: impl Fn(f64) -> f64) -> Result<InverseStep, InverseError> {
        let history = self.history(lag)?.into_iter().map(scale).collect();
        Ok(InverseStep::Summed { lag, history })
    }

    /// The last values before the step.
    fn history(&self, count: usize) -> Result<Vec<f64>, InverseError> {
        let first = (self.origin + 1).saturating_sub(count);
        (first..=self.origin).map(|row| self.known(self.place, row)).collect()
    }

    fn last_after(&self) -> Result<f64, InverseError> {
        self.known(self.place + 1, self.origin)
    }

    fn known(&self, scale: usize, row: usize) -> Result<f64, InverseError> {
        let cell = self.undoing.scales.get(scale).and_then(|cells| cells.get(row));
        let value = cell.and_then(|cell| cell.value());
        value.ok_or_else(|| InverseError::Missing(self.undoing.frame.period(row)))
    }

    /// What the step multiplies every value by.
    fn factor(&self) -> Result<f64, InverseError> {
        let pairs = (0..=self.origin).filter_map(|row| {
            let of = |scale: usize| self.undoing.scales.get(scale)?.get(row)?.value();
            Some((of(self.place)?, of(self.place + 1)?))
        });
        let largest = pairs.max_by(|a, b| a.0.abs().total_cmp(&b.0.abs()));
        let factor = largest.map(|(before, after)| after / before);
        factor
            .filter(|factor| factor.is_normal())
            .ok_or_else(|| InverseError::Missing(self.undoing.frame.period(self.origin)))
    }

    /// A step that stretches and shifts every value, row by row, undone: what it makes of zero
    /// and of one behind the origin tells how.
    fn lines(&self, step: &Step) -> Result<InverseStep, InverseError> {
        let frame = self.undoing.frame;
        let known = self.undoing.scales.get(self.place).map(Vec::as_slice).unwrap_or_default();
        let sample = Span { to: Some(frame.period(self.origin)), ..self.undoing.sample };
        let made_of = |value: f64| {
            let tail = vec![Cell::Value(value); self.ahead];
            let head = known.get(..=self.origin).unwrap_or(known);
            let mut cells = [head, &tail].concat();
            cells.resize(frame.length.max(cells.len()), Cell::Missing);
            apply(step, &cells, Setting { frame, sample })
        };
        let (zero, one) = (made_of(0.0)?, made_of(1.0)?);
        let map = |row: usize| {
            let value = |cells: &[Cell]| cells.get(row).and_then(|cell| cell.value());
            let (shift, sum) = value(&zero).zip(value(&one)).ok_or_else(|| self.not_there(step, row))?;
            let scale = sum - shift;
            if scale.is_normal() {
                Ok(Map::Line { scale: 1.0 / scale, shift: -shift / scale })
            } else {
                Err(self.not_there(step, row))
            }
        };
        (self.origin + 1..=self.origin + self.ahead).map(map).collect::<Result<_, _>>().map(InverseStep::Each)
    }

    fn not_there(&self, step: &Step, row: usize) -> InverseError {
        let period = self.undoing.frame.period(row);
        match step.column() {
            Some(column) => InverseError::Future { column: column.to_owned(), period },
            None => InverseError::Missing(period),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::super::{evaluate, resolve};
    use super::*;
    use crate::expr::parse;
    use crate::num::rng::NormalStream;
    use crate::series::Column;

    /// Three years of months and one more without values of x.
    fn frame() -> Frame {
        let noise = NormalStream::new(3, 0).take(48);
        let x = |t: usize| (t < 36).then(|| 40.0 + t as f64 + 2.0 * noise[t] + 5.0 * ((t % 12) as f64));
        let heads = |t: usize| Some(2.0 + 0.1 * t as f64);
        let column = |name: &str, cells: Vec<Option<f64>>| Column { name: name.to_owned(), cells };
        Frame {
            start: Period::month(2020, 1).expect("a month"),
            length: 48,
            columns: vec![
                column("x", (0..48).map(x).collect()),
                column("heads", (0..48).map(heads).collect()),
            ],
            dates: None,
        }
    }

    /// The step of a chain applied to values that are then known, and undone again.
    fn comes_back(steps: &str) {
        let whole = frame();
        let mut cut = frame();
        let last = 24;
        cut.columns[0].cells.iter_mut().skip(last + 1).for_each(|cell| *cell = None);
        let mut expression = parse(&format!("x:{steps}")).expect("an expression");
        let sample = Span { from: None, to: Some(cut.period(last)) };
        resolve(&mut expression, &cut, sample, 12).expect("steps that find what they need");
        let undoing = InverseTransform::new(&expression, &cut, sample).expect("a chain");
        let stages = undoing.stages(last, 6).expect("steps that can be undone");
        // The chain of the whole series with what was found on the part.
        let long = InverseTransform::new(&expression, &whole, sample).expect("a chain");
        let after = long.scales.last().expect("a scale");
        let mut path: Vec<f64> =
            (last + 1..=last + 6).map(|row| after[row].value().expect("known")).collect();
        for stage in &stages {
            stage.along(&mut path);
        }
        for (h, value) in path.iter().enumerate() {
            let expected = whole.columns[0].cells[last + 1 + h].expect("known");
            assert!(
                (value - expected).abs() < 1e-9 * expected.abs(),
                "{steps}, step {h}: {value} {expected}"
            );
        }
    }

    #[test]
    fn a_known_value_comes_back_from_its_own_past() {
        let frame = frame();
        for steps in
            ["ln,d1,d12", "pct1", "growth12", "perday,ln", "standardize", "detrend=2", "trail3", "sqrt"]
        {
            let expression = parse(&format!("x:{steps}")).expect("an expression");
            let undoing = InverseTransform::new(&expression, &frame, Span::default()).expect("a chain");
            let (last, own) = (undoing.value(30).expect("known"), frame.columns[0].cells[30].expect("known"));
            let back = undoing.one_back(30, last).expect("a way back");
            assert!((back - own).abs() < 1e-9 * own, "{steps}: {back} {own}");
        }
    }

    #[test]
    fn every_step_that_loses_nothing_comes_back() {
        for steps in [
            "ln",
            "sqrt",
            "exp",
            "boxcox=0.3",
            "boxcox=-0.5",
            "boxcox=0",
            "boxcox",
            "d1",
            "d12",
            "ln,d1,d12",
            "pct1",
            "pct12",
            "growth1",
            "growth12",
            "perday",
            "perworkday",
            "per=heads",
            "real=heads",
            "index=2021-03",
            "detrend",
            "detrend=2",
            "demean",
            "standardize",
            "deseason",
            "cumulate",
            "trail3",
            "perday,ln,deseason,d1",
            "per=heads,pct1,demean",
            "d1,cumulate",
            "standardize,detrend",
        ] {
            comes_back(steps);
        }
    }

    #[test]
    fn what_loses_something_is_refused_by_name() {
        let frame = frame();
        let of = |text: &str| {
            let expression = parse(text).expect("an expression");
            let undoing = InverseTransform::new(&expression, &frame, Span::default()).expect("a chain");
            undoing.stages(35, 4).expect_err(text).to_string()
        };
        assert!(of("x:abs").contains("abs has no inverse"));
        assert!(of("x:avg5").contains("centred moving average"));
    }

    #[test]
    fn a_column_without_a_future_is_named() {
        let mut frame = frame();
        frame.columns[1].cells[38] = None;
        let expression = parse("x:per=heads").expect("an expression");
        let undoing = InverseTransform::new(&expression, &frame, Span::default()).expect("a chain");
        assert!(undoing.stages(35, 2).is_ok());
        let error = undoing.stages(35, 4).expect_err("no value");
        assert_eq!(error, InverseError::Future { column: "heads".to_owned(), period: frame.period(38) });
    }

    #[test]
    fn a_sum_of_columns_is_its_own_scale() {
        let frame = frame();
        let expression = parse("(x - heads):d1").expect("an expression");
        let undoing = InverseTransform::new(&expression, &frame, Span::default()).expect("a chain");
        let series = evaluate(&parse("x - heads").expect("an expression"), &frame, Span::default());
        let values = series.expect("a series").values;
        assert_eq!(undoing.own_value(35), values.last().copied());
        assert!(matches!(undoing.stages(35, 2).expect("stages")[0], InverseStep::Summed { lag: 1, .. }));
    }
}
