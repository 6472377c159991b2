//! Long tables: whatever comes in, no panic.

#![no_main]

use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let sdmx = [b"DATAFLOW,FREQ,AREA,TIME_PERIOD,OBS_VALUE,NOTE\n", bytes].concat();
    kandrel_fuzz::run(&["inspect", "-"], &sdmx);
    let long = [b"month,name,kind,value\n", bytes].concat();
    kandrel_fuzz::run(&["inspect", "-", "--long", "name:value"], &long);
    // Without the option it is refused with it.
    kandrel_fuzz::run(&["inspect", "-"], &long);
});
