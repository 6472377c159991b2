//! A series with the expression and the columns that it is computed from, so that it can be computed again and undone.

use std::collections::BTreeMap;

use super::{EvaluateError, InverseError, InverseTransform, evaluate_with_gaps, resolve};
use crate::expr::Expression;
use crate::series::{Frame, SeriesWithGaps, Span};
use crate::time::Period;

/// A series to be modelled on the scale of its steps and transformed back to the original scale.
#[derive(Debug, Clone)]
pub struct Transformed {
    /// Before its steps have taken anything from the data.
    pub typed: Expression,
    /// With what they have taken.
    pub expression: Expression,
    /// The columns it needs.
    pub frame: Frame,
    /// The periods asked for.
    pub span: Span,
    /// The seasonal period.
    pub season: usize,
    /// Its values.
    pub series: SeriesWithGaps,
}

impl Transformed {
    /// The values before the steps, by period.
    pub fn own_values(&self) -> BTreeMap<Period, f64> {
        let Ok(undoing) = self.undoing() else {
            return BTreeMap::new();
        };
        let value = |row: usize| undoing.own_value(row).map(|value| (self.frame.period(row), value));
        (0..self.frame.length).filter_map(value).collect()
    }

    /// The chain with the values between its steps.
    ///
    /// # Errors
    /// [`InverseError`] where a step cannot be undone.
    pub fn undoing(&self) -> Result<InverseTransform<'_>, InverseError> {
        InverseTransform::new(&self.expression, &self.frame, self.span)
    }

    /// The same series as it was known in a period, its steps with what they took from all periods.
    ///
    /// # Errors
    /// [`EvaluateError`] where nothing is left.
    pub fn until(&self, last: Period) -> Result<Self, EvaluateError> {
        self.cut(last, self.expression.clone())
    }

    /// The same series as it was known in a period, its steps with what they take from the data up to it.
    ///
    /// # Errors
    /// [`EvaluateError`] where nothing is left, or too little for a step.
    pub fn known_until(&self, last: Period) -> Result<Self, EvaluateError> {
        let mut expression = self.typed.clone();
        resolve(&mut expression, &self.frame, Span { to: Some(last), ..self.span }, self.season)?;
        self.cut(last, expression)
    }

    fn cut(&self, last: Period, expression: Expression) -> Result<Self, EvaluateError> {
        let span = Span { to: Some(last), ..self.span };
        let series = evaluate_with_gaps(&expression, &self.frame, span)?;
        Ok(Self { expression, span, series, ..self.clone() })
    }
}
