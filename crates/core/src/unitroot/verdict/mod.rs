//! One verdict from opposite nulls.

mod argument;
mod assess;

pub use argument::{Class, Confidence, Reading, Verdict};
pub use assess::{AssessOptions, Assessment, DifferenceTests, SeasonLeft, TermsRule, assess};
