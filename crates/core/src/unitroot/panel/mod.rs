//! Several series tested together.

mod augmented;
mod combined;
mod pooled;

use crate::num::scale::InvalidSeries;
use thiserror::Error;

use super::adf::{AdfOptions, adf};
use super::error::UnitRootError;
use super::kpss::{KpssOptions, kpss};
use super::outcome::{Null, UnitRootTest};
use super::terms::adf_with_terms_by_data;
use crate::lag::{Criterion, LagRule};
use crate::nulldist::Terms;
use crate::num::{normal, scale};
use crate::ols::Bandwidth;
use schemars::JsonSchema;
use serde::Serialize;

pub use augmented::cips;
pub use combined::{fisher, hadri, im_pesaran_shin};
pub use pooled::levin_lin_chu;

/// A test of several series together.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum PanelTestName {
    /// Im, Pesaran and Shin: the mean of the unit-root statistics.
    ImPesaranShin,
    /// Fisher: the p-values combined.
    Fisher,
    /// Levin, Lin and Chu: one coefficient for all.
    LevinLinChu,
    /// Pesaran: augmented by the means over the series.
    Cips,
    /// Hadri: the mean of the stationarity statistics.
    Hadri,
}

/// One such test.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct PanelTest {
    /// Which.
    pub test: PanelTestName,
    /// Its null hypothesis, of all series.
    pub null: Null,
    /// The statistic as its paper has it.
    pub statistic: f64,
    /// Its p-value.
    pub p_value: f64,
    /// Panels drawn for its null distribution; none where it is known.
    pub drawn: Option<usize>,
}

/// One series of a panel.
#[derive(Debug, Clone)]
pub struct Member {
    /// Its test of a unit root.
    pub unit_root: UnitRootTest,
    /// Its test of stationarity.
    pub stationarity: UnitRootTest,
}

/// Several series together.
#[derive(Debug, Clone)]
pub struct Panel {
    /// Length of each.
    pub observations: usize,
    /// Terms of every test.
    pub terms: Terms,
    /// The tests.
    pub tests: Vec<PanelTest>,
    /// The series one by one.
    pub members: Vec<Member>,
    /// The correlation of the innovations of the series.
    pub dependence: Dependence,
}

/// Correlation between the innovations of the series.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct Dependence {
    /// Mean correlation of all pairs.
    pub mean_correlation: f64,
    /// `√(2T / (N(N-1))) Σ_{i<j} r_ij`, standard normal where the series are independent.
    pub statistic: f64,
    /// Its two-sided p-value.
    pub p_value: f64,
}

/// Options of the panel tests.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct PanelOptions {
    /// Terms; a trend where more than half of the series have one, if not given.
    pub terms: Option<Terms>,
    /// Lags of each series.
    pub lags: LagRule,
    /// The most a choice may take.
    pub max_lags: Option<usize>,
    /// Bandwidth of the stationarity tests.
    pub bandwidth: Bandwidth,
}

impl Default for PanelOptions {
    fn default() -> Self {
        Self {
            terms: None,
            lags: LagRule::Criterion(Criterion::Aic),
            max_lags: None,
            bandwidth: Bandwidth::Automatic,
        }
    }
}

/// Why a panel cannot be tested.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum PanelError {
    /// Fewer than two series.
    #[error("a panel needs two series at least")]
    OneSeries,
    /// Series of different length.
    #[error("the series of a panel have one length")]
    Lengths,
    /// One series cannot be tested.
    #[error("series {place}: {reason}")]
    Series {
        /// Which, 0-based.
        place: usize,
        /// Why.
        reason: UnitRootError,
    },
    /// The series together cannot.
    #[error("{0}")]
    Together(UnitRootError),
}

