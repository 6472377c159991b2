//! Partial autocorrelations.

use crate::num::triangular::TriangularFactor;

/// Partial autocorrelations at lags 1, 2, … from the autocorrelations at the
/// same lags.
///
/// # Formula
/// The recursion of Durbin and Levinson:
/// `φ_kk = (r_k - Σ_j φ_{k-1,j} r_{k-j}) / (1 - Σ_j φ_{k-1,j} r_j)`,
/// `φ_kj = φ_{k-1,j} - φ_kk φ_{k-1,k-j}`.
///
/// # Input
/// Autocorrelations with divisor n, which keep the denominators positive
/// unless the series is exactly predictable; from such a lag on there is
/// nothing left to explain and the result is zero.
///
/// # References
/// Durbin (1960), *Revue de l'Institut International de Statistique* 28, 233-244.
pub fn partial_autocorrelations(r: &[f64]) -> Vec<f64> {
    let mut phi: Vec<f64> = Vec::with_capacity(r.len());
    let mut out = Vec::with_capacity(r.len());
    let mut unexplained = 1.0;
    for (k, correlation) in r.iter().enumerate() {
        let explained: f64 = phi.iter().zip(r[..k].iter().rev()).map(|(f, r)| f * r).sum();
        let exhausted = unexplained <= 1e-14;
        let last = if exhausted { 0.0 } else { (correlation - explained) / unexplained };
        let mirrored: Vec<f64> = phi.iter().rev().copied().collect();
        for (f, other) in phi.iter_mut().zip(mirrored) {
            *f -= last * other;
        }
        phi.push(last);
        out.push(last);
        unexplained *= 1.0 - last * last;
    }
    out
}

/// Partial autocorrelations by least squares: the last coefficient of the regression of
/// `y_t` on a constant and its first k lags, k = 1, …, `most`, all on the observations
/// after the largest lag.
///
/// # Numerics
/// One triangular factor holds all the regressions: the last coefficient of each is the
/// quotient of two of its entries.
///
/// # Returns
/// `None` if there are not more observations than twice the lags, or the lags are
/// collinear.
pub fn partial_by_least_squares(y: &[f64], most: usize) -> Option<Vec<f64>> {
    if y.len() < 2 * most + 2 {
        return None;
    }
    let mut factor = TriangularFactor::new(most + 2);
    for t in most..y.len() {
        let lags = (1..=most).map(|lag| y[t - lag]);
        factor.push_row(std::iter::once(1.0).chain(lags).chain(std::iter::once(y[t])));
    }
    let triangle = factor.triangle();
    let largest = triangle.get((0, 0))?.abs();
    (1..=most)
        .map(|lag| {
            let (own, with) = (*triangle.get((lag, lag))?, *triangle.get((lag, most + 1))?);
            (own.abs() > 1e-12 * largest).then(|| with / own)
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_autoregression_has_one_partial_autocorrelation() {
        let r: Vec<f64> = (1..=6).map(|k| 0.7_f64.powi(k)).collect();
        let partial = partial_autocorrelations(&r);
        assert!((partial[0] - 0.7).abs() < 1e-14);
        assert!(partial[1..].iter().all(|p| p.abs() < 1e-14));
    }

    #[test]
    fn a_moving_average_has_the_published_decay() {
        // MA(1): φ_kk = -(-θ)^k (1-θ²)/(1-θ^{2(k+1)}), Box and Jenkins (1976), 3.3.
        let theta = 0.5_f64;
        let mut r = vec![0.0; 6];
        r[0] = theta / (1.0 + theta * theta);
        for (k, ours) in (1..).zip(partial_autocorrelations(&r)) {
            let exact = -(-theta).powi(k) * (1.0 - theta * theta) / (1.0 - theta.powi(2 * (k + 1)));
            assert!((ours - exact).abs() < 1e-13, "lag {k}");
        }
    }

    #[test]
    fn least_squares_is_that_of_a_regression_for_each_lag() {
        use nalgebra::{DMatrix, DVector};
        let y = crate::num::rng::NormalStream::new(6, 0).take(60);
        let most = 5;
        let ours = partial_by_least_squares(&y, most).expect("enough");
        for lag in 1..=most {
            let rows = y.len() - most;
            let x = DMatrix::from_fn(rows, lag + 1, |row, k| if k == 0 { 1.0 } else { y[most + row - k] });
            let target = DVector::from_fn(rows, |row, _| y[most + row]);
            let normal = x.transpose() * &x;
            let coefficients = normal.lu().solve(&(x.transpose() * target)).expect("regular");
            assert!((ours[lag - 1] - coefficients[lag]).abs() < 1e-10, "{lag}");
        }
        assert_eq!(partial_by_least_squares(&y, 30), None);
        let line: Vec<f64> = (0..40).map(f64::from).collect();
        assert_eq!(partial_by_least_squares(&line, 3), None);
    }

    #[test]
    fn nothing_is_divided_by_nothing() {
        assert_eq!(partial_autocorrelations(&[1.0, 1.0, 1.0]), [1.0, 0.0, 0.0]);
    }
}
