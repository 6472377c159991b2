//! One verdict: models weighed by likelihood, tests as supporting tests.

mod assess;
pub mod candidates;
mod conclude;
mod fixed;
mod joint;
mod season;

pub use assess::{AssessOptions, Assessment, DifferenceTests, Reading, TermsRule, assess};
pub use conclude::{Caveat, Class, Confidence, Verdict};
pub use fixed::{FixedTerm, MOST_PLACES};
pub use joint::{BreakType, JointPosterior, OrdersProbability, Seasonality};
pub use season::SeasonFinding;
