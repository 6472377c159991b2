//! A sample: the periods from one to another.

use thiserror::Error;

use crate::time::{Frequency, Period, PeriodError};

/// Why a sample cannot be taken.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum SpanError {
    /// Not of the form `FROM..TO`.
    #[error("{0:?} is not of the form FROM..TO")]
    Form(String),
    /// An end is not a period of the data.
    #[error(transparent)]
    Period(#[from] PeriodError),
    /// The end lies before the beginning.
    #[error("{from} comes after {to}")]
    Reversed {
        /// The beginning given.
        from: Period,
        /// The end given.
        to: Period,
    },
}

/// A range of periods, either end open.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Span {
    /// First period, if any.
    pub from: Option<Period>,
    /// Last period, if any.
    pub to: Option<Period>,
}

impl Span {
    /// Reads `2004-01..2010-12`, `2004..`, `..2010-06`.
    ///
    /// # Errors
    /// [`SpanError`].
    pub fn parse(text: &str, data: Frequency) -> Result<Self, SpanError> {
        let (from, to) = text.split_once("..").ok_or_else(|| SpanError::Form(text.to_owned()))?;
        let end = |text: &str| (!text.trim().is_empty()).then(|| Period::parse_range(text, data)).transpose();
        let from = end(from)?.map(|range| range.0);
        let to = end(to)?.map(|range| range.1);
        match (from, to) {
            (Some(from), Some(to)) if from > to => Err(SpanError::Reversed { from, to }),
            _ => Ok(Self { from, to }),
        }
    }

    /// Whether a period lies inside.
    pub fn holds(self, period: Period) -> bool {
        self.from.is_none_or(|from| period >= from) && self.to.is_none_or(|to| period <= to)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn either_end_may_be_open_and_years_mean_their_months() {
        let span = Span::parse("2004..2005-06", Frequency::Month).expect("valid");
        let holds = |text| span.holds(Period::parse(text).expect("valid"));
        assert!(holds("2004-01") && holds("2005-06"));
        assert!(!holds("2003-12") && !holds("2005-07"));
        assert_eq!(Span::parse("..", Frequency::Month), Ok(Span::default()));
    }

    #[test]
    fn wrong_spans_are_distinguished() {
        assert!(matches!(Span::parse("2004", Frequency::Year), Err(SpanError::Form(_))));
        assert!(matches!(Span::parse("2005..2004", Frequency::Year), Err(SpanError::Reversed { .. })));
        assert!(matches!(Span::parse("x..", Frequency::Year), Err(SpanError::Period(_))));
    }
}
