//! Unit-root and stationarity tests, one file each, and the joint verdict.

mod adf;
mod error;
mod kpss;
mod outcome;
mod terms;
pub mod verdict;

pub use adf::{AdfOptions, adf};
pub use error::UnitRootError;
pub use kpss::{KpssOptions, kpss};
pub use outcome::{Coefficient, Kernel, Note, Null, Regressor, TestName, UnitRootTest};
pub use terms::{
    TermsChoice, TermsReason, TestWithChosenTerms, adf_with_chosen_terms, adf_with_terms_by_data,
    normal_score,
};
