//! The answer, its reasons in the order of the argument, and what to run next.

use kandrel_core::nulldist::Terms;
use kandrel_core::series::Series;
use kandrel_core::shape::TransformationAdvice;
use kandrel_core::unitroot::{Moments, Note, TermsChoice, TermsReason, TestName, UnitRootTest};
use kandrel_core::verdict::candidates::{CandidateModel, CandidateProbability, ModelClass};
use kandrel_core::verdict::{
    Assessment, Caveat, Class, DifferenceTests, JointPosterior, OrdersProbability, Reading, SeasonFinding,
    Seasonality,
};

use super::StationarityFindings;
use super::terms;
use super::test::{caveat, what_differenced};
use crate::call::{Call, Name};
use crate::wording;
use crate::wording::{number, test_names};

/// The answer in one sentence, with what disagrees.
pub fn answer(series: &Series, assessment: &Assessment) -> String {
    let (name, verdict) = (&series.name, &assessment.verdict);
    let (roots, times) =
        if verdict.integration == 1 { ("a unit root", "once") } else { ("two unit roots", "twice") };
    let d = verdict.integration;
    let season = assessment.season.season;
    let with = seasonality(series, assessment);
    let disagreement = disagreement(assessment);
    let answer = match verdict.class {
        Class::DifferenceStationary => {
            format!("{name} has {roots}{with}: difference {times} (I({d}))")
        }
        Class::SeasonalUnitRoot if d == 0 => {
            format!(
                "{name} has seasonal unit roots (period {season}): take a seasonal difference (d = 0, D = 1)"
            )
        }
        Class::SeasonalUnitRoot => format!(
            "{name} has {roots} and seasonal unit roots (period {season}): difference {times} and at lag {season} \
             (d = {d}, D = 1)"
        ),
        Class::Stationary if with.is_empty() => {
            format!("{name} is stationary around a constant mean: no difference is needed (I(0))")
        }
        Class::Stationary => format!("{name} is stationary around a constant mean{with} (I(0))"),
        Class::TrendStationary => format!(
            "{name} is stationary around a linear trend{with}: model the trend, do not difference (I(0))"
        ),
        Class::TrendBreak => format!(
            "{name} is stationary around {} after {}{with}: allow for the break, do not difference (I(0))",
            broken(assessment),
            assessment.break_at.map_or(String::new(), |place| series.period(place).to_string())
        ),
        Class::LongMemory => format!(
            "{name} has long memory{with}, d = {}: the effects of innovations decay slowly, without a unit \
              root",
            number(verdict.fractional_d.unwrap_or(0.0), 2)
        ),
        Class::Inconclusive if without_root(assessment) >= SETTLED && verdict.integration == 0 => format!(
            "{name} has no unit root (probability {}){with}; whether it is stationary around a mean, a trend or a \
             break is not settled (I(0))",
            wording::probability(without_root(assessment))
        ),
        Class::Inconclusive => {
            format!("The evidence on {name} is inconclusive{with}; {}", most_probable(assessment))
        }
    };
    format!("{answer}{disagreement}.")
}

/// The seasonality that is no unit root, as a clause.
fn seasonality(series: &Series, assessment: &Assessment) -> String {
    let season = &assessment.season;
    let changes =
        season.changed_at.map_or(String::new(), |place| format!(" that changes in {}", series.period(place)));
    match season.seasonality {
        Seasonality::None | Seasonality::UnitRoots => String::new(),
        Seasonality::Deterministic | Seasonality::ChangingPattern => {
            format!(", with deterministic seasonality (period {}){changes}", season.season)
        }
        Seasonality::Stationary => format!(", with stationary seasonality (period {})", season.season),
    }
}

/// The most probable reading of an inconclusive series, and the runner-up in its differences.
fn most_probable(assessment: &Assessment) -> String {
    let verdict = &assessment.verdict;
    let reading = match (verdict.kind, verdict.seasonal_integration) {
        (ModelClass::Broken, _) => "a structural break in an otherwise stationary series".to_owned(),
        (_, Some(seasonal)) => format!("(d, D) = ({}, {seasonal})", verdict.integration),
        _ => format!("I({})", verdict.integration),
    };
    format!("{reading} is the most probable (probability {})", wording::probability(verdict.probability))
}

