//! Orders of a model in words and a table.

use kandrel_core::arima::{Level, Model, SECOND_STAGE};
use kandrel_core::identify::SearchMethod;

use super::facts::{
    CandidateResult, NearModel, OrdersResult, RivalResult, SuggestedModel, too_many_parameters,
    without_season,
};
use crate::call::{Call, Name};
use crate::document::{Align, Document, Table, TableCell};
use crate::present::diagnosis::DiagnosisResult;
use crate::present::warning::letter;
use crate::wording;
use crate::wording::{heads, legends, titles};

/// The finding in one or two sentences.
pub fn answer(result: &OrdersResult) -> String {
    let Some(chosen) = result.candidates.iter().find(|one| one.model == result.chosen) else {
        return format!("{} has no model.", result.series);
    };
    let name = result.criterion.name();
    let named = format!("{}{}{}", result.chosen, wording::with_terms(&result.with), nickname(&result.chosen));
    let against = against_probability(&result.rivals).map_or_else(String::new, |why| format!(" {why}"));
    let restricted = if is_restricted(result) { " (restricted likelihood)" } else { "" };
    let lowest = format!(
        "{}: {named} has the lowest {name}{restricted} of {} models{}",
        result.series,
        result.searched,
        without_seasonality(result)
    );
    if let (Some(warning), Some(sound)) = (chosen.warnings.first(), result.sound_delta) {
        return format!(
            "{lowest}, but {warning}; the best model without a warning has an {name} {sound:.1} higher.{against}"
        );
    }
    let first = result.candidates.iter().min_by(|a, b| a.delta.total_cmp(&b.delta));
    if let Some(first) = first.filter(|first| first.model != result.chosen) {
        let why = first.warnings.first().map_or("it has warnings".to_owned(), ToString::to_string);
        return format!(
            "{lowest} without a warning; the {name} of {} is lower, but {why}.{against}",
            first.model
        );
    }
    let others = result.candidates.iter().filter(|one| one.model != result.chosen);
    let next = others.min_by(|a, b| a.delta.total_cmp(&b.delta));
    let next =
        next.map_or(String::new(), |next| format!("; that of {} is {:.1} higher", next.model, next.delta));
    format!("{lowest}{next}.{against}")
}

/// Seasonal terms of a series without seasonality, and what they gain.
fn without_seasonality(result: &OrdersResult) -> String {
    let is_seasonal = result.diagnosis.as_ref().is_none_or(DiagnosisResult::is_seasonal);
    result.unseasonal_delta.filter(|_| !is_seasonal).map_or_else(String::new, |delta| {
        format!(
            ", although no seasonality is detected (without seasonal terms it is {delta:.1} higher at least)"
        )
    })
}

/// Whether models are ranked by the restricted likelihood, as they are with regressors; the criterion of the ordinary one
/// would order them otherwise.
fn is_restricted(result: &OrdersResult) -> bool {
    !result.with.is_empty()
}

/// That the differences are not the most probable ones, and why.
fn against_probability(rivals: &[RivalResult]) -> Option<String> {
    let (first, others) = rivals.split_first()?;
    let probable = others.iter().max_by(|a, b| a.probability.total_cmp(&b.probability))?;
    (probable.probability > first.probability).then(|| {
        format!(
            "d = {}, D = {} is more probable ({}), but d = {}, D = {} forecasts better from rolling origins.",
            probable.d,
            probable.seasonal,
            wording::probability(probable.probability),
            first.d,
            first.seasonal
        )
    })
}

/// What a model is called in words.
fn nickname(model: &str) -> &'static str {
    let plain = |ma: usize, level: Level| Model { differences: 1, ma, season: 1, level, ..Model::default() };
    match Model::parse(model) {
        Ok(own) if own == plain(0, Level::None) => ", a random walk,",
        Ok(own) if own == plain(0, Level::Drift) => ", a random walk with drift,",
        Ok(own) if own == plain(1, Level::None) => ", the model of simple exponential smoothing,",
        _ => "",
    }
}

/// The result as a document.
pub fn document(result: &OrdersResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    let season = match result.season {
        0 | 1 => ", no seasonality".to_owned(),
        season => format!(", D = {}, seasonal period {season}", result.seasonal),
    };
    let how = match result.search {
        SearchMethod::Whole => "exact maximum likelihood".to_owned(),
        SearchMethod::TwoStages => format!(
            "exact maximum likelihood with missing values and regression coefficients from one model, the \
             {SECOND_STAGE} best models re-estimated"
        ),
        SearchMethod::Stepwise => "stepwise search, exact maximum likelihood".to_owned(),
    };
    document.paragraph(format!("{}; d = {}{season}; {how}.", result.sample, result.d));
    document.table(table(result));
    document.paragraph(legends::models(result.criterion.name(), is_restricted(result)));
    document.interpretation(reading(result));
    document.commands(titles::NEXT, next(result, call));
    document
}

