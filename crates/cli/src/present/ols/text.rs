//! A regression in words and tables.

use super::facts::{
    ALL_TOGETHER, Asked, CoefficientResult, ErrorsReason, LONGEST_IN_TABLE, OlsResult, RestrictionResult,
    rejected,
};
use crate::call::{Call, Name};
use crate::document::{Align, Block, Document, Rows, Table, TableCell};
use crate::present::diagnosis::{self, SeriesDiagnosis};
use crate::present::test_line::TestLine;
use crate::wording;
use crate::wording::{heads, number, p_equals, titles};

/// The sentence that answers.
pub fn answer(result: &OlsResult) -> String {
    let fit = format!("R² {}", number(result.r2, 3));
    if result.spurious {
        let why = match result.residual_root {
            Some(p) => format!("its residuals may have a unit root ({})", p_equals(p)),
            None => format!(
                "R² {} exceeds Durbin-Watson {}",
                number(result.r2, 2),
                number(result.durbin_watson, 2)
            ),
        };
        return format!("{} on these regressors may be a spurious regression: {why}.", result.target);
    }
    let slopes: Vec<&CoefficientResult> =
        result.coefficients.iter().filter(|line| !(result.has_constant && line.name == "constant")).collect();
    let matter: Vec<String> = slopes
        .iter()
        .filter(|line| line.of.p_value <= result.alpha)
        .map(|line| format!("{} ({})", line.name, wording::short(line.of.estimate).replace('-', "−")))
        .collect();
    let level = wording::percent(result.alpha);
    match matter.len() {
        0 if slopes.is_empty() => format!("{} is regressed on a constant only.", result.target),
        0 => format!("No regressor of {} is significant at {level} %; {fit}.", result.target),
        many if many == slopes.len() || many <= 6 => {
            let rest = if many < slopes.len() {
                format!(
                    "; {many} of {} regressors {} significant at {level} %",
                    slopes.len(),
                    if many == 1 { "is" } else { "are" }
                )
            } else {
                String::new()
            };
            format!("{} is associated with {}{rest}; {fit}.", result.target, wording::joined(&matter))
        }
        many => {
            format!(
                "{many} of {} regressors of {} are significant at {level} %; {fit}.",
                slopes.len(),
                result.target
            )
        }
    }
}

/// The result as a document.
pub fn document(result: &OlsResult, asked: &Asked<'_>) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(format!("{}. Standard errors: {}.", result.sample, errors_in_words(result)));
    document.table(coefficients(result));
    if result.errors_reason.is_some() {
        document.detail("confidence intervals", |inner| inner.table(intervals(result)));
    }
    document.paragraph(summary(result));
    if !result.restrictions.is_empty() {
        document.table(restrictions(result));
        document.paragraph(restriction_sentence(result));
    }
    diagnosis::section(&mut document, &result.diagnoses);
    document.detail("diagnostic tests", |inner| inner.table(tests(result)));
    document.blocks.push(Block::EvidenceLegend);
    document.interpretation(meanings(result, asked));
    document.commands(titles::NEXT, next(result, asked));
    document
}

/// The kind of the standard errors, and why it was chosen.
fn errors_in_words(result: &OlsResult) -> String {
    let kind = match result.errors.split_once('=') {
        Some((_, lags)) => format!("Newey-West with {lags} lags"),
        None if result.errors == "classical" => result.errors.clone(),
        None => result.errors.to_uppercase(),
    };
    match result.errors_reason {
        None => kind,
        Some(ErrorsReason::Autocorrelation) => {
            format!("{kind}, as the residuals are autocorrelated; classical ones for comparison")
        }
        Some(ErrorsReason::Heteroskedasticity) => {
            format!("{kind}, as the residuals are heteroskedastic; classical ones for comparison")
        }
    }
}

/// Coefficients with their robust standard errors first, the classical ones for comparison.
fn coefficients(result: &OlsResult) -> Table {
    if result.errors_reason.is_none() {
        return intervals(result);
    }
    let classical = |line: &CoefficientResult| line.classical.map(|own| cell(line, own.std_error));
    estimates(result)
        .column(heads::CLASSICAL, Align::Decimal, |line| classical(line).unwrap_or(TableCell::Missing))
        .p_value(heads::P, |line| line.classical.map(|own| own.p_value))
        .table()
}

