//! What the documents tell a reader to type, runs.

use crate::harness::Folder;

/// Calls of the fenced blocks of a document, lines that go on put together.
fn calls(document: &str) -> Vec<String> {
    let path = format!("{}/../../{document}", env!("CARGO_MANIFEST_DIR"));
    let text = std::fs::read_to_string(path).expect("a document").replace("\\\n", " ");
    let mut fenced = false;
    let mut all = Vec::new();
    for line in text.lines() {
        if line.starts_with("```") {
            fenced = line == "```sh";
        } else if let (true, Some(call)) = (fenced, line.trim().strip_prefix("kandrel ")) {
            all.push(call.to_owned());
        }
    }
    all
}

#[test]
fn every_call_of_the_guide_runs_in_order() {
    let folder = Folder::new();
    let all = calls("docs/guide.md");
    assert!(all.len() >= 20, "{all:?}");
    for call in all {
        let outcome = folder.run_shell(&call);
        assert_eq!(outcome.status, 0, "{call}: {}", outcome.stderr);
    }
}

#[test]
fn every_call_of_the_readme_runs() {
    let folder = Folder::new();
    let all = calls("README.md");
    assert!(all.len() >= 30, "{all:?}");
    // Calls on a reader's own files are theirs.
    for call in all.iter().filter(|call| call.contains("demo:")) {
        let outcome = folder.run_shell(call);
        assert_eq!(outcome.status, 0, "{call}: {}", outcome.stderr);
    }
}
