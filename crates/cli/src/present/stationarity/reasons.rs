//! The answer, its reasons in the order of the argument, and what to run next.

use kandrel_core::nulldist::Terms;
use kandrel_core::series::Series;
use kandrel_core::unitroot::verdict::{Assessment, Class, Confidence, DifferenceTests, Reading, SeasonLeft};
use kandrel_core::unitroot::{Note, TermsChoice, TermsReason, UnitRootTest};

use super::wording;
use super::{Setting, doubt, name_of, what_differenced};
use crate::render::{number, p_value};
use crate::words;

/// The answer in one sentence.
pub fn answer(name: &str, assessment: &Assessment) -> String {
    let verdict = assessment.verdict;
    let times = if verdict.integration == 1 { "once" } else { "twice" };
    match verdict.class {
        Class::DifferenceStationary => match unsettled_season(assessment) {
            Some(left) => format!(
                "{name} is not stationary, it has a unit root; one difference leaves a season of {} in, \
                 so difference seasonally too.",
                left.season
            ),
            None => format!(
                "{name} is not stationary, it has a unit root: difference {times} (I({})).",
                verdict.integration
            ),
        },
        Class::Stationary => match assessment.season_left {
            Some(left) => format!(
                "{name} is stationary around a constant level (I(0)), but for a season of {} that these tests \
                 do not judge.",
                left.season
            ),
            None => format!("{name} is stationary around a constant level: use it as it is (I(0))."),
        },
        Class::TrendStationary => {
            format!(
                "{name} is stationary around a linear trend: take out the trend, do not difference (I(0))."
            )
        }
        Class::Inconclusive => format!(
            "The tests do not settle whether {name} is stationary; I({}) is the likelier reading.",
            verdict.integration
        ),
    }
}

/// The season that keeps the tests from settling the number of differences.
fn unsettled_season(assessment: &Assessment) -> Option<SeasonLeft> {
    let settled = assessment.stages.iter().any(|stage| stage.reading == Reading::Stationary);
    assessment.season_left.filter(|_| !settled)
}

/// Each step of the argument with its figures.
pub fn reasons(assessment: &Assessment, alpha: f64) -> Vec<String> {
    let mut reasons = Vec::new();
    reasons.extend(assessment.terms_choice.map(terms));
    for stage in &assessment.stages {
        reasons.push(both(stage, alpha));
        reasons.extend(doubts(&stage.unit_root, stage.differenced));
        reasons.extend(doubts(&stage.stationarity, stage.differenced));
    }
    reasons.extend(assessment.season_left.map(season));
    if assessment.verdict.class == Class::DifferenceStationary {
        reasons.push(
            "Neither test looks for a break: a level or a trend that shifts once looks like a unit root to both. \
             Look at the series before you difference it."
                .to_owned(),
        );
    }
    reasons.push(confidence(assessment));
    reasons
}

fn terms(choice: TermsChoice) -> String {
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
    let size = choice.per_period.abs();
    let decimals = match size {
        _ if size >= 100.0 => 1,
        _ if size >= 0.1 => 3,
        _ => 6,
    };
    format!(
        "{finding} {} (z = {}, {}), {conclusion}. The p-value of ADF allows for this choice; that of \
         KPSS, as if the terms had been given, is rather too large than too small.",
        number(choice.per_period, decimals),
        number(choice.z, 2),
        wording::p_equals(choice.p_value)
    )
}

fn both(stage: &DifferenceTests, alpha: f64) -> String {
    let around = wording::around(stage.stationarity.terms);
    let root = if stage.unit_root.rejects(alpha) {
        "a unit root is rejected"
    } else {
        "a unit root cannot be ruled out"
    };
    let stationary = if stage.stationarity.rejects(alpha) {
        format!("stationarity around {around} is rejected")
    } else {
        format!("nothing speaks against stationarity around {around}")
    };
    format!(
        "{}: {root} (ADF, {}), and {stationary} (KPSS, {}). {}",
        words::capitalised(what_differenced(stage.differenced)),
        wording::simulated_p(stage.unit_root.p_value),
        wording::simulated_p(stage.stationarity.p_value),
        together(stage.reading)
    )
}

fn together(reading: Reading) -> &'static str {
    match reading {
        Reading::Stationary => "Both agree that it is stationary.",
        Reading::UnitRoot => "Both agree that it is not stationary.",
        Reading::Conflict => {
            "They contradict each other, both nulls being rejected: a break, long memory or changing \
             variance often looks so."
        }
        Reading::Silent => {
            "Neither null is rejected: the data are too few, or too weak in either direction, to tell."
        }
    }
}

/// Doubts that bear on the decision; that a tiny p-value is extrapolated does not.
fn doubts(test: &UnitRootTest, differenced: usize) -> impl Iterator<Item = String> + '_ {
    let bearing = test.notes.iter().filter(|note| **note != Note::BeyondSimulatedLevels);
    bearing.map(move |note| {
        format!("{} of {}: {}.", name_of(test.test), what_differenced(differenced), doubt(*note))
    })
}

fn season(left: SeasonLeft) -> String {
    let SeasonLeft { season, acf } = left;
    format!(
        "The first difference repeats itself {season} periods apart (autocorrelation {acf:.2}, hardly less after \
         twice as many). These tests do not allow for a season: they judge such a series only after a difference \
         at lag {season}."
    )
}

fn confidence(assessment: &Assessment) -> String {
    let short = if assessment.observations < 100 {
        format!(
            " With {} observations it is one notch lower than the tests alone say.",
            assessment.observations
        )
    } else {
        String::new()
    };
    let nearest = assessment
        .stages
        .iter()
        .flat_map(|stage| [stage.unit_root.p_value, stage.stationarity.p_value])
        .filter(|p| (0.01..0.10).contains(p))
        .map(p_value)
        .collect::<Vec<_>>()
        .join(", ");
    let margin = if nearest.is_empty() { String::new() } else { format!(" (p = {nearest})") };
    let why = match assessment.verdict.confidence {
        Confidence::High => "Confidence is high: the tests agree, each by a clear margin.".to_owned(),
        Confidence::Moderate => {
            format!("Confidence is moderate: the tests agree, but not all by a clear margin{margin}.")
        }
        Confidence::Low => "Confidence is low: the tests do not agree clearly.".to_owned(),
    };
    format!("{why}{short}")
}

/// Commands that carry the argument on.
pub fn next(series: &Series, assessment: &Assessment, setting: Setting<'_>) -> Vec<String> {
    let file = setting.file;
    let seasonal = assessment.season_left.map(|left| format!("d{}", left.season));
    let mut chain = vec!["d1".to_owned(); assessment.verdict.integration];
    let further = |steps: &[String]| words::with_steps(&series.name, steps);
    if let (Some(_), Some(step)) = (unsettled_season(assessment), &seasonal) {
        chain.push(step.clone());
        return ["stationarity", "acf"]
            .map(|command| format!("kandrel {command} {file} {}", further(&chain)))
            .to_vec();
    }
    let mut lines = vec![format!("kandrel acf {file} {}", further(&chain))];
    if let Some(step) = seasonal {
        chain.push(step);
        lines.push(format!("kandrel acf {file} {}", further(&chain)));
    }
    lines
}