/// Coefficients with their confidence intervals.
fn intervals(result: &OlsResult) -> Table {
    let from = format!("{} % from", wording::percent(1.0 - result.alpha));
    estimates(result)
        .column(from, Align::Decimal, |line| cell(line, line.of.low))
        .column(heads::INTERVAL_TO, Align::Decimal, |line| cell(line, line.of.high))
        .table()
}

/// The columns that both have: estimates and their tests.
fn estimates(result: &OlsResult) -> Rows<&CoefficientResult> {
    Table::of(&result.coefficients)
        .text(heads::REGRESSOR, |line| line.name.clone())
        .column(heads::ESTIMATE, Align::Decimal, |line| cell(line, line.of.estimate))
        .column(heads::STD_ERROR, Align::Decimal, |line| cell(line, line.of.std_error))
        .number(heads::T, 2, |line| line.of.t)
        .p_value(heads::P, |line| line.of.p_value)
}

/// A number of a coefficient, with the decimals that its standard error shows.
fn cell(line: &CoefficientResult, value: f64) -> TableCell {
    TableCell::number(value, wording::decimals(line.of.std_error.abs()).clamp(2, 10))
}

fn summary(result: &OlsResult) -> String {
    let f = result.f.as_ref().map_or(String::new(), |f| {
        format!(
            "; overall significance: F({}, {}) = {}, {}",
            f.df1,
            f.df2,
            number(f.statistic, 2),
            p_equals(f.p_value)
        )
    });
    let centred = if result.has_constant { "" } else { " (uncentred)" };
    format!(
        "R² {}{centred}, adjusted {}; residual sd {}, sum of squares {}; log L {}, AIC {}, BIC {}; Durbin-Watson {}{f}.",
        number(result.r2, 4),
        number(result.r2_adjusted, 4),
        wording::short(result.sigma),
        wording::short(result.ssr),
        number(result.log_likelihood, 2),
        number(result.aic, 2),
        number(result.bic, 2),
        number(result.durbin_watson, 3)
    )
}

fn restrictions(result: &OlsResult) -> Table {
    let both = result.errors_reason.is_some();
    Table::of(result.restrictions.iter().zip(restriction_names(result)))
        .text(heads::RESTRICTION, |(_, name)| name.clone())
        .number(heads::F, 2, |(one, _)| one.test.f)
        .text(heads::DF, |(one, _)| format!("{}, {}", one.test.df1, one.test.df2))
        .p_value(heads::P, |(one, _)| one.test.p_f)
        .number(heads::CHI_SQUARED, 2, |(one, _)| one.test.chi2)
        .p_value(heads::P, |(one, _)| one.test.p_chi2)
        .only_if(both, |rows| rows.p_value(heads::CLASSICAL_P, |(one, _)| one.classical.map(|own| own.p_f)))
        .table()
}

/// Restrictions as written, or by number where that is too wide for a table.
fn restriction_names(result: &OlsResult) -> Vec<String> {
    let wide = result.restrictions.iter().any(|one| one.text.chars().count() > LONGEST_IN_TABLE);
    let name = |(place, one): (usize, &RestrictionResult)| {
        if wide && one.text != ALL_TOGETHER { format!("({})", place + 1) } else { one.text.clone() }
    };
    result.restrictions.iter().enumerate().map(name).collect()
}

fn restriction_sentence(result: &OlsResult) -> String {
    let level = wording::percent(result.alpha);
    let each: Vec<String> = result
        .restrictions
        .iter()
        .zip(restriction_names(result))
        .map(|(one, name)| {
            let text = match name {
                name if name == ALL_TOGETHER => "All together".to_owned(),
                name if name == one.text => name,
                name => format!("{name} {}", one.text),
            };
            let rejects = |p: f64| p <= result.alpha;
            let decision = if rejects(one.test.p_f) { "rejected" } else { "not rejected" };
            // With classical errors the decision may be another.
            let other = one.classical.filter(|own| rejects(own.p_f) != rejects(one.test.p_f));
            let classical = other.map_or(String::new(), |own| {
                let other = if rejects(own.p_f) { "rejected" } else { "not rejected" };
                format!(" (with classical standard errors {other}, {})", p_equals(own.p_f))
            });
            format!("{text}: {decision} at {level} %{classical}.")
        })
        .collect();
    each.join(" ")
}

