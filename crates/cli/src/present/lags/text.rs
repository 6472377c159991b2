//! Lag orders in words and tables.

use kandrel_core::var::{ChosenLags, LagRow, LagTerms};

use super::facts::{CausalityResult, FEW_ROWS, InfluenceResult, LagsResult, NEAR_ONE};
use crate::call::{Call, Name};
use crate::document::{Align, Block, Document, Table, TableCell};
use crate::present::diagnosis;
use crate::wording;
use crate::wording::{heads, legends, number, p_equals, titles};

/// The result as a document.
pub fn document(result: &LagsResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(format!(
        "{} All orders on one sample: {} rows from {} to {}{}.",
        sentence_about(result),
        result.sample.observations,
        result.sample.first,
        result.sample.last,
        terms(result)
    ));
    diagnosis::section(&mut document, &result.diagnoses);
    document.table(table(result));
    document.paragraph(legends::LAG_CRITERIA);
    document.detail("residual checks", |inner| inner.table(checks(result)));
    if let Some(causality) = &result.causality {
        document.paragraph(causality_sentence(causality, result.alpha));
        document.table(influences(causality));
    }
    document.blocks.push(Block::EvidenceLegend);
    document.interpretation(reasons(result));
    document.commands(titles::NEXT, next(result, call));
    document
}

fn sentence_about(result: &LagsResult) -> String {
    if result.variables.len() == 1 {
        format!("{}.", result.series_sample)
    } else {
        format!("{} series together.", result.variables.len())
    }
}

fn terms(result: &LagsResult) -> String {
    let terms = match result.terms {
        LagTerms::None => "without a constant",
        LagTerms::Constant => "with a constant",
        LagTerms::Trend => "with a constant and a trend",
        LagTerms::Seasonal => "with a constant and seasonal dummies",
    };
    if result.exogenous.is_empty() {
        format!(", {terms}")
    } else {
        format!(", {terms} and {}", wording::list(&result.exogenous))
    }
}

/// An autoregression of one series or of several.
fn autoregression(result: &LagsResult) -> &'static str {
    if result.variables.len() == 1 { "autoregression" } else { "vector autoregression" }
}

/// Names of what chose this order.
fn choosers(chosen: &ChosenLags, lag: usize) -> Vec<&'static str> {
    [(chosen.bic, "BIC"), (chosen.hq, "HQ"), (chosen.aic, "AIC"), (chosen.fpe, "FPE"), (chosen.lr, "LR")]
        .into_iter()
        .filter(|(own, _)| *own == lag)
        .map(|(_, name)| name)
        .collect()
}

fn lags_word(lag: usize) -> String {
    if lag == 0 { "no lag".to_owned() } else { wording::count(lag, "lag") }
}

pub(super) fn answer(result: &LagsResult) -> String {
    let (chosen, lag) = (&result.chosen, result.recommended);
    let what = wording::joined(&result.variables.iter().map(String::as_str).collect::<Vec<_>>());
    let by = wording::joined(&choosers(chosen, lag));
    let mut others: Vec<usize> = vec![chosen.bic, chosen.hq, chosen.aic];
    others.sort_unstable();
    others.dedup();
    others.retain(|other| *other != lag);
    let rest: Vec<String> = others
        .iter()
        .map(|other| format!("{} by {}", lags_word(*other), wording::joined(&choosers(chosen, *other))))
        .collect();
    let rest = if rest.is_empty() { String::new() } else { format!(" ({})", rest.join(", ")) };
    let tail = if result.residual_check.white {
        "; no residual autocorrelation"
    } else if result.residual_check.portmanteau.is_none() {
        "; too few rows to check its residuals"
    } else {
        ", but its residuals are autocorrelated"
    };
    format!("{what}: {} by {by}{rest}{tail}.", lags_word(lag))
}

/// Lag orders above the chosen ones in the usual text, no lag among the rows.
const FURTHER_ORDERS: usize = 4;

fn table(result: &LagsResult) -> Table {
    let minimum = |of: fn(&LagRow) -> f64| result.rows.iter().map(of).fold(f64::INFINITY, f64::min);
    let (fpe, aic, hq, bic) =
        (minimum(|r| r.log_fpe), minimum(|r| r.aic), minimum(|r| r.hq), minimum(|r| r.bic));
    let chosen = &result.chosen;
    let above = |lag: usize, best: usize, difference: f64| {
        if lag == best { TableCell::text("min.") } else { TableCell::number(difference, 1) }
    };
    let ratio = |row: &&LagRow| TableCell::number((row.log_fpe - fpe).exp(), 3);
    Table::of(&result.rows)
        .count(heads::LAGS, |row| row.lag)
        .column(heads::DELTA_BIC, Align::Decimal, |row| above(row.lag, chosen.bic, row.bic - bic))
        .column(heads::DELTA_HQ, Align::Decimal, |row| above(row.lag, chosen.hq, row.hq - hq))
        .column(heads::DELTA_AIC, Align::Decimal, |row| above(row.lag, chosen.aic, row.aic - aic))
        .column(heads::FPE_RATIO, Align::Decimal, ratio)
        .number(heads::LR, 2, |row| row.lr)
        .count(heads::DF, |row| row.df)
        .p_value(heads::P, |row| row.p_value)
        .number(heads::LOG_L, 2, |row| row.log_likelihood)
        .table()
        .showing(chosen.bic.max(chosen.hq).max(chosen.aic) + FURTHER_ORDERS, "higher lag orders")
}

