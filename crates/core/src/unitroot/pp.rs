//! The Phillips-Perron test.

use super::error::{MIN_OBSERVATIONS_UNIT_ROOT, UnitRootError};
use super::outcome::{Detail, Kernel, Note, Null, TestName, UnitRootTest, note_on_p_value};
use super::statistic::{FirstOrder, PhillipsPerron, phillips_perron};
use crate::nulldist::{CriticalValues, PpStatistic, Statistic, Tail, Terms, draw_null, random_walk};
use crate::num::scale;
use crate::num::scale::InvalidSeries;
use crate::ols::Bandwidth;

/// Series drawn for weights without a table.
const DRAWS: usize = 1_999;
/// Their seed.
const SEED: u64 = 20_261_132;
/// Of a longer series the distribution is that of this length: it has settled.
const LONGEST_DRAWN: usize = 2_000;

/// Options of the Phillips-Perron test.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct PpOptions {
    /// Deterministic terms; default: a constant.
    pub terms: Terms,
    /// Bandwidth of the long-run variance; default: `floor(4 (n/100)^{2/9})`.
    pub bandwidth: Option<Bandwidth>,
    /// Its weights; default: Bartlett.
    pub kernel: Kernel,
}

impl Default for PpOptions {
    fn default() -> Self {
        Self { terms: Terms::Constant, bandwidth: None, kernel: Kernel::Bartlett }
    }
}

/// The default bandwidth, `floor(4 (n/100)^{2/9})`.
///
/// # References
/// Newey and West (1994), *Review of Economic Studies* 61, 631-653.
pub fn default_pp_bandwidth(n: usize) -> usize {
    // A small non-negative number.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let bandwidth = (4.0 * (n as f64 / 100.0).powf(2.0 / 9.0)).floor() as usize;
    bandwidth
}

/// The test of a unit root of Phillips and Perron; its statistic is `Z_τ`, the detail has
/// `Z_ρ` too.
///
/// # Formula
/// That of [`phillips_perron`].
///
/// # Input
/// `y` in order of time, without gaps, at least 15 values.
///
/// # Errors
/// [`UnitRootError`]: too short, constant, not finite, a bandwidth beyond a third of the
/// observations, or a series that follows its own past without error.
pub fn pp(y: &[f64], options: &PpOptions) -> Result<UnitRootTest, UnitRootError> {
    let n = y.len();
    if n < MIN_OBSERVATIONS_UNIT_ROOT {
        return Err(UnitRootError::InvalidSeries(InvalidSeries::TooShort {
            observations: n,
            needed: MIN_OBSERVATIONS_UNIT_ROOT,
        }));
    }
    scale::check(y)?;
    let rule = options.bandwidth.unwrap_or(Bandwidth::Given(default_pp_bandwidth(n)));
    if let Bandwidth::Given(bandwidth) = rule
        && bandwidth > n / 3
    {
        return Err(UnitRootError::TooWide { bandwidth, most: n / 3, observations: n });
    }
    // Without a constant the series is not centred, only scaled.
    let unit = scale::largest(y);
    let x = match options.terms {
        Terms::None => y.iter().map(|value| value / unit).collect(),
        Terms::Constant | Terms::Trend => scale::deviations(y),
    };
    let shared = PpRequest { n, options, rule };
    if options.kernel == Kernel::Quadratic {
        let found = FirstOrder::new(&x, options.terms)?.corrected_quadratic(rule);
        let null = draw_null(DRAWS, SEED, |stream| {
            let x = random_walk(stream, n.min(LONGEST_DRAWN));
            let one = FirstOrder::new(&x, options.terms).ok()?.corrected_quadratic(rule);
            Some(vec![one.z_tau, one.z_rho])
        });
        let [tau, rho] = null.as_slice() else {
            return Err(UnitRootError::NoDistribution);
        };
        let critical = tau.critical_values(Tail::Lower).ok_or(UnitRootError::NoDistribution)?;
        let p_values = [tau.p_value(found.z_tau, Tail::Lower), rho.p_value(found.z_rho, Tail::Lower)];
        return Ok(shared.result(&found, p_values, critical, vec![Note::Drawn(tau.draws())]));
    }
    let found = phillips_perron(&x, options.terms, rule)?;
    let family = |which| Statistic::PhillipsPerron(which, options.terms).given();
    let surface = family(PpStatistic::Tau).surface().ok_or(UnitRootError::NoDistribution)?;
    let distribution = surface.at(n, found.bandwidth);
    let p_value = distribution.p_value(found.z_tau, Tail::Lower);
    let rho = family(PpStatistic::Rho).surface().ok_or(UnitRootError::NoDistribution)?.at(n, found.bandwidth);
    let notes = note_on_p_value(p_value).into_iter().collect();
    let p_values = [p_value, rho.p_value(found.z_rho, Tail::Lower)];
    let test = shared.result(&found, p_values, distribution.critical_values(Tail::Lower), notes);
    Ok(test.where_simulated(surface.covers(n, found.bandwidth)))
}

/// What both kernels' results have in common.
struct PpRequest<'a> {
    n: usize,
    options: &'a PpOptions,
    rule: Bandwidth,
}

impl PpRequest<'_> {
    fn result(
        &self,
        found: &PhillipsPerron,
        [tau_p_value, rho_p_value]: [f64; 2],
        critical: CriticalValues,
        notes: Vec<Note>,
    ) -> UnitRootTest {
        let usual = self.options.bandwidth.is_none();
        UnitRootTest {
            terms: self.options.terms,
            bandwidth: Some(found.bandwidth),
            bandwidth_rule: Some(if usual { Bandwidth::Short } else { self.rule }),
            kernel: Some(self.options.kernel),
            first_used: 1,
            detail: Detail::PhillipsPerron {
                z_rho: found.z_rho,
                z_rho_p_value: Some(rho_p_value),
                z_tau: found.z_tau,
            },
            notes,
            ..UnitRootTest::bare(TestName::Pp, Null::UnitRoot, self.n, found.z_tau, (tau_p_value, critical))
        }
    }
}
