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
    fn nothing_is_divided_by_nothing() {
        assert_eq!(partial_autocorrelations(&[1.0, 1.0, 1.0]), [1.0, 0.0, 0.0]);
    }
}
