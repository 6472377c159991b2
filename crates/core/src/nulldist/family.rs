//! The families of null distributions, one for each statistic and search.

use schemars::JsonSchema;
use serde::Serialize;

use super::quantiles::{InterpolationScale, Tail};
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

/// One null distribution: of a statistic, and of the rule for its lags or bandwidth, since after a search it
/// is another one.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Family {
    /// Of what.
    pub statistic: Statistic,
    /// After what.
    pub lags: LagChoice,
}

/// How the number of lags, or the bandwidth, of a statistic was chosen.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum LagChoice {
    /// It was given; the size of a table is the number itself.
    Given,
    /// The automatic bandwidth; the size is the number of autocovariances that its formula looks at.
    Automatic,
    /// A search by a criterion; the size is the largest number searched.
    Searched(Criterion),
    /// A search by the modified AIC among the default number of lags.
    Maic,
    /// The general-to-specific t rule among the default number of lags.
    T,
}

/// A statistic, with the deterministic terms it allows for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Statistic {
    /// Augmented Dickey-Fuller τ; null: a random walk from zero with independent normal steps.
    Adf(Terms),
    /// Normal score of the p-value of an ADF test whose terms, constant or trend, the data chose; null: a random walk
    /// without drift, the worst case, since with a drift the choice is soon certain.
    AdfTermsByData,
    /// F statistics of Dickey and Fuller.
    AdfJoint(JointTest),
    /// KPSS η; null: independent normal values around the terms.
    Kpss(Terms),
    /// A statistic of Phillips and Perron.
    PhillipsPerron(PpStatistic, Terms),
    /// A statistic of the series detrended by generalised least squares.
    Gls(GlsStatistic, Terms),
    /// The smallest t-ratio over all break dates.
    ZivotAndrews(BreakModel),
    /// The smallest t-ratio over all dates of one break or two, detrended under the null.
    Lagrange(LagrangeCase),
    /// Seasonal unit roots of quarterly or monthly series, with seasonal dummies and perhaps a trend; lags of the
    /// seasonal difference.
    SeasonalRoots(SeasonLength, SeasonalStatistic, bool),
    /// A deterministic seasonal pattern: for one cycle or all, with a constant and perhaps a trend.
    SeasonStability(SeasonLength, StabilityStatistic, bool),
    /// A unit root in what is left of one series after least squares on others and terms: the number of series, the
    /// regressand among them, from 2 to [`MAX_RESIDUAL_SERIES`]; null: as many independent random walks.
    Residual(ResidualStatistic, usize, Terms),
    /// Likelihood ratio of the number of cointegrating relations among series of which as many, from 1 to
    /// [`MAX_COMMON_TRENDS`], have no relation under the null; the observations are the rows of the system, the lags those of
    /// the changes in an equation.
    System(SystemStatistic, SystemTerms, usize),
}

/// The most series that a residual-based test may take.
pub const MAX_RESIDUAL_SERIES: usize = 12;
/// The most common trends in a test of a system.
pub const MAX_COMMON_TRENDS: usize = 11;

named! {
    /// Statistics of a unit root in residuals.
    #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
    pub enum ResidualStatistic {
        /// Dickey-Fuller τ.
        Tau => "tau",
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
        /// None: all means are zero.
        None => "none",
        /// A constant inside the relations: series without drift.
        ConstantIn => "constant_in",
        /// An unrestricted constant: series with drift, relations without trend.
        Constant => "constant",
        /// A trend inside the relations with an unrestricted constant.
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
    /// Statistics of a deterministic seasonal pattern.
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

    /// The one of that number of observations.
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
    /// The tail of the alternative.
    pub fn side(self) -> Tail {
        match self {
            Self::Zero | Self::Shortest => Tail::Lower,
            Self::Pair | Self::Seasonal | Self::All => Tail::Upper,
        }
    }
}

impl LagChoice {
    /// That of a rule for lags.
    pub fn of(rule: LagRule) -> Self {
        match rule {
            LagRule::Given(_) => Self::Given,
            LagRule::Criterion(criterion) => Self::Searched(criterion),
            LagRule::Maic => Self::Maic,
            LagRule::T => Self::T,
        }
    }

    /// The word for it in the names of tables.
    fn name(self) -> &'static str {
        match self {
            Self::Given => "given",
            Self::Automatic => "automatic",
            Self::Searched(criterion) => LagRule::Criterion(criterion).name(),
            Self::Maic => LagRule::Maic.name(),
            Self::T => LagRule::T.name(),
        }
    }
}

impl Statistic {
    /// With its lags or bandwidth given.
    pub fn given(self) -> Family {
        self.after(LagChoice::Given)
    }

    /// After a search of its lags by a criterion.
    pub fn searched(self, criterion: Criterion) -> Family {
        self.after(LagChoice::Searched(criterion))
    }

    /// After a choice of its lags or bandwidth.
    pub fn after(self, lags: LagChoice) -> Family {
        Family { statistic: self, lags }
    }

    /// The choices it was simulated after.
    fn choices(self) -> Vec<LagChoice> {
        use LagChoice::{Automatic, Given, Maic, Searched, T};
        let mut all = vec![Given];
        match self {
            Self::Adf(_) => all.extend(Criterion::ALL.map(Searched).into_iter().chain([Maic, T])),
            Self::AdfTermsByData => all.extend(Criterion::ALL.map(Searched)),
            Self::Kpss(_) => all.push(Automatic),
            Self::Gls(..) => all.push(Maic),
            Self::ZivotAndrews(_)
            | Self::Lagrange(_)
            | Self::SeasonalRoots(..)
            | Self::Residual(ResidualStatistic::Tau, ..) => all.push(Searched(Criterion::Aic)),
            Self::AdfJoint(_)
            | Self::PhillipsPerron(..)
            | Self::SeasonStability(..)
            | Self::Residual(..)
            | Self::System(..) => {}
        }
        all
    }

