//! Several series: one row each.

use kandrel_core::unitroot::verdict::{Class, Confidence};

use super::StationarityResult;
use super::text::confidence_word;
use crate::document::{Align, Cell, Document, Table};
use crate::words;

/// A table with a row for each series, and what to run for the argument of one.
pub fn overview(results: &[&StationarityResult], file: &str) -> Document {
    let mut document = Document::default();
    document.paragraph(sentence(results));
    document.paragraph(
        "d, D: differences, and those at the season. Chance: of all stories of this kind together."
            .to_owned(),
    );
    let mut table = Table::new(&[
        ("Series", Align::Left),
        ("n", Align::Decimal),
        ("Kind", Align::Left),
        ("d", Align::Decimal),
        ("D", Align::Decimal),
        ("Break after", Align::Left),
        ("Chance", Align::Decimal),
        ("Confidence", Align::Left),
    ]);
    for result in results {
        let verdict = &result.verdict;
        let broken = verdict.class == Class::BrokenTrend;
        table.rows.push(vec![
            Cell::text(result.series.clone()),
            Cell::Count(result.observations),
            Cell::text(class(verdict.class)),
            Cell::Count(verdict.integration),
            verdict.seasonal_integration.map_or(Cell::Missing, Cell::Count),
            Cell::text(verdict.break_at.clone().filter(|_| broken).unwrap_or_default()),
            Cell::number(verdict.probability, 2),
            Cell::text(confidence_word(verdict.confidence)),
        ]);
    }
    document.table(table);
    document.commands("Next", next(results, file));
    document
}

fn class(class: Class) -> &'static str {
    match class {
        Class::Stationary => "stationary",
        Class::TrendStationary => "about a trend",
        Class::DifferenceStationary => "unit root",
        Class::BrokenTrend => "but for a break",
        Class::LongMemory => "long memory",
        Class::SeasonalUnitRoot => "seasonal roots",
        Class::Inconclusive => "inconclusive",
    }
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

/// The argument of the series one is least sure of.
fn next(results: &[&StationarityResult], file: &str) -> Vec<String> {
    let rank = |one: &&&StationarityResult| match one.verdict.confidence {
        Confidence::Low => 0,
        Confidence::Moderate => 1,
        Confidence::High => 2,
    };
    let least = results.iter().min_by_key(rank);
    least
        .map(|one| format!("kandrel stationarity {file} {}", words::with_steps(&one.series, &[])))
        .into_iter()
        .collect()
}
