//! Forecasts from several origins of a series whose end is held out, and their errors.

use std::collections::BTreeMap;
use std::sync::Arc;

use thiserror::Error;

use super::ahead::{AheadError, AheadOptions, Estimates, ahead};
use super::benchmark::Benchmark;
use crate::arima::{Coefficients, Fit, FitError, Known, fit, fit_at, fit_from};
use crate::identify;
use crate::predictive::{Accuracy, accuracy};
use crate::regressor::{MissingRegressor, Regressors};
use crate::time::Period;
use crate::transform::{EvaluateError, InverseError, Transformed};

/// A source of forecasts.
#[derive(Debug)]
pub enum Forecaster {
    /// A model of a series.
    Model(Arc<Modelled>),
    /// The average of the forecasts of several models, with weights that sum to one.
    Average(Vec<(f64, Arc<Modelled>)>),
    /// A benchmark forecast.
    Benchmark(Benchmark),
}

/// A model with the series that it is of.
#[derive(Debug)]
pub struct Modelled {
    /// All of it.
    pub target: Transformed,
    /// As it was known at the first origin.
    pub early: Transformed,
    /// Its regressors.
    pub regressors: Regressors,
    /// The estimates over all values.
    pub whole: Fit,
    /// Those of the first origin.
    pub first: Coefficients,
    /// The expression of the same series without its outliers replaced, where they were.
    pub plain: Option<String>,
}

/// The actual values of what is forecast.
#[derive(Debug)]
pub struct Actual {
    /// In order of time.
    pub periods: Vec<Period>,
    /// Own values in these periods.
    pub cells: Vec<Option<f64>>,
    /// Seasonal period.
    pub season: usize,
}

