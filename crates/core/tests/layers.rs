//! The order of the modules holds, and the core stays clear of files, clocks,
//! the environment and printing.

#![allow(clippy::expect_used)]

use std::fs;
use std::path::{Path, PathBuf};

use kandrel_fixtures::layers;

/// From the bottom up.
const ORDER: [&str; 30] = [
    "num",
    "time",
    "series",
    "boxcox",
    "expr",
    "regressor",
    "arma",
    "ols",
    "lag",
    "corr",
    "randomness",
    "predictive",
    "arima",
    "nulldist",
    "unitroot",
    "verdict",
    "shape",
    "diagnosis",
    "robustness",
    "power",
    "identify",
    "var",
    "coint",
    "regression",
    "relation",
    "decomp",
    "outlier",
    "transform",
    "evaluate",
    "screen",
];

/// What a crate of pure numbers has no use for.
const FOREIGN: [&str; 8] =
    ["std::fs", "std::io", "std::env", "std::time", "println!", "eprintln!", "Timestamp::now", "Zoned::now"];

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("src")
}

#[test]
fn every_module_has_its_place_and_uses_only_those_before_it() {
    let faults = layers::faults(&root(), &ORDER).expect("readable sources");
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

#[test]
fn the_core_touches_nothing_outside_itself() {
    for file in layers::sources(&root()).expect("readable sources") {
        let text = fs::read_to_string(&file).expect("a readable file");
        for foreign in FOREIGN {
            assert!(!text.contains(foreign), "{} has {foreign}", file.display());
        }
    }
}

#[test]
fn every_source_says_in_its_first_line_what_it_holds() {
    let bare = layers::without_heading(&root()).expect("readable sources");
    assert!(bare.is_empty(), "{bare:?}");
}
