//! One test: the contract's UNITROOT and its words.

use kandrel_core::lag::LagRule;
use kandrel_core::nulldist::{BreakModel, CriticalValues, Terms};
use kandrel_core::ols::Bandwidth;
use kandrel_core::series::Series;
use kandrel_core::unitroot::{
    Coefficient, Detail, FrequencyResult, JointResult, Kernel, Note, Null, TestName, UnitRootTest,
};
use kandrel_core::verdict::{Assessment, Seasonality};
use schemars::JsonSchema;
use serde::Serialize;

use super::Shown;
use super::terms;
use crate::present::decision::Decision;
use crate::present::sample::Stretch;
use crate::wording::number;

/// The contract's UNITROOT.
#[derive(JsonSchema, Serialize)]
pub struct TestResult {
    pub test: TestName,
    pub differenced: usize,
    /// How a season was taken out before: none, pattern, difference or autoregression.
    pub season_out: &'static str,
    pub null: Null,
    pub terms: Terms,
    /// `auto` where the data chose the terms.
    pub terms_rule: &'static str,
    pub lags: Option<usize>,
    pub lag_rule: Option<&'static str>,
    pub max_lags: Option<usize>,
    pub bandwidth: Option<usize>,
    pub bandwidth_rule: Option<&'static str>,
    pub kernel: Option<Kernel>,
    /// The periods it explains.
    pub sample: Stretch,
    pub statistic: f64,
    /// None where the null distribution was not simulated that far; then there is no decision.
    pub p_value: Option<f64>,
    pub critical: Option<CriticalValues>,
    pub decision: Option<Decision>,
    pub meaning: String,
    pub notes: Vec<String>,
    /// From series drawn with this one's dynamics and innovations (`--bootstrap`).
    pub bootstrap_p_value: Option<f64>,
    pub detail: DetailResult,
}

/// What a test gives in addition to its statistic; each has its own fields.
#[derive(Default, JsonSchema, Serialize)]
pub struct DetailResult {
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub regression: Vec<Coefficient>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub joint: Vec<JointResult>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub frequencies: Vec<FrequencyLine>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub z_rho: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub z_rho_p_value: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub z_tau: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mza: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mzt: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub msb: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mpt: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub break_at: Option<String>,
    /// The last period before a second break.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub second_break_at: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub model: Option<BreakModel>,
    /// Order of fractional integration.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub d: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub std_error: Option<f64>,
    /// Frequencies used.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bandwidth: Option<usize>,
}

/// The test at one frequency.
#[derive(JsonSchema, Serialize)]
pub struct FrequencyLine {
    /// Observations per cycle; null at frequency zero.
    pub period: Option<f64>,
    /// `t` or `F`.
    pub kind: &'static str,
    pub statistic: f64,
    pub p_value: Option<f64>,
}

/// One test in the contract's form. `hegy` is of the series as it is, the others of what
/// was assessed: without its season.
pub fn result(series: &Series, assessment: &Assessment, shown: &Shown, alpha: f64) -> TestResult {
    let (differenced, test) = (shown.differenced, &shown.test);
    let is_whole = matches!(test.test, TestName::Hegy | TestName::CanovaHansen);
    let lost = if is_whole { 0 } else { assessment.season.lost() };
    let chosen = differenced == 0
        && assessment.terms_choice.is_some()
        && !is_whole
        && !matches!(test.detail, Detail::Break { .. } | Detail::Memory(_));
    TestResult {
        differenced,
        season_out: match assessment.season.seasonality {
            _ if is_whole => "none",
            Seasonality::None => "none",
            Seasonality::Deterministic | Seasonality::ChangingPattern => "pattern",
            Seasonality::UnitRoots => "difference",
            Seasonality::Stationary => "autoregression",
        },
        terms_rule: if chosen { "auto" } else { "given" },
        bootstrap_p_value: shown.bootstrap_p_value,
        ..by_itself(series, lost + differenced, lost, test, meaning(differenced, test, alpha), alpha)
    }
}

/// What a test of a series says, `before` periods of which the test never saw; its break dates
/// count from `lost`.
fn by_itself(
    series: &Series,
    before: usize,
    lost: usize,
    test: &UnitRootTest,
    meaning: String,
    alpha: f64,
) -> TestResult {
    TestResult {
        test: test.test,
        differenced: 0,
        season_out: "none",
        null: test.null,
        terms: test.terms,
        terms_rule: "given",
        lags: test.lags,
        lag_rule: test.lag_rule.map(LagRule::name),
        max_lags: test.max_lags,
        bandwidth: test.bandwidth,
        bandwidth_rule: test.bandwidth_rule.map(Bandwidth::name),
        kernel: test.kernel,
        sample: Stretch {
            first: series.period(before + test.first_used).to_string(),
            last: series.last().to_string(),
            observations: test.used(),
        },
        statistic: test.statistic,
        p_value: test.p_value,
        critical: test.critical,
        decision: test.p_value.map(|p| Decision::at(p, alpha)),
        meaning,
        notes: test.notes.iter().map(|note| caveat(*note)).collect(),
        bootstrap_p_value: None,
        detail: detail(series, lost, test),
    }
}

