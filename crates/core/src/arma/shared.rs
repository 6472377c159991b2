//! Products of columns filtered by many ARMA processes that share one moving average: what does not depend on the
//! autoregressive weights is summed once.

use nalgebra::{DMatrix, DVector};

use super::whiten::Mixture;

/// Columns prepared for all processes with these moving-average weights and that number of autoregressive ones.
///
/// # Formula
/// `y_t = φ(B) x_t` for t ≥ p is `θ(B) e_t`. Given the innovations η before place p, `e = v + Hη` with `v = θ(B)⁻¹ y`
/// from zeros and H the responses to η; η given the first p values x₀ is normal with mean `m = A'Γ⁻¹x₀` and covariance
/// `V = I - A'Γ⁻¹A`, A the covariances of x₀ with η. So with `r = v + Hm`
/// `x'Σ⁻¹x = x₀'Γ⁻¹x₀ + r'r - r'H V (I + H'H V)⁻¹ H'r` and `ln|Σ| = ln|Γ| + ln|I + H'H V|`. v is linear in the
/// coefficients of φ in powers of 1 - B, so that the products of the filtered differences are enough; in powers of B
/// they would cancel at a unit root.
///
/// # References
/// Box, Jenkins and Reinsel (1994), *Time Series Analysis*, 3rd ed., appendix A7.3, for the innovations before the sample.
pub struct SharedMovingAverage<const C: usize> {
    /// Autoregressive weights of the processes.
    order: usize,
    ma: Vec<f64>,
    /// The first p rows, the latest first.
    first: Vec<[f64; C]>,
    /// Products of the filtered differences i and j at i (p + 1) + j, j not below i.
    products: Vec<[[f64; C]; C]>,
    /// Products of each response with the filtered differences, by difference.
    crossed: Vec<Vec<[f64; C]>>,
    /// Products of the responses with each other.
    responses: DMatrix<f64>,
}

impl<const C: usize> SharedMovingAverage<C> {
    /// Filters the differences of the columns; `None` for no more rows than autoregressive weights.
    ///
    /// # Cost
    /// Some `(p + 1)² C² / 2 + (p + 1) q C` products for each row, however many processes follow.
    pub fn new(rows: &[[f64; C]], order: usize, ma: &[f64]) -> Option<Self> {
        let rest = rows.len().checked_sub(order).filter(|rest| *rest > 0)?;
        let filtered: Vec<Vec<[f64; C]>> =
            (0..=order).map(|times| inverse_filtered(differenced(rows, order, times), ma)).collect();
        let responses: Vec<Vec<f64>> = (0..ma.len()).map(|place| response(ma, place, rest)).collect();
        let mut products = vec![[[0.0; C]; C]; (order + 1) * (order + 1)];
        for i in 0..=order {
            for j in i..=order {
                products[i * (order + 1) + j] = crossed(&filtered[i], &filtered[j]);
            }
        }
        let with_responses = |difference: &Vec<[f64; C]>| -> Vec<[f64; C]> {
            responses.iter().map(|response| weighted_sum(response, difference)).collect()
        };
        let of = |i: usize, j: usize| crate::num::sum::dot(&responses[i], &responses[j]);
        Some(Self {
            order,
            ma: ma.to_vec(),
            first: rows[..order].iter().rev().copied().collect(),
            products,
            crossed: filtered.iter().map(with_responses).collect(),
            responses: DMatrix::from_fn(ma.len(), ma.len(), of),
        })
    }

    /// Products of the columns weighted by the inverse covariance matrix of a process, and the logarithm of its
    /// determinant; `None` for a process that is not stationary, or has another number of weights.
    pub fn of(&self, ar: &[f64]) -> Option<([[f64; C]; C], f64)> {
        if ar.len() != self.order {
            return None;
        }
        let powers = in_differences(ar);
        let mut gram = self.combined(&powers);
        let mut logs = 0.0;
        let before = self.before(ar)?;
        if let Some(beginning) = &before.beginning {
            logs += 2.0 * beginning.factor.l_dirty().diagonal().iter().map(|own| own.ln()).sum::<f64>();
            add_product(&mut gram, &beginning.whitened, &beginning.whitened, 1.0);
        }
        if !self.ma.is_empty() {
            logs += self.add_unknown(&mut gram, &powers, &before)?;
        }
        (logs.is_finite()).then_some((gram, logs))
    }

    /// Products of v.
    fn combined(&self, powers: &[f64]) -> [[f64; C]; C] {
        let mut gram = [[0.0; C]; C];
        for (i, a) in powers.iter().enumerate() {
            for (j, b) in powers.iter().enumerate().skip(i) {
                let product = &self.products[i * (self.order + 1) + j];
                for (row, sums) in gram.iter_mut().enumerate() {
                    for (column, sum) in sums.iter_mut().enumerate() {
                        let mirrored = if i == j { 0.0 } else { product[column][row] };
                        *sum += a * b * (product[row][column] + mirrored);
                    }
                }
            }
        }
        gram
    }

