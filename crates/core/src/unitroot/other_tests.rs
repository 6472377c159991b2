//! The further tests of a series, by their names.

use super::error::UnitRootError;
use super::gls::{GlsOptions, gls_tests};
use super::lee_strazicich::{LagrangeOptions, lee_strazicich};
use super::memory::fractional_order;
use super::outcome::{Kernel, TestName, UnitRootTest};
use super::perron::{KnownBreakOptions, perron};
use super::pp::{PpOptions, pp};
use super::zivot_andrews::{BreakOptions, USUAL_TRIM, zivot_andrews};
use crate::lag::{Criterion, LagRule};
use crate::nulldist::{BreakModel, Terms};
use crate::ols::Bandwidth;

/// Options of the tests other than ADF and KPSS.
#[derive(Debug, Clone, PartialEq)]
pub struct FurtherOptions {
    /// Which of them.
    pub tests: Vec<TestName>,
    /// Terms; the family detrended by generalised least squares has a constant at least.
    pub terms: Terms,
    /// Lags: given ones hold for every test; of the criteria, the family detrended by
    /// generalised least squares always takes the modified AIC.
    pub lags: LagRule,
    /// The most lags a choice may take.
    pub max_lags: Option<usize>,
    /// Bandwidth; automatic represents each test's own default.
    pub bandwidth: Bandwidth,
    /// Weights of the long-run variance.
    pub kernel: Kernel,
    /// What is known or asked of breaks.
    pub breaks: BreakRequest,
}

/// What is known or asked of breaks.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BreakRequest {
    /// Breaks of Lee and Strazicich: one or two.
    pub count: usize,
    /// Observations before a break known from elsewhere.
    pub known: Option<usize>,
    /// Share of the series left out at either end of a search.
    pub trim: f64,
}

impl Default for FurtherOptions {
    fn default() -> Self {
        Self {
            tests: Vec::new(),
            terms: Terms::Constant,
            lags: LagRule::Criterion(Criterion::Aic),
            max_lags: None,
            bandwidth: Bandwidth::Automatic,
            kernel: Kernel::Bartlett,
            breaks: BreakRequest { count: 1, known: None, trim: USUAL_TRIM },
        }
    }
}

/// The tests of a unit root that are asked for, with ADF: Phillips-Perron, ADF-GLS, point
/// optimal, the M-tests, those with breaks for each of their models, and the estimates of
/// fractional integration. Perron's test is left out where no break is known.
///
/// # Errors
/// [`UnitRootError`] of the first test that cannot be done.
pub fn further_tests(y: &[f64], options: &FurtherOptions) -> Result<Vec<UnitRootTest>, UnitRootError> {
    let mut all = Vec::new();
    let wanted = |name: TestName| options.tests.contains(&name);
    if wanted(TestName::Pp) {
        let bandwidth = (options.bandwidth != Bandwidth::Automatic).then_some(options.bandwidth);
        all.push(pp(y, &PpOptions { terms: options.terms, bandwidth, kernel: options.kernel })?);
    }
    if [TestName::AdfGls, TestName::PointOptimal, TestName::NgPerron].into_iter().any(wanted) {
        let lags = match options.lags {
            LagRule::Given(lags) => Some(lags),
            _ => None,
        };
        let terms = if options.terms == Terms::Trend { Terms::Trend } else { Terms::Constant };
        let three = gls_tests(y, &GlsOptions { terms, lags, max_lags: options.max_lags })?;
        all.extend(three.into_iter().filter(|test| wanted(test.test)));
    }
    all.extend(with_breaks(y, options)?);
    for name in [TestName::LogPeriodogram, TestName::LocalWhittle] {
        if wanted(name) {
            all.push(fractional_order(y, name)?);
        }
    }
    Ok(all)
}

fn with_breaks(y: &[f64], options: &FurtherOptions) -> Result<Vec<UnitRootTest>, UnitRootError> {
    let mut all = Vec::new();
    let wanted = |name: TestName| options.tests.contains(&name);
    let FurtherOptions { lags, max_lags, breaks: BreakRequest { count, known, trim }, .. } = *options;
    if wanted(TestName::ZivotAndrews) {
        for model in BreakModel::ALL {
            all.push(zivot_andrews(y, &BreakOptions { model, lags, max_lags, trim })?);
        }
    }
    if let Some(before) = known.filter(|_| wanted(TestName::Perron)) {
        for model in BreakModel::ALL {
            all.push(perron(y, &KnownBreakOptions { model, before, lags, max_lags })?);
        }
    }
    if wanted(TestName::LeeStrazicich) {
        for model in [BreakModel::Intercept, BreakModel::Both] {
            all.push(lee_strazicich(y, &LagrangeOptions { model, breaks: count, lags, max_lags, trim })?);
        }
    }
    Ok(all)
}
