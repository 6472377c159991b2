//! Study files: whatever comes in, no panic.

#![no_main]

use libfuzzer_sys::fuzz_target;

// A study file is read, or refused with one message.
fuzz_target!(|text: &str| {
    if let Err(message) = kandrel::check_study(text) {
        assert!(message.starts_with("kandrel: study.toml"), "{message}");
    }
});
