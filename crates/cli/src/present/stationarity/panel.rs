//! Several series tested together: result, sentences, text.

use kandrel_core::nulldist::Terms;
use kandrel_core::series::Series;
use kandrel_core::unitroot::panel::{Panel, PanelTest, PanelTestName};
use kandrel_core::unitroot::{Null, UnitRootTest};
use schemars::JsonSchema;
use serde::Serialize;

use super::terms;
use crate::call::{Call, Name};
use crate::document::{Align, Block, Cell, Document, Table};
use crate::present::decision::Decision;
use crate::wording;
use crate::wording::number;

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
    pub dependence: DependenceResult,
    pub sentence: String,
    pub reasons: Vec<String>,
    pub next: Vec<Call>,
}

/// One test of all series.
#[derive(JsonSchema, Serialize)]
pub struct PanelTestResult {
    pub test: PanelTestName,
    pub null: Null,
    pub statistic: f64,
    pub p_value: f64,
    pub decision: Decision,
    /// Panels drawn for the p-value; none where the distribution is known.
    pub drawn: Option<usize>,
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

/// Correlation between the shocks of the series.
#[derive(JsonSchema, Serialize)]
pub struct DependenceResult {
    pub mean_correlation: f64,
    pub statistic: f64,
    pub p_value: f64,
}

/// Puts a result together.
pub fn result(all: &[Series], found: &Panel, call: &Call, alpha: f64) -> PanelResult {
    let names: Vec<String> = all.iter().map(|series| series.name.clone()).collect();
    let member = |(series, one): (&Series, &kandrel_core::unitroot::panel::Member)| MemberResult {
        series: series.name.clone(),
        adf: member_test(&one.unit_root),
        kpss: member_test(&one.stationarity),
    };
    let first = all.first();
    PanelResult {
        first: first.map_or(String::new(), |series| series.start.to_string()),
        last: first.map_or(String::new(), |series| series.last().to_string()),
        observations: found.observations,
        terms: found.terms,
        tests: found.tests.iter().map(|test| panel_test(test, alpha)).collect(),
        members: all.iter().zip(&found.members).map(member).collect(),
        dependence: DependenceResult {
            mean_correlation: found.dependence.mean_correlation,
            statistic: found.dependence.statistic,
            p_value: found.dependence.p_value,
        },
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

fn panel_test(test: &PanelTest, alpha: f64) -> PanelTestResult {
    PanelTestResult {
        test: test.test,
        null: test.null,
        statistic: test.statistic,
        p_value: test.p_value,
        decision: Decision::at(test.p_value, alpha),
        drawn: test.drawn,
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

/// Where shocks are common, only the test that takes them out keeps its size.
fn root_test(found: &Panel) -> PanelTestName {
    if found.dependence.p_value <= 0.05 {
        PanelTestName::CrossSectionAugmented
    } else {
        PanelTestName::ImPesaranShin
    }
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
            format!("Of the {count} series some are stationary and some are not: judge them one by one.")
        }
        Reading::Open => format!("The data do not settle whether the {count} series have unit roots."),
    }
}

fn reasons(found: &Panel, alpha: f64) -> Vec<String> {
    let dependence = &found.dependence;
    let common = dependence.p_value <= 0.05;
    let shocks = if common {
        "so shocks are common to them: of the tests of a unit root only the one beside the means over the series \
         (Pesaran) keeps its size; the others, and Hadri's, reject too often"
    } else {
        "so the tests may take them as independent"
    };
    let root = root_test(found);
    let verdict = |p: f64| if p <= alpha { "is rejected" } else { "is not rejected" };
    vec![
        format!(
            "The series' shocks have a mean correlation of {} ({}), {shocks}.",
            number(dependence.mean_correlation, 2),
            wording::p_equals(dependence.p_value)
        ),
        format!(
            "That all series have a unit root {} ({}, {}). A rejection says that some of them, not all, return.",
            verdict(p_of(found, root)),
            name(root),
            wording::p_equals(p_of(found, root))
        ),
        format!(
            "That all are stationary {} (Hadri, {}). A rejection says that some of them, not all, have a unit root.",
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
        PanelTestName::CrossSectionAugmented => "Pesaran, beside means",
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
        terms::terms(result.terms)
    ));
    let mut table = Table::new(&[
        ("Test", Align::Left),
        ("Null, of all series", Align::Left),
        ("Statistic", Align::Decimal),
        ("p", Align::Left),
        ("Rejected", Align::Left),
    ]);
    for test in &result.tests {
        table.rows.push(vec![
            Cell::text(name(test.test)),
            Cell::text(if test.null == Null::Stationary { "stationary" } else { "unit root" }),
            Cell::number(test.statistic, 3),
            Cell::PValue(test.p_value),
            Cell::text(test.decision.yes_or_no()),
        ]);
    }
    document.table(table);
    document.blocks.push(Block::EvidenceLegend);
    document.paragraph("The series one by one");
    document.table(members(result));
    document.list("Reasons", result.reasons.clone());
    document.commands("Next", result.next.clone());
    document
}

fn members(result: &PanelResult) -> Table {
    let mut table = Table::new(&[
        ("Series", Align::Left),
        ("Lags", Align::Decimal),
        ("ADF", Align::Decimal),
        ("p", Align::Left),
        ("KPSS", Align::Decimal),
        ("p", Align::Left),
    ]);
    for member in &result.members {
        table.rows.push(vec![
            Cell::text(member.series.clone()),
            member.adf.lags.map_or(Cell::Missing, Cell::Count),
            Cell::number(member.adf.statistic, 3),
            member.adf.p_value.map_or(Cell::Missing, Cell::SimulatedPValue),
            Cell::number(member.kpss.statistic, 3),
            member.kpss.p_value.map_or(Cell::Missing, Cell::SimulatedPValue),
        ]);
    }
    table
}
