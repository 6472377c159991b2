//! A regression as facts: the contract's result.

use kandrel_core::randomness::Outcome;
use kandrel_core::regression::{BreakTest, Coefficient, Diagnostic, FTest, Regression, WaldTest};
use kandrel_core::series::Series;
use schemars::JsonSchema;
use serde::Serialize;
use serde_json::{Value, json};

use crate::call::Call;
use crate::present::diagnosis::SeriesDiagnosis;
use crate::present::sample::Sample;
use crate::present::test_line::{TestEntry, TestLine};
use crate::wording;
use crate::wording::test_names;

/// The contract's result of `ols`.
#[derive(JsonSchema, Serialize)]
pub struct OlsResult {
    pub target: String,
    pub first: String,
    pub last: String,
    pub observations: usize,
    /// The kind of the standard errors.
    pub errors: String,
    /// Periods of a change of the target whose consecutive values overlap; none otherwise.
    pub overlap: Option<usize>,
    /// Why they are not the classical ones, where the diagnostics decided so.
    pub errors_reason: Option<ErrorsReason>,
    pub coefficients: Vec<CoefficientResult>,
    pub r2: f64,
    pub r2_adjusted: f64,
    pub sigma: f64,
    pub ssr: f64,
    pub log_likelihood: f64,
    pub aic: f64,
    pub bic: f64,
    /// All coefficients but the constant are zero; none where there is only a constant.
    pub f: Option<FTest>,
    pub durbin_watson: f64,
    pub diagnostics: Vec<TestLine>,
    pub restrictions: Vec<RestrictionResult>,
    /// A regression that may be spurious.
    pub spurious: bool,
    /// Where asked for.
    pub residuals: Option<Vec<ResidualResult>>,
    /// The observations that were used.
    pub sample: Sample,
    /// The significance level.
    pub alpha: f64,
    /// p-value of a unit root in the residuals, where there is reason to ask.
    pub residual_root: Option<f64>,
    /// The joint assessment of each series.
    pub diagnoses: Vec<SeriesDiagnosis>,
    pub has_constant: bool,
}

/// Why classical standard errors are invalid.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum ErrorsReason {
    /// Breusch-Godfrey rejects.
    Autocorrelation,
    /// White rejects.
    Heteroskedasticity,
}

/// One coefficient.
#[derive(JsonSchema, Serialize)]
pub struct CoefficientResult {
    pub name: String,
    #[serde(flatten)]
    pub of: Coefficient,
    /// The same with classical standard errors, where others lead.
    pub classical: Option<Coefficient>,
}

/// A restriction in both forms.
#[derive(JsonSchema, Serialize)]
pub struct RestrictionResult {
    pub text: String,
    #[serde(flatten)]
    pub test: WaldTest,
    /// Of the chi-squared form.
    pub df: usize,
    /// The same with classical standard errors, where others lead.
    pub classical: Option<WaldTest>,
}

/// One period.
#[derive(JsonSchema, Serialize)]
pub struct ResidualResult {
    pub period: String,
    pub value: f64,
    pub fitted: f64,
    pub residual: f64,
}

/// What the joint test of several restrictions is called.
pub const ALL_TOGETHER: &str = "all together";

/// A longer restriction is below its table.
pub(super) const LONGEST_IN_TABLE: usize = 36;

/// A restriction as tested.
pub struct RestrictionFound {
    pub text: String,
    pub test: WaldTest,
    /// With classical standard errors, where others lead.
    pub classical: Option<WaldTest>,
}

/// A break as tested.
pub struct BreakFound {
    pub period: String,
    pub test: BreakTest,
}

/// Everything that was computed in addition to the regression.
pub struct RegressionFindings {
    pub restrictions: Vec<RestrictionFound>,
    /// Why robust standard errors lead, and the coefficients with the classical ones.
    pub classical: Option<(ErrorsReason, Vec<Coefficient>)>,
    /// Lags and test.
    pub autocorrelation: Vec<(usize, Diagnostic)>,
    pub white: Option<Diagnostic>,
    pub reset: Option<Diagnostic>,
    pub jarque_bera: Option<(Outcome, f64, f64)>,
    /// Statistic and p-value of a unit root in the residuals, where there is reason to ask.
    pub residual_root: Option<(f64, f64)>,
    /// Of the target and of the regressors that are series.
    pub diagnoses: Vec<SeriesDiagnosis>,
    pub breaking: Option<BreakFound>,
    /// Periods of a change of the target whose consecutive values overlap.
    pub overlap: Option<usize>,
}

impl RegressionFindings {
    /// Whether the regression may be spurious.
    fn is_spurious(&self, fit: &Regression, alpha: f64) -> bool {
        // About zero, R² is near one for any series far from it.
        let suspicious = fit.constant.is_some() && fit.r2 > fit.durbin_watson;
        self.residual_root.map_or(suspicious, |(_, p)| p > alpha)
    }

    /// Why the classical standard errors are invalid; none where no test says so, or the regression may be spurious.
    pub fn invalid_errors(&self, fit: &Regression, alpha: f64) -> Option<ErrorsReason> {
        if self.is_spurious(fit, alpha) {
            return None;
        }
        if self.autocorrelation.iter().any(|(_, test)| test.p_value <= alpha) {
            return Some(ErrorsReason::Autocorrelation);
        }
        let uneven = self.white.as_ref().is_some_and(|test| test.p_value <= alpha);
        uneven.then_some(ErrorsReason::Heteroskedasticity)
    }

