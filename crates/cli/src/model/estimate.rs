//! The estimates of a named model, or of the best that the identification finds.

use kandrel_core::arima::{Data, Fit, Model, WrittenModel, fit};
use kandrel_core::identify::{self, Identified, IdentifyOptions, identify};
use kandrel_core::regressor::Regressors;
use kandrel_core::series::SeriesWithGaps;

use super::correlation::diagnosis;
use super::refusal::{fit_refusal, identify_refusal, missing_regressor};
use crate::error::CliError;
use crate::present::diagnosis::DiagnosisResult;
use crate::progress::Progress;
use crate::read::Dataset;

/// A model, or the best of a search.
#[derive(Debug, Clone, Copy)]
pub enum ModelOrAuto {
    Named(WrittenModel),
    Auto,
}

/// A model in the notation of the literature.
pub fn model(text: &str) -> Result<WrittenModel, String> {
    WrittenModel::parse(text).map_err(|error| error.to_string())
}

/// A written model on data of a season.
pub fn of_season(model: WrittenModel, season: usize) -> Result<Model, CliError> {
    model.with_season(season).map_err(|error| {
        CliError::call(format!("--model: {error}")).advise("write it as (0,1,1)(0,1,1)12, or give --season N")
    })
}

/// Reads one of them.
pub fn model_or_auto(text: &str) -> Result<ModelOrAuto, String> {
    if text.trim().eq_ignore_ascii_case("auto") {
        Ok(ModelOrAuto::Auto)
    } else {
        model(text).map(ModelOrAuto::Named)
    }
}

/// A model with its estimates and its regressors.
pub struct Estimated {
    pub data: Data,
    pub fit: Fit,
    pub regressors: Regressors,
    /// Where it was found by a search.
    pub search: Option<Search>,
}

/// The search that found a model.
pub struct Search {
    pub found: Identified,
    /// The series that the verdict is of.
    pub series: SeriesWithGaps,
}

impl Estimated {
    /// The models of the search, where there was one.
    pub fn found(&self) -> Option<&Identified> {
        self.search.as_ref().map(|search| &search.found)
    }

    /// The joint assessment of the series: that of the search, where there was one.
    pub fn diagnosis(&self, series: &SeriesWithGaps, season: usize) -> Option<DiagnosisResult> {
        let found = self.search.as_ref().and_then(|search| search.found.diagnosis.as_ref());
        match found {
            Some(own) => Some(DiagnosisResult::of(series, own)),
            None => diagnosis(series, season),
        }
    }
}

/// The candidate models of a series, with a progress bar unless it is to be `quiet`.
pub fn identified(
    dataset: &Dataset,
    series: &SeriesWithGaps,
    given: Regressors,
    options: &IdentifyOptions,
    quiet: bool,
) -> Result<Identified, CliError> {
    let progress = Progress::new("models", 0, quiet);
    let reach = |done: usize, all: usize| progress.reach_of(done as u64, all as u64);
    identify(series, given, None, options, reach).map_err(|error| identify_refusal(dataset, series, error))
}

/// Estimates the model asked for, or the best of a search.
pub fn estimated(
    dataset: &Dataset,
    series: &SeriesWithGaps,
    asked: ModelOrAuto,
    regressors: &Regressors,
    season: usize,
    quiet: bool,
) -> Result<Estimated, CliError> {
    let refused = |error, regressors: &Regressors| fit_refusal(dataset, series, &regressors.names(), error);
    match asked {
        ModelOrAuto::Named(model) => {
            let data = identify::data(series, regressors).map_err(|error| missing_regressor(&error))?;
            let fit = fit(&data, of_season(model, season)?).map_err(|error| refused(error, regressors))?;
            Ok(Estimated { data, fit, regressors: regressors.clone(), search: None })
        }
        ModelOrAuto::Auto => {
            let options = IdentifyOptions { season, only_choice: true, ..IdentifyOptions::default() };
            let found = identified(dataset, series, regressors.clone(), &options, quiet)?;
            let best = found.chosen().ok_or_else(|| CliError::computation("no model was found"))?;
            let fit = best.fit(&found.data).map_err(|error| refused(error, &found.regressors))?;
            let (data, regressors) = (found.data.clone(), found.regressors.clone());
            Ok(Estimated { data, fit, regressors, search: Some(Search { found, series: series.clone() }) })
        }
    }
}
