//! A fitted model in words and tables.

use kandrel_core::arima::ModelWarning;

use super::facts::{FitResult, Mismatch, ParameterResult, RootResult};
use crate::call::{Call, Name};
use crate::document::{Align, Document, Table, TableCell};
use crate::present::diagnosis::DiagnosisResult;
use crate::wording;
use crate::wording::number;
use crate::wording::{heads, titles};

/// The finding in one sentence.
pub fn answer(result: &FitResult) -> String {
    let rejected = |name: &str| {
        result
            .residual_tests
            .iter()
            .find(|test| test.test == name)
            .filter(|test| test.decision.is_rejection())
    };
    let subject = format!("{} {}{}", result.series, result.model, wording::with_terms(&result.with));
    let mismatch = result.mismatches.first().map(|one| mismatch(*one, result));
    if let Some(test) = rejected("ljung_box") {
        return format!(
            "{subject} is misspecified: its residuals are autocorrelated (Ljung-Box, {}){}.",
            wording::p_equals(test.p_value),
            mismatch.as_deref().unwrap_or_default().replacen(", but", ", and", 1)
        );
    }
    let but = match result.warnings.first() {
        _ if mismatch.is_some() => mismatch.as_deref().unwrap_or_default(),
        Some(ModelWarning::Cancelling) => {
            ", but its AR and MA polynomials have near common factors: compare a smaller model"
        }
        Some(ModelWarning::UnitRoot) => {
            ", but an autoregressive root is near unity: consider one more difference"
        }
        Some(ModelWarning::Overdifferenced) => {
            ", but a moving-average root is near unity, which suggests over-differencing"
        }
        None => "",
    };
    match (rejected("mcleod_li"), but) {
        (Some(_), "") => format!(
            "{subject} leaves no residual autocorrelation, but the residual variance changes over time \
                                   (McLeod-Li)."
        ),
        (_, but) => format!("{subject} leaves no residual autocorrelation{but}."),
    }
}

/// What the model does against the joint assessment, as a clause.
fn mismatch(one: Mismatch, result: &FitResult) -> String {
    let Some(own) = &result.diagnosis else {
        return String::new();
    };
    let (d, seasonal) = (own.integration, own.seasonal_integration.unwrap_or(0));
    let calls = format!("(probability {})", own.probability());
    match one {
        Mismatch::Overdifferenced => format!(", but it is overdifferenced: the series has d = {d} {calls}"),
        Mismatch::SeasonallyOverdifferenced => {
            format!(
                ", but it is overdifferenced: the series has no seasonal unit roots, D = {seasonal} {calls}"
            )
        }
        Mismatch::Underdifferenced => format!(", but it leaves a unit root: the series has d = {d} {calls}"),
        Mismatch::SeasonallyUnderdifferenced => {
            format!(", but it leaves seasonal unit roots: the series has D = {seasonal} {calls}")
        }
        Mismatch::NoDrift => ", but it leaves out the drift of the series: add +drift".to_owned(),
        Mismatch::NoTrend => ", but it leaves out the trend of the series: add --with trend".to_owned(),
    }
}

/// The result as a document.
pub fn document(result: &FitResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    let lost = if result.lost_to_differences > 0 {
        format!(", {} dropped because of differences", result.lost_to_differences)
    } else {
        String::new()
    };
    document.paragraph(format!("{}{lost}; exact maximum likelihood.", result.sample));
    document.paragraphs(result.diagnosis.iter().map(DiagnosisResult::line));
    if !result.parameters.is_empty() {
        document.table(parameter_table(result));
    }
    document.paragraph(format!(
        "{}, e with a variance of {}.",
        result.polynomials.equation,
        wording::short(result.sigma2)
    ));
    let aicc = result.criteria.aicc.map_or(String::new(), |aicc| format!(", AICc {}", number(aicc, 2)));
    document.paragraph(format!(
        "log L {}, AIC {}{aicc}, BIC {}, HQ {} (comparable for the same series and differences only).",
        number(result.log_likelihood, 3),
        number(result.criteria.aic, 2),
        number(result.criteria.bic, 2),
        number(result.criteria.hq, 2)
    ));
    document.detail("residual tests", |inner| inner.table(test_table(result)));
    document.interpretation(reading(result));
    document.commands(titles::NEXT, next(result, call));
    document
}

