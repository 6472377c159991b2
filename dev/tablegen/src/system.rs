//! Simulates likelihood ratios of the number of relations in a system of random walks.

use kandrel_core::nulldist::{MAX_COMMON_TRENDS, Statistic, SystemStatistic, SystemTerms};
use kandrel_core::num::rng::NormalStream;
use nalgebra::DMatrix;

use crate::gram::Gram;
use crate::sample::{SimulationCell, Simulator};

/// Rows of the system.
pub const SIZES: [usize; 12] = [20, 24, 29, 36, 46, 60, 80, 110, 170, 360, 800, 2000];

/// Lagged changes of each series.
const LAGS: [usize; 4] = [0, 1, 2, 4];

/// Longer ones show the limit, which does not depend on lags.
const LONGEST_WITH_LAGS: usize = 400;

/// Both statistics of one to eleven walks, in all five cases.
pub struct SystemSimulator {
    pub rows: usize,
}

/// Columns of the fixed terms: one, time, its square.
const FIXED: usize = 3;

impl SystemSimulator {
    /// Numbers of walks and of lags whose changes, levels and lagged changes leave nine
    /// twentieths of the rows.
    fn designs(&self) -> impl Iterator<Item = (usize, usize)> {
        let bearable = 11 * self.rows / 20;
        LAGS.into_iter()
            .flat_map(|lags| (1..=MAX_COMMON_TRENDS).map(move |walks| (walks, lags)))
            .filter(move |(walks, lags)| walks * (lags + 2) + 2 <= bearable)
            .filter(move |(_, lags)| *lags == 0 || self.rows <= LONGEST_WITH_LAGS)
    }
}

impl Simulator for SystemSimulator {
    fn observations(&self) -> usize {
        self.rows
    }

    fn cells(&self) -> Vec<SimulationCell> {
        let mut cells = Vec::new();
        for (walks, lags) in self.designs() {
            for terms in SystemTerms::ALL {
                cells.extend(SystemStatistic::ALL.map(|one| SimulationCell {
                    family: Statistic::System(one, terms, walks).given(),
                    lags: walks * lags,
                }));
            }
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let most_lags = self.designs().map(|(_, lags)| lags).max().unwrap_or(0);
        let most = self.designs().map(|(walks, _)| walks).max().unwrap_or(1);
        let columns = Columns::drawn(stream, self.rows, most, most_lags);
        let gram = columns.gram();
        for (walks, lags) in self.designs() {
            let shared = columns.without_lagged_changes(&gram, walks, lags);
            for terms in SystemTerms::ALL {
                let found =
                    shared.as_ref().and_then(|shared| likelihood_ratios(shared, walks, terms, self.rows));
                out.extend(found.unwrap_or([f64::NAN; 2]));
            }
        }
    }
}

/// Fixed terms; then for each walk its change, its level before, and its lagged changes.
struct Columns {
    most_lags: usize,
    values: Vec<Vec<f64>>,
}

impl Columns {
    fn drawn(stream: &mut NormalStream, rows: usize, walks: usize, most_lags: usize) -> Self {
        let time: Vec<f64> = (0..rows).map(|t| (2.0 * t as f64 - rows as f64 + 1.0) / rows as f64).collect();
        let squares = time.iter().map(|x| x * x).collect();
        let mut values = vec![vec![1.0; rows], time, squares];
        for _ in 0..walks {
            let steps = stream.take(rows + most_lags);
            let mut level = 0.0;
            let before = steps[most_lags..].iter().map(|step| {
                level += step;
                level - step
            });
            let before: Vec<f64> = before.collect();
            values.push(steps[most_lags..].to_vec());
            values.push(before);
            for lag in 1..=most_lags {
                values.push(steps[most_lags - lag..rows + most_lags - lag].to_vec());
            }
        }
        Self { most_lags, values }
    }

    fn gram(&self) -> Gram {
        let columns: Vec<&[f64]> = self.values.iter().map(Vec::as_slice).collect();
        Gram::of(&columns)
    }