    /// The first values and the innovations before the rest, under a process.
    fn before(&self, ar: &[f64]) -> Option<Before> {
        let (p, q) = (self.order, self.ma.len());
        if p == 0 {
            return Some(Before {
                beginning: None,
                mean: DMatrix::zeros(q, C),
                spread: DMatrix::identity(q, q),
            });
        }
        let mixture = Mixture { ar: ar.to_vec(), ma: self.ma.clone() };
        let psi = mixture.psi();
        let gamma = mixture.autocovariances(&psi, p)?;
        let factor = DMatrix::from_fn(p, p, |i, j| gamma[i.abs_diff(j)]).cholesky()?;
        let lower = factor.l();
        let values = DMatrix::from_fn(p, C, |i, column| self.first[i][column]);
        let whitened = lower.solve_lower_triangular(&values)?;
        let with_innovations =
            DMatrix::from_fn(p, q, |i, place| if place >= i { psi[place - i] } else { 0.0 });
        let part = lower.solve_lower_triangular(&with_innovations)?;
        let mean = part.tr_mul(&whitened);
        let spread = DMatrix::identity(q, q) - part.tr_mul(&part);
        Some(Before { beginning: Some(Beginning { factor, whitened }), mean, spread })
    }

    /// Adds what is not known of the innovations before the rest; gives `ln|I + H'H V|`.
    fn add_unknown(&self, gram: &mut [[f64; C]; C], powers: &[f64], before: &Before) -> Option<f64> {
        let q = self.ma.len();
        let along = DMatrix::from_fn(q, C, |place, column| {
            powers.iter().zip(&self.crossed).map(|(power, own)| power * own[place][column]).sum::<f64>()
        });
        // v + Hm, and its products with the responses.
        let moved = &self.responses * &before.mean;
        add_product(gram, &along, &before.mean, 1.0);
        add_product(gram, &before.mean, &along, 1.0);
        add_product(gram, &before.mean, &moved, 1.0);
        let along = along + moved;
        let system = DMatrix::identity(q, q) + &self.responses * &before.spread;
        let factor = system.lu();
        let determinant = factor.determinant();
        if determinant.is_nan() || determinant <= 0.0 {
            return None;
        }
        let explained = &before.spread * factor.solve(&along)?;
        add_product(gram, &along, &explained, -1.0);
        Some(determinant.ln())
    }
}

/// What is known before the rest.
struct Before {
    /// None without autoregressive weights.
    beginning: Option<Beginning>,
    /// Of the innovations before the rest, for each column.
    mean: DMatrix<f64>,
    /// Their covariances.
    spread: DMatrix<f64>,
}

/// The first values.
struct Beginning {
    factor: nalgebra::Cholesky<f64, nalgebra::Dyn>,
    whitened: DMatrix<f64>,
}

/// Adds `sign · a'b`.
fn add_product<const C: usize>(gram: &mut [[f64; C]; C], a: &DMatrix<f64>, b: &DMatrix<f64>, sign: f64) {
    for (i, sums) in gram.iter_mut().enumerate() {
        for (j, sum) in sums.iter_mut().enumerate() {
            *sum += sign * a.column(i).dot(&b.column(j));
        }
    }
}

/// The coefficients of `1 - Σ φ_k B^k` in powers of `1 - B`.
fn in_differences(ar: &[f64]) -> Vec<f64> {
    let mut powers = DVector::<f64>::zeros(ar.len() + 1);
    // Those of B^k = (1 - (1 - B))^k, from k to k.
    let mut of_power = vec![1.0];
    powers[0] = 1.0;
    for phi in ar {
        let mut next = vec![0.0; of_power.len() + 1];
        for (place, value) in of_power.iter().enumerate() {
            next[place] += value;
            next[place + 1] -= value;
        }
        of_power = next;
        for (power, value) in powers.iter_mut().zip(&of_power) {
            *power -= phi * value;
        }
    }
    powers.iter().copied().collect()
}

/// Differences of that order from place `first` on.
fn differenced<const C: usize>(rows: &[[f64; C]], first: usize, times: usize) -> Vec<[f64; C]> {
    let mut all: Vec<[f64; C]> = rows[first - times..].to_vec();
    for _ in 0..times {
        for t in (1..all.len()).rev() {
            let before = all[t - 1];
            all[t].iter_mut().zip(before).for_each(|(value, other)| *value -= other);
        }
        all.remove(0);
    }
    all
}

/// `θ(B)⁻¹` of rows after zeros.
fn inverse_filtered<const C: usize>(mut rows: Vec<[f64; C]>, ma: &[f64]) -> Vec<[f64; C]> {
    let weights = by_lag(ma);
    for t in 0..rows.len() {
        let mut own = rows[t];
        for (lag, theta) in weights.iter().take_while(|(lag, _)| *lag <= t) {
            let before = rows[t - lag];
            for c in 0..C {
                own[c] -= theta * before[c];
            }
        }
        rows[t] = own;
    }
    rows
}

