//! Several series: lag orders, least squares, correlations, cointegration.

use kandrel_core::regression::{Coefficient, FTest};
use kandrel_core::relation::{Cross, CrossLag};
use kandrel_core::var::{Check, ChosenLags, LagTerms};

use super::*;
use crate::present::decision::Decision;
use crate::present::lags;
use crate::present::lags::facts::{CausalityResult, InfluenceResult, LagsResult, ResidualCheck};
use crate::present::ols::facts::{CoefficientResult, OlsResult};
use crate::present::ols::{self, Asked};
use crate::present::relate::{self, CrossResult, Function, MatrixResult, RelateResult, Unit};
use crate::present::sample::Stretch;
use crate::present::test_line::TestEntry;

fn check(p_value: f64) -> Check {
    Check { lags: 8, statistic: 9.0, df: 6, df2: None, p_value }
}

fn order(variables: &[&str], recommended: usize, p: Option<f64>, root: f64) -> LagsResult {
    let looked_at = || ResidualCheck {
        lag: recommended,
        portmanteau: p.map(check),
        lm: p.map(check),
        white: p.is_some_and(|p| p > 0.05),
        roots: vec![root],
        rows_per_coefficient: 20.0,
    };
    LagsResult {
        diagnoses: Vec::new(),
        variables: variables.iter().map(|name| (*name).to_owned()).collect(),
        exogenous: Vec::new(),
        terms: LagTerms::Constant,
        max_lags: 8,
        sample: Stretch { first: "2001-09".to_owned(), last: "2010-12".to_owned(), observations: 112 },
        rows: Vec::new(),
        chosen: ChosenLags {
            lr: recommended,
            fpe: recommended,
            aic: recommended,
            hq: recommended,
            bic: recommended,
        },
        recommended,
        residual_check: looked_at(),
        residual_checks: vec![looked_at()],
        causality: None,
        most_coefficients: 9,
        season: 12,
        alpha: 0.05,
        series_sample: sample(),
        causality_wanted: false,
    }
}

#[test]
fn an_order_whose_residuals_are_white_leads_to_its_model() {
    let document = lags::document(&order(&["x"], 2, Some(0.4), 0.6), &typed(Name::Lags));
    says(&document, &["x: 2 lags by BIC, HQ, AIC, FPE and LR; no residual autocorrelation."]);
    says(&document, &["largest root is 0.600, below one", "Next: kandrel fit a.csv x --model '(2,0,0)'"]);
}

#[test]
fn residuals_that_are_not_white_name_what_helps() {
    let seasonal = lags::document(&order(&["x"], 1, Some(0.001), 0.6), &typed(Name::Lags));
    says(&seasonal, &["but its residuals are autocorrelated", "--terms seasonal"]);
    let mut plain = order(&["x"], 1, Some(0.001), 0.6);
    plain.season = 1;
    says(&lags::document(&plain, &typed(Name::Lags)), &["check for outliers and breaks"]);
    let short = lags::document(&order(&["x"], 0, None, 0.0), &typed(Name::Lags));
    says(&short, &["x: no lag", "too few rows to check its residuals", "too short to check residuals"]);
}

#[test]
fn a_root_near_one_asks_for_tests_before_models() {
    let one = lags::document(&order(&["x"], 2, Some(0.4), 0.99), &typed(Name::Lags));
    says(&one, &["near unity", "Next: kandrel stationarity a.csv x"]);
    let both = lags::document(&order(&["x", "y"], 2, Some(0.4), 1.01), &typed(Name::Lags));
    says(&both, &["not below one", "Next: kandrel cointegration a.csv x y --lags 2"]);
    let calm = lags::document(&order(&["x", "y"], 2, Some(0.4), 0.5), &typed(Name::Lags));
    says(&calm, &["Next: kandrel lags a.csv x y --causality"]);
}

#[test]
fn criteria_that_disagree_are_reported_and_the_largest_order_is_questioned() {
    let mut result = order(&["x"], 1, Some(0.4), 0.5);
    result.chosen = ChosenLags { lr: 8, fpe: 3, aic: 3, hq: 1, bic: 1 };
    let document = lags::document(&result, &typed(Name::Lags));
    says(
        &document,
        &["1 lag by BIC and HQ (3 lags by AIC and FPE)", "BIC and HQ are consistent for a finite order"],
    );
    result.chosen.aic = 8;
    says(&lags::document(&result, &typed(Name::Lags)), &["minimum at the largest order, 8", "--max"]);
    result.residual_check.rows_per_coefficient = 2.5;
    says(&lags::document(&result, &typed(Name::Lags)), &["Only 2.5 observations per coefficient"]);
}

