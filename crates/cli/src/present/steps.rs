//! What an expression does, in words.

use kandrel_core::expr::{self, NodeKind, Step};
use kandrel_core::time::{Frequency, Period};

/// The steps of a chain in words; empty for anything else.
pub fn in_words(text: &str, start: Period) -> String {
    let Ok(expression) = expr::parse(text) else {
        return String::new();
    };
    match expression.node.kind {
        NodeKind::Chain(_, steps) => steps
            .iter()
            .map(|step| step_in_words(step, start.frequency()))
            .collect::<Vec<_>>()
            .join(", then "),
        _ => String::new(),
    }
}

fn step_in_words(step: &Step, frequency: Frequency) -> String {
    let noun = frequency.noun();
    let over = |periods: &usize| {
        if *periods == 1 { format!("from {noun} to {noun}") } else { format!("over {periods} {noun}s") }
    };
    match step {
        Step::Ln => "natural logarithm".to_owned(),
        Step::Exp => "exponential".to_owned(),
        Step::Sqrt => "square root".to_owned(),
        Step::Abs => "absolute value".to_owned(),
        Step::BoxCox(lambda) => format!("Box-Cox with λ = {lambda}"),
        Step::ChooseBoxCox(_) => "Box-Cox with a chosen λ".to_owned(),
        Step::Difference(periods) => format!("change {}", over(periods)),
        Step::Percent(periods) => format!("% change {}", over(periods)),
        Step::Growth(periods) => format!("100 × change of the logarithm {}", over(periods)),
        Step::PerDay => format!("for a {noun} of average length"),
        Step::PerWorkday => format!("for a {noun} with the average number of workdays"),
        Step::Per(column) => format!("per {column}"),
        Step::Real(column) => format!("at constant {column}"),
        Step::Index(period) => format!("index, {period} = 100"),
        Step::Detrend(1) => "deviation from a line".to_owned(),
        Step::Detrend(degree) => format!("deviation from a polynomial of degree {degree}"),
        Step::Average(width) => format!("mean of {width} {noun}s around"),
        Step::Trail(width) => format!("mean of the last {width} {noun}s"),
        Step::Demean => "deviation from the mean".to_owned(),
        Step::Standardize => "deviation from the mean in standard deviations".to_owned(),
        Step::Cumulate => "running sum".to_owned(),
        Step::Deseason | Step::Without(_) => "seasonally adjusted".to_owned(),
        Step::Repair | Step::Replaced(_) => "outliers replaced".to_owned(),
    }
}
