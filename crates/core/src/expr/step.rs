//! The one table of steps.

use crate::boxcox::LambdaRule;

/// One step of a chain.
#[derive(Debug, Clone, PartialEq)]
pub enum Step {
    /// Natural logarithm.
    Ln,
    /// Exponential.
    Exp,
    /// Square root.
    Sqrt,
    /// Absolute value.
    Abs,
    /// Box-Cox transformation with this λ.
    BoxCox(f64),
    /// Box-Cox transformation with a λ to be chosen by a rule.
    ChooseBoxCox(LambdaRule),
    /// Difference at a lag.
    Difference(usize),
    /// Percentage change over that number of periods.
    Percent(usize),
    /// 100 × logarithmic change over that number of periods.
    Growth(usize),
    /// Divided by the days of the period, times the average length.
    PerDay,
    /// Divided by the Mondays to Fridays of the period, times their average.
    PerWorkday,
    /// Divided by a column.
    Per(String),
    /// Deflated by a price index, times 100.
    Real(String),
    /// The mean of this period (as typed) is 100.
    Index(String),
    /// Residual from a polynomial in time of this degree.
    Detrend(usize),
    /// Centred moving average of that number of values.
    Average(usize),
    /// Trailing moving average of that number of values.
    Trail(usize),
    /// Minus the mean.
    Demean,
    /// Minus the mean, over the standard deviation.
    Standardize,
    /// Cumulative sum.
    Cumulate,
    /// Less its season, which is to be found.
    Deseason,
    /// Less the season found, one value a row of the frame.
    Without(Vec<f64>),
    /// Outliers replaced, which are to be detected.
    Repair,
    /// The values of these rows replaced by those found.
    Replaced(Vec<(usize, f64)>),
}

/// The largest polynomial that is taken out.
const LARGEST_DEGREE: usize = 5;

/// What is typed after a step's equals sign.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Takes {
    /// Nothing.
    Nothing,
    /// A number, which may be negative.
    Number,
    /// A column.
    Column,
    /// A period.
    Period,
}

/// How a step is written and what it does.
#[derive(Debug)]
pub struct StepSpec {
    /// The form, with `K` for a whole number.
    pub form: &'static str,
    /// What it does.
    pub summary: &'static str,
    /// What follows its equals sign.
    pub takes: Takes,
    read: fn(&str, Option<&str>) -> Option<Step>,
}

/// A step with a fixed name and no value.
macro_rules! plain {
    ($name:literal, $summary:literal, $step:ident) => {
        StepSpec {
            form: $name,
            summary: $summary,
            takes: Takes::Nothing,
            read: |name, value| (name == $name && value.is_none()).then_some(Step::$step),
        }
    };
}

/// A step whose name ends in a whole number above zero; without one it is `$usual`, if there is such a number.
macro_rules! counted {
    ($prefix:literal, $form:literal, $summary:literal, $step:ident, $usual:expr) => {
        StepSpec {
            form: $form,
            summary: $summary,
            takes: Takes::Nothing,
            read: |name, value| {
                let usual: Option<usize> = $usual;
                let number = name.strip_prefix($prefix)?;
                let count = if number.is_empty() { usual? } else { number.parse().ok()? };
                (count > 0 && value.is_none()).then_some(Step::$step(count))
            },
        }
    };
}

