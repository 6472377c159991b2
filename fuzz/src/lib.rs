//! What several targets share.

use std::ffi::OsString;

/// Runs a command on bytes as standard input: a result without a message of error, or
/// one message and no result.
pub fn run(words: &[&str], bytes: &[u8]) {
    let text = answers(words, bytes);
    assert!(!text.contains("NaN"), "{text}");
}

/// The same for a command that may repeat what it is given; its result.
pub fn answers(words: &[&str], bytes: &[u8]) -> String {
    let (status, stdout, stderr) = ended(words, bytes);
    let well_behaved = match status {
        0 => !stdout.is_empty(),
        2..=4 => stdout.is_empty() && !stderr.is_empty(),
        _ => false,
    };
    assert!(well_behaved, "{status}\n{stdout}\n{stderr}");
    stdout
}

/// Runs a command that may write to a file: a known status is all that is asked.
pub fn ends(words: &[&str], bytes: &[u8]) {
    let (status, _, stderr) = ended(words, bytes);
    assert!(matches!(status, 0 | 2..=4), "{status}\n{stderr}");
}

fn ended(words: &[&str], mut bytes: &[u8]) -> (u8, String, String) {
    let words: Vec<OsString> = std::iter::once(&"kandrel").chain(words).map(OsString::from).collect();
    let (mut stdout, mut stderr) = (Vec::new(), Vec::new());
    let status = kandrel::run(words, kandrel::Screen::default(), &mut bytes, &mut stdout, &mut stderr);
    let text = |bytes: &[u8]| String::from_utf8_lossy(bytes).into_owned();
    (status, text(&stdout), text(&stderr))
}

/// Does what the built program does when it starts: reads a workbook for another process and ends, or lets workbooks
/// be read by such a process.
pub fn read_apart_or_allow_it() {
    if let Some(task) = std::env::var_os(kandrel::APART) {
        let (mut input, mut output) = (std::io::stdin().lock(), std::io::stdout().lock());
        let ended = kandrel::read_apart(&task.to_string_lossy(), &mut input, &mut output);
        std::process::exit(i32::from(ended != std::process::ExitCode::SUCCESS));
    }
    kandrel::allow_apart();
}

/// Values that numbers go wrong at, and plain ones.
const AWKWARD: [f64; 14] = [
    0.0,
    1.0,
    -1.0,
    1e-300,
    1e300,
    -1e150,
    f64::NAN,
    f64::INFINITY,
    f64::MIN_POSITIVE,
    1e16,
    0.1,
    2.0,
    3.0,
    1e-8,
];

/// The number a byte represents.
pub fn value(byte: u8) -> f64 {
    match AWKWARD.get(usize::from(byte)) {
        Some(awkward) => *awkward,
        None => f64::from(byte) / 16.0,
    }
}
