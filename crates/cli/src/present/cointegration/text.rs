//! Cointegration in words and tables.

use std::fmt::Write as _;

use kandrel_core::coint::{CaseReason, Suggestion};
use kandrel_core::nulldist::SystemTerms;
use kandrel_core::num::normal;

use super::facts::{CointegrationFindings, CointegrationResult, JohansenResult, NamedValue, StaticRelation};
use crate::call::{Call, Name};
use crate::document::{Align, Block, Document, Table, TableCell};
use crate::present::decision::Decision;
use crate::present::diagnosis;
use crate::wording;
use crate::wording::{heads, legends, number, p_equals, test_names, titles};

fn terms_in_words(terms: SystemTerms) -> &'static str {
    match terms {
        SystemTerms::None => "no constant",
        SystemTerms::ConstantIn => "constant restricted to the relations",
        SystemTerms::Constant => "unrestricted constant",
        SystemTerms::TrendIn => "trend restricted to the relations",
        SystemTerms::Trend => "unrestricted trend",
    }
}

/// Why these terms.
pub(super) fn reason(suggestion: &Suggestion, names: &[String], alpha: f64) -> String {
    let level = alpha / names.len().max(1) as f64;
    let drifting: Vec<&str> = names
        .iter()
        .zip(&suggestion.drift_p_values)
        .filter(|(_, p)| **p <= level)
        .map(|(name, _)| name.as_str())
        .collect();
    let verb = if drifting.len() == 1 { "has a drift" } else { "have a drift" };
    match suggestion.reason {
        CaseReason::NoDrift => "no series has a drift".to_owned(),
        CaseReason::Drift(None) => format!("{} {verb}", wording::joined(&drifting)),
        CaseReason::Drift(Some((p, _))) => {
            format!(
                "{} {verb}, and the cointegrating relations include no trend ({})",
                wording::joined(&drifting),
                p_equals(p)
            )
        }
        CaseReason::TrendInside(p, _) => {
            format!(
                "{} {verb}, and the cointegrating relations include a trend ({})",
                wording::joined(&drifting),
                p_equals(p)
            )
        }
    }
}

/// A sum of products, its signs written out.
fn sum_of<'a>(parts: impl Iterator<Item = (&'a str, f64)>) -> String {
    let mut text = String::new();
    for (place, (name, weight)) in parts.enumerate() {
        let sign = match (place, weight < 0.0) {
            (0, true) => " −",
            (0, false) => " ",
            (_, true) => " − ",
            (_, false) => " + ",
        };
        let of = match name {
            "constant" => String::new(),
            "trend" => " t".to_owned(),
            name => format!(" {name}"),
        };
        // Writing to a string cannot fail.
        let _ = write!(text, "{sign}{}{of}", wording::short(weight.abs()));
    }
    text
}

/// A relation solved for the series whose coefficient is one.
pub(super) fn equation(vector: &[NamedValue], own: usize, rank: usize) -> String {
    let name = vector.get(own).map_or("", |value| value.name.as_str());
    let others = vector.iter().skip(rank).map(|value| (value.name.as_str(), -value.estimate));
    format!("{name} ={}", sum_of(others))
}

pub(super) fn answer(result: &CointegrationResult) -> String {
    let all = wording::joined(&result.variables.iter().map(String::as_str).collect::<Vec<_>>());
    let Some(johansen) = &result.johansen else {
        return match result.engle_granger.p_value {
            None => {
                format!(
                    "Cointegration of {all} cannot be tested: there is no p-value for this number of lags."
                )
            }
            Some(p) if p <= result.alpha => {
                format!("{all} are cointegrated: a unit root in the residuals is rejected ({}).", p_equals(p))
            }
            Some(p) => {
                format!(
                    "No evidence of cointegration of {all}: a unit root in the residuals is not rejected ({}).",
                    p_equals(p)
                )
            }
        };
    };
    let count = result.variables.len();
    match johansen.rank {
        0 => format!("No cointegrating relation among {all}: model their first differences."),
        rank if rank == count => format!(
            "The levels of {all} are jointly stationary: the cointegration rank equals the number of series."
        ),
        1 => {
            let vector = johansen.vectors.first().map_or(&[][..], Vec::as_slice);
            let more = match johansen.terms {
                SystemTerms::Constant | SystemTerms::TrendIn => " + constant",
                SystemTerms::Trend => " + constant + trend",
                SystemTerms::None | SystemTerms::ConstantIn => "",
            };
            format!("One cointegrating relation among {all}: {}{more}.", equation(vector, 0, 1))
        }
        rank => format!(
            "Cointegration rank {rank} among {all}: {}.",
            wording::count(count - rank, "common trend")
        ),
    }
}