fn table(result: &OrdersResult) -> Table {
    let letters =
        |one: &CandidateResult| one.warnings.iter().map(|own| letter(*own)).collect::<Vec<_>>().join(" ");
    let models = Table::of(&result.candidates)
        .text("", |one| if one.model == result.chosen { "→" } else { "" })
        .text(heads::MODEL, |one| one.model.clone());
    let models = if is_restricted(result) {
        models
    } else {
        models.number(result.criterion.name(), 2, |one| result.criterion.known(&one.criteria))
    };
    models
        .number(format!("Δ{}", result.criterion.name()), 2, |one| one.delta)
        .number(heads::LOG_L, 2, |one| one.log_likelihood)
        .column(heads::LJUNG_BOX_P, Align::Decimal, |one| TableCell::p_value(one.white_noise_p))
        .text(heads::WARNINGS, |one| letters(one))
        .table()
}

/// Which treatments were compared, and what decided.
pub fn compared(rivals: &[RivalResult]) -> Option<String> {
    let (first, others) = rivals.split_first().filter(|(_, others)| !others.is_empty())?;
    let of = |own: &RivalResult| {
        let error = own.rolling_mae.map_or("none".to_owned(), wording::short);
        let probability = wording::probability(own.probability);
        format!("{}{} {error} (probability {probability})", own.model, wording::with_terms(&own.with))
    };
    let others: Vec<String> = others.iter().map(of).collect();
    Some(format!(
        "The assessment leaves other differences or deterministic terms open; mean absolute errors of the best models from \
         rolling origins: {}; {}.",
        of(first),
        others.join("; ")
    ))
}

fn reading(result: &OrdersResult) -> Vec<String> {
    // What decided the differences first; what ACF and PACF show last.
    let (decided, patterns) = result.evidence.split_at(result.evidence.len().min(1));
    let own = result.candidates.iter().find(|one| one.model == result.chosen);
    let mut lines: Vec<String> = match &result.diagnosis {
        Some(own) => decided.iter().map(|answer| own.before_answer(&result.series, answer)).collect(),
        None => decided.to_vec(),
    };
    lines.extend(result.diagnosis.as_ref().and_then(|own| own.same_after_transformation(&result.series)));
    lines.extend(compared(&result.rivals));
    lines.extend(without_season(result.season, result.needed_for_season));
    lines.extend(own.and_then(|one| too_many_parameters(one.parameters, result.sample.observations)));
    match own.and_then(|one| one.white_noise_p) {
        Some(p) if p <= 0.05 => lines.push(
            "Its residuals are autocorrelated: check for outliers and breaks, or raise the limits (--limit)."
                .to_owned(),
        ),
        Some(_) => lines.push("No residual autocorrelation is detected.".to_owned()),
        None => {}
    }
    if let Some(NearModel { model, delta }) = &result.simplest {
        lines.push(format!(
            "The most parsimonious model within 2 of the minimum is {model} (Δ{} {delta:.1}).",
            result.criterion.name()
        ));
    }
    if result.with.is_empty() {
        lines.push(suggested(&result.suggested));
    }
    lines.extend_from_slice(patterns);
    lines
}

/// The models that autocorrelations suggest.
fn suggested(models: &[SuggestedModel]) -> String {
    let rank = |one: &SuggestedModel| match one.place {
        Some(place) => format!("{} (rank {place})", one.model),
        None => format!("{} (not ranked)", one.model),
    };
    let named: Vec<String> = models.iter().map(rank).collect();
    format!("ACF and PACF after differencing suggest {}.", wording::first_few(&named))
}

fn next(result: &OrdersResult, typed: &Call) -> Vec<Call> {
    let of_model = |name| {
        let call = typed.next(name, [&result.series]).with("model", &result.chosen);
        call.with_some("with", wording::term_list(&result.with))
    };
    let transformed = result.diagnosis.as_ref().filter(|own| own.transformation != "none").map(|own| {
        let series = wording::with_steps(&result.series, &[&own.transformation]);
        typed.next(Name::Orders, [series])
    });
    [of_model(Name::Fit), of_model(Name::Forecast)].into_iter().chain(transformed).collect()
}
