//! Cointegration as facts: the contract's result.

use kandrel_core::coint::{BartlettRow, Relations, ResidualTest, Suggestion, System};
use kandrel_core::nulldist::SystemTerms;
use kandrel_core::series::Series;
use schemars::JsonSchema;
use serde::Serialize;

use super::text::{answer, reading, reason};
use crate::present::diagnosis::SeriesDiagnosis;
use crate::present::sample::Sample;
use crate::present::stationarity::TestResult;
use crate::present::stationarity::of_residuals;

/// The contract's result of `cointegration`.
#[derive(JsonSchema, Serialize)]
pub struct CointegrationResult {
    pub variables: Vec<String>,
    pub first: String,
    pub last: String,
    pub observations: usize,
    /// The joint assessment of each series.
    pub diagnoses: Vec<SeriesDiagnosis>,
    /// Order of integration of each series, by the joint assessment; none where it cannot be assessed.
    pub integration: Vec<Option<usize>>,
    /// The single relation by least squares that the residual tests rest on.
    pub relation: StaticRelation,
    pub engle_granger: TestResult,
    pub phillips_ouliaris: TestResult,
    /// None for more series than there are null distributions for.
    pub johansen: Option<JohansenResult>,
    pub reading: Vec<String>,
    /// The answer in one sentence.
    pub sentence: String,
    /// The observations that were used.
    pub sample: Sample,
    /// The significance level.
    pub alpha: f64,
    /// Why these deterministic terms; empty where they were given.
    pub terms_reason: String,
    /// One period of the data.
    pub unit: &'static str,
}

/// A relation by least squares.
#[derive(JsonSchema, Serialize)]
pub struct StaticRelation {
    pub target: String,
    pub coefficients: Vec<NamedValue>,
    pub r2: f64,
    pub durbin_watson: f64,
}

/// A name and a value.
#[derive(JsonSchema, Serialize)]
pub struct NamedValue {
    pub name: String,
    pub estimate: f64,
    /// None for what is fixed, or has no usual error.
    pub std_error: Option<f64>,
}

/// The tests of the system.
#[derive(JsonSchema, Serialize)]
pub struct JohansenResult {
    pub terms: SystemTerms,
    /// `suggested` or `given`.
    pub terms_rule: &'static str,
    pub lags: usize,
    pub observations: usize,
    pub eigenvalues: Vec<f64>,
    pub rows: Vec<RankRow>,
    pub rank: usize,
    /// One list for each relation; it is zero in the long run.
    pub vectors: Vec<Vec<NamedValue>>,
    /// For each relation, how each series' change answers it.
    pub loadings: Vec<Vec<NamedValue>>,
}

/// One number of relations under the null.
#[derive(JsonSchema, Serialize)]
pub struct RankRow {
    pub rank: usize,
    pub trace: f64,
    pub p_trace: f64,
    /// Critical value at 5 %.
    pub trace_critical: f64,
    pub max_eigen: f64,
    pub p_max_eigen: f64,
    pub max_eigen_critical: f64,
    /// Where asked for: what the trace was divided by, and its p-value then.
    pub bartlett_factor: Option<f64>,
    pub p_bartlett: Option<f64>,
    /// Whether the simulation of the null covered this size.
    pub covered: bool,
}

/// The system and its relations.
pub struct SystemFound {
    pub system: System,
    pub rank: usize,
    pub relations: Option<Relations>,
    pub bartlett: Vec<BartlettRow>,
}

/// Everything that was computed.
pub struct CointegrationFindings {
    pub diagnoses: Vec<SeriesDiagnosis>,
    pub residual: ResidualTest,
    pub system: Option<SystemFound>,
    /// None where the terms were given.
    pub suggestion: Option<Suggestion>,
    /// Systems drawn and their seed.
    pub draws: Option<(usize, u64)>,
}

