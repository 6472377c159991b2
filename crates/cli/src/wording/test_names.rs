//! Names of tests, of their null hypotheses and of the classes of series.

use kandrel_core::nulldist::BreakModel;
use kandrel_core::unitroot::{Null, TestName};
use kandrel_core::verdict::Class;

pub const LJUNG_BOX: &str = "Ljung-Box";
pub const MCLEOD_LI: &str = "McLeod-Li";
pub const JARQUE_BERA: &str = "Jarque-Bera";
pub const BREUSCH_GODFREY: &str = "Breusch-Godfrey";
pub const WHITE: &str = "White";
pub const RESET: &str = "RESET";
pub const CHOW: &str = "Chow";
pub const ENGLE_GRANGER: &str = "Engle-Granger";
pub const PHILLIPS_OULIARIS: &str = "Phillips-Ouliaris";
pub const TURNING_POINTS: &str = "Turning points";

pub const NO_AUTOCORRELATION: &str = "no autocorrelation";
pub const HOMOSKEDASTICITY: &str = "homoskedasticity";
pub const LINEAR_RELATION: &str = "linear relation";
pub const NO_COINTEGRATION: &str = "no cointegration";
pub const SAME_COEFFICIENTS: &str = "same coefficients";
pub const NO_GRANGER_CAUSALITY: &str = "no Granger causality";
pub const NO_CONDITIONAL_HETEROSKEDASTICITY: &str = "no conditional heteroskedasticity";
pub const INDEPENDENT: &str = "independent and identically distributed";
pub const RANDOM_SIGNS: &str = "signs in random order";
pub const NORMALITY: &str = "normality";

/// A unit-root or stationarity test in a table; with a break, of what.
pub fn name_of(test: TestName, model: Option<BreakModel>) -> &'static str {
    match (test, model) {
        (TestName::Adf, _) => "ADF",
        (TestName::Pp, _) => "PP",
        (TestName::Kpss, _) => "KPSS",
        (TestName::AdfGls, _) => "ADF-GLS",
        (TestName::PointOptimal, _) => "P_T",
        (TestName::NgPerron, _) => "MZt",
        (TestName::ZivotAndrews, Some(BreakModel::Intercept)) => "ZA level",
        (TestName::ZivotAndrews, Some(BreakModel::Trend)) => "ZA slope",
        (TestName::ZivotAndrews, _) => "ZA both",
        (TestName::Perron, Some(BreakModel::Intercept)) => "Perron A",
        (TestName::Perron, Some(BreakModel::Trend)) => "Perron B",
        (TestName::Perron, _) => "Perron C",
        (TestName::LeeStrazicich, Some(BreakModel::Intercept)) => "LS level",
        (TestName::LeeStrazicich, _) => "LS both",
        (TestName::Hegy, _) => "HEGY",
        (TestName::CanovaHansen, _) => "Canova-Hansen",
        (TestName::LogPeriodogram, _) => "GPH d",
        (TestName::LocalWhittle, _) => "LW d",
    }
}

/// Its null hypothesis.
pub fn null_of(null: Null) -> &'static str {
    match null {
        Null::UnitRoot => "unit root",
        Null::Stationary => "stationary",
        Null::FixedSeason => "constant pattern",
        Null::NoMemory => "d = 0",
    }
}

/// A kind of series in a word or two.
pub fn class(class: Class) -> &'static str {
    match class {
        Class::Stationary => "stationary",
        Class::TrendStationary => "trend-stationary",
        Class::DifferenceStationary => "unit root",
        Class::TrendBreak => "structural break",
        Class::LongMemory => "long memory",
        Class::SeasonalUnitRoot => "seasonal unit roots",
        Class::Inconclusive => "inconclusive",
    }
}
