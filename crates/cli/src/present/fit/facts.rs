//! A fitted model as facts: the contract's result.

use std::fmt::Write as _;

use kandrel_core::arima::{Criteria, Diagnosis, Fit, Level, Model, ModelWarning, Root, roots, warnings};
use kandrel_core::diagnosis::DeterministicPart;
use kandrel_core::expr;
use kandrel_core::num::normal;
use kandrel_core::predictive::{self, Accuracy, mean_change};
use kandrel_core::randomness::Outcome;
use kandrel_core::regressor::Regressors;
use kandrel_core::series::{Lost, SeriesWithGaps};
use kandrel_core::verdict::Confidence;
use schemars::JsonSchema;
use serde::Serialize;

use crate::present::diagnosis::DiagnosisResult;
use crate::present::sample::Sample;
use crate::present::test_line::{TestEntry, TestLine};
use crate::wording;
use crate::wording::test_names;

/// The contract's result of `fit`.
#[derive(JsonSchema, Serialize)]
pub struct FitResult {
    pub series: String,
    pub model: String,
    /// The steps of the series, as written; none for a bare column.
    pub transform: Option<String>,
    pub observations: usize,
    /// Values after the differences.
    pub used: usize,
    pub log_likelihood: f64,
    pub sigma2: f64,
    #[serde(flatten)]
    pub criteria: Criteria,
    pub parameters: Vec<ParameterResult>,
    /// Of the series; none where it is differenced, or forced to zero.
    pub mean: Option<f64>,
    /// The constant of the equation: the mean times φ(1)Φ(1).
    pub intercept: Option<f64>,
    pub polynomials: Polynomials,
    pub roots: RootsResult,
    /// Of one-step forecasts inside the sample, on the scale of the model.
    pub accuracy: Option<Accuracy>,
    pub residual_tests: Vec<TestLine>,
    /// Where asked for: one-step prediction errors, in units of σ.
    pub residuals: Option<Vec<ResidualResult>>,
    pub converged: bool,
    /// Names of the regressors.
    pub with: Vec<String>,
    /// Missing values inside, as the model estimates them.
    pub missing: Vec<MissingResult>,
    /// Values lost to the model's own differences.
    pub lost_to_differences: usize,
    /// The observations that were used.
    pub sample: Sample,
    /// The joint assessment of the series.
    pub diagnosis: Option<DiagnosisResult>,
    pub warnings: Vec<ModelWarning>,
    /// Where the model and the joint assessment differ, unless its confidence is low.
    pub mismatches: Vec<Mismatch>,
    /// The significance level.
    pub alpha: f64,
}

/// What a model does that the joint assessment does not call for, or leaves out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Mismatch {
    /// More ordinary differences than called for.
    Overdifferenced,
    /// More seasonal differences than called for.
    SeasonallyOverdifferenced,
    /// A unit root is left in the series.
    Underdifferenced,
    /// Seasonal unit roots are left in it.
    SeasonallyUnderdifferenced,
    /// The differences have a mean, and the model has none.
    NoDrift,
    /// The level has a trend, and the model has none.
    NoTrend,
}

/// The differences between a model and the assessment.
fn mismatches(model: Model, regressors: &Regressors, own: &DiagnosisResult) -> Vec<Mismatch> {
    if own.confidence == Confidence::Low {
        return Vec::new();
    }
    let seasonal = own.seasonal_integration.unwrap_or(0);
    let differenced = [model.differences, model.seasonal_differences];
    let part = own.deterministic.first().map(|one| one.part);
    let once = differenced[0] + differenced[1] == 1;
    let is_alike = differenced == [own.integration, seasonal];
    let lacks = |wanted: DeterministicPart, level: Level| {
        is_alike && part == Some(wanted) && model.level != level && regressors.is_empty()
    };
    [
        (differenced[0] > own.integration, Mismatch::Overdifferenced),
        (differenced[1] > seasonal, Mismatch::SeasonallyOverdifferenced),
        (differenced[0] < own.integration, Mismatch::Underdifferenced),
        (differenced[1] < seasonal, Mismatch::SeasonallyUnderdifferenced),
        (once && lacks(DeterministicPart::Drift, Level::Drift), Mismatch::NoDrift),
        (lacks(DeterministicPart::Trend, Level::Drift), Mismatch::NoTrend),
    ]
    .into_iter()
    .filter_map(|(holds, one)| holds.then_some(one))
    .collect()
}