/// The two-sided p-value of a coefficient, by the normal distribution.
fn p_of(value: &NamedValue) -> Option<f64> {
    let error = value.std_error.filter(|error| *error > 0.0)?;
    Some(2.0 * normal::survival((value.estimate / error).abs()))
}

pub(super) fn reading(result: &CointegrationResult, found: &CointegrationFindings) -> Vec<String> {
    let mut all = integration_sentences(result);
    if let Some(johansen) = &result.johansen {
        all.push(rank_sentence(result, johansen));
        all.extend(adjustment_sentences(result, johansen));
    }
    all.extend(residual_sentence(result));
    if let (Some(johansen), Some((draws, seed))) = (&result.johansen, found.draws) {
        let corrected = johansen
            .rows
            .iter()
            .find(|row| row.p_bartlett.is_some_and(|p| p > result.alpha))
            .map(|row| row.rank);
        let rank = corrected.unwrap_or(result.variables.len());
        all.push(format!(
            "With Bartlett correction ({draws} simulated systems, seed {seed}) the trace tests indicate {}.",
            wording::count(rank, "relation")
        ));
    }
    if result.johansen.as_ref().is_some_and(|one| one.rows.iter().any(|row| !row.covered)) {
        all.push(
            "This number of lags was not simulated for so short a sample: p-values of the system are \
              extrapolated."
                .to_owned(),
        );
    }
    all
}

/// What the orders of integration mean for the tests.
fn integration_sentences(result: &CointegrationResult) -> Vec<String> {
    let of = |wanted: usize| -> Vec<&str> {
        let each = result.variables.iter().zip(&result.integration);
        each.filter(|(_, order)| **order == Some(wanted)).map(|(name, _)| name.as_str()).collect()
    };
    let (stationary, twice) = (of(0), of(2));
    let mut all = Vec::new();
    if stationary.is_empty() && twice.is_empty() && result.integration.iter().all(Option::is_some) {
        all.push("All series are I(1) by the verdict, as the tests assume.".to_owned());
    }
    if !stationary.is_empty() {
        let verb = if stationary.len() == 1 { "looks" } else { "look" };
        all.push(format!(
            "{} {verb} stationary and forms a cointegrating relation by itself; test without it.",
            wording::joined(&stationary)
        ));
    }
    if !twice.is_empty() {
        let verb = if twice.len() == 1 { "looks" } else { "look" };
        all.push(format!(
            "{} {verb} integrated of order 2: difference once, or use real or relative values.",
            wording::joined(&twice)
        ));
    }
    all
}

fn rank_sentence(result: &CointegrationResult, johansen: &JohansenResult) -> String {
    let by_largest = johansen
        .rows
        .iter()
        .find(|row| row.p_max_eigen > result.alpha)
        .map_or(johansen.rows.len(), |row| row.rank);
    let level = wording::percent(result.alpha);
    let accepted = johansen.rows.get(johansen.rank);
    let before = johansen.rank.checked_sub(1).and_then(|place| johansen.rows.get(place));
    let rejected = before.map(|row| format!("{} rejected ({})", so_many(row.rank), p_equals(row.p_trace)));
    let kept = accepted.map(|row| format!("{} not rejected ({})", so_many(row.rank), p_equals(row.p_trace)));
    let trace: Vec<String> = rejected.into_iter().chain(kept).collect();
    let largest = if by_largest == johansen.rank {
        format!("the maximum-eigenvalue test agrees at {level} %")
    } else {
        format!("the maximum-eigenvalue test indicates {by_largest}; the trace test is used")
    };
    format!("Trace: {}; {largest}.", trace.join(", "))
}

