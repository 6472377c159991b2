//! The exact whitening filter of a short ARMA process.

use nalgebra::{DMatrix, DVector};

/// A stationary, invertible mixture with innovations of variance one:
/// `x_t = Σ φ_i x_{t-i} + e_t + Σ θ_j e_{t-j}`.
#[derive(Debug, Clone, PartialEq)]
pub struct Mixture {
    /// The weights φ of the past.
    pub ar: Vec<f64>,
    /// The weights θ of past innovations.
    pub ma: Vec<f64>,
}

/// From so little change on, the steps of the filter are taken as settled.
const SETTLED: f64 = 1e-11;

/// The exact filter that turns such a process into uncorrelated values: for place t its
/// variance and the weights of the values before.
pub struct Whitening {
    /// Autoregressive weights, applied from place `raw` on.
    ar: Vec<f64>,
    raw: usize,
    /// Variances by place; the last holds for all later ones.
    variances: Vec<f64>,
    /// The weights of each of these places in a row, as many as `width` from one place to the next.
    weights: Vec<f64>,
    width: usize,
    /// Weights from place `raw` on.
    reach: usize,
}

impl Mixture {
    /// Weights ψ of present and past innovations, as many as moving-average terms.
    pub(super) fn psi(&self) -> Vec<f64> {
        let mut psi = vec![1.0];
        for k in 1..=self.ma.len() {
            let past: f64 = (1..=k.min(self.ar.len())).map(|i| self.ar[i - 1] * psi[k - i]).sum();
            psi.push(self.ma[k - 1] + past);
        }
        psi
    }

    /// `Σ_{r≥k} θ_r ψ_{r-k}`: covariance of the moving-average part with the process k
    /// places before.
    fn crossed(&self, psi: &[f64], k: usize) -> f64 {
        (k..=self.ma.len()).map(|r| self.theta(r) * psi[r - k]).sum()
    }

    fn theta(&self, r: usize) -> f64 {
        if r == 0 { 1.0 } else { self.ma.get(r - 1).copied().unwrap_or(0.0) }
    }

    /// Autocovariances at lags 0, …, `most`.
    pub(super) fn autocovariances(&self, psi: &[f64], most: usize) -> Option<Vec<f64>> {
        let p = self.ar.len();
        let mut system = DMatrix::<f64>::zeros(p + 1, p + 1);
        for k in 0..=p {
            system[(k, k)] += 1.0;
            for (i, phi) in self.ar.iter().enumerate() {
                system[(k, k.abs_diff(i + 1))] -= phi;
            }
        }
        let target = DVector::from_fn(p + 1, |k, _| self.crossed(psi, k));
        let solved = system.lu().solve(&target)?;
        let mut out: Vec<f64> = solved.iter().copied().collect();
        for k in p + 1..=most {
            let past: f64 = self.ar.iter().enumerate().map(|(i, phi)| phi * out[k - i - 1]).sum();
            out.push(past + self.crossed(psi, k));
        }
        Some(out)
    }
}

impl Whitening {
    /// The filter for `n` places; `None` for a process that is not stationary.
    ///
    /// # Formula
    /// Ansley's transformation: the first max(p, q) values as they are, then `φ(B) x_t`, whose
    /// covariances reach no further than q; their triangular factor step by step, kept once it
    /// has settled.
    ///
    /// # References
    /// Ansley (1979), *Biometrika* 66, 59-65.
    pub fn new(mixture: &Mixture, n: usize) -> Option<Self> {
        let q = mixture.ma.len();
        let raw = mixture.ar.len().max(q);
        let psi = mixture.psi();
        let gamma = mixture.autocovariances(&psi, raw)?;
        let moving: Vec<f64> =
            (0..=q).map(|k| (k..=q).map(|r| mixture.theta(r) * mixture.theta(r - k)).sum()).collect();
        let covariance = |t: usize, lag: usize| {
            if t < raw {
                gamma[lag]
            } else if lag > q {
                0.0
            } else if t - lag < raw {
                mixture.crossed(&psi, lag)
            } else {
                moving[lag]
            }
        };
        let mut own = Self {
            ar: mixture.ar.clone(),
            raw,
            variances: Vec::new(),
            weights: Vec::new(),
            width: raw,
            reach: q,
        };
        // Each weight, and its product with the variance it belongs to.
        let (mut quiet, mut weights, mut scaled) = (0, vec![0.0; raw], vec![0.0; raw]);
        for t in 0..n {
            let reach = own.reach_at(t);
            for j in (1..=reach).rev() {
                let theirs = own.weights_at(t - j);
                let later = &scaled[j..reach];
                let shared: f64 = later.iter().zip(theirs).map(|(a, b)| a * b).sum();
                scaled[j - 1] = covariance(t, j) - shared;
                weights[j - 1] = scaled[j - 1] / own.variances[t - j];
            }
            let explained: f64 = weights[..reach].iter().zip(&scaled).map(|(a, b)| a * b).sum();
            let variance = covariance(t, 0) - explained;
            if variance.is_nan() || variance <= 0.0 {
                return None;
            }
            let still = t > raw + q && own.is_near(t - 1, variance, &weights[..reach]);
            // A seasonal filter moves once a season: as many steps must be still as it looks back.
            quiet = if still { quiet + 1 } else { 0 };
            own.variances.push(variance);
            own.weights.extend_from_slice(&weights);
            if quiet > q {
                break;
            }
        }
        Some(own)
    }

