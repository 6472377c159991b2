//! Tables of years by months, of months by years, and of quarters: whatever comes in, no panic.

#![no_main]

use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    for head in
        ["Year,Jan,Feb,Mar,Apr,May,Jun,Jul,Aug,Sep,Oct,Nov,Dec\n", "area,year,I,II,III,IV\n", ",2001,2002\n"]
    {
        let table = [head.as_bytes(), bytes].concat();
        kandrel_fuzz::run(&["inspect", "-"], &table);
        kandrel_fuzz::run(&["inspect", "-", "--wide"], &table);
    }
});
