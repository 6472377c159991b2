//! The warnings of a model, by its roots.

use kandrel_core::arima::Doubt;
use schemars::JsonSchema;
use serde::Serialize;

/// A warning of a model.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
pub enum ModelWarning {
    #[serde(rename = "factors all but cancel")]
    Cancelling,
    #[serde(rename = "an autoregressive root is near one")]
    UnitRoot,
    #[serde(rename = "a moving-average root is near one")]
    Overdifferenced,
}

impl From<Doubt> for ModelWarning {
    fn from(doubt: Doubt) -> Self {
        match doubt {
            Doubt::Cancelling => Self::Cancelling,
            Doubt::UnitRoot => Self::UnitRoot,
            Doubt::Overdifferenced => Self::Overdifferenced,
        }
    }
}

impl ModelWarning {
    /// Those of some doubts.
    pub fn all(doubts: &[Doubt]) -> Vec<Self> {
        doubts.iter().copied().map(Self::from).collect()
    }

    /// As a sentence says it, and the JSON.
    pub fn text(self) -> &'static str {
        match self {
            Self::Cancelling => "factors all but cancel",
            Self::UnitRoot => "an autoregressive root is near one",
            Self::Overdifferenced => "a moving-average root is near one",
        }
    }

    /// A letter for a column; the legend says which.
    pub fn letter(self) -> &'static str {
        match self {
            Self::Cancelling => "C",
            Self::UnitRoot => "A",
            Self::Overdifferenced => "M",
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn json_and_text_say_the_same_and_letters_differ() {
        let all = ModelWarning::all(&[Doubt::Cancelling, Doubt::UnitRoot, Doubt::Overdifferenced]);
        for warning in &all {
            assert_eq!(serde_json::to_value(warning).expect("JSON"), warning.text());
            assert_eq!(all.iter().filter(|other| other.letter() == warning.letter()).count(), 1);
        }
    }
}
