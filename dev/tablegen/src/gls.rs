//! Replications of the statistics of series detrended by generalised least squares, by cross-products.

use kandrel_core::lag::default_max_lags;
use kandrel_core::nulldist::{GlsStatistic, LagChoice, Statistic, Terms, random_walk};
use kandrel_core::num::rng::NormalStream;

use crate::gram::{Gram, dot};
use crate::products::{Products, eliminated};
use crate::sample::{SimulationCell, Simulator};
use crate::sim_lag_rules::by_maic;
use crate::sim_statistics::lags;

const TERMS: [Terms; 2] = [Terms::Constant, Terms::Trend];

/// Simulates one sample size.
pub struct GlsSimulator {
    pub n: usize,
}

impl Simulator for GlsSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        let most = default_max_lags(self.n);
        let mut cells = Vec::new();
        for terms in TERMS {
            for lags in lags(self.n) {
                cells.extend(
                    GlsStatistic::ALL
                        .map(|one| SimulationCell { family: Statistic::Gls(one, terms).given(), lags }),
                );
            }
            cells.extend(GlsStatistic::ALL.map(|one| SimulationCell {
                family: Statistic::Gls(one, terms).after(LagChoice::Maic),
                lags: most,
            }));
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let x = random_walk(stream, self.n);
        for terms in TERMS {
            let chosen = chosen_lags(&x, terms, default_max_lags(self.n));
            let wanted: Vec<usize> = lags(self.n).into_iter().chain(chosen).collect();
            out.extend(statistics(&x, terms, &wanted).into_iter().flatten());
            if chosen.is_none() {
                out.extend([f64::NAN; GlsStatistic::ALL.len()]);
            }
        }
    }
}

/// τ, the point-optimal statistic and the inverse hyperbolic sine of `MZ_t` at each number of lags.
fn statistics(x: &[f64], terms: Terms, wanted: &[usize]) -> Vec<[f64; 3]> {
    let n = x.len();
    let c = if terms == Terms::Trend { -13.5 } else { -7.0 };
    let alpha = 1.0 + c / n as f64;
    let (Some(local), Some(unit)) = (Detrended::new(x, terms, alpha), Detrended::new(x, terms, 1.0)) else {
        return vec![[f64::NAN; 3]; wanted.len()];
    };
    let y = &local.left;
    let size = n as f64 - 1.0;
    let levels = dot(&y[..n - 1], &y[..n - 1]) / size.powi(2);
    let last = y[n - 1].powi(2) / size;
    let longest = wanted.iter().copied().fold(0, usize::max);
    let mut products = Products::new(&changes(y), longest);
    let mut at = vec![[f64::NAN; 3]; longest + 1];
    for p in (0..=longest).rev() {
        if let Some((tau, s2)) =
            wanted.contains(&p).then(|| regression(&products.without_terms(p), n)).flatten()
        {
            let mz_t = 0.5 * (last - s2) / levels * (levels / s2).sqrt();
            at[p] = [tau, (local.sum - alpha * unit.sum) / s2, mz_t.asinh()];
        }
        if p > 0 {
            products.add_row(p);
        }
    }
    wanted.iter().map(|p| at[*p]).collect()
}

/// τ of the level and the long-run variance, from the products of lags, level and change.
fn regression(products: &Gram, n: usize) -> Option<(f64, f64)> {
    let factor = products.factor()?;
    let (size, lags) = (products.size, products.size - 2);
    let target = &factor[(size - 1) * size..];
    // Coefficients from the last column up: the factor's rows are its columns' products.
    let mut solution = vec![0.0; size - 1];
    for i in (0..size - 1).rev() {
        let known: f64 = (i + 1..size - 1).map(|j| factor[j * size + i] * solution[j]).sum();
        solution[i] = (target[i] - known) / factor[i * size + i];
    }
    let rows = (n - 1 - lags) as f64;
    let residual_sum = target[size - 1].powi(2);
    let tau = target[lags] / (residual_sum / (rows - lags as f64 - 1.0)).sqrt();
    let persistence = 1.0 - solution[..lags].iter().sum::<f64>();
    Some((tau, residual_sum / rows / persistence.powi(2)))
}

/// Lags by the modified AIC on the series detrended by ordinary least squares.
fn chosen_lags(x: &[f64], terms: Terms, most: usize) -> Option<usize> {
    let detrended = Detrended::ordinary(x, terms)?.left;
    let stages = Products::new(&changes(&detrended), most).stages(most);
    let regressions: Vec<_> = stages.after.iter().map(|left| eliminated(left)[0]).collect();
    Some(by_maic(&regressions, stages.rows))
}

