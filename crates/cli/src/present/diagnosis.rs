//! The joint assessment of a series as every command quotes it.

use crate::wording::titles;
use kandrel_core::diagnosis::{DeterministicPart, DeterministicProbability, Diagnosis};
use kandrel_core::series::SeriesWithGaps;
use kandrel_core::shape::seasonality;
use kandrel_core::time::Frequency;
use kandrel_core::verdict::{Class, Confidence, OrdersProbability, Seasonality};
use schemars::JsonSchema;
use serde::Serialize;

use crate::document::Document;
use crate::wording;

/// A runner-up is named from this probability.
const RIVAL: f64 = 0.1;

/// The joint assessment of a series: the same object wherever the series is analysed.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct DiagnosisResult {
    /// Observations that it rests on.
    pub observations: usize,
    /// Gaps among them that were filled for it alone.
    pub filled: usize,
    /// The seasonal period; 1 for none.
    pub season: usize,
    /// What stabilises the variance; the rest is of the series as it is.
    pub transformation: String,
    /// The joint assessment of the transformed series, where a transformation is advised.
    pub transformed: Option<Box<DiagnosisResult>>,
    pub integration: usize,
    pub seasonal_integration: Option<usize>,
    pub class: Class,
    /// The last period before a structural break.
    pub break_at: Option<String>,
    pub confidence: Confidence,
    /// The posterior probability of the class with its differences.
    pub probability: f64,
    /// The most probable other differences.
    pub runner_up: Option<DifferencesResult>,
    /// The joint posterior of ordinary and seasonal differences, from the most probable down.
    pub differences: Vec<DifferencesResult>,
    /// Mean, drift, trend or break, given the differences: that of the class first.
    pub deterministic: Vec<DeterministicResult>,
    pub seasonality: Seasonality,
    /// Given the differences, from the most probable down; empty without a seasonal period.
    pub seasonalities: Vec<SeasonalityResult>,
    /// The seasonal autoregressive coefficient of a stationary seasonal process.
    pub seasonal_coefficient: Option<f64>,
    /// The first period of a new seasonal pattern, where the pattern changes once.
    pub pattern_changes_at: Option<String>,
    /// A seasonal period that an undated series shows and that is not modelled.
    pub suggested_season: Option<usize>,
    /// A cycle that is no seasonality.
    pub cycle: Option<CycleResult>,
    /// Periods with outlying innovations.
    pub outliers: Vec<String>,
    /// The order of fractional integration, where long memory explains the series as well.
    pub fractional_d: Option<f64>,
    /// The 90 % credible interval of the largest autoregressive root.
    pub largest_root: [f64; 2],
}

/// The joint assessment of one of several series.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct SeriesDiagnosis {
    pub series: String,
    /// None for a series that cannot be assessed.
    pub diagnosis: Option<DiagnosisResult>,
}

impl SeriesDiagnosis {
    /// The order of integration.
    pub fn integration(&self) -> Option<usize> {
        self.diagnosis.as_ref().map(|own| own.integration)
    }
}

/// The joint assessments in a document: one as a line, several as a list that only the whole document shows.
pub fn section(document: &mut Document, all: &[SeriesDiagnosis]) {
    match all {
        [SeriesDiagnosis { diagnosis: Some(own), .. }] => document.paragraph(own.line()),
        several => document.detail("joint assessments", |inner| {
            inner.list(titles::JOINT_ASSESSMENT, lines(several));
        }),
    }
}

/// A line for each of several series.
fn lines(all: &[SeriesDiagnosis]) -> Vec<String> {
    let of = |one: &SeriesDiagnosis| {
        let found = one.diagnosis.as_ref().map(DiagnosisResult::summary);
        format!("{}: {}.", one.series, found.unwrap_or_else(|| "cannot be assessed".to_owned()))
    };
    all.iter().map(of).collect()
}

/// A pair of differences and its posterior probability.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct DifferencesResult {
    pub d: usize,
    #[serde(rename = "D")]
    pub seasonal: usize,
    pub probability: f64,
}

/// A deterministic part and its probability.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct DeterministicResult {
    pub part: DeterministicPart,
    pub probability: f64,
    /// The last period before the change, where there is one.
    pub break_at: Option<String>,
}

/// A kind of seasonality and its probability.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct SeasonalityResult {
    pub seasonality: Seasonality,
    pub probability: f64,
}

/// A cycle, its period in observations.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct CycleResult {
    pub period: f64,
    pub probability: f64,
}

/// A cycle is named in a sentence from this probability.
const CLEAR_CYCLE: f64 = 0.9;

