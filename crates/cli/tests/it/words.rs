//! The words of the program: the glossary is that of the source, and no text uses a word that it rules out.

use std::path::{Path, PathBuf};

use kandrel_fixtures::layers;

use crate::harness::Folder;

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

fn text(path: &Path) -> String {
    std::fs::read_to_string(path).unwrap_or_else(|error| panic!("{}: {error}", path.display()))
}

/// The words of the last column of the glossary.
fn avoided() -> Vec<String> {
    let page = text(&root().join("docs/glossary.md"));
    let rows = page.lines().filter(|line| line.starts_with("| ")).skip(2);
    let words: Vec<String> = rows
        .filter_map(|row| row.trim_end_matches('|').rsplit('|').next().map(str::to_owned))
        .flat_map(|cell| cell.split(',').map(|word| word.trim().to_owned()).collect::<Vec<_>>())
        .filter(|word| !word.is_empty())
        .collect();
    assert!(words.len() > 40, "{words:?}");
    words
}

/// Whether a text has a word, or words, not inside longer ones.
fn uses(text: &str, word: &str) -> bool {
    let is_letter = |c: Option<char>| c.is_some_and(char::is_alphanumeric);
    text.match_indices(word).any(|(at, _)| {
        !is_letter(text[..at].chars().next_back()) && !is_letter(text[at + word.len()..].chars().next())
    })
}

/// The string literals of a source before its tests, and the doc comments that clap prints.
fn told(source: &str) -> Vec<String> {
    let source = source.split("#[cfg(test)]").next().unwrap_or_default();
    let mut all = Vec::new();
    let mut rest = source;
    while let Some(start) = rest.find('"') {
        let body = &rest[start + 1..];
        let mut escaped = false;
        let end = body.find(|c| {
            let is_end = c == '"' && !escaped;
            escaped = c == '\\' && !escaped;
            is_end
        });
        let Some(end) = end else { break };
        all.push(body[..end].split_whitespace().filter(|word| *word != "\\").collect::<Vec<_>>().join(" "));
        rest = &body[end + 1..];
    }
    all
}

#[test]
fn the_glossary_is_that_of_the_program() {
    assert_eq!(
        text(&root().join("docs/glossary.md")),
        kandrel::glossary(),
        "run cargo run -p xtask -- glossary"
    );
    let said = Folder::new().run("explain glossary").running_text();
    assert!(said.contains("point forecast: median of the predictive distribution [point]"), "{said}");
}

#[test]
fn no_text_uses_a_word_that_the_glossary_rules_out() {
    let words = avoided();
    let mut faults = Vec::new();
    for crate_name in ["cli", "core"] {
        for file in layers::sources(&root().join("crates").join(crate_name).join("src")).expect("sources") {
            let name = file.display().to_string();
            if name.contains("/tests/") || name.ends_with("glossary.rs") || name.contains("/nulldist/") {
                continue;
            }
            for literal in told(&text(&file)) {
                let found = words.iter().filter(|word| literal.contains(' ') && uses(&literal, word));
                faults.extend(found.map(|word| format!("{name}: {word}: {literal}")));
            }
        }
    }
    for page in ["README.md", "docs/guide.md", "CHANGELOG.md"] {
        let page_text = text(&root().join(page));
        faults
            .extend(words.iter().filter(|word| uses(&page_text, word)).map(|word| format!("{page}: {word}")));
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

#[test]
fn a_ruled_out_word_is_found_in_a_literal_and_not_inside_another_word() {
    let found = told("let a = \"x is \\\n   foretold\"; // foretold\n#[cfg(test)] \"nought\"");
    assert_eq!(found, ["x is foretold"]);
    assert!(uses("x is foretold.", "foretold") && !uses("unforetold", "foretold") && !uses("x", "foretold"));
}
