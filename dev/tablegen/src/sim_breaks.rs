//! Simulators of breaks detrended under the null and of deterministic seasonality.

use kandrel_core::nulldist::{LagrangeCase, SeasonLength, StabilityStatistic, Statistic, random_walk};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::unitroot::statistic::{LagrangeModel, lagrange_search, season_stability};

use crate::sample::{SimulationCell, Simulator};

/// Sample sizes of the searches over two dates, whose cost grows with the square.
pub const TWO_BREAK_SIZES: [usize; 5] = [24, 34, 50, 80, 140];

/// Sample sizes of the searches over one date.
pub const ONE_BREAK_SIZES: [usize; 8] = [24, 30, 40, 55, 80, 120, 200, 400];

/// The search over one break date or two.
pub struct LagrangeSimulator {
    pub n: usize,
    pub two: bool,
}

impl LagrangeSimulator {
    fn lags(&self) -> Vec<usize> {
        [0, 1, 3, 8].into_iter().filter(|p| 8 * p <= self.n).collect()
    }

    fn cases(&self) -> impl Iterator<Item = LagrangeCase> {
        let two = self.two;
        LagrangeCase::ALL.into_iter().filter(move |case| case.two == two)
    }
}

impl Simulator for LagrangeSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        self.cases()
            .flat_map(|case| self.lags().into_iter().map(move |lags| (case, lags)))
            .map(|(case, lags)| SimulationCell { family: Statistic::Lagrange(case).given(), lags })
            .collect()
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let x = random_walk(stream, self.n);
        let fewest = (15 * self.n).div_ceil(100);
        let breaks = if self.two { 2 } else { 1 };
        for case in self.cases() {
            for lags in self.lags() {
                let model = LagrangeModel { slope: case.slope, breaks, lags };
                out.push(lagrange_search(&x, model, fewest).map_or(f64::NAN, |found| found.statistic));
            }
        }
    }
}

/// Seasonal patterns that stay.
pub struct StabilitySimulator {
    pub season: SeasonLength,
    pub n: usize,
}

/// Sample sizes of quarterly or of monthly series.
pub fn stability_sizes(season: SeasonLength) -> &'static [usize] {
    match season {
        SeasonLength::Quarterly => &[24, 32, 44, 64, 100, 180, 360],
        SeasonLength::Monthly => &[60, 84, 120, 200, 400],
    }
}

impl StabilitySimulator {
    fn bandwidths(&self) -> Vec<usize> {
        [0, 2, 4, 7, 12].into_iter().filter(|l| 8 * l <= self.n).collect()
    }
}

impl Simulator for StabilitySimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        let mut cells = Vec::new();
        for trend in [false, true] {
            for lags in self.bandwidths() {
                cells.extend(StabilityStatistic::ALL.map(|one| SimulationCell {
                    family: Statistic::SeasonStability(self.season, one, trend).given(),
                    lags,
                }));
            }
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let x = stream.take(self.n);
        let season = self.season.observations();
        for trend in [false, true] {
            for bandwidth in self.bandwidths() {
                let found = season_stability(&x, season, trend, bandwidth);
                // Every pair has one distribution: each draw gives the first of them.
                out.extend(found.map_or([f64::NAN; 3], |found| {
                    [found.cycles[season / 2 - 1], found.cycles[0], found.seasonal]
                }));
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_draw_fills_every_cell() {
        let simulators: Vec<Box<dyn Simulator>> = vec![
            Box::new(LagrangeSimulator { n: 30, two: false }),
            Box::new(LagrangeSimulator { n: 30, two: true }),
            Box::new(StabilitySimulator { season: SeasonLength::Quarterly, n: 24 }),
            Box::new(StabilitySimulator { season: SeasonLength::Monthly, n: 60 }),
        ];
        for simulator in simulators {
            let mut out = Vec::new();
            simulator.draw(&mut NormalStream::new(1, 0), &mut out);
            assert_eq!(out.len(), simulator.cells().len());
            assert!(out.iter().all(|value| value.is_finite()));
        }
    }
}
