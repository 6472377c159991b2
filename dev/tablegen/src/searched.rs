//! Simulators of the tests with breaks after a search for lags by AIC, as the commands run them
//! by default.

use kandrel_core::lag::{Criterion, default_max_lags};
use kandrel_core::nulldist::{BreakModel, Family, LagrangeCase, random_walk};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::unitroot::statistic::{LagrangeModel, break_search_with_lags, lagrange_search_with_lags};

use crate::sample::{Cell, Simulator};

/// One break, both tests.
pub struct SearchedBreakSimulator {
    pub n: usize,
}

fn one_break() -> impl Iterator<Item = LagrangeCase> {
    LagrangeCase::ALL.into_iter().filter(|case| !case.two)
}

impl Simulator for SearchedBreakSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<Cell> {
        let lags = default_max_lags(self.n);
        let breaks = BreakModel::ALL.map(|model| Cell { family: Family::ZivotAndrewsByAic(model), lags });
        let lagrange = one_break().map(|case| Cell { family: Family::LagrangeByAic(case), lags });
        breaks.into_iter().chain(lagrange).collect()
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let x = random_walk(stream, self.n);
        let (most, fewest) = (default_max_lags(self.n), (15 * self.n).div_ceil(100));
        for model in BreakModel::ALL {
            let found = break_search_with_lags(&x, model, Criterion::Aic, most, fewest..=self.n - fewest);
            out.push(found.map_or(f64::NAN, |(_, found)| found.statistic));
        }
        for case in one_break() {
            let model = LagrangeModel { slope: case.slope, breaks: 1, lags: 0 };
            let found = lagrange_search_with_lags(&x, model, Criterion::Aic, most, fewest);
            out.push(found.map_or(f64::NAN, |(_, found)| found.statistic));
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_draw_fills_every_cell() {
        let simulators: Vec<Box<dyn Simulator>> = vec![Box::new(SearchedBreakSimulator { n: 40 })];
        for simulator in simulators {
            let mut out = Vec::new();
            simulator.draw(&mut NormalStream::new(1, 0), &mut out);
            assert_eq!(out.len(), simulator.cells().len());
            assert!(out.iter().all(|value| value.is_finite()));
        }
    }
}
