//! Statistics of a series detrended by generalised least squares.

use crate::nulldist::Terms;
use crate::num::sum::dot;
use crate::num::triangular::TriangularFactor;
use crate::ols::{OlsError, estimate};

use super::lag_regressions::{chosen_by_maic, lag_regressions, regression};

/// How the lags of the family are found.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum GlsLags {
    /// As given.
    Given(usize),
    /// The smallest modified AIC among 0, 1, …, this many.
    Maic(usize),
}

/// Every statistic that rests on the series detrended by generalised least squares.
#[derive(Debug, Clone, PartialEq)]
pub struct GlsStatistics {
    /// Lagged changes in the regression.
    pub lags: usize,
    /// t-ratio of the lagged level.
    pub tau: f64,
    /// The feasible point-optimal `P_T`.
    pub point_optimal: f64,
    /// `MZ_α`.
    pub mz_alpha: f64,
    /// `MZ_t`.
    pub mz_t: f64,
    /// `MSB`.
    pub msb: f64,
    /// `MP_T`.
    pub mp_t: f64,
}

/// The family of a series scaled to a harmless size, about a constant or a trend.
///
/// # Formula
/// With `ᾱ = 1 + c̄/n`, `c̄` = -7 (constant) or -13.5 (trend), β̂ from the quasi-differences
/// `y_1, y_t - ᾱ y_{t-1}` on those of the terms, `ỹ = y - z'β̂`, T = n - 1: τ from the
/// regression of Δỹ on ỹ_{t-1} and lagged changes, `s² = σ̂²/(1 - Σδ̂)²` from the same;
/// `P_T = (S(ᾱ) - ᾱ S(1))/s²`, S the residual sums of the quasi-differences;
/// `MZ_α = (ỹ_n²/T - s²)/(2A)`, `A = Σỹ²_{t-1}/T²`, `MSB = (A/s²)^{1/2}`,
/// `MZ_t = MZ_α · MSB`, `MP_T = (c̄² A - c̄ ỹ_n²/T)/s²` (constant) or
/// `(c̄² A + (1 - c̄) ỹ_n²/T)/s²` (trend). The modified AIC is computed on the series
/// detrended by ordinary least squares.
///
/// # Errors
/// [`OlsError`]; [`Terms::None`] counts as a constant.
///
/// # References
/// Elliott, Rothenberg and Stock (1996), *Econometrica* 64, 813-836; Ng and Perron (2001),
/// *Econometrica* 69, 1519-1554; Perron and Qu (2007), *Economics Letters* 94, 12-19.
pub fn gls_statistics(x: &[f64], terms: Terms, lags: GlsLags) -> Result<GlsStatistics, OlsError> {
    let n = x.len();
    let c = if terms == Terms::Trend { -13.5 } else { -7.0 };
    let alpha = 1.0 + c / n as f64;
    let (beta, at_alpha) = quasi_differenced(x, terms, alpha)?;
    let (_, at_one) = quasi_differenced(x, terms, 1.0)?;
    let fitted = |t: usize| (0..beta.len()).map(|j| beta[j] * term(j, t, n)).sum::<f64>();
    let detrended: Vec<f64> = x.iter().enumerate().map(|(t, v)| v - fitted(t)).collect();
    let lags = match lags {
        GlsLags::Given(lags) => lags,
        GlsLags::Maic(most) => by_maic(x, terms, most)?,
    };
    let fit = estimate(&mut regression(&detrended, Terms::None, lags, lags))?;
    let rows = (n - 1 - lags) as f64;
    let persistence: f64 = 1.0 - fit.coefficients[1..].iter().sum::<f64>();
    let s2 = fit.residual_sum / rows / persistence.powi(2);
    let size = n as f64 - 1.0;
    let levels = dot(&detrended[..n - 1], &detrended[..n - 1]) / size.powi(2);
    let last = detrended[n - 1].powi(2) / size;
    let mz_alpha = 0.5 * (last - s2) / levels;
    let msb = (levels / s2).sqrt();
    let end = if terms == Terms::Trend { 1.0 - c } else { -c };
    Ok(GlsStatistics {
        lags,
        tau: fit.coefficients[0] / fit.covariance[(0, 0)].sqrt(),
        point_optimal: (at_alpha - alpha * at_one) / s2,
        mz_alpha,
        mz_t: mz_alpha * msb,
        msb,
        mp_t: (c * c * levels + end * last) / s2,
    })
}

/// Term j at place t: a constant, the centred clock.
fn term(j: usize, t: usize, n: usize) -> f64 {
    if j == 0 { 1.0 } else { (t as f64 + 0.5 - 0.5 * n as f64) / n as f64 }
}

