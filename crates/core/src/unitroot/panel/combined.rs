//! Panel tests that combine the tests of the members.

use super::{Member, PanelTest, PanelTestName};
use crate::nulldist::{Drawn, LagChoice, Quantiles, Statistic, Tail, draw_null};
use crate::num::{chi_squared, scale};
use crate::ols::{Bandwidth, autocovariances_examined};
use crate::unitroot::error::UnitRootError;
use crate::unitroot::outcome::{Null, UnitRootTest};

/// Panels drawn.
const DRAWS: usize = 9_999;
/// Their seed.
const SEED: u64 = 20_261_134;

/// The mean of the unit-root statistics, in units of its spread under the null.
///
/// # Formula
/// `W = (t̄ - E t̄) / sd(t̄)`, t̄ the mean of the series' τ. The null distribution of t̄ is that of
/// the mean of independent draws from each series' own distribution of τ (its length, its
/// choice of lags).
///
/// # Errors
/// [`UnitRootError::NoDistribution`].
///
/// # References
/// Im, Pesaran and Shin (2003), *Journal of Econometrics* 115, 53-74.
pub fn im_pesaran_shin(members: &[Member]) -> Result<PanelTest, UnitRootError> {
    let nulls = members.iter().map(|member| null_of_root(&member.unit_root)).collect::<Option<Vec<_>>>();
    let mean = mean_of(members.iter().map(|member| member.unit_root.statistic));
    standardised(&nulls.ok_or(UnitRootError::NoDistribution)?, mean, Tail::Lower).map(|(w, p, drawn)| {
        PanelTest {
            test: PanelTestName::ImPesaranShin,
            null: Null::UnitRoot,
            statistic: w,
            p_value: p,
            drawn: Some(drawn),
        }
    })
}

/// The mean of the stationarity statistics, in units of its spread under the null.
///
/// # Formula
/// `Z = (η̄ - E η̄) / sd(η̄)`, as for [`im_pesaran_shin`]; each series has its own long-run
/// variance.
///
/// # Errors
/// [`UnitRootError::NoDistribution`].
///
/// # References
/// Hadri (2000), *Econometrics Journal* 3, 148-161.
pub fn hadri(members: &[Member]) -> Result<PanelTest, UnitRootError> {
    let nulls = members.iter().map(|member| null_of_stationarity(&member.stationarity));
    let nulls = nulls.collect::<Option<Vec<_>>>().ok_or(UnitRootError::NoDistribution)?;
    let mean = mean_of(members.iter().map(|member| member.stationarity.statistic));
    standardised(&nulls, mean, Tail::Upper).map(|(z, p, drawn)| PanelTest {
        test: PanelTestName::Hadri,
        null: Null::Stationary,
        statistic: z,
        p_value: p,
        drawn: Some(drawn),
    })
}

/// The p-values of the series' unit-root tests, combined.
///
/// # Formula
/// `-2 Σ ln p_i`, χ² with twice as many degrees of freedom as series.
///
/// # Errors
/// [`UnitRootError::NoDistribution`] where there are too many series to count.
///
/// # References
/// Fisher (1932), *Statistical Methods for Research Workers*, 4th ed., section 21.1; Maddala and
/// Wu (1999), *Oxford Bulletin of Economics and Statistics* 61, 631-652.
pub fn fisher(members: &[Member]) -> Result<PanelTest, UnitRootError> {
    // What lies beyond the simulated levels counts as the outermost.
    let p_values: Option<Vec<f64>> = members.iter().map(|member| member.unit_root.p_value).collect();
    let p_values = p_values.ok_or(UnitRootError::NoDistribution)?;
    let statistic: f64 = p_values.iter().map(|p| -2.0 * p.clamp(1e-4, 1.0).ln()).sum();
    let p_value = chi_squared::survival(statistic, 2 * members.len()).ok_or(UnitRootError::NoDistribution)?;
    Ok(PanelTest { test: PanelTestName::Fisher, null: Null::UnitRoot, statistic, p_value, drawn: None })
}

