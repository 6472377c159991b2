//! Long memory, weighed with the models.

use crate::num::scale;

/// Orders that are tried.
const ORDERS: [f64; 7] = [0.15, 0.20, 0.25, 0.30, 0.35, 0.40, 0.45];
/// Shorter series tell long memory from a root near one hardly ever.
pub const MIN_OBSERVATIONS_LONG_MEMORY: usize = 200;
/// In longer ones the recursion is too dear.
const LONGEST: usize = 2_000;

/// Fractional noise about a mean, over the orders tried.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FractionalNoise {
    /// The averaged restricted likelihood, on the scale of the models'.
    pub likelihood: f64,
    /// Mean of the order, weighted by likelihood.
    pub d: f64,
    /// Its spread.
    pub sd: f64,
}

/// Weighs fractional noise `(1 - B)^d (y_t - μ) = e_t`; `None` below 200 observations and
/// above 2,000.
///
/// # Formula
/// As for the models; the filter of each order by the recursion of Durbin and Levinson on
/// `γ_k = γ_{k-1} (k - 1 + d) / (k - d)`.
///
/// # Numerics
/// `2 n²` for each order.
///
/// # References
/// Granger and Joyeux (1980), *Journal of Time Series Analysis* 1, 15-29; Hosking (1981),
/// *Biometrika* 68, 165-176.
pub fn fractional_noise(y: &[f64]) -> Option<FractionalNoise> {
    if !(MIN_OBSERVATIONS_LONG_MEMORY..=LONGEST).contains(&y.len()) {
        return None;
    }
    let deviations = scale::deviations(y);
    let size = (deviations.iter().map(|e| e * e).sum::<f64>() / y.len() as f64).sqrt();
    let x: Vec<f64> = deviations.iter().map(|e| e / size).collect();
    let values = ORDERS.map(|d| restricted(&x, d));
    let most = values.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    if !most.is_finite() {
        return None;
    }
    let weights = values.map(|value| (value - most).exp());
    let total: f64 = weights.iter().sum();
    let mean = |f: &dyn Fn(f64) -> f64| -> f64 {
        ORDERS.iter().zip(&weights).map(|(d, weight)| f(*d) * weight).sum::<f64>() / total
    };
    let d = mean(&|d| d);
    Some(FractionalNoise {
        likelihood: most + (total / ORDERS.len() as f64).ln(),
        d,
        sd: mean(&|other| (other - d).powi(2)).sqrt(),
    })
}

/// `-½ Σ ln v_t - ½ ln Σ c_t²/v_t - (n-1)/2 ln SSR`, v and the filtered series and constant
/// from one pass.
fn restricted(x: &[f64], d: f64) -> f64 {
    let n = x.len();
    // The variance in units of that of the innovations: Γ(1 - 2d) / Γ(1 - d)².
    let own = (libm::lgamma(1.0 - 2.0 * d) - 2.0 * libm::lgamma(1.0 - d)).exp();
    let mut phi: Vec<f64> = Vec::with_capacity(n);
    let mut variance = own;
    let (mut logs, mut xx, mut xc, mut cc) = (0.0, 0.0, 0.0, 0.0);
    for t in 0..n {
        let (mut e, mut c) = (x[t], 1.0);
        for (weight, past) in phi.iter().zip(x[..t].iter().rev()) {
            e -= weight * past;
            c -= weight;
        }
        logs += f64::ln(variance);
        xx += e * e / variance;
        xc += e * c / variance;
        cc += c * c / variance;
        // The partial autocorrelation at lag t + 1 is d / (t + 1 - d).
        let last = d / ((t + 1) as f64 - d);
        let half = phi.len() / 2;
        let length = phi.len();
        for i in 0..half {
            let (a, b) = (phi[i], phi[length - 1 - i]);
            phi[i] = a - last * b;
            phi[length - 1 - i] = b - last * a;
        }
        if length % 2 == 1 {
            phi[half] *= 1.0 - last;
        }
        phi.push(last);
        variance *= 1.0 - last * last;
    }
    -0.5 * (logs + cc.ln() + (n as f64 - 1.0) * (xx - xc * xc / cc).ln())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;
    use nalgebra::{Cholesky, DMatrix, DVector};

    #[test]
    fn it_is_the_gaussian_density_with_the_mean_integrated_out() {
        let (n, d) = (40, 0.3);
        let x = NormalStream::new(3, 0).take(n);
        let mut gamma = vec![(libm::lgamma(1.0 - 2.0 * d) - 2.0 * libm::lgamma(1.0 - d)).exp()];
        for k in 1..n {
            let k_real = k as f64;
            gamma.push(gamma[k - 1] * (k_real - 1.0 + d) / (k_real - d));
        }
        let sigma = DMatrix::from_fn(n, n, |i, j| gamma[i.abs_diff(j)]);
        let factor = Cholesky::new(sigma).expect("positive definite");
        let y = DVector::from_column_slice(&x);
        let ones = DVector::from_element(n, 1.0);
        let (sy, sc) = (factor.solve(&y), factor.solve(&ones));
        let residual = y.dot(&sy) - y.dot(&sc).powi(2) / ones.dot(&sc);
        let expected =
            -0.5 * (factor.determinant().ln() + ones.dot(&sc).ln() + (n as f64 - 1.0) * residual.ln());
        assert!((restricted(&x, d) - expected).abs() < 1e-9);
    }

    #[test]
    fn the_order_is_found() {
        let e = NormalStream::new(4, 0).take(1_500 + 1_000);
        let mut weights = vec![1.0];
        for k in 1..1_000 {
            weights.push(weights[k - 1] * (k as f64 - 1.0 + 0.35) / k as f64);
        }
        let x: Vec<f64> = (1_000..2_500)
            .map(|t| weights.iter().enumerate().map(|(k, w)| w * e[t - k]).sum::<f64>())
            .collect();
        let found = fractional_noise(&x).expect("long enough");
        assert!((found.d - 0.35).abs() < 0.06 && found.sd < 0.06, "{found:?}");
        assert_eq!(fractional_noise(&x[..150]), None);
    }
}
