//! Names, titles and files that would steer a terminal, a page or a spreadsheet.

use std::fmt::Write as _;

use crate::harness::{Folder, noise};

fn with_head(head: &str) -> String {
    noise(60, 5).iter().enumerate().fold(format!("year,{head}\n"), |mut text, (t, x)| {
        let _ = writeln!(text, "{},{x:.3}", 1950 + t);
        text
    })
}

/// Heads that hold an escape for the clipboard, a forged message, and a turned direction.
const HEADS: [&str; 4] =
    ["\"x\u{1b}]52;c;aGk=\u{7}\"", "\"x\nkandrel: all is well\"", "x\u{202e}y", "\"x\u{9b}31m\""];

/// What no output may hold: control characters but line ends, and marks that turn the direction.
fn steers(text: &str) -> Option<char> {
    text.chars().find(|c| {
        (c.is_control() && *c != '\n') || matches!(*c, '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}')
    })
}

#[test]
fn no_form_of_output_lets_a_name_steer() {
    for head in HEADS {
        let folder = Folder::with("a.csv", with_head(head));
        for call in ["inspect a.csv", "acf a.csv", "screen a.csv", "orders a.csv", "acf a.csv x"] {
            for form in ["text", "markdown", "latex", "csv"] {
                let found = folder.run(&format!("{call} --as {form}"));
                for text in [&found.stdout, &found.stderr] {
                    assert_eq!(steers(text), None, "{head:?} {call} {form}: {text:?}");
                    assert!(!text.lines().any(|line| line == "kandrel: all is well"), "{text}");
                }
            }
        }
        folder.run("plot a.csv --figure a.svg");
        let svg = String::from_utf8(folder.read("a.svg")).expect("UTF-8");
        assert_eq!(steers(&svg), None, "{head:?}");
    }
    let folder = Folder::with("a.csv", with_head("\"load\n (tons)\nper day\""));
    assert_eq!(folder.run_words(&["acf", "a.csv", "load (tons) per day"], "").status, 0);
}

#[test]
fn words_of_the_call_and_file_names_are_harmless_too() {
    let folder = Folder::with("b\u{1b}[31m\n.csv", with_head("x"));
    let words = ["plot", "b\u{1b}[31m\n.csv", "x", "--title", "a\u{1b}]0;b\u{7}<c>", "--figure", "t.svg"];
    let found = folder.run_words(&words, "");
    assert_eq!(found.status, 0, "{}", found.stderr);
    assert_eq!((steers(&found.stdout), steers(&found.stderr)), (None, None));
    let svg = String::from_utf8(folder.read("t.svg")).expect("UTF-8");
    assert_eq!(steers(&svg), None);
    assert!(!svg.contains("<c>"));
    for words in [
        vec!["acf", "no\u{1b}[2J.csv"],
        vec!["acf", "b\u{1b}[31m\n.csv", "z\u{1b}[2J"],
        vec!["acf", "b\u{1b}[31m\n.csv", "x", "--let", "z\u{7}=x"],
        vec!["acf", "b\u{1b}[31m\n.csv", "x", "--sample", "\u{1b}[2J.."],
    ] {
        let refused = folder.run_words(&words, "");
        assert_ne!(refused.status, 0, "{words:?}");
        assert_eq!(steers(&refused.stderr), None, "{words:?}: {:?}", refused.stderr);
    }
}

#[test]
fn a_line_of_a_message_has_four_hundred_letters_at_most() {
    let long = "y".repeat(5000);
    let folder = Folder::with("a.csv", with_head(&long));
    for words in
        [vec!["acf", "a.csv", "z"], vec!["acf", long.as_str()], vec!["acf", "a.csv", "x", "--sample", &long]]
    {
        let refused = folder.run_words(&words, "");
        assert_ne!(refused.status, 0);
        let longest = refused.stderr.lines().map(|line| line.chars().count()).max();
        assert!(longest.is_some_and(|count| count <= 410), "{longest:?}");
    }
}