/// Where a displayed test contradicts the model comparison: the test, and what it says.
fn disagreement(assessment: &Assessment) -> String {
    let verdict = &assessment.verdict;
    let mut clauses = Vec::new();
    let settled = verdict.class != Class::Inconclusive;
    if settled && verdict.caveats.contains(&Caveat::TestContradicts) {
        clauses.extend(contradiction(assessment));
    }
    let hegy =
        assessment.season.roots.as_ref().filter(|_| assessment.season.seasonality == Seasonality::UnitRoots);
    clauses
        .extend(hegy.filter(|test| test.rejects(LEVEL)).map(|test| {
            format!("HEGY rejects seasonal unit roots ({})", wording::simulated_p(test.p_value))
        }));
    match clauses.as_slice() {
        [] => String::new(),
        some => format!(
            ", although {}; probability {}",
            some.join(" and "),
            wording::probability(verdict.probability)
        ),
    }
}

/// The unit-root test that contradicts the class.
fn contradiction(assessment: &Assessment) -> Option<String> {
    let integration = assessment.verdict.integration;
    let rejects = |stage: &&DifferenceTests| stage.unit_root.decision(LEVEL);
    let of = |stage: &DifferenceTests, verb: &str| {
        format!(
            "ADF {verb} a unit root in {} ({})",
            what_differenced(stage.differenced),
            wording::simulated_p(stage.unit_root.p_value)
        )
    };
    let stages = &assessment.stages;
    let rejected = stages.iter().take(integration).find(|stage| rejects(stage) == Some(true));
    let kept = stages.get(integration).filter(|stage| rejects(stage) == Some(false));
    rejected.map(|stage| of(stage, "rejects")).or_else(|| kept.map(|stage| of(stage, "does not reject")))
}

/// Differences with this probability are named with the most probable.
const RIVAL: f64 = 0.1;
/// The level at which HEGY rejects.
const LEVEL: f64 = 0.05;

/// From this total the order of integration is settled, though the kind is not.
const SETTLED: f64 = 0.75;

/// The probability of all kinds without a unit root.
fn without_root(assessment: &Assessment) -> f64 {
    [ModelClass::Stationary, ModelClass::TrendStationary, ModelClass::Broken]
        .into_iter()
        .map(|kind| assessment.candidates.probability(kind))
        .sum()
}

fn broken(assessment: &Assessment) -> &'static str {
    match assessment.candidates.best_of(ModelClass::Broken).map(|one| one.model) {
        Some(CandidateModel::MeanWithLevelBreak) => "a level that shifts",
        Some(CandidateModel::TrendWithLevelBreak) => "a trend whose level shifts",
        Some(CandidateModel::TrendWithSlopeBreak) => "a trend whose slope changes",
        _ => "a trend whose level and slope change",
    }
}

/// Each point of the interpretation with its numbers, the most important first.
pub fn reasons(series: &Series, found: &StationarityFindings<'_>, alpha: f64) -> Vec<String> {
    let assessment = &found.diagnosis.assessment;
    let mut reasons = Vec::new();
    reasons.extend(few(assessment.observations));
    reasons.extend(
        found.diagnosis.transformation.spread.as_ref().and_then(|spread| uneven(series, spread.advice)),
    );
    reasons.push(model_probabilities(series, assessment));
    reasons.push(confidence(found));
    reasons.extend(season(found));
    let stages = || assessment.stages.iter().take(assessment.verdict.integration.max(1) + 1);
    for stage in stages() {
        reasons.extend(of_stage(found, stage, alpha));
    }
    reasons.push(largest_root(assessment, found.root_found_by_adf));
    for stage in stages() {
        for test in [&stage.unit_root, &stage.stationarity] {
            let shown = found.shows(test.test, stage.differenced).then_some(test);
            reasons.extend(shown.into_iter().flat_map(|test| caveats(test, stage.differenced)));
        }
    }
    let with_adf = found.shows(TestName::Adf, 0);
    reasons.extend(assessment.terms_choice.map(|choice| terms(choice, with_adf)));
    reasons.extend(found.moments.as_ref().and_then(|moments| parts(moments, alpha)));
    reasons.extend(long_memory(assessment));
    reasons
}

fn few(observations: usize) -> Option<String> {
    match observations {
        0..50 => Some(format!(
            "With {observations} observations the power of the tests is low: a root of 0.9 is \
              indistinguishable from a unit root."
        )),
        50..100 => Some(format!(
            "With {observations} observations a root of 0.9 is hard to distinguish from a unit root."
        )),
        _ => None,
    }
}