impl CycleResult {
    /// As part of a sentence.
    pub fn clause(self) -> String {
        let digits = usize::from(self.period < 5.0);
        format!("cycle of about {:.digits$} periods", self.period)
    }
}

impl DiagnosisResult {
    /// Of a diagnosed series.
    pub fn of(series: &SeriesWithGaps, found: &Diagnosis) -> Self {
        let (verdict, season) = (&found.assessment.verdict, &found.assessment.season);
        let period = |place: usize| series.period(place).to_string();
        let differences = |one: &OrdersProbability| DifferencesResult {
            d: one.differences[0],
            seasonal: one.differences[1],
            probability: one.probability,
        };
        let deterministic = |one: &DeterministicProbability| DeterministicResult {
            part: one.part,
            probability: one.probability,
            break_at: one.before.map(period),
        };
        let seasonalities = season.posterior.iter().flat_map(|posterior| &posterior.seasonality);
        let (low, high) = found.assessment.largest_root;
        Self {
            observations: found.observations,
            filled: found.filled,
            season: found.season,
            transformation: found.transformation.transformation.to_string(),
            transformed: found.transformed.as_deref().map(|own| Box::new(Self::of(series, own))),
            integration: verdict.integration,
            seasonal_integration: verdict.seasonal_integration,
            class: verdict.class,
            break_at: found.assessment.break_at.map(period),
            confidence: verdict.confidence,
            probability: verdict.probability,
            runner_up: found.runner_up().as_ref().map(differences),
            differences: found.differences.iter().map(differences).collect(),
            deterministic: found.deterministic.iter().map(deterministic).collect(),
            seasonality: season.seasonality,
            seasonalities: seasonalities
                .map(|(seasonality, probability)| SeasonalityResult {
                    seasonality: *seasonality,
                    probability: *probability,
                })
                .collect(),
            seasonal_coefficient: season.coefficient,
            pattern_changes_at: season.changed_at.map(period),
            suggested_season: suggested_season(series, found.season),
            cycle: found.cycle.map(|one| CycleResult { period: one.period, probability: one.probability }),
            outliers: found.outliers.iter().map(|place| period(*place)).collect(),
            fractional_d: verdict.fractional_d,
            largest_root: [low, high],
        }
    }

    /// One line for other commands than `stationarity`.
    pub fn line(&self) -> String {
        format!("Joint assessment: {}.", self.summary())
    }

    /// Differences, deterministic part, seasonality, and what to take first: where a transformation changes these, its
    /// own come first.
    pub fn summary(&self) -> String {
        match self.changed_by_transformation() {
            None if self.transformation == "none" => self.of_scale(),
            None => {
                format!("{}; variance increases with the level: use {}", self.of_scale(), self.transformation)
            }
            Some(own) => {
                format!(
                    "variance increases with the level: use {}; then {}; untransformed, {}",
                    self.transformation,
                    own.of_scale(),
                    self.of_scale()
                )
            }
        }
    }

    /// The assessment of the transformed series, where it differs in differences or seasonality.
    fn changed_by_transformation(&self) -> Option<&Self> {
        let of = |one: &Self| {
            let part = one.deterministic.first().map(|own| own.part);
            (one.integration, one.seasonal_integration, one.class, one.seasonality, part)
        };
        self.transformed.as_deref().filter(|own| of(own) != of(self))
    }

    /// An answer about a series as it is, after that about the transformed series where a transformation changes the
    /// assessment.
    pub fn before_answer(&self, series: &str, answer: &str) -> String {
        match self.changed_by_transformation() {
            None => answer.to_owned(),
            Some(own) => format!(
                "The variance of {series} increases with its level: use {}, for which {}. Untransformed: {answer}",
                wording::with_steps(series, &[&self.transformation]),
                own.of_scale()
            ),
        }
    }

    /// The differences as a clause: d = 1, (d, D) = (1, 1).
    pub fn differences_clause(&self) -> String {
        self.differences_as(self.integration, self.seasonal_integration.unwrap_or(0))
    }

    /// Without seasonality D is not spoken of, unless the rival has one.
    fn differences_as(&self, d: usize, seasonal: usize) -> String {
        match self.seasonal_integration {
            None if seasonal == 0 => format!("d = {d}"),
            _ => format!("(d, D) = ({d}, {seasonal})"),
        }
    }

    /// The advised transformation, where differences and seasonality are the same after it.
    pub fn same_after_transformation(&self, series: &str) -> Option<String> {
        (self.transformation != "none" && self.changed_by_transformation().is_none()).then(|| {
            let transformed = wording::with_steps(series, &[&self.transformation]);
            format!("The variance of {series} increases with its level: use {transformed}.")
        })
    }

