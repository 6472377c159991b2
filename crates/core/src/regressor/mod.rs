//! Regressors of a model over any periods: columns known up to a period, and terms that the calendar determines.

mod deterministic;

use std::collections::BTreeMap;

use thiserror::Error;

use crate::time::Period;

pub use deterministic::Deterministic;

/// Regressors in their order.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Regressors {
    /// Each with its name.
    pub all: Vec<Regressor>,
}

/// One of them.
#[derive(Debug, Clone, PartialEq)]
pub struct Regressor {
    /// The term of the list that it comes from: several dummies come from `seasons`.
    pub term: String,
    /// Its own name.
    pub name: String,
    /// Where its values are from.
    pub values: RegressorValues,
}

/// Where a regressor's values are from.
#[derive(Debug, Clone, PartialEq)]
pub enum RegressorValues {
    /// A column or an expression, in the periods that it has.
    Known(BTreeMap<Period, f64>),
    /// The calendar.
    Deterministic(Deterministic),
}

/// A regressor has no value where one is needed.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error("the regressor {name} has no value in {} of the periods", periods.len())]
pub struct MissingRegressor {
    /// Its name.
    pub name: String,
    /// The periods without a value.
    pub periods: Vec<Period>,
}

impl Regressors {
    /// Whether there is none.
    pub fn is_empty(&self) -> bool {
        self.all.is_empty()
    }

    /// Their names.
    pub fn names(&self) -> Vec<String> {
        self.all.iter().map(|one| one.name.clone()).collect()
    }

    /// The terms that they come from, each once, as they are written in a list.
    pub fn terms(&self) -> Vec<String> {
        let mut terms: Vec<String> = Vec::new();
        for one in &self.all {
            if !terms.contains(&one.term) {
                terms.push(one.term.clone());
            }
        }
        terms
    }

    /// The list of terms; none where there is no regressor.
    pub fn list(&self) -> Option<String> {
        (!self.is_empty()).then(|| self.terms().join(","))
    }

    /// Their values in these periods, a column each.
    ///
    /// # Errors
    /// [`MissingRegressor`] for the first that has no value in one of them.
    pub fn over(&self, periods: &[Period]) -> Result<Vec<Vec<f64>>, MissingRegressor> {
        self.all.iter().map(|one| one.over(periods)).collect()
    }
}

impl Regressor {
    /// One that the calendar determines; dummies of a season are numbered.
    pub fn deterministic(value: Deterministic) -> Self {
        let term = value.to_string();
        let name = match value {
            Deterministic::Season { place, from: None, .. } => format!("season_{}", place + 1),
            Deterministic::Season { place, from: Some(from), .. } => {
                format!("season_{}_from_{from}", place + 1)
            }
            Deterministic::Harmonic { waves, is_sine: false, .. } => format!("cos_{waves}"),
            Deterministic::Harmonic { waves, is_sine: true, .. } => format!("sin_{waves}"),
            _ => term.clone(),
        };
        Self { term, name, values: RegressorValues::Deterministic(value) }
    }

    /// Its values in these periods.
    ///
    /// # Errors
    /// [`MissingRegressor`] where it has no value in one of them.
    pub fn over(&self, periods: &[Period]) -> Result<Vec<f64>, MissingRegressor> {
        let (mut missing, mut values) = (Vec::new(), Vec::with_capacity(periods.len()));
        for period in periods {
            match self.at(*period) {
                Some(value) => values.push(value),
                None => missing.push(*period),
            }
        }
        if missing.is_empty() {
            Ok(values)
        } else {
            Err(MissingRegressor { name: self.name.clone(), periods: missing })
        }
    }

    fn at(&self, period: Period) -> Option<f64> {
        match &self.values {
            RegressorValues::Known(values) => values.get(&period).copied(),
            RegressorValues::Deterministic(value) => value.at(period),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn columns_say_where_they_end_and_terms_are_listed_once() {
        let start = Period::year(2000);
        let known = (0..3).map(|t| (start.offset(t), t as f64)).collect();
        let column =
            Regressor { term: "x".to_owned(), name: "x".to_owned(), values: RegressorValues::Known(known) };
        let dummies = Deterministic::seasons(4, start).into_iter().map(Regressor::deterministic);
        let all = Regressors { all: std::iter::once(column).chain(dummies).collect() };
        assert_eq!(all.names(), ["x", "season_2", "season_3", "season_4"]);
        assert_eq!(all.list().as_deref(), Some("x,seasons"));
        let periods: Vec<Period> = (1..5).map(|t| start.offset(t)).collect();
        let refused = all.over(&periods).expect_err("it ends in 2002");
        assert_eq!(refused, MissingRegressor { name: "x".to_owned(), periods: periods[2..].to_vec() });
        assert_eq!(all.over(&periods[..2]).expect("known")[1], [1.0, 0.0]);
        assert_eq!(Regressors::default().list(), None);
    }
}