/// Puts a result together.
pub fn result(
    target: &Series,
    all: &[Series],
    found: &CointegrationFindings,
    alpha: f64,
) -> CointegrationResult {
    let names: Vec<String> = all.iter().map(|series| series.name.clone()).collect();
    let residual = &found.residual;
    let engle_granger = of_residuals(target, &residual.engle_granger, alpha);
    let phillips_ouliaris = of_residuals(target, &residual.phillips_ouliaris, alpha);
    let johansen = found.system.as_ref().map(|one| johansen(one, &names, found.suggestion.is_some()));
    let fixed = ["constant", "trend"].iter().zip(&residual.fixed);
    let fixed = fixed.map(|(name, value)| ((*name).to_owned(), *value));
    let slopes = names.iter().skip(1).cloned().zip(residual.coefficients.iter().copied());
    let named = |(name, estimate): (String, f64)| NamedValue { name, estimate, std_error: None };
    let mut result = CointegrationResult {
        first: target.start.to_string(),
        last: target.last().to_string(),
        observations: target.values.len(),
        integration: found.diagnoses.iter().map(SeriesDiagnosis::integration).collect(),
        diagnoses: found.diagnoses.clone(),
        relation: StaticRelation {
            target: target.name.clone(),
            coefficients: fixed.chain(slopes).map(named).collect(),
            r2: residual.r2,
            durbin_watson: residual.durbin_watson,
        },
        engle_granger,
        phillips_ouliaris,
        johansen,
        reading: Vec::new(),
        sentence: String::new(),
        sample: Sample::of(target),
        alpha,
        terms_reason: found.suggestion.as_ref().map_or(String::new(), |one| reason(one, &names, alpha)),
        unit: target.start.frequency().noun(),
        variables: names,
    };
    result.sentence = answer(&result);
    result.reading = reading(&result, found);
    result
}

fn johansen(found: &SystemFound, names: &[String], suggested: bool) -> JohansenResult {
    let system = &found.system;
    let rows = system.tests.iter().enumerate().map(|(place, test)| {
        let corrected = found.bartlett.get(place);
        RankRow {
            rank: test.rank,
            trace: test.trace,
            p_trace: test.p_trace,
            trace_critical: test.trace_critical,
            max_eigen: test.max_eigen,
            p_max_eigen: test.p_max_eigen,
            max_eigen_critical: test.max_eigen_critical,
            bartlett_factor: corrected.map(|row| row.factor),
            p_bartlett: corrected.map(|row| row.p_trace),
            covered: test.covered,
        }
    });
    let inside = match system.terms {
        SystemTerms::ConstantIn => Some("constant"),
        SystemTerms::TrendIn => Some("trend"),
        _ => None,
    };
    let with_term: Vec<String> = names.iter().cloned().chain(inside.map(str::to_owned)).collect();
    let vectors = found.relations.iter().flat_map(|relations| {
        relations.vectors.iter().zip(&relations.vector_errors).map(|(vector, errors)| {
            let value = |((name, estimate), std_error): ((&String, &f64), &Option<f64>)| NamedValue {
                name: name.clone(),
                estimate: *estimate,
                std_error: *std_error,
            };
            with_term.iter().zip(vector).zip(errors).map(value).collect()
        })
    });
    let loadings = found.relations.iter().flat_map(|relations| {
        relations.loadings.iter().zip(&relations.loading_errors).map(|(list, errors)| {
            let value = |((name, estimate), error): ((&String, &f64), &f64)| NamedValue {
                name: name.clone(),
                estimate: *estimate,
                std_error: Some(*error),
            };
            names.iter().zip(list).zip(errors).map(value).collect()
        })
    });
    JohansenResult {
        terms: system.terms,
        terms_rule: if suggested { "suggested" } else { "given" },
        lags: system.lags,
        observations: system.rows,
        eigenvalues: system.eigenvalues.clone(),
        rows: rows.collect(),
        rank: found.rank,
        vectors: vectors.collect(),
        loadings: loadings.collect(),
    }
}
