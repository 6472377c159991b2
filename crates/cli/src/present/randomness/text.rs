//! Tests of randomness in words, a table and a figure.

use kandrel_core::randomness::Departure;
use kandrel_core::series::Series;
use serde_json::Value;

use super::facts::RandomnessResult;
use crate::call::{Call, Name};
use crate::document::{Along, Block, Document, Ink, Line, Panel, Plot, Table};
use crate::wording;
use crate::wording::{heads, legends, titles};

/// The result as a document.
pub fn document(result: &RandomnessResult, series: &Series, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(result.reading.clone());
    document.paragraph(format!("{}. {}", result.sample, legends::randomness()));
    document.plot(plot(result, series));
    document.table(table(result));
    document.blocks.push(Block::EvidenceLegend);
    document.paragraph(legends::HOLM);
    // A single horizon is a part of the joint variance-ratio test.
    let rejections =
        result.tests.iter().filter(|test| test.line.decision.is_rejection() && test.p_adjusted.is_some());
    let meanings = rejections.map(|test| format!("{}: {}.", test.line.name, test.line.meaning));
    document.interpretation(runs(result).into_iter().chain(meanings).collect());
    let random = result.departures.iter().all(|departure| *departure == Departure::NotNormal);
    document.commands(
        titles::NEXT,
        if random {
            Vec::new()
        } else {
            vec![
                call.next(Name::Acf, [&result.series]),
                call.next(Name::Stationarity, [&result.series]).keeping(call, &["alpha"]),
            ]
        },
    );
    document
}

/// The runs: how many there are and how many are expected.
fn runs(result: &RandomnessResult) -> Option<String> {
    let detail = &result.tests.iter().find(|test| test.line.test == "runs")?.line.detail;
    let number = |name: &str| detail.get(name).and_then(Value::as_u64);
    Some(format!(
        "{} runs, {} expected under randomness: {} observations at or above the cut {}, {} below.",
        number("runs")?,
        wording::number(detail.get("expected")?.as_f64()?, 1),
        number("above")?,
        wording::short(result.cut),
        number("below")?
    ))
}

fn table(result: &RandomnessResult) -> Table {
    Table::of(&result.tests)
        .text(heads::TEST, |test| test.line.name.clone())
        .number(heads::STAT, 2, |test| test.line.statistic)
        .p_value(heads::P, |test| test.line.p_value)
        .text(heads::HOLM, |test| test.p_adjusted.map(wording::p_value))
        .text(heads::DECISION, |test| test.line.decision.text())
        .table()
}

/// The series and its cut.
pub fn plot(result: &RandomnessResult, series: &Series) -> Plot {
    let length = series.values.len();
    let points = series.values.iter().enumerate().map(|(t, value)| Some((t as f64, *value)));
    let ends = [0.0, length.saturating_sub(1) as f64].map(|x| Some((x, result.cut)));
    Plot {
        title: result.reading.clone(),
        subtitle: String::new(),
        foot: String::new(),
        columns: 1,
        panels: vec![Panel {
            title: format!("{} and the cut of its runs, {}", result.series, wording::short(result.cut)),
            along: Along::Periods((0..length).map(|t| series.period(t)).collect()),
            axis: wording::capitalised(series.start.frequency().noun()),
            lines: vec![
                Line::with_gaps(&result.series, Ink::Series(0), points),
                Line::with_gaps("cut", Ink::Mean, ends.into_iter()),
            ],
            ..Panel::default()
        }],
    }
}