    /// Fixed terms, changes and levels of the first walks after least squares on their lagged
    /// changes.
    fn without_lagged_changes(&self, gram: &Gram, walks: usize, lags: usize) -> Option<Gram> {
        let own = |walk: usize, which: usize| FIXED + walk * (2 + self.most_lags) + which;
        let lagged = (0..walks).flat_map(|walk| (0..lags).map(move |lag| own(walk, 2 + lag)));
        let changes = (0..walks).map(|walk| own(walk, 0));
        let levels = (0..walks).map(|walk| own(walk, 1));
        let order: Vec<usize> = lagged.chain(0..FIXED).chain(changes).chain(levels).collect();
        gram.of_columns(&order).without_first(walks * lags)
    }
}

/// Trace and largest eigenvalue with these terms.
///
/// Where an unrestricted term makes the series drift, the drift hides one walk: the first
/// level is the drift itself.
fn likelihood_ratios(shared: &Gram, walks: usize, terms: SystemTerms, rows: usize) -> Option<[f64; 2]> {
    let changes = FIXED..FIXED + walks;
    let level = FIXED + walks;
    let levels = level..level + walks;
    let but_first = level + 1..level + walks;
    let (out, levels): (usize, Vec<usize>) = match terms {
        SystemTerms::None => (0, levels.collect()),
        SystemTerms::ConstantIn => (0, levels.chain([0]).collect()),
        SystemTerms::Constant => (1, but_first.chain([1]).collect()),
        SystemTerms::TrendIn => (1, levels.chain([1]).collect()),
        SystemTerms::Trend => (2, but_first.chain([2]).collect()),
    };
    let order: Vec<usize> = (0..out).chain(changes).chain(levels.iter().copied()).collect();
    let left = shared.of_columns(&order).without_first(out)?;
    let (m, k) = (walks, levels.len());
    // With the factor of [levels, changes] the squared canonical correlations are eigenvalues
    // of what the levels explain against the whole.
    let order: Vec<usize> = (m..m + k).chain(0..m).collect();
    let turned = left.of_columns(&order);
    let factor = turned.factor()?;
    let size = m + k;
    let explained = DMatrix::from_fn(m, k, |i, j| factor[(k + i) * size + j]);
    let changes: Vec<usize> = (0..m).collect();
    let own = left.of_columns(&changes).factor()?;
    let own = DMatrix::from_fn(m, m, |i, j| own[i * m + j]);
    let scaled = own.solve_lower_triangular(&explained)?;
    let squares = &scaled * scaled.transpose();
    let eigenvalues = squares.symmetric_eigenvalues();
    let each: Vec<f64> = eigenvalues.iter().map(|value| -(rows as f64) * (1.0 - value).ln()).collect();
    Some([each.iter().sum(), each.iter().copied().fold(0.0, f64::max)])
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_draw_fills_every_cell() {
        for rows in [20, 46] {
            let simulator = SystemSimulator { rows };
            let mut out = Vec::new();
            simulator.draw(&mut NormalStream::new(1, 0), &mut out);
            assert_eq!(out.len(), simulator.cells().len());
            assert!(out.iter().all(|value| value.is_finite() && *value > 0.0));
        }
    }

    #[test]
    fn one_walk_without_terms_has_the_ratio_of_its_regression() {
        let columns = Columns::drawn(&mut NormalStream::new(5, 0), 50, 1, 0);
        let shared = columns.without_lagged_changes(&columns.gram(), 1, 0).expect("no collinearity");
        let [trace, largest] = likelihood_ratios(&shared, 1, SystemTerms::None, 50).expect("well posed");
        let (change, level) = (&columns.values[3], &columns.values[4]);
        let sum = |a: &[f64], b: &[f64]| a.iter().zip(b).map(|(x, y)| x * y).sum::<f64>();
        let share = sum(change, level).powi(2) / sum(change, change) / sum(level, level);
        assert!((trace + 50.0 * (1.0 - share).ln()).abs() < 1e-10);
        assert!((trace - largest).abs() < 1e-12);
    }
}
