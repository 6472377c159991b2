//! The stepwise search through a grid of orders.

use std::collections::BTreeMap;

use rayon::prelude::*;

use super::data::Data;
use super::fit::{Criteria, FitError, Light, light};
use super::search::{Candidate, FOLLOWED, Grid, candidate, ranked, smaller, starts};

/// Where a walk begins: p, q, P, Q.
const BEGINNINGS: [[usize; 4]; 4] = [[2, 2, 1, 1], [0, 0, 0, 0], [1, 0, 1, 0], [0, 1, 0, 1]];

/// The models of a grid that a walk meets, the best by `criterion` first: for series so long that
/// the whole grid would take too long.
///
/// # Method
/// From the best of four beginnings it goes to the best neighbour, one order or both short or both
/// seasonal orders up or down by one, as long as that is better. It may end on a hill that is not the highest.
///
/// # Source
/// Hyndman, R. J. and Khandakar, Y. (2008), Journal of Statistical Software 27(3), section 3.2,
/// with more moves.
///
/// # Errors
/// [`FitError`] where none of the beginnings can be estimated.
pub fn walk(
    data: &Data,
    grid: Grid,
    criterion: impl Fn(&Criteria) -> f64 + Sync,
    progress: impl Fn(usize),
) -> Result<Vec<Candidate>, FitError> {
    let mut met: BTreeMap<[usize; 4], Light> = BTreeMap::new();
    let mut failed: Vec<[usize; 4]> = Vec::new();
    let value = |fit: &Light| criterion(&fit.criteria());
    let mut next: Vec<[usize; 4]> = BEGINNINGS.iter().map(|orders| smaller(*orders, grid.limit)).collect();
    let mut best: Option<(f64, [usize; 4])> = None;
    let mut trouble = FitError::NoConvergence;
    loop {
        next.sort_unstable();
        next.dedup();
        next.retain(|orders| !failed.contains(orders) && !met.contains_key(orders));
        let fits: Vec<([usize; 4], Result<Light, FitError>)> = next
            .par_iter()
            .map(|orders| (*orders, light(data, grid.model(*orders), &starts(*orders, &met), FOLLOWED)))
            .collect();
        let before = best;
        for (orders, fit) in fits {
            match fit {
                Ok(fit) => {
                    if best.is_none_or(|(least, _)| value(&fit) < least) {
                        best = Some((value(&fit), orders));
                    }
                    met.insert(orders, fit);
                }
                Err(error) => {
                    trouble = error;
                    failed.push(orders);
                }
            }
        }
        progress(met.len());
        let Some((_, orders)) = best else {
            return Err(trouble);
        };
        if before.is_some_and(|(_, earlier)| earlier == orders) {
            break;
        }
        next = neighbours(orders, grid.limit);
    }
    Ok(ranked(met.into_values().map(candidate).collect(), criterion))
}

/// Orders one move away, within the limits of the grid.
fn neighbours(orders: [usize; 4], limit: [usize; 4]) -> Vec<[usize; 4]> {
    let moves: [&[usize]; 6] = [&[0], &[1], &[2], &[3], &[0, 1], &[2, 3]];
    let mut all = Vec::new();
    for places in moves {
        for up in [true, false] {
            let mut moved = orders;
            let possible = places.iter().all(|place| {
                let to = if up { Some(moved[*place] + 1) } else { moved[*place].checked_sub(1) };
                let inside = to.filter(|to| *to <= limit[*place]);
                moved[*place] = inside.unwrap_or(moved[*place]);
                inside.is_some()
            });
            if possible {
                all.push(moved);
            }
        }
    }
    all
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::arima::search;
    use crate::num::rng::NormalStream;

    #[test]
    fn neighbours_stay_within_the_grid() {
        let grid = Grid::usual(1, 1, 12);
        let all = neighbours([0, 3, 0, 1], grid.limit);
        assert!(all.contains(&[1, 3, 0, 1]) && all.contains(&[0, 2, 0, 1]));
        assert!(all.contains(&[0, 3, 1, 2]));
        assert!(all.iter().all(|orders| orders.iter().zip(grid.limit).all(|(order, most)| *order <= most)));
        assert_eq!(all.len(), 6);
    }

    #[test]
    fn a_walk_meets_fewer_models_and_the_same_estimates() {
        let e = NormalStream::new(12, 0).take(400);
        let mut y = vec![0.0; 400];
        for t in 2..400 {
            y[t] = 1.2 * y[t - 1] - 0.6 * y[t - 2] + e[t];
        }
        let data = Data::complete(&y);
        let aicc = |criteria: &Criteria| criteria.aicc.unwrap_or(f64::INFINITY);
        let grid = Grid { limit: [3, 3, 1, 1], ..Grid::usual(0, 0, 12) };
        let met = walk(&data, grid, aicc, |_| {}).expect("a walk");
        let all = search(&data, grid, aicc, |_| {}).expect("a search");
        assert!(met.len() < all.len() && met.len() > 4, "{} of {}", met.len(), all.len());
        let gap = aicc(&met[0].criteria) - aicc(&all[0].criteria);
        assert!((-1e-3..4.0).contains(&gap), "{} {}", met[0].model, all[0].model);
        for own in &met {
            let same = all.iter().find(|one| one.model == own.model).expect("in the grid");
            assert!(own.log_likelihood - same.log_likelihood < 1e-2, "{}", own.model);
        }
    }
}
