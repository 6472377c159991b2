//! The result as a document.

use std::collections::BTreeSet;

use kandrel_core::series::Series;
use kandrel_core::unitroot::{Note, Null, TestName};
use kandrel_core::verdict::Confidence;

use super::terms;
use super::test::{TestResult, doubt, name_of};
use super::{MomentsResult, StationarityResult};
use crate::document::{Align, Block, Cell, Document, Table};
use crate::present::sample::Sample;
use crate::wording;

/// Answer, table, reasons, next step.
pub fn document(result: &StationarityResult, series: &Series, shows_regression: bool) -> Document {
    let mut document = Document::default();
    document.paragraph(format!(
        "{} Confidence: {}.",
        result.verdict.sentence,
        confidence_word(result.verdict.confidence)
    ));
    let searched = result.tests.iter().any(|test| test.max_lags.is_some());
    let chosen = result.tests.iter().any(|test| test.terms_rule == "auto");
    let allowing = match (searched, chosen) {
        (true, true) => ", for the search of lags and (ADF) the choice of terms",
        (true, false) => ", and for the search of lags",
        (false, true) => ", and (ADF) for the choice of terms",
        (false, false) => "",
    };
    document.paragraph(format!(
        "{}. Each p-value and critical value is for a series of this length{}.",
        Sample::of(series),
        allowing
    ));
    let tests = table(result);
    if !tests.rows.is_empty() {
        document.table(tests);
        document.blocks.push(Block::EvidenceLegend);
        document.paragraph(legend(result));
    }
    for one in &result.left_out {
        document.paragraph(format!("Left out: {}, {}.", name_of(one.test, None), one.reason));
    }
    if let Some(moments) = &result.moments {
        document.paragraph("Mean, spread and rhythm by segment");
        document.table(segments(moments));
    }
    if shows_regression {
        for test in result.tests.iter().filter(|test| !test.detail.regression.is_empty()) {
            document.paragraph(format!(
                "Regression of {} ({})",
                name_of(test.test, test.detail.model),
                differenced(test.differenced)
            ));
            document.table(regression(test));
        }
    }
    // The tables of a season have circles too.
    let mut shows_circles = !table(result).rows.is_empty();
    for test in &result.tests {
        let title = match test.test {
            TestName::Hegy => "Unit roots at the frequencies of the season (HEGY)".to_owned(),
            TestName::CanovaHansen => {
                format!("A season that stays as it is (Canova-Hansen, of the {})", long(test.differenced))
            }
            _ => continue,
        };
        document.paragraph(title);
        document.table(frequencies(test));
        if !shows_circles {
            document.blocks.push(Block::EvidenceLegend);
            shows_circles = true;
        }
    }
    document.list("Reasons", result.verdict.reasons.clone());
    document.commands("Next", result.verdict.next.clone());
    document
}

fn legend(result: &StationarityResult) -> String {
    let has = |names: &[TestName]| result.tests.iter().any(|test| names.contains(&test.test));
    let mut text =
        "Lags: of the changes, of the long-run variance (KPSS, PP). Δ, Δ²: first, second difference."
            .to_owned();
    if has(&[TestName::AdfGls, TestName::PointOptimal, TestName::NgPerron]) {
        text += " ADF-GLS, P_T (point optimal), MZt (M-test): detrended by generalised least squares.";
    }
    if has(&[TestName::ZivotAndrews]) {
        text += " ZA: Zivot and Andrews, against a trend with a break of level, slope, or both.";
    }
    if has(&[TestName::Perron]) {
        text += " Perron A, B, C: the same with the break that --break-at names.";
    }
    if has(&[TestName::LeeStrazicich]) {
        text += " LS: Lee and Strazicich, breaks under the null too.";
    }
    if has(&[TestName::LogPeriodogram, TestName::LocalWhittle]) {
        text += " GPH d, LW d: order of fractional integration (log-periodogram, local Whittle) over its error; lags are frequencies.";
    }
    let as_if: BTreeSet<&str> = result
        .tests
        .iter()
        .filter(|test| test.notes.contains(&doubt(Note::LagsAsIfGiven)))
        .map(|test| name_of(test.test, test.detail.model))
        .collect();
    if !as_if.is_empty() {
        text.push_str(" The p-values of ");
        text.push_str(&as_if.into_iter().collect::<Vec<_>>().join(", "));
        text.push_str(" are as if the lags had been given: a little too small after a search.");
    }
    if let Some(drawn) = result.bootstrap {
        let how = if drawn.wild { "each with its sign drawn (wild)" } else { "drawn with replacement" };
        let (draws, seed) = (drawn.draws, drawn.seed);
        let note = format!(
            " Boot. p: the rank among {draws} series with this one's dynamics and shocks, {how}, seed {seed}."
        );
        text.push_str(&note);
    }
    match result.tests.first().map(|test| test.season_out) {
        Some("pattern") => text += " The pattern of the season was taken out before.",
        Some("autoregression") => text += " The tests are of what the seasonal autoregression leaves.",
        Some("difference") => text += " The tests are of the seasonal difference.",
        _ => {}
    }
    text
}

