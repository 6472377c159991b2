//! Why an expression has no values.

use thiserror::Error;

use super::cells::Undefined;
use crate::boxcox::BoxCoxError;
use crate::decomp::DecompError;
use crate::outlier::OutlierError;
use crate::series::SeriesError;
use crate::time::Period;

/// Why an expression has no series.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum EvaluateError {
    /// No such column.
    #[error("there is no column {0:?}")]
    UnknownColumn(String),
    /// An operation without a result where the sample needs one.
    #[error("the value in {period} is undefined")]
    Undefined {
        /// When.
        period: Period,
        /// Why.
        why: Undefined,
    },
    /// No column at all, so no periods.
    #[error("there is no column in it")]
    NoColumn,
    /// A calendar step on undated data.
    #[error("the data have no dates")]
    Undated,
    /// No value in the base period of an index.
    #[error("there is no value in {period:?}")]
    NoBase {
        /// As typed.
        period: String,
    },
    /// Too few values in the sample for a step that estimates something.
    #[error("fewer than {needed} values in the sample")]
    TooFew {
        /// Values needed.
        needed: usize,
    },
    /// A step whose λ, season or outliers have not been found.
    #[error("a step has not been estimated from the data")]
    Open,
    /// No season can be taken out.
    #[error("no seasonal component can be removed: {0}")]
    Season(DecompError),
    /// Outliers cannot be looked for.
    #[error("outliers cannot be detected: {0}")]
    Repair(OutlierError),
    /// No λ can be chosen.
    #[error(transparent)]
    BoxCox(#[from] BoxCoxError),
    /// A constant cannot be standardized.
    #[error("all values are equal")]
    NoVariation,
    /// Values missing inside, or none at all.
    #[error(transparent)]
    Series(#[from] SeriesError),
}