/// One parameter.
#[derive(JsonSchema, Serialize)]
pub struct ParameterResult {
    pub name: String,
    pub estimate: f64,
    /// None where the likelihood has no proper top.
    pub std_error: Option<f64>,
    pub z: Option<f64>,
    pub p_value: Option<f64>,
    /// Ends of the 95 % interval.
    pub low: Option<f64>,
    pub high: Option<f64>,
}

/// A missing value.
#[derive(JsonSchema, Serialize)]
pub struct MissingResult {
    pub period: String,
    pub estimate: f64,
    pub std_error: f64,
}

/// The model's polynomials, written out.
#[derive(JsonSchema, Serialize)]
pub struct Polynomials {
    pub ar: String,
    pub seasonal_ar: String,
    pub ma: String,
    pub seasonal_ma: String,
    pub equation: String,
}

/// Roots of the autoregressive and the moving-average polynomials in B, seasonal factors
/// multiplied out.
#[derive(JsonSchema, Serialize)]
pub struct RootsResult {
    pub ar: Vec<RootResult>,
    pub ma: Vec<RootResult>,
}

/// A root.
#[derive(JsonSchema, Serialize)]
pub struct RootResult {
    pub re: f64,
    pub im: f64,
    pub modulus: f64,
}

/// One residual.
#[derive(JsonSchema, Serialize)]
pub struct ResidualResult {
    pub period: String,
    pub value: f64,
}

/// Puts a result together.
pub fn result(
    series: &SeriesWithGaps,
    fit: &Fit,
    checked: &Diagnosis,
    regressors: &Regressors,
    alpha: f64,
    with_residuals: bool,
    diagnosis: Option<DiagnosisResult>,
) -> FitResult {
    let own = &fit.coefficients;
    let mean = (fit.model.level == Level::Mean).then(|| fit.beta.first().copied()).flatten();
    let at_one = |list: &[f64]| 1.0 - list.iter().sum::<f64>();
    let residual_values = residuals(series, fit);
    let known = residual_values.cells.iter().enumerate();
    let listed = known.filter_map(|(t, cell)| {
        let period = residual_values.period(t).to_string();
        cell.map(|value| ResidualResult { period, value })
    });
    let missing = fit.missing.iter().map(|(place, estimate, error)| MissingResult {
        period: series.period(*place).to_string(),
        estimate: *estimate,
        std_error: *error,
    });
    let names = regressors.names();
    FitResult {
        mismatches: diagnosis.as_ref().map(|own| mismatches(fit.model, regressors, own)).unwrap_or_default(),
        diagnosis,
        series: series.name.clone(),
        model: fit.model.to_string(),
        transform: expr::steps_of(&series.name).map(str::to_owned),
        observations: series.cells.iter().flatten().count(),
        used: fit.used,
        log_likelihood: fit.log_likelihood,
        sigma2: fit.sigma2,
        criteria: fit.criteria(),
        parameters: parameters(fit, &names),
        with: regressors.terms(),
        missing: missing.collect(),
        mean,
        intercept: mean.map(|mean| mean * at_one(&own.ar) * at_one(&own.seasonal_ar)),
        polynomials: polynomials(fit, mean, &names),
        roots: RootsResult {
            ar: all_roots(&negative(&own.ar), &negative(&own.seasonal_ar), fit.model.season),
            ma: all_roots(&own.ma, &own.seasonal_ma, fit.model.season),
        },
        accuracy: accuracy(series, fit),
        residual_tests: residual_tests(checked, alpha),
        residuals: with_residuals.then(|| listed.collect()),
        converged: fit.converged,
        sample: Sample::with_gaps(series),
        lost_to_differences: fit.model.lost(),
        warnings: warnings(own),
        alpha,
    }
}

/// The residuals in their periods; where a value is missing there is none.
pub fn residuals(series: &SeriesWithGaps, fit: &Fit) -> SeriesWithGaps {
    let first = fit.model.lost();
    let mut cells = vec![None; series.cells.len().saturating_sub(first)];
    for (place, value) in fit.places.iter().zip(&fit.residuals) {
        if let Some(cell) = place.checked_sub(first).and_then(|t| cells.get_mut(t)) {
            *cell = Some(*value);
        }
    }
    SeriesWithGaps {
        name: format!("residuals of {}", series.name),
        start: series.period(first),
        cells,
        dates: series.dates.as_ref().and_then(|dates| dates.get(first..)).map(<[_]>::to_vec),
        lost: Lost::default(),
    }
}

