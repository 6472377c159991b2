//! Simulators that draw the core's bare statistics, which the core's tests hold against
//! sums and regressions written out.

use kandrel_core::nulldist::{BreakModel, PpStatistic, Statistic, Terms, random_walk};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::ols::Bandwidth;
use kandrel_core::unitroot::statistic::{FirstOrder, break_search};

use crate::sample::{SimulationCell, Simulator};

/// Sample sizes of these families.
pub const SIZES: [usize; 12] = [15, 17, 20, 24, 30, 42, 60, 90, 140, 220, 400, 900];

/// Sample sizes of the searches over break dates.
pub const BREAK_SIZES: [usize; 9] = [24, 30, 40, 55, 80, 120, 200, 350, 700];

/// Lags of up to a tenth of the observations.
pub fn lags(n: usize) -> Vec<usize> {
    [0, 1, 3, 6, 11, 18].into_iter().filter(|p| *p == 0 || (10 * p <= n && n >= 20)).collect()
}

/// Phillips and Perron at many bandwidths.
pub struct PpSimulator {
    pub n: usize,
}

impl PpSimulator {
    fn bandwidths(&self) -> Vec<usize> {
        [0, 1, 2, 3, 4, 6, 8, 11, 15, 20, 28].into_iter().filter(|l| 4 * l <= self.n).collect()
    }
}

impl Simulator for PpSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        let mut cells = Vec::new();
        for terms in Terms::ALL {
            for lags in self.bandwidths() {
                cells.extend(PpStatistic::ALL.map(|one| SimulationCell {
                    family: Statistic::PhillipsPerron(one, terms).given(),
                    lags,
                }));
            }
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let x = random_walk(stream, self.n);
        for terms in Terms::ALL {
            let regression = FirstOrder::new(&x, terms).ok();
            for bandwidth in self.bandwidths() {
                let both = regression.as_ref().map(|one| one.corrected(Bandwidth::Given(bandwidth)));
                out.extend(both.map_or([f64::NAN; 2], |both| [both.z_rho, both.z_tau]));
            }
        }
    }
}

/// The search over one break date.
pub struct BreakSimulator {
    pub n: usize,
}

impl BreakSimulator {
    fn lags(&self) -> Vec<usize> {
        [0, 2, 5, 10].into_iter().filter(|p| 8 * p <= self.n).collect()
    }
}

impl Simulator for BreakSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        let models = BreakModel::ALL.into_iter();
        models
            .flat_map(|model| self.lags().into_iter().map(move |lags| (model, lags)))
            .map(|(model, lags)| SimulationCell { family: Statistic::ZivotAndrews(model).given(), lags })
            .collect()
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let x = random_walk(stream, self.n);
        let dates = (15 * self.n).div_ceil(100)..=85 * self.n / 100;
        for model in BreakModel::ALL {
            for lags in self.lags() {
                let found = break_search(&x, model, lags, dates.clone());
                out.push(found.map_or(f64::NAN, |found| found.statistic));
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_draw_fills_every_cell() {
        let simulators: Vec<Box<dyn Simulator>> =
            vec![Box::new(PpSimulator { n: 24 }), Box::new(BreakSimulator { n: 24 })];
        for simulator in simulators {
            let mut out = Vec::new();
            simulator.draw(&mut NormalStream::new(1, 0), &mut out);
            assert_eq!(out.len(), simulator.cells().len());
            assert!(out.iter().all(|value| value.is_finite()));
        }
    }
}
