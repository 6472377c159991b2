//! `kandrel completions`, and what a shell is told can follow.

use std::path::Path;
use std::process::Command;

use assert_cmd::cargo::cargo_bin;

use crate::harness::{Folder, monthly, scattered};

#[test]
fn every_shell_gets_a_script_that_asks_the_program() {
    let folder = Folder::new();
    for shell in ["bash", "zsh", "fish", "powershell", "elvish"] {
        let output = folder.run(&format!("completions {shell}"));
        output.succeeds();
        assert!(output.stdout.contains("KANDREL_COMPLETE"), "{shell}: {}", output.stdout);
    }
    folder.run("completions csh").fails_call("csh");
}

/// What a shell but bash is told for the last of these words.
fn candidates(folder: &Folder, shell: &str, words: &[&str]) -> String {
    let output = Command::new(cargo_bin("kandrel"))
        .current_dir(folder.path(""))
        .env("KANDREL_COMPLETE", shell)
        .env("_CLAP_COMPLETE_INDEX", (words.len() - 1).to_string())
        .args(["--"])
        .args(words)
        .output()
        .expect("a run");
    assert!(output.status.success() && output.stderr.is_empty(), "{words:?}");
    String::from_utf8(output.stdout).expect("UTF-8")
}

#[test]
fn columns_steps_files_topics_and_options_are_known() {
    let folder = Folder::with("own.csv", monthly(&scattered(40)).replace("month,x", "month,ships"));
    for (words, expected) in [
        (vec!["kandrel", "stat"], "stationarity"),
        (vec!["kandrel", "acf", "demo:h"], "demo:harbour"),
        (vec!["kandrel", "acf", "o"], "own.csv"),
        (vec!["kandrel", "acf", "own.csv", "sh"], "ships"),
        (vec!["kandrel", "acf", "demo:harbour", "fre"], "freight"),
        (vec!["kandrel", "acf", "demo:harbour", "freight:pe"], "freight:perday"),
        (vec!["kandrel", "acf", "demo:harbour", "freight:ln,deme"], "freight:ln,demean"),
        (vec!["kandrel", "transform", "demo:harbour", "ice - fre"], "ice - freight"),
        (vec!["kandrel", "ols", "demo:harbour", "sailings", "--on", "ice, book"], "ice, bookings"),
        (vec!["kandrel", "acf", "own.csv", "--time", "mo"], "month"),
        (vec!["kandrel", "explain", "kp"], "kpss"),
        (vec!["kandrel", "man", "fore"], "forecast"),
        (vec!["kandrel", "acf", "own.csv", "--gaps", "lin"], "linear"),
        (vec!["kandrel", "acf", "own.csv", "--sea"], "--season"),
    ] {
        for shell in ["fish", "zsh", "elvish", "powershell"] {
            // One of them hides colons behind a backslash.
            let told = candidates(&folder, shell, &words).replace("\\:", ":");
            assert!(told.contains(expected), "{shell} {words:?}: {told}");
        }
    }
    // What is not there is not offered, and a file that cannot be read is silent.
    assert_eq!(candidates(&folder, "elvish", &["kandrel", "acf", "own.csv", "fre"]), "");
    assert_eq!(candidates(&folder, "elvish", &["kandrel", "acf", "none.csv", "fre"]), "");
}

/// What bash itself offers behind a line.
fn bash(folder: &Folder, line: &str) -> Option<Vec<String>> {
    let program = cargo_bin("kandrel");
    let place = program.parent().and_then(Path::to_str)?;
    let script = format!(
        "source <(kandrel completions bash); COMP_LINE={line:?}; COMP_POINT=${{#COMP_LINE}}; _kandrel kandrel; \
         printf '%s\\n' \"${{COMPREPLY[@]}}\""
    );
    let path = format!("{place}:{}", std::env::var("PATH").unwrap_or_default());
    let output =
        Command::new("bash").args(["-c", &script]).env("PATH", path).current_dir(folder.path("")).output();
    let text = String::from_utf8(output.ok()?.stdout).ok()?;
    Some(text.lines().filter(|line| !line.is_empty()).map(str::to_owned).collect())
}

#[test]
fn bash_is_told_what_replaces_the_word_as_it_cuts_it() {
    let folder = Folder::with("a.csv", monthly(&scattered(40)).replace("month,x", "month,\"rate, mean\""));
    let Some(first) = bash(&folder, "kandrel compl") else {
        // Not every machine has the shell.
        return;
    };
    assert_eq!(first, ["completions"]);
    for (line, expected) in [
        ("kandrel acf demo:harb", vec!["harbour"]),
        ("kandrel acf demo:region ", vec!["wages", "rents", "output"]),
        ("kandrel acf demo:harbour freight:perd", vec!["perday"]),
        ("kandrel acf demo:harbour freight:ln,deme", vec!["ln,demean"]),
        ("kandrel acf a.csv ", vec!["'rate, mean'"]),
        ("kandrel acf a.csv --sea", vec!["--season"]),
        ("kandrel acf a", vec!["a.csv"]),
    ] {
        let told = bash(&folder, line).unwrap_or_default();
        for word in &expected {
            assert!(told.contains(&(*word).to_owned()), "{line}: {told:?}");
        }
        assert!(!told.iter().any(|word| word.starts_with("--")) || line.contains("--"), "{line}: {told:?}");
    }
}
