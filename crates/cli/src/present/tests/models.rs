//! Models: orders, estimates, forecasts, comparisons.

use kandrel_core::arima::{Criteria, Data, Model, ModelWarning, diagnose, fit};
use kandrel_core::identify::{RankingCriterion, SearchMethod, data};
use kandrel_core::predictive::Comparison;
use kandrel_core::regressor::Regressors;
use kandrel_core::series::SeriesWithGaps;
use kandrel_core::time::Period;

use super::*;
use crate::present::compare;
use crate::present::compare::facts::{
    BestResult, CandidateKind, CandidateResult, CompareResult, GroupResult, RepairEffect, RollingTrial, Trial,
};
use crate::present::fit as estimates;
use crate::present::forecast;
use crate::present::forecast::facts::{
    Coverage, ForecastResult, IntervalResult, Outcome, PastValue, StepResult,
};
use crate::present::orders;
use crate::present::orders::facts::{NearModel, OrdersResult, RivalResult, SuggestedModel};

fn criteria(value: f64) -> Criteria {
    Criteria { aic: value, aicc: Some(value), bic: value, hq: value }
}

fn candidate(model: &str, delta: f64, warnings: Vec<ModelWarning>) -> orders::facts::CandidateResult {
    orders::facts::CandidateResult {
        model: model.to_owned(),
        drift: false,
        parameters: 3,
        log_likelihood: -100.0,
        criteria: criteria(206.0 + delta),
        delta,
        white_noise_p: Some(0.4),
        warnings,
    }
}

fn ranking(chosen: &str, candidates: Vec<orders::facts::CandidateResult>) -> OrdersResult {
    let sound = candidates.iter().find(|one| one.warnings.is_empty()).map(|one| one.delta);
    OrdersResult {
        needed_for_season: None,
        series: "x".to_owned(),
        transform: None,
        d: 1,
        seasonal: 1,
        season: 12,
        with: Vec::new(),
        evidence: vec!["Why.".to_owned()],
        extended_acf: None,
        candidates,
        chosen: chosen.to_owned(),
        criterion: RankingCriterion::Aicc,
        rivals: Vec::new(),
        search: SearchMethod::Whole,
        exhaustive: true,
        searched: 144,
        seconds: 0.1,
        sample: sample(),
        unseasonal_delta: None,
        sound_delta: sound,
        simplest: None,
        suggested: vec![SuggestedModel { model: "(0,1,1)".to_owned(), place: None }],
        diagnosis: None,
    }
}

#[test]
fn the_best_model_is_named_with_the_difference_of_the_next() {
    let result =
        ranking("(0,1,1)", vec![candidate("(0,1,1)", 0.0, vec![]), candidate("(1,1,0)", 1.25, vec![])]);
    let answer = orders::text::answer(&result);
    assert_eq!(
        answer,
        "x: (0,1,1), the model of simple exponential smoothing, has the lowest AICc of 144 models; that of (1,1,0) is 1.2 \
         higher."
    );
    let document = orders::document(&result, &typed(Name::Orders));
    says(&document, &["d = 1, D = 1, seasonal period 12; exact maximum likelihood."]);
    says(&document, &["Next: kandrel fit a.csv x --model '(0,1,1)' --sample 2001.."]);
    says(&document, &["(0,1,1) (not ranked)", "No residual autocorrelation is detected"]);
    assert_eq!(column(&document, "")[0], "Text(\"→\")");
}

#[test]
fn a_model_with_a_warning_is_passed_over_and_the_sentence_says_so() {
    let warned = candidate("(2,1,2)", 0.0, vec![ModelWarning::Cancelling]);
    let result = ranking("(0,1,1)", vec![warned, candidate("(0,1,1)", 2.5, vec![])]);
    let answer = orders::text::answer(&result);
    assert!(
        answer.contains("(0,1,1), the model of simple exponential smoothing, has the lowest AICc"),
        "{answer}"
    );
    assert!(answer.contains("the AICc of (2,1,2) is lower, but"), "{answer}");
    assert!(answer.contains(&ModelWarning::Cancelling.to_string()), "{answer}");
    let document = orders::document(&result, &typed(Name::Orders));
    assert_eq!(column(&document, "Warnings")[0], "Text(\"C\")");
}