/// Every step there is.
pub static STEPS: &[StepSpec] = &[
    plain!("ln", "natural logarithm", Ln),
    plain!("exp", "exponential", Exp),
    plain!("sqrt", "square root", Sqrt),
    plain!("abs", "absolute value", Abs),
    StepSpec {
        form: "boxcox",
        summary: "Box-Cox transformation, λ by likelihood (boxcox=guerrero: most even spread; boxcox=0.27)",
        takes: Takes::Number,
        read: |name, value| match value.filter(|_| name == "boxcox") {
            None => (name == "boxcox").then_some(Step::ChooseBoxCox(LambdaRule::Likelihood)),
            Some("guerrero") => Some(Step::ChooseBoxCox(LambdaRule::Guerrero)),
            Some(value) => value.parse().ok().filter(|lambda: &f64| lambda.is_finite()).map(Step::BoxCox),
        },
    },
    counted!("d", "dK", "difference at lag K", Difference, Some(1)),
    counted!("pct", "pctK", "percentage change over K periods", Percent, Some(1)),
    counted!("growth", "growthK", "100 × logarithmic change over K periods", Growth, Some(1)),
    plain!("perday", "divided by the days of the period, times the average length", PerDay),
    plain!("perworkday", "the same with Mondays to Fridays", PerWorkday),
    StepSpec {
        form: "per=COLUMN",
        summary: "divided by a column",
        takes: Takes::Column,
        read: |name, value| value.filter(|_| name == "per").map(|column| Step::Per(column.to_owned())),
    },
    StepSpec {
        form: "real=COLUMN",
        summary: "deflated by a price index, times 100",
        takes: Takes::Column,
        read: |name, value| value.filter(|_| name == "real").map(|column| Step::Real(column.to_owned())),
    },
    StepSpec {
        form: "index=PERIOD",
        summary: "rebased, that period's mean is 100",
        takes: Takes::Period,
        read: |name, value| value.filter(|_| name == "index").map(|period| Step::Index(period.to_owned())),
    },
    StepSpec {
        form: "detrend",
        summary: "residual from a linear trend (detrend=2: quadratic)",
        takes: Takes::Number,
        read: |name, value| {
            let degree = value.map_or(Some(1), |value| value.parse().ok()).filter(|_| name == "detrend")?;
            (1..=LARGEST_DEGREE).contains(&degree).then_some(Step::Detrend(degree))
        },
    },
    counted!("avg", "avgK", "centred moving average of K", Average, None),
    counted!("trail", "trailK", "trailing moving average of K", Trail, None),
    plain!("demean", "minus the mean", Demean),
    plain!("standardize", "minus the mean, over the standard deviation", Standardize),
    plain!("cumulate", "cumulative sum", Cumulate),
    plain!("deseason", "seasonally adjusted (loess decomposition)", Deseason),
    plain!("repair", "outliers replaced (see the command outliers)", Repair),
];

impl Step {
    /// The lag of a difference or a growth rate.
    pub fn change_lag(&self) -> Option<usize> {
        match self {
            Self::Difference(lag) | Self::Percent(lag) | Self::Growth(lag) => Some(*lag),
            _ => None,
        }
    }

    /// The step written so, if there is one; `value` follows the equals sign.
    pub fn read(name: &str, value: Option<&str>) -> Option<Self> {
        STEPS.iter().find_map(|spec| (spec.read)(name, value))
    }

    /// The column it names.
    pub fn column(&self) -> Option<&str> {
        match self {
            Self::Per(name) | Self::Real(name) => Some(name),
            _ => None,
        }
    }

    /// Whether it takes something from the data that has not been found yet.
    pub fn is_open(&self) -> bool {
        matches!(self, Self::ChooseBoxCox(_) | Self::Deseason | Self::Repair)
    }

    /// Whether it averages neighbours.
    pub fn is_smoothing(&self) -> bool {
        matches!(self, Self::Average(2..) | Self::Trail(2..))
    }

    /// Periods lost at the end.
    pub fn ahead(&self) -> usize {
        match self {
            Self::Average(k) => k / 2,
            _ => 0,
        }
    }

    /// Periods lost at the beginning.
    pub fn reach(&self) -> usize {
        match self {
            Self::Difference(k) | Self::Percent(k) | Self::Growth(k) => *k,
            Self::Trail(k) => k - 1,
            Self::Average(k) => k / 2,
            _ => 0,
        }
    }
}

/// The specification of the step with that name, without its value or number.
pub fn spec_of(name: &str) -> Option<&'static StepSpec> {
    let stem = |form: &'static str| form.split('=').next().unwrap_or(form);
    STEPS.iter().find(|spec| spec.takes != Takes::Nothing && stem(spec.form) == name)
}
