//! Several series tested together: result, sentences, text.

use kandrel_core::nulldist::Terms;
use kandrel_core::series::Series;
use kandrel_core::unitroot::panel::{Dependence, Panel, PanelTest, PanelTestName};
use kandrel_core::unitroot::{Null, UnitRootTest};
use schemars::JsonSchema;
use serde::Serialize;

use super::terms;
use crate::call::{Call, Name};
use crate::document::{Block, Document, Table};
use crate::present::decision::Decision;
use crate::wording;
use crate::wording::number;
use crate::wording::{heads, titles};

/// What `stationarity --panel` finds.
#[derive(JsonSchema, Serialize)]
pub struct PanelResult {
    /// The series, in the order they were named.
    pub panel: Vec<String>,
    pub first: String,
    pub last: String,
    pub observations: usize,
    pub terms: Terms,
    pub tests: Vec<PanelTestResult>,
    pub members: Vec<MemberResult>,
    pub dependence: Dependence,
    pub sentence: String,
    pub reasons: Vec<String>,
    pub next: Vec<Call>,
}

/// One test of all series.
#[derive(JsonSchema, Serialize)]
pub struct PanelTestResult {
    #[serde(flatten)]
    pub of: PanelTest,
    pub decision: Decision,
}

/// One series of the panel.
#[derive(JsonSchema, Serialize)]
pub struct MemberResult {
    pub series: String,
    pub adf: MemberTest,
    pub kpss: MemberTest,
}

/// A test of one series.
#[derive(JsonSchema, Serialize)]
pub struct MemberTest {
    pub lags: Option<usize>,
    pub bandwidth: Option<usize>,
    pub statistic: f64,
    pub p_value: Option<f64>,
}

/// Puts a result together.
pub fn result(all: &[Series], found: &Panel, call: &Call, alpha: f64) -> PanelResult {
    let names: Vec<String> = all.iter().map(|series| series.name.clone()).collect();
    let member = |(series, one): (&Series, &kandrel_core::unitroot::panel::Member)| MemberResult {
        series: series.name.clone(),
        adf: member_test(&one.unit_root),
        kpss: member_test(&one.stationarity),
    };
    let test = |of: &PanelTest| PanelTestResult { of: *of, decision: Decision::at(of.p_value, alpha) };
    let first = all.first();
    PanelResult {
        first: first.map_or(String::new(), |series| series.start.to_string()),
        last: first.map_or(String::new(), |series| series.last().to_string()),
        observations: found.observations,
        terms: found.terms,
        tests: found.tests.iter().map(test).collect(),
        members: all.iter().zip(&found.members).map(member).collect(),
        dependence: found.dependence,
        sentence: sentence(found, alpha),
        reasons: reasons(found, alpha),
        next: next(&names, found, call, alpha),
        panel: names,
    }
}

fn member_test(test: &UnitRootTest) -> MemberTest {
    MemberTest {
        lags: test.lags,
        bandwidth: test.bandwidth,
        statistic: test.statistic,
        p_value: test.p_value,
    }
}

/// What the tests that hold here say together.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Reading {
    Stationary,
    UnitRoots,
    Mixed,
    Open,
}

/// Where dependence are common, only the test that takes them out keeps its size.
fn root_test(found: &Panel) -> PanelTestName {
    if found.dependence.p_value <= 0.05 { PanelTestName::Cips } else { PanelTestName::ImPesaranShin }
}

fn p_of(found: &Panel, name: PanelTestName) -> f64 {
    found.tests.iter().find(|test| test.test == name).map_or(1.0, |test| test.p_value)
}

fn reading(found: &Panel, alpha: f64) -> Reading {
    let roots = p_of(found, root_test(found)) > alpha;
    let stationary = p_of(found, PanelTestName::Hadri) > alpha;
    match (roots, stationary) {
        (false, true) => Reading::Stationary,
        (true, false) => Reading::UnitRoots,
        (false, false) => Reading::Mixed,
        (true, true) => Reading::Open,
    }
}

