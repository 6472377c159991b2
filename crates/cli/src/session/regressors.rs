//! The regressors of a list of terms.

use kandrel_core::expr;
use kandrel_core::regressor::{Deterministic, Regressor, RegressorValues, Regressors};
use kandrel_core::time::Period;
use kandrel_core::verdict::MOST_PLACES;

use super::Session;
use crate::error::CliError;

impl Session<'_> {
    /// The regressors of a list of terms; none of no list.
    pub fn regressors(&mut self, terms: Option<&str>) -> Result<Regressors, CliError> {
        let Some(text) = terms else {
            return Ok(Regressors::default());
        };
        let mut all = Vec::new();
        for term in expr::terms(text) {
            match self.deterministic(term)? {
                Some(found) => all.extend(found.into_iter().map(Regressor::deterministic)),
                None => all.push(self.of_expression(term)?),
            }
        }
        if all.is_empty() {
            return Err(CliError::call("--with names nothing").advise("write columns, separated by commas"));
        }
        Ok(Regressors { all })
    }

    /// What a term represents that has a value in any period: steps, pulses, ramps, a trend, seasonal dummies,
    /// harmonics, working days; none for a column or an expression.
    pub fn deterministic(&self, term: &str) -> Result<Option<Vec<Deterministic>>, CliError> {
        let frame = &self.dataset.frame;
        if self.dataset.has_column(term) {
            return Ok(None);
        }
        if let Some(number) = term.strip_prefix("harmonics=") {
            return harmonics(number, self.season(), frame.start).map(Some);
        }
        if let Some((word @ ("step" | "pulse" | "ramp" | "seasons"), text)) = term.split_once('=') {
            let text = self.dataset.standard(text);
            let (first, last) = Period::parse_range(&text, frame.frequency()).map_err(|error| {
                CliError::call(format!("{term}: {error}"))
                    .advise(format!("write a period, as {word}={}", frame.last()))
            })?;
            if word == "seasons" {
                return seasons(self.season(), frame.start, Some(first)).map(Some);
            }
            return Ok(Some(vec![match word {
                "step" => Deterministic::Step { from: first },
                "pulse" => Deterministic::Pulse { first, last },
                _ => Deterministic::Ramp { after: last },
            }]));
        }
        match term {
            "trend" => Ok(Some(vec![Deterministic::Trend { origin: frame.start }])),
            "workdays" if !self.dataset.is_dated() => {
                Err(CliError::data("workdays: the rows have no dates".to_owned())
                    .advise("name the time column with --time"))
            }
            "workdays" => Ok(Some(vec![Deterministic::WorkingDays])),
            "seasons" => seasons(self.season(), frame.start, None).map(Some),
            _ => Ok(None),
        }
    }

    fn of_expression(&mut self, term: &str) -> Result<Regressor, CliError> {
        let series = self.whole_series(term)?;
        let values = series.cells.iter().enumerate();
        let values = values.filter_map(|(t, cell)| Some((series.period(t), (*cell)?))).collect();
        let (term, name) = (term.to_owned(), term.to_owned());
        Ok(Regressor { term, name, values: RegressorValues::Known(values) })
    }
}

fn harmonics(text: &str, season: usize, start: Period) -> Result<Vec<Deterministic>, CliError> {
    let most = season / 2;
    if most == 0 {
        return Err(CliError::call("harmonics: the data have no season")
            .advise("give the number of observations in a season with --season N"));
    }
    match text.parse() {
        Ok(number) if (1..=most).contains(&number) => Ok(Deterministic::harmonics(number, season, start)),
        _ => Err(CliError::call(format!(
            "harmonics={text}: a seasonal period of {season} has 1 to {most} harmonics"
        ))
        .advise("write a small number, as harmonics=3")),
    }
}

fn seasons(season: usize, start: Period, from: Option<Period>) -> Result<Vec<Deterministic>, CliError> {
    if season < 2 {
        return Err(CliError::call("seasons: the data have no season")
            .advise("give the number of observations in a season with --season N"));
    }
    if season > MOST_PLACES {
        return Err(CliError::call(format!(
            "seasons: seasonal dummies are limited to a period of {MOST_PLACES}, and the seasonal period is \
              {season}"
        ))
        .advise("take harmonics=3, seasonal orders, as (1,0,0)(0,1,1)365, or the step deseason"));
    }
    Ok(match from {
        None => Deterministic::seasons(season, start),
        Some(from) => Deterministic::seasons_from(season, start, from),
    })
}
