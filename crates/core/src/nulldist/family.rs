//! The families of null distributions, one for each statistic and search.

use schemars::JsonSchema;
use serde::Serialize;

use super::quantiles::{Side, Stretch};
use super::surface::Surface;
use super::table;
use crate::lag::{Criterion, LagRule};

/// Declares kinds that tables are named by: every one of them, and the word of each.
macro_rules! named {
    ($(#[$of:meta])* pub enum $kind:ident { $($(#[$about:meta])* $one:ident => $name:literal,)+ }) => {
        $(#[$of])*
        pub enum $kind {
            $($(#[$about])* $one,)+
        }

        impl $kind {
            /// All of them, in order.
            pub const ALL: [Self; [$($name),+].len()] = [$(Self::$one),+];

            /// The word for it in the names of tables.
            pub fn name(self) -> &'static str {
                match self {
                    $(Self::$one => $name,)+
                }
            }
        }
    };
}

named! {
    /// Deterministic terms of a unit-root or stationarity test.
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, JsonSchema, Serialize)]
    #[serde(rename_all = "lowercase")]
    pub enum Terms {
        /// Neither constant nor trend.
        None => "none",
        /// A constant.
        Constant => "constant",
        /// A constant and a linear trend.
        Trend => "trend",
    }
}

impl Terms {
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

named! {
    /// Statistics of a unit root in residuals.
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
    pub enum ResidualStatistic {
        /// Dickey-Fuller τ with a given number of lags.
        Tau => "tau_given",
        /// The same after a search for lags by AIC among the default number.
        TauByAic => "tau_aic",
        /// `Z_ρ` of Phillips and Ouliaris.
        ZRho => "z_rho",
        /// `Z_τ` of Phillips and Ouliaris.
        ZTau => "z_tau",
    }
}

named! {
    /// Likelihood ratios of the number of relations in a system.
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
    pub enum SystemStatistic {
        /// Against any larger number.
        Trace => "trace",
        /// Against one more.
        LargestEigenvalue => "largest",
    }
}

named! {
    /// Deterministic terms of a system of cointegrated series.
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, JsonSchema, Serialize)]
    #[serde(rename_all = "kebab-case")]
    pub enum SystemTerms {
        /// None: all means are nought.
        None => "none",
        /// A constant inside the relations: series without drift.
        ConstantIn => "constant_in",
        /// An unrestricted constant: series with drift, relations without trend.
        Constant => "constant",
        /// A trend inside the relations beside an unrestricted constant.
        TrendIn => "trend_in",
        /// An unrestricted trend: series whose drift changes steadily.
        Trend => "trend",
    }
}

/// Breaks under the null and the alternative of Lee and Strazicich (2003).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct LagrangeCase {
    /// Whether the slope changes with the level.
    pub slope: bool,
    /// Two breaks rather than one.
    pub two: bool,
}

named! {
    /// Statistics of a seasonal pattern that stays as it is.
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
    pub enum StabilityStatistic {
        /// Of the shortest cycle.
        Shortest => "shortest",
        /// Of any other cycle.
        Pair => "pair",
        /// Of all together.
        Seasonal => "seasonal",
    }
}

named! {
    /// The joint hypotheses of Dickey and Fuller (1981).
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, JsonSchema, Serialize)]
    #[serde(rename_all = "lowercase")]
    pub enum JointTest {
        /// No constant and a unit root, in a regression with a constant.
        Phi1 => "phi1",
        /// No constant, no trend and a unit root, in one with a trend.
        Phi2 => "phi2",
        /// No trend and a unit root, in one with a trend.
        Phi3 => "phi3",
    }
}

named! {
    /// The two statistics of Phillips and Perron (1988).
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
    pub enum PpStatistic {
        /// From the coefficient.
        Rho => "rho",
        /// From its t-ratio.
        Tau => "tau",
    }
}

named! {
    /// Statistics of the series detrended by generalised least squares.
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
    pub enum GlsStatistic {
        /// t-ratio of the lagged level.
        Tau => "gls_tau",
        /// The point-optimal test.
        PointOptimal => "point_optimal",
        /// The inverse hyperbolic sine of `MZ_t`, whose lower tail is long.
        MzT => "mz_t",
    }
}

