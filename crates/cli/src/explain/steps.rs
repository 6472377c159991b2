//! The steps that transform a series, as a topic of its own.

use kandrel_core::expr::{STEPS, StepSpec};

use crate::document::Document;
use crate::wording::titles;

/// Every step with its meaning.
pub fn document() -> Document {
    let mut document = Document::default();
    document.paragraph(
        "Steps transform a series one after the other: freight:ln,d1 is the first difference of the logarithm. K is a whole \
         number; without it, it is 1 for d, pct and growth.",
    );
    let row = |form: &str, summary: &str| format!("{form}: {summary}");
    document.list(titles::STEPS, STEPS.iter().map(|step| row(step.form, step.summary)).collect());
    document
}

/// The step of that form, or of its name alone.
pub fn step(word: &str) -> Option<&'static StepSpec> {
    let wanted = word.trim().to_lowercase();
    let name = |step: &StepSpec| step.form.to_lowercase().trim_end_matches(['=', 'k']).to_owned();
    STEPS.iter().find(|step| step.form.to_lowercase() == wanted || name(step) == wanted.trim_end_matches('='))
}

/// One step as a document.
pub fn definition(step: &StepSpec) -> Document {
    let mut document = Document::default();
    document.paragraph(format!("Step {}: {}. More: kandrel explain steps.", step.form, step.summary));
    document
}