/// The first value and the changes.
fn changes(x: &[f64]) -> Vec<f64> {
    x.iter().zip([0.0].iter().chain(x)).map(|(value, before)| value - before).collect()
}

/// A series without its terms, and the sum of squares it was fitted by.
struct Detrended {
    left: Vec<f64>,
    sum: f64,
}

impl Detrended {
    /// By quasi-differences at this α.
    fn new(x: &[f64], terms: Terms, alpha: f64) -> Option<Self> {
        Self::fitted(x, terms, |series| {
            series
                .iter()
                .zip([0.0].iter().chain(series))
                .map(|(value, before)| value - alpha * before)
                .collect()
        })
    }

    /// By the series as it is.
    fn ordinary(x: &[f64], terms: Terms) -> Option<Self> {
        Self::fitted(x, terms, <[f64]>::to_vec)
    }

    fn fitted(x: &[f64], terms: Terms, filter: impl Fn(&[f64]) -> Vec<f64>) -> Option<Self> {
        let n = x.len() as f64;
        let clock: Vec<f64> = (0..x.len()).map(|t| (t as f64 + 0.5 - 0.5 * n) / n).collect();
        let mut own = vec![vec![1.0; x.len()]];
        if terms == Terms::Trend {
            own.push(clock);
        }
        let filtered: Vec<Vec<f64>> = own.iter().map(|term| filter(term)).chain([filter(x)]).collect();
        let products = Gram::of(&filtered.iter().map(Vec::as_slice).collect::<Vec<_>>());
        let (beta, sum) = solved(&products)?;
        let fitted = |t: usize| own.iter().zip(&beta).map(|(term, b)| term[t] * b).sum::<f64>();
        let left = x.iter().enumerate().map(|(t, value)| value - fitted(t)).collect();
        Some(Self { left, sum })
    }
}

/// Coefficients of the last column on one other or two, and what they leave of its squares.
fn solved(products: &Gram) -> Option<(Vec<f64>, f64)> {
    let g = |i: usize, j: usize| products.at(i, j);
    let beta = if products.size == 2 {
        vec![g(0, 1) / g(0, 0)]
    } else {
        let determinant = g(0, 0) * g(1, 1) - g(0, 1).powi(2);
        vec![
            (g(1, 1) * g(0, 2) - g(0, 1) * g(1, 2)) / determinant,
            (g(0, 0) * g(1, 2) - g(0, 1) * g(0, 2)) / determinant,
        ]
    };
    let last = products.size - 1;
    let explained: f64 = beta.iter().enumerate().map(|(i, b)| b * g(i, last)).sum();
    let sum = g(last, last) - explained;
    sum.is_finite().then_some((beta, sum))
}

#[cfg(test)]
mod tests {
    use super::*;
    use kandrel_core::nulldist::Family;
    use kandrel_core::unitroot::statistic::{GlsLags, gls_statistics};

    #[test]
    fn the_fast_draws_are_the_statistics_of_the_core() {
        for n in [20, 57, 150, 400] {
            let simulator = GlsSimulator { n };
            for seed in 0..4 {
                let mut drawn = Vec::new();
                simulator.draw(&mut NormalStream::new(seed, 0), &mut drawn);
                let x = random_walk(&mut NormalStream::new(seed, 0), n);
                assert_eq!(drawn.len(), simulator.cells().len());
                for (cell, ours) in simulator.cells().into_iter().zip(drawn) {
                    let Family { statistic, lags } = cell.family;
                    let rule = match lags {
                        LagChoice::Given => GlsLags::Given(cell.lags),
                        _ => GlsLags::Maic(cell.lags),
                    };
                    let (which, terms) = match statistic {
                        Statistic::Gls(which, terms) => (which, terms),
                        other => panic!("{other:?} is none of these"),
                    };
                    let core = gls_statistics(&x, terms, rule).expect("well posed");
                    let core = match which {
                        GlsStatistic::Tau => core.tau,
                        GlsStatistic::PointOptimal => core.point_optimal,
                        GlsStatistic::MzT => core.mz_t.asinh(),
                    };
                    assert!((core - ours).abs() < 1e-7 * core.abs().max(1.0), "{n} {cell:?}: {core} {ours}");
                }
            }
        }
    }
}
