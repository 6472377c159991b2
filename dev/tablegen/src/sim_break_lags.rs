//! Simulators of the tests with breaks after a search for lags by AIC, as the commands run them
//! by default.

use kandrel_core::lag::{Criterion, default_max_lags};
use kandrel_core::nulldist::{BreakModel, LagrangeCase, Statistic, random_walk};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::unitroot::statistic::{LagrangeModel, break_search_with_lags, lagrange_search_with_lags};

use crate::sample::{SimulationCell, Simulator};

/// One break, both tests.
pub struct SearchedBreakSimulator {
    pub n: usize,
}

/// Sample sizes of the searches over two dates.
pub const SEARCHED_TWO_BREAK_SIZES: [usize; 11] = [24, 28, 34, 42, 52, 66, 84, 110, 140, 200, 320];

/// One that is simulated with fewer draws, for its cost: it holds the surface where series are long.
pub const LONGEST_FOR_TWO_BREAKS: usize = 640;

/// Two breaks.
pub struct SearchedPairSimulator {
    pub n: usize,
}

fn cases(two: bool) -> impl Iterator<Item = LagrangeCase> {
    LagrangeCase::ALL.into_iter().filter(move |case| case.two == two)
}

/// The score statistics of a random walk of that number of observations, with lags by AIC.
fn lagrange_by_aic(x: &[f64], two: bool, out: &mut Vec<f64>) {
    let (most, fewest) = (default_max_lags(x.len()), (15 * x.len()).div_ceil(100));
    for case in cases(two) {
        let model = LagrangeModel { slope: case.slope, breaks: if two { 2 } else { 1 }, lags: 0 };
        let found = lagrange_search_with_lags(x, model, Criterion::Aic, most, fewest);
        out.push(found.map_or(f64::NAN, |(_, found)| found.statistic));
    }
}

impl Simulator for SearchedPairSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        let lags = default_max_lags(self.n);
        cases(true)
            .map(|case| SimulationCell { family: Statistic::Lagrange(case).searched(Criterion::Aic), lags })
            .collect()
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        lagrange_by_aic(&random_walk(stream, self.n), true, out);
    }
}

impl Simulator for SearchedBreakSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        let lags = default_max_lags(self.n);
        let breaks = BreakModel::ALL.map(|model| SimulationCell {
            family: Statistic::ZivotAndrews(model).searched(Criterion::Aic),
            lags,
        });
        let lagrange = cases(false)
            .map(|case| SimulationCell { family: Statistic::Lagrange(case).searched(Criterion::Aic), lags });
        breaks.into_iter().chain(lagrange).collect()
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let x = random_walk(stream, self.n);
        let (most, fewest) = (default_max_lags(self.n), (15 * self.n).div_ceil(100));
        for model in BreakModel::ALL {
            let found = break_search_with_lags(&x, model, Criterion::Aic, most, fewest..=self.n - fewest);
            out.push(found.map_or(f64::NAN, |(_, found)| found.statistic));
        }
        lagrange_by_aic(&x, false, out);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_draw_fills_every_cell() {
        let simulators: [Box<dyn Simulator>; 2] =
            [Box::new(SearchedBreakSimulator { n: 40 }), Box::new(SearchedPairSimulator { n: 40 })];
        for simulator in simulators {
            let mut out = Vec::new();
            simulator.draw(&mut NormalStream::new(1, 0), &mut out);
            assert_eq!(out.len(), simulator.cells().len());
            assert!(out.iter().all(|value| value.is_finite()));
        }
    }
}
