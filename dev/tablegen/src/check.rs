//! Holds the tables against fresh draws.

use std::cmp::Reverse;
use std::collections::HashSet;

use kandrel_core::nulldist::{Family, LagChoice, Tail};
use kandrel_core::ols::autocovariances_examined;

use crate::adf::AdfSimulator;
use crate::kpss::KpssSimulator;
use crate::part::{Part, Run};
use crate::published::LEVELS;
use crate::sample::{SimulationCell, Simulator, sorted_draws};

/// Another seed than that of the tables.
const SEED: u64 = 77_001;

/// The error of a p-value that the tables may have.
const ALLOWED: f64 = 0.002;

/// How the fresh replications of one cell fare.
#[derive(Debug)]
pub struct Size {
    pub cell: SimulationCell,
    /// Shares of draws with a p-value up to each of [`LEVELS`].
    pub shares: [f64; 3],
}

/// Checks a sample of cells of every family of these parts.
///
/// Fails if any share is further from its level than the tables' error and
/// five standard errors of the draws.
pub fn check(parts: &[Part], draws: usize, times: usize) -> Result<(), String> {
    let (mut wrong, mut checked) = (Vec::new(), 0);
    for part in parts {
        let all = sample_of(*part, draws, times);
        wrong.extend(all.iter().filter(|size| !size.holds(draws)).map(|size| format!("{size:?}")));
        checked += all.len();
        eprintln!("{part:?}: {} cells of {} families", all.len(), families(&all).len());
    }
    if wrong.is_empty() {
        eprintln!("{checked} distributions agree with {draws} fresh draws");
        return Ok(());
    }
    Err(format!("p-values are off:\n{}", wrong.join("\n")))
}

/// The families of some sizes, each once.
fn families(all: &[Size]) -> Vec<Family> {
    let mut families: Vec<Family> = Vec::new();
    for size in all {
        if !families.contains(&size.cell.family) {
            families.push(size.cell.family);
        }
    }
    families
}

/// Every distribution of the fewest sample sizes of a part that hold all its families a given number of times; of sizes that hold
/// as many, the shortest.
fn sample_of(part: Part, draws: usize, times: usize) -> Vec<Size> {
    let mut left: Vec<(u64, Run)> = (0..).zip(part.runs(draws)).collect();
    let mut all = Vec::new();
    for _ in 0..times {
        let mut known: Vec<Family> = Vec::new();
        while let Some(place) = most_new(&left, &known) {
            let (number, (simulator, ..)) = left.swap_remove(place);
            let found = sizes_of(simulator.as_ref(), draws, SEED + 100 + number);
            known.extend(families(&found));
            all.extend(found);
        }
    }
    all
}

/// The run with the most families that are not known yet; none where there is nothing new.
fn most_new(runs: &[(u64, Run)], known: &[Family]) -> Option<usize> {
    let new = |simulator: &dyn Simulator| {
        let n = simulator.observations();
        let testable = simulator.cells().into_iter().filter(|cell| is_testable(*cell, n));
        let families: HashSet<Family> = testable.map(|cell| cell.family).collect();
        families.iter().filter(|family| !known.contains(family)).count()
    };
    let each = runs.iter().map(|(_, (simulator, ..))| (new(simulator.as_ref()), simulator.observations()));
    let best = each.enumerate().filter(|(_, (count, _))| *count > 0);
    best.min_by_key(|(_, (count, n))| (Reverse(*count), *n)).map(|(place, _)| place)
}

/// Every distribution of a simulator that a test can meet.
fn sizes_of(simulator: &dyn Simulator, draws: usize, seed: u64) -> Vec<Size> {
    let n = simulator.observations();
    sorted_draws(simulator, draws, seed)
        .into_iter()
        .filter(|(cell, _)| is_testable(*cell, n))
        .filter_map(|(cell, sorted)| Some(Size { cell, shares: shares(cell, n, &sorted)? }))
        .collect()
}

/// The distributions of ADF and KPSS at one sample size.
pub fn sizes_at(n: usize, draws: usize) -> Vec<Size> {
    let adf = sizes_of(&AdfSimulator::new(n), draws, SEED);
    adf.into_iter().chain(sizes_of(&KpssSimulator::new(n), draws, SEED + 1)).collect()
}

/// Whether a table covers this cell and a test can meet it: the automatic bandwidth looks at one
/// number of autocovariances for each length.
fn is_testable(cell: SimulationCell, n: usize) -> bool {
    let occurs = cell.family.lags != LagChoice::Automatic || cell.lags == autocovariances_examined(n);
    occurs && cell.family.surface().is_some_and(|surface| surface.covers(n, cell.lags))
}

fn shares(cell: SimulationCell, n: usize, sorted: &[f32]) -> Option<[f64; 3]> {
    let surface = cell.family.surface()?;
    let side = cell.family.side();
    let distribution = surface.at(n, cell.lags);
    let count = sorted.len() as f64;
    Some(LEVELS.map(|level| {
        let critical = distribution.critical_value(level, side);
        let below = sorted.partition_point(|draw| f64::from(*draw) <= critical) as f64;
        if side == Tail::Lower { below / count } else { 1.0 - below / count }
    }))
}

impl Size {
    fn holds(&self, draws: usize) -> bool {
        self.shares.iter().zip(LEVELS).all(|(share, level)| {
            let chance = 5.0 * (level * (1.0 - level) / draws as f64).sqrt();
            (share - level).abs() <= ALLOWED + chance
        })
    }
}

#[cfg(test)]
mod tests {
    use clap::ValueEnum;
    use rayon::prelude::*;

    use super::*;

    #[test]
    fn every_part_and_family_agrees_with_fresh_draws() {
        let draws = 1000;
        let parts = Part::value_variants();
        let all: Vec<Size> = parts.par_iter().flat_map_iter(|part| sample_of(*part, draws, 1)).collect();
        for size in &all {
            assert!(size.holds(draws), "{size:?}");
        }
        let known = families(&all);
        // The automatic bandwidth of KPSS occurs at one size each.
        let missing: Vec<String> = Family::all()
            .into_iter()
            .filter(|family| family.surface().is_some() && !known.contains(family))
            .map(Family::name)
            .collect();
        assert!(missing.is_empty(), "{missing:?}");
    }

    #[test]
    fn a_table_that_is_off_is_noticed() {
        let draws = 4000;
        let mut size = sizes_at(40, draws).remove(0);
        assert!(size.holds(draws));
        size.shares[1] += 0.03;
        assert!(!size.holds(draws));
    }
}
