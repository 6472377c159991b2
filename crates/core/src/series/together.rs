//! The periods that any of several series has.

use std::collections::BTreeSet;

use super::SeriesWithGaps;
use crate::time::Period;

/// All periods from the first in which any series has a value to the last; only those
/// that are there, where periods were left out.
pub fn periods_together(all: &[SeriesWithGaps]) -> Vec<Period> {
    let own: BTreeSet<Period> =
        all.iter().flat_map(|series| (0..series.cells.len()).map(|t| series.period(t))).collect();
    let ends = own.first().copied().zip(own.last().copied());
    match ends {
        Some((first, last)) if all.iter().all(|series| series.dates.is_none()) => {
            (0..=last.steps_since(first).unwrap_or(0)).map(|step| first.offset(step)).collect()
        }
        _ => own.into_iter().collect(),
    }
}
