use std::fmt;

/// One step of a chain.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Step {
    /// Natural logarithm.
    Ln,
    /// Difference at a lag.
    Difference(usize),
}

/// How a step is written and what it does.
#[derive(Debug)]
pub struct StepSpec {
    /// The form, with `K` for a number.
    pub form: &'static str,
    /// What it does.
    pub summary: &'static str,
    read: fn(&str) -> Option<Step>,
}

/// Every step there is.
pub static STEPS: &[StepSpec] = &[
    StepSpec { form: "ln", summary: "natural logarithm", read: |text| (text == "ln").then_some(Step::Ln) },
    StepSpec {
        form: "dK",
        summary: "difference at lag K",
        read: |text| {
            let lag: usize = text.strip_prefix('d')?.parse().ok()?;
            (lag > 0).then_some(Step::Difference(lag))
        },
    },
];

impl Step {
    /// The step written so, if there is one.
    pub fn read(text: &str) -> Option<Self> {
        STEPS.iter().find_map(|spec| (spec.read)(text))
    }

    /// Periods lost at the beginning.
    pub fn loss(self) -> usize {
        match self {
            Self::Ln => 0,
            Self::Difference(lag) => lag,
        }
    }
}

impl fmt::Display for Step {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Ln => f.write_str("ln"),
            Self::Difference(lag) => write!(f, "d{lag}"),
        }
    }
}
