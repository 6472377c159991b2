//! The panel test augmented by cross-section means.

use super::{PanelTest, PanelTestName};
use crate::nulldist::{Tail, Terms, draw_null, random_walk};
use crate::num::scale;
use crate::num::triangular::TriangularFactor;
use crate::ols::{OlsError, estimate};
use crate::unitroot::error::UnitRootError;
use crate::unitroot::outcome::Null;

/// Panels drawn.
const DRAWS: usize = 1_999;
/// Their seed.
const SEED: u64 = 20_261_136;
/// Of longer series the distribution is that of this length: it has settled.
const LONGEST_DRAWN: usize = 300;

/// The mean of the unit-root statistics augmented by the means over all series, which take a common
/// shock out.
///
/// # Formula
/// `Δy_it = terms + b_i y_{i,t-1} + c_i ȳ_{t-1} + Σ_{j=0..p} d_ij Δȳ_{t-j} + Σ_{j=1..p} δ_ij
/// Δy_{i,t-j} + e_it`; the mean of the t-ratios of `b_i`. Its null distribution is drawn from
/// panels of this size of random walks.
///
/// # Errors
/// [`UnitRootError`].
///
/// # References
/// Pesaran (2007), *Journal of Applied Econometrics* 22, 265-312.
pub fn cips(series: &[Vec<f64>], terms: Terms, lags: &[usize]) -> Result<PanelTest, UnitRootError> {
    let n = series.first().map_or(0, Vec::len);
    // Twice as many lagged changes are here as in the series' own tests.
    let most = n.saturating_sub(15) / 4;
    let lags: Vec<usize> = lags.iter().map(|p| (*p).min(most)).collect();
    let statistic = mean_ratio(series, terms, &lags)?;
    let length = n.min(LONGEST_DRAWN);
    let null = draw_null(DRAWS, SEED, |stream| {
        let walks: Vec<Vec<f64>> = series.iter().map(|_| random_walk(stream, length)).collect();
        mean_ratio(&walks, terms, &lags).ok().map(|value| vec![value])
    });
    let drawn = null.first().ok_or(UnitRootError::NoDistribution)?;
    Ok(PanelTest {
        test: PanelTestName::Cips,
        null: Null::UnitRoot,
        statistic,
        p_value: drawn.p_value(statistic, Tail::Lower),
        drawn: Some(drawn.draws()),
    })
}

fn mean_ratio(series: &[Vec<f64>], terms: Terms, lags: &[usize]) -> Result<f64, OlsError> {
    let n = series.first().map_or(0, Vec::len);
    let at = |t: usize| scale::mean(&series.iter().map(|one| one[t]).collect::<Vec<_>>());
    let means: Vec<f64> = (0..n).map(at).collect();
    let ratios =
        series.iter().zip(lags).map(|(x, p)| ratio(x, &means, terms, *p)).collect::<Result<Vec<_>, _>>()?;
    Ok(scale::mean(&ratios))
}

fn ratio(x: &[f64], means: &[f64], terms: Terms, lags: usize) -> Result<f64, OlsError> {
    let n = x.len();
    let change = |y: &[f64], t: usize| y[t] - y[t - 1];
    let mut factor = TriangularFactor::new(2 + terms.count() + 1 + 2 * lags + 1);
    for t in lags + 1..n {
        let fixed = [1.0, (t as f64 + 0.5) / n as f64 - 0.5].into_iter().take(terms.count());
        let common = (0..=lags).map(|j| change(means, t - j));
        let own = (1..=lags).map(|j| change(x, t - j));
        let row = [x[t - 1], means[t - 1]].into_iter().chain(fixed).chain(common).chain(own);
        factor.push_row(row.chain([change(x, t)]));
    }
    let fit = estimate(&mut factor)?;
    Ok(fit.coefficients[0] / fit.covariance[(0, 0)].sqrt())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn drawn(count: usize, n: usize) -> crate::nulldist::Drawn {
        let null = draw_null(4_000, 91, |stream| {
            let walks: Vec<Vec<f64>> = (0..count).map(|_| random_walk(stream, n)).collect();
            mean_ratio(&walks, Terms::Constant, &vec![0; count]).ok().map(|value| vec![value])
        });
        null.into_iter().next().expect("drawn")
    }

    #[test]
    fn critical_values_are_those_of_the_paper() {
        // Pesaran (2007), table II(b): N = 10, T = 50, constant: 1 % -2.60, 5 % -2.34, 10 % -2.21.
        let ours = drawn(10, 51).critical_values(Tail::Lower).expect("enough");
        assert!((ours.one + 2.60).abs() < 0.06, "{ours:?}");
        assert!((ours.five + 2.34).abs() < 0.04, "{ours:?}");
        assert!((ours.ten + 2.21).abs() < 0.04, "{ours:?}");
    }

    #[test]
    fn what_all_share_of_the_mean_takes_no_part() {
        let own: Vec<Vec<f64>> = (0..5).map(|k| random_walk(&mut NormalStream::new(92, k), 70)).collect();
        let mean: Vec<f64> = (0..70).map(|t| own.iter().map(|x| x[t]).sum::<f64>() / 5.0).collect();
        let with: Vec<Vec<f64>> =
            own.iter().map(|x| x.iter().zip(&mean).map(|(a, b)| a + 3.0 * b).collect()).collect();
        let plain = mean_ratio(&own, Terms::Constant, &[1; 5]).expect("fits");
        let moved = mean_ratio(&with, Terms::Constant, &[1; 5]).expect("fits");
        assert!((plain - moved).abs() < 1e-8, "{plain} {moved}");
    }
}
