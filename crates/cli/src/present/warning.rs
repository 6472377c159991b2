//! The warnings of a model in a table.

use kandrel_core::arima::Doubt;

/// A letter for a column; the legend says which.
pub fn letter(doubt: Doubt) -> &'static str {
    match doubt {
        Doubt::Cancelling => "C",
        Doubt::UnitRoot => "A",
        Doubt::Overdifferenced => "M",
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn json_and_text_say_the_same_and_letters_differ() {
        let all = [Doubt::Cancelling, Doubt::UnitRoot, Doubt::Overdifferenced];
        for doubt in all {
            assert_eq!(serde_json::to_value(doubt).expect("JSON"), doubt.to_string());
            assert_eq!(all.iter().filter(|other| letter(**other) == letter(doubt)).count(), 1);
        }
    }
}