/// Coefficients of the terms and the residual sum of squares of the quasi-differences.
fn quasi_differenced(x: &[f64], terms: Terms, alpha: f64) -> Result<(Vec<f64>, f64), OlsError> {
    let (n, count) = (x.len(), terms.count().max(1));
    let mut factor = TriangularFactor::new(count + 1);
    factor.push_row((0..count).map(|j| term(j, 0, n)).chain([x[0]]));
    for t in 1..n {
        let z = (0..count).map(|j| term(j, t, n) - alpha * term(j, t - 1, n));
        factor.push_row(z.chain([x[t] - alpha * x[t - 1]]));
    }
    let fit = estimate(&mut factor)?;
    Ok((fit.coefficients, fit.residual_sum))
}

/// The modified AIC on the series detrended by ordinary least squares.
fn by_maic(x: &[f64], terms: Terms, most: usize) -> Result<usize, OlsError> {
    let (n, count) = (x.len(), terms.count().max(1));
    let mut factor = TriangularFactor::new(count + 1);
    for (t, value) in x.iter().enumerate() {
        factor.push_row((0..count).map(|j| term(j, t, n)).chain([*value]));
    }
    let beta = estimate(&mut factor)?.coefficients;
    let fitted = |t: usize| (0..count).map(|j| beta[j] * term(j, t, n)).sum::<f64>();
    let detrended: Vec<f64> = x.iter().enumerate().map(|(t, v)| v - fitted(t)).collect();
    let (regressions, rows) = lag_regressions(&detrended, Terms::None, most)?;
    let levels = &detrended[most..n - 1];
    Ok(chosen_by_maic(&regressions, rows, dot(levels, levels)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn walk(n: usize) -> Vec<f64> {
        let mut x = NormalStream::new(8, 0).take(n);
        for t in 1..n {
            x[t] += x[t - 1];
        }
        x
    }

    #[test]
    fn with_a_constant_by_hand() {
        let x = walk(40);
        let ours = gls_statistics(&x, Terms::Constant, GlsLags::Given(0)).expect("well posed");
        let a = 1.0 - 7.0 / 40.0;
        // The constant's quasi-difference is 1, then 1 - a each time.
        let (mut zz, mut zy) = (1.0, x[0]);
        for t in 1..40 {
            zz += (1.0 - a) * (1.0 - a);
            zy += (1.0 - a) * (x[t] - a * x[t - 1]);
        }
        let beta = zy / zz;
        let sum = |a: f64, beta: f64| {
            (x[0] - beta).powi(2)
                + (1..40).map(|t| (x[t] - a * x[t - 1] - (1.0 - a) * beta).powi(2)).sum::<f64>()
        };
        let d: Vec<f64> = x.iter().map(|v| v - beta).collect();
        let (mut dd, mut cross) = (0.0, 0.0);
        for t in 1..40 {
            dd += d[t - 1] * d[t - 1];
            cross += d[t - 1] * (d[t] - d[t - 1]);
        }
        let rho = cross / dd;
        let ssr: f64 = (1..40).map(|t| (d[t] - d[t - 1] - rho * d[t - 1]).powi(2)).sum();
        let s2 = ssr / 39.0;
        assert!((ours.tau - rho / (ssr / 38.0 / dd).sqrt()).abs() < 1e-9);
        // At a = 1 the constant is fixed by the first value alone.
        assert!((ours.point_optimal - (sum(a, beta) - a * sum(1.0, x[0])) / s2).abs() < 1e-9);
        let (levels, last) = (dd / 39.0_f64.powi(2), d[39] * d[39] / 39.0);
        assert!((ours.mz_alpha - 0.5 * (last - s2) / levels).abs() < 1e-9);
        assert!((ours.msb - (levels / s2).sqrt()).abs() < 1e-10);
        assert!((ours.mz_t - ours.mz_alpha * ours.msb).abs() < 1e-12);
        assert!((ours.mp_t - (49.0 * levels + 7.0 * last) / s2).abs() < 1e-9);
    }

    #[test]
    fn a_line_added_changes_nothing_beside_a_trend() {
        let x = walk(60);
        let tilted: Vec<f64> = x.iter().enumerate().map(|(t, v)| v + 3.0 + 0.7 * t as f64).collect();
        for lags in [GlsLags::Given(2), GlsLags::Maic(6)] {
            let (a, b) =
                (gls_statistics(&x, Terms::Trend, lags), gls_statistics(&tilted, Terms::Trend, lags));
            let (a, b) = (a.expect("well posed"), b.expect("well posed"));
            assert_eq!(a.lags, b.lags);
            for (one, other) in
                [(a.tau, b.tau), (a.point_optimal, b.point_optimal), (a.mz_t, b.mz_t), (a.mp_t, b.mp_t)]
            {
                assert!((one - other).abs() < 1e-8, "{one} {other}");
            }
        }
    }
}