fn uneven(series: &Series, advice: TransformationAdvice) -> Option<String> {
    let what = match advice {
        TransformationAdvice::Logarithm => "is proportional to its level: use logarithms",
        TransformationAdvice::BoxCox => "increases with its level: use a Box-Cox transformation",
        _ => return None,
    };
    Some(format!("The standard deviation of {} {what}, as the tests assume homoskedasticity.", series.name))
}

fn season(found: &StationarityFindings<'_>) -> Option<String> {
    let season = &found.diagnosis.assessment.season;
    let hegy = if found.shows(TestName::Hegy, 0) { hegy(season) } else { String::new() };
    let kind = match season.seasonality {
        Seasonality::None => return no_season(season),
        Seasonality::Deterministic => "deterministic: a fixed pattern, removed before the tests".to_owned(),
        Seasonality::ChangingPattern => {
            "deterministic with a pattern that changes once; both patterns are removed before the tests"
                .to_owned()
        }
        Seasonality::Stationary => format!(
            "stationary: a seasonal autoregressive coefficient of {}, filtered out before the tests",
            number(season.coefficient.unwrap_or_default(), 2)
        ),
        Seasonality::UnitRoots => {
            "stochastic with seasonal unit roots; the tests are of the seasonal difference".to_owned()
        }
    };
    let orders = season.posterior.as_ref().map_or(String::new(), |one| format!(" {}.", orders(one)));
    Some(format!("The seasonality (period {}) is {kind}.{orders}{hegy}", season.season))
}

/// The pairs of differences with a tenth of the probability or more.
fn orders(posterior: &JointPosterior) -> String {
    let of = |one: &OrdersProbability| {
        let [d, seasonal] = one.differences;
        format!("(d, D) = ({d}, {seasonal}) {}", wording::probability(one.probability))
    };
    let rivals = posterior.orders.iter().skip(1).filter(|one| one.probability >= RIVAL);
    let all: Vec<String> = posterior.orders.iter().take(1).chain(rivals).map(of).collect();
    format!("Joint posterior by exact likelihood: {}", all.join(", "))
}

/// The test of seasonal unit roots in its own direction, and whether the model comparison agrees.
fn hegy(season: &SeasonFinding) -> String {
    let Some(roots) = &season.roots else {
        return String::new();
    };
    let p = wording::simulated_p(roots.p_value);
    match (roots.rejects(LEVEL), season.seasonality == Seasonality::UnitRoots) {
        (true, true) => format!(" HEGY disagrees: it rejects unit roots at the seasonal frequencies ({p})."),
        (true, false) => format!(" HEGY rejects unit roots at the seasonal frequencies ({p})."),
        (false, true) => format!(" HEGY does not reject unit roots at the seasonal frequencies ({p})."),
        (false, false) => format!(
            " HEGY does not reject unit roots at the seasonal frequencies ({p}); the model comparison favours none."
        ),
    }
}

fn no_season(season: &SeasonFinding) -> Option<String> {
    let posterior = season.posterior.as_ref()?;
    let (_, probability) = posterior.seasonality.first()?;
    Some(format!(
        "No seasonality is detected (probability {}). {}.",
        wording::probability(*probability),
        orders(posterior)
    ))
}

/// The most probable models, with their probabilities.
fn model_probabilities(series: &Series, assessment: &Assessment) -> String {
    let lost = assessment.season.lost();
    let of = |one: &CandidateProbability| {
        let at =
            one.before.map_or(String::new(), |before| format!(" after {}", series.period(before + lost - 1)));
        format!("{}{at} {}", model_name(one.model), wording::probability(one.probability))
    };
    let told: Vec<String> = assessment
        .candidates
        .candidates
        .iter()
        .take(4)
        .filter(|one| one.probability >= 0.01)
        .map(of)
        .collect();
    format!(
        "Posterior probabilities of twelve models (exact likelihood, averaged over short-run dynamics): \
          {}.",
        told.join(", ")
    )
}

fn model_name(model: CandidateModel) -> &'static str {
    match model {
        CandidateModel::Mean => "stationary around a mean",
        CandidateModel::Trend => "trend-stationary",
        CandidateModel::RandomWalk => "unit root without drift",
        CandidateModel::RandomWalkWithDrift => "unit root with drift",
        CandidateModel::TwiceIntegrated => "two unit roots",
        CandidateModel::MeanWithLevelBreak => "stationary around a mean with a level shift",
        CandidateModel::TrendWithLevelBreak => "trend-stationary with a level shift",
        CandidateModel::TrendWithBothBreaks => "trend-stationary with a change in level and slope",
        CandidateModel::TrendWithSlopeBreak => "trend-stationary with a change in slope",
        CandidateModel::RandomWalkWithLevelBreak => "unit root with one level shift",
        CandidateModel::DriftWithLevelBreak => "unit root with drift and one level shift",
        CandidateModel::DriftWithSlopeBreak => "unit root with a change in drift",
    }
}

