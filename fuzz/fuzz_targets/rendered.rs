//! Results and figures of hostile names and values: nothing in them that a terminal, a page or a spreadsheet would run.

#![no_main]

use std::fmt::Write as _;

use libfuzzer_sys::fuzz_target;

const FORMS: [&str; 6] = ["text", "json", "csv", "markdown", "latex", "jsonl"];

fn check(text: &str) {
    let is_unsafe = |letter: char| {
        (letter.is_control() && letter != '\n')
            || matches!(letter, '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}')
    };
    assert!(!text.contains(is_unsafe), "{text}");
}

/// A figure with that title, as a file with that ending.
fn figure(ending: &str, title: &str, table: &[u8]) {
    let path = std::env::temp_dir().join(format!("kandrel-rendered-{}.{ending}", std::process::id()));
    let named = path.to_string_lossy().into_owned();
    kandrel_fuzz::ends(&["plot", "-", "--figure", &named, "--title", title, "--force"], table);
    if let Ok(text) = std::fs::read_to_string(&path) {
        check(&text);
        let scripts = if ending == "html" { 2 } else { 0 };
        assert_eq!(text.matches("<script").count(), scripts, "{text}");
        let _ = std::fs::remove_file(path);
    }
}

// A byte for the form and one for the command, the name of a column up to a line end, values.
fuzz_target!(|bytes: &[u8]| {
    let [form, command, rest @ ..] = bytes else {
        return;
    };
    let text = String::from_utf8_lossy(rest);
    let (name, values) = text.split_once('\n').unwrap_or((text.as_ref(), ""));
    let quoted = name.replace('"', "\"\"");
    let mut table = format!("month,\"{quoted}\"\n");
    for (t, byte) in values.bytes().chain(b"kandrel and the sea".iter().copied()).take(40).enumerate() {
        let value = kandrel_fuzz::value(byte);
        let cell = if value.is_finite() { value.to_string() } else { String::new() };
        let _ = writeln!(table, "{}-{:02},{cell}", 2001 + t / 12, t % 12 + 1);
    }
    let form = FORMS[usize::from(*form) % FORMS.len()];
    match command % 5 {
        0 => figure("svg", name, table.as_bytes()),
        1 => figure("html", name, table.as_bytes()),
        other => {
            let command = ["inspect", "screen", "plot"][usize::from(other) - 2];
            check(&kandrel_fuzz::answers(&[command, "-", "--as", form, "--chart"], table.as_bytes()));
        }
    }
});
