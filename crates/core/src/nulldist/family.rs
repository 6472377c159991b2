//! The families of null distributions, one for each statistic and search.

use schemars::JsonSchema;
use serde::Serialize;

use super::quantiles::{Side, Stretch};
use super::surface::Surface;
use super::table;
use crate::lag::Criterion;

/// Deterministic terms of a unit-root or stationarity test.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Terms {
    /// Neither constant nor trend.
    None,
    /// A constant.
    Constant,
    /// A constant and a linear trend.
    Trend,
}

impl Terms {
    /// All of them, from the fewest terms to the most.
    pub const ALL: [Self; 3] = [Self::None, Self::Constant, Self::Trend];

    /// Number of deterministic columns.
    pub fn count(self) -> usize {
        match self {
            Self::None => 0,
            Self::Constant => 1,
            Self::Trend => 2,
        }
    }
}

/// One null distribution.
///
/// A statistic computed after a search (for the lag, for the bandwidth) has a
/// distribution of its own, so the search is part of the family's name.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Family {
    /// Augmented Dickey-Fuller τ with a given number of lags; null: a random
    /// walk from zero with independent normal steps, `lags` as used.
    AdfGiven(Terms),
    /// The same after a search by a criterion; `lags` is the largest searched.
    AdfSearched(Terms, Criterion),
    /// Normal score of the p-value of an ADF test with a given number of lags
    /// whose terms, constant or trend, the data chose; null: a random walk without
    /// drift, the worst case, since with a drift the choice is soon certain.
    AdfTermsByDataGiven,
    /// The same after a search by a criterion.
    AdfTermsByDataSearched(Criterion),
    /// KPSS η with a given bandwidth; null: independent normal values around
    /// the terms, `lags` is the bandwidth.
    KpssGiven(Terms),
    /// KPSS η with the automatic bandwidth; `lags` is the number of
    /// autocovariances that its formula looks at.
    KpssAutomatic(Terms),
    /// ADF τ after a search by the modified AIC among the default number of lags.
    AdfByMaic(Terms),
    /// The same by the general-to-specific t rule.
    AdfByT(Terms),
    /// F statistics of Dickey and Fuller with a given number of lags.
    AdfJoint(JointTest),
    /// A statistic of Phillips and Perron; `lags` is the bandwidth.
    PhillipsPerron(PpStatistic, Terms),
    /// A statistic of the series detrended by generalised least squares, with a given
    /// number of lags.
    GlsGiven(GlsStatistic, Terms),
    /// The same after a search by the modified AIC among the default number of lags.
    GlsByMaic(GlsStatistic, Terms),
    /// The smallest t-ratio over all break dates, with a given number of lags.
    ZivotAndrews(BreakModel),
    /// Seasonal unit roots of quarterly or monthly series, with seasonal dummies and
    /// perhaps a trend; `lags` of the seasonal difference.
    SeasonalRoots(SeasonLength, SeasonalStatistic, bool),
    /// The same after a search for lags by AIC among the default number.
    ZivotAndrewsByAic(BreakModel),
    /// Seasonal unit roots after a search for lags by AIC among a season's.
    SeasonalRootsByAic(SeasonLength, SeasonalStatistic, bool),
    /// The smallest t-ratio over all dates of one break or two, detrended under the null.
    Lagrange(LagrangeCase),
    /// The same after a search for lags by AIC among the default number.
    LagrangeByAic(LagrangeCase),
    /// A seasonal pattern that stays as it is: for one cycle or all, beside a constant and
    /// perhaps a trend; `lags` is the bandwidth.
    SeasonStability(SeasonLength, StabilityStatistic, bool),
    /// A unit root in what is left of one series after least squares on others and terms:
    /// the number of series, the regressand among them, from 2 to [`MOST_TOGETHER`]; null:
    /// as many independent random walks. `lags` is the number of lags or the bandwidth.
    Residual(ResidualStatistic, usize, Terms),
    /// Likelihood ratio of the number of cointegrating relations among series of which so
    /// many, from 1 to [`MOST_APART`], wander apart under the null; the observations are the
    /// rows of the system, `lags` the lagged changes in an equation.
    System(SystemStatistic, SystemTerms, usize),
}

/// The most series that a residual-based test may take.
pub const MOST_TOGETHER: usize = 12;
/// The most common trends in a test of a system.
pub const MOST_APART: usize = 11;

/// Statistics of a unit root in residuals.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum ResidualStatistic {
    /// Dickey-Fuller τ with a given number of lags.
    Tau,
    /// The same after a search for lags by AIC among the default number.
    TauByAic,
    /// `Z_ρ` of Phillips and Ouliaris.
    ZRho,
    /// `Z_τ` of Phillips and Ouliaris.
    ZTau,
}