    /// Weights of a place, which is one of those kept.
    fn weights_at(&self, place: usize) -> &[f64] {
        let from = place * self.width;
        &self.weights[from..from + self.reach_at(place)]
    }

    /// How far back the weights of a place reach.
    fn reach_at(&self, place: usize) -> usize {
        if place < self.raw { place } else { self.reach.min(place) }
    }

    /// Whether variance and weights are those of a place, but for what no longer matters.
    fn is_near(&self, place: usize, variance: f64, weights: &[f64]) -> bool {
        let alike = |(a, b): (&f64, &f64)| (a - b).abs() < SETTLED;
        alike((&variance, &self.variances[place])) && weights.iter().zip(self.weights_at(place)).all(alike)
    }

    /// Products of the filtered columns with each other, weighted by the inverse variances,
    /// and the sum of the logarithms of the variances.
    pub fn products<const C: usize>(&self, rows: &[[f64; C]]) -> ([[f64; C]; C], f64) {
        let mut gram = [[0.0; C]; C];
        let (mut logs, mut product) = (0.0, 1.0_f64);
        self.each(0, rows, |value, variance| {
            let inverse = 1.0 / variance;
            for (a, sums) in gram.iter_mut().enumerate() {
                let own = value[a] * inverse;
                for c in a..C {
                    sums[c] += own * value[c];
                }
            }
            product *= variance;
            if !(1e-100..=1e100).contains(&product) {
                logs += product.ln();
                product = 1.0;
            }
        });
        let upper = gram;
        for (a, sums) in gram.iter_mut().enumerate() {
            for (sum, others) in sums.iter_mut().zip(&upper).take(a) {
                *sum = others[a];
            }
        }
        (gram, logs + product.ln())
    }

    /// The filtered columns over their standard deviations.
    pub fn filtered<const C: usize>(&self, rows: &[[f64; C]]) -> Vec<[f64; C]> {
        self.filtered_from(0, rows)
    }

    /// One-step errors of a series and their variances.
    pub fn innovations(&self, values: &[f64]) -> Vec<(f64, f64)> {
        let rows: Vec<[f64; 1]> = values.iter().map(|value| [*value]).collect();
        let mut out = Vec::with_capacity(rows.len());
        self.each(0, &rows, |value, variance| out.push((value[0], variance)));
        out
    }

    /// The best linear forecasts of the next values of a series that starts the filter.
    pub fn continued(&self, values: &[f64], ahead: usize) -> Vec<f64> {
        let n = values.len();
        let mut errors: Vec<f64> = self.innovations(values).into_iter().map(|(error, _)| error).collect();
        let mut all = values.to_vec();
        for t in n..n + ahead {
            let next = self.predicted(t, &all, &errors);
            all.push(next);
            errors.push(0.0);
        }
        all.split_off(n)
    }

    /// How the values from place `n` on respond to the errors from there on, each over its
    /// standard deviation in units of the innovations'. Row h has h + 1 entries.
    pub fn responses(&self, n: usize, ahead: usize) -> Vec<Vec<f64>> {
        let mut rows: Vec<Vec<f64>> = (0..ahead).map(|h| vec![0.0; h + 1]).collect();
        for shock in 0..ahead {
            let (variance, _) = self.step(n + shock);
            let mut path = vec![0.0; shock + 1];
            path[shock] = variance.sqrt();
            let mut errors = path.clone();
            for h in shock..ahead {
                if h > shock {
                    let next = self.predicted(n + h, &path, &errors);
                    path.push(next);
                    errors.push(0.0);
                }
                rows[h][shock] = path[h];
            }
        }
        rows
    }

    fn step(&self, place: usize) -> (f64, &[f64]) {
        let kept = place.min(self.variances.len().saturating_sub(1));
        self.variances.get(kept).map_or((1.0, &[]), |variance| (*variance, self.weights_at(kept)))
    }

    /// What is predicted for place t from the values and errors that end before it; those before
    /// them are zero.
    fn predicted(&self, t: usize, values: &[f64], errors: &[f64]) -> f64 {
        let of = |weights: &[f64], past: &[f64]| -> f64 {
            weights.iter().zip(past.iter().rev()).map(|(weight, value)| weight * value).sum()
        };
        let own = if t >= self.raw { of(&self.ar, values) } else { 0.0 };
        own + of(self.step(t).1, errors)
    }

    /// Filtered columns, of such that are zero before the row `first`, from there on.
    pub fn filtered_from<const C: usize>(&self, first: usize, rows: &[[f64; C]]) -> Vec<[f64; C]> {
        let mut out = Vec::with_capacity(rows.len());
        self.each(first, rows, |value, variance| out.push(value.map(|v| v / variance.sqrt())));
        out
    }

