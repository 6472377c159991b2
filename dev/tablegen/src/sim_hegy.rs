//! Replications of the statistics of seasonal roots, by cross-products.
//!
//! The season's regressors are combinations of the last `s` values: the products of those are
//! formed once for each sample and turned.

use std::f64::consts::PI;

use kandrel_core::lag::Criterion;
use kandrel_core::nulldist::{SeasonLength, SeasonalStatistic, Statistic};
use kandrel_core::num::rng::NormalStream;

use crate::gram::Gram;
use crate::sample::{SimulationCell, Simulator};

/// Sample sizes of quarterly and of monthly series.
pub const QUARTERLY_SIZES: [usize; 12] = [24, 26, 28, 32, 38, 48, 64, 90, 130, 200, 400, 1000];
pub const MONTHLY_SIZES: [usize; 6] = [72, 96, 132, 192, 300, 480];

/// Given numbers of lags.
pub struct SeasonSimulator {
    pub season: SeasonLength,
    pub n: usize,
}

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

    fn cells(&self) -> Vec<SimulationCell> {
        let mut cells = Vec::new();
        for trend in [false, true] {
            for lags in self.lags() {
                cells.extend(SeasonalStatistic::ALL.map(|one| SimulationCell {
                    family: Statistic::SeasonalRoots(self.season, one, trend).given(),
                    lags,
                }));
            }
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let season = self.season.observations();
        let x = seasonal_walk(stream, self.n, season);
        let by_lags: Vec<[[f64; 5]; 2]> = self
            .lags()
            .into_iter()
            .map(|lags| {
                let sample = Sample::new(&x, season, lags);
                [false, true].map(|trend| sample.statistics(trend))
            })
            .collect();
        for trend in [0, 1] {
            out.extend(by_lags.iter().flat_map(|both| both[trend]));
        }
    }
}

/// Lags searched by AIC.
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

    fn cells(&self) -> Vec<SimulationCell> {
        let lags = self.season.observations();
        let of = |trend: bool| {
            SeasonalStatistic::ALL.map(|one| SimulationCell {
                family: Statistic::SeasonalRoots(self.season, one, trend).searched(Criterion::Aic),
                lags,
            })
        };
        [false, true].into_iter().flat_map(of).collect()
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let season = self.season.observations();
        let x = seasonal_walk(stream, self.n, season);
        let longest = Sample::new(&x, season, self.most());
        for trend in [false, true] {
            let found = longest.chosen_lags(trend);
            out.extend(found.map_or([f64::NAN; 5], |lags| Sample::new(&x, season, lags).statistics(trend)));
        }
    }
}

/// A walk in steps of a season.
pub fn seasonal_walk(stream: &mut NormalStream, n: usize, season: usize) -> Vec<f64> {
    seasonal_sums(stream.take(n), season)
}

/// Sums of values a season apart.
pub fn seasonal_sums(mut x: Vec<f64>, season: usize) -> Vec<f64> {
    for t in season..x.len() {
        x[t] += x[t - season];
    }
    x
}

/// Products of clock, lagged seasonal differences, the season's regressors and the seasonal
/// difference, all about their seasonal means, over the rows that that number of lags leave.
struct Sample {
    season: usize,
    lags: usize,
    rows: usize,
    products: Gram,
}

impl Sample {
    fn new(x: &[f64], season: usize, lags: usize) -> Self {
        let n = x.len();
        let first = season + lags;
        let difference: Vec<f64> = (season..n).map(|t| x[t] - x[t - season]).collect();
        let mut columns: Vec<Vec<f64>> = vec![(first..n).map(|t| t as f64 / n as f64).collect()];
        columns.extend((1..=lags).map(|i| difference[lags - i..difference.len() - i].to_vec()));
        columns.extend((1..=season).map(|i| x[first - i..n - i].to_vec()));
        columns.push(difference[lags..].to_vec());
        for column in &mut columns {
            without_seasonal_means(column, season);
        }
        let products = Gram::of(&columns.iter().map(Vec::as_slice).collect::<Vec<_>>());
        Self { season, lags, rows: n - first, products: turned(&products, 1 + lags, season) }
    }

    /// Everything but the clock where there is no trend.
    fn with(&self, trend: bool) -> Gram {
        let first = usize::from(!trend);
        self.products.of_columns(&(first..self.products.size).collect::<Vec<_>>())
    }

    fn chosen_lags(&self, trend: bool) -> Option<usize> {
        let (lags, season) = (self.lags, self.season);
        let clock = trend.then_some(0);
        // The season's regressors before the lags, so that the lags are nested.
        let order: Vec<usize> = clock
            .into_iter()
            .chain(1 + lags..1 + lags + season)
            .chain(1..=lags)
            .chain([self.products.size - 1])
            .collect();
        let sums = self.products.of_columns(&order).nested_sums()?;
        let width = 2 * season + usize::from(trend);
        Criterion::Aic.best_of(&sums[season + usize::from(trend)..], width, self.rows)
    }

    /// In the order of [`SeasonalStatistic::ALL`]. Every pair has one distribution: each draw
    /// gives the first of them.
    fn statistics(&self, trend: bool) -> [f64; 5] {
        let season = self.season;
        let degrees = self.rows as f64 - (2 * season + usize::from(trend) + self.lags) as f64;
        let left = self.with(trend).without_first(usize::from(trend) + self.lags);
        left.and_then(|left| root_statistics(&left, season, degrees)).unwrap_or([f64::NAN; 5])
    }
}

