//! The whole text and the whole JSON of a list of calls on demo data, compared with what a person has read.
//!
//! `INSTA_UPDATE=always cargo test -p kandrel --test it golden` writes both again; the difference is then read before
//! it is committed.

use std::path::PathBuf;

use kandrel_fixtures::golden::{GoldenCall, calls, differences, settle};
use rayon::prelude::*;
use serde_json::Value;

use crate::harness::Folder;

/// Whether snapshots are written instead of compared.
fn updates() -> bool {
    std::env::var("INSTA_UPDATE").is_ok_and(|how| how == "always")
}

fn folder(kind: &str) -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("tests/golden").join(kind)
}

/// What a call prints, as a person sees it.
fn shown(call: &GoldenCall) -> String {
    let words: Vec<&str> = call.words.iter().map(String::as_str).collect();
    let outcome = Folder::new().run_words(&words, "");
    let notes =
        if outcome.stderr.is_empty() { String::new() } else { format!("\n[stderr]\n{}", outcome.stderr) };
    format!("{}{notes}\n[status {}]", outcome.stdout, outcome.status)
}

/// The JSON of a call without how long it took and which version it was; none where the call is refused or has
/// no JSON.
fn json(call: &GoldenCall) -> Option<Value> {
    let words: Vec<&str> = call.words.iter().map(String::as_str).chain(["--as", "json"]).collect();
    let outcome = Folder::new().run_words(&words, "");
    if outcome.status != 0 {
        return None;
    }
    let mut value = serde_json::from_str(&outcome.stdout).expect("JSON");
    settle(&mut value);
    Some(value)
}

#[test]
fn golden_text_is_what_was_read() {
    let all: Vec<(GoldenCall, String)> = calls()
        .into_par_iter()
        .map(|call| {
            let text = shown(&call);
            (call, text)
        })
        .collect();
    let mut settings = insta::Settings::clone_current();
    settings.set_snapshot_path(folder("text"));
    settings.set_prepend_module_to_snapshot(false);
    settings.set_omit_expression(true);
    for (call, text) in all {
        settings.set_description(format!("kandrel {}", call.words.join(" ")));
        settings.bind(|| insta::assert_snapshot!(call.name, text));
    }
}

#[test]
fn golden_json_has_the_recorded_numbers() {
    let wrong: Vec<String> = calls()
        .into_par_iter()
        .filter_map(|call| Some((json(&call)?, call)))
        .flat_map_iter(|(new, call)| {
            let path = folder("json").join(format!("{}.json", call.name));
            if updates() {
                std::fs::write(&path, serde_json::to_string(&new).expect("JSON") + "\n")
                    .expect("a writable folder");
                return Vec::new();
            }
            let text =
                std::fs::read_to_string(&path).unwrap_or_else(|error| panic!("{}: {error}", path.display()));
            let found = differences(&serde_json::from_str(&text).expect("JSON"), &new);
            found
                .into_iter()
                .take(5)
                .map(|one| format!("{}{}: {}", call.name, one.path, one.values))
                .collect()
        })
        .collect();
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn every_snapshot_has_its_call() {
    let known: Vec<&str> = calls().iter().map(|call| call.name).collect();
    for kind in ["text", "json"] {
        for entry in std::fs::read_dir(folder(kind)).expect("a folder of snapshots") {
            let name = entry.expect("an entry").file_name().to_string_lossy().into_owned();
            let stem = name.split('.').next().unwrap_or_default();
            assert!(known.contains(&stem), "{kind}/{name} belongs to no call");
        }
    }
}