/// The null of a row, in words.
fn so_many(rank: usize) -> String {
    match rank {
        0 => "rank zero".to_owned(),
        1 => "rank at most one".to_owned(),
        many => format!("rank at most {many}"),
    }
}

/// Which series answer a gap, and which belong to a relation.
fn adjustment_sentences(result: &CointegrationResult, johansen: &JohansenResult) -> Vec<String> {
    let mut all = Vec::new();
    let is_clear = |value: &&NamedValue| p_of(value).is_some_and(|p| p <= result.alpha);
    for (place, (vector, loadings)) in johansen.vectors.iter().zip(&johansen.loadings).enumerate() {
        let which =
            if johansen.vectors.len() > 1 { format!("Relation {}: ", place + 1) } else { String::new() };
        let equation = if johansen.vectors.len() > 1 {
            format!("{}; ", equation(vector, place, johansen.vectors.len()))
        } else {
            String::new()
        };
        let answers: Vec<String> = loadings
            .iter()
            .filter(is_clear)
            .map(|value| match (value.name == result.variables[place], value.estimate) {
                (true, a) if (-1.0..0.0).contains(&a) => {
                    format!(
                        "{} corrects {} % of a deviation from equilibrium each {}",
                        value.name,
                        number(-100.0 * a, 0),
                        result.unit
                    )
                }
                (_, a) => format!("adjustment coefficient of {}: {}", value.name, number(a, 3)),
            })
            .collect();
        let still: Vec<&str> =
            loadings.iter().filter(|value| !is_clear(value)).map(|value| value.name.as_str()).collect();
        let rest = match still.len() {
            0 => String::new(),
            _ if answers.is_empty() && which.is_empty() => {
                "No adjustment coefficient is significant".to_owned()
            }
            _ if answers.is_empty() => "no adjustment coefficient is significant".to_owned(),
            1 => format!("; the adjustment coefficient of {} is not significant", still[0]),
            _ => format!("; the adjustment coefficients of {} are not significant", wording::joined(&still)),
        };
        all.push(format!("{which}{equation}{}{rest}.", answers.join(", ")));
        let idle: Vec<&str> = vector
            .iter()
            .skip(johansen.vectors.len())
            .filter(|value| value.name != "constant" && p_of(value).is_some_and(|p| p > result.alpha))
            .map(|value| value.name.as_str())
            .collect();
        if !idle.is_empty() && johansen.vectors.len() == 1 {
            let verb = if idle.len() == 1 { "has" } else { "have" };
            all.push(format!(
                "{} {verb} no significant coefficient in the relation: try without.",
                wording::joined(&idle)
            ));
        }
    }
    all
}

fn residual_sentence(result: &CointegrationResult) -> Option<String> {
    let (one, other) = (&result.engle_granger, &result.phillips_ouliaris);
    let tied = result.johansen.as_ref()?.rank > 0;
    let rejects = [one.p_value?, other.p_value?].map(|p| p <= result.alpha);
    let target = &result.relation.target;
    Some(match (rejects, tied) {
        ([true, true], true) | ([false, false], false) => {
            "The residual-based tests agree with the system tests.".to_owned()
        }
        ([false, false], true) => format!(
            "The residual-based tests do not reject for {target}: they have lower power and depend on the \
              choice of the target."
        ),
        ([true, true], false) => format!(
            "The residual-based tests reject for {target}, the system tests do not: try fewer lags or other \
              deterministic terms."
        ),
        ([true, false], _) => {
            "The residual-based tests disagree: Engle-Granger rejects, Phillips-Ouliaris does not.".to_owned()
        }
        ([false, true], _) => {
            "The residual-based tests disagree: Phillips-Ouliaris rejects, Engle-Granger does not.".to_owned()
        }
    })
}

