//! JSON tables: whatever comes in, no panic.

#![no_main]

use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| kandrel_fuzz::run(&["inspect", "-"], &[b"[{", bytes].concat()));
