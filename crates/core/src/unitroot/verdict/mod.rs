//! One verdict from opposite nulls.

mod argument;
mod assess;

pub use argument::{Class, Confidence, Reading, Verdict};
pub use assess::{Assessment, AssessOptions, DifferenceTests, TermsRule, assess};
