use super::error::UnitRootError;
use super::gls::{GlsOptions, gls_tests};
use super::outcome::{TestName, UnitRootTest};
use super::pp::{PpOptions, pp};
use super::zivot_andrews::{BreakOptions, zivot_andrews};
use crate::lag::LagRule;
use crate::nulldist::{BreakModel, Terms};
use crate::ols::Bandwidth;

/// What the tests beside ADF and KPSS are told.
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
    /// Bandwidth; automatic stands for each test's own default.
    pub bandwidth: Bandwidth,
}

/// The tests of a unit root that are asked for, beside ADF: Phillips-Perron, ADF-GLS, point
/// optimal, the M-tests, and Zivot-Andrews with each of its three models.
///
/// # Errors
/// [`UnitRootError`] of the first test that cannot be done.
pub fn further_tests(y: &[f64], options: &FurtherOptions) -> Result<Vec<UnitRootTest>, UnitRootError> {
    let mut all = Vec::new();
    let wanted = |name: TestName| options.tests.contains(&name);
    if wanted(TestName::Pp) {
        let bandwidth = (options.bandwidth != Bandwidth::Automatic).then_some(options.bandwidth);
        all.push(pp(y, &PpOptions { terms: options.terms, bandwidth })?);
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
    if wanted(TestName::ZivotAndrews) {
        for model in BreakModel::ALL {
            let options = BreakOptions { model, lags: options.lags, max_lags: options.max_lags };
            all.push(zivot_andrews(y, &options)?);
        }
    }
    Ok(all)
}
