//! The page on sources: its blocks run in a shell, as far as their programs are installed.

use std::path::Path;
use std::process::{Command, Stdio};

use crate::harness::Folder;

/// The blocks that a reader is to paste.
fn blocks() -> Vec<String> {
    let path = format!("{}/../../docs/sources.md", env!("CARGO_MANIFEST_DIR"));
    let text = std::fs::read_to_string(path).expect("the page");
    let block = |rest: &str| rest.split("```").next().unwrap_or_default().to_owned();
    text.split("```sh\n").skip(1).map(block).collect()
}

fn works(program: &str, words: &[&str]) -> bool {
    let mut command = Command::new(program);
    let quiet = command.args(words).stdin(Stdio::null()).stdout(Stdio::null()).stderr(Stdio::null());
    quiet.status().is_ok_and(|status| status.success())
}

/// Whether a block's programs are there and its databases answer.
fn can_run(block: &str) -> bool {
    let wanted = [
        ("sqlite3", &["-csv", ":memory:", "select json_object('a', 1)"][..]),
        ("psql", &["--command", "select 1"][..]),
        ("python3", &["-c", "import json"][..]),
    ];
    wanted.iter().all(|(program, words)| !block.contains(program) || works(program, words))
}

#[test]
fn every_block_of_the_page_on_sources_runs() {
    let folder = Folder::new();
    let program = assert_cmd::cargo::cargo_bin!("kandrel");
    let own = program.parent().unwrap_or(Path::new("."));
    let path = format!("{}:{}", own.display(), std::env::var("PATH").unwrap_or_default());
    let all = blocks();
    assert!(all.len() >= 6, "{all:?}");
    let mut tried = 0;
    for block in all {
        if !can_run(&block) {
            eprintln!("not installed, so not tried: {}", block.lines().next().unwrap_or_default());
            continue;
        }
        let outcome = Command::new("sh")
            .args(["-e", "-c", &block])
            .env("PATH", &path)
            .current_dir(folder.path(""))
            .output()
            .expect("a shell");
        let said = String::from_utf8_lossy(&outcome.stderr).into_owned();
        assert!(outcome.status.success() && !said.contains("kandrel:"), "{block}\n{said}");
        tried += 1;
    }
    assert!(tried >= 1, "those that need nothing but the program itself always run");
}