pub fn confidence_word(confidence: Confidence) -> &'static str {
    match confidence {
        Confidence::High => "high",
        Confidence::Moderate => "moderate",
        Confidence::Low => "low",
    }
}

fn table(result: &StationarityResult) -> Table {
    let drawn = result.tests.iter().any(|test| test.bootstrap_p_value.is_some());
    let mut heads = vec![
        ("Of", Align::Left),
        ("Test", Align::Left),
        ("Null", Align::Left),
        ("Terms", Align::Left),
        ("Lags", Align::Decimal),
        ("Stat.", Align::Decimal),
        ("5 %", Align::Decimal),
        ("p", Align::Left),
    ];
    heads.push(if drawn { ("Boot. p", Align::Left) } else { ("Rejected", Align::Left) });
    let mut table = Table::new(&heads);
    let mut last = None;
    for test in result.tests.iter().filter(|test| !is_of_season(test.test)) {
        let new_block = last != Some(test.differenced);
        last = Some(test.differenced);
        table.rows.push(vec![
            Cell::text(if new_block { differenced(test.differenced) } else { "" }),
            Cell::text(name_of(test.test, test.detail.model)),
            Cell::text(match test.null {
                Null::UnitRoot => "unit root",
                Null::Stationary => "stationary",
                Null::FixedSeason => "fixed season",
                Null::NoMemory => "d = 0",
            }),
            if test.null == Null::NoMemory { Cell::text("") } else { Cell::text(terms::terms(test.terms)) },
            test.lags.or(test.bandwidth).map_or(Cell::Missing, Cell::Count),
            Cell::number(test.statistic, 3),
            test.critical.map_or(Cell::Missing, |critical| Cell::number(critical.five, 3)),
            test.p_value.map_or(Cell::Missing, Cell::SimulatedPValue),
            match test.bootstrap_p_value {
                Some(p) => Cell::text(format!("{p:.4}")),
                None if drawn => Cell::Missing,
                None => test.decision.map_or(Cell::Missing, |decision| Cell::text(decision.yes_or_no())),
            },
        ]);
    }
    table
}

fn is_of_season(test: TestName) -> bool {
    matches!(test, TestName::Hegy | TestName::CanovaHansen)
}

fn segments(moments: &MomentsResult) -> Table {
    let mut table = Table::new(&[
        ("From", Align::Left),
        ("To", Align::Left),
        ("Mean", Align::Decimal),
        ("Sd", Align::Decimal),
        ("r1", Align::Decimal),
    ]);
    let spread = moments.segments.iter().map(|segment| segment.sd).fold(0.0, f64::max);
    let decimals = wording::decimals(spread);
    for segment in &moments.segments {
        table.rows.push(vec![
            Cell::text(segment.first.clone()),
            Cell::text(segment.last.clone()),
            Cell::number(segment.mean, decimals),
            Cell::number(segment.sd, decimals),
            Cell::number(segment.r1, 2),
        ]);
    }
    let p = |place: usize| {
        moments.tests.get(place).map_or(Cell::Missing, |test| Cell::text(wording::p_value(test.p_value)))
    };
    table.rows.push(vec![Cell::text("p, all alike"), Cell::text(""), p(0), p(1), p(2)]);
    table
}

fn regression(test: &TestResult) -> Table {
    let mut table = Table::new(&[
        ("", Align::Left),
        ("Estimate", Align::Decimal),
        ("Std. error", Align::Decimal),
        ("t", Align::Decimal),
    ]);
    for line in &test.detail.regression {
        table.rows.push(vec![
            Cell::text(line.name.clone()),
            Cell::number(line.estimate, 5),
            Cell::number(line.std_error, 5),
            Cell::number(line.t, 2),
        ]);
    }
    for joint in &test.detail.joint {
        table.rows.push(vec![
            Cell::text(match joint.p_value {
                Some(p) => format!("{}, {}", joint.name, wording::p_equals(p)),
                None => format!("{}, no p-value", joint.name),
            }),
            Cell::Missing,
            Cell::Missing,
            Cell::number(joint.statistic, 2),
        ]);
    }
    table
}

fn frequencies(test: &TestResult) -> Table {
    let mut table = Table::new(&[
        ("Cycle", Align::Left),
        ("Kind", Align::Left),
        ("Stat.", Align::Decimal),
        ("p", Align::Left),
    ]);
    for line in &test.detail.frequencies {
        let cycle =
            line.period.map_or("long run".to_owned(), |period| format!("{} periods", wording::short(period)));
        table.rows.push(vec![
            Cell::text(cycle),
            Cell::text(line.kind),
            Cell::number(line.statistic, 2),
            line.p_value.map_or(Cell::Missing, Cell::SimulatedPValue),
        ]);
    }
    for joint in &test.detail.joint {
        let cycle = if joint.name == "all" { "all together" } else { "all of the season" };
        table.rows.push(vec![
            Cell::text(cycle),
            Cell::text("F"),
            Cell::number(joint.statistic, 2),
            joint.p_value.map_or(Cell::Missing, Cell::SimulatedPValue),
        ]);
    }
    table
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
