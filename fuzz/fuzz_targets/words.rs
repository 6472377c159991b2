//! Command lines: whatever words follow the program's name, an answer or one message.

#![no_main]

use libfuzzer_sys::fuzz_target;

const COMMANDS: [&str; 14] = [
    "inspect",
    "acf",
    "relate",
    "randomness",
    "stationarity",
    "decompose",
    "outliers",
    "lags",
    "ols",
    "orders",
    "fit",
    "transform",
    "explain",
    "screen",
];

const DATA: &str = "month,a,b\n2001-01,1,2\n2001-02,2,1\n2001-03,1,3\n2001-04,3,5\n2001-05,2,4\n2001-06,4,8\n2001-07,6,1\n\
    2001-08,2,2\n2001-09,3,4\n2001-10,5,2\n2001-11,1,3\n2001-12,4,4\n2002-01,2,6\n2002-02,4,2\n2002-03,3,7\n2002-04,5,1\n";

// Words are separated by line ends; the first byte is the command.
fuzz_target!(|bytes: &[u8]| {
    let Some((command, rest)) = bytes.split_first() else {
        return;
    };
    let text = String::from_utf8_lossy(rest);
    let typed: Vec<&str> = text.split('\n').collect();
    // What writes files or takes long for good reasons is left to the random calls.
    let idle = ["--out", "--figure", "--save", "--into", "--bootstrap", "--paths", "--robustness"];
    if typed.iter().any(|word| {
        idle.iter().any(|long| word.starts_with("--") && long.starts_with(word.get(..4).unwrap_or(word)))
    }) {
        return;
    }
    let mut words = vec![COMMANDS[usize::from(*command) % COMMANDS.len()], "-"];
    words.extend(typed);
    kandrel_fuzz::answers(&words, DATA.as_bytes());
});
