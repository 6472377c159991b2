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

/// The string literals of a source before its tests.
fn literals(source: &str) -> Vec<String> {
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

/// The doc comments of a source, each paragraph as one text.
fn doc_comments(source: &str) -> Vec<String> {
    let mut all: Vec<String> = Vec::new();
    let mut continues = false;
    for line in source.lines().map(str::trim_start) {
        let comment = line.strip_prefix("///").or_else(|| line.strip_prefix("//!")).map(str::trim);
        match (comment, all.last_mut()) {
            (Some(words), Some(last)) if continues => {
                last.push(' ');
                last.push_str(words);
            }
            (Some(words), _) => all.push(words.to_owned()),
            (None, _) => {}
        }
        continues = comment.is_some_and(|words| !words.is_empty());
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
            if name.contains("/tests/") || name.ends_with("glossary.rs") {
                continue;
            }
            let source = text(&file);
            for said in literals(&source).into_iter().chain(doc_comments(&source)) {
                let found = words.iter().filter(|word| said.contains(' ') && uses(&said, word));
                faults.extend(found.map(|word| format!("{name}: {word}: {said}")));
            }
        }
    }
    let docs = std::fs::read_dir(root().join("docs"))
        .expect("a folder")
        .map(|entry| entry.expect("an entry").path());
    let pages =
        docs.filter(|page| page.extension().is_some_and(|end| end == "md") && !page.ends_with("glossary.md"));
    let others = ["README.md", "CHANGELOG.md", "CONTRIBUTING.md"].map(|page| root().join(page));
    for page in pages.chain(others) {
        let page_text = text(&page).split_whitespace().collect::<Vec<_>>().join(" ");
        let page = page.display();
        faults
            .extend(words.iter().filter(|word| uses(&page_text, word)).map(|word| format!("{page}: {word}")));
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

#[test]
fn a_ruled_out_word_is_found_in_a_literal_and_not_inside_another_word() {
    let found = literals("let a = \"x is \\\n   foretold\"; // foretold\n#[cfg(test)] \"nought\"");
    assert_eq!(found, ["x is foretold"]);
    let comments = doc_comments("//! A.\n\n/// It is\n/// foretold.\npub fn f() {} // nought\n");
    assert_eq!(comments, ["A.", "It is foretold."]);
    assert!(uses("x is foretold.", "foretold") && !uses("unforetold", "foretold") && !uses("x", "foretold"));
}

/// The sources that put results into words, without their tests.
fn presented() -> Vec<(String, String)> {
    let folder = root().join("crates/cli/src/present");
    let files = layers::sources(&folder).expect("sources").into_iter().map(|file| {
        let source = text(&file).split("#[cfg(test)]").next().unwrap_or_default().to_owned();
        (file.display().to_string(), source)
    });
    files.filter(|(name, _)| !name.contains("/tests/")).collect()
}

#[test]
fn heads_and_titles_come_from_the_module_of_words() {
    let mut faults = Vec::new();
    for (name, source) in presented() {
        let calls =
            ["text", "count", "number", "exact", "p_value", "column", "list", "commands", "paragraph"];
        for call in calls {
            let opening = format!(".{call}(");
            let starts = source.match_indices(&opening).map(|(at, found)| at + found.len());
            let literal = starts.map(|at| source[at..].trim_start()).filter(|rest| rest.starts_with('"'));
            // A column of marks has no head.
            let named = literal.filter(|rest| !rest.starts_with("\"\""));
            faults.extend(
                named.map(|rest| format!("{name}: .{call}({}", rest.lines().next().unwrap_or_default())),
            );
        }
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

#[test]
fn no_two_heads_mean_the_same_and_no_test_is_named_twice() {
    let values = |file: &str| -> Vec<String> {
        let source = text(&root().join("crates/cli/src/wording").join(file));
        let constants = source.lines().filter_map(|line| line.strip_prefix("pub const ")?.split('"').nth(1));
        constants.map(str::to_owned).collect()
    };
    let heads = values("heads.rs");
    assert!(heads.len() > 100, "{heads:?}");
    let mut folded: Vec<String> = heads
        .iter()
        .filter(|head| head.len() > 2)
        .map(|head| head.trim_end_matches('.').to_lowercase())
        .collect();
    folded.sort();
    let twice: Vec<&[String]> = folded.windows(2).filter(|pair| pair[0] == pair[1]).collect();
    // A CSV file has the heads of the contract in lower case.
    let in_csv = ["actual", "from", "to", "period"];
    assert!(twice.iter().all(|pair| in_csv.contains(&pair[0].as_str())), "{twice:?}");
    for name in values("test_names.rs") {
        let quoted = format!("\"{name}\"");
        for (file, source) in presented() {
            assert!(!source.contains(&quoted), "{file}: {quoted}");
        }
    }
}
