//! Simulates unit-root statistics of what is left of one random walk after least squares on
//! others.

use kandrel_core::lag::{Criterion, default_max_lags};
use kandrel_core::nulldist::{MAX_RESIDUAL_SERIES, ResidualStatistic, Statistic, Terms, random_walk};
use kandrel_core::num::rng::NormalStream;
use kandrel_core::ols::{Bandwidth, bartlett_variance};

use crate::gram::{Gram, dot};
use crate::sample::{SimulationCell, Simulator};

/// Sample sizes.
pub const SIZES: [usize; 11] = [20, 24, 28, 32, 38, 46, 58, 76, 110, 180, 400];

/// All statistics of two to twelve walks, with each set of terms.
pub struct ResidualSimulator {
    pub n: usize,
}

impl ResidualSimulator {
    /// As many series as leave enough observations.
    fn most(&self) -> usize {
        MAX_RESIDUAL_SERIES.min((self.n - 12) / 2)
    }

    fn lags(&self) -> Vec<usize> {
        [0, 1, 3, 8, 16].into_iter().filter(|p| *p == 0 || 8 * p <= self.n).collect()
    }

    fn bandwidths(&self) -> Vec<usize> {
        [0, 1, 2, 4, 7, 12].into_iter().filter(|l| 8 * l <= self.n).collect()
    }
}

impl Simulator for ResidualSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        let mut cells = Vec::new();
        for terms in Terms::ALL {
            for variables in 2..=self.most() {
                let null = |one| Statistic::Residual(one, variables, terms);
                let tau = null(ResidualStatistic::Tau);
                cells
                    .extend(self.lags().into_iter().map(|lags| SimulationCell { family: tau.given(), lags }));
                cells.push(SimulationCell {
                    family: tau.searched(Criterion::Aic),
                    lags: default_max_lags(self.n),
                });
                for lags in self.bandwidths() {
                    let of = |one| SimulationCell { family: null(one).given(), lags };
                    cells.extend([ResidualStatistic::ZRho, ResidualStatistic::ZTau].map(of));
                }
            }
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let walks: Vec<Vec<f64>> = (0..self.most()).map(|_| random_walk(stream, self.n)).collect();
        let most = default_max_lags(self.n);
        for terms in Terms::ALL {
            for left in residuals(&walks, terms) {
                out.extend(self.lags().into_iter().map(|lags| tau(&left, lags)));
                out.push(tau(&left, lags_by_aic(&left, most)));
                out.extend(self.bandwidths().into_iter().flat_map(|bandwidth| corrected(&left, bandwidth)));
            }
        }
    }
}

/// What is left of the first walk after the terms and one, two, … others.
pub fn residuals(walks: &[Vec<f64>], terms: Terms) -> Vec<Vec<f64>> {
    let n = walks[0].len();
    let fixed = [vec![1.0; n], (0..n).map(|t| t as f64 - 0.5 * (n as f64 - 1.0)).collect()];
    let mut left = walks[0].clone();
    let mut directions: Vec<Vec<f64>> = Vec::new();
    let mut all = Vec::new();
    let columns = fixed[..terms.count()].iter().chain(&walks[1..]);
    for (place, column) in columns.enumerate() {
        let mut own = column.clone();
        for direction in &directions {
            take_out(&mut own, direction);
        }
        let length = dot(&own, &own).sqrt();
        for value in &mut own {
            *value /= length;
        }
        take_out(&mut left, &own);
        directions.push(own);
        if place >= terms.count() {
            all.push(left.clone());
        }
    }
    all
}

fn take_out(from: &mut [f64], direction: &[f64]) {
    let share = dot(from, direction);
    from.iter_mut().zip(direction).for_each(|(value, d)| *value -= share * d);
}

/// Cross-products of lagged changes, level and change, in the order `Δ₋₁ … Δ₋ₚ, level, Δ`, on
/// the rows from `first` on.
fn products(u: &[f64], lags: usize, first: usize) -> Gram {
    let n = u.len();
    let change: Vec<f64> = std::iter::once(0.0).chain(u.windows(2).map(|pair| pair[1] - pair[0])).collect();
    let place = |i: usize| if i == 0 { lags + 1 } else { i - 1 };
    let mut gram = Gram::new(lags + 2);
    let level = &u[first - 1..n - 1];
    gram.set(lags, lags, dot(level, level));
    for j in 0..=lags {
        let lagged = &change[first - j..n - j];
        gram.set(lags, place(j), dot(level, lagged));
        let mut product = dot(&change[first..n], lagged);
        gram.set(place(0), place(j), product);
        // Shifting both columns by one period changes the sum at its ends only.
        for i in 1..=lags - j {
            product += change[first - i] * change[first - i - j] - change[n - i] * change[n - i - j];
            gram.set(place(i), place(i + j), product);
        }
    }
    gram
}