named! {
    /// What breaks under the alternative of Zivot and Andrews (1992).
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, JsonSchema, Serialize)]
    #[serde(rename_all = "lowercase")]
    pub enum BreakModel {
        /// The level, once.
        Intercept => "intercept",
        /// The slope of the trend.
        Trend => "trend",
        /// Both.
        Both => "both",
    }
}

named! {
    /// Seasons whose distributions were simulated.
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
    pub enum SeasonLength {
        /// Four observations.
        Quarterly => "4",
        /// Twelve.
        Monthly => "12",
    }
}

named! {
    /// Statistics of seasonal unit roots.
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
    pub enum SeasonalStatistic {
        /// t-ratio of the long-run root.
        Zero => "zero",
        /// t-ratio of the root of the shortest cycle.
        Shortest => "shortest",
        /// F of a pair of roots; the same for every pair.
        Pair => "pair",
        /// F of all but the long-run root.
        Seasonal => "seasonal",
        /// F of all roots.
        All => "all",
    }
}

impl SeasonLength {
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

impl SystemTerms {
    /// Unrestricted terms: none, a constant, or a constant and a trend.
    pub fn unrestricted(self) -> usize {
        match self {
            Self::None | Self::ConstantIn => 0,
            Self::Constant | Self::TrendIn => 1,
            Self::Trend => 2,
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

    /// Its plain name, also the name of its table: what follows a search for lags adds its rule.
    pub fn name(self) -> String {
        let rule = |criterion: Criterion| LagRule::Criterion(criterion).name();
        let around = |trend: bool, else_word: &'static str| if trend { "trend" } else { else_word };
        match self {
            Self::AdfGiven(t) => format!("adf_{}_given", t.name()),
            Self::AdfSearched(t, c) => format!("adf_{}_{}", t.name(), rule(c)),
            Self::AdfTermsByDataGiven => "adf_terms_by_data_given".to_owned(),
            Self::AdfTermsByDataSearched(c) => format!("adf_terms_by_data_{}", rule(c)),
            Self::KpssGiven(t) => format!("kpss_{}_given", t.name()),
            Self::KpssAutomatic(t) => format!("kpss_{}_automatic", t.name()),
            Self::AdfByMaic(t) => format!("adf_{}_maic", t.name()),
            Self::AdfByT(t) => format!("adf_{}_t", t.name()),
            Self::AdfJoint(test) => format!("adf_{}", test.name()),
            Self::PhillipsPerron(one, t) => format!("pp_{}_{}", one.name(), t.name()),
            Self::GlsGiven(one, t) => format!("{}_{}_given", one.name(), t.name()),
            Self::GlsByMaic(one, t) => format!("{}_{}_maic", one.name(), t.name()),
            Self::ZivotAndrews(model) => format!("zivot_andrews_{}", model.name()),
            Self::SeasonalRoots(season, one, trend) => {
                format!("roots_{}_{}_{}", season.name(), one.name(), around(trend, "dummies"))
            }
            Self::Lagrange(LagrangeCase { slope, two }) => {
                let what = if slope { "both" } else { "intercept" };
                format!("lagrange_{what}_{}", if two { "two" } else { "one" })
            }
            Self::ZivotAndrewsByAic(model) => format!("{}_aic", Self::ZivotAndrews(model).name()),
            Self::LagrangeByAic(case) => format!("{}_aic", Self::Lagrange(case).name()),
            Self::SeasonalRootsByAic(season, one, trend) => {
                format!("{}_aic", Self::SeasonalRoots(season, one, trend).name())
            }
            Self::SeasonStability(season, one, trend) => {
                format!("stability_{}_{}_{}", season.name(), one.name(), around(trend, "constant"))
            }
            Self::Residual(one, variables, t) => format!("residual_{}_{variables}_{}", one.name(), t.name()),
            Self::System(one, t, trends) => format!("system_{}_{trends}_{}", one.name(), t.name()),
        }
    }
}
