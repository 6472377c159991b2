//! Replications of the KPSS η for every bandwidth and both terms.

use kandrel_core::nulldist::{LagChoice, Statistic, Terms};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::num::sum::dot;
use kandrel_core::ols::{automatic_bandwidth, partial_sums, variance_from_partial_sums};

use crate::sample::{SimulationCell, Simulator};
use crate::simulation_design;

/// Simulates one sample size.
pub struct KpssSimulator {
    n: usize,
    bandwidths: Vec<usize>,
    examined: Vec<usize>,
}

impl KpssSimulator {
    pub fn new(n: usize) -> Self {
        Self {
            n,
            bandwidths: simulation_design::kpss_bandwidths(n),
            examined: simulation_design::kpss_examined(n),
        }
    }
}

const CASES: [Terms; 2] = [Terms::Constant, Terms::Trend];

impl Simulator for KpssSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        let mut cells = Vec::new();
        for terms in CASES {
            let given = self
                .bandwidths
                .iter()
                .map(|l| SimulationCell { family: Statistic::Kpss(terms).given(), lags: *l });
            cells.extend(given);
            let family = Statistic::Kpss(terms).after(LagChoice::Automatic);
            cells.extend(self.examined.iter().map(|m| SimulationCell { family, lags: *m }));
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let n = self.n as f64;
        let values = stream.take(self.n);
        for terms in CASES {
            let e = residuals(&values, terms);
            let sums = partial_sums(&e);
            let level = dot(&sums, &sums) / (n * n);
            let eta = |bandwidth: usize| level / variance_from_partial_sums(&sums, bandwidth);
            out.extend(self.bandwidths.iter().map(|l| eta(*l)));
            out.extend(self.examined.iter().map(|m| eta(automatic_bandwidth(&e, *m))));
        }
    }
}

fn residuals(values: &[f64], terms: Terms) -> Vec<f64> {
    let n = values.len() as f64;
    let mean = values.iter().sum::<f64>() / n;
    let clock = |t: usize| t as f64 - 0.5 * (n - 1.0);
    let slope = if terms == Terms::Trend {
        let cross: f64 = values.iter().enumerate().map(|(t, v)| clock(t) * v).sum();
        cross * 12.0 / (n * (n * n - 1.0))
    } else {
        0.0
    };
    values.iter().enumerate().map(|(t, v)| v - mean - slope * clock(t)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use kandrel_core::nulldist::Family;
    use kandrel_core::ols::{Bandwidth, autocovariances_examined};
    use kandrel_core::unitroot::{KpssOptions, kpss};

    #[test]
    fn the_draws_are_the_statistics_of_the_core() {
        for n in [20, 133] {
            let simulator = KpssSimulator::new(n);
            let mut stream = NormalStream::new(4, n as u64);
            let values = stream.clone().take(n);
            let mut drawn = Vec::new();
            simulator.draw(&mut stream, &mut drawn);
            for (cell, ours) in simulator.cells().iter().zip(drawn) {
                let Family { statistic, lags } = cell.family;
                let (terms, bandwidth) = match (statistic, lags) {
                    (Statistic::Kpss(terms), LagChoice::Given) => (terms, Bandwidth::Given(cell.lags)),
                    (Statistic::Kpss(terms), _) if cell.lags == autocovariances_examined(n) => {
                        (terms, Bandwidth::Automatic)
                    }
                    (Statistic::Kpss(_), _) => continue,
                    other => panic!("{other:?} is no KPSS family"),
                };
                let core = kpss(&values, &KpssOptions { terms, bandwidth, ..KpssOptions::default() })
                    .expect("long enough");
                assert!((core.statistic - ours).abs() < 1e-10, "{cell:?}");
            }
        }
    }
}
