//! One verdict: stories weighed by likelihood, tests as witnesses.

mod assess;
pub mod candidates;
mod conclude;
mod fixed;
mod season;

pub use assess::{AssessOptions, Assessment, DifferenceTests, Reading, TermsRule, assess};
pub use conclude::{Class, Confidence, Doubt, Verdict};
pub use fixed::{FixedTerm, MOST_PLACES};
pub use season::{SeasonFinding, Treatment};
