//! Simulators that draw the core's bare statistics, which the core's tests hold against
//! sums and regressions written out.

use kandrel_core::lag::default_max_lags;
use kandrel_core::nulldist::{
    BreakModel, Family, GlsStatistic, JointTest, PpStatistic, SeasonLength, SeasonalStatistic, Terms,
    random_walk,
};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::ols::{Bandwidth, estimate};
use kandrel_core::unitroot::statistic::{
    FirstOrder, GlsLags, GlsStatistics, SeasonalRoots, adf_regression, break_search, chosen_by_maic,
    chosen_by_t, gls_statistics, ladder, level_squares, seasonal_roots, wald_f,
};

use crate::sample::{Cell, Simulator};

/// Sample sizes of these families.
pub const SIZES: [usize; 12] = [15, 17, 20, 24, 30, 42, 60, 90, 140, 220, 400, 900];

/// Sample sizes of the searches over break dates.
pub const BREAK_SIZES: [usize; 9] = [24, 30, 40, 55, 80, 120, 200, 350, 700];

/// A walk in steps of a season.
pub fn seasonal_walk(stream: &mut NormalStream, n: usize, season: usize) -> Vec<f64> {
    let mut x = stream.take(n);
    for t in season..n {
        x[t] += x[t - season];
    }
    x
}

/// Statistics of seasonal roots, in the order of [`SeasonalStatistic::ALL`]. Every pair has one
/// distribution: each draw gives the first of them.
pub fn root_statistics(found: Option<SeasonalRoots>) -> [f64; 5] {
    found.map_or([f64::NAN; 5], |found| {
        [found.zero, found.shortest, found.pairs[0], found.seasonal, found.all]
    })
}