fn influence(cause: &str, effect: &str, p_value: f64) -> InfluenceResult {
    InfluenceResult {
        causes: vec![cause.to_owned()],
        effect: effect.to_owned(),
        null: "no Granger causality",
        f: 4.0,
        df1: 2,
        df2: 100,
        p_value,
        chi2: 8.0,
        p_chi2: p_value,
        decision: Decision::at(p_value, 0.05),
    }
}

#[test]
fn who_helps_to_predict_whom_is_said_by_the_tests() {
    let mut result = order(&["x", "y"], 2, Some(0.4), 0.5);
    let causality = |pairs: Vec<InfluenceResult>, augmented| CausalityResult {
        lags: 2,
        augmented,
        integration: vec![Some(1), Some(1)],
        pairs,
        blocks: Vec::new(),
        without_added_lags: None,
    };
    result.causality = Some(causality(vec![influence("x", "y", 0.01), influence("y", "x", 0.6)], 1));
    let document = lags::document(&result, &typed(Name::Lags));
    says(&document, &["x Granger-causes y (2 lags tested)", "integrated of order up to 1"]);
    assert_eq!(column(&document, "Decision"), ["Text(\"rejected\")", "Text(\"not rejected\")"]);
    never_says(&document, &["Next:"]);
    result.causality = Some(causality(vec![influence("x", "y", 0.3)], 0));
    says(&lags::document(&result, &typed(Name::Lags)), &["No Granger causality is found"]);
    result.causality = None;
    result.causality_wanted = true;
    says(&lags::document(&result, &typed(Name::Lags)), &["Granger causality cannot be tested"]);
}

fn coefficient(name: &str, estimate: f64, p_value: f64) -> CoefficientResult {
    let of = Coefficient {
        estimate,
        std_error: 0.1,
        t: estimate / 0.1,
        p_value,
        low: estimate - 0.2,
        high: estimate + 0.2,
    };
    CoefficientResult { name: name.to_owned(), of, classical: None }
}

fn regressed(coefficients: Vec<CoefficientResult>, r2: f64, durbin_watson: f64) -> OlsResult {
    OlsResult {
        diagnoses: Vec::new(),
        target: "y".to_owned(),
        first: "2001-01".to_owned(),
        last: "2010-12".to_owned(),
        observations: 120,
        errors: "classical".to_owned(),
        overlap: None,
        errors_reason: None,
        coefficients,
        r2,
        r2_adjusted: r2,
        sigma: 1.0,
        ssr: 118.0,
        log_likelihood: -160.0,
        aic: 324.0,
        bic: 330.0,
        f: Some(FTest { statistic: 20.0, df1: 1, df2: 118, p_value: 1e-5 }),
        durbin_watson,
        diagnostics: Vec::new(),
        restrictions: Vec::new(),
        spurious: false,
        residuals: None,
        sample: sample(),
        alpha: 0.05,
        residual_root: None,
        has_constant: true,
    }
}

fn regression(result: &OlsResult, is_classical: bool) -> Document {
    let call = typed(Name::Ols).with("on", "x");
    ols::document(result, &Asked { call: &call, on: "x", is_classical })
}

#[test]
fn a_regression_names_what_matters() {
    let both =
        vec![coefficient("constant", 1.0, 0.001), coefficient("x", -0.5, 0.01), coefficient("z", 0.1, 0.4)];
    let result = regressed(both, 0.4, 1.9);
    assert_eq!(
        ols::answer(&result),
        "y is associated with x (−0.500); 1 of 2 regressors is significant at 5 %; R² 0.400."
    );
    let document = regression(&result, true);
    says(&document, &["overall significance: F(1, 118) = 20.00", "No diagnostic rejects"]);
    says(&document, &["Next: kandrel ols a.csv y --on x", "--figure residuals.svg"]);
    let none = regressed(vec![coefficient("constant", 1.0, 0.001), coefficient("x", 0.1, 0.6)], 0.01, 1.9);
    assert_eq!(ols::answer(&none), "No regressor of y is significant at 5 %; R² 0.010.");
    let alone = regressed(vec![coefficient("constant", 1.0, 0.001)], 0.0, 1.9);
    assert_eq!(ols::answer(&alone), "y is regressed on a constant only.");
}

