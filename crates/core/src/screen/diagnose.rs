//! The whole diagnosis of one series.

use crate::num::scale::InvalidSeries;
use thiserror::Error;

use crate::arima::{Model, diagnose};
use crate::diagnosis::Diagnosis;
use crate::identify::{IdentifyOptions, identify};
use crate::outlier::{Method, OutlierOptions, find};
use crate::regressor::Regressors;
use crate::series::Series;
use crate::shape::{AdvisedTransformation, Transformation, TransformationAdvice, advised_transformation};
use crate::unitroot::UnitRootError;
use crate::verdict::{AssessOptions, Class, Confidence, assess};

/// The fewest observations of a series that is screened.
const MIN_OBSERVATIONS_SCREENED: usize = 20;
/// Residuals are called autocorrelated below this.
const LEVEL: f64 = 0.01;
/// More outliers than this share of a series want a look.
const MANY_ODD: f64 = 0.05;

/// Options of a batch diagnosis.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ScreenOptions {
    /// Observations in a season; 1 for none.
    pub season: usize,
    /// Without a model and outliers.
    pub quick: bool,
}

/// Why a person should look.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum ReviewReason {
    /// The verdict is inconclusive or of low confidence.
    Unsure,
    /// The level or the slope breaks.
    Break,
    /// Long memory.
    LongMemory,
    /// It has to be differenced twice.
    Twice,
    /// The variance grows with the level, but values that are not positive have no logarithm.
    IncreasingNonpositive,
    /// Outliers, and that number of that they are more than single ones.
    ManyOdd,
    /// The residuals of the model are autocorrelated.
    NotWhite,
    /// Every model has roots that speak against it.
    DoubtfulModel,
    /// No model could be estimated.
    NoModel,
}

/// The diagnosis.
#[derive(Debug, Clone, PartialEq)]
pub struct Screened {
    /// Length.
    pub observations: usize,
    /// What stabilises its variance; everything after it is of the transformed series.
    pub transformation: Transformation,
    /// The whole assessment.
    pub diagnosis: Diagnosis,
    /// The model that was chosen.
    pub model: Option<ScreenedModel>,
    /// Places of outliers; none where they were not looked for.
    pub outliers: Option<Vec<usize>>,
    /// In order, each once.
    pub flags: Vec<ReviewReason>,
}

/// The model of a screened series.
#[derive(Debug, Clone, PartialEq)]
pub struct ScreenedModel {
    /// Its orders.
    pub model: Model,
    /// The deterministic terms that the verdict calls for.
    pub regressors: Regressors,
    /// Ljung-Box p-value of its residuals.
    pub white_noise_p: Option<f64>,
}

