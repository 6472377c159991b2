//! The KPSS test of stationarity.

use super::error::{MIN_OBSERVATIONS_UNIT_ROOT, UnitRootError};
use super::outcome::{Kernel, Note, Null, TestName, UnitRootTest, note_on_p_value};
use super::statistic::{quadratic_bandwidth, quadratic_variance};
use crate::nulldist::{LagChoice, Statistic, Tail, Terms, draw_null};
use crate::num::scale;
use crate::num::scale::InvalidSeries;
use crate::num::sum::dot;
use crate::ols::{Bandwidth, autocovariances_examined, partial_sums, variance_from_partial_sums};

/// A residual below this share of the series' size is rounding.
const EXACT: f64 = 1e-12;
/// A bandwidth of the sample over this number or more leaves little to average;
/// the automatic one goes no further.
const WIDE: usize = 4;
/// No bandwidth beyond the sample over this number was simulated.
const WIDEST: usize = 3;

/// Series drawn for weights without a table.
const DRAWS: usize = 1_999;
/// Their seed.
const SEED: u64 = 20_261_133;
/// Of a longer series the distribution is that of this length: it has settled.
const LONGEST_DRAWN: usize = 2_000;

/// Options of the KPSS test.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct KpssOptions {
    /// A constant (default) or a constant and a trend.
    pub terms: Terms,
    /// Bandwidth of the long-run variance; default: automatic.
    pub bandwidth: Bandwidth,
    /// Its weights; default: Bartlett.
    pub kernel: Kernel,
}

impl Default for KpssOptions {
    fn default() -> Self {
        Self { terms: Terms::Constant, bandwidth: Bandwidth::Automatic, kernel: Kernel::Bartlett }
    }
}

/// The test of stationarity of Kwiatkowski, Phillips, Schmidt and Shin.
///
/// # Formula
/// `η = Σ S_t² / (n² ω²)`, `S_t` the partial sums of the residuals from the
/// terms, `ω²` their long-run variance with Bartlett weights.
///
/// # Input
/// `y` in order of time, without gaps, at least 15 values.
///
/// # Result
/// η, its upper-tail p-value for this `n` and bandwidth (or for the automatic
/// bandwidth as a rule), critical values.
///
/// # Errors
/// [`UnitRootError`]: too short, constant, not finite, a given bandwidth beyond a
/// third of the observations, no constant among the terms, or a series that is exactly its trend.
///
/// # Numerics
/// Cost `n` for a given bandwidth; the automatic one adds `n · 4 (n/100)^{2/9}`.
///
/// # References
/// Kwiatkowski, Phillips, Schmidt and Shin (1992), *Journal of Econometrics* 54,
/// 159-178; Hobijn, Franses and Ooms (2004), *Statistica Neerlandica* 58, 483-502.
pub fn kpss(y: &[f64], options: &KpssOptions) -> Result<UnitRootTest, UnitRootError> {
    let n = y.len();
    if n < MIN_OBSERVATIONS_UNIT_ROOT {
        return Err(UnitRootError::InvalidSeries(InvalidSeries::TooShort {
            observations: n,
            needed: MIN_OBSERVATIONS_UNIT_ROOT,
        }));
    }
    scale::check(y)?;
    let most = n / WIDEST;
    if let Bandwidth::Given(bandwidth) = options.bandwidth
        && bandwidth > most
    {
        return Err(UnitRootError::TooWide { bandwidth, most, observations: n });
    }
    let residuals = residuals(y, options.terms)?;
    if options.kernel == Kernel::Quadratic {
        return quadratic(&residuals, options);
    }
    let bandwidth = options.bandwidth.resolve(&residuals);
    let sums = partial_sums(&residuals);
    let statistic = dot(&sums, &sums) / (n as f64).powi(2) / variance_from_partial_sums(&sums, bandwidth);
    let (choice, size) = match options.bandwidth {
        Bandwidth::Automatic => (LagChoice::Automatic, autocovariances_examined(n)),
        _ => (LagChoice::Given, bandwidth),
    };
    let surface =
        Statistic::Kpss(options.terms).after(choice).surface().ok_or(UnitRootError::NeedsConstant)?;
    let distribution = surface.at(n, size);
    let p_value = distribution.p_value(statistic, Tail::Upper);
    let wide = (bandwidth >= n / WIDE).then_some(Note::WideBandwidth);
    let critical = distribution.critical_values(Tail::Upper);
    let test = UnitRootTest {
        terms: options.terms,
        bandwidth: Some(bandwidth),
        bandwidth_rule: Some(options.bandwidth),
        kernel: Some(Kernel::Bartlett),
        notes: [wide, note_on_p_value(p_value)].into_iter().flatten().collect(),
        ..UnitRootTest::bare(TestName::Kpss, Null::Stationary, n, statistic, (p_value, critical))
    };
    Ok(test.where_simulated(surface.covers(n, size)))
}

/// The same with quadratic-spectral weights, against a distribution drawn for this length.
fn quadratic(e: &[f64], options: &KpssOptions) -> Result<UnitRootTest, UnitRootError> {
    let n = e.len();
    let value = |e: &[f64]| {
        let bandwidth = match options.bandwidth {
            Bandwidth::Automatic => quadratic_bandwidth(e),
            other => other.resolve(e),
        };
        let sums = partial_sums(e);
        (dot(&sums, &sums) / (e.len() as f64).powi(2) / quadratic_variance(e, bandwidth), bandwidth)
    };
    let (statistic, bandwidth) = value(e);
    let null = draw_null(DRAWS, SEED, |stream| {
        let own = residuals(&stream.take(n.min(LONGEST_DRAWN)), options.terms).ok()?;
        Some(vec![value(&own).0])
    });
    let drawn = null.first().ok_or(UnitRootError::NoDistribution)?;
    let critical = drawn.critical_values(Tail::Upper).ok_or(UnitRootError::NoDistribution)?;
    let wide = (bandwidth >= n / WIDE).then_some(Note::WideBandwidth);
    let p_value = drawn.p_value(statistic, Tail::Upper);
    Ok(UnitRootTest {
        terms: options.terms,
        bandwidth: Some(bandwidth),
        bandwidth_rule: Some(options.bandwidth),
        kernel: Some(Kernel::Quadratic),
        notes: wide.into_iter().chain([Note::Drawn(drawn.draws())]).collect(),
        ..UnitRootTest::bare(TestName::Kpss, Null::Stationary, n, statistic, (p_value, critical))
    })
}

/// Residuals from the terms, scaled so that the largest deviation from the
/// mean is one.
fn residuals(y: &[f64], terms: Terms) -> Result<Vec<f64>, UnitRootError> {
    let mean = scale::mean(y);
    let unit = y.iter().fold(0.0, |most: f64, v| most.max((v - mean).abs()));
    let mut e: Vec<f64> = y.iter().map(|v| (v - mean) / unit).collect();
    match terms {
        Terms::None => return Err(UnitRootError::NeedsConstant),
        Terms::Constant => {}
        Terms::Trend => remove_slope(&mut e),
    }
    if scale::largest(&e) <= EXACT {
        return Err(UnitRootError::Deterministic);
    }
    Ok(e)
}

fn remove_slope(e: &mut [f64]) {
    let middle = 0.5 * (e.len() as f64 - 1.0);
    let clock = |t: usize| t as f64 - middle;
    let (mut cross, mut square) = (0.0, 0.0);
    for (t, v) in e.iter().enumerate() {
        cross += clock(t) * v;
        square += clock(t) * clock(t);
    }
    let slope = cross / square;
    for (t, v) in e.iter_mut().enumerate() {
        *v -= slope * clock(t);
    }
}