#[test]
fn a_spurious_regression_is_said_before_its_slopes() {
    let mut result =
        regressed(vec![coefficient("constant", 1.0, 0.01), coefficient("x", 2.0, 1e-9)], 0.9, 0.2);
    result.spurious = true;
    let answer = ols::answer(&result);
    assert!(answer.contains("may be a spurious regression: R² 0.90 exceeds Durbin-Watson 0.20"), "{answer}");
    let document = regression(&result, true);
    says(&document, &["regress changes on changes", "kandrel cointegration a.csv y x"]);
    result.residual_root = Some(0.4);
    assert!(ols::answer(&result).contains("may have a unit root (p = 0.4000)"));
}

#[test]
fn rejected_diagnostics_lead_to_errors_that_allow_for_them() {
    let rejected = |test: &'static str, null: &'static str| {
        TestEntry {
            test,
            name: test.to_owned(),
            null,
            statistic: 12.0,
            p_value: 0.001,
            meanings: ["fine", "not fine"],
            detail: serde_json::json!({}),
        }
        .decided(0.05)
    };
    let slopes = || vec![coefficient("constant", 1.0, 0.01), coefficient("x", 2.0, 1e-9)];
    let mut result = regressed(slopes(), 0.4, 1.2);
    result.diagnostics = vec![rejected("white", "homoskedasticity")];
    let document = regression(&result, true);
    says(&document, &["white: not fine (p = 0.0010)", "use --errors hc3", "--errors hc3"]);
    result.diagnostics.push(rejected("breusch_godfrey", "no autocorrelation"));
    says(&regression(&result, true), &["--errors newey-west"]);
    // Robust errors allow for it already.
    never_says(&regression(&result, false), &["Classical errors are wrong"]);
}

fn function(lag: i64, r: f64, stands_out: bool) -> Function {
    let lags = (-6..=6_i64).map(|k| CrossLag { lag: k, r: if k == lag { r } else { 0.01 } }).collect();
    let band = if stands_out { 0.05 } else { 0.95 };
    let mut function = Function::new(Cross { lags, band, observations: 120 }, ["x", "y"], 1);
    function.strongest.significant = stands_out;
    function
}

fn crossed(of: Function) -> CrossResult {
    CrossResult {
        first: "x".to_owned(),
        second: "y".to_owned(),
        of,
        filter: None,
        raw: None,
        shared_seasonality: false,
        both_nonstationary: false,
        both_autocorrelated: false,
    }
}

fn related(cross: Vec<CrossResult>, correlations: Option<MatrixResult>) -> RelateResult {
    RelateResult {
        lead: None,
        diagnoses: Vec::new(),
        first: "2001-01".to_owned(),
        last: "2010-12".to_owned(),
        correlations,
        changes: None,
        nonstationary: Vec::new(),
        seasonal: Vec::new(),
        cross,
        scatter: None,
        reading: Vec::new(),
        is_of_changes: false,
        unit: Unit { noun: "month", season: 12 },
    }
}

#[test]
fn a_lead_is_reported_with_its_length_and_direction() {
    for (lag, r, text) in [
        (2, 0.6, "x leads y by 2 months: r = 0.60."),
        (-3, 0.6, "y leads x by 3 months: r = 0.60."),
        (0, 0.6, "x and y move in the same month: r = 0.60."),
        (1, -0.6, "x leads y by 1 month, in the opposite direction: r = −0.60."),
    ] {
        assert_eq!(relate::sentence(&related(vec![crossed(function(lag, r, true))], None)), text);
    }
    let none = relate::sentence(&related(vec![crossed(function(2, 0.1, false))], None));
    assert!(
        none.starts_with("No significant cross-correlation of x and y") && none.contains("13 lags"),
        "{none}"
    );
}

