//! Documents < formats < commands.

use std::path::{Path, PathBuf};

use kandrel_fixtures::layers;

/// From the bottom up.
const ORDER: [&str; 22] = [
    "visible",
    "error",
    "call",
    "wording",
    "progress",
    "threads",
    "interrupt",
    "demo",
    "document",
    "explain",
    "read",
    "render",
    "present",
    "figure",
    "output",
    "context",
    "args",
    "session",
    "model",
    "cmd",
    "complete",
    "hint",
];

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("src")
}

#[test]
fn every_module_has_its_place_and_uses_only_those_before_it() {
    let faults = layers::faults(&root(), &ORDER).expect("readable sources");
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

#[test]
fn every_source_says_in_its_first_line_what_it_holds() {
    let bare = layers::without_heading(&root()).expect("readable sources");
    assert!(bare.is_empty(), "{bare:?}");
}

/// No command uses another: what two of them need lies below.
#[test]
fn no_command_uses_another() {
    let commands = root().join("cmd");
    let registry = std::fs::read_to_string(commands.join("mod.rs")).expect("the registry");
    let names: Vec<&str> =
        registry.lines().filter_map(|line| line.strip_prefix("mod ")?.strip_suffix(';')).collect();
    assert!(names.len() > 20, "{names:?}");
    for file in layers::sources(&commands).expect("readable sources") {
        let own = file.strip_prefix(&commands).expect("inside");
        let own = own.components().next().expect("a name").as_os_str().to_string_lossy().into_owned();
        let own = own.trim_end_matches(".rs").to_owned();
        let text = std::fs::read_to_string(&file).expect("a readable file");
        for name in names.iter().filter(|name| **name != own && own != "mod") {
            let uses =
                [format!("cmd::{name}::"), format!("cmd::{name};")].iter().any(|path| text.contains(path));
            assert!(!uses, "{own} uses {name}");
        }
    }
}

#[test]
fn results_are_put_into_words_without_a_renderer() {
    for file in layers::sources(&root().join("present")).expect("readable sources") {
        let text = std::fs::read_to_string(&file).expect("a readable file");
        assert!(!text.contains("crate::render"), "{}", file.display());
    }
}
