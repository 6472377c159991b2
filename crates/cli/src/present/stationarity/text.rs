//! The result as a document.

use std::collections::BTreeSet;

use kandrel_core::series::Series;
use kandrel_core::unitroot::{JointResult, Note, Null, TestName};

use super::test::{TestResult, caveat};
use super::{MomentsResult, StationarityResult};
use crate::document::{Block, Document, Table, TableCell};
use crate::present::sample::Sample;
use crate::wording;
use crate::wording::{heads, legends, test_names, titles};

/// Answer, table, interpretation, next step.
pub fn document(result: &StationarityResult, series: &Series, with_regression: bool) -> Document {
    let mut document = Document::default();
    let answer = format!("{} Confidence: {}.", result.verdict.sentence, result.verdict.confidence.word());
    document.paragraph(result.diagnosis.before_answer(&result.series, &answer));
    let searched = result.tests.iter().any(|test| test.max_lags.is_some());
    let chosen = result.tests.iter().any(|test| test.terms_rule == "auto");
    let allowing = match (searched, chosen) {
        (true, true) => ", lag selection and (ADF of the level) choice of terms",
        (true, false) => " and lag selection",
        (false, true) => " and (ADF of the level) choice of terms",
        (false, false) => "",
    };
    document.paragraph(format!("{}. P-values are for this sample size{}.", Sample::of(series), allowing));
    if let Some(length) = result.diagnosis.suggested_season {
        document.paragraph(format!(
            "The data are undated, so no season is assumed; the series shows seasonality of period {length}: use --season \
             {length}."
        ));
    }
    let tests = table(result);
    if !tests.rows.is_empty() {
        document.table(tests);
        document.blocks.push(Block::EvidenceLegend);
        document.detail("test notes", |inner| inner.paragraph(legend(result)));
    }
    for one in &result.left_out {
        document.paragraph(format!("Left out: {}, {}.", test_names::name_of(one.test, None), one.reason));
    }
    if let Some(moments) = &result.moments {
        document.detail("subsample moments", |inner| {
            inner.paragraph(titles::SUBSAMPLE_MOMENTS);
            inner.table(segments(moments));
        });
    }
    if with_regression {
        for test in result.tests.iter().filter(|test| !test.detail.regression.is_empty()) {
            document.paragraph(format!(
                "Regression of {} ({})",
                test_names::name_of(test.test, test.detail.model),
                differenced(test.differenced)
            ));
            document.table(regression(test));
            document.paragraphs(joint_tests(test));
        }
    }
    document.detail("seasonal tests", |inner| seasonal_tests(inner, result));
    document.interpretation(result.verdict.reasons.clone());
    document.commands(titles::NEXT, result.verdict.next.clone());
    document
}

/// The tables of HEGY and Canova-Hansen.
fn seasonal_tests(document: &mut Document, result: &StationarityResult) {
    // The circles are explained once.
    let mut explains_circles = table(result).rows.is_empty();
    for test in &result.tests {
        let title = match test.test {
            TestName::Hegy => "Seasonal unit roots (HEGY)".to_owned(),
            TestName::CanovaHansen => {
                format!("Deterministic seasonality (Canova-Hansen, of the {})", long(test.differenced))
            }
            _ => continue,
        };
        document.paragraph(title);
        document.table(frequencies(test));
        if explains_circles {
            document.blocks.push(Block::EvidenceLegend);
            explains_circles = false;
        }
    }
}

fn legend(result: &StationarityResult) -> String {
    let shown: Vec<TestName> = result.tests.iter().map(|test| test.test).collect();
    let mut text = legends::unit_root_tests(&shown);
    let as_if: BTreeSet<&str> = result
        .tests
        .iter()
        .filter(|test| test.notes.contains(&caveat(Note::LagsAsIfGiven)))
        .map(|test| test_names::name_of(test.test, test.detail.model))
        .collect();
    if !as_if.is_empty() {
        text += &legends::lags_as_if_given(&as_if.into_iter().collect::<Vec<_>>());
    }
    if let Some(drawn) = result.bootstrap {
        text += &legends::bootstrap(drawn.draws, drawn.wild, drawn.seed);
    }
    text + legends::season_out(result.tests.first().map(|test| test.season_out))
}

