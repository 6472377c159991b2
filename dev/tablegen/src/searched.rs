//! Simulators of the tests with breaks and of seasonal roots after a search for lags by AIC, as
//! the commands run them by default.

use kandrel_core::lag::{Criterion, default_max_lags};
use kandrel_core::nulldist::{
    BreakModel, Family, LagrangeCase, SeasonLength, SeasonalStatistic, random_walk,
};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::unitroot::statistic::{
    LagrangeModel, break_search_with_lags, chosen_seasonal_lags, lagrange_search_with_lags, seasonal_roots,
};

use crate::extended::{root_statistics, seasonal_walk};
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

/// Seasonal roots.
pub struct SearchedSeasonSimulator {
    pub season: SeasonLength,
    pub n: usize,
}

impl SearchedSeasonSimulator {
    /// As many lags as a season has observations, where there is room for them.
    fn most(&self) -> usize {
        let season = self.season.observations();
        season.min(self.n.saturating_sub(3 * season + season / 2 + 1) / 2)
    }
}

impl Simulator for SearchedSeasonSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<Cell> {
        let lags = self.season.observations();
        let of = |trend: bool| {
            SeasonalStatistic::ALL
                .map(|one| Cell { family: Family::SeasonalRootsByAic(self.season, one, trend), lags })
        };
        [false, true].into_iter().flat_map(of).collect()
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let season = self.season.observations();
        let x = seasonal_walk(stream, self.n, season);
        for trend in [false, true] {
            let found = chosen_seasonal_lags(&x, season, trend, self.most(), Criterion::Aic)
                .and_then(|lags| seasonal_roots(&x, season, trend, lags));
            out.extend(root_statistics(found.ok()));
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_draw_fills_every_cell() {
        let simulators: Vec<Box<dyn Simulator>> = vec![
            Box::new(SearchedBreakSimulator { n: 40 }),
            Box::new(SearchedSeasonSimulator { season: SeasonLength::Quarterly, n: 32 }),
            Box::new(SearchedSeasonSimulator { season: SeasonLength::Monthly, n: 96 }),
        ];
        for simulator in simulators {
            let mut out = Vec::new();
            simulator.draw(&mut NormalStream::new(1, 0), &mut out);
            assert_eq!(out.len(), simulator.cells().len());
            assert!(out.iter().all(|value| value.is_finite()));
        }
    }
}