/// Lags of up to a tenth of the observations.
fn lags(n: usize) -> Vec<usize> {
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

    fn cells(&self) -> Vec<Cell> {
        let mut cells = Vec::new();
        for terms in Terms::ALL {
            for lags in self.bandwidths() {
                cells.extend(
                    PpStatistic::ALL.map(|one| Cell { family: Family::PhillipsPerron(one, terms), lags }),
                );
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

/// Rules of choosing lags, and joint hypotheses, of the Dickey-Fuller regression.
pub struct RulesSimulator {
    pub n: usize,
}

const JOINT: [(JointTest, Terms); 3] =
    [(JointTest::Phi1, Terms::Constant), (JointTest::Phi2, Terms::Trend), (JointTest::Phi3, Terms::Trend)];

/// The coefficients that a joint hypothesis sets to zero.
fn restricted(test: JointTest) -> &'static [usize] {
    match test {
        JointTest::Phi1 => &[0, 1],
        JointTest::Phi2 => &[0, 1, 2],
        JointTest::Phi3 => &[1, 2],
    }
}

impl Simulator for RulesSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<Cell> {
        let most = default_max_lags(self.n);
        let mut cells = Vec::new();
        for terms in Terms::ALL {
            cells.extend(
                [Family::AdfByMaic(terms), Family::AdfByT(terms)].map(|family| Cell { family, lags: most }),
            );
        }
        for (test, _) in JOINT {
            cells.extend(lags(self.n).into_iter().map(|lags| Cell { family: Family::AdfJoint(test), lags }));
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let x = random_walk(stream, self.n);
        let most = default_max_lags(self.n);
        for terms in Terms::ALL {
            let tau = |lags: usize| {
                estimate(&mut adf_regression(&x, terms, lags)).map_or(f64::NAN, |fit| {
                    let level = terms.count();
                    fit.coefficients[level] / fit.covariance[(level, level)].sqrt()
                })
            };
            match ladder(&x, terms, most).and_then(|rungs| Ok((rungs, level_squares(&x, terms, most)?))) {
                Ok(((rungs, rows), squares)) => {
                    out.push(tau(chosen_by_maic(&rungs, rows, squares)));
                    out.push(tau(chosen_by_t(&rungs)));
                }
                Err(_) => out.extend([f64::NAN; 2]),
            }
        }
        for (test, terms) in JOINT {
            for lags in lags(self.n) {
                let fit = estimate(&mut adf_regression(&x, terms, lags));
                out.push(fit.and_then(|fit| wald_f(&fit, restricted(test))).unwrap_or(f64::NAN));
            }
        }
    }
}

/// The family detrended by generalised least squares.
pub struct GlsSimulator {
    pub n: usize,
}

fn of(statistics: &GlsStatistics, which: GlsStatistic) -> f64 {
    match which {
        GlsStatistic::Tau => statistics.tau,
        GlsStatistic::PointOptimal => statistics.point_optimal,
        GlsStatistic::MzT => statistics.mz_t.asinh(),
    }
}

const GLS_TERMS: [Terms; 2] = [Terms::Constant, Terms::Trend];

impl Simulator for GlsSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<Cell> {
        let most = default_max_lags(self.n);
        let mut cells = Vec::new();
        for terms in GLS_TERMS {
            for lags in lags(self.n) {
                cells
                    .extend(GlsStatistic::ALL.map(|one| Cell { family: Family::GlsGiven(one, terms), lags }));
            }
            cells.extend(
                GlsStatistic::ALL.map(|one| Cell { family: Family::GlsByMaic(one, terms), lags: most }),
            );
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let x = random_walk(stream, self.n);
        let given = lags(self.n).into_iter().map(GlsLags::Given);
        let rules: Vec<GlsLags> = given.chain([GlsLags::Maic(default_max_lags(self.n))]).collect();
        for terms in GLS_TERMS {
            for rule in &rules {
                let statistics = gls_statistics(&x, terms, *rule);
                out.extend(
                    GlsStatistic::ALL
                        .map(|one| statistics.as_ref().map_or(f64::NAN, |statistics| of(statistics, one))),
                );
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

    fn cells(&self) -> Vec<Cell> {
        let models = BreakModel::ALL.into_iter();
        models
            .flat_map(|model| self.lags().into_iter().map(move |lags| (model, lags)))
            .map(|(model, lags)| Cell { family: Family::ZivotAndrews(model), lags })
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

/// Seasonal roots.
pub struct SeasonSimulator {
    pub season: SeasonLength,
    pub n: usize,
}

/// Sample sizes of quarterly and of monthly series.
pub const QUARTERLY_SIZES: [usize; 11] = [24, 26, 28, 32, 38, 48, 64, 90, 130, 200, 400];
pub const MONTHLY_SIZES: [usize; 6] = [72, 96, 132, 192, 300, 480];

impl SeasonSimulator {
    fn lags(&self) -> Vec<usize> {
        let season = self.season.observations();
        let wanted: &[usize] = if season == 4 { &[0, 1, 2, 4, 6, 9, 13] } else { &[0, 6, 12] };
        wanted
            .iter()
            .copied()
            .filter(|p| self.n > 3 * season + 2 * p + season / 2 && 5 * p <= self.n)
            .collect()
    }
}

impl Simulator for SeasonSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<Cell> {
        let mut cells = Vec::new();
        for trend in [false, true] {
            for lags in self.lags() {
                cells.extend(
                    SeasonalStatistic::ALL
                        .map(|one| Cell { family: Family::SeasonalRoots(self.season, one, trend), lags }),
                );
            }
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let season = self.season.observations();
        let x = seasonal_walk(stream, self.n, season);
        for trend in [false, true] {
            for lags in self.lags() {
                out.extend(root_statistics(seasonal_roots(&x, season, trend, lags).ok()));
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
            Box::new(PpSimulator { n: 24 }),
            Box::new(RulesSimulator { n: 24 }),
            Box::new(GlsSimulator { n: 24 }),
            Box::new(BreakSimulator { n: 24 }),
            Box::new(SeasonSimulator { season: SeasonLength::Quarterly, n: 24 }),
            Box::new(SeasonSimulator { season: SeasonLength::Monthly, n: 72 }),
        ];
        for simulator in simulators {
            let mut out = Vec::new();
            simulator.draw(&mut NormalStream::new(1, 0), &mut out);
            assert_eq!(out.len(), simulator.cells().len());
            assert!(out.iter().all(|value| value.is_finite()));
        }
    }
}
