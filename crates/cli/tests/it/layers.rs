//! Documents < formats < commands.

use std::path::{Path, PathBuf};

use kandrel_fixtures::layers;

/// From the bottom up.
const ORDER: [&str; 17] = [
    "error", "call", "wording", "progress", "demo", "document", "context", "explain", "read", "render",
    "present", "figure", "output", "args", "session", "model", "cmd",
];

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("src")
}

#[test]
fn every_module_has_its_place_and_uses_only_those_before_it() {
    let faults = layers::faults(&root(), &ORDER).expect("readable sources");
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}
