//! Several series: one row each.

use kandrel_core::nulldist::MAX_RESIDUAL_SERIES;
use kandrel_core::verdict::{Class, Confidence};

use super::{StationarityResult, VerdictResult};
use crate::call::{Call, Name};
use crate::document::{Document, Table};
use crate::wording;
use crate::wording::{heads, legends, test_names, titles};

/// A table with a row for each series, and what to run for the argument of one.
pub fn overview(results: &[&StationarityResult], call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(sentence(results));
    document.paragraph(legends::OVERVIEW);
    document.table(table(results));
    document.interpretation(together(results));
    document.commands(titles::NEXT, next(results, call));
    document
}

fn table(results: &[&StationarityResult]) -> Table {
    let broken = |verdict: &VerdictResult| {
        verdict.break_at.clone().filter(|_| verdict.class == Class::TrendBreak).unwrap_or_default()
    };
    Table::of(results)
        .text(heads::SERIES, |one| one.series.clone())
        .count(heads::N, |one| one.observations)
        .text(heads::CLASS, |one| test_names::class(one.verdict.class))
        .count(heads::ORDER_OF_INTEGRATION, |one| one.verdict.integration)
        .count(heads::SEASONAL_ORDER, |one| one.verdict.seasonal_integration)
        .text(heads::BREAK_AFTER, |one| broken(&one.verdict))
        .number(heads::PROB, 2, |one| one.verdict.probability)
        .text(heads::CONFIDENCE, |one| one.verdict.confidence.word())
        .table()
}

/// How many are what.
fn sentence(results: &[&StationarityResult]) -> String {
    let settled: Vec<_> = results.iter().filter(|one| one.verdict.class != Class::Inconclusive).collect();
    let of = |times: usize| settled.iter().filter(|one| one.verdict.integration == times).count();
    let open = results.len() - settled.len();
    let parts: Vec<String> = [(of(0), "I(0)"), (of(1), "I(1)"), (of(2), "I(2)"), (open, "inconclusive")]
        .into_iter()
        .filter(|(count, _)| *count > 0)
        .map(|(count, what)| format!("{count} {what}"))
        .collect();
    format!("Of {} series: {}.", results.len(), parts.join(", "))
}

/// Series by their order of integration; none of those that are inconclusive.
struct Groups<'a> {
    stationary: Vec<&'a str>,
    once: Vec<&'a str>,
    twice: Vec<&'a str>,
    seasonal: Vec<&'a str>,
    open: Vec<&'a str>,
}

impl<'a> Groups<'a> {
    fn new(results: &[&'a StationarityResult]) -> Self {
        let of = |holds: &dyn Fn(&StationarityResult) -> bool| -> Vec<&'a str> {
            results.iter().filter(|one| holds(one)).map(|one| one.series.as_str()).collect()
        };
        let open = |one: &StationarityResult| one.verdict.class == Class::Inconclusive;
        let times = |wanted: usize| of(&|one| !open(one) && one.verdict.integration == wanted);
        Self {
            stationary: times(0),
            once: times(1),
            twice: times(2),
            seasonal: of(&|one| one.verdict.seasonal_integration.is_some_and(|times| times > 0)),
            open: of(&open),
        }
    }
}

/// What the orders of integration mean for models of several of them.
fn together(results: &[&StationarityResult]) -> Vec<String> {
    let groups = Groups::new(results);
    let mut all = Vec::new();
    let count = results.len();
    if groups.once.len() == count {
        all.push(
            "All are I(1): a regression in levels is meaningful only under cointegration (kandrel \
              cointegration); otherwise use first differences."
                .to_owned(),
        );
    } else if groups.stationary.len() == count {
        all.push("All are I(0): levels can be correlated and regressed as they are.".to_owned());
    } else {
        if !groups.twice.is_empty() {
            all.push(format!(
                "Integrated of order 2: {}. Difference once, or deflate, before relating them to the other \
                  series.",
                wording::joined(&groups.twice)
            ));
        }
        if groups.once.len() > 1 {
            all.push(format!(
                "I(1): {}. Test these together for cointegration.",
                wording::joined(&groups.once)
            ));
        }
        if !groups.stationary.is_empty() && groups.once.len() + groups.twice.len() > 0 {
            all.push(format!(
                "I(0): {}. These cannot be cointegrated with I(1) series: relate them to first differences.",
                wording::joined(&groups.stationary)
            ));
        }
    }
    if !groups.seasonal.is_empty() {
        all.push(format!(
            "The seasonality of {} evolves: take seasonal differences first, or seasonal unit roots are \
              mistaken for a unit root at frequency zero.",
            wording::joined(&groups.seasonal)
        ));
    }
    if !groups.open.is_empty() {
        all.push(format!("Open: {}. Look at these one by one.", wording::joined(&groups.open)));
    }
    all
}

/// The test of cointegration of series with unit roots, then the verdict with the lowest confidence.
fn next(results: &[&StationarityResult], typed: &Call) -> Vec<Call> {
    let rank = |one: &&&StationarityResult| match one.verdict.confidence {
        Confidence::Low => 0,
        Confidence::Moderate => 1,
        Confidence::High => 2,
    };
    let groups = Groups::new(results);
    let mut all = Vec::new();
    if groups.once.len() > 1 && groups.once.len() <= MAX_RESIDUAL_SERIES {
        all.push(typed.next(Name::Cointegration, groups.once.clone()).keeping(typed, &["alpha"]));
    } else if groups.stationary.len() == results.len() && results.len() <= MAX_RESIDUAL_SERIES {
        let call = typed.next(Name::Lags, groups.stationary.clone()).keeping(typed, &["alpha"]);
        all.push(call.flag("causality"));
    }
    let least = results.iter().min_by_key(rank);
    all.extend(least.map(|one| typed.next(Name::Stationarity, [&one.series]).keeping(typed, &KEPT)));
    all
}

/// Options that a further call of this command keeps.
const KEPT: [&str; 11] = [
    "tests",
    "terms",
    "lags",
    "max-lags",
    "bandwidth",
    "kernel",
    "at",
    "breaks",
    "break-at",
    "trim",
    "alpha",
];