impl FitResult {
    /// Inverse roots of the autoregressive and the moving-average part.
    pub fn inverse_roots(&self) -> [Vec<(f64, f64)>; 2] {
        let inverse = |root: &RootResult| {
            let square = root.modulus * root.modulus;
            (root.re / square, -root.im / square)
        };
        [&self.roots.ar, &self.roots.ma].map(|list| list.iter().map(inverse).collect())
    }
}

fn negative(list: &[f64]) -> Vec<f64> {
    list.iter().map(|value| -value).collect()
}

fn parameters(fit: &Fit, regressors: &[String]) -> Vec<ParameterResult> {
    let own = &fit.coefficients;
    let blocks =
        [("phi", &own.ar), ("theta", &own.ma), ("Phi", &own.seasonal_ar), ("Theta", &own.seasonal_ma)];
    let named = blocks.into_iter().flat_map(|(name, list)| {
        list.iter().zip(1..).map(move |(value, place)| (format!("{name}_{place}"), *value))
    });
    let errors = |place: usize| fit.errors.as_ref().and_then(|errors| errors.get(place)).copied();
    let coefficients = named.enumerate().map(|(place, (name, value))| parameter(name, value, errors(place)));
    let level = match fit.model.level {
        Level::None => None,
        Level::Mean => Some("mean"),
        Level::Drift => Some("drift"),
    };
    let names = level.map(str::to_owned).into_iter().chain(regressors.iter().cloned());
    let beta = names.zip(fit.beta.iter().zip(&fit.beta_errors));
    coefficients.chain(beta.map(|(name, (value, error))| parameter(name, *value, Some(*error)))).collect()
}

fn parameter(name: String, estimate: f64, std_error: Option<f64>) -> ParameterResult {
    let std_error = std_error.filter(|error| error.is_finite() && *error > 0.0);
    let z = std_error.map(|error| estimate / error);
    let reach = std_error.map(|error| normal::quantile(0.975) * error);
    ParameterResult {
        name,
        estimate,
        std_error,
        z,
        p_value: z.map(|z| 2.0 * normal::survival(z.abs())),
        low: reach.map(|reach| estimate - reach),
        high: reach.map(|reach| estimate + reach),
    }
}

/// `1 + Σ c_k z^k` with its signs written out.
fn polynomial(coefficients: &[f64], step: usize) -> String {
    let mut out = "1".to_owned();
    for (value, place) in coefficients.iter().zip(1..) {
        let power = place * step;
        let sign = if *value < 0.0 { '−' } else { '+' };
        let raised = if power == 1 { String::new() } else { format!("^{power}") };
        // Writing to a string cannot fail.
        let _ = write!(out, " {sign} {} B{raised}", wording::short(value.abs()));
    }
    format!("({out})")
}

fn polynomials(fit: &Fit, mean: Option<f64>, regressors: &[String]) -> Polynomials {
    let (own, model) = (&fit.coefficients, fit.model);
    let ar = polynomial(&negative(&own.ar), 1);
    let seasonal_ar = polynomial(&negative(&own.seasonal_ar), model.season);
    let ma = polynomial(&own.ma, 1);
    let seasonal_ma = polynomial(&own.seasonal_ma, model.season);
    let difference = |times: usize, lag: usize| {
        let raised = if lag == 1 { String::new() } else { format!("^{lag}") };
        format!("(1 − B{raised})").repeat(times)
    };
    let level = level(fit, mean, regressors);
    let factor = |text: &str, list: &[f64]| if list.is_empty() { String::new() } else { format!("{text} ") };
    let mut left = factor(&ar, &own.ar) + &factor(&seasonal_ar, &own.seasonal_ar);
    let differences =
        difference(model.differences, 1) + &difference(model.seasonal_differences, model.season);
    if !differences.is_empty() {
        left.push_str(&differences);
        left.push(' ');
    }
    let right = factor(&ma, &own.ma) + &factor(&seasonal_ma, &own.seasonal_ma);
    Polynomials { equation: format!("{left}{level} = {right}e"), ar, seasonal_ar, ma, seasonal_ma }
}

