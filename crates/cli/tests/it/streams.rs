//! The program as a function of its streams.

use std::ffi::OsString;
use std::io::{Error, ErrorKind, Write};

/// A reader that went away, or a full disk.
struct Broken(ErrorKind);

impl Write for Broken {
    fn write(&mut self, _: &[u8]) -> std::io::Result<usize> {
        Err(Error::from(self.0))
    }

    fn flush(&mut self) -> std::io::Result<()> {
        Ok(())
    }
}

fn run(words: &str, stdout: &mut dyn Write) -> (u8, String) {
    let words: Vec<OsString> =
        std::iter::once("kandrel").chain(words.split(' ')).map(OsString::from).collect();
    let mut stderr = Vec::new();
    let status = kandrel::run(words, kandrel::Screen::default(), &mut std::io::empty(), stdout, &mut stderr);
    (status, String::from_utf8(stderr).expect("UTF-8"))
}

#[test]
fn a_closed_pipe_is_a_quiet_end() {
    for words in ["acf demo:harbour claims", "--help"] {
        assert_eq!(run(words, &mut Broken(ErrorKind::BrokenPipe)), (0, String::new()), "{words}");
    }
}

#[test]
fn a_full_disk_is_an_error() {
    let (status, message) = run("acf demo:harbour claims", &mut Broken(ErrorKind::StorageFull));
    assert_eq!(status, 3);
    assert!(message.contains("writing failed"), "{message}");
}

#[test]
fn results_and_messages_go_to_their_own_streams() {
    let mut stdout = Vec::new();
    let (status, message) = run("acf demo:harbour claims", &mut stdout);
    assert_eq!((status, message.as_str()), (0, ""));
    assert!(stdout.starts_with(b"claims shows no autocorrelation."));
    let mut stdout = Vec::new();
    let (status, message) = run("acf demo:harbour nothing", &mut stdout);
    assert_eq!((status, stdout.len()), (3, 0));
    assert!(message.starts_with("kandrel: demo:harbour has no column `nothing`"));
}

#[test]
fn standard_error_is_left_free_for_bars_drawn_from_threads() {
    // A lock held for the whole run makes a bar that a thread draws wait for ever; only a terminal
    // shows it, so the source is what is looked at.
    let main =
        std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/src/main.rs")).expect("the source");
    assert!(main.contains("stderr()") && !main.contains("stderr().lock()"));
}
