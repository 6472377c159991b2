//! The order of the modules holds: each uses only those above it, and the core
//! stays clear of files, clocks, the environment and printing.

#![allow(clippy::expect_used)]

use std::fs;
use std::path::{Path, PathBuf};

/// From the bottom up. `nulldist` names the criteria that a search may use, so
/// it stands above `lag`.
const ORDER: [&str; 9] = ["num", "time", "series", "expr", "ols", "lag", "corr", "nulldist", "unitroot"];

/// What a crate of pure numbers has no use for.
const FOREIGN: [&str; 8] =
    ["std::fs", "std::io", "std::env", "std::time", "println!", "eprintln!", "Timestamp::now", "Zoned::now"];

fn sources(folder: &Path) -> Vec<PathBuf> {
    let mut found = Vec::new();
    for entry in fs::read_dir(folder).expect("a readable folder") {
        let path = entry.expect("a readable entry").path();
        if path.is_dir() {
            found.extend(sources(&path));
        } else if path.extension().is_some_and(|ending| ending == "rs") {
            found.push(path);
        }
    }
    found
}

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("src")
}

/// The modules named after `crate::` in a line of a source file.
fn uses(text: &str) -> Vec<&str> {
    text.split("crate::")
        .skip(1)
        .map(|rest| rest.split(|c: char| !c.is_alphanumeric() && c != '_').next().unwrap_or(""))
        .filter(|name| !name.is_empty())
        .collect()
}

/// The place of a module in the order.
fn rank(module: &str) -> Option<usize> {
    ORDER.iter().position(|known| *known == module)
}

#[test]
fn every_module_uses_only_those_before_it() {
    let mut wrong = Vec::new();
    for module in ORDER {
        for file in sources(&root().join(module)) {
            // Unit tests may borrow from anywhere.
            let text = fs::read_to_string(&file).expect("a readable file");
            let code = text.split("#[cfg(test)]").next().unwrap_or("");
            let upward = uses(code).into_iter().filter(|used| rank(used) > rank(module));
            wrong.extend(upward.map(|used| format!("{} uses {used}", file.display())));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn every_module_has_its_place() {
    let text = fs::read_to_string(root().join("lib.rs")).expect("a readable file");
    let declared: Vec<&str> =
        text.lines().filter_map(|line| line.strip_prefix("pub mod ")?.strip_suffix(';')).collect();
    assert!(!declared.is_empty());
    for module in declared {
        assert!(rank(module).is_some(), "{module} is not in the order of layers");
    }
}

#[test]
fn the_core_touches_nothing_outside_itself() {
    for file in sources(&root()) {
        let text = fs::read_to_string(&file).expect("a readable file");
        for foreign in FOREIGN {
            assert!(!text.contains(foreign), "{} has {foreign}", file.display());
        }
    }
}
