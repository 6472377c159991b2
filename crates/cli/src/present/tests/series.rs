//! One series at a time: verdict, autocorrelation, randomness, outliers, overviews.

use kandrel_core::corr::{AcfOptions, Finding, Pattern, acf as functions};
use kandrel_core::diagnosis::Diagnosis;
use kandrel_core::outlier::{EventKind, Method, Repair};
use kandrel_core::randomness::{Departure, RandomnessOptions, randomness_tests};
use kandrel_core::series::SeriesWithGaps;
use kandrel_core::verdict::{AssessOptions, Class, Confidence, Seasonality, assess};

use super::*;
use crate::present::diagnosis::{DiagnosisResult, DifferencesResult};
use crate::present::outliers;
use crate::present::outliers::facts::{FoundResult, OutliersResult, RepairedResult};
use crate::present::screen::{self, ScreenRow};
use crate::present::stationarity::{self, Setting, StationarityFindings, StationarityResult};
use crate::present::{acf, randomness, transform};

/// The verdict on values in the contract's form, without tests of one's own.
fn judged(values: Vec<f64>, season: usize) -> StationarityResult {
    let series = monthly(values);
    let options = AssessOptions { season, ..AssessOptions::default() };
    let assessment = assess(&series.values, &options).expect("a verdict");
    let diagnosis = Diagnosis::from_assessment(&series.values, season, assessment);
    let found = StationarityFindings {
        diagnosis: &diagnosis,
        shown: Vec::new(),
        left_out: Vec::new(),
        moments: None,
        root_found_by_adf: None,
    };
    let call = typed(Name::Stationarity);
    stationarity::result(&series, &found, Setting { call: &call, alpha: 0.05, bootstrap: None })
}

fn trend(mut values: Vec<f64>, slope: f64) -> Vec<f64> {
    for (t, value) in values.iter_mut().enumerate() {
        *value += slope * t as f64;
    }
    values
}

#[test]
fn each_kind_of_series_has_its_own_sentence_and_its_own_next_call() {
    let twice = {
        let mut level = 0.0;
        let step = |change: f64| {
            level += change;
            level
        };
        walk(300, 21).into_iter().map(step).collect::<Vec<f64>>()
    };
    let shifted = noise(200, 22).into_iter().enumerate().map(|(t, e)| if t < 120 { e } else { e + 8.0 });
    for (values, class, integration, says, next) in [
        (noise(200, 23), Class::Stationary, 0, "stationary around a constant mean", "kandrel acf a.csv x "),
        (
            trend(noise(200, 24), 0.3),
            Class::TrendStationary,
            0,
            "model the trend, do not difference",
            "x:detrend",
        ),
        (walk(300, 25), Class::DifferenceStationary, 1, "has a unit root: difference once (I(1))", "x:d1"),
        (twice, Class::DifferenceStationary, 2, "has two unit roots: difference twice (I(2))", "x:d1,d1"),
        (shifted.collect(), Class::TrendBreak, 0, "allow for the break", "--sample 2011-"),
    ] {
        let verdict = judged(values, 1).verdict;
        assert_eq!((verdict.class, verdict.integration), (class, integration), "{}", verdict.sentence);
        assert!(verdict.sentence.contains(says), "{says:?}: {}", verdict.sentence);
        let calls: Vec<String> = verdict.next.iter().map(ToString::to_string).collect();
        assert!(calls.iter().any(|call| call.contains(next)), "{next:?}: {calls:?}");
        assert!(verdict.reasons.iter().all(|reason| reason.ends_with('.')), "{:?}", verdict.reasons);
    }
}

#[test]
fn few_observations_are_said_first() {
    let reasons = judged(noise(40, 26), 1).verdict.reasons;
    assert!(reasons[0].starts_with("With 40 observations the power"), "{reasons:?}");
    let many = judged(noise(150, 26), 1).verdict.reasons;
    assert!(!many[0].contains("observations"), "{many:?}");
}