#[test]
fn a_doubtful_model_that_is_far_ahead_is_chosen_with_its_doubt() {
    let warned = candidate("(2,1,2)", 0.0, vec![ModelWarning::UnitRoot]);
    let result = ranking("(2,1,2)", vec![warned, candidate("(0,1,1)", 14.0, vec![])]);
    let answer = orders::text::answer(&result);
    assert!(answer.contains("but an autoregressive root is near unity"), "{answer}");
    assert!(answer.contains("has an AICc 14.0 higher"), "{answer}");
    assert_eq!(orders::text::answer(&ranking("", Vec::new())), "x has no model.");
}

#[test]
fn a_less_probable_treatment_that_forecasts_better_is_named_in_the_answer() {
    let rival = |d: usize, probability: f64| RivalResult {
        d,
        seasonal: 0,
        model: format!("(1,{d},0)"),
        with: Vec::new(),
        probability,
        rolling_mae: Some(2.0 + d as f64),
    };
    let of = |rivals: Vec<RivalResult>| {
        let base = ranking("(1,0,0)", vec![candidate("(1,0,0)", 0.0, vec![])]);
        orders::text::answer(&OrdersResult { rivals, ..base })
    };
    let against = of(vec![rival(0, 0.2), rival(1, 0.8)]);
    assert!(
        against.ends_with("d = 1, D = 0 is more probable (80\u{a0}%), but d = 0, D = 0 forecasts better from rolling origins."),
        "{against}"
    );
    assert!(!of(vec![rival(0, 0.8), rival(1, 0.2)]).contains("more probable"));
    assert_eq!(orders::compared(&[rival(0, 0.8)]), None, "one treatment is compared with nothing");
    let both = orders::compared(&[rival(0, 0.8), rival(1, 0.2)]).unwrap_or_default();
    assert!(
        both.contains("(1,0,0) 2.000 (probability 80\u{a0}%); (1,1,0) 3.000 (probability 20\u{a0}%)"),
        "{both}"
    );
}

#[test]
fn what_a_search_cannot_use_and_too_many_parameters_are_reported() {
    let mut result = ranking("(1,0,0)", vec![candidate("(1,0,0)", 0.0, vec![])]);
    never_says(&orders::document(&result, &typed(Name::Orders)), &["need at least", "more than one in ten"]);
    result.season = 365;
    result.needed_for_season = Some(1095);
    result.sample.observations = 29;
    says(
        &orders::document(&result, &typed(Name::Orders)),
        &[
            "Seasonal terms at period 365 need at least 1095 observations",
            "The model has 3 parameters for 29 observations, more than one in ten",
        ],
    );
}

#[test]
fn regressors_are_carried_into_every_call() {
    let with = vec!["trend".to_owned(), "step=2004-01".to_owned()];
    let result = OrdersResult { with, ..ranking("(1,0,0)", vec![candidate("(1,0,0)", 0.0, vec![])]) };
    let document = orders::document(&result, &typed(Name::Orders));
    says(&document, &["(1,0,0) with trend, step=2004-01 has the lowest AICc", "--with trend,step=2004-01"]);
    // What ACF and PACF suggest is of the series without them.
    never_says(&document, &["suggest"]);
    assert_eq!(orders::chosen(&result).terms.as_deref(), Some("trend,step=2004-01"));
}

#[test]
fn a_search_that_was_no_whole_grid_says_how_it_went() {
    let base = || ranking("(1,0,0)", vec![candidate("(1,0,0)", 0.0, vec![])]);
    let walked = OrdersResult { search: SearchMethod::Stepwise, exhaustive: false, season: 1, ..base() };
    says(&orders::document(&walked, &typed(Name::Orders)), &["stepwise search", "d = 1, no seasonality"]);
    let gappy = Sample { missing: 100, ..sample() };
    let over = OrdersResult { sample: gappy, search: SearchMethod::TwoStages, ..base() };
    says(
        &orders::document(&over, &typed(Name::Orders)),
        &["the 20 best models re-estimated", "100 values missing inside"],
    );
    let simplest = NearModel { model: "(0,0,0)".to_owned(), delta: 1.4 };
    let near = OrdersResult { simplest: Some(simplest), ..base() };
    says(
        &orders::document(&near, &typed(Name::Orders)),
        &["most parsimonious model within 2 of the minimum is (0,0,0) (ΔAICc 1.4)"],
    );
    let mut correlated = base();
    correlated.candidates[0].white_noise_p = Some(0.01);
    says(
        &orders::document(&correlated, &typed(Name::Orders)),
        &["Its residuals are autocorrelated", "--limit"],
    );
}