fn checks(result: &LagsResult) -> Table {
    Table::of(&result.residual_checks)
        .text(heads::RESIDUALS_WITH, |check| lags_word(check.lag))
        .number(heads::PORTMANTEAU, 2, |check| check.portmanteau.map(|test| test.statistic))
        .p_value(heads::P, |check| check.portmanteau.map(|test| test.p_value))
        .number(heads::LM_AS_F, 2, |check| check.lm.map(|test| test.statistic))
        .p_value(heads::P, |check| check.lm.map(|test| test.p_value))
        .number(heads::LARGEST_ROOT, 3, |check| check.roots.first().copied())
        .table()
}

fn influences(causality: &CausalityResult) -> Table {
    let causes = |test: &InfluenceResult| {
        if test.causes.len() > 1 { "all others".to_owned() } else { test.causes.concat() }
    };
    Table::of(causality.pairs.iter().chain(&causality.blocks))
        .text(heads::CAUSE, |test| causes(test))
        .text(heads::EFFECT, |test| test.effect.clone())
        .number(heads::F, 2, |test| test.f)
        .text(heads::DF, |test| format!("{}, {}", test.df1, test.df2))
        .p_value(heads::P, |test| test.p_value)
        .text(heads::DECISION, |test| test.decision.text())
        .table()
}

fn causality_sentence(causality: &CausalityResult, alpha: f64) -> String {
    let helps: Vec<String> = causality
        .pairs
        .iter()
        .filter(|test| test.p_value <= alpha)
        .map(|test| format!("{} Granger-causes {}", test.causes.concat(), test.effect))
        .collect();
    let found = if helps.is_empty() { "No Granger causality is found".to_owned() } else { helps.join("; ") };
    let how = match causality.augmented {
        0 => String::new(),
        added => format!(
            " As the series are integrated of order up to {added}, {} included but not tested (lag-augmented \
              Wald test), so the usual distribution applies.",
            wording::count(added, "extra lag") + if added == 1 { " is" } else { " are" }
        ),
    };
    format!("{found} ({} tested). H0: no Granger causality.{how}", lags_word(causality.lags))
}

/// What the figures mean for what is done next.
fn reasons(result: &LagsResult) -> Vec<String> {
    let mut all = Vec::new();
    let check = &result.residual_check;
    match (&check.portmanteau, check.white) {
        (None, _) => all.push("The sample is too short to check residuals.".to_owned()),
        (Some(test), true) => all.push(format!(
            "No residual autocorrelation with {} (portmanteau over {} lags, {}{}).",
            lags_word(check.lag),
            test.lags,
            p_equals(test.p_value),
            check.lm.as_ref().map_or(String::new(), |lm| format!("; LM, {}", p_equals(lm.p_value)))
        )),
        (Some(_), false) => all.push(not_white(result)),
    }
    let chosen = &result.chosen;
    if chosen.bic < chosen.aic {
        all.push(
            "BIC and HQ are consistent for a finite order; AIC selects more lags, which suits forecasts and \
              cointegration tests."
                .to_owned(),
        );
    }
    if [chosen.aic, chosen.hq, chosen.bic].contains(&result.max_lags) && result.max_lags > 0 {
        all.push(format!(
            "A criterion has its minimum at the largest order, {}: raise --max.",
            result.max_lags
        ));
    }
    if check.rows_per_coefficient < FEW_ROWS {
        all.push(format!(
            "Only {} observations per coefficient of an equation: use fewer series or lags.",
            number(check.rows_per_coefficient, 1)
        ));
    } else if (result.sample.observations as f64) < FEW_ROWS * result.most_coefficients as f64 {
        all.push(format!(
            "The largest order has {} coefficients per equation for {} observations and is estimated \
              imprecisely; --max sets a smaller one.",
            result.most_coefficients, result.sample.observations
        ));
    }
    if let Some(root) = check.roots.first() {
        let size = number(*root, 3);
        all.push(match *root {
            _ if *root >= 1.0 => {
                format!("The largest root is {size}, not below one: the series have a unit root or explode. Difference \
                          them.")
            }
            _ if *root > NEAR_ONE => {
                format!("The largest root is {size}, near unity: the series have a unit root.")
            }
            _ => format!("The largest root is {size}, below one: the {} is stationary.", autoregression(result)),
        });
    }
    if result.causality_wanted && result.causality.is_none() {
        all.push("Without lags Granger causality cannot be tested.".to_owned());
    }
    all
}

fn not_white(result: &LagsResult) -> String {
    let seasonal = result.season > 1 && result.terms != LagTerms::Seasonal;
    let remedy = if seasonal {
        "more lags (--max), seasonal dummies (--terms seasonal), or a seasonal difference"
    } else {
        "add lags with --max, or check for outliers and breaks"
    };
    let tests = [&result.residual_check.portmanteau, &result.residual_check.lm];
    let least = tests.into_iter().flatten().map(|one| one.p_value).fold(1.0, f64::min);
    format!(
        "The residuals of the model with {} are autocorrelated ({}). Options: {remedy}.",
        lags_word(result.recommended),
        p_equals(least)
    )
}

fn next(result: &LagsResult, typed: &Call) -> Vec<Call> {
    let names = &result.variables;
    let has_unit_root = result.residual_check.roots.first().is_some_and(|root| *root > NEAR_ONE);
    let further = |name| typed.next(name, names.clone()).keeping(typed, &["alpha"]);
    match names.as_slice() {
        [_] if has_unit_root => vec![further(Name::Stationarity)],
        [_] if result.recommended > 0 => {
            vec![further(Name::Fit).with("model", format!("({},0,0)", result.recommended))]
        }
        [_] => Vec::new(),
        _ if has_unit_root => vec![
            further(Name::Stationarity),
            further(Name::Cointegration).with("lags", result.recommended.max(1)),
        ],
        _ if result.causality.is_none() => {
            vec![further(Name::Lags).keeping(typed, &["max", "terms", "exogenous"]).flag("causality")]
        }
        _ => Vec::new(),
    }
}
