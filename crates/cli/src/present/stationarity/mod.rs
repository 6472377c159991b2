//! Unit-root and stationarity tests: the contract's result, its sentences and
//! its text.

mod overview;
pub mod panel;
mod reasons;
pub mod robustness;
mod terms;
mod test;
mod text;
pub mod windows;

use crate::call::Call;
use crate::present::decision::Decision;
use crate::present::diagnosis::DiagnosisResult;
use kandrel_core::diagnosis::Diagnosis;
use kandrel_core::series::Series;
use kandrel_core::unitroot::{MomentTest, Moments, TestName, UnitRootError, UnitRootTest};
use kandrel_core::verdict::candidates::{CandidateModel, CandidateProbability};
use kandrel_core::verdict::{Class, Confidence};
use schemars::JsonSchema;
use serde::Serialize;

pub use overview::overview;
pub use reasons::answer;
pub use test::{TestResult, of_residuals};
pub use text::document;

/// The contract's result of `stationarity`.
#[derive(JsonSchema, Serialize)]
pub struct StationarityResult {
    pub series: String,
    pub observations: usize,
    pub tests: Vec<TestResult>,
    /// Of `--tests all`, those that the series does not bear.
    pub left_out: Vec<LeftOutResult>,
    /// None for a series shorter than ten values a segment.
    pub moments: Option<MomentsResult>,
    /// How bootstrap p-values were drawn; none where none were asked for.
    pub bootstrap: Option<BootstrapResult>,
    pub verdict: VerdictResult,
    /// The joint assessment as the other commands quote it.
    pub diagnosis: DiagnosisResult,
}

/// A test that the series does not bear.
#[derive(JsonSchema, Serialize)]
pub struct LeftOutResult {
    pub test: TestName,
    pub reason: String,
}

/// How bootstrap p-values were drawn.
#[derive(Clone, Copy, JsonSchema, Serialize)]
pub struct BootstrapResult {
    pub draws: u32,
    pub seed: u64,
    /// Whether each shock kept its time.
    pub wild: bool,
}

/// The result of one series, or of several together.
#[derive(JsonSchema, Serialize)]
#[serde(untagged)]
pub enum StationarityOrPanel {
    One(Box<StationarityResult>),
    Panel(Box<panel::PanelResult>),
    Robustness(Box<robustness::RobustnessResult>),
    Windows(Box<windows::WindowsResult>),
}

/// Mean, variance and autocovariance by segment.
#[derive(JsonSchema, Serialize)]
pub struct MomentsResult {
    pub segments: Vec<SegmentResult>,
    pub tests: Vec<MomentTestResult>,
}

/// One segment.
#[derive(JsonSchema, Serialize)]
pub struct SegmentResult {
    pub first: String,
    pub last: String,
    pub mean: f64,
    pub sd: f64,
    pub r1: f64,
}

/// The contract's TEST.
#[derive(JsonSchema, Serialize)]
pub struct MomentTestResult {
    pub test: &'static str,
    pub null: &'static str,
    pub statistic: f64,
    pub p_value: f64,
    pub decision: Decision,
    pub detail: Degrees,
}

/// Degrees of freedom of a test.
#[derive(JsonSchema, Serialize)]
pub struct Degrees {
    pub degrees_of_freedom: usize,
}

/// The contract's verdict.
#[derive(JsonSchema, Serialize)]
pub struct VerdictResult {
    pub integration: usize,
    pub seasonal_integration: Option<usize>,
    pub class: Class,
    pub break_at: Option<String>,
    pub fractional_d: Option<f64>,
    pub confidence: Confidence,
    pub probability: f64,
    pub models: Vec<ModelResult>,
    pub largest_root: Interval,
    pub sentence: String,
    pub reasons: Vec<String>,
    pub next: Vec<Call>,
}

/// A candidate model and its posterior probability.
#[derive(JsonSchema, Serialize)]
pub struct ModelResult {
    pub model: CandidateModel,
    pub probability: f64,
    /// Last period before its break.
    pub break_at: Option<String>,
}

