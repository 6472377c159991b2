//! Tests on a series detrended by generalised least squares: ADF-GLS, point optimal, M-tests.

use super::error::{MIN_OBSERVATIONS_UNIT_ROOT, UnitRootError};
use super::outcome::{Detail, Note, Null, TestName, UnitRootTest, note_on_p_value};
use super::statistic::{GlsLags, gls_statistics};
use crate::lag::{LagRule, default_max_lags, largest_max_lags};
use crate::nulldist::{CriticalValues, GlsStatistic, LagChoice, Statistic, Tail, Terms};
use crate::num::scale;
use crate::num::scale::InvalidSeries;

/// Options of the tests on a series detrended by generalised least squares.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct GlsOptions {
    /// A constant (default) or a constant and a trend.
    pub terms: Terms,
    /// That number of lags; by the modified AIC if not given.
    pub lags: Option<usize>,
    /// The most lags that the choice may take; default: [`default_max_lags`].
    pub max_lags: Option<usize>,
}

impl Default for GlsOptions {
    fn default() -> Self {
        Self { terms: Terms::Constant, lags: None, max_lags: None }
    }
}

/// The three tests that share one detrending: ADF-GLS, point optimal, and the M-tests.
///
/// # Formula
/// That of [`gls_statistics`]; the M-tests are summed up in `MZ_t`, the others in the detail.
///
/// # Input
/// `y` in order of time, without gaps, at least 15 values.
///
/// # Errors
/// [`UnitRootError`]: too short, constant, not finite, too many lags, no constant among the
/// terms, or a series that follows its own past without error.
///
/// # References
/// Elliott, Rothenberg and Stock (1996), *Econometrica* 64, 813-836; Ng and Perron (2001),
/// *Econometrica* 69, 1519-1554.
pub fn gls_tests(y: &[f64], options: &GlsOptions) -> Result<[UnitRootTest; 3], UnitRootError> {
    let n = y.len();
    if n < MIN_OBSERVATIONS_UNIT_ROOT {
        return Err(UnitRootError::InvalidSeries(InvalidSeries::TooShort {
            observations: n,
            needed: MIN_OBSERVATIONS_UNIT_ROOT,
        }));
    }
    if options.terms == Terms::None {
        return Err(UnitRootError::NeedsConstant);
    }
    scale::check(y)?;
    let max_lags = options.max_lags.unwrap_or_else(|| default_max_lags(n));
    let most = largest_max_lags(n);
    let lags = options.lags.unwrap_or(max_lags);
    if lags > most {
        return Err(UnitRootError::TooManyLags { lags, most, observations: n });
    }
    let rule = options.lags.map_or(GlsLags::Maic(max_lags), GlsLags::Given);
    let found = gls_statistics(&scale::deviations(y), options.terms, rule)?;
    let detail = Detail::NgPerron { mza: found.mz_alpha, mzt: found.mz_t, msb: found.msb, mpt: found.mp_t };
    let one = |test, statistic, family: GlsStatistic, detail| {
        result(n, options, found.lags, max_lags, (test, statistic, family, detail))
    };
    Ok([
        one(TestName::AdfGls, found.tau, GlsStatistic::Tau, Detail::None)?,
        one(TestName::PointOptimal, found.point_optimal, GlsStatistic::PointOptimal, Detail::None)?,
        one(TestName::NgPerron, found.mz_t, GlsStatistic::MzT, detail)?,
    ])
}

fn result(
    n: usize,
    options: &GlsOptions,
    lags: usize,
    max_lags: usize,
    (test, statistic, which, detail): (TestName, f64, GlsStatistic, Detail),
) -> Result<UnitRootTest, UnitRootError> {
    let searched = options.lags.is_none();
    let (choice, size) =
        if searched { (LagChoice::Maic, default_max_lags(n)) } else { (LagChoice::Given, lags) };
    let surface =
        Statistic::Gls(which, options.terms).after(choice).surface().ok_or(UnitRootError::NoDistribution)?;
    let distribution = surface.at(n, size);
    // The long lower tail of MZ_t is tabulated as its inverse hyperbolic sine.
    let is_long = which == GlsStatistic::MzT;
    let (tabulated, undo): (f64, fn(f64) -> f64) =
        if is_long { (statistic.asinh(), f64::sinh) } else { (statistic, |value| value) };
    let p_value = distribution.p_value(tabulated, Tail::Lower);
    let critical = distribution.critical_values(Tail::Lower);
    let other_search = searched && max_lags != default_max_lags(n);
    let shown =
        CriticalValues { one: undo(critical.one), five: undo(critical.five), ten: undo(critical.ten) };
    let test = UnitRootTest {
        terms: options.terms,
        lags: Some(lags),
        lag_rule: Some(options.lags.map_or(LagRule::Maic, LagRule::Given)),
        max_lags: searched.then_some(max_lags),
        first_used: lags + 1,
        detail,
        notes: other_search
            .then_some(Note::OtherSearch)
            .into_iter()
            .chain(note_on_p_value(p_value))
            .collect(),
        ..UnitRootTest::bare(test, Null::UnitRoot, n, statistic, (p_value, shown))
    };
    Ok(test.where_simulated(surface.covers(n, size)))
}
