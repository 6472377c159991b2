//! Forecasters tried out on a series whose end is held back.

use std::collections::BTreeMap;

use kandrel_core::arima::{Coefficients, Fit, Known, fit, fit_at, fit_near};
use kandrel_core::outlook::{Accuracy, accuracy};
use kandrel_core::time::Period;

use crate::args::Target;
use crate::cmd::choose::data_of;
use crate::cmd::foretell::foretell;
use crate::error::CliError;
use crate::model::Regressors;

/// Who foretells.
pub enum Forecaster {
    /// A model of a target.
    Model(Box<Modelled>),
    /// A rule that every model should beat.
    Rule(Rule),
}

/// A model, with the target it is of.
pub struct Modelled {
    pub target: Target,
    /// The same as it was known at the first origin.
    pub early: Target,
    pub regressors: Regressors,
    /// The estimates over all values.
    pub whole: Fit,
    /// Those of the first origin.
    pub first: Coefficients,
    /// Whether odd values were replaced.
    pub mended: bool,
}

/// Forecasts that need no model.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Rule {
    /// The last value.
    Naive,
    /// The last value of the same place in the season.
    SeasonalNaive,
    /// The last value and the mean change so far.
    Drift,
}

impl Rule {
    pub fn name(self) -> &'static str {
        match self {
            Self::Naive => "naive",
            Self::SeasonalNaive => "seasonal naive",
            Self::Drift => "drift",
        }
    }

    /// Forecasts behind the cells, the last of which is known.
    pub fn ahead(self, cells: &[Option<f64>], season: usize, ahead: usize) -> Vec<Option<f64>> {
        let last = cells.iter().rposition(Option::is_some);
        let first = cells.iter().position(Option::is_some);
        let of = |h: usize| -> Option<f64> {
            let (first, last) = (first?, last?);
            let (start, end) = (cells[first]?, cells[last]?);
            match self {
                Self::Naive => Some(end),
                Self::Drift => {
                    let steps = (last - first) as f64;
                    (last > first).then(|| end + h as f64 * (end - start) / steps)
                }
                Self::SeasonalNaive => {
                    let place = (last + h) % season;
                    (0..=last).rev().filter(|t| t % season == place).find_map(|t| cells[t])
                }
            }
        };
        (1..=ahead).map(of).collect()
    }
}

/// The values to be foretold.
pub struct Truth {
    pub periods: Vec<Period>,
    /// Own values in these periods.
    pub cells: Vec<Option<f64>>,
    pub season: usize,
}

impl Truth {
    /// Of a target, over its own periods.
    pub fn of(target: &Target) -> Self {
        let own: BTreeMap<Period, f64> = target.own_values();
        let series = &target.series;
        let periods: Vec<Period> = (0..series.cells.len()).map(|t| series.period(t)).collect();
        let cells = periods.iter().map(|period| own.get(period).copied()).collect();
        Self { periods, cells, season: target.season }
    }
}

/// How parameters are treated at later origins.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Parameters {
    /// Estimated anew.
    Anew,
    /// Those of the first origin.
    Fixed,
}

/// Forecasts from one origin, one a step ahead; none where the rule has none.
pub type Path = Vec<Option<f64>>;

impl Modelled {
    /// Forecasts from an origin. With fixed parameters the steps keep what they took from the data
    /// at the first origin as well.
    fn ahead(
        &self,
        truth: &Truth,
        origin: usize,
        ahead: usize,
        parameters: Parameters,
    ) -> Result<Path, CliError> {
        let (last, model) = (truth.periods[origin], self.whole.model);
        let target = match parameters {
            Parameters::Anew => self.target.until(last, true)?,
            Parameters::Fixed => self.early.until(last, false)?,
        };
        let data = data_of(&target.series, &self.regressors)?;
        let fit = match parameters {
            Parameters::Anew => fit_near(&data, &self.first, model).or_else(|_| fit(&data, model)),
            Parameters::Fixed => fit_at(&data, &self.first, model),
        };
        let fit = fit.map_err(|error| {
            CliError::data(format!("{} {model}: {error}", self.target.typed.text))
                .advise("hold back less, take a smaller model, or a longer series")
        })?;
        let next = foretell(&target, &data, &Known::from(&fit), &self.regressors, ahead, false)?;
        Ok(next.steps.iter().map(|step| Some(step.median)).collect())
    }
}

