//! A regression: facts and text.

pub mod facts;
mod text;

pub use facts::{
    ALL_TOGETHER, Asked, BreakFound, ErrorsReason, OlsResult, RegressionFindings, RestrictionFound, result,
};
pub use text::{answer, document};