/// From low to high.
#[derive(JsonSchema, Serialize)]
pub struct Interval {
    pub low: f64,
    pub high: f64,
}

/// What the wording depends on in addition to the numbers.
#[derive(Clone, Copy)]
pub struct Setting<'a> {
    /// The call as typed.
    pub call: &'a Call,
    pub alpha: f64,
    pub bootstrap: Option<BootstrapResult>,
}

/// A test to show.
pub struct Shown {
    /// How often its series was differenced.
    pub differenced: usize,
    /// Its bootstrap p-value, if there is one.
    pub bootstrap_p_value: Option<f64>,
    pub test: UnitRootTest,
}

/// What was found out about a series.
pub struct StationarityFindings<'a> {
    pub diagnosis: &'a Diagnosis,
    /// Tests to show, with the number of differences of each.
    pub shown: Vec<Shown>,
    /// Tests that the series does not bear, and why.
    pub left_out: Vec<(TestName, UnitRootError)>,
    pub moments: Option<Moments>,
    /// The largest root that ADF finds in 80 % of series like this one.
    pub root_found_by_adf: Option<f64>,
}

impl StationarityFindings<'_> {
    /// Whether a test is among those shown.
    fn shows(&self, test: TestName, differenced: usize) -> bool {
        self.shown.iter().any(|one| one.test.test == test && one.differenced == differenced)
    }
}

/// Puts a result together.
pub fn result(series: &Series, found: &StationarityFindings<'_>, setting: Setting<'_>) -> StationarityResult {
    let assessment = &found.diagnosis.assessment;
    let verdict = &assessment.verdict;
    let model = |one: &CandidateProbability| ModelResult {
        model: one.model,
        probability: one.probability,
        break_at: one.before.map(|before| series.period(before + assessment.season.lost() - 1).to_string()),
    };
    let (low, high) = assessment.largest_root;
    StationarityResult {
        series: series.name.clone(),
        observations: assessment.observations,
        tests: found.shown.iter().map(|one| test::result(series, assessment, one, setting.alpha)).collect(),
        left_out: found
            .left_out
            .iter()
            .map(|(test, reason)| LeftOutResult { test: *test, reason: reason.to_string() })
            .collect(),
        moments: found.moments.as_ref().map(|moments| moments_result(series, moments, setting.alpha)),
        bootstrap: setting.bootstrap,
        diagnosis: DiagnosisResult::of(&series.clone().into(), found.diagnosis),
        verdict: VerdictResult {
            integration: verdict.integration,
            seasonal_integration: verdict.seasonal_integration,
            class: verdict.class,
            break_at: assessment.break_at.map(|place| series.period(place).to_string()),
            fractional_d: verdict.fractional_d,
            confidence: verdict.confidence,
            probability: verdict.probability,
            models: assessment.candidates.candidates.iter().map(model).collect(),
            largest_root: Interval { low, high },
            sentence: answer(series, assessment),
            reasons: reasons::reasons(series, found, setting.alpha),
            next: reasons::next(series, assessment, setting.call),
        },
    }
}

fn moments_result(series: &Series, moments: &Moments, alpha: f64) -> MomentsResult {
    let test = |test, null, found: &MomentTest| MomentTestResult {
        test,
        null,
        statistic: found.statistic,
        p_value: found.p_value,
        decision: Decision::at(found.p_value, alpha),
        detail: Degrees { degrees_of_freedom: found.degrees },
    };
    MomentsResult {
        segments: moments
            .segments
            .iter()
            .map(|segment| SegmentResult {
                first: series.period(segment.first).to_string(),
                last: series.period(segment.last).to_string(),
                mean: segment.mean,
                sd: segment.sd,
                r1: segment.r1,
            })
            .collect(),
        tests: vec![
            test("equal_mean", "the mean is the same in all segments", &moments.mean),
            test("equal_variance", "the variance is the same in all segments", &moments.variance),
            test(
                "equal_autocovariance",
                "the first autocovariance is the same in all segments",
                &moments.autocovariance,
            ),
        ],
    }
}
