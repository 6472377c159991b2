//! Workbooks: whatever comes in, no panic.

#![no_main]

use libfuzzer_sys::fuzz_target;

// Zip archives (XLSX, ODS) and compound files (XLS).
fuzz_target!(|bytes: &[u8]| {
    kandrel_fuzz::run(&["inspect", "-"], bytes);
    kandrel_fuzz::run(&["inspect", "-"], &[b"\xD0\xCF\x11\xE0\xA1\xB1\x1A\xE1", bytes].concat());
});