#[test]
fn probabilities_of_the_candidates_sum_to_one_and_stand_in_order() {
    let verdict = judged(walk(150, 27), 1).verdict;
    let each: Vec<f64> = verdict.models.iter().map(|one| one.probability).collect();
    assert!((each.iter().sum::<f64>() - 1.0).abs() < 1e-9);
    assert!(each.windows(2).all(|pair| pair[0] >= pair[1]), "{each:?}");
    assert!(verdict.largest_root.low <= verdict.largest_root.high);
}

#[test]
fn several_series_are_grouped_by_their_order_and_tested_together() {
    let mut results = [judged(walk(300, 25), 1), judged(walk(300, 28), 1), judged(noise(200, 23), 1)];
    for (result, name) in results.iter_mut().zip(["a", "b", "c"]) {
        name.clone_into(&mut result.series);
    }
    let all: Vec<&StationarityResult> = results.iter().collect();
    let document = stationarity::overview(&all, &typed(Name::Stationarity));
    says(&document, &["Of 3 series: 1 I(0), 2 I(1).", "I(1): a and b. Test these together"]);
    says(
        &document,
        &["I(0): c. These cannot be cointegrated", "Next: kandrel cointegration a.csv a b --sample 2001.."],
    );
    assert_eq!(column(&document, "d"), ["Count(1)", "Count(1)", "Count(0)"]);
    let alike = stationarity::overview(&all[..2], &typed(Name::Stationarity));
    says(&alike, &["All are I(1)"]);
    let quiet = stationarity::overview(&[all[2], all[2]], &typed(Name::Stationarity));
    says(&quiet, &["All are I(0)", "kandrel lags a.csv c c --causality"]);
}

fn acf_result(values: Vec<f64>, findings: Vec<Finding>, season: usize) -> acf::AcfResult {
    let series = monthly(values);
    let options = AcfOptions { season, ..AcfOptions::default() };
    let functions = functions(&series.values, &options).expect("functions");
    acf::result(&SeriesWithGaps::from(series), functions, findings, season)
}

#[test]
fn the_first_sentence_of_the_autocorrelation_follows_from_its_findings() {
    let dies = Finding::DiesOut;
    let season = |lasting| Finding::Seasonal { season: 12, acf: 0.6, lasting };
    let average = Finding::SeasonalAverage { season: 12, acf: -0.4 };
    let of = |pattern| Finding::Suggests(pattern);
    let lasts = Finding::DoesNotDieOut { lag: 12, acf: 0.8 };
    for (findings, text) in [
        (vec![Finding::NoAutocorrelation { lags: 24, p_value: 0.6 }], "shows no autocorrelation"),
        (vec![Finding::TooFew { observations: 8 }], "too short for an interpretation: 8 observations"),
        (vec![lasts], "decays slowly."),
        (vec![lasts, season(true)], "decays slowly and repeats every 12 lags."),
        (vec![lasts, season(false)], "decays slowly, with seasonality of period 12."),
        (vec![dies, season(true)], "repeats every 12 lags with little decay."),
        (vec![dies, of(Pattern::Autoregression(2))], "its pattern is that of AR(2)"),
        (
            vec![dies, average, of(Pattern::MovingAverage(1))],
            "MA(1) with a seasonal moving average at lag 12",
        ),
        (vec![dies, of(Pattern::Either(1))], "AR(1) or MA(1)"),
        (vec![dies, of(Pattern::Mixed)], "an ARMA model"),
        (vec![dies, average], "is that of white noise with a seasonal moving average"),
        (vec![dies], "decays to zero."),
    ] {
        let result = acf_result(noise(100, 31), findings, 12);
        let answer = acf::answer(&result);
        assert!(answer.contains(text), "{text:?}: {answer}");
        // Every finding has a sentence of its own.
        assert_eq!(result.reading.len(), result.findings.len());
        assert!(result.reading.iter().all(|sentence| sentence.ends_with('.')), "{:?}", result.reading);
    }
}

