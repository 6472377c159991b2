//! Results and figures of hostile names and values: nothing in them that a terminal, a page or a spreadsheet would run.

#![no_main]

use libfuzzer_sys::fuzz_target;

const FORMS: [&str; 6] = ["text", "json", "csv", "markdown", "latex", "jsonl"];

// A byte for the form and one for the command, the name of a column up to a line end, values.
fuzz_target!(|bytes: &[u8]| {
    let [form, command, rest @ ..] = bytes else {
        return;
    };
    let text = String::from_utf8_lossy(rest);
    let (name, values) = text.split_once('\n').unwrap_or((text.as_ref(), ""));
    let quoted = name.replace('"', "\"\"");
    let mut table = format!("t,\"{quoted}\"\n");
    for (t, byte) in values.bytes().chain(b"kandrel and the sea".iter().copied()).take(40).enumerate() {
        table.push_str(&format!("{},{}\n", t + 1, kandrel_fuzz::value(byte)));
    }
    let form = FORMS[usize::from(*form) % FORMS.len()];
    let command = ["inspect", "screen", "plot"][usize::from(*command) % 3];
    let text =
        kandrel_fuzz::answers(&[command, "-", "--as", form, "--chart", "--title", name], table.as_bytes());
    let is_unsafe = |letter: char| {
        (letter.is_control() && letter != '\n')
            || matches!(letter, '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}')
    };
    assert!(!text.contains(is_unsafe), "{text}");
});