fn parameter_table(result: &FitResult) -> Table {
    let cell = |one: &ParameterResult, value: Option<f64>| {
        TableCell::number(value, if one.estimate.abs() >= 100.0 { 2 } else { 4 })
    };
    Table::of(&result.parameters)
        .text(heads::PARAMETER, |one| one.name.clone())
        .column(heads::ESTIMATE, Align::Decimal, |one| cell(one, Some(one.estimate)))
        .column(heads::STD_ERROR, Align::Decimal, |one| cell(one, one.std_error))
        .number(heads::Z, 2, |one| one.z)
        .column(heads::P, Align::Decimal, |one| TableCell::p_value(one.p_value))
        .column(heads::INTERVAL_FROM, Align::Decimal, |one| cell(one, one.low))
        .column(heads::INTERVAL_TO, Align::Decimal, |one| cell(one, one.high))
        .table()
}

fn test_table(result: &FitResult) -> Table {
    Table::of(&result.residual_tests)
        .text(heads::RESIDUALS, |test| test.name.clone())
        .number(heads::STAT, 2, |test| test.statistic)
        .column(heads::P, Align::Decimal, |test| TableCell::p_value(test.p_value))
        .text(heads::MEANING, |test| test.meaning)
        .table()
}

/// The tests of the residuals in one sentence.
fn residuals(result: &FitResult) -> String {
    let each = result
        .residual_tests
        .iter()
        .map(|test| format!("{}, {}", test.meaning, wording::p_equals(test.p_value)));
    format!("Residuals: {}.", each.collect::<Vec<_>>().join("; "))
}

fn reading(result: &FitResult) -> Vec<String> {
    let mut lines = vec![residuals(result)];
    if let (Some(mean), Some(intercept), true) = (result.mean, result.intercept, result.with.is_empty()) {
        lines.push(format!(
            "The mean of the series is {}; the intercept is {}. The intercept equals the mean times the \
              autoregressive polynomial at one.",
            wording::short(mean),
            wording::short(intercept)
        ));
    }
    let nearest = |list: &[RootResult]| list.iter().map(|root| root.modulus).fold(f64::INFINITY, f64::min);
    for (name, list, regular, warning) in [
        ("autoregressive", &result.roots.ar, "stationary", ModelWarning::UnitRoot),
        ("moving-average", &result.roots.ma, "invertible", ModelWarning::Overdifferenced),
    ] {
        if list.is_empty() {
            continue;
        }
        lines.push(if result.warnings.contains(&warning) {
            let why = if warning == ModelWarning::UnitRoot { "a further difference" } else { "over-differencing" };
            format!(
                "The smallest modulus of the {name} roots is {:.4}, on or near the unit circle: the model is hardly \
                 {regular}, which suggests {why}.",
                nearest(list)
            )
        } else {
            format!(
                "Smallest modulus of the {name} roots: {:.3}; the model is {regular}.",
                nearest(list)
            )
        });
    }
    if result.parameters.iter().any(|one| one.std_error.is_none()) {
        lines.push(
            "The likelihood has no interior maximum at these estimates; standard errors are not available."
                .to_owned(),
        );
    }
    let small: Vec<String> = result
        .parameters
        .iter()
        .filter(|one| one.p_value.is_some_and(|p| p > result.alpha))
        .map(|one| one.name.clone())
        .collect();
    if !small.is_empty() {
        lines.push(format!(
            "Not significantly different from zero: {}; consider a model without.",
            wording::first_few(&small)
        ));
    }
    if let Some(first) = result.missing.first() {
        lines.push(format!(
            "{} estimated by the model from both sides, for example {}: {} (standard error {}).",
            wording::count(result.missing.len(), "missing value"),
            first.period,
            wording::short(first.estimate),
            wording::short(first.std_error)
        ));
    }
    if let Some(accuracy) = &result.accuracy {
        let share = accuracy.mape.map_or(String::new(), |mape| format!(", MAPE {} %", number(mape, 2)));
        let against = accuracy.mase.map_or(String::new(), |mase| format!(", MASE {}", number(mase, 2)));
        lines.push(format!(
            "In-sample one-step errors: MAE {}{share}{against}. Out-of-sample errors are usually larger.",
            wording::short(accuracy.mae)
        ));
    }
    lines
}

fn next(result: &FitResult, typed: &Call) -> Vec<Call> {
    let of_model =
        |name| typed.next(name, [&result.series]).with("model", &result.model).keeping(typed, &["with"]);
    vec![
        of_model(Name::Forecast),
        of_model(Name::Fit).keeping(typed, &["alpha"]).with("figure", "residuals.svg"),
        typed.next(Name::Outliers, [&result.series]),
    ]
}
