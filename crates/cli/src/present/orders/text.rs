//! Orders of a model in words and a table.

use kandrel_core::arima::SECOND_STAGE;
use kandrel_core::identify::SearchMethod;

use super::facts::{CandidateResult, NearModel, OrdersResult, SuggestedModel};
use crate::call::{Call, Name};
use crate::document::{Align, Cell, Document, Table};
use crate::present::warning::letter;
use crate::wording;

/// The finding in one sentence.
pub fn answer(result: &OrdersResult) -> String {
    let first = result.candidates.first();
    let next = result.candidates.iter().find(|one| one.model != result.chosen);
    let Some(first) = first else {
        return format!("{} has no model.", result.series);
    };
    let many = format!("{} models by {}", result.searched, result.criterion);
    if first.model != result.chosen {
        let why = first.warnings.first().map_or("it has doubts".to_owned(), ToString::to_string);
        return format!(
            "{}: {} is the best of {many} that nothing speaks against; {} stands before it, but {why}.",
            result.series, result.chosen, first.model
        );
    }
    if let (Some(warning), Some(sound)) = (first.warnings.first(), result.sound_delta) {
        return format!(
            "{}: {} is the best of {many}, though {}: the best that nothing speaks against is {sound:.1} behind.",
            result.series, result.chosen, warning
        );
    }
    let behind = next.map_or(String::new(), |next| format!("; {} is {:.1} behind", next.model, next.delta));
    format!("{}: {} is the best of {many}{behind}.", result.series, result.chosen)
}

/// The result as a document.
pub fn document(result: &OrdersResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    let season = match result.season {
        0 | 1 => ", no season".to_owned(),
        season => format!(", D = {}, season of {season}", result.seasonal),
    };
    let how = match result.search {
        SearchMethod::Whole => "every model by exact maximum likelihood".to_owned(),
        SearchMethod::TwoStages => format!(
            "every model by exact maximum likelihood with missing values and regressors held at the estimates of one \
             model, the {SECOND_STAGE} best again with their own"
        ),
        SearchMethod::Stepwise => "a stepwise search, each model by exact maximum likelihood".to_owned(),
    };
    document.paragraph(format!("{}; d = {}{season}; {how}.", result.sample, result.d));
    document.table(table(result));
    document.paragraph(format!(
        "Above best: {} less that of the best (two or less: about as good). White noise: p of Ljung-Box for the \
         residuals. Against: C factors all but cancel, A an autoregressive root near one, M a moving-average root near \
         one; such models are not chosen unless all others are more than 10 behind.",
        result.criterion
    ));
    document.list("Reading", reading(result));
    document.commands("Next", next(result, call));
    document
}

fn table(result: &OrdersResult) -> Table {
    let letters =
        |one: &CandidateResult| one.warnings.iter().map(|own| letter(*own)).collect::<Vec<_>>().join(" ");
    Table::of(&result.candidates)
        .text("", |one| if one.model == result.chosen { "→" } else { "" })
        .text("Model", |one| one.model.clone())
        .number("Above best", 2, |one| one.delta)
        .number("log L", 2, |one| one.log_likelihood)
        .column("White noise", Align::Decimal, |one| one.white_noise_p.map_or(Cell::Missing, Cell::PValue))
        .text("Against", |one| letters(one))
        .table()
}

fn reading(result: &OrdersResult) -> Vec<String> {
    let mut lines = result.evidence.clone();
    if !result.with.is_empty() {
        lines.push(format!(
            "Beside every model stand {}; forecasts carry them on.",
            wording::first_few(&result.with)
        ));
    }
    let named: Vec<String> = result
        .suggested
        .iter()
        .map(|SuggestedModel { model, place }| match place {
            Some(place) => format!("{model} (place {place})"),
            None => format!("{model} (not ranked)"),
        })
        .collect();
    if result.with.is_empty() {
        lines.push(format!(
            "A reader of ACF and PACF after the differences would write down {}.",
            wording::first_few(&named)
        ));
    }
    if let Some(NearModel { model, delta: behind }) = &result.simplest {
        lines.push(format!(
            "The simplest model within two of it is {model}, {behind:.1} behind: take that one if the difference does \
             not matter."
        ));
    }
    let own = result.candidates.iter().find(|one| one.model == result.chosen);
    match own.and_then(|one| one.white_noise_p) {
        Some(p) if p <= 0.05 => lines.push(
            "Its residuals are still autocorrelated: look for an odd value, a break, or wider limits (--limit).".to_owned(),
        ),
        Some(_) => lines.push("Its residuals look like white noise.".to_owned()),
        None => {}
    }
    lines
}

fn next(result: &OrdersResult, typed: &Call) -> Vec<Call> {
    let of_model = |name| {
        let call = typed.next(name, [&result.series]).with("model", &result.chosen);
        call.with_some("with", wording::term_list(&result.with))
    };
    vec![of_model(Name::Fit), of_model(Name::Forecast)]
}
