//! Unit-root and stationarity tests, one file each.

mod adf;
mod bootstrap;
mod canova_hansen;
mod error;
mod gls;
mod hegy;
mod kpss;
mod lee_strazicich;
mod memory;
mod moments;
mod other_tests;
mod outcome;
pub mod panel;
mod perron;
mod pp;
mod rolling;
pub mod statistic;
mod terms;
mod zivot_andrews;

pub use adf::{AdfOptions, adf};
pub use bootstrap::{BootstrapOptions, bootstrap};
pub use canova_hansen::{StabilityOptions, canova_hansen};
pub use error::UnitRootError;
pub use gls::{GlsOptions, gls_tests};
pub use hegy::{SeasonalOptions, hegy};
pub use kpss::{KpssOptions, kpss};
pub use lee_strazicich::{LagrangeOptions, lee_strazicich};
pub use memory::fractional_order;
pub use moments::{MomentTest, Moments, SEGMENTS, Segment, moments};
pub use other_tests::{BreakRequest, FurtherOptions, further_tests};
pub use outcome::{
    Coefficient, Detail, FrequencyResult, JointResult, Kernel, Note, Null, Regressor, TestName, UnitRootTest,
};
pub use perron::{KnownBreakOptions, perron};
pub use pp::{PpOptions, default_pp_bandwidth, pp};
pub use rolling::rolling;
pub use terms::{
    TermsChoice, TermsReason, TestWithChosenTerms, adf_with_chosen_terms, adf_with_terms_by_data,
    normal_score,
};
pub use zivot_andrews::{BreakOptions, USUAL_TRIM, zivot_andrews};
