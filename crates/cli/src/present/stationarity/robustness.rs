//! Whether the verdict holds over sub-samples, terms, lag rules and bandwidths: result, sentence, table.

use crate::wording::{heads, legends, titles};
use kandrel_core::nulldist::Terms;
use kandrel_core::robustness::{Robustness, RobustnessRow, Subsample, Variation};
use kandrel_core::series::Series;
use kandrel_core::unitroot::UnitRootTest;
use schemars::JsonSchema;
use serde::Serialize;

use crate::call::{Call, Name};
use crate::document::{Block, Document, Table};
use crate::present::decision::Decision;
use crate::present::sample::Sample;

/// What `stationarity --robustness` finds.
#[derive(JsonSchema, Serialize)]
pub struct RobustnessResult {
    pub series: String,
    pub sample: Sample,
    /// The whole sample with its own options first.
    pub rows: Vec<RobustnessRowResult>,
    /// Verdicts and decisions below the first row.
    pub cells: usize,
    /// How many of them agree with the first row.
    pub agreeing: usize,
    pub alpha: f64,
}

/// The verdict and the main tests of the level under one variation.
#[derive(JsonSchema, Serialize)]
pub struct RobustnessRowResult {
    /// What is varied: sample, terms, lags or bandwidth.
    pub varied: Varied,
    /// In what way, in words.
    pub label: String,
    pub first: String,
    pub last: String,
    pub observations: usize,
    pub d: Option<usize>,
    #[serde(rename = "D")]
    pub seasonal: Option<usize>,
    pub probability: Option<f64>,
    pub adf: Option<TestCell>,
    pub pp: Option<TestCell>,
    pub kpss: Option<TestCell>,
}

/// What a row varies.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Varied {
    Sample,
    Terms,
    Lags,
    Bandwidth,
}

/// A test in a cell.
#[derive(JsonSchema, Serialize)]
pub struct TestCell {
    pub terms: Terms,
    pub lags: Option<usize>,
    pub bandwidth: Option<usize>,
    pub statistic: f64,
    pub p_value: Option<f64>,
    pub decision: Option<Decision>,
}

/// Puts a result together.
pub fn result(series: &Series, found: &Robustness, alpha: f64) -> RobustnessResult {
    RobustnessResult {
        series: series.name.clone(),
        sample: Sample::of(series),
        rows: found.rows.iter().map(|row| of_row(series, row, alpha)).collect(),
        cells: found.cells,
        agreeing: found.agreeing,
        alpha,
    }
}

fn of_row(series: &Series, row: &RobustnessRow, alpha: f64) -> RobustnessRowResult {
    let period = |place: usize| series.period(place).to_string();
    let cell = |test: &UnitRootTest| TestCell {
        terms: test.terms,
        lags: test.lags,
        bandwidth: test.bandwidth,
        statistic: test.statistic,
        p_value: test.p_value,
        decision: test.p_value.map(|p| Decision::at(p, alpha)),
    };
    let (varied, label) = label(row.variation);
    RobustnessRowResult {
        varied,
        label,
        first: period(row.sample.start),
        last: period(row.sample.end.saturating_sub(1)),
        observations: row.sample.len(),
        d: row.verdict.map(|([d, _], _)| d),
        seasonal: row.verdict.map(|([_, seasonal], _)| seasonal),
        probability: row.verdict.map(|(_, probability)| probability),
        adf: row.adf.as_ref().map(cell),
        pp: row.pp.as_ref().map(cell),
        kpss: row.kpss.as_ref().map(cell),
    }
}

fn label(variation: Variation) -> (Varied, String) {
    match variation {
        Variation::Subsample(part) => (Varied::Sample, sample(part).to_owned()),
        Variation::Terms(Terms::None) => (Varied::Terms, "terms: none".to_owned()),
        Variation::Terms(Terms::Constant) => (Varied::Terms, "terms: constant".to_owned()),
        Variation::Terms(Terms::Trend) => (Varied::Terms, "terms: trend".to_owned()),
        Variation::Lags(rule) => (Varied::Lags, format!("lags: {}", rule.name())),
        Variation::Bandwidth(rule) => (Varied::Bandwidth, format!("bandwidth: {}", rule.name())),
    }
}

fn sample(part: Subsample) -> &'static str {
    match part {
        Subsample::Whole => "whole sample",
        Subsample::WithoutFirstTenth => "last 9/10",
        Subsample::WithoutLastTenth => "first 9/10",
        Subsample::WithoutFirstQuarter => "last 3/4",
        Subsample::WithoutLastQuarter => "first 3/4",
        Subsample::FirstHalf => "first half",
        Subsample::SecondHalf => "second half",
        Subsample::BeforeBreak => "before break",
        Subsample::AfterBreak => "after break",
    }
}

