//! The restricted likelihood of a candidate model, averaged over short-run dynamics.

use rayon::prelude::*;

use super::dynamics::{Weighted, times};
use crate::arma::{Mixture, SharedMovingAverage, Whitening};
use crate::num::triangular::TriangularFactor;
use crate::ols::estimate;

/// The likelihood of a model, averaged over dynamics: restricted, the scale integrated out.
///
/// # Formula
/// `ℓ = -½ Σ ln f_t - ½ ln |X'Σ⁻¹X| - (n-k)/2 ln SSR` at each dynamic, X the k columns, SSR of
/// generalised least squares; the logarithm of the weighted mean of `e^ℓ`.
pub struct Averaged {
    /// The average of each model.
    pub models: Vec<f64>,
    /// Of each model: the place of every dynamic, ℓ with it, and its weight.
    pub values: Vec<Vec<(usize, f64, f64)>>,
}

/// Of several models on one set of columns, the series in column 0; a model names its
/// columns.
pub fn averaged<const C: usize>(rows: &[[f64; C]], models: &[Vec<usize>], dynamics: &[Weighted]) -> Averaged {
    let total: f64 = dynamics.iter().map(|one| one.weight).sum();
    let (groups, group_of) = groups(dynamics);
    let shared: Vec<Option<SharedMovingAverage<C>>> =
        groups.par_iter().map(|(order, ma)| SharedMovingAverage::new(rows, *order, ma)).collect();
    let likelihoods = |(place, one): (usize, &Weighted)| -> Option<Vec<(usize, f64, f64)>> {
        let (gram, logs) = shared[group_of[place]].as_ref()?.of(&one.mixture.ar)?;
        let of =
            |columns: &Vec<usize>| (place, restricted(&gram, logs, columns, rows.len()), one.weight / total);
        Some(models.iter().map(of).collect())
    };
    let mut values = vec![Vec::with_capacity(dynamics.len()); models.len()];
    for row in dynamics.par_iter().enumerate().filter_map(likelihoods).collect::<Vec<_>>() {
        for (value, values) in row.into_iter().zip(&mut values) {
            values.push(value);
        }
    }
    Averaged { models: values.iter().map(|all| log_mean(all)).collect(), values }
}

/// Number of autoregressive weights and moving average that dynamics share, and which of them each has.
fn groups(dynamics: &[Weighted]) -> (Vec<(usize, &[f64])>, Vec<usize>) {
    let mut groups: Vec<(usize, &[f64])> = Vec::new();
    let mut of = Vec::with_capacity(dynamics.len());
    for one in dynamics {
        let own = (one.mixture.ar.len(), one.mixture.ma.as_slice());
        let known = groups.iter().position(|group| *group == own);
        of.push(known.unwrap_or(groups.len()));
        if known.is_none() {
            groups.push(own);
        }
    }
    (groups, of)
}

/// The logarithm of the weighted mean of exponentials.
fn log_mean(values: &[(usize, f64, f64)]) -> f64 {
    let most = values.iter().map(|(_, value, _)| *value).fold(f64::NEG_INFINITY, f64::max);
    if !most.is_finite() {
        return f64::NEG_INFINITY;
    }
    most + values.iter().map(|(_, value, weight)| weight * (value - most).exp()).sum::<f64>().ln()
}

impl Averaged {
    /// The average of a model over some of the dynamics.
    pub fn averaged_where(&self, model: usize, holds: impl Fn(usize) -> bool) -> f64 {
        let kept: Vec<(usize, f64, f64)> =
            self.values.get(model).into_iter().flatten().copied().filter(|one| holds(one.0)).collect();
        let total: f64 = kept.iter().map(|one| one.2).sum();
        log_mean(&kept) - total.ln()
    }

    /// The dynamic under which a model is most probable, by its place.
    pub fn most_probable(&self, model: usize) -> Option<usize> {
        let values = self.values.get(model)?.iter().filter(|one| one.1.is_finite());
        values.max_by(|a, b| a.1.total_cmp(&b.1)).map(|one| one.0)
    }
}

/// Steps of the search below.
const STEPS: [f64; 4] = [0.08, 0.04, 0.02, 0.01];
/// Rounds of each step.
const ROUNDS: usize = 6;

/// The dynamic near one of those tried under which a model is most probable: its short-run
/// coefficients are moved one by one, in steps of 0.08 down to 0.01; a largest root of `fixed`
/// stays.
pub fn refined<const C: usize>(
    rows: &[[f64; C]],
    columns: &[usize],
    start: &Mixture,
    fixed: Option<f64>,
) -> Mixture {
    // A seasonal moving average is taken as it is.
    if start.ma.len() > 2 {
        return start.clone();
    }
    let value = |mixture: &Mixture| {
        Whitening::new(mixture, rows.len()).map_or(f64::NEG_INFINITY, |whitening| {
            let (gram, logs) = whitening.products(rows);
            restricted(&gram, logs, columns, rows.len())
        })
    };
    let whole = |short: &[f64], ma: &[f64]| Mixture {
        ar: fixed.map_or_else(|| short.to_vec(), |root| times(short, root)),
        ma: ma.to_vec(),
    };
    let short = fixed.map_or_else(|| start.ar.clone(), |root| without(&start.ar, root));
    let count = short.len();
    let mut best: Vec<f64> = short.iter().chain(&start.ma).copied().collect();
    let mut most = value(start);
    for step in STEPS {
        for _ in 0..ROUNDS {
            let before = most;
            for place in 0..best.len() {
                for change in [-step, step] {
                    let mut moved = best.clone();
                    moved[place] += change;
                    let there = value(&whole(&moved[..count], &moved[count..]));
                    if there > most {
                        (most, best) = (there, moved);
                    }
                }
            }
            if most <= before {
                break;
            }
        }
    }
    whole(&best[..count], &best[count..])
}