fn tests(result: &OlsResult) -> Table {
    Table::of(&result.diagnostics)
        .text(heads::DIAGNOSTIC, |test| test.name.clone())
        .number(heads::STAT, 2, |test| test.statistic)
        .p_value(heads::P, |test| test.p_value)
        .text(heads::H0, |test| test.null)
        .text(heads::DECISION, |test| test.decision.text())
        .table()
}

fn meanings(result: &OlsResult, asked: &Asked<'_>) -> Vec<String> {
    let mut all = Vec::new();
    let residual_root = result.diagnostics.iter().find(|test| test.test == "residual_unit_root");
    if result.spurious {
        let high = if result.r2 > result.durbin_watson {
            format!(
                "R² {} exceeds the Durbin-Watson statistic {}: possibly a spurious regression of non-stationary \
                  series. ",
                number(result.r2, 2),
                number(result.durbin_watson, 2)
            )
        } else {
            String::new()
        };
        all.push(format!(
            "{high}t and p are not to be trusted: regress changes on changes, or test for cointegration."
        ));
    } else if let Some(test) = residual_root {
        // Stationary levels cannot be cointegrated.
        let integrated = result.diagnoses.first().and_then(SeriesDiagnosis::integration) != Some(0);
        let follows = if integrated {
            ": the levels are cointegrated. The usual t distribution does not apply"
        } else {
            ""
        };
        all.push(format!(
            "Residuals are persistent (Durbin-Watson {}), but a unit root is rejected ({}){follows}.",
            number(result.durbin_watson, 2),
            p_equals(test.p_value)
        ));
    }
    let dependent = rejected(result, "breusch_godfrey");
    if asked.is_classical && !result.spurious && (dependent || rejected(result, "white")) {
        let (why, kind) =
            if dependent { ("autocorrelation", "newey-west") } else { ("heteroskedasticity", "hc3") };
        all.push(format!("Classical standard errors are invalid under {why}: use --errors {kind}."));
    }
    all.extend(overlapping(result));
    let rejections: Vec<&TestLine> = result
        .diagnostics
        .iter()
        .filter(|test| test.decision.is_rejection() && test.test != "residual_unit_root")
        .collect();
    for test in &rejections {
        all.push(format!("{}: {} ({}).", test.name, test.meaning, p_equals(test.p_value)));
    }
    if rejections.is_empty() && !result.spurious {
        all.push("No diagnostic rejects.".to_owned());
    }
    all
}

/// What follows from a target whose consecutive values overlap.
fn overlapping(result: &OlsResult) -> Option<String> {
    let periods = result.overlap?;
    let lags = periods - 1;
    let given = result.errors.split_once('=').and_then(|(_, lags)| lags.parse::<usize>().ok());
    let advice = match given {
        Some(given) if given >= lags => format!("the {given} lags of Newey-West allow for it"),
        _ => format!("use --errors newey-west={lags} or more lags"),
    };
    Some(format!(
        "{} is a change over {periods} periods: consecutive values overlap, so its errors are autocorrelated up to lag \
         {lags} by construction; {advice}.",
        result.target
    ))
}

fn next(result: &OlsResult, asked: &Asked<'_>) -> Vec<Call> {
    let typed = asked.call;
    if result.spurious || result.residual_root.is_some() {
        let others = kandrel_core::expr::terms(asked.on);
        let terms = others.into_iter().filter(|term| {
            let enters = result.coefficients.iter().any(|line| line.name == *term);
            enters && !matches!(*term, "trend" | "workdays") && !term.contains('=')
        });
        let series: Vec<&str> = std::iter::once(result.target.as_str()).chain(terms).collect();
        if series.len() > 1 {
            let call = |name| typed.next(name, series.iter().copied()).keeping(typed, &["alpha"]);
            return vec![call(Name::Stationarity), call(Name::Cointegration)];
        }
    }
    let same = typed.next(Name::Ols, [&result.target]).with("on", asked.on);
    let same = if result.has_constant { same } else { same.flag("no-constant") };
    let same = same.keeping(typed, &["restrict", "break-at", "alpha"]);
    let dependent = rejected(result, "breusch_godfrey");
    if asked.is_classical && (dependent || rejected(result, "white")) {
        return vec![same.with("errors", if dependent { "newey-west" } else { "hc3" })];
    }
    vec![same.keeping(typed, &["errors"]).with("figure", "residuals.svg")]
}