    /// Gives every filtered row from `first` on with its variance; those before are zero.
    fn each<const C: usize>(&self, first: usize, rows: &[[f64; C]], mut take: impl FnMut(&[f64; C], f64)) {
        let mut filtered: Vec<[f64; C]> = Vec::with_capacity(rows.len());
        if self.variances.is_empty() {
            return;
        }
        for (t, row) in rows.iter().enumerate() {
            let (variance, weights) = self.step(first + t);
            let mut value = *row;
            if first + t >= self.raw {
                for (i, phi) in self.ar.iter().take(t).enumerate() {
                    let past = &rows[t - i - 1];
                    for c in 0..C {
                        value[c] -= phi * past[c];
                    }
                }
            }
            for (j, weight) in weights.iter().take(t).enumerate() {
                let past = &filtered[t - j - 1];
                for c in 0..C {
                    value[c] -= weight * past[c];
                }
            }
            take(&value, variance);
            filtered.push(value);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    /// The covariance matrix from many ψ weights.
    fn covariance(mixture: &Mixture, n: usize) -> DMatrix<f64> {
        let mut psi = vec![1.0];
        for k in 1..4000 {
            let past: f64 = (1..=k.min(mixture.ar.len())).map(|i| mixture.ar[i - 1] * psi[k - i]).sum();
            psi.push(mixture.ma.get(k - 1).copied().unwrap_or(0.0) + past);
        }
        let gamma: Vec<f64> =
            (0..n).map(|lag| psi.iter().zip(&psi[lag..]).map(|(a, b)| a * b).sum()).collect();
        DMatrix::from_fn(n, n, |i, j| gamma[i.abs_diff(j)])
    }

    #[test]
    fn products_are_those_of_the_inverse_covariance() {
        let n = 30;
        let (x, z) = (NormalStream::new(1, 0).take(n), NormalStream::new(1, 1).take(n));
        let rows: Vec<[f64; 2]> = x.iter().zip(&z).map(|(a, b)| [*a, *b]).collect();
        for (ar, ma) in [
            (vec![], vec![]),
            (vec![0.7], vec![]),
            (vec![], vec![-0.85]),
            (vec![1.2, -0.5], vec![0.4]),
            (vec![0.9, -0.4, 0.2], vec![0.5, 0.3]),
            (vec![0.3], vec![0.6, -0.2, 0.1]),
        ] {
            let mixture = Mixture { ar, ma };
            let (gram, logs) = Whitening::new(&mixture, n).expect("stationary").products(&rows);
            let sigma = covariance(&mixture, n);
            let determinant =
                sigma.clone().cholesky().expect("positive").l().diagonal().map(f64::ln).sum() * 2.0;
            let data = DMatrix::from_fn(n, 2, |i, j| rows[i][j]);
            let plain = data.transpose() * sigma.try_inverse().expect("regular") * &data;
            assert!((logs - determinant).abs() < 1e-8, "{mixture:?}: {logs} {determinant}");
            for a in 0..2 {
                for b in 0..2 {
                    assert!((gram[a][b] - plain[(a, b)]).abs() < 1e-7, "{mixture:?}");
                }
            }
        }
    }

    #[test]
    fn a_seasonal_filter_is_not_taken_as_settled_within_its_season() {
        let mut ma = vec![0.0; 4];
        ma[3] = -0.9;
        let values = NormalStream::new(5, 0).take(60);
        let mixture = Mixture { ar: vec![], ma };
        let rows: Vec<[f64; 1]> = values.iter().map(|value| [*value]).collect();
        let (gram, logs) = Whitening::new(&mixture, 60).expect("stationary").products(&rows);
        let sigma = covariance(&mixture, 60);
        let determinant = sigma.clone().cholesky().expect("positive").l().diagonal().map(f64::ln).sum() * 2.0;
        let data = DVector::from_column_slice(&values);
        let plain = data.dot(&(sigma.try_inverse().expect("regular") * &data));
        assert!((logs - determinant).abs() < 1e-8, "{logs} {determinant}");
        assert!((gram[0][0] / plain - 1.0).abs() < 1e-8);
    }

    #[test]
    fn columns_that_begin_later_are_filtered_from_there() {
        let mixture = Mixture { ar: vec![0.9, -0.4], ma: vec![0.5, 0.3] };
        let whitening = Whitening::new(&mixture, 40).expect("stationary");
        let values = NormalStream::new(2, 0).take(40);
        for first in [0, 1, 2, 7] {
            let row = |(t, v): (usize, &f64)| [if t < first { 0.0 } else { *v }];
            let rows: Vec<[f64; 1]> = values.iter().enumerate().map(row).collect();
            let (whole, part) = (whitening.filtered(&rows), whitening.filtered_from(first, &rows[first..]));
            assert!(whole[first..].iter().zip(&part).all(|(a, b)| (a[0] - b[0]).abs() < 1e-15));
        }
    }

    #[test]
    fn what_is_not_stationary_has_no_filter() {
        assert!(Whitening::new(&Mixture { ar: vec![1.1], ma: vec![] }, 20).is_none());
    }
}