/// The result of a model on values, at 5 %.
fn estimated(values: Vec<f64>, model: &str) -> estimates::FitResult {
    let series = SeriesWithGaps::from(monthly(values));
    let none = Regressors::default();
    let data: Data = data(&series, &none).expect("no regressors");
    let model = Model::parse(model).expect("a model");
    let fit = fit(&data, model).expect("estimates");
    estimates::result(&series, &fit, &diagnose(&fit, 1), &none, 0.05, false, None)
}

#[test]
fn the_true_model_leaves_white_noise_and_one_that_is_too_small_does_not() {
    let mut x = noise(400, 5);
    for t in 1..x.len() {
        x[t] += 0.7 * x[t - 1];
    }
    let enough = estimated(x.clone(), "(1,0,0)");
    assert_eq!(estimates::answer(&enough), "x (1,0,0) leaves no residual autocorrelation.");
    assert!(enough.warnings.is_empty() && enough.intercept.is_some());
    let small = estimates::answer(&estimated(x.clone(), "(0,0,0)"));
    assert!(small.contains("is misspecified") && small.contains("Ljung-Box, p"), "{small}");
    // A root more on either side of the equation cancels.
    let both = estimated(x, "(2,0,1)");
    let document = estimates::document(&both, &typed(Name::Fit));
    says(&document, &["exact maximum likelihood", "log L", "In-sample one-step errors: MAE"]);
    says(&document, &["Next: kandrel forecast a.csv x --model '(2,0,1)'", "--figure residuals.svg"]);
}

#[test]
fn a_model_near_a_unit_root_is_questioned() {
    let near = estimated(walk(300, 8), "(1,0,0)");
    assert_eq!(near.warnings, [ModelWarning::UnitRoot]);
    assert!(
        estimates::answer(&near).contains("consider one more difference"),
        "{}",
        estimates::answer(&near)
    );
    let over = estimated(noise(300, 9), "(0,1,1)");
    assert_eq!(over.warnings, [ModelWarning::Overdifferenced]);
    assert!(estimates::answer(&over).contains("suggests over-differencing"), "{}", estimates::answer(&over));
}

#[test]
fn large_errors_that_follow_large_ones_are_reported_where_nothing_worse_is() {
    let calm_and_rough: Vec<f64> = noise(600, 3)
        .iter()
        .enumerate()
        .map(|(t, e)| if (t / 60).is_multiple_of(2) { *e } else { 4.0 * e })
        .collect();
    let answer = estimates::answer(&estimated(calm_and_rough, "(0,0,0)"));
    assert!(answer.contains("the residual variance changes over time"), "{answer}");
}

#[test]
fn the_equation_is_that_of_the_estimates() {
    let result = estimated(walk(200, 4), "(0,1,1)+drift");
    let drift = result.parameters.iter().find(|one| one.name == "drift").expect("a drift");
    let theta = result.parameters.iter().find(|one| one.name == "theta_1").expect("a moving average");
    let equation = &result.polynomials.equation;
    let shown = |value: f64| crate::wording::short(value.abs());
    assert!(equation.starts_with("(1 − B) (y"), "{equation}");
    assert!(equation.contains(&format!("{} t)", shown(drift.estimate))), "{equation}");
    assert!(equation.contains(&format!("{} B) e", shown(theta.estimate))), "{equation}");
    assert_eq!(result.lost_to_differences, 1);
    // z and its p-value are the estimate over its error.
    let error = drift.std_error.expect("an error");
    assert!((drift.z.expect("a ratio") - drift.estimate / error).abs() < 1e-12);
}

fn period(ahead: i64) -> Period {
    Period::month(2011, 1).expect("a month").offset(ahead)
}

fn interval(level: f64, point: f64, half: f64) -> IntervalResult {
    IntervalResult { level, lower: Some(point - half), upper: Some(point + half) }
}