fn mean_of(values: impl Iterator<Item = f64>) -> f64 {
    scale::mean(&values.collect::<Vec<_>>())
}

fn null_of_root(test: &UnitRootTest) -> Option<Quantiles> {
    let (terms, lags) = (test.terms, test.lags?);
    let most = test.max_lags.unwrap_or(lags);
    let choice = LagChoice::of(test.lag_rule?);
    let size = if choice == LagChoice::Given { lags } else { most };
    Some(Statistic::Adf(terms).after(choice).surface()?.at(test.observations, size))
}

fn null_of_stationarity(test: &UnitRootTest) -> Option<Quantiles> {
    let n = test.observations;
    let (choice, size) = match test.bandwidth_rule? {
        Bandwidth::Automatic => (LagChoice::Automatic, autocovariances_examined(n)),
        _ => (LagChoice::Given, test.bandwidth?),
    };
    Some(Statistic::Kpss(test.terms).after(choice).surface()?.at(n, size))
}

/// The mean less its expectation in units of its spread, its p-value, and the draws.
fn standardised(nulls: &[Quantiles], mean: f64, side: Tail) -> Result<(f64, f64, usize), UnitRootError> {
    let means = draw_null(DRAWS, SEED, |stream| {
        Some(vec![mean_of(nulls.iter().map(|null| null.at_score(stream.draw())))])
    });
    let drawn: &Drawn = means.first().ok_or(UnitRootError::NoDistribution)?;
    let (centre, spread) = drawn.mean_and_sd();
    Ok(((mean - centre) / spread, drawn.p_value(mean, side), drawn.draws()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::lag::LagRule;
    use crate::nulldist::Terms;
    use crate::num::rng::NormalStream;
    use crate::unitroot::{AdfOptions, KpssOptions, adf, kpss};

    fn members(count: u64, n: usize) -> Vec<Member> {
        let one = |number| {
            let mut x = NormalStream::new(77, number).take(n);
            for t in 1..n {
                x[t] += x[t - 1];
            }
            let options = AdfOptions { lags: LagRule::Given(0), ..AdfOptions::default() };
            Member {
                unit_root: adf(&x, &options).expect("fits"),
                stationarity: kpss(&x, &KpssOptions::default()).expect("fits"),
            }
        };
        (0..count).map(one).collect()
    }

    fn p(test: &UnitRootTest) -> f64 {
        test.p_value.expect("simulated")
    }

    #[test]
    fn moments_of_the_mean_are_those_of_the_paper() {
        // Im, Pesaran and Shin (2003), table 3: no lags, T = 100: E = -1.532, Var = 0.735 (T counts
        // the rows of the regression there).
        let null = Statistic::Adf(Terms::Constant).given().surface().expect("a table").at(101, 0);
        let one = draw_null(40_000, 1, |stream| Some(vec![null.at_score(stream.draw())]));
        let (mean, sd) = one[0].mean_and_sd();
        assert!((mean + 1.532).abs() < 0.015 && (sd * sd - 0.735).abs() < 0.02, "{mean} {}", sd * sd);
    }

    #[test]
    fn the_combined_p_value_is_the_chi_squared_of_the_sum() {
        let all = members(2, 60);
        let product = p(&all[0].unit_root) * p(&all[1].unit_root);
        // Of two: P(χ²₄ > x) = (1 + x/2) e^{-x/2} and e^{-x/2} is the product.
        let expected = product * (1.0 - product.ln());
        assert!((fisher(&all).expect("known").p_value - expected).abs() < 1e-10);
    }

    #[test]
    fn one_series_alone_keeps_its_own_p_value() {
        let all = members(1, 60);
        let together = im_pesaran_shin(&all).expect("known").p_value;
        assert!((together - p(&all[0].unit_root)).abs() < 0.015);
        let together = hadri(&all).expect("known").p_value;
        assert!((together - p(&all[0].stationarity)).abs() < 0.015);
    }
}
