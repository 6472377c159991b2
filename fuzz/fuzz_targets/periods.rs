//! Spellings of periods: no panic, and what is read is read again as itself.

#![no_main]

use kandrel_core::time::{Frequency, Period, WeekForm, spelled};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|text: &str| {
    let _ = spelled(text);
    for frequency in [
        Frequency::Year,
        Frequency::Quarter,
        Frequency::Month,
        Frequency::Week(WeekForm::Number),
        Frequency::Week(WeekForm::Day(2)),
        Frequency::Workday,
        Frequency::Day,
        Frequency::Undated,
    ] {
        if let Ok((first, last)) = Period::parse_range(text, frequency) {
            // A day between two workdays, or before the day that names its week, is as a first period the one after it and as
            // a last one the one before.
            let may_turn = matches!(frequency, Frequency::Workday | Frequency::Week(_));
            assert!(first <= last || may_turn, "{text:?}: {first} {last}");
            // The calendar ends with 9999, and the last year of it has no next.
            if !first.to_string().starts_with("9999") {
                let again = Period::parse_range(&first.to_string(), frequency);
                assert_eq!(again.map(|range| range.0), Ok(first), "{text:?}");
            }
        }
    }
});