fn forecasts(points: &[f64], half: f64) -> ForecastResult {
    let step = |(h, point): (i64, &f64)| StepResult {
        period: period(h),
        point: *point,
        mean: Some(*point),
        std_error: Some(half / 2.0),
        intervals: vec![interval(68.0, *point, 0.5 * half), interval(95.0, *point, half)],
        actual: None,
    };
    let history = (-24..0).map(|t| PastValue { period: period(t), value: Some(100.0) }).collect();
    ForecastResult {
        diagnosis: None,
        series: "x".to_owned(),
        units: "x".to_owned(),
        model: "(0,1,1)".to_owned(),
        with: Vec::new(),
        origin: "2010-12".to_owned(),
        point: "median",
        steps: (0..).zip(points).map(step).collect(),
        accuracy: None,
        paths: None,
        bootstrap: None,
        seed: None,
        white_noise_p: Some(0.5),
        transform: None,
        sample: sample(),
        search: None,
        scale: None,
        rivals: Vec::new(),
        average: Vec::new(),
        mixture: Vec::new(),
        overlap: None,
        heteroskedastic: false,
        warnings: Vec::new(),
        history,
    }
}

#[test]
fn a_forecast_says_its_last_point_and_what_it_is_by() {
    let result = forecasts(&[101.0, 102.0, 103.0], 8.0);
    let answer = forecast::text::answer(&result);
    assert_eq!(
        answer,
        "Forecast of x for 2011-03: 103.0 (95 % prediction interval 95.00 to 111.0), from (0,1,1) fitted to x."
    );
    let document = forecast::document(&result, &typed(Name::Forecast));
    says(&document, &["Point forecasts are medians", "Intervals allow for future innovations"]);
    assert_eq!(column(&document, "Lower 95 %").len(), 3);
    says(&document, &["--ahead 3 --figure forecast.svg", "kandrel compare a.csv x --model '(0,1,1)'"]);
    never_says(&document, &["negative values", "indicative", "autocorrelated"]);
    assert_eq!(forecast::text::answer(&forecasts(&[], 1.0)), "x has no forecast.");
}

#[test]
fn a_forecast_is_cautious_where_there_is_reason() {
    let mut result = forecasts(&[5.0; 30], 20.0);
    result.white_noise_p = Some(0.001);
    result.heteroskedastic = true;
    result.warnings = vec![ModelWarning::Cancelling];
    let document = forecast::document(&result, &typed(Name::Forecast));
    let cautions = [
        "residuals of the model are autocorrelated (Ljung-Box, p = 0.0010)",
        "The residual variance changes over time",
        "the AR and MA polynomials have near common factors",
        "includes negative values, which x has never taken",
        "x:ln",
        "the forecast is indicative only",
    ];
    says(&document, &cautions);
}

#[test]
fn forecasts_that_came_true_are_counted() {
    let mut result = forecasts(&[100.0, 100.0, 100.0, 100.0], 10.0);
    for (step, actual) in result.steps.iter_mut().zip([101.0, 107.0, 115.0, 99.0]) {
        step.actual = Some(actual);
    }
    let coverage = [(68.0, 2), (95.0, 3)].map(|(level, inside)| Coverage { level, inside }).to_vec();
    result.accuracy = Some(Outcome { known: 4, coverage, errors: accuracy(8.0) });
    let document = forecast::document(&result, &typed(Name::Forecast));
    says(&document, &["Of 4 actual values, the 68 % interval contains 2 and the 95 % interval contains 3"]);
    assert_eq!(column(&document, "Actual").len(), 4);
}

#[test]
fn intervals_without_an_end_and_forecasts_on_another_scale_are_reported() {
    let mut result = forecasts(&[100.0, 101.0], 10.0);
    result.transform = Some("ln".to_owned());
    result.with = (0..5).map(|k| format!("r{k}")).collect();
    result.point = "mean";
    for step in &mut result.steps {
        step.intervals[1].upper = None;
    }
    let answer = forecast::text::answer(&result);
    assert!(answer.contains("(95 % prediction interval above 91.00)"), "{answer}");
    assert!(answer.contains("(0,1,1) with 5 regressors fitted to x"), "{answer}");
    let document = forecast::document(&result, &typed(Name::Forecast));
    says(&document, &["A missing limit does not exist", "Point forecasts are expected values"]);
    assert_eq!(column(&document, "Mean").len(), 2);
}