/// The finding in one sentence.
pub fn answer(result: &RobustnessResult) -> String {
    let Some((whole, rest)) = result.rows.split_first() else {
        return format!("{} has no robustness table.", result.series);
    };
    let parts: Vec<&RobustnessRowResult> = rest.iter().filter(|row| row.d.is_some()).collect();
    let same = parts.iter().filter(|row| (row.d, row.seasonal) == (whole.d, whole.seasonal)).count();
    let holds = match (same, parts.len()) {
        (_, 0) => "is too short to be divided".to_owned(),
        (same, all) if same == all => format!("is the same in all {all} sub-samples"),
        (same, all) => format!("is the same in {same} of {all} sub-samples"),
    };
    format!(
        "The verdict on {}, {}, {holds}; {} of {} cells agree with the whole sample.",
        result.series,
        orders(whole),
        result.agreeing,
        result.cells
    )
}

fn orders(row: &RobustnessRowResult) -> String {
    match (row.d, row.seasonal) {
        (Some(d), Some(seasonal)) => format!("(d, D) = ({d}, {seasonal})"),
        _ => String::new(),
    }
}

/// Sentence, table, legend, next step.
pub fn document(result: &RobustnessResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(format!("{}.", result.sample));
    let p = |test: &Option<TestCell>| test.as_ref().and_then(|test| test.p_value);
    let table = Table::of(&result.rows)
        .text(heads::VARIATION, |row| row.label.clone())
        .text(heads::SAMPLE, |row| format!("{}..{}", row.first, row.last))
        .text(heads::DIFFERENCES, |row| orders(row).replace("(d, D) = ", ""))
        .number(heads::PROB, 2, |row| row.probability)
        .p_value(heads::ADF_P, |row| p(&row.adf))
        .p_value(heads::PP_P, |row| p(&row.pp))
        .p_value(heads::KPSS_P, |row| p(&row.kpss))
        .table();
    document.table(table);
    document.blocks.push(Block::EvidenceLegend);
    document.paragraph(legends::ROBUSTNESS);
    document.commands(titles::NEXT, vec![call.next(Name::Stationarity, [&result.series])]);
    document
}

#[cfg(test)]
mod tests {
    use super::*;

    fn row(label: &str, d: Option<usize>) -> RobustnessRowResult {
        RobustnessRowResult {
            varied: Varied::Sample,
            label: label.to_owned(),
            first: "2001".to_owned(),
            last: "2010".to_owned(),
            observations: 10,
            d,
            seasonal: d.map(|_| 0),
            probability: d.map(|_| 0.8),
            adf: None,
            pp: None,
            kpss: None,
        }
    }

    #[test]
    fn the_sentence_counts_sub_samples_and_cells() {
        let series = Series::undated("x", vec![0.0; 10]);
        let of = |rows: Vec<RobustnessRowResult>| {
            let result = RobustnessResult {
                series: "x".to_owned(),
                sample: Sample::of(&series),
                rows,
                cells: 9,
                agreeing: 7,
                alpha: 0.05,
            };
            answer(&result)
        };
        let some = of(vec![row("whole", Some(1)), row("a", Some(1)), row("b", Some(0)), row("terms", None)]);
        assert!(some.contains("(d, D) = (1, 0), is the same in 1 of 2 sub-samples; 7 of 9 cells"), "{some}");
        assert!(of(vec![row("whole", Some(1)), row("a", Some(1))]).contains("is the same in all 1 sub"));
        assert!(of(vec![row("whole", Some(1))]).contains("too short"));
    }

    #[test]
    fn every_variation_has_its_own_label() {
        let parts = [
            Subsample::Whole,
            Subsample::WithoutFirstTenth,
            Subsample::WithoutLastTenth,
            Subsample::WithoutFirstQuarter,
            Subsample::WithoutLastQuarter,
            Subsample::FirstHalf,
            Subsample::SecondHalf,
            Subsample::BeforeBreak,
            Subsample::AfterBreak,
        ];
        let terms = [Terms::None, Terms::Constant, Terms::Trend].map(Variation::Terms);
        let all: Vec<String> =
            parts.map(Variation::Subsample).into_iter().chain(terms).map(|one| label(one).1).collect();
        let mut unique = all.clone();
        unique.sort();
        unique.dedup();
        assert_eq!(unique.len(), all.len());
    }
}
