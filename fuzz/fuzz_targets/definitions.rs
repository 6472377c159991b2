//! Named expressions: whatever is defined, an answer or one message, in bounded time and memory.

#![no_main]

use libfuzzer_sys::fuzz_target;

const DATA: &str = "t,a,b\n1,1,2\n2,2,1\n3,1,3\n4,3,5\n5,2,4\n6,4,8\n7,6,1\n8,2,2\n9,3,4\n10,5,2\n";

// A definition a line, the series on the last.
fuzz_target!(|text: &str| {
    let mut lines: Vec<&str> = text.lines().collect();
    let Some(series) = lines.pop() else {
        return;
    };
    let mut words = vec!["transform".to_owned(), "-".to_owned(), format!("({series})")];
    words.extend(lines.iter().map(|line| format!("--let={line}")));
    let words: Vec<&str> = words.iter().map(String::as_str).collect();
    kandrel_fuzz::answers(&words, DATA.as_bytes());
});
