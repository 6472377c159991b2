//! Delimited text: whatever comes in, no panic.

#![no_main]

use libfuzzer_sys::fuzz_target;

// Not the beginnings that name another format.
fuzz_target!(|bytes: &[u8]| {
    if !bytes.starts_with(b"PK") && !bytes.starts_with(b"{") && !bytes.starts_with(b"[{") {
        kandrel_fuzz::run(&["inspect", "-"], bytes);
    }
});
