//! The result of a unit-root or stationarity test.

use std::fmt;

use schemars::JsonSchema;
use serde::{Serialize, Serializer};

use crate::lag::LagRule;
use crate::nulldist::{BreakModel, CriticalValues, Terms};
use crate::ols::Bandwidth;

use super::statistic::Memory;

/// Which test.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum TestName {
    /// Augmented Dickey-Fuller.
    Adf,
    /// Phillips and Perron.
    Pp,
    /// Kwiatkowski, Phillips, Schmidt and Shin.
    Kpss,
    /// Dickey-Fuller after detrending by generalised least squares.
    AdfGls,
    /// The feasible point-optimal test.
    PointOptimal,
    /// The M-tests of Ng and Perron.
    NgPerron,
    /// Zivot and Andrews: a break at a date that the data choose.
    ZivotAndrews,
    /// Perron: a break at a known date.
    Perron,
    /// Lee and Strazicich: one break or two, detrended under the null.
    LeeStrazicich,
    /// Hylleberg, Engle, Granger and Yoo: roots at the frequencies of a season.
    Hegy,
    /// Canova and Hansen: a seasonal pattern that stays.
    CanovaHansen,
    /// The log-periodogram regression.
    LogPeriodogram,
    /// The local Whittle estimate.
    LocalWhittle,
}

/// What a test gives in addition to its statistic.
#[derive(Debug, Clone, PartialEq)]
pub enum Detail {
    /// Nothing.
    None,
    /// Both statistics of Phillips and Perron.
    PhillipsPerron {
        /// `Z_ρ`.
        z_rho: f64,
        /// Its p-value.
        z_rho_p_value: Option<f64>,
        /// `Z_τ`.
        z_tau: f64,
    },
    /// All four M-statistics.
    NgPerron {
        /// `MZ_α`.
        mza: f64,
        /// `MZ_t`.
        mzt: f64,
        /// `MSB`.
        msb: f64,
        /// `MP_T`.
        mpt: f64,
    },
    /// A break.
    Break {
        /// Place (0-based) of the last period of the old regime.
        place: usize,
        /// The same of a second break.
        second: Option<usize>,
        /// What breaks.
        model: BreakModel,
    },
    /// An order of fractional integration.
    Memory(Memory),
    /// Roots at the frequencies of a season.
    Seasonal {
        /// From the long run to the shortest cycle.
        frequencies: Vec<FrequencyResult>,
        /// Several of them together.
        joint: Vec<JointResult>,
    },
}

/// The test at one frequency.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FrequencyResult {
    /// Observations per cycle; none for the long run.
    pub period: Option<f64>,
    /// Whether the statistic is a t-ratio, else an F.
    pub is_t: bool,
    /// The statistic.
    pub statistic: f64,
    /// Its p-value; none where the null distribution was not simulated that far.
    pub p_value: Option<f64>,
}

/// A joint hypothesis.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct JointResult {
    /// Its name.
    pub name: &'static str,
    /// F statistic.
    pub statistic: f64,
    /// Its p-value; none where the null distribution was not simulated that far.
    pub p_value: Option<f64>,
}

/// What a test holds true until the data speak against it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
pub enum Null {
    /// There is a unit root.
    #[serde(rename = "unit root")]
    UnitRoot,
    /// The series is stationary around its terms.
    #[serde(rename = "stationary")]
    Stationary,
    /// The pattern of the season stays as it is.
    #[serde(rename = "constant pattern")]
    FixedSeason,
    /// Neither long memory nor a unit root: d = 0.
    #[serde(rename = "d = 0")]
    NoMemory,
}

/// Weights of a long-run variance.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Kernel {
    /// `1 - j/(l+1)`
    Bartlett,
    /// Quadratic spectral.
    Quadratic,
}

/// A regressor of the auxiliary regression.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Regressor {
    /// The constant.
    Constant,
    /// The observation number, 1 for the first of the series.
    Trend,
    /// The level one period before.
    LaggedLevel,
    /// The change this many periods before.
    LaggedChange(usize),
}

impl fmt::Display for Regressor {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Constant => f.write_str("constant"),
            Self::Trend => f.write_str("trend"),
            Self::LaggedLevel => f.write_str("level[t-1]"),
            Self::LaggedChange(lag) => write!(f, "change[t-{lag}]"),
        }
    }
}