/// The t-ratio of the level with that number of lags, on all rows they leave.
pub fn tau(u: &[f64], lags: usize) -> f64 {
    let gram = products(u, lags, lags + 1);
    let rows = u.len() - 1 - lags;
    gram.factor().map_or(f64::NAN, |factor| {
        let own = factor[(lags + 1) * gram.size + lags];
        let rest = factor[(lags + 1) * gram.size + lags + 1];
        own / (rest / ((rows - lags - 1) as f64).sqrt())
    })
}

/// The best number of lags on the sample that the most leave.
pub fn lags_by_aic(u: &[f64], most: usize) -> usize {
    let gram = products(u, most, most + 1);
    let order: Vec<usize> = std::iter::once(most).chain(0..most).chain([most + 1]).collect();
    let sums = gram.of_columns(&order).nested_sums();
    sums.and_then(|sums| Criterion::Aic.best_of(&sums[1..], 1, u.len() - 1 - most)).unwrap_or(0)
}

/// `Z_ρ` and `Z_τ`.
pub fn corrected(u: &[f64], bandwidth: usize) -> [f64; 2] {
    let n = u.len();
    let (level, now) = (&u[..n - 1], &u[1..]);
    let (ll, own) = (dot(level, level), dot(level, now));
    let rho = own / ll - 1.0;
    let e: Vec<f64> = level.iter().zip(now).map(|(x, y)| y - x - rho * x).collect();
    let rows = e.len() as f64;
    let gamma = dot(&e, &e) / rows;
    let long_run = bartlett_variance(&e, Bandwidth::Given(bandwidth).resolve(&e));
    let error = (gamma * rows / (rows - 1.0) / ll).sqrt();
    let excess = long_run - gamma;
    let z_rho = rows * rho - 0.5 * excess * rows * rows / ll;
    let z_tau = (gamma / long_run).sqrt() * rho / error - 0.5 * excess * rows / (long_run * ll).sqrt();
    [z_rho, z_tau]
}

#[cfg(test)]
mod tests {
    use super::*;
    use kandrel_core::ols::estimate;
    use kandrel_core::unitroot::statistic::{adf_regression, phillips_perron};
    use kandrel_core::unitroot::{AdfOptions, adf};

    #[test]
    fn what_is_drawn_is_what_the_tests_compute() {
        let walks: Vec<Vec<f64>> = (0..4).map(|k| random_walk(&mut NormalStream::new(3, k), 60)).collect();
        for terms in Terms::ALL {
            for left in residuals(&walks, terms) {
                let options = AdfOptions { terms: Terms::None, ..AdfOptions::default() };
                let searched = adf(&left, &options).expect("well posed");
                let lags = lags_by_aic(&left, default_max_lags(60));
                assert_eq!(searched.lags, Some(lags));
                assert!((searched.statistic - tau(&left, lags)).abs() < 1e-8);
                let fit = estimate(&mut adf_regression(&left, Terms::None, 3)).expect("well posed");
                let t = fit.coefficients[0] / fit.covariance[(0, 0)].sqrt();
                assert!((t - tau(&left, 3)).abs() < 1e-8);
                let ours = corrected(&left, 4);
                let found = phillips_perron(&left, Terms::None, Bandwidth::Given(4)).expect("well posed");
                assert!((ours[0] - found.z_rho).abs() < 1e-8 && (ours[1] - found.z_tau).abs() < 1e-8);
            }
        }
    }

    #[test]
    fn every_draw_fills_every_cell() {
        for n in [20, 46] {
            let simulator = ResidualSimulator { n };
            let mut out = Vec::new();
            simulator.draw(&mut NormalStream::new(1, 0), &mut out);
            assert_eq!(out.len(), simulator.cells().len());
            assert!(out.iter().all(|value| value.is_finite()));
        }
    }
}