/// The weights that [`times`] made, without that root.
fn without(ar: &[f64], root: f64) -> Vec<f64> {
    let mut short: Vec<f64> = Vec::with_capacity(ar.len());
    for i in 0..ar.len().saturating_sub(1) {
        let carried = if i == 0 { -root } else { root * short[i - 1] };
        short.push(ar[i] + carried);
    }
    short
}

/// What is left of the series under a model and a dynamic: uncorrelated, of one variance.
pub fn innovations<const C: usize>(
    rows: &[[f64; C]],
    columns: &[usize],
    mixture: &Mixture,
) -> Option<Vec<f64>> {
    let whitening = Whitening::new(mixture, rows.len())?;
    let filtered = whitening.filtered(rows);
    let mut factor = TriangularFactor::new(columns.len() + 1);
    for row in &filtered {
        factor.push_row(columns.iter().map(|c| row[*c]).chain([row[0]]));
    }
    let fit = estimate(&mut factor).ok()?;
    let residual = |row: &[f64; C]| {
        row[0] - columns.iter().zip(&fit.coefficients).map(|(c, b)| row[*c] * b).sum::<f64>()
    };
    Some(filtered.iter().map(residual).collect())
}

/// Minus infinity where the columns are collinear.
fn restricted<const C: usize>(gram: &[[f64; C]; C], logs: f64, columns: &[usize], n: usize) -> f64 {
    // Elimination of the columns one after the other leaves the residual sum.
    let k = columns.len();
    let place = |i: usize| columns.get(i).copied().unwrap_or(0);
    let mut work = [[0.0; 8]; 8];
    for i in 0..=k {
        for j in 0..=k {
            work[i][j] = gram[place(i)][place(j)];
        }
    }
    let mut determinant = 0.0;
    for pivot in 0..k {
        let own = work[pivot][pivot];
        let whole = gram[place(pivot)][place(pivot)];
        if own.is_nan() || own <= 1e-12 * whole {
            return f64::NEG_INFINITY;
        }
        determinant += own.ln();
        for i in pivot + 1..=k {
            let share = work[i][pivot] / own;
            let eliminated = work[pivot];
            for (value, other) in work[i].iter_mut().zip(eliminated).take(k + 1).skip(pivot + 1) {
                *value -= share * other;
            }
        }
    }
    let residual = work[k][k];
    if residual.is_nan() || residual <= 0.0 {
        return f64::NEG_INFINITY;
    }
    -0.5 * (logs + determinant + (n as f64 - k as f64) * residual.ln())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn a_root_multiplied_in_is_divided_out_again() {
        let short = [0.4, -0.3, 0.2];
        let back = without(&times(&short, 0.9), 0.9);
        assert!(short.iter().zip(&back).all(|(a, b)| (a - b).abs() < 1e-15) && back.len() == 3);
    }

    #[test]
    fn the_search_ends_where_the_likelihood_is_larger() {
        let mut x = NormalStream::new(6, 0).take(300);
        for t in 2..300 {
            x[t] += 1.1 * x[t - 1] - 0.6 * x[t - 2];
        }
        let rows: Vec<[f64; 2]> = x.iter().map(|v| [*v, 1.0]).collect();
        let start = Mixture { ar: vec![0.9, -0.4], ma: vec![0.0] };
        let found = refined(&rows, &[1], &start, None);
        assert!((found.ar[0] - 1.1).abs() < 0.15 && (found.ar[1] + 0.6).abs() < 0.15, "{found:?}");
    }

    #[test]
    fn for_white_noise_it_is_the_restricted_likelihood_of_a_regression() {
        let y = NormalStream::new(2, 0).take(25);
        let rows: Vec<[f64; 3]> =
            y.iter().zip(0_u32..).map(|(y, t)| [*y, 1.0, f64::from(t) - 12.0]).collect();
        let mixture = Mixture { ar: vec![], ma: vec![] };
        let white = [Weighted { mixture, weight: 1.0, largest: 0.0, cycle: None }];
        let both = averaged(&rows, &[vec![1], vec![1, 2]], &white);
        let mean = y.iter().sum::<f64>() / 25.0;
        let slope = rows.iter().map(|row| row[0] * row[2]).sum::<f64>() / 1300.0;
        let about_mean: f64 = y.iter().map(|v| (v - mean).powi(2)).sum();
        let about_line = about_mean - slope * slope * 1300.0;
        assert!((both.models[0] + 0.5 * (25_f64.ln() + 24.0 * about_mean.ln())).abs() < 1e-9);
        let line = -0.5 * (25_f64.ln() + 1300_f64.ln() + 23.0 * about_line.ln());
        assert!((both.models[1] - line).abs() < 1e-9);
    }
}