/// A diagnosis of these differences.
fn diagnosis(integration: usize, seasonal: Option<usize>, seasonality: Seasonality) -> DiagnosisResult {
    DiagnosisResult {
        transformed: None,
        observations: 120,
        filled: 0,
        season: 12,
        transformation: "none".to_owned(),
        runner_up: None,
        deterministic: Vec::new(),
        seasonalities: Vec::new(),
        cycle: None,
        suggested_season: None,
        outliers: Vec::new(),
        fractional_d: None,
        largest_root: [0.5, 0.8],
        integration,
        seasonal_integration: seasonal,
        class: Class::DifferenceStationary,
        break_at: None,
        confidence: Confidence::Moderate,
        probability: 0.83,
        seasonality,
        seasonal_coefficient: None,
        pattern_changes_at: None,
        differences: vec![DifferencesResult {
            d: integration,
            seasonal: seasonal.unwrap_or(0),
            probability: 0.83,
        }],
    }
}

#[test]
fn the_assessment_decides_what_the_autocorrelation_is_called_and_which_differences_are_next() {
    let lasts = Finding::DoesNotDieOut { lag: 12, acf: 0.8 };
    let seasonal = Finding::Seasonal { season: 12, acf: 0.6, lasting: true };
    let of = |findings: Vec<Finding>, diagnosis: DiagnosisResult| {
        let result = acf_result(noise(100, 31), findings, 12);
        let result = acf::AcfResult { diagnosis: Some(diagnosis), ..result };
        (acf::answer(&result), said(&acf::document(&result, &typed(Name::Acf))))
    };
    let (answer, text) = of(vec![lasts], diagnosis(1, None, Seasonality::None));
    assert!(answer.ends_with("decays slowly, consistent with a unit root."), "{answer}");
    assert!(
        text.contains("Next: kandrel acf a.csv x:d1") || text.contains("kandrel acf a.csv x:d1"),
        "{text}"
    );
    let (answer, text) = of(vec![lasts, seasonal], diagnosis(1, Some(1), Seasonality::UnitRoots));
    assert!(answer.contains("consistent with a unit root and seasonal unit roots"), "{answer}");
    assert!(text.contains("kandrel acf a.csv x:d1,d12"), "{text}");
    // What the assessment calls stationary is not called anything else by a slow decay.
    let (answer, text) = of(vec![lasts], diagnosis(0, Some(0), Seasonality::Deterministic));
    assert!(answer.contains("finds no unit root (probability 0.83, confidence moderate)"), "{answer}");
    assert!(!text.contains("kandrel acf"), "{text}");
    // Nor does a fast one hide the unit root that the assessment finds.
    let (answer, _) = of(vec![Finding::DiesOut], diagnosis(1, None, Seasonality::None));
    assert!(
        answer.ends_with(
            "decays to zero; the joint assessment finds a unit root (probability 0.83, confidence moderate)."
        ),
        "{answer}"
    );
    let (answer, _) = of(vec![Finding::DiesOut], diagnosis(0, None, Seasonality::None));
    assert!(answer.ends_with("decays to zero."), "{answer}");
    let alone = acf_result(noise(100, 31), vec![lasts], 12);
    assert!(!said(&acf::document(&alone, &typed(Name::Acf))).contains("kandrel acf"));
}

#[test]
fn the_line_of_the_assessment_has_differences_probability_and_seasonality() {
    for (own, line) in [
        (
            diagnosis(1, Some(1), Seasonality::UnitRoots),
            "(d, D) = (1, 1) (probability 0.83, confidence moderate); seasonal unit",
        ),
        (
            diagnosis(0, Some(0), Seasonality::Deterministic),
            "(d, D) = (0, 0) (probability 0.83, confidence moderate); determ",
        ),
        (diagnosis(0, Some(0), Seasonality::Stationary), "; stationary seasonality."),
        (
            diagnosis(2, None, Seasonality::None),
            "d = 2 (probability 0.83, confidence moderate); no seasonality.",
        ),
    ] {
        assert!(own.line().contains(line), "{line:?}: {}", own.line());
    }
    let changing = DiagnosisResult {
        pattern_changes_at: Some("2004-01".to_owned()),
        probability: 0.999,
        ..diagnosis(0, Some(0), Seasonality::ChangingPattern)
    };
    assert!(changing.line().contains("whose pattern changes once"), "{}", changing.line());
    assert!(changing.line().contains("probability above 0.99"), "{}", changing.line());
    let rival = |seasonal, probability| {
        let runner_up = Some(DifferencesResult { d: 1, seasonal, probability });
        DiagnosisResult { runner_up, ..diagnosis(0, None, Seasonality::None) }.summary()
    };
    assert!(rival(0, 0.17).contains(", runner-up d = 1 with 0.17)"), "{}", rival(0, 0.17));
    assert!(rival(1, 0.12).contains(", runner-up (d, D) = (1, 1) with 0.12)"), "{}", rival(1, 0.12));
    assert!(!rival(1, 0.09).contains("runner-up"), "{}", rival(1, 0.09));
    let unseasonal = DiagnosisResult { season: 1, ..diagnosis(1, None, Seasonality::None) };
    assert!(unseasonal.line().ends_with("confidence moderate)."), "{}", unseasonal.line());
    assert_eq!(diagnosis(2, Some(1), Seasonality::UnitRoots).steps(12), ["d1", "d1", "d12"]);
}