#[test]
fn drawn_paths_are_a_column_each_and_what_is_no_number_is_missing() {
    let mut result = forecasts(&[1.0, 2.0], 1.0);
    result.paths = Some(vec![vec![Some(1.1), None], vec![Some(0.9), Some(2.5)]]);
    result.seed = Some(7);
    let table = forecast::paths(&result, "month");
    assert_eq!(column(&table, "path_1"), ["Exact(1.1)", "Missing"]);
    assert_eq!(column(&table, "path_2"), ["Exact(0.9)", "Exact(2.5)"]);
    says(&forecast::document(&result, &typed(Name::Forecast)), &["2 paths simulated from (0,1,1) (seed 7)"]);
}

fn rival(name: &str, model: Option<&str>, rmse: f64) -> CandidateResult {
    let candidate = model.map_or(name.to_owned(), |model| format!("{name} {model}"));
    let kind = if model.is_some() { CandidateKind::Model } else { CandidateKind::Benchmark };
    CandidateResult {
        candidate,
        kind,
        members: Vec::new(),
        series: model.map(|_| name.to_owned()),
        model: model.map(str::to_owned),
        with: Vec::new(),
        outlier_adjusted: false,
        parameters: model.map(|_| 2),
        log_likelihood: None,
        aic: None,
        aicc: model.map(|_| 10.0 * rmse),
        bic: model.map(|_| 10.0 * rmse),
        hq: None,
        group: model.map(|_| 0),
        white_noise_p: model.map(|_| 0.5),
        in_sample: None,
        held_out: Some(accuracy(rmse)),
        rolling: None,
        diebold_mariano: None,
    }
}

fn comparison(candidates: Vec<CandidateResult>, best: usize, best_rule: Option<f64>) -> CompareResult {
    let winner = &candidates[best];
    let value = winner.held_out.map_or(0.0, |errors| errors.rmse);
    let members: Vec<String> =
        candidates.iter().filter(|one| one.model.is_some()).map(|one| one.candidate.clone()).collect();
    let group = GroupResult {
        name: "x, d = 1, D = 0, 119 values".to_owned(),
        best: members.first().cloned().unwrap_or_default(),
        candidates: members,
    };
    let next = candidates.iter().find_map(|one| {
        Some(compare::facts::Best {
            series: one.series.clone()?,
            model: one.model.clone()?,
            with: one.with.clone(),
        })
    });
    CompareResult {
        diagnoses: Vec::new(),
        series: "x".to_owned(),
        observations: 120,
        best: BestResult { candidate: winner.candidate.clone(), by: "hold-out rmse", value, best_rule },
        comparable_groups: vec![group],
        candidates,
        sample: sample(),
        trial: Trial { rolling: None, held_back: Some(12) },
        repair_effects: Vec::new(),
        next,
    }
}

#[test]
fn a_model_that_wins_is_set_against_the_best_rule_and_the_next_model() {
    let all =
        vec![rival("x", Some("(0,1,1)"), 2.0), rival("x", Some("(1,1,0)"), 2.2), rival("naive", None, 4.0)];
    let result = comparison(all, 0, Some(4.0));
    let answer = compare::text::answer(&result);
    assert_eq!(
        answer,
        "x (0,1,1) has the lowest RMSE for x (2.000), 50 % below the best benchmark forecast. The RMSE of x (1,1,0) is \
         10.0 % higher."
    );
    let document = compare::document(&result, &typed(Name::Compare));
    assert_eq!(column(&document, "Hold-out").len(), 3);
    says(&document, &["Group a: x, d = 1", "also has the lowest AICc of the comparable models"]);
    says(&document, &["Next: kandrel forecast a.csv x --model '(0,1,1)'"]);
}

#[test]
fn a_model_within_sampling_variation_is_indistinguishable_from_the_benchmark() {
    let against = |p_value: f64| Comparison { difference: 0.2, statistic: 1.0, p_value };
    let of = |p_value: f64| {
        let rule = CandidateResult { diebold_mariano: Some(against(p_value)), ..rival("naive", None, 2.1) };
        compare::text::answer(&comparison(vec![rival("x", Some("(0,1,1)"), 2.0), rule], 0, Some(2.1)))
    };
    let chance = of(0.31);
    assert!(chance.starts_with("x (0,1,1) has the lowest RMSE for x (2.000)"), "{chance}");
    assert!(chance.contains("indistinguishable from the naive forecast (p = 0.31"), "{chance}");
    assert!(of(0.01).contains("below the best benchmark forecast"), "{}", of(0.01));
}

