//! Replications of the Dickey-Fuller τ for every lag, every search and all terms of
//! one random walk at once.
//!
//! Independent of the core's code on purpose: here cross-products are formed
//! and factored by Cholesky, which is fast and safe for a random walk of unit
//! steps; the core uses orthogonal factors. `check` holds one against the other.

use kandrel_core::lag::Criterion;
use kandrel_core::nulldist::{Statistic, Terms};
use kandrel_core::num::rng::NormalStream;

use crate::products::Products;
use crate::sample::{SimulationCell, Simulator};
use crate::simulation_design;

/// Simulates one sample size.
pub struct AdfSimulator {
    n: usize,
    longest: usize,
    kept: Vec<usize>,
    searches: Vec<usize>,
}

impl AdfSimulator {
    /// Few lags, as most series are tested with.
    pub fn new(n: usize) -> Self {
        Self::with_lags(n, simulation_design::adf_lags(n))
    }

    /// Many lags, up to 0.3 of the observations; `None` where the sample has no
    /// room for more than [`new`](Self::new) covers.
    pub fn with_many_lags(n: usize) -> Option<Self> {
        let lags = simulation_design::many_adf_lags(n);
        (!lags.is_empty()).then(|| Self::with_lags(n, lags))
    }

    fn with_lags(n: usize, kept: Vec<usize>) -> Self {
        // A search among no lags is no search.
        let searches = kept.iter().copied().filter(|p| *p > 0).collect();
        Self { n, longest: kept.iter().copied().max().unwrap_or(0), kept, searches }
    }
}

impl Simulator for AdfSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        let mut cells = Vec::new();
        for terms in Terms::ALL {
            let given =
                self.kept.iter().map(|p| SimulationCell { family: Statistic::Adf(terms).given(), lags: *p });
            cells.extend(given);
            for criterion in Criterion::ALL {
                let family = Statistic::Adf(terms).searched(criterion);
                cells.extend(self.searches.iter().map(|p| SimulationCell { family, lags: *p }));
            }
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let steps = stream.take(self.n);
        let mut products = Products::new(&steps, self.longest);
        let mut tau = vec![[f64::NAN; 3]; self.longest + 1];
        let mut chosen = vec![[[0_usize; 3]; 3]; self.longest + 1];
        let mut wanted: Vec<bool> = (0..=self.longest).map(|p| self.kept.contains(&p)).collect();
        for p in (0..=self.longest).rev() {
            if wanted[p] {
                let stages = products.stages(p);
                tau[p] = stages.tau();
                if self.searches.contains(&p) {
                    chosen[p] = stages.choices();
                    chosen[p].iter().flatten().for_each(|q| wanted[*q] = true);
                }
            }
            if p > 0 {
                products.add_row(p);
            }
        }
        for (case, _) in Terms::ALL.iter().enumerate() {
            out.extend(self.kept.iter().map(|p| tau[*p][case]));
            for (rule, _) in Criterion::ALL.iter().enumerate() {
                out.extend(self.searches.iter().map(|p| tau[chosen[*p][case][rule]][case]));
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use kandrel_core::lag::{LagRule, largest_max_lags};
    use kandrel_core::nulldist::{Family, LagChoice};
    use kandrel_core::unitroot::{AdfOptions, adf};

    #[test]
    fn the_fast_draws_are_the_statistics_of_the_core() {
        let many = [130, 250].map(|n| AdfSimulator::with_many_lags(n).expect("room for many lags"));
        for simulator in [20, 57, 150].map(AdfSimulator::new).into_iter().chain(many) {
            let n = simulator.observations();
            let mut stream = NormalStream::new(3, n as u64);
            let mut walk = stream.clone().take(n);
            for t in 1..n {
                walk[t] += walk[t - 1];
            }
            let mut drawn = Vec::new();
            simulator.draw(&mut stream, &mut drawn);
            for (cell, ours) in simulator.cells().iter().zip(drawn) {
                let Family { statistic, lags } = cell.family;
                let (terms, lags, max_lags) = match (statistic, lags) {
                    (Statistic::Adf(terms), LagChoice::Given) => (terms, LagRule::Given(cell.lags), None),
                    (Statistic::Adf(terms), LagChoice::Searched(c)) => {
                        (terms, LagRule::Criterion(c), Some(cell.lags))
                    }
                    other => panic!("{other:?} is no ADF family"),
                };
                if cell.lags <= largest_max_lags(n) {
                    let core =
                        adf(&walk, &AdfOptions { terms, lags, max_lags }).expect("a well-posed regression");
                    assert!((core.statistic - ours).abs() < 1e-8, "{cell:?}: {} {ours}", core.statistic);
                }
            }
        }
    }
}