/// Likelihood ratios of the number of relations in a system.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum SystemStatistic {
    /// Against any larger number.
    Trace,
    /// Against one more.
    LargestEigenvalue,
}

/// Deterministic terms of a system of cointegrated series.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, JsonSchema, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum SystemTerms {
    /// None: all means are nought.
    None,
    /// A constant inside the relations: series without drift.
    ConstantIn,
    /// An unrestricted constant: series with drift, relations without trend.
    Constant,
    /// A trend inside the relations beside an unrestricted constant.
    TrendIn,
    /// An unrestricted trend: series whose drift changes steadily.
    Trend,
}

/// Breaks under the null and the alternative of Lee and Strazicich (2003).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct LagrangeCase {
    /// Whether the slope changes with the level.
    pub slope: bool,
    /// Two breaks rather than one.
    pub two: bool,
}

/// Statistics of a seasonal pattern that stays as it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum StabilityStatistic {
    /// Of the shortest cycle.
    Shortest,
    /// Of any other cycle.
    Pair,
    /// Of all together.
    Seasonal,
}

/// The joint hypotheses of Dickey and Fuller (1981).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum JointTest {
    /// No constant and a unit root, in a regression with a constant.
    Phi1,
    /// No constant, no trend and a unit root, in one with a trend.
    Phi2,
    /// No trend and a unit root, in one with a trend.
    Phi3,
}

/// The two statistics of Phillips and Perron (1988).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum PpStatistic {
    /// From the coefficient.
    Rho,
    /// From its t-ratio.
    Tau,
}

/// Statistics of the series detrended by generalised least squares.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum GlsStatistic {
    /// t-ratio of the lagged level.
    Tau,
    /// The point-optimal test.
    PointOptimal,
    /// The inverse hyperbolic sine of `MZ_t`, whose lower tail is long.
    MzT,
}

/// What breaks under the alternative of Zivot and Andrews (1992).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum BreakModel {
    /// The level, once.
    Intercept,
    /// The slope of the trend.
    Trend,
    /// Both.
    Both,
}

/// Seasons whose distributions were simulated.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum SeasonLength {
    /// Four observations.
    Quarterly,
    /// Twelve.
    Monthly,
}

/// Statistics of seasonal unit roots.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum SeasonalStatistic {
    /// t-ratio of the long-run root.
    Zero,
    /// t-ratio of the root of the shortest cycle.
    Shortest,
    /// F of a pair of roots; the same for every pair.
    Pair,
    /// F of all but the long-run root.
    Seasonal,
    /// F of all roots.
    All,
}

impl JointTest {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Phi1, Self::Phi2, Self::Phi3];
}

impl PpStatistic {
    /// Both.
    pub const ALL: [Self; 2] = [Self::Rho, Self::Tau];
}

impl GlsStatistic {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Tau, Self::PointOptimal, Self::MzT];
}

impl BreakModel {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Intercept, Self::Trend, Self::Both];
}

impl SeasonLength {
    /// Both.
    pub const ALL: [Self; 2] = [Self::Quarterly, Self::Monthly];

    /// Observations in it.
    pub fn observations(self) -> usize {
        match self {
            Self::Quarterly => 4,
            Self::Monthly => 12,
        }
    }

    /// The one of so many observations.
    pub fn of(season: usize) -> Option<Self> {
        Self::ALL.into_iter().find(|one| one.observations() == season)
    }
}

impl LagrangeCase {
    /// All of them.
    pub const ALL: [Self; 4] = [
        Self { slope: false, two: false },
        Self { slope: true, two: false },
        Self { slope: false, two: true },
        Self { slope: true, two: true },
    ];
}

impl StabilityStatistic {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Shortest, Self::Pair, Self::Seasonal];
}

impl ResidualStatistic {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::Tau, Self::TauByAic, Self::ZRho, Self::ZTau];

    fn name(self) -> &'static str {
        match self {
            Self::Tau => "tau_given",
            Self::TauByAic => "tau_aic",
            Self::ZRho => "z_rho",
            Self::ZTau => "z_tau",
        }
    }
}

impl SystemStatistic {
    /// Both.
    pub const ALL: [Self; 2] = [Self::Trace, Self::LargestEigenvalue];
}

impl SystemTerms {
    /// All five cases, from the fewest terms to the most.
    pub const ALL: [Self; 5] = [Self::None, Self::ConstantIn, Self::Constant, Self::TrendIn, Self::Trend];