fn terms(choice: TermsChoice, with_adf: bool) -> String {
    let finding = match choice.reason {
        TermsReason::Slope => "The level, taken as stationary around a trend, has a slope of",
        TermsReason::MeanChange => "The mean change per period is",
    };
    let conclusion = match choice.terms {
        Terms::Trend => "so the tests of the level allow for a trend",
        Terms::Constant | Terms::None => {
            "not distinguishable from none, so the tests of the level allow for a constant only"
        }
    };
    let allowed = if with_adf {
        " The p-value of ADF of the level allows for this choice (so it differs from that of the same series differenced \
         before the test); the other tests treat the terms as given in advance."
    } else {
        ""
    };
    format!(
        "{finding} {} (z = {}, {}), {conclusion}.{allowed}",
        wording::short(choice.per_period),
        number(choice.z, 2),
        wording::p_equals(choice.p_value)
    )
}

/// What ADF and KPSS say of a level or difference, as far as they are shown.
fn of_stage(found: &StationarityFindings<'_>, stage: &DifferenceTests, alpha: f64) -> Option<String> {
    let unit_root = found.shows(TestName::Adf, stage.differenced).then(|| unit_root(&stage.unit_root, alpha));
    let stationarity =
        found.shows(TestName::Kpss, stage.differenced).then(|| stationarity(&stage.stationarity, alpha));
    let broken = found.diagnosis.assessment.verdict.kind == ModelClass::Broken && stage.differenced == 0;
    let (said, together) = match (unit_root, stationarity) {
        (Some(root), Some(stationary)) => (format!("{root}, and {stationary}"), together(stage.reading)),
        (Some(only), None) | (None, Some(only)) => (only, ""),
        (None, None) => return None,
    };
    let break_left_out = match (broken, together.is_empty()) {
        (false, _) => "",
        (true, true) => " The test does not allow for a break.",
        (true, false) => " Neither allows for a break.",
    };
    let what = wording::capitalised(what_differenced(stage.differenced));
    Some(format!("{what}: {said}.{together}{break_left_out}"))
}

fn unit_root(test: &UnitRootTest, alpha: f64) -> String {
    let found = match test.decision(alpha) {
        Some(true) => "is rejected",
        Some(false) => "is not rejected",
        None => "has no decision",
    };
    format!("a unit root {found} (ADF, {})", wording::simulated_p(test.p_value))
}

fn stationarity(test: &UnitRootTest, alpha: f64) -> String {
    let found = match test.decision(alpha) {
        Some(true) => "is rejected",
        Some(false) => "is not rejected",
        None => "has no decision",
    };
    let around = terms::around(test.terms);
    format!("stationarity around {around} {found} (KPSS, {})", wording::simulated_p(test.p_value))
}

fn together(reading: Reading) -> &'static str {
    match reading {
        Reading::Stationary => " Both agree that it is stationary.",
        Reading::UnitRoot => " Both agree that it is not stationary.",
        Reading::Conflict => {
            " The tests conflict, as both null hypotheses are rejected: a break, long memory or changing \
              variance are possible causes."
        }
        Reading::Undecided => " Without a p-value the two tests cannot be combined.",
        Reading::Silent => " Neither null hypothesis is rejected: the data are not informative enough.",
        Reading::WideBandwidth => {
            " KPSS is not counted: its bandwidth is a quarter of the observations or more."
        }
    }
}

/// Doubts that bear on the decision; that a tiny p-value is extrapolated does not, and a wide bandwidth is said before.
fn caveats(test: &UnitRootTest, differenced: usize) -> impl Iterator<Item = String> + '_ {
    let bearing =
        test.notes.iter().filter(|note| !matches!(note, Note::BeyondSimulatedLevels | Note::WideBandwidth));
    bearing.map(move |note| {
        format!(
            "{} of {}: {}.",
            test_names::name_of(test.test, None),
            what_differenced(differenced),
            caveat(*note)
        )
    })
}

