use std::collections::BTreeMap;

use kandrel_core::expr::{self, Expression, Undoing};
use kandrel_core::series::{Frame, SeriesWithGaps, Span};
use kandrel_core::time::Period;

use crate::error::CliError;

/// A series to be modelled, with the expression and the columns it is computed from.
#[derive(Clone)]
pub struct Target {
    /// Before its steps found what they take from the data.
    pub typed: Expression,
    pub expression: Expression,
    /// The columns it needs.
    pub frame: Frame,
    /// The periods asked for.
    pub span: Span,
    pub season: usize,
    pub series: SeriesWithGaps,
}

impl Target {
    /// The values before the steps, by period.
    pub fn own_values(&self) -> BTreeMap<Period, f64> {
        let Ok(undoing) = self.undoing() else {
            return BTreeMap::new();
        };
        let value = |row: usize| undoing.own_value(row).map(|value| (self.frame.period(row), value));
        (0..self.frame.length).filter_map(value).collect()
    }

    /// The chain with the values between its steps.
    pub fn undoing(&self) -> Result<Undoing<'_>, CliError> {
        Undoing::new(&self.expression, &self.frame, self.span).map_err(|error| self.refused(&error))
    }

    /// The same series as it was known in a period; its steps look `anew` for what they take from
    /// the data, or keep what they have found.
    pub fn until(&self, last: Period, anew: bool) -> Result<Self, CliError> {
        let span = Span { to: Some(last), ..self.span };
        let mut expression = self.expression.clone();
        if anew {
            expression = self.typed.clone();
            expr::resolve(&mut expression, &self.frame, span, self.season)
                .map_err(|error| self.refused(&error))?;
        }
        let series =
            expr::evaluate_with_gaps(&expression, &self.frame, span).map_err(|error| self.refused(&error))?;
        Ok(Self { expression, span, series, ..self.clone() })
    }

    fn refused(&self, error: &dyn std::fmt::Display) -> CliError {
        CliError::data(format!("{}: {error}", self.typed.text))
    }
}
