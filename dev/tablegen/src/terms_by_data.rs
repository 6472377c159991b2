//! Replications of the p-value that an ADF test gets for terms the data chose.

use kandrel_core::lag::{Criterion, LagRule};
use kandrel_core::nulldist::{LagChoice, Statistic};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::unitroot::{adf_with_chosen_terms, normal_score};

use crate::sample::{SimulationCell, Simulator};
use crate::simulation_design;

/// Simulates one sample size. The whole procedure is that of the core: what is
/// simulated here is the choice, not the statistic.
pub struct TermsByDataSimulator {
    n: usize,
    cells: Vec<SimulationCell>,
}

impl TermsByDataSimulator {
    pub fn new(n: usize) -> Self {
        let given = |lags| SimulationCell { family: Statistic::AdfTermsByData.given(), lags };
        let mut cells: Vec<SimulationCell> =
            simulation_design::chosen_terms_lags(n).into_iter().map(given).collect();
        for criterion in Criterion::ALL {
            let family = Statistic::AdfTermsByData.searched(criterion);
            cells.extend(
                simulation_design::chosen_terms_searches(n)
                    .into_iter()
                    .map(|lags| SimulationCell { family, lags }),
            );
        }
        Self { n, cells }
    }
}

impl Simulator for TermsByDataSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        self.cells.clone()
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let mut walk = stream.take(self.n);
        for t in 1..self.n {
            walk[t] += walk[t - 1];
        }
        out.extend(self.cells.iter().map(|cell| {
            let (rule, max_lags) = match cell.family.lags {
                LagChoice::Searched(criterion) => (LagRule::Criterion(criterion), Some(cell.lags)),
                _ => (LagRule::Given(cell.lags), None),
            };
            // A walk of normal steps is never collinear; were it, the draw would
            // show as a missing value in the fit.
            adf_with_chosen_terms(&walk, rule, max_lags)
                .ok()
                .and_then(|chosen| chosen.test.p_value)
                .map_or(f64::NAN, normal_score)
        }));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use kandrel_core::unitroot::adf_with_terms_by_data;

    #[test]
    fn the_p_value_that_allows_for_the_choice_is_uniform() {
        let draws = 3000_u32;
        for lags in [LagRule::Given(1), LagRule::Criterion(Criterion::Aic)] {
            let small = (0..draws).filter(|number| {
                let mut walk = NormalStream::new(31, u64::from(*number)).take(50);
                for t in 1..50 {
                    walk[t] += walk[t - 1];
                }
                adf_with_terms_by_data(&walk, lags, None).expect("long enough").test.rejects(0.05)
            });
            let share = small.count() as f64 / f64::from(draws);
            // Four standard errors; without the allowance it would be 0.08.
            assert!((share - 0.05).abs() < 0.016, "{lags:?}: {share}");
        }
    }
}
