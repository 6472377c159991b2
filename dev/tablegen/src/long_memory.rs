//! How often long memory is flagged, and how often it is the verdict, on known processes.

use std::fmt::Write as _;

use kandrel_core::num::rng::NormalStream;
use kandrel_core::verdict::{AssessOptions, Class, assess};
use rayon::prelude::*;

use crate::verdicts::process;

/// Processes by the names that the table of verdicts gives them, with lengths.
const ROWS: [(&str, &[usize]); 8] = [
    ("white noise", &[200]),
    ("AR 0.5", &[200]),
    ("AR 0.9", &[200]),
    ("AR(4) 0.3 0.2 0.1 0.2", &[200]),
    ("random walk", &[200]),
    ("changes MA -0.5", &[200]),
    ("changes MA -0.8", &[200, 500]),
    ("fractional 0.4", &[200, 500]),
];

/// Another seed than those of the verdicts.
const SEED: u64 = 61_200;

/// The section of the report.
pub fn section(draws: u64) -> String {
    let mut out = format!(
        "## Long memory: how often it is flagged, and how often it is the verdict\n\nPer cent of {draws} series of each \
         process. The prior odds of the flag are set on series of random parameters (`kandrel-nulls memory`), not on \
         these.\n\n| process | n | flagged | verdict |\n| --- | --- | --- | --- |\n"
    );
    for (name, lengths) in ROWS {
        for n in lengths {
            let [flagged, verdict] = shares(name, *n, draws);
            // Writing to a string cannot fail.
            let _ = writeln!(out, "| {name} | {n} | {flagged:.0} | {verdict:.0} |");
        }
    }
    out
}

fn shares(name: &str, n: usize, draws: u64) -> [f64; 2] {
    let counts: Vec<[u32; 2]> = (0..draws)
        .into_par_iter()
        .filter_map(|number| {
            let y = (process(name)?.draw)(&mut NormalStream::new(SEED + n as u64, number), n);
            let verdict = assess(&y, &AssessOptions::default()).ok()?.verdict;
            let is = |holds: bool| u32::from(holds);
            Some([is(verdict.fractional_d.is_some()), is(verdict.class == Class::LongMemory)])
        })
        .collect();
    let per_cent = |which: usize| {
        let hits: u32 = counts.iter().map(|one| one[which]).sum();
        100.0 * f64::from(hits) / counts.len().max(1) as f64
    };
    [per_cent(0), per_cent(1)]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_row_is_of_a_known_process() {
        assert!(ROWS.iter().all(|(name, lengths)| process(name).is_some() && !lengths.is_empty()));
        assert_eq!(shares("white noise", 200, 2).map(|share| share <= 100.0), [true, true]);
    }
}
