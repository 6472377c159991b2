//! Runs a simulator over many draws, in parallel, and takes quantiles.

use kandrel_core::nulldist::{Family, LEVEL_COUNT, levels};
use kandrel_core::num::rng::NormalStream;
use rayon::prelude::*;

/// Draws per stream of random numbers; fixes the result whatever the threads.
const PER_STREAM: usize = 1000;

/// One distribution: a family at one number of lags.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct SimulationCell {
    pub family: Family,
    pub lags: usize,
}

/// A statistic, or many of one series, at one sample size.
pub trait Simulator: Sync {
    /// The sample size.
    fn observations(&self) -> usize;
    /// What one draw gives, in order.
    fn cells(&self) -> Vec<SimulationCell>;
    /// Appends one draw of every cell.
    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>);
}

/// Quantiles of one cell, with their simulation errors.
#[derive(Debug, Clone)]
pub struct Point {
    pub cell: SimulationCell,
    pub observations: usize,
    pub quantiles: Vec<f64>,
    pub errors: Vec<f64>,
}

/// All replications of each cell, sorted.
pub fn sorted_draws(simulator: &dyn Simulator, draws: usize, seed: u64) -> Vec<(SimulationCell, Vec<f32>)> {
    let cells = simulator.cells();
    let base = (simulator.observations() as u64) << 32;
    let streams: Vec<u64> = (0..draws.div_ceil(PER_STREAM) as u64).collect();
    let blocks: Vec<Vec<f32>> = streams
        .par_iter()
        .map(|number| {
            let mut stream = NormalStream::new(seed, base + number);
            let mut row = Vec::with_capacity(cells.len());
            // Cell by cell, so that a cell's draws can be taken out in one piece.
            let mut block = vec![0.0; PER_STREAM * cells.len()];
            for draw in 0..PER_STREAM {
                row.clear();
                simulator.draw(&mut stream, &mut row);
                for (value, place) in row.iter().zip(block.iter_mut().skip(draw).step_by(PER_STREAM)) {
                    // Seven digits are far finer than the simulation error.
                    #[allow(clippy::cast_possible_truncation)]
                    let short = *value as f32;
                    *place = short;
                }
            }
            block
        })
        .collect();
    cells
        .par_iter()
        .enumerate()
        .map(|(j, cell)| {
            let own = j * PER_STREAM..(j + 1) * PER_STREAM;
            let mut all: Vec<f32> = blocks.iter().flat_map(|block| &block[own.clone()]).copied().collect();
            all.sort_unstable_by(f32::total_cmp);
            (*cell, all)
        })
        .collect()
}

/// Quantiles of every cell.
pub fn points(simulator: &dyn Simulator, draws: usize, seed: u64) -> Vec<Point> {
    sorted_draws(simulator, draws, seed)
        .into_iter()
        .map(|(cell, sorted)| point(cell, simulator.observations(), &sorted))
        .collect()
}

fn point(cell: SimulationCell, observations: usize, sorted: &[f32]) -> Point {
    let all = levels();
    let quantiles: Vec<f64> = all.iter().map(|level| quantile(sorted, *level)).collect();
    let errors = (0..LEVEL_COUNT).map(|j| error(sorted, all[j])).collect();
    Point { cell, observations, quantiles, errors }
}

fn quantile(sorted: &[f32], level: f64) -> f64 {
    let place = level * (sorted.len() as f64 + 1.0) - 1.0;
    let place = place.clamp(0.0, sorted.len() as f64 - 1.0);
    // Non-negative and below the length.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let below = place.floor() as usize;
    let low = f64::from(sorted[below]);
    let high = f64::from(sorted[(below + 1).min(sorted.len() - 1)]);
    low + (high - low) * (place - below as f64)
}

/// Half the distance between the quantiles one standard error of the level
/// above and below.
fn error(sorted: &[f32], level: f64) -> f64 {
    let spread = (level * (1.0 - level) / sorted.len() as f64).sqrt();
    let wide = spread.min(0.9 * level).min(0.9 * (1.0 - level));
    0.5 * (quantile(sorted, level + wide) - quantile(sorted, level - wide)) * spread / wide
}