/// The series less the deterministic terms and regressors of the model.
fn level(fit: &Fit, mean: Option<f64>, regressors: &[String]) -> String {
    let minus = |value: f64, of: &str| {
        let sign = if value < 0.0 { '+' } else { '−' };
        format!(" {sign} {}{of}", wording::short(value.abs()))
    };
    let mut text = "y".to_owned();
    let own = usize::from(fit.model.level != Level::None);
    text += &match (fit.model.level, mean, fit.beta.first()) {
        (Level::Mean, Some(mean), _) => minus(mean, ""),
        (Level::Drift, _, Some(drift)) => minus(*drift, " t"),
        _ => String::new(),
    };
    if regressors.len() > WRITTEN_OUT {
        text += " − regressors";
    } else {
        for (name, value) in regressors.iter().zip(fit.beta.iter().skip(own)) {
            text += &minus(*value, &format!(" {name}"));
        }
    }
    if text == "y" { text } else { format!("({text})") }
}

/// That number of regressors are written out in the equation.
const WRITTEN_OUT: usize = 3;

/// Roots in B of both factors.
fn all_roots(short: &[f64], seasonal: &[f64], season: usize) -> Vec<RootResult> {
    let own = roots(short).into_iter();
    let each = roots(seasonal).into_iter().flat_map(|root| seasonal_roots(root, season));
    own.chain(each).map(|root| RootResult { re: root.re, im: root.im, modulus: root.modulus() }).collect()
}

/// All z with `z^s` equal to a root.
fn seasonal_roots(root: Root, season: usize) -> Vec<Root> {
    let radius = root.modulus().powf(1.0 / season as f64);
    let angle = root.im.atan2(root.re);
    let at = |k: usize| {
        let turned = (angle + std::f64::consts::TAU * k as f64) / season as f64;
        Root { re: radius * turned.cos(), im: radius * turned.sin() }
    };
    (0..season).map(at).collect()
}

fn accuracy(series: &SeriesWithGaps, fit: &Fit) -> Option<Accuracy> {
    let pair = |(place, error): (&usize, &f64)| {
        let value = series.cells.get(*place).copied().flatten()?;
        Some((value, value - error))
    };
    let pairs: Vec<(f64, f64)> = fit.places.iter().zip(&fit.one_step_errors).filter_map(pair).collect();
    predictive::accuracy(&pairs, mean_change(&series.cells, fit.model.season.max(1)))
}

fn residual_tests(checked: &Diagnosis, alpha: f64) -> Vec<TestLine> {
    let lags = serde_json::json!({ "lags": checked.lags });
    let adjusted = serde_json::json!({ "lags": checked.lags, "degrees": checked.degrees });
    let none = serde_json::json!({});
    let of = |test, name: String, null, outcome: Option<Outcome>, meanings: [&'static str; 2], detail| {
        let Outcome { statistic, p_value } = outcome?;
        Some(TestEntry { test, name, null, statistic, p_value, meanings, detail }.decided(alpha))
    };
    let all = [
        of(
            "ljung_box",
            format!("{}, {} lags, {} d.f.", test_names::LJUNG_BOX, checked.lags, checked.degrees),
            test_names::NO_AUTOCORRELATION,
            checked.ljung_box,
            ["no residual autocorrelation", "residual autocorrelation"],
            adjusted,
        ),
        of(
            "runs",
            "Runs around zero".to_owned(),
            test_names::RANDOM_SIGNS,
            checked.runs,
            [test_names::RANDOM_SIGNS, "signs are autocorrelated"],
            none.clone(),
        ),
        of(
            "mcleod_li",
            format!("{}, {} lags", test_names::MCLEOD_LI, checked.lags),
            test_names::NO_CONDITIONAL_HETEROSKEDASTICITY,
            checked.mcleod_li,
            ["homoskedastic", "conditional heteroskedasticity"],
            lags,
        ),
        of(
            "jarque_bera",
            test_names::JARQUE_BERA.to_owned(),
            test_names::NORMALITY,
            checked.jarque_bera,
            ["normality not rejected", "normality rejected"],
            none,
        ),
    ];
    all.into_iter().flatten().collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn signs_are_written_out() {
        assert_eq!(polynomial(&[-0.5, 0.25], 1), "(1 − 0.500 B + 0.250 B^2)");
        assert_eq!(polynomial(&[0.6], 12), "(1 + 0.600 B^12)");
        let all = all_roots(&[], &[-0.5], 4);
        assert_eq!(all.len(), 4);
        assert!(all.iter().all(|root| (root.modulus - 2.0_f64.powf(0.25)).abs() < 1e-12));
    }
}
