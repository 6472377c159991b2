//! The decision on a null hypothesis, the same for every test of every result.

use schemars::JsonSchema;
use serde::Serialize;

/// What the p-value says at the significance level.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
pub enum Decision {
    #[serde(rename = "rejected")]
    Rejected,
    #[serde(rename = "not rejected")]
    NotRejected,
}

impl Decision {
    /// Rejected up to the level.
    pub fn at(p_value: f64, alpha: f64) -> Self {
        if p_value <= alpha { Self::Rejected } else { Self::NotRejected }
    }

    pub fn is_rejection(self) -> bool {
        self == Self::Rejected
    }

    /// As results write it.
    pub fn text(self) -> &'static str {
        match self {
            Self::Rejected => "rejected",
            Self::NotRejected => "not rejected",
        }
    }

    /// Whether the null is rejected, in a table.
    pub fn yes_or_no(self) -> &'static str {
        if self.is_rejection() { "yes" } else { "no" }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_level_itself_is_a_rejection_and_json_says_what_the_text_says() {
        for (p, text) in [(0.049, "rejected"), (0.05, "rejected"), (0.051, "not rejected")] {
            let decision = Decision::at(p, 0.05);
            assert_eq!(decision.text(), text);
            assert_eq!(serde_json::to_value(decision).expect("JSON"), text);
        }
    }
}
