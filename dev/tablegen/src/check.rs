//! Holds the tables against fresh draws.

use kandrel_core::nulldist::{Family, Side};
use kandrel_core::ols::autocovariances_examined;

use crate::adf::AdfSimulator;
use crate::kpss::KpssSimulator;
use crate::published::LEVELS;
use crate::sample::{Cell, sorted_draws};

/// Another seed than that of the tables.
const SEED: u64 = 77_001;

/// The error of a p-value that the tables may have.
const ALLOWED: f64 = 0.002;

/// How the fresh draws of one cell fare.
#[derive(Debug)]
pub struct Size {
    pub cell: Cell,
    /// Shares of draws with a p-value up to each of [`LEVELS`].
    pub shares: [f64; 3],
}

/// Fails if any share is further from its level than the tables' error and
/// four and a half standard errors of the draws.
pub fn check(draws: usize) -> Result<(), String> {
    for n in [24, 60, 144] {
        let all = sizes(n, draws);
        let wrong: Vec<String> =
            all.iter().filter(|size| !size.holds(draws)).map(|s| format!("{s:?}")).collect();
        if !wrong.is_empty() {
            return Err(format!("p-values are off at n = {n}:\n{}", wrong.join("\n")));
        }
        eprintln!("n = {n}: {} distributions agree with {draws} fresh draws", all.len());
    }
    Ok(())
}

/// Every distribution at one sample size.
pub fn sizes(n: usize, draws: usize) -> Vec<Size> {
    let adf = sorted_draws(&AdfSimulator::new(n), draws, SEED);
    let kpss = sorted_draws(&KpssSimulator::new(n), draws, SEED + 1);
    adf.into_iter()
        .chain(kpss)
        .filter(|(cell, _)| occurs(*cell, n))
        .filter_map(|(cell, sorted)| Some(Size { cell, shares: shares(cell, n, &sorted)? }))
        .collect()
}

/// Whether a test can meet this cell: the automatic bandwidth looks at one
/// number of autocovariances for each length.
fn occurs(cell: Cell, n: usize) -> bool {
    !matches!(cell.family, Family::KpssAutomatic(_)) || cell.lags == autocovariances_examined(n)
}

/// Which tail speaks against the null.
pub fn side(family: Family) -> Side {
    match family {
        Family::KpssGiven(_) | Family::KpssAutomatic(_) => Side::Upper,
        _ => Side::Lower,
    }
}

fn shares(cell: Cell, n: usize, sorted: &[f32]) -> Option<[f64; 3]> {
    let surface = cell.family.surface().filter(|surface| surface.covers(n, cell.lags))?;
    let side = side(cell.family);
    let distribution = surface.at(n, cell.lags);
    let count = sorted.len() as f64;
    Some(LEVELS.map(|level| {
        let critical = distribution.critical_value(level, side);
        let below = sorted.partition_point(|draw| f64::from(*draw) <= critical) as f64;
        if side == Side::Lower { below / count } else { 1.0 - below / count }
    }))
}

impl Size {
    fn holds(&self, draws: usize) -> bool {
        self.shares.iter().zip(LEVELS).all(|(share, level)| {
            let chance = 4.5 * (level * (1.0 - level) / draws as f64).sqrt();
            (share - level).abs() <= ALLOWED + chance
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn p_values_of_fresh_draws_are_uniform() {
        let draws = 4000;
        for size in sizes(40, draws) {
            assert!(size.holds(draws), "{size:?}");
        }
    }

    #[test]
    fn a_table_that_is_off_is_noticed() {
        let draws = 4000;
        let mut size = sizes(40, draws).remove(0);
        assert!(size.holds(draws));
        size.shares[1] += 0.03;
        assert!(!size.holds(draws));
    }
}
