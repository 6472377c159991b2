//! The warnings of a model in a table.

use kandrel_core::arima::ModelWarning;

/// A letter for a column; the legend says which.
pub fn letter(warning: ModelWarning) -> &'static str {
    match warning {
        ModelWarning::Cancelling => "C",
        ModelWarning::UnitRoot => "A",
        ModelWarning::Overdifferenced => "M",
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn json_and_text_say_the_same_and_letters_differ() {
        let all = [ModelWarning::Cancelling, ModelWarning::UnitRoot, ModelWarning::Overdifferenced];
        for warning in all {
            assert_eq!(serde_json::to_value(warning).expect("JSON"), warning.to_string());
            assert_eq!(all.iter().filter(|other| letter(**other) == letter(warning)).count(), 1);
        }
    }
}