#[test]
fn a_test_that_contradicts_the_assessment_is_named_in_the_first_sentence() {
    let mut contradicted = 0;
    for seed in 0..30 {
        // A root near one: the tests and the model comparison often differ.
        let mut values = noise(120, 900 + seed);
        for t in 1..values.len() {
            values[t] += 0.93 * values[t - 1];
        }
        let series = monthly(values);
        let assessment = assess(&series.values, &AssessOptions::default()).expect("a verdict");
        let sentence = stationarity::answer(&series, &assessment);
        let rejects = assessment.stages[0].unit_root.decision(0.05) == Some(true);
        let differs = match (assessment.verdict.class, assessment.verdict.integration) {
            (Class::Stationary, 0) => !rejects,
            (Class::DifferenceStationary, 1) => rejects,
            _ => continue,
        };
        contradicted += usize::from(differs);
        assert_eq!(differs, sentence.contains("although ADF"), "{sentence}");
    }
    assert!(contradicted >= 2, "{contradicted}");
}

#[test]
fn lags_outside_the_band_have_their_star_and_seasonal_ones_their_mark() {
    let mut seasonal = noise(240, 32);
    for t in 12..seasonal.len() {
        seasonal[t] += 0.8 * seasonal[t - 12];
    }
    let result = acf_result(seasonal, vec![Finding::DiesOut], 12);
    let document = acf::document(&result, &typed(Name::Acf));
    let table = document.tables().next().expect("a table");
    let row = &table.texts(|cell| format!("{cell:?}"))[11];
    assert_eq!(
        (row[0].as_str(), row[1].as_str(), row[3].as_str()),
        ("Count(12)", "Text(\"s\")", "Text(\"*\")")
    );
}

/// The tests of randomness on values, at 5 %.
fn tested(values: Vec<f64>) -> (randomness::RandomnessResult, Document) {
    let series = monthly(values);
    let randomness_tests = randomness_tests(&series.values, &RandomnessOptions::default()).expect("tests");
    let result = randomness::result(&series, &randomness_tests, "mean", 0.05);
    let document = randomness::document(&result, &series, &typed(Name::Randomness));
    (result, document)
}

#[test]
fn departures_from_randomness_are_distinguished() {
    let (random, document) = tested(noise(200, 41));
    assert!(
        random.departures.is_empty() && random.reading.contains("is not rejected by any test"),
        "{}",
        random.reading
    );
    never_says(&document, &["Next:"]);
    let (trending, document) = tested(trend(noise(200, 42), 0.05));
    assert!(trending.departures.contains(&Departure::Trend), "{}", trending.reading);
    says(&document, &["is not random: it has a trend", "Rank trend: later values are higher", "Next:"]);
    let alternating: Vec<f64> =
        noise(200, 43).iter().enumerate().map(|(t, e)| if t % 2 == 0 { e + 2.0 } else { e - 2.0 }).collect();
    let (dependent, document) = tested(alternating);
    assert!(dependent.departures.contains(&Departure::Dependence));
    says(&document, &["too many runs: values alternate"]);
    let skewed: Vec<f64> = noise(200, 44).iter().map(|e| (1.2 * e).exp()).collect();
    let (skewed, document) = tested(skewed);
    assert_eq!(skewed.departures, [Departure::NotNormal]);
    says(&document, &["is not rejected at 5 %, allowing for 9 tests, but normality is"]);
    never_says(&document, &["Next:"]);
}