/// Why a series cannot be screened.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum ScreenError {
    /// A series that nothing can be done with.
    #[error(transparent)]
    InvalidSeries(#[from] InvalidSeries),
    /// The verdict has no answer.
    #[error(transparent)]
    Verdict(#[from] UnitRootError),
}

/// Transform, order of integration, kind, model, outliers, and whether a person should look.
///
/// # Method
/// The relation of variance and level decides on logarithms or Box-Cox; of the result, [`assess`] gives the verdict, [`identify`]
/// a model by `AICc`, and [`find`] outliers, with the likelihood among its ways. Every part keeps its own failure
/// to itself.
///
/// # Input
/// A series without gaps, at least 20 values.
///
/// # Errors
/// [`ScreenError`].
pub fn screen(series: &Series, options: &ScreenOptions) -> Result<Screened, ScreenError> {
    let y = series.values.as_slice();
    let (observations, season) = (y.len(), options.season.max(1));
    if observations < MIN_OBSERVATIONS_SCREENED {
        return Err(ScreenError::InvalidSeries(InvalidSeries::TooShort {
            observations,
            needed: MIN_OBSERVATIONS_SCREENED,
        }));
    }
    let mut flags = Vec::new();
    let AdvisedTransformation { transformation, spread } = advised_transformation(y, season);
    if spread.is_some_and(|found| found.advice == TransformationAdvice::IncreasingNonpositive) {
        flags.push(ReviewReason::IncreasingNonpositive);
    }
    let x = transformation.apply(y);
    let assessment = assess(&x, &AssessOptions { season, ..AssessOptions::default() })?;
    let diagnosis = Diagnosis::from_assessment(&x, season, assessment);
    let verdict = &diagnosis.assessment.verdict;
    let unsure = verdict.class == Class::Inconclusive || verdict.confidence == Confidence::Low;
    flags.extend(
        [
            (unsure, ReviewReason::Unsure),
            (verdict.class == Class::TrendBreak, ReviewReason::Break),
            (verdict.fractional_d.is_some(), ReviewReason::LongMemory),
            (verdict.integration >= 2, ReviewReason::Twice),
        ]
        .into_iter()
        .filter(|(holds, _)| *holds)
        .map(|(_, flag)| flag),
    );
    let mut screened =
        Screened { observations, transformation, diagnosis, model: None, outliers: None, flags };
    if !options.quick {
        screened.look_for_outliers(&x, season);
        screened.choose_model(Series { values: x, ..series.clone() }, season);
    }
    screened.flags.sort_unstable();
    screened.flags.dedup();
    Ok(screened)
}

impl Screened {
    fn look_for_outliers(&mut self, x: &[f64], season: usize) {
        let methods = Method::ALL.into_iter().filter(|one| season > 1 || *one != Method::Seasonal).collect();
        let Ok(found) = find(x, &OutlierOptions { season, methods }) else {
            return;
        };
        let places: Vec<usize> = found.marked().map(|one| one.place).collect();
        if places.len() as f64 > MANY_ODD * x.len() as f64 {
            self.flags.push(ReviewReason::ManyOdd);
        }
        self.outliers = Some(places);
    }

    fn choose_model(&mut self, x: Series, season: usize) {
        let options = IdentifyOptions { season, only_choice: true, ..IdentifyOptions::default() };
        let diagnosis = Some(self.diagnosis.clone());
        let found = identify(&x.into(), Regressors::default(), diagnosis, &options, |_, _| {}).ok();
        let Some((found, best)) = found.as_ref().and_then(|found| Some((found, found.chosen()?))) else {
            self.flags.push(ReviewReason::NoModel);
            return;
        };
        let fit = best.fit(&found.data).ok();
        let white = fit.and_then(|fit| diagnose(&fit, season).ljung_box).map(|outcome| outcome.p_value);
        if white.is_some_and(|p| p < LEVEL) {
            self.flags.push(ReviewReason::NotWhite);
        }
        if !best.warnings.is_empty() {
            self.flags.push(ReviewReason::DoubtfulModel);
        }
        let regressors = found.regressors.clone();
        self.model = Some(ScreenedModel { model: best.model, regressors, white_noise_p: white });
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn undated(values: &[f64]) -> Series {
        Series::undated("x", values.to_vec())
    }

    const MONTHLY: ScreenOptions = ScreenOptions { season: 12, quick: false };

    #[test]
    fn a_growing_walk_is_logged_differenced_and_modelled() {
        let mut level = 4.0;
        let y: Vec<f64> = NormalStream::new(9, 0)
            .take(240)
            .iter()
            .map(|e| {
                level += 0.01 + 0.05 * e;
                f64::exp(level)
            })
            .collect();
        let found = screen(&undated(&y), &MONTHLY).expect("long enough");
        assert_eq!(found.transformation, Transformation::Logarithm);
        assert_eq!(found.diagnosis.assessment.verdict.integration, 1);
        let own = found.model.expect("a model");
        assert_eq!((own.model.differences, own.regressors.is_empty()), (1, true));
        assert!(own.white_noise_p.expect("tested") > 0.01);
        let quick = screen(&undated(&y), &ScreenOptions { quick: true, ..MONTHLY }).expect("long enough");
        assert!(quick.model.is_none() && quick.outliers.is_none());
        assert_eq!(quick.diagnosis, found.diagnosis);
    }

    #[test]
    fn a_shifted_level_and_an_odd_value_are_seen() {
        let e = NormalStream::new(10, 0).take(200);
        let mut y: Vec<f64> = e.iter().enumerate().map(|(t, e)| if t >= 90 { 6.0 + e } else { *e }).collect();
        y[40] += 9.0;
        let found = screen(&undated(&y), &ScreenOptions { season: 1, quick: false }).expect("long enough");
        assert!(found.outliers.as_ref().expect("looked for").contains(&40));
        assert!(found.flags.contains(&ReviewReason::Break), "{:?}", found.flags);
        let own = found.model.expect("a model");
        assert_eq!(own.regressors.terms(), ["step=91"]);
    }

    #[test]
    fn what_cannot_be_screened_says_why() {
        assert_eq!(
            screen(&undated(&[1.0; 10]), &MONTHLY),
            Err(ScreenError::InvalidSeries(InvalidSeries::TooShort { observations: 10, needed: 20 }))
        );
        assert_eq!(
            screen(&undated(&[1.0; 60]), &MONTHLY),
            Err(ScreenError::Verdict(UnitRootError::InvalidSeries(InvalidSeries::Constant)))
        );
    }
}
