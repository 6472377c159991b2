//! The notation of models and restrictions: whatever comes in, no panic.

#![no_main]

use kandrel_core::arima::Model;
use kandrel_core::regression::Restriction;
use libfuzzer_sys::fuzz_target;

// What parses as a model is written so that it parses as the same; a restriction points at a
// place of its own or has finite parts.
fuzz_target!(|text: &str| {
    if let Ok(model) = Model::parse(text) {
        let written = model.to_string();
        assert_eq!(Model::parse(&written).ok(), Some(model), "{text:?} is written {written:?}");
    }
    let names = ["constant", "a", "a[t-1]", "(b:ln,d1)", "a - b", "é"].map(str::to_owned);
    match Restriction::parse(text, &names) {
        Ok(restriction) => {
            assert!(restriction.value.is_finite());
            assert!(restriction.weights.iter().all(|weight| weight.is_finite()));
        }
        Err(kandrel_core::regression::RestrictionError::Unknown { at }) => assert!(text.get(..at).is_some()),
        Err(_) => {}
    }
});