/// A test of the residuals of a relation for `target`, which starts where the series does.
pub fn of_residuals(target: &Series, test: &UnitRootTest, alpha: f64) -> TestResult {
    let name = &target.name;
    let meaning = if test.rejects(alpha) {
        format!("the residuals of {name} are stationary: cointegration")
    } else {
        format!("a unit root in the residuals of {name} is not rejected: no evidence of cointegration")
    };
    by_itself(target, 0, 0, test, meaning, alpha)
}

fn detail(series: &Series, lost: usize, test: &UnitRootTest) -> DetailResult {
    let mut out = DetailResult {
        regression: test.regression.clone(),
        joint: test.joint.clone(),
        ..DetailResult::default()
    };
    match &test.detail {
        Detail::None => {}
        Detail::PhillipsPerron { z_rho, z_rho_p_value, z_tau } => {
            (out.z_rho, out.z_rho_p_value, out.z_tau) = (Some(*z_rho), *z_rho_p_value, Some(*z_tau));
        }
        Detail::NgPerron { mza, mzt, msb, mpt } => {
            (out.mza, out.mzt, out.msb, out.mpt) = (Some(*mza), Some(*mzt), Some(*msb), Some(*mpt));
        }
        Detail::Memory(memory) => {
            (out.d, out.std_error) = (Some(memory.d), Some(memory.std_error));
            out.bandwidth = Some(memory.bandwidth);
        }
        Detail::Break { place, second, model } => {
            out.break_at = Some(series.period(place + lost).to_string());
            out.second_break_at = second.map(|place| series.period(place + lost).to_string());
            out.model = Some(*model);
        }
        Detail::Seasonal { frequencies, joint: together } => {
            out.joint.clone_from(together);
            out.frequencies = frequencies.iter().map(frequency_line).collect();
        }
    }
    out
}

fn frequency_line(one: &FrequencyResult) -> FrequencyLine {
    let kind = if one.is_t { "t" } else { "F" };
    FrequencyLine { period: one.period, kind, statistic: one.statistic, p_value: one.p_value }
}

pub fn caveat(note: Note) -> String {
    let text = match note {
        Note::OutsideSimulation => {
            "no p-value and no decision: this number of lags was not simulated for so short a series"
        }
        Note::OtherSearch => {
            "the p-value is that of a search among the default number of lags, not of the one given"
        }
        Note::BeyondSimulatedLevels => {
            "the p-value lies beyond the outermost simulated level and is extrapolated"
        }
        Note::LagsAsIfGiven => {
            "the p-value is as if the lags had been given: after a search it is a little too small"
        }
        Note::WideBandwidth => {
            "the bandwidth spans a quarter of the series or more: the test has little power"
        }
        Note::Drawn(draws) => {
            return format!(
                "the p-value is the rank among {draws} series drawn for this length and these settings"
            );
        }
    };
    text.to_owned()
}

/// What a decision means for this series, in words.
fn meaning(differenced: usize, test: &UnitRootTest, alpha: f64) -> String {
    if test.p_value.is_none() {
        return "none: there is no p-value for this number of lags".to_owned();
    }
    let what = what_differenced(differenced);
    let around = terms::around(test.terms);
    let rejected = test.rejects(alpha);
    match (test.test, test.null, rejected) {
        (TestName::Hegy, _, true) => {
            "seasonal unit roots are rejected: deterministic or stationary seasonality".to_owned()
        }
        (TestName::Hegy, _, false) => "unit roots at the seasonal frequencies are not rejected".to_owned(),
        (TestName::ZivotAndrews | TestName::Perron, _, true) => {
            format!("a unit root in {what} is rejected: trend-stationary with one break")
        }
        (TestName::LeeStrazicich, _, true) => {
            format!(
                "a unit root in {what}, with or without breaks, is rejected: trend-stationary with breaks"
            )
        }
        (_, Null::FixedSeason, true) => {
            format!("deterministic seasonality of {what} is rejected: evolving seasonality")
        }
        (_, Null::FixedSeason, false) => {
            format!("deterministic seasonality of {what} is not rejected")
        }
        (_, Null::NoMemory, _) => memory(test, what, rejected),
        (_, Null::UnitRoot, true) => format!("a unit root in {what} is rejected: stationary around {around}"),
        (_, Null::UnitRoot, false) => format!("a unit root in {what} is not rejected"),
        (_, Null::Stationary, true) => format!("that {what} is stationary around {around} is rejected"),
        (_, Null::Stationary, false) => {
            format!("stationarity of {what} around {around} is not rejected")
        }
    }
}

/// What an estimate of fractional integration says.
fn memory(test: &UnitRootTest, what: &str, rejected: bool) -> String {
    let Detail::Memory(found) = &test.detail else {
        return String::new();
    };
    let size = format!("d of {what} is {} ({})", number(found.d, 2), number(found.std_error, 2));
    match (rejected, found.d) {
        (false, _) => format!("{size}: no evidence of long memory"),
        (true, d) if d < 0.0 => format!("{size}, below zero: over-differenced"),
        (true, d) if d < 0.5 => {
            format!("{size}: long memory, stationary, unless a short-run root is near unity")
        }
        (true, d) if d < 0.75 => format!("{size}: long memory, beyond stationarity"),
        _ => format!("{size}: as good as a unit root"),
    }
}

pub fn what_differenced(times: usize) -> &'static str {
    match times {
        0 => "the level",
        1 => "the first difference",
        _ => "the second difference",
    }
}