    /// The tail of the alternative.
    fn side(self) -> Tail {
        match self {
            Self::Kpss(_) | Self::AdfJoint(_) | Self::SeasonStability(..) | Self::System(..) => Tail::Upper,
            Self::SeasonalRoots(_, statistic, _) => statistic.side(),
            _ => Tail::Lower,
        }
    }

    /// All of them.
    fn all() -> Vec<Self> {
        let mut all = vec![Self::AdfTermsByData];
        all.extend(Terms::ALL.map(Self::Adf));
        all.extend([Terms::Constant, Terms::Trend].map(Self::Kpss));
        all.extend(JointTest::ALL.map(Self::AdfJoint));
        for statistic in PpStatistic::ALL {
            all.extend(Terms::ALL.map(|terms| Self::PhillipsPerron(statistic, terms)));
        }
        for statistic in GlsStatistic::ALL {
            all.extend([Terms::Constant, Terms::Trend].map(|terms| Self::Gls(statistic, terms)));
        }
        all.extend(BreakModel::ALL.map(Self::ZivotAndrews));
        all.extend(LagrangeCase::ALL.map(Self::Lagrange));
        for season in SeasonLength::ALL {
            for trend in [false, true] {
                all.extend(SeasonalStatistic::ALL.map(|one| Self::SeasonalRoots(season, one, trend)));
                all.extend(StabilityStatistic::ALL.map(|one| Self::SeasonStability(season, one, trend)));
            }
        }
        all.extend(Self::of_several());
        all
    }

    /// Those of tests on several series.
    fn of_several() -> Vec<Self> {
        let mut all = Vec::new();
        for variables in 2..=MAX_RESIDUAL_SERIES {
            for terms in Terms::ALL {
                all.extend(ResidualStatistic::ALL.map(|one| Self::Residual(one, variables, terms)));
            }
        }
        for trends in 1..=MAX_COMMON_TRENDS {
            for terms in SystemTerms::ALL {
                all.extend(SystemStatistic::ALL.map(|one| Self::System(one, terms, trends)));
            }
        }
        all.retain(|own| !matches!(own, Self::System(SystemStatistic::LargestEigenvalue, _, 1)));
        all
    }
}

impl Family {
    /// The tail of the alternative.
    pub fn side(self) -> Tail {
        self.statistic.side()
    }

    /// The scale on which its tails run straight.
    pub fn stretch(self) -> InterpolationScale {
        match self.statistic {
            Statistic::Gls(GlsStatistic::PointOptimal, _) => InterpolationScale::SquareRoot,
            own if own.side() == Tail::Upper => InterpolationScale::SquareRoot,
            _ => InterpolationScale::Plain,
        }
    }

    /// The response surface, or `None` where the statistic does not exist
    /// (KPSS without a constant).
    pub fn surface(self) -> Option<&'static Surface> {
        match self.statistic {
            // With one common trend any larger number of relations is one more.
            Statistic::System(SystemStatistic::LargestEigenvalue, terms, 1) => {
                table::find(&Statistic::System(SystemStatistic::Trace, terms, 1).given().name())
            }
            _ => table::find(&self.name()),
        }
    }

    /// Every family that has a surface.
    pub fn all() -> Vec<Self> {
        let of = |own: Statistic| own.choices().into_iter().map(move |lags| own.after(lags));
        Statistic::all().into_iter().flat_map(of).collect()
    }

    /// Its plain name, also the name of its table.
    pub fn name(self) -> String {
        let around = |trend: bool, else_word: &'static str| if trend { "trend" } else { else_word };
        let rule = format!("_{}", self.lags.name());
        // Where nothing but given lags was simulated first, the word is left out.
        let but_given = if self.lags == LagChoice::Given { "" } else { rule.as_str() };
        match self.statistic {
            Statistic::Adf(t) => format!("adf_{}{rule}", t.name()),
            Statistic::AdfTermsByData => format!("adf_terms_by_data{rule}"),
            Statistic::AdfJoint(test) => format!("adf_{}", test.name()),
            Statistic::Kpss(t) => format!("kpss_{}{rule}", t.name()),
            Statistic::PhillipsPerron(one, t) => format!("pp_{}_{}", one.name(), t.name()),
            Statistic::Gls(one, t) => format!("{}_{}{rule}", one.name(), t.name()),
            Statistic::ZivotAndrews(model) => format!("zivot_andrews_{}{but_given}", model.name()),
            Statistic::Lagrange(LagrangeCase { slope, two }) => {
                let what = if slope { "both" } else { "intercept" };
                format!("lagrange_{what}_{}{but_given}", if two { "two" } else { "one" })
            }
            Statistic::SeasonalRoots(season, one, trend) => {
                format!("roots_{}_{}_{}{but_given}", season.name(), one.name(), around(trend, "dummies"))
            }
            Statistic::SeasonStability(season, one, trend) => {
                format!("stability_{}_{}_{}", season.name(), one.name(), around(trend, "constant"))
            }
            Statistic::Residual(one, variables, t) => {
                let rule = if one == ResidualStatistic::Tau { rule.as_str() } else { "" };
                format!("residual_{}{rule}_{variables}_{}", one.name(), t.name())
            }
            Statistic::System(one, t, trends) => format!("system_{}_{trends}_{}", one.name(), t.name()),
        }
    }
}
