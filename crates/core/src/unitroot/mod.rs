//! Unit-root and stationarity tests, one file each, and the joint verdict.

mod adf;
mod battery;
mod error;
mod gls;
mod hegy;
mod kpss;
mod moments;
mod outcome;
mod pp;
pub mod statistic;
pub mod story;
mod terms;
pub mod verdict;
mod zivot_andrews;

pub use adf::{AdfOptions, adf};
pub use battery::{FurtherOptions, further_tests};
pub use error::UnitRootError;
pub use gls::{GlsOptions, gls_tests};
pub use hegy::{SeasonalOptions, hegy};
pub use kpss::{KpssOptions, kpss};
pub use moments::{MomentTest, Moments, SEGMENTS, Segment, moments};
pub use outcome::{
    Coefficient, Detail, FrequencyResult, JointResult, Kernel, Note, Null, Regressor, TestName, UnitRootTest,
};
pub use pp::{PpOptions, default_pp_bandwidth, pp};
pub use terms::{
    TermsChoice, TermsReason, TestWithChosenTerms, adf_with_chosen_terms, adf_with_terms_by_data,
    normal_score,
};
pub use zivot_andrews::{BreakOptions, zivot_andrews};