impl Forecaster {
    /// Forecasts from an origin (a place of the truth).
    pub fn ahead(
        &self,
        truth: &Truth,
        origin: usize,
        ahead: usize,
        parameters: Parameters,
    ) -> Result<Path, CliError> {
        match self {
            Self::Rule(rule) => Ok(rule.ahead(&truth.cells[..=origin], truth.season, ahead)),
            Self::Model(own) => own.ahead(truth, origin, ahead, parameters),
        }
    }
}

/// Forecasts from several origins beside what came to be.
pub struct Trial {
    /// For each origin, for each step ahead: actual value and forecast, where both are known.
    pairs: Vec<Vec<Option<(f64, f64)>>>,
}

impl Trial {
    /// Sets paths beside the truth.
    pub fn new(truth: &Truth, origins: &[usize], paths: &[Path]) -> Self {
        let pair = |origin: usize, h: usize, own: Option<f64>| {
            Some((truth.cells.get(origin + h + 1).copied().flatten()?, own?))
        };
        let of = |(origin, path): (&usize, &Path)| {
            path.iter().enumerate().map(|(h, own)| pair(*origin, h, *own)).collect()
        };
        Self { pairs: origins.iter().zip(paths).map(of).collect() }
    }

    /// Over all origins and steps.
    pub fn accuracy(&self, scale: Option<f64>) -> Option<Accuracy> {
        let all: Vec<(f64, f64)> = self.pairs.iter().flatten().flatten().copied().collect();
        accuracy(&all, scale)
    }

    /// Over all origins, at one step ahead (0-based).
    pub fn at(&self, h: usize, scale: Option<f64>) -> Option<Accuracy> {
        let all: Vec<(f64, f64)> = self.pairs.iter().filter_map(|path| *path.get(h)?).collect();
        accuracy(&all, scale)
    }

    /// For each origin the squared error at each step ahead.
    pub fn squares(&self) -> Vec<Vec<Option<f64>>> {
        let square = |pair: &Option<(f64, f64)>| pair.map(|(actual, own)| (actual - own).powi(2));
        self.pairs.iter().map(|path| path.iter().map(square).collect()).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rules_by_hand() {
        let cells = [Some(1.0), Some(5.0), None, Some(7.0)];
        assert_eq!(Rule::Naive.ahead(&cells, 2, 2), [Some(7.0), Some(7.0)]);
        assert_eq!(Rule::Drift.ahead(&cells, 2, 2), [Some(9.0), Some(11.0)]);
        // The place of the gap takes the year before.
        assert_eq!(Rule::SeasonalNaive.ahead(&cells, 2, 3), [Some(1.0), Some(7.0), Some(1.0)]);
    }

    #[test]
    fn a_trial_counts_what_is_known() {
        let first = Period::month(2020, 1).expect("a month");
        let truth = Truth {
            periods: (0..4).map(|t| first.offset(t)).collect(),
            cells: vec![Some(1.0), Some(2.0), None, Some(4.0)],
            season: 12,
        };
        let trial =
            Trial::new(&truth, &[0, 1], &[vec![Some(1.0), Some(9.0), Some(3.0)], vec![None, Some(2.0)]]);
        let all = trial.accuracy(None).expect("pairs");
        assert_eq!((all.count, all.rmse), (3, (1.0_f64 / 3.0 + 1.0 / 3.0 + 4.0 / 3.0).sqrt()));
        assert!((trial.at(1, None).expect("a pair").mae - 2.0).abs() < 1e-15);
        assert_eq!(trial.squares(), [vec![Some(1.0), None, Some(1.0)], vec![None, Some(4.0)]]);
    }
}