fn table(result: &StationarityResult) -> Table {
    let drawn = result.tests.iter().any(|test| test.bootstrap_p_value.is_some());
    let tests: Vec<&TestResult> = result.tests.iter().filter(|test| !is_of_season(test.test)).collect();
    let starts_block = |place: usize| {
        place == 0
            || tests.get(place - 1).map(|before| before.differenced)
                != tests.get(place).map(|own| own.differenced)
    };
    let terms = |test: &TestResult| if test.null == Null::NoMemory { "" } else { test.terms.name() };
    Table::of(tests.iter().enumerate())
        .text(
            heads::DATA,
            |(place, test)| if starts_block(*place) { differenced(test.differenced) } else { "" },
        )
        .text(heads::TEST, |(_, test)| test_names::name_of(test.test, test.detail.model))
        .text(heads::H0, |(_, test)| test_names::null_of(test.null))
        .text(heads::TERMS, |(_, test)| terms(test))
        .count(heads::LAGS, |(_, test)| test.lags.or(test.bandwidth))
        .number(heads::STAT, 3, |(_, test)| test.statistic)
        .number(heads::FIVE_PER_CENT, 3, |(_, test)| test.critical.map(|critical| critical.five))
        .p_value(heads::P, |(_, test)| test.p_value)
        .only_if(drawn, |rows| {
            rows.text(heads::BOOT_P, |(_, test)| test.bootstrap_p_value.map(|p| format!("{p:.4}")))
        })
        .only_if(!drawn, |rows| {
            rows.text(heads::REJECT, |(_, test)| {
                test.decision.map(super::super::decision::Decision::yes_or_no)
            })
        })
        .table()
}

fn is_of_season(test: TestName) -> bool {
    matches!(test, TestName::Hegy | TestName::CanovaHansen)
}

fn segments(moments: &MomentsResult) -> Table {
    let spread = moments.segments.iter().map(|segment| segment.sd).fold(0.0, f64::max);
    let decimals = wording::decimals(spread);
    let mut table = Table::of(&moments.segments)
        .text(heads::FROM, |segment| segment.first.clone())
        .text(heads::TO, |segment| segment.last.clone())
        .number(heads::MEAN, decimals, |segment| segment.mean)
        .number(heads::SD, decimals, |segment| segment.sd)
        .number(heads::FIRST_AUTOCORRELATION, 2, |segment| segment.r1)
        .table();
    let mut last = vec![TableCell::text("p (equality)"), TableCell::text("")];
    last.extend(moments.tests.iter().map(|test| TableCell::text(wording::p_value(test.p_value))));
    table.rows.push(last);
    table
}

fn regression(test: &TestResult) -> Table {
    Table::of(&test.detail.regression)
        .text(heads::REGRESSOR, |line| line.regressor.to_string())
        .number(heads::ESTIMATE, 5, |line| line.estimate)
        .number(heads::STD_ERROR, 5, |line| line.std_error)
        .number(heads::T, 2, |line| line.t)
        .table()
}

/// The joint tests of a regression (Dickey and Fuller's F statistics), if it has any.
fn joint_tests(test: &TestResult) -> Option<String> {
    let of = |joint: &JointResult| {
        let p = joint.p_value.map_or("no p-value".to_owned(), wording::p_equals);
        let value = wording::number(joint.statistic, 2);
        format!("{} {value} ({p})", joint.name)
    };
    let all: Vec<String> = test.detail.joint.iter().map(of).collect();
    (!all.is_empty()).then(|| format!("Joint F statistics (Dickey and Fuller): {}.", all.join(", ")))
}

fn frequencies(test: &TestResult) -> Table {
    let cycle = |period: Option<f64>| {
        period.map_or("long run".to_owned(), |period| format!("{} periods", wording::short(period)))
    };
    let together =
        |name: &str| if name == "all" { "all together" } else { "all seasonal frequencies" }.to_owned();
    let lines = test.detail.frequencies.iter();
    let each = lines.map(|line| (cycle(line.period), line.kind, line.statistic, line.p_value));
    let joint = test.detail.joint.iter().map(|one| (together(one.name), "F", one.statistic, one.p_value));
    Table::of(each.chain(joint))
        .text(heads::CYCLE, |(cycle, ..)| cycle.clone())
        .text(heads::KIND, |(_, kind, ..)| *kind)
        .number(heads::STAT, 2, |(_, _, statistic, _)| *statistic)
        .p_value(heads::P, |(.., p)| *p)
        .table()
}

fn long(times: usize) -> &'static str {
    match times {
        0 => "level",
        1 => "first difference",
        _ => "second difference",
    }
}

fn differenced(times: usize) -> &'static str {
    match times {
        0 => "level",
        1 => "Δ",
        _ => "Δ²",
    }
}
