//! Why a regression has no result.

use thiserror::Error;

/// Why a regression has no answer.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum RegressionError {
    /// Fewer rows than coefficients and a variance need.
    #[error("{rows} observations do not determine {coefficients} coefficients and a variance")]
    TooFewRows {
        /// Rows given.
        rows: usize,
        /// Coefficients asked for.
        coefficients: usize,
    },
    /// A regressor is a combination of others.
    #[error("a regressor is a combination of others")]
    Collinear {
        /// Its place.
        column: usize,
        /// Places of those it is a combination of; none if it is zero throughout.
        of: Vec<usize>,
    },
    /// A value is infinite, not a number, or too large to be squared.
    #[error("a value is not finite")]
    NotFinite {
        /// Place of the regressor; none for the target.
        column: Option<usize>,
        /// Place of the value.
        place: usize,
    },
    /// The target is constant.
    #[error("the target is constant")]
    ConstantTarget,
    /// The regressors reproduce the target exactly.
    #[error("the regressors reproduce the target exactly")]
    PerfectFit {
        /// Places of the regressors that take part.
        of: Vec<usize>,
    },
    /// A regressor represents one observation alone, where HC3 is not defined.
    #[error("an observation is fitted exactly whatever its value")]
    FullLeverage {
        /// Place of the observation.
        place: usize,
    },
    /// The residuals are zero wherever a regressor acts, so that its robust error is zero.
    #[error("the residuals are zero wherever a regressor is not")]
    NoSpread {
        /// Place of the regressor.
        column: usize,
    },
    /// A break that leaves nothing on one side.
    #[error("{before} of {rows} observations lie before the break: at least {needed} are needed")]
    BreakTooNear {
        /// Observations before it.
        before: usize,
        /// All of them.
        rows: usize,
        /// Needed before it.
        needed: usize,
    },
    /// Restrictions that follow from each other or contradict each other.
    #[error("the restrictions follow from each other or contradict each other")]
    DependentRestrictions,
}
