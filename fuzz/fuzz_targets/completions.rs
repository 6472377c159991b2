//! Lines that a shell wants completed: whatever is typed, no panic.

#![no_main]

use libfuzzer_sys::fuzz_target;

fuzz_target!(|text: &str| {
    let words = ["kandrel", "--", text].map(Into::into).to_vec();
    kandrel::complete("bash", words, &mut std::io::sink());
});