impl Serialize for Regressor {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }
}

/// A line of the auxiliary regression.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct Coefficient {
    /// What it multiplies.
    #[serde(rename = "name")]
    #[schemars(with = "String")]
    pub regressor: Regressor,
    /// The estimate, in the units of the series.
    pub estimate: f64,
    /// Classical standard error.
    pub std_error: f64,
    /// Estimate over error.
    pub t: f64,
}

/// A warning about a result, turned into words at the edge.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Note {
    /// There is no p-value: no simulation was that short, or had that many lags for its length.
    OutsideSimulation,
    /// The p-value is that of a search among the default number of lags, and another was given.
    OtherSearch,
    /// The p-value lies beyond the outermost simulated level, 0.0001.
    BeyondSimulatedLevels,
    /// The p-value is as if the lags had been given: after a search it is a little too small.
    LagsAsIfGiven,
    /// The p-value is from that number of series drawn for this length and these settings.
    Drawn(usize),
    /// The bandwidth spans a quarter of the series or more.
    WideBandwidth,
}

/// One test's result, with everything that was resolved on the way.
#[derive(Debug, Clone, PartialEq)]
pub struct UnitRootTest {
    /// Which test.
    pub test: TestName,
    /// Its null hypothesis.
    pub null: Null,
    /// Deterministic terms.
    pub terms: Terms,
    /// Lagged differences in the regression.
    pub lags: Option<usize>,
    /// How they were chosen.
    pub lag_rule: Option<LagRule>,
    /// The most that the choice could take.
    pub max_lags: Option<usize>,
    /// Lags in the long-run variance.
    pub bandwidth: Option<usize>,
    /// How they were chosen.
    pub bandwidth_rule: Option<Bandwidth>,
    /// Weights of the long-run variance.
    pub kernel: Option<Kernel>,
    /// Length of the series.
    pub observations: usize,
    /// Place (0-based) of the first observation explained; all later ones are
    /// used too.
    pub first_used: usize,
    /// The statistic.
    pub statistic: f64,
    /// Its p-value under the null, for this length and these lags; none where the null distribution was not
    /// simulated that far.
    pub p_value: Option<f64>,
    /// Critical values, for this length and these lags; none likewise.
    pub critical: Option<CriticalValues>,
    /// The auxiliary regression; empty where there is none.
    pub regression: Vec<Coefficient>,
    /// Joint hypotheses on that regression.
    pub joint: Vec<JointResult>,
    /// What else the test gives.
    pub detail: Detail,
    /// Doubts.
    pub notes: Vec<Note>,
}

impl UnitRootTest {
    /// A result with nothing in addition to its statistic and what it was held against.
    pub(super) fn bare(
        test: TestName,
        null: Null,
        observations: usize,
        statistic: f64,
        against: (f64, CriticalValues),
    ) -> Self {
        Self {
            test,
            null,
            terms: Terms::Constant,
            lags: None,
            lag_rule: None,
            max_lags: None,
            bandwidth: None,
            bandwidth_rule: None,
            kernel: None,
            observations,
            first_used: 0,
            statistic,
            p_value: Some(against.0),
            critical: Some(against.1),
            regression: Vec::new(),
            joint: Vec::new(),
            detail: Detail::None,
            notes: Vec::new(),
        }
    }

    /// Without p-values and critical values where the null distribution was not simulated that far.
    pub(crate) fn where_simulated(mut self, is_covered: bool) -> Self {
        if is_covered {
            return self;
        }
        (self.p_value, self.critical) = (None, None);
        for one in &mut self.joint {
            one.p_value = None;
        }
        match &mut self.detail {
            Detail::PhillipsPerron { z_rho_p_value, .. } => *z_rho_p_value = None,
            Detail::Seasonal { frequencies, joint } => {
                for one in frequencies {
                    one.p_value = None;
                }
                for one in joint {
                    one.p_value = None;
                }
            }
            _ => {}
        }
        self.notes.retain(|note| *note != Note::BeyondSimulatedLevels);
        if !self.notes.contains(&Note::OutsideSimulation) {
            self.notes.push(Note::OutsideSimulation);
        }
        self
    }

