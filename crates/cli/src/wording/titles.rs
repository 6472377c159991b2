//! Titles of the lists of all results.

pub const CHANGES: &str = "Changes";
pub const COMPARABLE_MODELS: &str = "Comparable models";
pub const DROPPED_VALUES: &str = "Values dropped because of lags, differences and averages";
pub const EXAMPLE: &str = "Example";
pub const GLOSSARY: &str = "Glossary";
pub const INTERPRETATION: &str = "Interpretation";
pub const JOINT_ASSESSMENT: &str = "Joint assessment";
pub const NEXT: &str = "Next";
pub const NOTES: &str = "Notes";
pub const PANEL_MEMBERS: &str = "The series one by one";
pub const STEPS: &str = "Steps";
pub const SUBSAMPLE_MOMENTS: &str = "Mean, variance and first-order autocorrelation by subsample";
