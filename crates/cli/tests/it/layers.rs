//! Documents < formats < commands.

use std::path::{Path, PathBuf};

use kandrel_fixtures::layers;

/// From the bottom up.
const ORDER: [&str; 12] = [
    "error", "context", "words", "demo", "document", "read", "render", "present", "figure", "output", "args",
    "cmd",
];

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("src")
}

#[test]
fn every_module_uses_only_those_before_it() {
    let wrong = layers::upward(&root(), &ORDER).expect("readable sources");
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn every_module_has_its_place() {
    let declared = layers::declared(&root()).expect("a root");
    assert_eq!(declared.len(), ORDER.len());
    assert!(declared.iter().all(|module| ORDER.contains(&module.as_str())), "{declared:?}");
}