    fn of_scale(&self) -> String {
        let of = |d: usize, seasonal: usize| self.differences_as(d, seasonal);
        let own = self.differences_clause();
        let rival = self.runner_up.filter(|one| one.probability >= RIVAL);
        let rival = rival.map_or(String::new(), |one| {
            format!(", runner-up {} with {:.2}", of(one.d, one.seasonal), one.probability)
        });
        let clauses = [
            Some(format!(
                "{own} (probability {}, confidence {}{rival})",
                self.probability(),
                self.confidence.word()
            )),
            self.deterministic.first().and_then(deterministic),
            self.seasonal_clause().map(str::to_owned),
            self.suggested_season
                .map(|length| format!("seasonality of period {length}: use --season {length}")),
            self.clear_cycle(),
        ];
        clauses.into_iter().flatten().collect::<Vec<_>>().join("; ")
    }

    /// A cycle that is as good as certain, as part of a sentence.
    pub fn clear_cycle(&self) -> Option<String> {
        self.cycle.filter(|one| one.probability >= CLEAR_CYCLE).map(CycleResult::clause)
    }

    fn seasonal_clause(&self) -> Option<&'static str> {
        match self.seasonality {
            Seasonality::None if self.season < 2 => None,
            Seasonality::None => Some("no seasonality"),
            Seasonality::Deterministic => Some("deterministic seasonality"),
            Seasonality::ChangingPattern => Some("deterministic seasonality whose pattern changes once"),
            Seasonality::Stationary => Some("stationary seasonality"),
            Seasonality::UnitRoots => Some("seasonal unit roots"),
        }
    }

    /// The probability with two decimals.
    pub fn probability(&self) -> String {
        if self.probability > 0.995 { "above 0.99".to_owned() } else { format!("{:.2}", self.probability) }
    }

    /// Whether its level is not stationary about a mean: correlations of two such levels may be spurious.
    pub fn is_trending(&self) -> bool {
        let part = self.deterministic.first().map(|one| one.part);
        self.is_differenced()
            || !matches!(part, None | Some(DeterministicPart::None | DeterministicPart::Mean))
    }

    /// Whether the standard deviation is in proportion to the level, so that logarithms are advised.
    pub fn is_proportional(&self) -> bool {
        self.transformation == "ln"
    }

    /// Whether it has a unit root without drift: a stochastic trend. Seasonal differences leave open whether there is one.
    pub fn has_no_drift(&self) -> bool {
        let part = self.deterministic.first().map(|one| one.part);
        self.integration > 0
            && self.seasonal_integration != Some(1)
            && matches!(part, None | Some(DeterministicPart::None | DeterministicPart::Mean))
    }

    /// Whether there is seasonality of any kind.
    pub fn is_seasonal(&self) -> bool {
        self.seasonality != Seasonality::None
    }

    /// Whether any difference is called for.
    pub fn is_differenced(&self) -> bool {
        self.integration + self.seasonal_integration.unwrap_or(0) > 0
    }

    /// The steps that take the differences, for a seasonal period.
    pub fn steps(&self, season: usize) -> Vec<String> {
        let seasonal = (self.seasonal_integration == Some(1)).then(|| format!("d{season}"));
        let mut all = vec!["d1".to_owned(); self.integration];
        all.extend(seasonal);
        all
    }
}

/// The seasonal period of an undated series that none is assumed for, as [`seasonality`] detects it.
fn suggested_season(series: &SeriesWithGaps, assumed: usize) -> Option<usize> {
    if assumed > 1 || series.start.frequency() != Frequency::Undated {
        return None;
    }
    let values: Option<Vec<f64>> = series.cells.iter().copied().collect();
    Some(seasonality(&values?)?.season)
}

/// The deterministic part as a clause; none where there is only a mean.
fn deterministic(one: &DeterministicResult) -> Option<String> {
    let after = one.break_at.as_ref().map_or(String::new(), |period| format!(" after {period}"));
    Some(match one.part {
        DeterministicPart::None | DeterministicPart::Mean => return None,
        DeterministicPart::Drift => "drift".to_owned(),
        DeterministicPart::Trend => "linear trend".to_owned(),
        DeterministicPart::LevelShift => format!("level shift{after}"),
        DeterministicPart::SlopeChange => format!("change in slope{after}"),
        DeterministicPart::LevelAndSlope => format!("level and slope change{after}"),
    })
}