impl Actual {
    /// Of a series, over its own periods.
    pub fn of(target: &Transformed) -> Self {
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
    /// Estimated again.
    Reestimated,
    /// Those of the first origin.
    Fixed,
}

/// Forecasts from one origin, one a step ahead; none where a rule has none.
pub type Path = Vec<Option<f64>>;

/// Why there is no forecast from an origin.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum TrialError {
    /// The series cannot be computed from what was known.
    #[error(transparent)]
    Transform(#[from] EvaluateError),
    /// Its steps cannot be undone.
    #[error(transparent)]
    Undo(#[from] InverseError),
    /// A regressor has no value.
    #[error(transparent)]
    Regressor(#[from] MissingRegressor),
    /// The model cannot be estimated.
    #[error(transparent)]
    Fit(#[from] FitError),
    /// It has no forecast.
    #[error(transparent)]
    Ahead(#[from] AheadError),
}

impl Modelled {
    /// Forecasts from an origin. With fixed parameters the steps keep what they took from the data at the first
    /// origin as well.
    fn ahead(&self, last: Period, ahead_by: usize, parameters: Parameters) -> Result<Path, TrialError> {
        let model = self.whole.model;
        let target = match parameters {
            Parameters::Reestimated => self.target.known_until(last)?,
            Parameters::Fixed => self.early.until(last)?,
        };
        let data = identify::data(&target.series, &self.regressors)?;
        let fit = match parameters {
            Parameters::Reestimated => fit_from(&data, &self.first, model).or_else(|_| fit(&data, model)),
            Parameters::Fixed => fit_at(&data, &self.first, model),
        }?;
        let options = AheadOptions { ahead: ahead_by, transformed: false };
        let next = ahead(&target, &data, Estimates::Known(&Known::from(&fit)), &self.regressors, options)?;
        Ok(next.marginals.iter().map(|own| Some(own.quantile(0.5))).collect())
    }

    /// One-step errors inside the sample, on the original scale: their accuracy.
    pub fn in_sample(&self, scale: Option<f64>) -> Option<Accuracy> {
        let target = &self.target;
        let undoing = target.undoing().ok()?;
        let first = target.series.period(0);
        let start = (0..target.frame.length).find(|row| target.frame.period(*row) == first)?;
        let errors = self.whole.places.iter().zip(&self.whole.one_step_errors);
        let pair = |(place, error): (&usize, &f64)| {
            let row = start + place;
            let predicted = target.series.cells.get(*place).copied().flatten()? - error;
            Some((undoing.own_value(row)?, undoing.one_back(row, predicted)?))
        };
        accuracy(&errors.filter_map(pair).collect::<Vec<_>>(), scale)
    }
}

impl Benchmark {
    /// One-step errors inside the sample: their accuracy.
    pub fn in_sample(self, actual: &Actual, scale: Option<f64>) -> Option<Accuracy> {
        let first = if self == Self::SeasonalNaive { actual.season } else { 2 };
        let pair = |t: usize| {
            let own = self.ahead(actual.cells.get(..t)?, actual.season, 1).first().copied().flatten()?;
            Some(((*actual.cells.get(t)?)?, own))
        };
        accuracy(&(first..actual.cells.len()).filter_map(pair).collect::<Vec<_>>(), scale)
    }
}

impl Forecaster {
    /// Forecasts from an origin (a place of the actual values).
    ///
    /// # Errors
    /// [`TrialError`].
    pub fn ahead(
        &self,
        actual: &Actual,
        origin: usize,
        ahead: usize,
        parameters: Parameters,
    ) -> Result<Path, TrialError> {
        match self {
            Self::Benchmark(rule) => Ok(rule.ahead(&actual.cells[..=origin], actual.season, ahead)),
            Self::Model(own) => own.ahead(actual.periods[origin], ahead, parameters),
            Self::Average(all) => {
                let path = |(weight, own): &(f64, Arc<Modelled>)| {
                    Ok((*weight, own.ahead(actual.periods[origin], ahead, parameters)?))
                };
                Ok(mean(&all.iter().map(path).collect::<Result<Vec<_>, TrialError>>()?, ahead))
            }
        }
    }
}

/// The weighted mean of several paths, step by step; none where one of them has none.
fn mean(paths: &[(f64, Path)], ahead: usize) -> Path {
    let at = |h: usize| paths.iter().map(|(weight, path)| Some(weight * (*path.get(h)?)?)).sum();
    (0..ahead).map(at).collect()
}

/// Forecasts from several origins with the actual values.
#[derive(Debug)]
pub struct Trial {
    /// For each origin, for each step ahead: actual value and forecast, where both are known.
    pairs: Vec<Vec<Option<(f64, f64)>>>,
}

impl Trial {
    /// Pairs paths with the actual values.
    pub fn new(actual: &Actual, origins: &[usize], paths: &[Path]) -> Self {
        let pair = |origin: usize, h: usize, own: Option<f64>| {
            Some((actual.cells.get(origin + h + 1).copied().flatten()?, own?))
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
    use crate::arima::Model;
    use crate::expr;
    use crate::series::{Column, Frame, Span};
    use crate::transform::evaluate_with_gaps;

    #[test]
    fn a_trial_counts_what_is_known() {
        let first = Period::month(2020, 1).expect("a month");
        let actual = Actual {
            periods: (0..4).map(|t| first.offset(t)).collect(),
            cells: vec![Some(1.0), Some(2.0), None, Some(4.0)],
            season: 12,
        };
        let paths = [vec![Some(1.0), Some(9.0), Some(3.0)], vec![None, Some(2.0)]];
        let trial = Trial::new(&actual, &[0, 1], &paths);
        let all = trial.accuracy(None).expect("pairs");
        assert_eq!((all.count, all.rmse), (3, (1.0_f64 / 3.0 + 1.0 / 3.0 + 4.0 / 3.0).sqrt()));
        assert!((trial.at(1, None).expect("a pair").mae - 2.0).abs() < 1e-15);
        assert_eq!(trial.squares(), [vec![Some(1.0), None, Some(1.0)], vec![None, Some(4.0)]]);
    }

    /// Sixty years of a series in one column.
    fn yearly(text: &str) -> Transformed {
        let values: Vec<f64> = (0..60).map(|t| 50.0 + f64::from(t) + 3.0 * f64::from(t * t % 7)).collect();
        let cells = values.iter().copied().map(Some).collect();
        let columns = vec![Column { name: "x".to_owned(), cells }];
        let frame = Frame { start: Period::year(1950), length: 60, columns, dates: None };
        let typed = expr::parse(text).expect("an expression");
        let series = evaluate_with_gaps(&typed, &frame, Span::default()).expect("values");
        Transformed { expression: typed.clone(), typed, frame, span: Span::default(), season: 1, series }
    }

    fn random_walk(text: &str) -> Modelled {
        let target = yearly(text);
        let data = identify::data(&target.series, &Regressors::default()).expect("no regressor");
        let whole = fit(&data, Model::parse("(0,1,0)").expect("a model")).expect("an estimate");
        let (early, first) = (target.clone(), whole.coefficients.clone());
        Modelled { target, early, regressors: Regressors::default(), whole, first, plain: None }
    }

    #[test]
    fn a_random_walk_forecasts_as_the_naive_rule_does_on_any_scale() {
        for text in ["x", "x:ln", "x:sqrt"] {
            let own = random_walk(text);
            let actual = Actual::of(&own.target);
            let model = Forecaster::Model(Arc::new(own));
            let naive = Forecaster::Benchmark(Benchmark::Naive);
            for parameters in [Parameters::Reestimated, Parameters::Fixed] {
                let own = model.ahead(&actual, 40, 3, parameters).expect("forecasts");
                let plain = naive.ahead(&actual, 40, 3, parameters).expect("forecasts");
                for (own, plain) in own.iter().zip(plain) {
                    let (own, plain) = (own.expect("a number"), plain.expect("a number"));
                    assert!((own - plain).abs() < 1e-9 * plain, "{text}: {own} {plain}");
                }
            }
        }
    }

    #[test]
    fn at_every_origin_the_estimates_are_those_of_a_fit_of_its_own() {
        let own = random_walk("x");
        let data = identify::data(&own.target.series, &Regressors::default()).expect("no regressor");
        let whole = fit(&data, Model::parse("(1,1,1)").expect("a model")).expect("an estimate");
        let own = Modelled { first: whole.coefficients.clone(), whole, ..own };
        let actual = Actual::of(&own.target);
        let (model, target) = (own.whole.model, own.target.clone());
        let candidate = Forecaster::Model(Arc::new(own));
        for origin in [30, 38, 46, 54] {
            let path = candidate.ahead(&actual, origin, 2, Parameters::Reestimated).expect("forecasts");
            let known = target.known_until(actual.periods[origin]).expect("values");
            let data = identify::data(&known.series, &Regressors::default()).expect("no regressor");
            let alone = fit(&data, model).expect("an estimate");
            let options = AheadOptions { ahead: 2, transformed: false };
            let estimates = Estimates::Known(&Known::from(&alone));
            let next = ahead(&known, &data, estimates, &Regressors::default(), options).expect("forecasts");
            for (own, alone) in path.iter().zip(&next.marginals) {
                let (own, alone) = (own.expect("a number"), alone.quantile(0.5));
                assert!((own - alone).abs() < 1e-5 * alone, "{origin}: {own} {alone}");
            }
        }
    }

    #[test]
    fn an_average_is_the_mean_of_the_paths_of_its_models() {
        let models = ["x", "x:ln"].map(|text| {
            let own = random_walk(text);
            let data = identify::data(&own.target.series, &Regressors::default()).expect("no regressor");
            let whole = fit(&data, Model::parse("(0,1,0)+drift").expect("a model")).expect("an estimate");
            Arc::new(Modelled { first: whole.coefficients.clone(), whole, ..own })
        });
        let actual = Actual::of(&models[0].target);
        let path = |of: Forecaster| of.ahead(&actual, 40, 3, Parameters::Reestimated).expect("forecasts");
        let [first, second] = models.clone().map(|own| path(Forecaster::Model(own)));
        let both = path(Forecaster::Average(models.map(|own| (0.5, own)).to_vec()));
        assert_ne!(first, second);
        for ((a, b), mean) in first.iter().zip(second).zip(both) {
            let (a, b) = (a.expect("a number"), b.expect("a number"));
            assert!((mean.expect("a number") - 0.5 * (a + b)).abs() < 1e-12 * a);
        }
        let [a, b] = [vec![Some(1.0), None], vec![Some(3.0), Some(1.0)]];
        assert_eq!(mean(&[(0.75, a), (0.25, b)], 2), [Some(1.5), None]);
    }

    #[test]
    fn errors_inside_the_sample_are_those_of_the_naive_rule() {
        let own = random_walk("x:ln");
        let actual = Actual::of(&own.target);
        let model = own.in_sample(None).expect("errors");
        let naive = Benchmark::Naive.in_sample(&actual, None).expect("errors");
        // The rule begins one value later.
        assert_eq!((model.count, naive.count), (59, 58));
        assert!((model.mae - naive.mae).abs() < 0.1 * naive.mae);
        assert_eq!(Benchmark::usual(1), [Benchmark::Naive, Benchmark::Drift]);
    }
}