#[test]
fn a_benchmark_that_wins_is_named_first() {
    let all = vec![rival("x", Some("(0,1,1)"), 3.0), rival("naive", None, 2.0)];
    let answer = compare::text::answer(&comparison(all, 1, Some(2.0)));
    assert!(answer.contains("No model forecasts x better than the naive forecast (RMSE 2.000)."), "{answer}");
    assert!(answer.contains("The RMSE of x (0,1,1) is 50.0 % higher"), "{answer}");
}

#[test]
fn an_average_is_named_by_the_number_of_its_models_and_says_what_it_gains() {
    let average = CandidateResult {
        kind: CandidateKind::Average,
        members: ["x (0,1,1)", "x (1,1,0)"]
            .map(|model| compare::WeightedCandidate { model: model.to_owned(), weight: 0.5 })
            .to_vec(),
        ..rival("average", None, 1.9)
    };
    let all = vec![
        rival("x", Some("(0,1,1)"), 2.0),
        rival("x", Some("(1,1,0)"), 2.2),
        average,
        rival("naive", None, 4.0),
    ];
    let result = comparison(all, 2, Some(4.0));
    let answer = compare::text::answer(&result);
    assert!(answer.starts_with("The average of 2 models has the lowest RMSE for x (1.900)"), "{answer}");
    says(
        &compare::document(&result, &typed(Name::Compare)),
        &[
            "the weighted mean of the forecasts of x (0,1,1) (50\u{a0}%) and x (1,1,0) (50\u{a0}%); its RMSE is 5.0 % below that of the best single model",
        ],
    );
}

#[test]
fn errors_are_ranked_and_rows_of_rules_have_no_criteria() {
    let all =
        vec![rival("naive", None, 4.0), rival("x", Some("(1,1,0)"), 3.0), rival("x", Some("(0,1,1)"), 2.0)];
    let document = compare::document(&comparison(all, 2, Some(4.0)), &typed(Name::Compare));
    let ranked = column(&document, "Hold-out");
    assert!(ranked[0].contains("(0,1,1)") && ranked[2].contains("naive"), "{ranked:?}");
    assert_eq!(column(&document, "ΔAICc").len(), 2);
    assert_eq!(column(&document, "Rel. RMSE")[0], "Number { value: 1.0, decimals: 2 }");
}

#[test]
fn the_evaluation_is_described_from_the_facts() {
    let all = || vec![rival("x", Some("(0,1,1)"), 2.0), rival("naive", None, 4.0)];
    let mut result = comparison(all(), 0, Some(4.0));
    says(
        &compare::document(&result, &typed(Name::Compare)),
        &["2001-01 to 2010-12; hold-out sample of the last 12 observations."],
    );
    let rolling = |fixed| RollingTrial {
        origins: 24,
        first_origin: "2008-12".to_owned(),
        last_origin: "2010-11".to_owned(),
        ahead: 1,
        fixed,
    };
    result.trial = Trial { rolling: Some(rolling(true)), held_back: None };
    let fixed = "24 rolling origins from 2008-12 to 2010-11, 1 period ahead, parameters of the first origin.";
    says(&compare::document(&result, &typed(Name::Compare)), &[fixed]);
    result.trial = Trial { rolling: Some(rolling(false)), held_back: Some(12) };
    says(
        &compare::document(&result, &typed(Name::Compare)),
        &["parameters re-estimated; hold-out sample of the last 12"],
    );
}

#[test]
fn the_effect_of_replaced_outliers_has_its_sign() {
    let effect =
        |before: f64, after: f64| RepairEffect { candidate: "x:repair (0,1,1)".to_owned(), before, after };
    let mut result = comparison(vec![rival("x", Some("(0,1,1)"), 2.0)], 0, None);
    result.repair_effects = vec![effect(2.0, 1.5), effect(2.0, 2.5)];
    let document = compare::document(&result, &typed(Name::Compare));
    says(&document, &["x:repair (0,1,1) is 25.0 % lower (2.000 before, 1.500 after)", "25.0 % higher"]);
}
