//! The extended autocorrelation function.

use nalgebra::{DMatrix, DVector};

use crate::num::scale;

/// Extended autocorrelations, from which both orders of a mixture are read.
#[derive(Debug, Clone, PartialEq)]
pub struct ExtendedAcf {
    /// Row k: autoregressive order k; column j: the autocorrelation at lag j + 1 of what is left.
    pub rows: Vec<Vec<f64>>,
    /// The same shape: 2.6 standard errors of each, by Bartlett's formula for a moving average that
    /// ends before the lag.
    pub bands: Vec<Vec<f64>>,
    /// The smallest orders (p, q) behind which all are within their bands, if there are any.
    pub orders: Option<(usize, usize)>,
}

/// Autoregressive orders that are tried.
const MOST_AR: usize = 4;
/// Lags that are looked at.
const LAGS: usize = 8;
/// Standard errors of a band: one in a hundred beyond it, as there are many entries and refined
/// regressions spread more than the formula says.
const REACH: f64 = 2.6;
/// Fewest observations.
const MIN_OBSERVATIONS_EACF: usize = 40;

/// Extended autocorrelations of a stationary series.
///
/// # Formula
/// Least-squares autoregressions of order k are refined j times, so that they are consistent for
/// the autoregressive part of a mixture with up to j moving-average terms:
/// `φ_l(k, j) = φ_l(k+1, j-1) - φ_{l-1}(k, j-1) φ_{k+1}(k+1, j-1) / φ_k(k, j-1)` with `φ_0 = -1`.
/// Entry (k, j) is the autocorrelation at lag j of `y_t - Σ φ_l(k, j) y_{t-l}`. Of an ARMA(p, q)
/// the entries with k ≥ p and j > q + k - p are zero.
///
/// # Source
/// Tsay, R. S. and Tiao, G. C. (1984), JASA 79, 84-96.
///
/// # Result
/// None for fewer than 40 observations or a series that the regressions cannot bear.
pub fn extended_acf(y: &[f64]) -> Option<ExtendedAcf> {
    if y.len() < MIN_OBSERVATIONS_EACF {
        return None;
    }
    let mean = scale::mean(y);
    let centred: Vec<f64> = y.iter().map(|value| value - mean).collect();
    // Coefficients by order, at the round at hand.
    let mut fits: Vec<Vec<f64>> =
        (0..=MOST_AR + LAGS).map(|order| autoregression(&centred, order)).collect::<Option<_>>()?;
    let (mut rows, mut bands) = (vec![Vec::new(); MOST_AR + 1], vec![Vec::new(); MOST_AR + 1]);
    for lag in 1..=LAGS {
        fits = refined(&fits)?;
        for k in 0..=MOST_AR {
            let left = left(&centred, &fits[k]);
            let before: f64 = (1..lag).map(|earlier| correlation(&left, earlier).powi(2)).sum();
            rows[k].push(correlation(&left, lag));
            bands[k].push(REACH * ((1.0 + 2.0 * before) / left.len() as f64).sqrt());
        }
    }
    Some(ExtendedAcf { orders: orders(&rows, &bands), rows, bands })
}

/// The smallest p + q, and of these the smallest p, behind which all entries are within their bands
/// but for one in twenty.
fn orders(rows: &[Vec<f64>], bands: &[Vec<f64>]) -> Option<(usize, usize)> {
    let holds = |p: usize, q: usize| {
        let behind = (p..=MOST_AR).flat_map(|k| (q + k - p..LAGS).map(move |j| (k, j)));
        let inside: Vec<bool> = behind.map(|(k, j)| rows[k][j].abs() <= bands[k][j]).collect();
        // The vertex and its row have to hold; chance takes its share of the rest.
        let outside = inside.iter().filter(|inside| !**inside).count();
        inside.first() == Some(&true) && 20 * outside <= inside.len()
    };
    (0..=MOST_AR + 4)
        .find_map(|sum| (0..=sum.min(MOST_AR)).map(|p| (p, sum - p)).find(|(p, q)| holds(*p, *q)))
}

/// Least-squares coefficients of an autoregression.
fn autoregression(y: &[f64], order: usize) -> Option<Vec<f64>> {
    if order == 0 {
        return Some(Vec::new());
    }
    let rows = y.len() - order;
    let past = DMatrix::from_fn(rows, order, |t, l| y[t + order - l - 1]);
    let target = DVector::from_column_slice(&y[order..]);
    let solved = (past.transpose() * &past).cholesky()?.solve(&(past.transpose() * target));
    Some(solved.iter().copied().collect())
}

/// One round more; the largest order is used up.
fn refined(fits: &[Vec<f64>]) -> Option<Vec<Vec<f64>>> {
    let of = |k: usize| {
        let (own, next) = (&fits[k], &fits[k + 1]);
        if k == 0 {
            return Some(Vec::new());
        }
        let share = next[k] / own[k - 1];
        let earlier = |l: usize| if l == 0 { -1.0 } else { own[l - 1] };
        share.is_finite().then(|| (0..k).map(|l| next[l] - earlier(l) * share).collect())
    };
    (0..fits.len() - 1).map(of).collect()
}

/// What an autoregression leaves.
fn left(y: &[f64], coefficients: &[f64]) -> Vec<f64> {
    let order = coefficients.len();
    (order..y.len())
        .map(|t| y[t] - coefficients.iter().enumerate().map(|(l, phi)| phi * y[t - l - 1]).sum::<f64>())
        .collect()
}

fn correlation(x: &[f64], lag: usize) -> f64 {
    let mean = scale::mean(x);
    let around: Vec<f64> = x.iter().map(|value| value - mean).collect();
    let square: f64 = around.iter().map(|value| value * value).sum();
    let product: f64 = around.iter().skip(lag).zip(&around).map(|(a, b)| a * b).sum();
    if square > 0.0 { product / square } else { 0.0 }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn mixture(phi: &[f64], theta: &[f64], n: usize, stream: u64) -> Vec<f64> {
        let e = NormalStream::new(17, stream).take(n + 100);
        let mut y = vec![0.0; n + 100];
        for t in 3..n + 100 {
            y[t] = e[t]
                + phi.iter().enumerate().map(|(i, phi)| phi * y[t - i - 1]).sum::<f64>()
                + theta.iter().enumerate().map(|(j, theta)| theta * e[t - j - 1]).sum::<f64>();
        }
        y.split_off(100)
    }

    #[test]
    fn the_first_row_is_the_acf_and_white_noise_has_no_orders() {
        let y = mixture(&[], &[], 300, 0);
        let found = extended_acf(&y).expect("long enough");
        assert!((found.rows[0][2] - correlation(&y, 3)).abs() < 1e-12);
        assert_eq!(found.orders, Some((0, 0)));
    }

    #[test]
    fn orders_of_mixtures_are_read_off_more_often_than_not() {
        for (phi, theta, orders) in [
            (&[0.7][..], &[][..], (1, 0)),
            (&[], &[0.6], (0, 1)),
            (&[0.8], &[0.5], (1, 1)),
            (&[1.2, -0.6], &[], (2, 0)),
        ] {
            let hits = (0..40)
                .filter(|stream| {
                    extended_acf(&mixture(phi, theta, 500, *stream)).is_some_and(|e| e.orders == Some(orders))
                })
                .count();
            assert!(hits >= 24, "{orders:?}: {hits} of 40");
        }
    }

    #[test]
    fn short_and_constant_series_have_none() {
        assert_eq!(extended_acf(&[1.0; 39]), None);
        assert_eq!(extended_acf(&[1.0; 80]), None);
    }
}
