//! Records a line: whatever comes in, no panic.

#![no_main]

use libfuzzer_sys::fuzz_target;

// One record a line: a row for each line that is not empty.
fuzz_target!(|bytes: &[u8]| {
    let all = [b"{\"series\": \"a\", \"values\": [1]}\n", bytes].concat();
    kandrel_fuzz::run(&["screen", "-", "--as", "jsonl", "--quick"], &all);
});