/// The tests on the residuals of the least-squares relation.
fn residual_based(document: &mut Document, result: &CointegrationResult) {
    document.table(residual_table(result));
    document.paragraph(format!(
        "H0: no cointegration. Least-squares regression: {}.",
        static_equation(&result.relation)
    ));
}

/// The result as a document.
pub fn document(result: &CointegrationResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(result.sentence.clone());
    document.paragraph(about(result));
    diagnosis::section(&mut document, &result.diagnoses);
    if let Some(johansen) = &result.johansen {
        document.table(ranks(johansen));
        document.paragraph(legends::RANKS);
        let mut tables = relations_tables(johansen);
        if johansen.rank == 1 {
            for table in tables.drain(..) {
                document.table(table);
            }
        }
        document.detail("coefficients of the relations", |inner| {
            for table in tables {
                inner.table(table);
            }
        });
        document.detail("residual-based tests", |inner| residual_based(inner, result));
    } else {
        residual_based(&mut document, result);
    }
    document.blocks.push(Block::EvidenceLegend);
    document.interpretation(result.reading.clone());
    document.commands(titles::NEXT, next(result, call));
    document
}

fn about(result: &CointegrationResult) -> String {
    let of_system = result.johansen.as_ref().map_or(String::new(), |one| {
        let why =
            if result.terms_reason.is_empty() { String::new() } else { format!(": {}", result.terms_reason) };
        format!(" {} of the levels; {}{why}.", wording::count(one.lags, "lag"), terms_in_words(one.terms))
    });
    format!("{}.{of_system}", result.sample)
}

fn ranks(johansen: &JohansenResult) -> Table {
    let corrected = johansen.rows.iter().any(|row| row.p_bartlett.is_some());
    Table::of(johansen.rows.iter().zip(&johansen.eigenvalues))
        .count(heads::R, |(row, _)| row.rank)
        .number(heads::EIGENVALUE, 4, |(_, eigenvalue)| **eigenvalue)
        .number(heads::TRACE, 2, |(row, _)| row.trace)
        .number(heads::FIVE_PER_CENT, 2, |(row, _)| row.trace_critical)
        .p_value(heads::P, |(row, _)| row.p_trace)
        .only_if(corrected, |rows| {
            let rows = rows.number(heads::FACTOR, 3, |(row, _)| row.bartlett_factor);
            rows.p_value(heads::P_CORRECTED, |(row, _)| row.p_bartlett)
        })
        .only_if(!corrected, |rows| {
            rows.number(heads::MAX_EIGENVALUE, 2, |(row, _)| row.max_eigen)
                .number(heads::FIVE_PER_CENT, 2, |(row, _)| row.max_eigen_critical)
                .p_value(heads::P, |(row, _)| row.p_max_eigen)
        })
        .table()
}

fn relations_tables(johansen: &JohansenResult) -> Vec<Table> {
    let several = johansen.vectors.len() > 1;
    let head = |place: usize| {
        if several { format!("Relation {}", place + 1) } else { "Relation".to_owned() }
    };
    let each = johansen.vectors.iter().zip(&johansen.loadings).enumerate();
    each.map(|(place, (vector, loadings))| relation_table(head(place), vector, loadings)).collect()
}

