//! The result as a document.

use kandrel_core::series::Series;
use kandrel_core::unitroot::Null;
use kandrel_core::unitroot::verdict::Confidence;

use super::wording;
use super::{StationarityResult, name_of};
use crate::document::{Align, Block, Cell, Document, Table};
use crate::words;

/// Answer, table, reasons, next step.
pub fn document(result: &StationarityResult, series: &Series) -> Document {
    let mut document = Document::default();
    document.paragraph(format!(
        "{} Confidence: {}.",
        result.verdict.sentence,
        confidence_word(result.verdict.confidence)
    ));
    let searched = result.tests.iter().any(|test| test.max_lags.is_some());
    let chosen = result.tests.iter().any(|test| test.terms_rule == "auto");
    let allowing = match (searched, chosen) {
        (true, true) => ", for the search of lags and the choice of terms",
        (true, false) => ", and for the search of lags",
        (false, true) => ", and for the choice of terms",
        (false, false) => "",
    };
    document.paragraph(format!(
        "{}. Each p-value and critical value is for a series of this length{}.",
        words::sample(series),
        allowing
    ));
    document.table(table(result));
    document.blocks.push(Block::EvidenceLegend);
    document.paragraph(
        "Lags: of the changes (ADF), of the long-run variance (KPSS). Δ, Δ²: first, second difference.",
    );
    document.list("Reasons", result.verdict.reasons.clone());
    document.commands("Next", result.verdict.next.clone());
    document
}

fn confidence_word(confidence: Confidence) -> &'static str {
    match confidence {
        Confidence::High => "high",
        Confidence::Moderate => "moderate",
        Confidence::Low => "low",
    }
}

fn table(result: &StationarityResult) -> Table {
    let mut table = Table::new(&[
        ("Of", Align::Left),
        ("Test", Align::Left),
        ("Null", Align::Left),
        ("Terms", Align::Left),
        ("Lags", Align::Decimal),
        ("Stat.", Align::Decimal),
        ("5 %", Align::Decimal),
        ("p", Align::Left),
        ("Null is", Align::Left),
    ]);
    let mut last = None;
    for test in &result.tests {
        let new_block = last != Some(test.differenced);
        last = Some(test.differenced);
        table.rows.push(vec![
            Cell::text(if new_block { differenced(test.differenced) } else { "" }),
            Cell::text(name_of(test.test)),
            Cell::text(match test.null {
                Null::UnitRoot => "unit root",
                Null::Stationary => "stationary",
            }),
            Cell::text(wording::terms(test.terms)),
            test.lags.or(test.bandwidth).map_or(Cell::Missing, Cell::Count),
            Cell::number(test.statistic, 3),
            Cell::number(test.critical.five, 3),
            Cell::SimulatedPValue(test.p_value),
            Cell::text(test.decision),
        ]);
    }
    table
}

fn differenced(times: usize) -> &'static str {
    match times {
        0 => "level",
        1 => "Δ",
        _ => "Δ²",
    }
}
