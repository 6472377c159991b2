//! Lag orders as facts: the contract's result.

use kandrel_core::series::Series;
use kandrel_core::var::{
    Causality, Check, ChosenLags, Influence, LagRow, LagTable, LagTerms, ResidualChecks,
};
use schemars::JsonSchema;
use serde::Serialize;

use crate::present::decision::Decision;
use crate::present::diagnosis::SeriesDiagnosis;
use crate::present::sample::{Sample, Stretch};
use crate::wording::test_names;

/// Rows for each coefficient of an equation below which estimates are shaky.
pub(super) const FEW_ROWS: f64 = 4.0;

/// A largest root beyond this is as good as a unit root.
pub(super) const NEAR_ONE: f64 = 0.97;

/// The contract's result of `lags`.
#[derive(JsonSchema, Serialize)]
pub struct LagsResult {
    pub variables: Vec<String>,
    pub exogenous: Vec<String>,
    pub terms: LagTerms,
    pub max_lags: usize,
    /// Common to all orders.
    pub sample: Stretch,
    pub rows: Vec<LagRow>,
    pub chosen: ChosenLags,
    /// The smallest of the orders of AIC, HQ and BIC whose residuals look white, else the largest.
    pub recommended: usize,
    /// Of the recommended order.
    pub residual_check: ResidualCheck,
    /// Of every order that a criterion chose.
    pub residual_checks: Vec<ResidualCheck>,
    /// Where asked for.
    pub causality: Option<CausalityResult>,
    /// Coefficients of an equation of the largest order.
    pub most_coefficients: usize,
    /// The joint assessment of each series.
    pub diagnoses: Vec<SeriesDiagnosis>,
    /// Seasonal period.
    pub season: usize,
    /// The significance level.
    pub alpha: f64,
    /// The observations of each series.
    pub series_sample: Sample,
    /// Whether Granger causality was asked for.
    pub causality_wanted: bool,
}

/// Whether the residuals of one order look white.
#[derive(Default, JsonSchema, Serialize)]
pub struct ResidualCheck {
    pub lag: usize,
    pub portmanteau: Option<Check>,
    /// Lagrange multiplier test in Rao's F form.
    pub lm: Option<Check>,
    pub white: bool,
    /// Moduli of the companion matrix's eigenvalues, largest first.
    pub roots: Vec<f64>,
    /// Rows for each coefficient of an equation.
    pub rows_per_coefficient: f64,
}

/// Who helps to predict whom.
#[derive(JsonSchema, Serialize)]
pub struct CausalityResult {
    pub lags: usize,
    /// Lags added for integrated series; the tests in `pairs` and `blocks` have them.
    pub augmented: usize,
    /// Order of integration of each series, by the verdict.
    pub integration: Vec<Option<usize>>,
    pub pairs: Vec<InfluenceResult>,
    pub blocks: Vec<InfluenceResult>,
    /// The same without lags added, where there are any.
    pub without_added_lags: Option<Vec<InfluenceResult>>,
}

/// One test of no Granger causality.
#[derive(JsonSchema, Serialize)]
pub struct InfluenceResult {
    pub causes: Vec<String>,
    pub effect: String,
    pub null: &'static str,
    pub f: f64,
    pub df1: usize,
    pub df2: usize,
    pub p_value: f64,
    pub chi2: f64,
    pub p_chi2: f64,
    pub decision: Decision,
}

/// One order, looked at.
pub struct Checked {
    pub lags: usize,
    pub checks: Option<ResidualChecks>,
    pub moduli: Vec<f64>,
    pub spare: f64,
}

impl Checked {
    fn is_white(&self, alpha: f64) -> bool {
        self.checks.is_some_and(|checks| {
            checks.portmanteau.p_value > alpha && checks.multiplier.is_none_or(|one| one.p_value > alpha)
        })
    }
}

/// Tests of influence.
pub struct Influences {
    pub plain: Causality,
    pub augmented: Option<Causality>,
    pub integration: Vec<Option<usize>>,
}

/// Everything that was computed.
pub struct LagOrderFindings {
    pub table: LagTable,
    pub checked: Vec<Checked>,
    pub recommended: usize,
    pub influences: Option<Influences>,
    pub season: usize,
    pub wanted: bool,
}

/// The smallest of the orders whose residuals look white, else the largest.
pub fn recommended(checked: &[Checked], alpha: f64) -> usize {
    let white = checked.iter().find(|one| one.is_white(alpha));
    white.or(checked.last()).map_or(0, |one| one.lags)
}

/// Puts a result together.
pub fn result(
    all: &[Series],
    exogenous: &[Series],
    diagnoses: Vec<SeriesDiagnosis>,
    found: LagOrderFindings,
    alpha: f64,
) -> LagsResult {
    let names = |list: &[Series]| list.iter().map(|series| series.name.clone()).collect::<Vec<_>>();
    let variables = names(all);
    let LagOrderFindings { table, checked, recommended, influences, season, wanted } = found;
    let period = |place: usize| all.first().map_or(String::new(), |series| series.period(place).to_string());
    let last = all.first().map_or(String::new(), |series| series.last().to_string());
    let check = |one: &Checked| ResidualCheck {
        lag: one.lags,
        portmanteau: one.checks.map(|checks| checks.portmanteau),
        lm: one.checks.and_then(|checks| checks.multiplier),
        white: one.is_white(alpha),
        roots: one.moduli.clone(),
        rows_per_coefficient: one.spare,
    };
    let of_recommended = checked.iter().find(|one| one.lags == recommended).or(checked.first());
    LagsResult {
        diagnoses,
        exogenous: names(exogenous),
        terms: table.terms,
        max_lags: table.most,
        sample: Stretch { first: period(table.most), last, observations: table.rows_used },
        chosen: table.chosen,
        recommended,
        residual_check: of_recommended.map(check).unwrap_or_default(),
        residual_checks: checked.iter().map(check).collect(),
        causality: influences.map(|one| influence_results(&one, &variables, alpha)),
        most_coefficients: table.most_coefficients,
        rows: table.rows,
        series_sample: Sample::of_first(all),
        variables,
        season,
        alpha,
        causality_wanted: wanted,
    }
}

fn influence_results(found: &Influences, names: &[String], alpha: f64) -> CausalityResult {
    let main = found.augmented.as_ref().unwrap_or(&found.plain);
    let named = |place: &usize| names.get(*place).cloned().unwrap_or_default();
    let one = |test: &Influence| InfluenceResult {
        causes: test.causes.iter().map(named).collect(),
        effect: named(&test.effect),
        null: test_names::NO_GRANGER_CAUSALITY,
        f: test.f,
        df1: test.df1,
        df2: test.df2,
        p_value: test.p_value,
        chi2: test.chi2,
        p_chi2: test.p_chi2,
        decision: Decision::at(test.p_value, alpha),
    };
    CausalityResult {
        lags: main.lags,
        augmented: main.augmented,
        integration: found.integration.clone(),
        pairs: main.pairs.iter().map(one).collect(),
        // With two series the others together are the other one.
        blocks: if names.len() > 2 { main.blocks.iter().map(one).collect() } else { Vec::new() },
        without_added_lags: found.augmented.as_ref().map(|_| found.plain.pairs.iter().map(one).collect()),
    }
}