/// From the products of the season's regressors and the seasonal difference that are left of
/// everything else.
fn root_statistics(left: &Gram, season: usize, degrees: f64) -> Option<[f64; 5]> {
    let factor = left.factor()?;
    let size = left.size;
    let target = &factor[season * size..];
    let variance = target[season].powi(2) / degrees;
    let explained = |from: usize| target[from..season].iter().map(|own| own * own).sum::<f64>();
    // Columns 0 to 3 of the inverse of the regressors' products, and the coefficients.
    let inverse: Vec<Vec<f64>> = (0..4).map(|k| solved(&factor, size, season, k)).collect();
    let coefficient =
        |k: usize| inverse[k].iter().enumerate().map(|(i, cell)| cell * left.at(i, season)).sum::<f64>();
    let ratio = |k: usize| coefficient(k) / (variance * inverse[k][k]).sqrt();
    let (a, b, c) = (inverse[2][2], inverse[2][3], inverse[3][3]);
    let (u, v) = (coefficient(2), coefficient(3));
    let pair = (c * u * u - 2.0 * b * u * v + a * v * v) / (a * c - b * b) / 2.0 / variance;
    let seasons = season as f64;
    Some([
        ratio(0),
        ratio(1),
        pair,
        explained(1) / (seasons - 1.0) / variance,
        explained(0) / seasons / variance,
    ])
}

/// Column k of the inverse of the first `count` columns' products.
fn solved(factor: &[f64], size: usize, count: usize, k: usize) -> Vec<f64> {
    let at = |i: usize, j: usize| factor[i * size + j];
    let mut solution = vec![0.0; count];
    for i in 0..count {
        let known: f64 = (0..i).map(|j| at(i, j) * solution[j]).sum();
        solution[i] = (f64::from(u8::from(i == k)) - known) / at(i, i);
    }
    for i in (0..count).rev() {
        let known: f64 = (i + 1..count).map(|j| at(j, i) * solution[j]).sum();
        solution[i] = (solution[i] - known) / at(i, i);
    }
    solution
}

fn without_seasonal_means(column: &mut [f64], season: usize) {
    for place in 0..season.min(column.len()) {
        let own = column[place..].iter().step_by(season);
        let mean = own.clone().sum::<f64>() / own.count() as f64;
        column[place..].iter_mut().step_by(season).for_each(|value| *value -= mean);
    }
}

/// Products with the last `season` values, which begin at column `first`, replaced by the
/// season's regressors.
fn turned(products: &Gram, first: usize, season: usize) -> Gram {
    let filters = filters(season);
    let size = products.size;
    let inside = first..first + season;
    let mut half = products.clone();
    for (k, filter) in filters.iter().enumerate() {
        for j in 0..size {
            half.cells[(first + k) * size + j] =
                filter.iter().zip(inside.clone()).map(|(weight, i)| weight * products.at(i, j)).sum();
        }
    }
    let mut whole = half.clone();
    for (k, filter) in filters.iter().enumerate() {
        for i in 0..size {
            whole.cells[i * size + first + k] =
                filter.iter().zip(inside.clone()).map(|(weight, j)| weight * half.at(i, j)).sum();
        }
    }
    whole
}

/// Weights of the value `j + 1` places back in each regressor (Smith and Taylor 1999).
fn filters(season: usize) -> Vec<Vec<f64>> {
    let all = |weight: &dyn Fn(f64) -> f64| (1..=season).map(|j| weight(j as f64)).collect::<Vec<f64>>();
    let mut out = vec![all(&|_| 1.0), all(&|j| (PI * j).cos())];
    for k in 1..season / 2 {
        let frequency = 2.0 * PI * k as f64 / season as f64;
        out.push(all(&|j| (j * frequency).cos()));
        out.push(all(&|j| -(j * frequency).sin()));
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use kandrel_core::unitroot::statistic::{chosen_seasonal_lags, seasonal_roots};

    fn by_the_core(x: &[f64], season: usize, trend: bool, lags: usize) -> [f64; 5] {
        let found = seasonal_roots(x, season, trend, lags).expect("well posed");
        [found.zero, found.shortest, found.pairs[0], found.seasonal, found.all]
    }

    fn agree(simulator: &dyn Simulator, core: impl Fn(&[f64], bool, usize) -> [f64; 5], season: usize) {
        for seed in 0..4 {
            let mut drawn = Vec::new();
            simulator.draw(&mut NormalStream::new(seed, 0), &mut drawn);
            let x = seasonal_walk(&mut NormalStream::new(seed, 0), simulator.observations(), season);
            let cells = simulator.cells();
            assert_eq!(drawn.len(), cells.len());
            for (own, cells) in drawn.chunks(5).zip(cells.chunks(5)) {
                let trend = match cells[0].family.statistic {
                    Statistic::SeasonalRoots(_, _, trend) => trend,
                    other => panic!("{other:?} is none of these"),
                };
                for (ours, core) in own.iter().zip(core(&x, trend, cells[0].lags)) {
                    assert!(
                        (core - ours).abs() < 1e-7 * core.abs().max(1.0),
                        "{:?}: {core} {ours}",
                        cells[0]
                    );
                }
            }
        }
    }

    #[test]
    fn the_fast_draws_are_the_statistics_of_the_core() {
        for (season, n) in [
            (SeasonLength::Quarterly, 26),
            (SeasonLength::Quarterly, 91),
            (SeasonLength::Monthly, 75),
            (SeasonLength::Monthly, 300),
        ] {
            let length = season.observations();
            agree(
                &SeasonSimulator { season, n },
                |x, trend, lags| by_the_core(x, length, trend, lags),
                length,
            );
            let searched = SearchedSeasonSimulator { season, n };
            let by_aic = |x: &[f64], trend: bool, _: usize| {
                let lags = chosen_seasonal_lags(x, length, trend, searched.most(), Criterion::Aic);
                by_the_core(x, length, trend, lags.expect("well posed"))
            };
            agree(&searched, by_aic, length);
        }
    }
}