    /// Unrestricted terms: none, a constant, or a constant and a trend.
    pub fn unrestricted(self) -> usize {
        match self {
            Self::None | Self::ConstantIn => 0,
            Self::Constant | Self::TrendIn => 1,
            Self::Trend => 2,
        }
    }

    fn name(self) -> &'static str {
        match self {
            Self::None => "none",
            Self::ConstantIn => "constant_in",
            Self::Constant => "constant",
            Self::TrendIn => "trend_in",
            Self::Trend => "trend",
        }
    }
}

impl SeasonalStatistic {
    /// The tail that speaks against the null.
    pub fn side(self) -> Side {
        match self {
            Self::Zero | Self::Shortest => Side::Lower,
            Self::Pair | Self::Seasonal | Self::All => Side::Upper,
        }
    }

    /// All of them.
    pub const ALL: [Self; 5] = [Self::Zero, Self::Shortest, Self::Pair, Self::Seasonal, Self::All];
}

impl Family {
    /// The tail that speaks against the null.
    pub fn side(self) -> Side {
        match self {
            Self::KpssGiven(_)
            | Self::KpssAutomatic(_)
            | Self::AdfJoint(_)
            | Self::SeasonStability(..)
            | Self::System(..) => Side::Upper,
            Self::SeasonalRoots(_, statistic, _) | Self::SeasonalRootsByAic(_, statistic, _) => {
                statistic.side()
            }
            _ => Side::Lower,
        }
    }

    /// The scale on which its tails run straight.
    pub fn stretch(self) -> Stretch {
        use GlsStatistic as G;
        match self {
            Self::GlsGiven(G::PointOptimal, _) | Self::GlsByMaic(G::PointOptimal, _) => Stretch::SquareRoot,
            family if family.side() == Side::Upper => Stretch::SquareRoot,
            _ => Stretch::Plain,
        }
    }