#[test]
fn an_adjusted_p_value_is_never_below_its_own() {
    let (result, document) = tested(walk(150, 45));
    for test in &result.tests {
        assert!(test.p_adjusted.is_none_or(|adjusted| adjusted >= test.line.p_value), "{}", test.line.name);
    }
    // The parts of the joint variance ratio have no say of their own.
    let parts = result.tests.iter().filter(|test| test.line.test == "variance_ratio");
    assert!(parts.clone().count() > 1 && parts.clone().all(|test| test.p_adjusted.is_none()));
    assert_eq!(column(&document, "Test").len(), result.tests.len());
}

fn odd(period: &str, place: usize, value: f64, kind: EventKind) -> FoundResult {
    FoundResult {
        period: period.to_owned(),
        value,
        expected: 10.0,
        score: 5.0,
        methods: vec![Method::Likelihood],
        kind,
        scores: [("likelihood", 5.0)].into(),
        place,
    }
}

fn searched(found: Vec<FoundResult>, suspected: Vec<FoundResult>) -> OutliersResult {
    OutliersResult {
        diagnosis_after_replacement: None,
        flagged_alone: std::collections::BTreeMap::new(),
        transformation: "none".to_owned(),
        diagnosis: None,
        series: "x".to_owned(),
        observations: 60,
        methods: vec![Method::Seasonal, Method::Likelihood],
        methods_required: 2,
        threshold: 4.0,
        threshold_level_shift: 5.0,
        outliers: found,
        candidates: suspected,
        replacement: Repair::Interpolate,
        replaced: Vec::new(),
        first_tested: None,
        sample: sample(),
        expected: vec![10.0; 60],
    }
}

#[test]
fn outliers_and_shifts_are_reported_with_size_and_side() {
    let spike = || odd("2002-03", 14, 14.5, EventKind::Additive);
    let shift = || odd("2003-01", 24, 7.0, EventKind::LevelShift);
    for (found, text) in [
        (vec![], "x has no outliers."),
        (vec![spike()], "x has 1 outlier: 2002-03 (4.500 above its expected value)."),
        (vec![shift()], "x has 1 level shift: by 3.000 down from 2003-01 on."),
        (vec![spike(), shift()], "(4.500 above its expected value); and 1 level shift"),
    ] {
        let answer = outliers::text::answer(&searched(found, vec![]));
        assert!(answer.contains(text), "{text:?}: {answer}");
    }
}

#[test]
fn what_was_replaced_is_reported_and_leads_to_the_series_without_it() {
    let series = monthly(noise(60, 51));
    let fading = odd("2002-03", 14, 14.5, EventKind::TemporaryChange);
    let mut result = searched(vec![fading], vec![odd("2001-05", 4, 12.0, EventKind::Additive)]);
    let call = typed(Name::Outliers);
    says(&outliers::document(&result, &series, &call), &["Next: kandrel stationarity a.csv x "]);
    let replaced = RepairedResult { period: "2002-03".to_owned(), from: 14.5, to: 10.0, place: 14 };
    result.replaced = vec![replaced];
    let document = outliers::document(&result, &series, &call);
    says(
        &document,
        &["Replaced by linear interpolation", "2002-03 14.50 → 10.00", "--out repaired.csv", "x:repair"],
    );
    says(&document, &["decays over the following periods"]);
    // In order of time, marks first where they belong.
    assert_eq!(column(&document, "Period"), ["Text(\"2001-05\")", "Text(\"2002-03\")"]);
    assert_eq!(column(&document, ""), ["Text(\"○\")", "Text(\"●\")"]);
    let data = outliers::data(&[result], &[series], "month");
    assert_eq!(column(&data, "x")[14], "Exact(10.0)");
    assert_eq!(column(&data, "x type")[14], "Text(\"TC\")");
    assert_eq!(column(&data, "x type")[4], "Missing");
}

