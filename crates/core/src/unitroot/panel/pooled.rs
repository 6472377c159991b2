//! The pooled panel test.

use super::{PanelTest, PanelTestName};
use crate::nulldist::{Drawn, Tail, Terms, draws_of, random_walk};
use crate::num::triangular::TriangularFactor;
use crate::num::{normal, scale};
use crate::ols::{OlsError, bartlett_variance, estimate};
use crate::unitroot::error::UnitRootError;
use crate::unitroot::outcome::Null;

/// Panels drawn.
const DRAWS: usize = 999;
/// Their seed.
const SEED: u64 = 20_261_135;
/// Of longer series the distribution is that of this length: it has settled.
const LONGEST_DRAWN: usize = 300;

/// One coefficient of the lagged level for all series.
///
/// # Formula
/// With e and v the change and the lagged level of each series less its terms and lagged
/// changes, both in units of its residual spread `σ_i`: δ from e on v over all series,
/// `t* = (t_δ - N T̃ S_N σ̃⁻² se(δ) μ) / σ`, `S_N` the mean of long-run over short-run spread. μ
/// and σ, tabulated in the paper, and the null distribution are drawn for a panel of this size
/// of random walks.
///
/// # Errors
/// [`UnitRootError`].
///
/// # References
/// Levin, Lin and Chu (2002), *Journal of Econometrics* 108, 1-24.
pub fn levin_lin_chu(series: &[Vec<f64>], terms: Terms, lags: &[usize]) -> Result<PanelTest, UnitRootError> {
    let found = pooled(series, terms, lags)?;
    let n = series.first().map_or(0, Vec::len).min(LONGEST_DRAWN);
    let null = draws_of(DRAWS, SEED, |stream| {
        let walks: Vec<Vec<f64>> = series.iter().map(|_| random_walk(stream, n)).collect();
        pooled(&walks, terms, lags).ok()
    });
    let mean = |value: fn(&Pooled) -> f64| scale::mean(&null.iter().map(value).collect::<Vec<_>>());
    let mu = if terms == Terms::None { 0.0 } else { mean(|one| one.t) / mean(|one| one.pull) };
    let drawn = Drawn::new(null.iter().map(|one| one.t - mu * one.pull));
    if drawn.draws() == 0 {
        return Err(UnitRootError::NoDistribution);
    }
    let value = found.t - mu * found.pull;
    let (centre, spread) = drawn.mean_and_sd();
    let statistic = (value - centre) / spread;
    // Sums over many series are nearly normal; the rank holds where there are ranks.
    let ranked = drawn.p_value(value, Tail::Lower);
    let p_value = if ranked <= 1.5 / DRAWS as f64 { normal::cdf(statistic).min(ranked) } else { ranked };
    Ok(PanelTest {
        test: PanelTestName::LevinLinChu,
        null: Null::UnitRoot,
        statistic,
        p_value,
        drawn: Some(drawn.draws()),
    })
}

/// The pooled t-ratio and what pulls it down under the null, per unit of μ.
struct Pooled {
    t: f64,
    pull: f64,
}

fn pooled(series: &[Vec<f64>], terms: Terms, lags: &[usize]) -> Result<Pooled, OlsError> {
    let (mut vv, mut ve, mut ee, mut rows, mut ratios) = (0.0, 0.0, 0.0, 0.0, 0.0);
    for (x, p) in series.iter().zip(lags) {
        let one = part(x, terms, *p)?;
        vv += one.vv;
        ve += one.ve;
        ee += one.ee;
        rows += one.rows;
        ratios += one.ratio;
    }
    let delta = ve / vv;
    let variance = (ee - delta * ve) / rows;
    let error = (variance / vv).sqrt();
    let mean_ratio = ratios / series.len() as f64;
    Ok(Pooled { t: delta / error, pull: rows * mean_ratio * error / variance })
}

/// Sums of one series in units of its residual spread.
struct Part {
    vv: f64,
    ve: f64,
    ee: f64,
    rows: f64,
    ratio: f64,
}

fn part(x: &[f64], terms: Terms, lags: usize) -> Result<Part, OlsError> {
    let n = x.len();
    let fixed = terms.count();
    let clock = |t: usize| (t as f64 + 0.5) / n as f64 - 0.5;
    let mut factor = TriangularFactor::new(fixed + lags + 2);
    for t in lags + 1..n {
        let deterministic = [1.0, clock(t)].into_iter().take(fixed);
        let past = (1..=lags).map(|i| x[t - i] - x[t - i - 1]);
        factor.push_row(deterministic.chain(past).chain([x[t - 1], x[t] - x[t - 1]]));
    }
    let fit = estimate(&mut factor)?;
    let k = fixed + lags;
    let triangle = factor.triangle();
    let (v, e, left) = (triangle[(k, k)], triangle[(k, k + 1)], triangle[(k + 1, k + 1)]);
    let rows = (n - lags - 1) as f64;
    let variance = fit.residual_sum / fit.degrees as f64;
    let changes: Vec<f64> = x.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let mean = if fixed > 0 { changes.iter().sum::<f64>() / changes.len() as f64 } else { 0.0 };
    let centred: Vec<f64> = changes.iter().map(|change| change - mean).collect();
    // The paper's bandwidth.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let bandwidth = (3.21 * (n as f64).cbrt()).floor() as usize;
    let long_run = bartlett_variance(&centred, bandwidth.min(n / 4));
    Ok(Part {
        vv: v * v / variance,
        ve: v * e / variance,
        ee: (e * e + left * left) / variance,
        rows,
        ratio: (long_run / variance).sqrt(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn of_one_series_the_pooled_ratio_is_its_own_but_for_degrees_of_freedom() {
        let x = random_walk(&mut NormalStream::new(81, 0), 90);
        let mut factor = TriangularFactor::new(5);
        for t in 3..90 {
            factor.push_row([x[t - 1], 1.0, x[t - 1] - x[t - 2], x[t - 2] - x[t - 3], x[t] - x[t - 1]]);
        }
        let fit = estimate(&mut factor).expect("fits");
        let own = fit.coefficients[0] / fit.covariance[(0, 0)].sqrt();
        let ours = pooled(std::slice::from_ref(&x), Terms::Constant, &[2]).expect("fits").t;
        // 87 rows, of which the series' own ratio counts 83.
        assert!((ours - own * (87.0_f64 / 83.0).sqrt()).abs() < 1e-9, "{ours} {own}");
    }
}