/// Tests of a unit root in all series and of stationarity of all.
///
/// # Input
/// Series of one length, in order of time, of the same periods, at least 20 values each.
///
/// # Errors
/// [`PanelError`].
///
/// # References
/// Im, Pesaran and Shin (2003), *Journal of Econometrics* 115, 53-74; Maddala and Wu (1999),
/// *Oxford Bulletin of Economics and Statistics* 61, 631-652; Levin, Lin and Chu (2002), *Journal
/// of Econometrics* 108, 1-24; Pesaran (2007), *Journal of Applied Econometrics* 22, 265-312;
/// Hadri (2000), *Econometrics Journal* 3, 148-161; Pesaran (2021), *Empirical Economics* 60,
/// 13-50 (dependence).
pub fn panel(series: &[Vec<f64>], options: &PanelOptions) -> Result<Panel, PanelError> {
    let observations = series.first().map_or(0, Vec::len);
    if series.len() < 2 {
        return Err(PanelError::OneSeries);
    }
    if series.iter().any(|one| one.len() != observations) {
        return Err(PanelError::Lengths);
    }
    let refused = |place: usize| move |reason| PanelError::Series { place, reason };
    if observations < 20 {
        let reason = UnitRootError::InvalidSeries(InvalidSeries::TooShort { observations, needed: 20 });
        return Err(PanelError::Series { place: 0, reason });
    }
    for (place, one) in series.iter().enumerate() {
        scale::check(one).map_err(|reason| PanelError::Series { place, reason: reason.into() })?;
    }
    let terms = options.terms.map_or_else(|| terms_of(series, options), Ok)?;
    let around = if terms == Terms::Trend { Terms::Trend } else { Terms::Constant };
    let members = series
        .iter()
        .enumerate()
        .map(|(place, y)| {
            let rule = AdfOptions { terms, lags: options.lags, max_lags: options.max_lags };
            let other = KpssOptions { terms: around, bandwidth: options.bandwidth, ..KpssOptions::default() };
            Ok(Member {
                unit_root: adf(y, &rule).map_err(refused(place))?,
                stationarity: kpss(y, &other).map_err(refused(place))?,
            })
        })
        .collect::<Result<Vec<_>, PanelError>>()?;
    let scaled: Vec<Vec<f64>> = series.iter().map(|one| scale::deviations(one)).collect();
    let lags: Vec<usize> = members.iter().map(|member| member.unit_root.lags.unwrap_or(0)).collect();
    let together = PanelError::Together;
    Ok(Panel {
        observations,
        terms,
        tests: vec![
            im_pesaran_shin(&members).map_err(together)?,
            fisher(&members).map_err(together)?,
            levin_lin_chu(&scaled, terms, &lags).map_err(together)?,
            cips(&scaled, terms, &lags).map_err(together)?,
            hadri(&members).map_err(together)?,
        ],
        dependence: dependence(&scaled, &lags),
        members,
    })
}

/// A trend where more than half of the series have one.
fn terms_of(series: &[Vec<f64>], options: &PanelOptions) -> Result<Terms, PanelError> {
    let mut trends = 0;
    for (place, y) in series.iter().enumerate() {
        let found = adf_with_terms_by_data(y, options.lags, options.max_lags)
            .map_err(|reason| PanelError::Series { place, reason })?;
        trends += usize::from(found.choice.terms == Terms::Trend);
    }
    Ok(if 2 * trends > series.len() { Terms::Trend } else { Terms::Constant })
}

/// Correlations between the changes of the series, each less what its own past tells.
fn dependence(series: &[Vec<f64>], lags: &[usize]) -> Dependence {
    let most = lags.iter().copied().max().unwrap_or(0);
    let shocks: Vec<Vec<f64>> = series.iter().zip(lags).map(|(x, p)| shocks(x, *p, most)).collect();
    let (mut sum, mut pairs) = (0.0, 0.0);
    for (place, one) in shocks.iter().enumerate() {
        for other in &shocks[place + 1..] {
            let product = |a: &[f64], b: &[f64]| a.iter().zip(b).map(|(a, b)| a * b).sum::<f64>();
            sum += product(one, other) / (product(one, one) * product(other, other)).sqrt();
            pairs += 1.0;
        }
    }
    let rows = shocks.first().map_or(0, Vec::len) as f64;
    let statistic = (rows / pairs).sqrt() * sum;
    Dependence { mean_correlation: sum / pairs, statistic, p_value: 2.0 * normal::survival(statistic.abs()) }
}