    /// Leads with restrictions tested by robust standard errors and keeps what the classical ones gave.
    pub fn lead_with(&mut self, reason: ErrorsReason, classical: &Regression, robust: Vec<RestrictionFound>) {
        let before = std::mem::replace(&mut self.restrictions, robust);
        for (one, own) in self.restrictions.iter_mut().zip(before) {
            one.classical = Some(own.test);
        }
        self.classical = Some((reason, classical.coefficients.clone()));
    }
}

/// Parts of the call that further commands repeat.
pub struct Asked<'a> {
    /// As typed.
    pub call: &'a Call,
    /// The regressors, separated by commas.
    pub on: &'a str,
    pub is_classical: bool,
}

/// Puts a result together.
pub fn result(
    target: &Series,
    names: &[String],
    fit: &Regression,
    found: &RegressionFindings,
    alpha: f64,
    with_residuals: bool,
) -> OlsResult {
    let classical = |place: usize| found.classical.as_ref().and_then(|(_, all)| all.get(place).copied());
    let line = |(place, (name, of)): (usize, (&String, &Coefficient))| CoefficientResult {
        name: name.clone(),
        of: *of,
        classical: classical(place),
    };
    let residual = |t: usize| ResidualResult {
        period: target.period(t).to_string(),
        value: target.values[t],
        fitted: fit.fitted[t],
        residual: fit.solved.residuals[t],
    };
    OlsResult {
        target: target.name.clone(),
        first: target.start.to_string(),
        last: target.last().to_string(),
        observations: target.values.len(),
        errors: fit.errors.to_string(),
        overlap: found.overlap,
        errors_reason: found.classical.as_ref().map(|(reason, _)| *reason),
        coefficients: names.iter().zip(&fit.coefficients).enumerate().map(line).collect(),
        r2: fit.r2,
        r2_adjusted: fit.r2_adjusted,
        sigma: fit.sigma,
        ssr: fit.ssr,
        log_likelihood: fit.log_likelihood,
        aic: fit.aic,
        bic: fit.bic,
        f: fit.f,
        durbin_watson: fit.durbin_watson,
        spurious: found.is_spurious(fit, alpha),
        restrictions: found.restrictions.iter().map(restriction).collect(),
        diagnostics: diagnostics(found, alpha),
        residuals: with_residuals.then(|| (0..target.values.len()).map(residual).collect()),
        sample: Sample::of(target),
        alpha,
        residual_root: found.residual_root.map(|(_, p)| p),
        has_constant: fit.constant.is_some(),
        diagnoses: found.diagnoses.clone(),
    }
}

fn restriction(found: &RestrictionFound) -> RestrictionResult {
    RestrictionResult {
        text: found.text.clone(),
        test: found.test,
        df: found.test.df1,
        classical: found.classical,
    }
}

fn diagnostics(found: &RegressionFindings, alpha: f64) -> Vec<TestLine> {
    let mut all = Vec::new();
    let mut add = |test, name: String, null, meanings, [statistic, p_value]: [f64; 2], detail: Value| {
        all.push(TestEntry { test, name, null, statistic, p_value, meanings, detail }.decided(alpha));
    };
    let both_forms = |test: &Diagnostic| json!({"df1": test.df1, "df2": test.df2, "chi2": test.chi2, "p_chi2": test.p_chi2});
    for (lags, test) in &found.autocorrelation {
        let mut detail = both_forms(test);
        detail["lags"] = json!(lags);

        add(
            "breusch_godfrey",
            format!("{}, {}", test_names::BREUSCH_GODFREY, wording::count(*lags, "lag")),
            test_names::NO_AUTOCORRELATION,
            ["no autocorrelation of the errors", "errors depend on earlier ones"],
            [test.f, test.p_value],
            detail,
        );
    }
    if let Some(test) = &found.white {
        add(
            "white",
            test_names::WHITE.to_owned(),
            test_names::HOMOSKEDASTICITY,
            [
                "homoskedasticity is not rejected",
                "heteroskedasticity: the variance depends on the regressors",
            ],
            [test.f, test.p_value],
            both_forms(test),
        );
    }
    if let Some(test) = &found.reset {
        add(
            "reset",
            test_names::RESET.to_owned(),
            test_names::LINEAR_RELATION,
            ["linearity is not rejected", "linearity is rejected"],
            [test.f, test.p_value],
            both_forms(test),
        );
    }
    if let Some((outcome, skewness, kurtosis)) = &found.jarque_bera {
        let detail = json!({"skewness": skewness, "kurtosis": kurtosis});
        add(
            "jarque_bera",
            test_names::JARQUE_BERA.to_owned(),
            test_names::NORMALITY,
            ["normality is not rejected", "normality is rejected: outliers or heavy tails"],
            [outcome.statistic, outcome.p_value],
            detail,
        );
    }
    if let Some((statistic, p_value)) = found.residual_root {
        add(
            "residual_unit_root",
            "Unit root in residuals".to_owned(),
            test_names::NO_COINTEGRATION,
            [
                "a unit root in the residuals is not rejected: no evidence of cointegration",
                "a unit root in the residuals is rejected: the levels are cointegrated",
            ],
            [statistic, p_value],
            json!({}),
        );
    }
    if let Some(found) = &found.breaking {
        let test = &found.test;
        let detail = json!({"break_at": found.period, "df1": test.f.df1, "df2": test.f.df2,
            "predictive": test.predictive});
        add(
            "chow",
            format!("{}, after {}", test_names::CHOW, found.period),
            test_names::SAME_COEFFICIENTS,
            ["no evidence of a break at this date", "the coefficients change there"],
            [test.f.statistic, test.f.p_value],
            detail,
        );
    }
    all
}

pub(super) fn rejected(result: &OlsResult, name: &str) -> bool {
    result.diagnostics.iter().any(|test| test.test == name && test.decision.is_rejection())
}