    /// The response surface, or `None` where the statistic does not exist
    /// (KPSS without a constant).
    pub fn surface(self) -> Option<&'static Surface> {
        match self {
            // With one common trend any larger number of relations is one more.
            Self::System(SystemStatistic::LargestEigenvalue, terms, 1) => {
                table::find(&Self::System(SystemStatistic::Trace, terms, 1).name())
            }
            own => table::find(&own.name()),
        }
    }

    /// Every family that has a surface.
    pub fn all() -> Vec<Self> {
        let mut all = Vec::new();
        for terms in Terms::ALL {
            all.push(Self::AdfGiven(terms));
            all.extend(Criterion::ALL.map(|c| Self::AdfSearched(terms, c)));
        }
        all.push(Self::AdfTermsByDataGiven);
        all.extend(Criterion::ALL.map(Self::AdfTermsByDataSearched));
        for terms in [Terms::Constant, Terms::Trend] {
            all.push(Self::KpssGiven(terms));
            all.push(Self::KpssAutomatic(terms));
        }
        all.extend(Terms::ALL.map(Self::AdfByMaic));
        all.extend(Terms::ALL.map(Self::AdfByT));
        all.extend(JointTest::ALL.map(Self::AdfJoint));
        for statistic in PpStatistic::ALL {
            all.extend(Terms::ALL.map(|terms| Self::PhillipsPerron(statistic, terms)));
        }
        for statistic in GlsStatistic::ALL {
            for terms in [Terms::Constant, Terms::Trend] {
                all.extend([Self::GlsGiven(statistic, terms), Self::GlsByMaic(statistic, terms)]);
            }
        }
        all.extend(BreakModel::ALL.map(Self::ZivotAndrews));
        all.extend(BreakModel::ALL.map(Self::ZivotAndrewsByAic));
        all.extend(LagrangeCase::ALL.map(Self::Lagrange));
        all.extend(LagrangeCase::ALL.map(Self::LagrangeByAic));
        for season in SeasonLength::ALL {
            for statistic in SeasonalStatistic::ALL {
                all.extend([false, true].map(|trend| Self::SeasonalRoots(season, statistic, trend)));
                all.extend([false, true].map(|trend| Self::SeasonalRootsByAic(season, statistic, trend)));
            }
            for statistic in StabilityStatistic::ALL {
                all.extend([false, true].map(|trend| Self::SeasonStability(season, statistic, trend)));
            }
        }
        all.extend(Self::of_several());
        all
    }

    /// Every family of tests on several series.
    fn of_several() -> Vec<Self> {
        let mut all = Vec::new();
        for variables in 2..=MOST_TOGETHER {
            for terms in Terms::ALL {
                all.extend(ResidualStatistic::ALL.map(|one| Self::Residual(one, variables, terms)));
            }
        }
        for trends in 1..=MOST_APART {
            for terms in SystemTerms::ALL {
                all.extend(SystemStatistic::ALL.map(|one| Self::System(one, terms, trends)));
            }
        }
        all.retain(|family| !matches!(family, Self::System(SystemStatistic::LargestEigenvalue, _, 1)));
        all
    }

    /// Its plain name, also the name of its table's file.
    pub fn name(self) -> String {
        let terms = |terms: Terms| match terms {
            Terms::None => "none",
            Terms::Constant => "constant",
            Terms::Trend => "trend",
        };
        let rule = |criterion: Criterion| match criterion {
            Criterion::Aic => "aic",
            Criterion::Bic => "bic",
            Criterion::Hq => "hq",
        };
        match self {
            Self::AdfGiven(t) => format!("adf_{}_given", terms(t)),
            Self::AdfSearched(t, c) => format!("adf_{}_{}", terms(t), rule(c)),
            Self::AdfTermsByDataGiven => "adf_terms_by_data_given".to_owned(),
            Self::AdfTermsByDataSearched(c) => format!("adf_terms_by_data_{}", rule(c)),
            Self::KpssGiven(t) => format!("kpss_{}_given", terms(t)),
            Self::KpssAutomatic(t) => format!("kpss_{}_automatic", terms(t)),
            Self::AdfByMaic(t) => format!("adf_{}_maic", terms(t)),
            Self::AdfByT(t) => format!("adf_{}_t", terms(t)),
            Self::AdfJoint(JointTest::Phi1) => "adf_phi1".to_owned(),
            Self::AdfJoint(JointTest::Phi2) => "adf_phi2".to_owned(),
            Self::AdfJoint(JointTest::Phi3) => "adf_phi3".to_owned(),
            Self::PhillipsPerron(PpStatistic::Rho, t) => format!("pp_rho_{}", terms(t)),
            Self::PhillipsPerron(PpStatistic::Tau, t) => format!("pp_tau_{}", terms(t)),
            Self::GlsGiven(statistic, t) => format!("{}_{}_given", gls(statistic), terms(t)),
            Self::GlsByMaic(statistic, t) => format!("{}_{}_maic", gls(statistic), terms(t)),
            Self::ZivotAndrews(BreakModel::Intercept) => "zivot_andrews_intercept".to_owned(),
            Self::ZivotAndrews(BreakModel::Trend) => "zivot_andrews_trend".to_owned(),
            Self::ZivotAndrews(BreakModel::Both) => "zivot_andrews_both".to_owned(),
            Self::SeasonalRoots(season, statistic, trend) => {
                let around = if trend { "trend" } else { "dummies" };
                format!("roots_{}_{}_{around}", season.observations(), seasonal(statistic))
            }
            Self::ZivotAndrewsByAic(model) => format!("{}_aic", Self::ZivotAndrews(model).name()),
            Self::LagrangeByAic(case) => format!("{}_aic", Self::Lagrange(case).name()),
            Self::SeasonalRootsByAic(season, statistic, trend) => {
                format!("{}_aic", Self::SeasonalRoots(season, statistic, trend).name())
            }
            Self::Lagrange(case) => {
                let what = if case.slope { "both" } else { "intercept" };
                format!("lagrange_{what}_{}", if case.two { "two" } else { "one" })
            }
            Self::SeasonStability(season, statistic, trend) => {
                let around = if trend { "trend" } else { "constant" };
                let which = match statistic {
                    StabilityStatistic::Shortest => "shortest",
                    StabilityStatistic::Pair => "pair",
                    StabilityStatistic::Seasonal => "seasonal",
                };
                format!("stability_{}_{which}_{around}", season.observations())
            }
            Self::Residual(one, variables, t) => format!("residual_{}_{variables}_{}", one.name(), terms(t)),
            Self::System(one, t, trends) => {
                let one = match one {
                    SystemStatistic::Trace => "trace",
                    SystemStatistic::LargestEigenvalue => "largest",
                };
                format!("system_{one}_{trends}_{}", t.name())
            }
        }
    }
}

fn gls(statistic: GlsStatistic) -> &'static str {
    match statistic {
        GlsStatistic::Tau => "gls_tau",
        GlsStatistic::PointOptimal => "point_optimal",
        GlsStatistic::MzT => "mz_t",
    }
}

fn seasonal(statistic: SeasonalStatistic) -> &'static str {
    match statistic {
        SeasonalStatistic::Zero => "zero",
        SeasonalStatistic::Shortest => "shortest",
        SeasonalStatistic::Pair => "pair",
        SeasonalStatistic::Seasonal => "seasonal",
        SeasonalStatistic::All => "all",
    }
}