/// Residuals of the changes on their own lags; the changes themselves where that fails.
fn shocks(x: &[f64], lags: usize, most: usize) -> Vec<f64> {
    let changes: Vec<f64> = x.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let mean = scale::mean(&changes);
    let d: Vec<f64> = changes.iter().map(|change| change - mean).collect();
    let mut factor = crate::num::triangular::TriangularFactor::new(lags + 1);
    for t in most..d.len() {
        factor.push_row((1..=lags).map(|i| d[t - i]).chain([d[t]]));
    }
    let phi = crate::ols::estimate(&mut factor).map_or_else(|_| vec![0.0; lags], |fit| fit.coefficients);
    (most..d.len())
        .map(|t| d[t] - phi.iter().enumerate().map(|(i, phi)| phi * d[t - i - 1]).sum::<f64>())
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    /// Several series with this root, and with a common shock of this size.
    fn several(root: f64, common: f64, count: u64, n: usize, seed: u64) -> Vec<Vec<f64>> {
        let shared = NormalStream::new(seed, 99).take(n);
        (0..count)
            .map(|number| {
                let mut x = NormalStream::new(seed, number).take(n);
                for t in 0..n {
                    let before = if t > 0 { root * x[t - 1] } else { 0.0 };
                    x[t] += before + common * shared[t];
                }
                x
            })
            .collect()
    }

    fn p_of(panel: &Panel, name: PanelTestName) -> f64 {
        panel.tests.iter().find(|test| test.test == name).expect("done").p_value
    }

    #[test]
    fn together_they_see_what_one_series_cannot() {
        let options = PanelOptions { terms: Some(Terms::Constant), ..PanelOptions::default() };
        let found = panel(&several(0.85, 0.0, 12, 80, 5), &options).expect("fits");
        for name in [
            PanelTestName::ImPesaranShin,
            PanelTestName::Fisher,
            PanelTestName::LevinLinChu,
            PanelTestName::Cips,
        ] {
            assert!(p_of(&found, name) < 0.05, "{name:?} {}", p_of(&found, name));
        }
        let walks = panel(&several(1.0, 0.0, 12, 80, 6), &options).expect("fits");
        assert!(p_of(&walks, PanelTestName::ImPesaranShin) > 0.05);
        assert!(p_of(&walks, PanelTestName::Hadri) < 0.01);
        assert!(walks.dependence.p_value > 0.01);
    }

    #[test]
    fn a_common_shock_is_seen() {
        let options = PanelOptions { terms: Some(Terms::Constant), ..PanelOptions::default() };
        let found = panel(&several(1.0, 1.0, 6, 100, 7), &options).expect("fits");
        assert!(found.dependence.p_value < 1e-6 && found.dependence.mean_correlation > 0.3);
    }

    #[test]
    fn what_is_no_panel_is_refused() {
        let one = several(1.0, 0.0, 1, 60, 8);
        let options = PanelOptions::default();
        assert_eq!(panel(&one, &options).expect_err("one"), PanelError::OneSeries);
        let uneven = vec![one[0].clone(), one[0][..40].to_vec()];
        assert_eq!(panel(&uneven, &options).expect_err("uneven"), PanelError::Lengths);
        let constant = vec![one[0].clone(), vec![3.0; 60]];
        let reason = UnitRootError::InvalidSeries(InvalidSeries::Constant);
        assert_eq!(
            panel(&constant, &options).expect_err("constant"),
            PanelError::Series { place: 1, reason }
        );
    }
}