fn row(series: &str, class: Class, look: bool) -> ScreenRow {
    ScreenRow {
        source: "a.csv".to_owned(),
        series: series.to_owned(),
        transform: Some("ln".to_owned()),
        integration: Some(1),
        class: Some(class),
        confidence: Some(Confidence::High),
        review: look,
        reasons: if look { vec!["the confidence of the verdict is low".to_owned()] } else { Vec::new() },
        ..ScreenRow::default()
    }
}

#[test]
fn a_screen_counts_kinds_and_points_at_the_first_series_to_look_at() {
    let rows = [
        row("a", Class::DifferenceStationary, false),
        row("b", Class::Inconclusive, true),
        screen::failed("a.csv", "c", None, "the series is constant"),
    ];
    let document = screen::document(&rows, &typed(Name::Screen));
    says(
        &document,
        &["Of 3 series: 1 with a unit root, 1 inconclusive, 1 without a diagnosis; 2 flagged for review."],
    );
    says(
        &document,
        &[
            "Interpretation: b: the confidence of the verdict is low",
            "Interpretation: c: the series is constant",
        ],
    );
    says(&document, &["Next: kandrel stationarity a.csv b:ln --sample 2001.."]);
    // Without a model there is no column for one.
    let heads: Vec<&str> =
        document.tables().next().expect("a table").columns.iter().map(|c| c.label.as_str()).collect();
    assert_eq!(heads, ["Series", "Transform", "Class", "d", "D", ""]);
}

#[test]
fn a_row_of_many_files_names_the_file_of_its_own() {
    let other = ScreenRow { source: "b.csv".to_owned(), ..row("b", Class::Inconclusive, true) };
    let document = screen::document(&[row("a", Class::Stationary, false), other], &typed(Name::Screen));
    says(&document, &["Next: kandrel stationarity b.csv b:ln"]);
}

#[test]
fn cells_of_a_row_stand_under_their_heads_and_formulas_stay_text() {
    let mut one = row("=x", Class::TrendStationary, true);
    one.with = vec!["trend".to_owned(), "seasons".to_owned()];
    one.white_noise_p = Some(0.25);
    one.outliers = Some(vec!["2001-02".to_owned(), "2001-07".to_owned()]);
    let cells = one.cells();
    let cell = |head: &str| {
        let place = screen::COLUMNS.iter().position(|(name, _)| *name == head).expect("a column");
        cells[place].as_str()
    };
    assert_eq!((cell("series"), cell("class"), cell("confidence")), ("'=x", "trend_stationary", "high"));
    assert_eq!(
        (cell("with"), cell("outliers"), cell("white_noise_p")),
        ("trend,seasons", "2001-02 2001-07", "0.25")
    );
    assert_eq!((cell("review"), cell("error"), cell("season")), ("true", "", ""));
    // The JSON has the same fields in the same order.
    let json = serde_json::to_value(&one).expect("JSON");
    let fields: Vec<&String> = json.as_object().expect("an object").keys().collect();
    assert!(fields.iter().map(|field| field.as_str()).eq(screen::COLUMNS.iter().map(|(head, _)| *head)));
}

#[test]
fn computed_columns_meet_at_their_periods() {
    let long = SeriesWithGaps::from(monthly(vec![1.0, 2.0, 3.0]));
    let mut late = SeriesWithGaps::from(monthly(vec![5.0, 6.0]));
    late.name = "`tug hours`".to_owned();
    late.start = late.start.offset(2);
    let document = transform::document(&[long, late], "month");
    assert_eq!(column(&document, "month").len(), 4);
    assert_eq!(column(&document, "x"), ["Exact(1.0)", "Exact(2.0)", "Exact(3.0)", "Missing"]);
    assert_eq!(column(&document, "tug hours"), ["Missing", "Missing", "Exact(5.0)", "Exact(6.0)"]);
    says(&document, &["2 columns from 2001-01 to 2001-04"]);
}