    /// The same, where its notes say whether it was.
    pub(crate) fn where_noted(self) -> Self {
        let is_covered = !self.notes.contains(&Note::OutsideSimulation);
        self.where_simulated(is_covered)
    }

    /// Whether the null is rejected at the level `alpha`; none without a p-value.
    pub fn decision(&self, alpha: f64) -> Option<bool> {
        self.p_value.map(|p| p <= alpha)
    }

    /// Whether the null is rejected at the level `alpha`; never without a p-value.
    pub fn rejects(&self, alpha: f64) -> bool {
        self.decision(alpha) == Some(true)
    }

    /// Observations explained.
    pub fn used(&self) -> usize {
        self.observations - self.first_used
    }
}

/// The note due to a p-value beyond the simulated levels.
pub(super) fn note_on_p_value(p_value: f64) -> Option<Note> {
    let within = (0.0001..=0.9999).contains(&p_value);
    (!within).then_some(Note::BeyondSimulatedLevels)
}

#[cfg(test)]
mod tests {
    use super::*;

    const CRITICAL: CriticalValues = CriticalValues { one: -3.5, five: -2.9, ten: -2.6 };

    fn test(p_value: f64) -> UnitRootTest {
        UnitRootTest::bare(TestName::Adf, Null::UnitRoot, 100, -2.0, (p_value, CRITICAL))
    }

    #[test]
    fn the_level_itself_rejects_and_no_p_value_never_does() {
        assert_eq!((test(0.05).decision(0.05), test(0.0501).decision(0.05)), (Some(true), Some(false)));
        let silent = test(0.001).where_simulated(false);
        assert_eq!((silent.decision(0.05), silent.rejects(0.05)), (None, false));
    }

    #[test]
    fn where_nothing_was_simulated_there_is_neither_p_value_nor_critical_value_anywhere() {
        let joint = |p| JointResult { name: "all", statistic: 3.0, p_value: p };
        let frequency =
            FrequencyResult { period: Some(4.0), is_t: false, statistic: 2.0, p_value: Some(0.2) };
        let full = UnitRootTest {
            joint: vec![joint(Some(0.1))],
            detail: Detail::Seasonal { frequencies: vec![frequency], joint: vec![joint(Some(0.3))] },
            notes: vec![Note::BeyondSimulatedLevels, Note::WideBandwidth],
            ..test(0.4)
        };
        assert_eq!(full.clone().where_simulated(true), full);
        let bare = full.where_simulated(false);
        assert_eq!((bare.p_value, bare.critical, bare.joint[0].p_value), (None, None, None));
        let Detail::Seasonal { frequencies, joint } = &bare.detail else {
            panic!("{:?}", bare.detail);
        };
        assert_eq!((frequencies[0].p_value, joint[0].p_value), (None, None));
        // That a p-value is extrapolated says nothing where there is none.
        assert_eq!(bare.notes, [Note::WideBandwidth, Note::OutsideSimulation]);
        assert_eq!(bare.clone().where_noted(), bare);
    }

    #[test]
    fn what_is_used_is_what_is_left_of_the_lags() {
        let lagged = UnitRootTest { lags: Some(3), first_used: 4, ..test(0.4) };
        assert_eq!((lagged.used(), test(0.4).used()), (96, 100));
    }

    #[test]
    fn p_values_beyond_the_outermost_levels_are_noted() {
        let noted = |p| note_on_p_value(p).is_some();
        assert_eq!([0.000_05, 0.0001, 0.5, 0.9999, 0.999_95].map(noted), [true, false, false, false, true]);
    }

    #[test]
    fn a_regressor_is_written_as_it_enters() {
        let all = [Regressor::Constant, Regressor::Trend, Regressor::LaggedLevel, Regressor::LaggedChange(2)];
        let names: Vec<String> = all.iter().map(ToString::to_string).collect();
        assert_eq!(names, ["constant", "trend", "level[t-1]", "change[t-2]"]);
        let line =
            Coefficient { regressor: Regressor::LaggedLevel, estimate: -0.1, std_error: 0.05, t: -2.0 };
        assert_eq!(serde_json::json!(line)["name"], "level[t-1]");
    }
}