/// A relation may have a term that no equation answers: its last row has no loading.
fn relation_table(head: String, vector: &[NamedValue], loadings: &[NamedValue]) -> Table {
    let decimals = |value: &NamedValue, least: usize| {
        value.std_error.map_or(4, |error| wording::decimals(error).clamp(least, 8))
    };
    let loading = |row: usize, read: &dyn Fn(&NamedValue, usize) -> TableCell| {
        loadings.get(row).map_or(TableCell::text(""), |value| read(value, decimals(value, 3)))
    };
    let t = |value: &NamedValue| value.std_error.map(|error| value.estimate / error);
    Table::of(vector.iter().enumerate())
        .text(head, |(_, value)| value.name.clone())
        .column(heads::COEFFICIENT, Align::Decimal, |(_, v)| TableCell::number(v.estimate, decimals(v, 2)))
        .column(heads::STD_ERROR, Align::Decimal, |(_, v)| TableCell::number(v.std_error, decimals(v, 2)))
        .column(heads::ADJUSTMENT, Align::Decimal, |(row, _)| {
            loading(*row, &|v, d| TableCell::number(v.estimate, d))
        })
        .column(heads::STD_ERROR, Align::Decimal, |(row, _)| {
            loading(*row, &|v, d| TableCell::number(v.std_error, d))
        })
        .column(heads::T, Align::Decimal, |(row, _)| loading(*row, &|v, _| TableCell::number(t(v), 2)))
        .table()
}

fn residual_table(result: &CointegrationResult) -> Table {
    let both = [
        (test_names::ENGLE_GRANGER, &result.engle_granger),
        (test_names::PHILLIPS_OULIARIS, &result.phillips_ouliaris),
    ];
    Table::of(both)
        .text(heads::RESIDUAL_TEST, |(name, _)| *name)
        .number(heads::STAT, 2, |(_, test)| test.statistic)
        .number(heads::FIVE_PER_CENT, 2, |(_, test)| test.critical.map(|critical| critical.five))
        .p_value(heads::P, |(_, test)| test.p_value)
        .count(heads::LAGS, |(_, test)| test.lags.or(test.bandwidth))
        .text(heads::DECISION, |(_, test)| test.decision.map(Decision::text))
        .table()
}

fn static_equation(relation: &StaticRelation) -> String {
    let parts = relation.coefficients.iter().map(|value| (value.name.as_str(), value.estimate));
    format!(
        "{} ={}, R² {}, Durbin-Watson {}",
        relation.target,
        sum_of(parts),
        number(relation.r2, 3),
        number(relation.durbin_watson, 2)
    )
}

fn next(result: &CointegrationResult, typed: &Call) -> Vec<Call> {
    let names = &result.variables;
    let changes: Vec<String> = names.iter().map(|name| wording::with_steps(name, &["d1"])).collect();
    let further = |name, series: &[String]| typed.next(name, series.to_vec()).keeping(typed, &["alpha"]);
    let Some(johansen) = &result.johansen else {
        return vec![further(Name::Ols, &names[..1]).with("on", names[1..].join(", "))];
    };
    if johansen.rank == 0 {
        return vec![further(Name::Lags, &changes).flag("causality")];
    }
    if johansen.rank == 1
        && let Some(vector) = johansen.vectors.first()
    {
        let part = |value: &NamedValue| match value.name.as_str() {
            "constant" | "trend" => None,
            name if value.estimate < 0.0 => Some(format!(" - {}*{name}", plain_number(-value.estimate))),
            name => Some(format!(" + {}*{name}", plain_number(value.estimate))),
        };
        let deviation: String = vector.iter().skip(1).filter_map(part).collect();
        if names.iter().all(|name| !name.contains(':')) {
            let others: Vec<String> = names.iter().skip(1).map(|name| format!("{name}:d1")).collect();
            let on = format!("({}{deviation})[t-1], {}", names[0], others.join(", "));
            return vec![further(Name::Ols, &changes[..1]).with("on", on)];
        }
    }
    if johansen.rank == names.len() {
        return vec![further(Name::Stationarity, names)];
    }
    vec![further(Name::Cointegration, &names[..2]).keeping(typed, &["terms", "bartlett", "seed"])]
}

/// A number with about four significant digits, as a program reads it.
fn plain_number(value: f64) -> String {
    wording::short(value).replace('−', "-")
}