/// Which of the three parts of stationarity changes from segment to segment.
fn parts(moments: &Moments, alpha: f64) -> Option<String> {
    let named = [
        ("mean", moments.mean.p_value),
        ("variance", moments.variance.p_value),
        ("first-order autocovariance", moments.autocovariance.p_value),
    ];
    let changing: Vec<String> = named
        .into_iter()
        .filter(|(_, p)| *p <= alpha)
        .map(|(name, p)| format!("{name} ({})", wording::p_equals(p)))
        .collect();
    match changing.as_slice() {
        [] => None,
        some => Some(format!("Changes between the quarters of the sample: {}.", some.join(", "))),
    }
}

/// The interval of the largest root, and which root ADF would find in a series like this one.
fn largest_root(assessment: &Assessment, found_by_adf: Option<f64>) -> String {
    let (low, high) = assessment.largest_root;
    let interval = match (low >= 1.0, high >= 1.0) {
        (true, _) => "is 1 with a probability above 90 %".to_owned(),
        (false, true) => format!("lies between {} and 1 (90 % credible interval)", number(low, 2)),
        (false, false) => {
            format!("lies between {} and {} (90 % credible interval)", number(low, 2), number(high, 2))
        }
    };
    let power = found_by_adf.map_or(String::new(), |root| {
        format!(
            " With {} observations and these dynamics ADF rejects a unit root in 80 % of series whose largest root is {}.",
            assessment.judged.len(),
            number(root, 2)
        )
    });
    format!("Without a break, the largest root {interval}.{power}")
}

/// Long memory, where it explains the series about as well as the candidate models do.
fn long_memory(assessment: &Assessment) -> Option<String> {
    assessment.verdict.fractional_d?;
    let memory = assessment.candidates.long_memory?;
    Some(format!(
        "Fractional noise with d = {} (standard error {}) has posterior odds of {} to 1 against the best \
          of these models: long memory, with slowly decaying effects of innovations and no unit root.",
        number(memory.d, 2),
        number(memory.sd, 2),
        number(memory.odds.min(999.0), 1)
    ))
}

fn confidence(found: &StationarityFindings<'_>) -> String {
    let verdict = &found.diagnosis.assessment.verdict;
    let kind = match verdict.kind {
        ModelClass::Stationary => "stationary around a mean",
        ModelClass::TrendStationary => "trend-stationary",
        ModelClass::UnitRoot => "one unit root",
        ModelClass::TwoUnitRoots => "two unit roots",
        ModelClass::Broken => "stationary with a structural break",
    };
    let less: Vec<&str> = verdict
        .caveats
        .iter()
        .map(|caveat| match caveat {
            Caveat::TestContradicts if found.shows(TestName::Adf, 0) => "the ADF test disagrees",
            Caveat::TestContradicts => "a unit-root test that is not shown disagrees",
            Caveat::InnovationsCorrelated => "the innovations of the best model are autocorrelated",
            Caveat::Short => "the series has fewer than 100 observations",
            Caveat::VeryShort => "it has fewer than 50",
            Caveat::LongMemory => "long memory explains it as well",
        })
        .collect();
    let lowered = match less.as_slice() {
        [] => String::new(),
        [one] => format!(" Lowered by one level: {one}."),
        several => format!(" Lowered by {} levels: {}.", several.len(), several.join("; ")),
    };
    format!(
        "Combined probability of this class ({kind}): {} (high from 90 %, moderate from 75 %).{lowered}",
        wording::probability(verdict.probability)
    )
}

/// Calls that carry the argument on.
pub fn next(series: &Series, assessment: &Assessment, typed: &Call) -> Vec<Call> {
    let same = || typed.next(Name::Stationarity, [&series.name]).keeping(typed, &["alpha", "terms"]);
    let mut chain = vec!["d1".to_owned(); assessment.verdict.integration];
    match assessment.verdict.class {
        Class::LongMemory => return vec![same().with("tests", "log_periodogram,local_whittle")],
        Class::TrendStationary => chain.push("detrend".to_owned()),
        Class::TrendBreak | Class::Inconclusive if assessment.verdict.kind == ModelClass::Broken => {
            let after =
                assessment.break_at.map(|place| same().sample(format!("{}..", series.period(place + 1))));
            return std::iter::once(typed.next(Name::Plot, [&series.name])).chain(after).collect();
        }
        _ => {}
    }
    if assessment.season.seasonality == Seasonality::UnitRoots {
        chain.push(format!("d{}", assessment.season.season));
    }
    vec![typed.next(Name::Acf, [wording::with_steps(&series.name, &chain)])]
}
