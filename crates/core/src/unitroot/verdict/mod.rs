//! One verdict: stories weighed by likelihood, tests as witnesses.

mod assess;
mod conclude;
mod season;

pub use assess::{AssessOptions, Assessment, DifferenceTests, Reading, TermsRule, assess};
pub use conclude::{Class, Confidence, Doubt, Verdict};
pub use season::{SeasonFinding, Treatment};