fn sentence(found: &Panel, alpha: f64) -> String {
    let count = found.members.len();
    match reading(found, alpha) {
        Reading::Stationary => {
            format!("The {count} series together are stationary around {}.", terms::around(found.terms))
        }
        Reading::UnitRoots => format!("The {count} series together have unit roots: difference them."),
        Reading::Mixed => {
            format!("Some of the {count} series are stationary and some are not: assess them one by one.")
        }
        Reading::Open => format!("The data do not settle whether the {count} series have unit roots."),
    }
}

fn reasons(found: &Panel, alpha: f64) -> Vec<String> {
    let dependence = &found.dependence;
    let common = dependence.p_value <= 0.05;
    let consequence = if common {
        "so the errors are cross-sectionally dependent: only the CIPS test (Pesaran) has correct size; \
          the other tests, including Hadri's, over-reject"
    } else {
        "so the tests may treat them as independent"
    };
    let root = root_test(found);
    let verdict = |p: f64| if p <= alpha { "is rejected" } else { "is not rejected" };
    vec![
        format!(
            "The mean cross-sectional correlation of the innovations is {} ({}), {consequence}.",
            number(dependence.mean_correlation, 2),
            wording::p_equals(dependence.p_value)
        ),
        format!(
            "A unit root in all series {} ({}, {}). A rejection means that some series, not necessarily all, \
              are stationary.",
            verdict(p_of(found, root)),
            name(root),
            wording::p_equals(p_of(found, root))
        ),
        format!(
            "Stationarity of all series {} (Hadri, {}). A rejection means that some series, not necessarily \
              all, have a unit root.",
            verdict(p_of(found, PanelTestName::Hadri)),
            wording::p_equals(p_of(found, PanelTestName::Hadri))
        ),
    ]
}

fn next(names: &[String], found: &Panel, typed: &Call, alpha: f64) -> Vec<Call> {
    let same = |series: Vec<String>| {
        let call = typed.next(Name::Stationarity, series);
        call.keeping(typed, &["terms", "lags", "max-lags", "bandwidth", "alpha"])
    };
    match reading(found, alpha) {
        Reading::UnitRoots => {
            vec![same(names.iter().map(|name| wording::with_steps(name, &["d1"])).collect()).flag("panel")]
        }
        Reading::Stationary => vec![typed.next(Name::Relate, names.to_vec()).flag("cross")],
        Reading::Mixed | Reading::Open => vec![same(names.to_vec())],
    }
}

fn name(test: PanelTestName) -> &'static str {
    match test {
        PanelTestName::ImPesaranShin => "Im-Pesaran-Shin",
        PanelTestName::Fisher => "Fisher",
        PanelTestName::LevinLinChu => "Levin-Lin-Chu",
        PanelTestName::Cips => "CIPS (Pesaran)",
        PanelTestName::Hadri => "Hadri",
    }
}

/// Answer, tables, reasons, next step.
pub fn document(result: &PanelResult) -> Document {
    let mut document = Document::default();
    document.paragraph(result.sentence.clone());
    document.paragraph(format!(
        "{} series, {} observations each, {} to {}; terms: {}.",
        result.panel.len(),
        result.observations,
        result.first,
        result.last,
        result.terms.name()
    ));
    document.table(tests(result));
    document.blocks.push(Block::EvidenceLegend);
    document.paragraph(titles::PANEL_MEMBERS);
    document.table(members(result));
    document.interpretation(result.reasons.clone());
    document.commands(titles::NEXT, result.next.clone());
    document
}

fn tests(result: &PanelResult) -> Table {
    Table::of(&result.tests)
        .text(heads::TEST, |one| name(one.of.test))
        .text(
            heads::H0_ALL_SERIES,
            |one| {
                if one.of.null == Null::Stationary { "stationary" } else { "unit root" }
            },
        )
        .number(heads::STAT, 3, |one| one.of.statistic)
        .p_value(heads::P, |one| one.of.p_value)
        .text(heads::REJECT, |one| one.decision.yes_or_no())
        .table()
}

fn members(result: &PanelResult) -> Table {
    Table::of(&result.members)
        .text(heads::SERIES, |member| member.series.clone())
        .count(heads::LAGS, |member| member.adf.lags)
        .number(heads::ADF, 3, |member| member.adf.statistic)
        .p_value(heads::P, |member| member.adf.p_value)
        .number(heads::KPSS, 3, |member| member.kpss.statistic)
        .p_value(heads::P, |member| member.kpss.p_value)
        .table()
}