#[test]
fn a_lead_that_a_shared_season_or_trend_can_make_is_questioned() {
    let seasonal = CrossResult { shared_seasonality: true, ..crossed(function(2, 0.6, true)) };
    let text = relate::sentence(&related(vec![seasonal], None));
    assert!(
        text.starts_with("x seems to lead y by 2 months") && text.contains("seasonal with period 12"),
        "{text}"
    );
    let trending = CrossResult { both_nonstationary: true, ..crossed(function(0, 0.6, true)) };
    let text = relate::sentence(&related(vec![trending], None));
    assert!(text.contains("x and y seem to move in the same month") && text.contains("prewhiten"), "{text}");
}

#[test]
fn of_many_pairs_the_clearest_is_reported() {
    let weak = crossed(function(1, 0.3, true));
    let strong = CrossResult { second: "z".to_owned(), ..crossed(function(2, 0.8, true)) };
    let spurious = CrossResult { both_nonstationary: true, ..crossed(function(0, 0.99, true)) };
    let text = relate::sentence(&related(vec![weak, strong, spurious], None));
    assert!(
        text.starts_with("Significant cross-correlation in 2 of 3 pairs") && text.contains("r = 0.80"),
        "{text}"
    );
    let none = relate::sentence(&related(
        vec![crossed(function(1, 0.1, false)), crossed(function(1, 0.1, false))],
        None,
    ));
    assert!(none.starts_with("No significant cross-correlation in any of 2 pairs"), "{none}");
}

fn matrix(names: &[&str], off: f64) -> MatrixResult {
    let count = names.len();
    let cell = |i: usize, j: usize| if i == j { 1.0 } else { off / (1.0 + i.max(j) as f64) };
    MatrixResult {
        names: names.iter().map(|name| (*name).to_owned()).collect(),
        matrix: (0..count).map(|i| (0..count).map(|j| cell(i, j)).collect()).collect(),
        observations: 120,
    }
}

#[test]
fn correlations_of_levels_with_unit_roots_are_not_praised() {
    let calm = related(Vec::new(), Some(matrix(&["x", "y"], 0.8)));
    assert_eq!(relate::sentence(&calm), "The correlation of x and y is 0.40, over 120 months.");
    let mut trending = related(Vec::new(), Some(matrix(&["x", "y"], 0.8)));
    trending.nonstationary = vec!["x".to_owned(), "y".to_owned()];
    trending.changes = Some(matrix(&["x", "y"], 0.2));
    let text = relate::sentence(&trending);
    assert!(
        text.contains("The levels of x and y are non-stationary")
            && text.contains("in first differences the correlation of x and y is"),
        "{text}"
    );
    let document = relate::document(&trending, &typed(Name::Relate));
    assert_eq!(column(&document, "Data").len(), 2);
    says(&document, &["Next: kandrel relate a.csv x y --cross --prewhiten"]);
}

#[test]
fn a_large_matrix_is_described_by_its_closest_pairs() {
    let names: Vec<String> = (0..10).map(|k| format!("s{k}")).collect();
    let names: Vec<&str> = names.iter().map(String::as_str).collect();
    let document = relate::document(&related(Vec::new(), Some(matrix(&names, 0.9))), &typed(Name::Relate));
    says(
        &document,
        &["the closest 20 of 45 pairs", "Of 10 series s0 and s1 have the largest correlation: r = 0.45"],
    );
    assert_eq!(column(&document, "and").len(), 20);
    let small = relate::document(&related(Vec::new(), Some(matrix(&names[..3], 0.9))), &typed(Name::Relate));
    // Below the diagonal and on it; rows carry the numbers of the columns.
    assert_eq!(column(&small, "3")[..2], ["Text(\"\")", "Text(\"\")"]);
    assert_eq!(column(&small, "1").len(), 3);
}

#[test]
fn lags_of_both_directions_are_side_by_side() {
    let document =
        relate::document(&related(vec![crossed(function(2, 0.6, true))], None), &typed(Name::Relate));
    let ahead = column(&document, "x ahead");
    assert_eq!((ahead.len(), ahead[2].as_str()), (7, "Number { value: 0.6, decimals: 3 }"));
    assert_eq!(column(&document, "y ahead")[0], "Text(\"\")");
    assert_eq!(column(&document, "")[2], "Text(\"* strongest\")");
    says(&document, &["outside the band of unrelated series, ±0.050"]);
}