/// The lags of weights other than zero, of which a seasonal moving average has few.
fn by_lag(ma: &[f64]) -> Vec<(usize, f64)> {
    ma.iter().enumerate().filter(|(_, theta)| **theta != 0.0).map(|(j, theta)| (j + 1, *theta)).collect()
}

/// The innovations after place p that one of them, `place` + 1 places before it, brings with it.
fn response(ma: &[f64], place: usize, count: usize) -> Vec<f64> {
    let weights = by_lag(ma);
    let mut all: Vec<f64> = Vec::with_capacity(count);
    for t in 0..count {
        let known = weights.iter().take_while(|(lag, _)| *lag <= t);
        let within = known.map(|(lag, theta)| theta * all[t - lag]).sum::<f64>();
        let own = ma.get(t + place).copied().unwrap_or(0.0);
        all.push(-within - own);
    }
    all
}

fn crossed<const C: usize>(a: &[[f64; C]], b: &[[f64; C]]) -> [[f64; C]; C] {
    let mut sums = [[0.0; C]; C];
    for (a, b) in a.iter().zip(b) {
        for (own, sums) in a.iter().zip(&mut sums) {
            for c in 0..C {
                sums[c] += own * b[c];
            }
        }
    }
    sums
}

fn weighted_sum<const C: usize>(weights: &[f64], rows: &[[f64; C]]) -> [f64; C] {
    let mut sums = [0.0; C];
    for (weight, row) in weights.iter().zip(rows) {
        for c in 0..C {
            sums[c] += weight * row[c];
        }
    }
    sums
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::arma::Whitening;
    use crate::num::rng::NormalStream;

    /// A walk with a trend, a constant and a clock.
    fn rows(n: usize) -> Vec<[f64; 3]> {
        let mut level = 0.0;
        let step = |(t, e): (usize, &f64)| {
            level += e + 0.3;
            [level, 1.0, (t as f64 + 0.5) / n as f64 - 0.5]
        };
        NormalStream::new(31, 0).take(n).iter().enumerate().map(step).collect()
    }

    #[test]
    fn they_are_those_of_the_filter_of_each_process() {
        let unit = 1.0 - 1e-6;
        let mut seasonal = vec![0.0; 13];
        (seasonal[0], seasonal[11], seasonal[12]) = (-0.3, -0.8, 0.24);
        for n in [25, 150] {
            let rows = rows(n);
            for ma in [vec![], vec![0.0], vec![-0.85], vec![0.75], vec![1.3, 0.4], seasonal.clone()] {
                for ar in [
                    vec![],
                    vec![0.6],
                    vec![0.0, 0.0],
                    vec![1.2, -0.5],
                    vec![unit - 0.6, 0.6 * unit],
                    vec![0.9, -0.4, 0.2],
                    vec![unit + 0.87, -0.87 * unit],
                    vec![1.9, -1.5, 0.7, -0.12],
                ] {
                    let mixture = Mixture { ar: ar.clone(), ma: ma.clone() };
                    let (gram, logs) = Whitening::new(&mixture, n).expect("stationary").products(&rows);
                    let shared = SharedMovingAverage::new(&rows, ar.len(), &ma).expect("enough rows");
                    let (own, own_logs) = shared.of(&ar).expect("stationary");
                    assert!((own_logs - logs).abs() < 1e-6, "{mixture:?} {n}: {own_logs} {logs}");
                    for (i, j) in (0..3).flat_map(|i| (0..3).map(move |j| (i, j))) {
                        let size = (gram[i][i] * gram[j][j]).sqrt();
                        let apart = (own[i][j] - gram[i][j]).abs() / size;
                        assert!(apart < 1e-8, "{mixture:?} {n}: {own:?} {gram:?}");
                    }
                }
            }
        }
    }

    #[test]
    fn what_is_not_stationary_has_none() {
        let shared = SharedMovingAverage::new(&rows(30), 1, &[0.5]).expect("enough rows");
        assert!(shared.of(&[1.1]).is_none());
        assert!(shared.of(&[0.5, 0.1]).is_none());
        assert!(SharedMovingAverage::new(&rows(3), 3, &[]).is_none());
    }

    #[test]
    fn a_polynomial_keeps_its_values_in_powers_of_the_difference() {
        let ar = [0.5, -0.3, 0.2];
        let powers = in_differences(&ar);
        for b in [-0.7, 0.0, 0.4, 1.0_f64] {
            let plain = 1.0 - ar[0] * b - ar[1] * b.powi(2) - ar[2] * b.powi(3);
            let other: f64 = powers
                .iter()
                .enumerate()
                .map(|(k, a)| a * (1.0 - b).powi(i32::try_from(k).expect("small")))
                .sum();
            assert!((plain - other).abs() < 1e-12, "{b}");
        }
    }
}
