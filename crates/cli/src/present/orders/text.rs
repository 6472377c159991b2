//! Orders of a model in words and a table.

use kandrel_core::arima::{Level, Model, SECOND_STAGE};
use kandrel_core::identify::SearchMethod;

use super::facts::{CandidateResult, NearModel, OrdersResult, RivalResult, SuggestedModel};
use crate::call::{Call, Name};
use crate::document::{Align, Cell, Document, Table};
use crate::present::warning::letter;
use crate::wording;

/// The finding in one sentence.
pub fn answer(result: &OrdersResult) -> String {
    let Some(chosen) = result.candidates.iter().find(|one| one.model == result.chosen) else {
        return format!("{} has no model.", result.series);
    };
    let many = format!("{} models by {}", result.searched, result.criterion.name());
    let named = format!("{}{}", result.chosen, nickname(&result.chosen));
    if let (Some(warning), Some(sound)) = (chosen.warnings.first(), result.sound_delta) {
        return format!(
            "{}: {named} is the best of {many}, though {warning}: the best without a warning is {sound:.1} behind.",
            result.series
        );
    }
    let first = result.candidates.iter().min_by(|a, b| a.delta.total_cmp(&b.delta));
    if let Some(first) = first.filter(|first| first.model != result.chosen) {
        let why = first.warnings.first().map_or("it has warnings".to_owned(), ToString::to_string);
        return format!(
            "{}: {named} is the best of {many} without a warning; {} has a smaller {}, but {why}.",
            result.series,
            first.model,
            result.criterion.name()
        );
    }
    let others = result.candidates.iter().filter(|one| one.model != result.chosen);
    let next = others.min_by(|a, b| a.delta.total_cmp(&b.delta));
    let behind = next.map_or(String::new(), |next| format!("; {} is {:.1} behind", next.model, next.delta));
    format!("{}: {named} is the best of {many}{behind}.", result.series)
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
    document.paragraph(legend(result));
    document.list("Reading", reading(result));
    document.commands("Next", next(result, call));
    document
}

fn legend(result: &OrdersResult) -> String {
    let restricted = if result.with.is_empty() {
        ""
    } else {
        ", of the restricted likelihood, which does not favour moving averages beside estimated regressors"
    };
    format!(
        "Δ{}: above the best{restricted} (two or less: about as good). White noise: p-value of Ljung-Box for the \
         residuals. Warnings: C factors all but cancel, A an autoregressive root near one, M a moving-average root near \
         one; such models come last and are not chosen unless all others are more than 10 behind.",
        result.criterion.name()
    )
}

fn table(result: &OrdersResult) -> Table {
    let letters =
        |one: &CandidateResult| one.warnings.iter().map(|own| letter(*own)).collect::<Vec<_>>().join(" ");
    Table::of(&result.candidates)
        .text("", |one| if one.model == result.chosen { "→" } else { "" })
        .text("Model", |one| one.model.clone())
        .number(result.criterion.name(), 2, |one| result.criterion.known(&one.criteria))
        .number(format!("Δ{}", result.criterion.name()), 2, |one| one.delta)
        .number("log L", 2, |one| one.log_likelihood)
        .column("White noise", Align::Decimal, |one| one.white_noise_p.map_or(Cell::Missing, Cell::PValue))
        .text("Warnings", |one| letters(one))
        .table()
}

/// Which treatments were compared, and what decided.
pub fn compared(rivals: &[RivalResult]) -> Option<String> {
    let (first, others) = rivals.split_first().filter(|(_, others)| !others.is_empty())?;
    let beside = |own: &RivalResult| match own.with.len() {
        0 => String::new(),
        1..=2 => format!(" beside {}", own.with.join(", ")),
        many => format!(" beside {many} regressors"),
    };
    let told = |own: &RivalResult| {
        let error = own.rolling_mae.map_or("none".to_owned(), wording::short);
        let probability = wording::probability(own.probability);
        format!("{}{} {error} (probability {probability})", own.model, beside(own))
    };
    let likely = others.iter().max_by(|a, b| a.probability.total_cmp(&b.probability));
    let against = likely.filter(|own| own.probability > first.probability).map_or_else(String::new, |own| {
        format!(
            ". The first forecasts better, so d = {}, D = {} is taken, although d = {}, D = {} is more probable",
            first.d, first.seasonal, own.d, own.seasonal
        )
    });
    let others: Vec<String> = others.iter().map(told).collect();
    Some(format!(
        "The assessment leaves other differences open, so their best models were compared by their mean absolute errors \
         from rolling origins: {}; {}{against}.",
        told(first),
        others.join("; ")
    ))
}

fn reading(result: &OrdersResult) -> Vec<String> {
    let mut lines = result.evidence.clone();
    lines.extend(compared(&result.rivals));
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
