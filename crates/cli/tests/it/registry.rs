//! What holds for every command there is.

use crate::harness::{Folder, fits_80_columns};

/// The commands that the main help lists.
fn commands() -> Vec<String> {
    let help = Folder::new().run("--help").stdout;
    let list = help.split("Commands:").nth(1).expect("a list of commands");
    let names = list.lines().skip(1).take_while(|line| line.starts_with("  "));
    names
        .filter(|line| !line.starts_with("   "))
        .filter_map(|line| line.split_whitespace().next())
        .filter(|name| *name != "help")
        .map(str::to_owned)
        .collect()
}

#[test]
fn every_command_is_listed_once_and_has_a_test_file() {
    let names = commands();
    assert!(names.len() >= 4, "{names:?}");
    for name in &names {
        assert_eq!(names.iter().filter(|other| *other == name).count(), 1, "{name}");
        let tests = format!("{}/tests/it/{name}.rs", env!("CARGO_MANIFEST_DIR"));
        assert!(std::path::Path::new(&tests).is_file(), "{name} has no tests");
    }
}

#[test]
fn the_examples_of_every_help_page_run() {
    for name in commands() {
        let help = Folder::new().run(&format!("{name} --help"));
        help.succeeds();
        let examples: Vec<&str> =
            help.stdout.lines().filter_map(|line| line.trim().strip_prefix("kandrel ")).collect();
        assert!(!examples.is_empty(), "{name} shows no example");
        for example in examples {
            let outcome = Folder::new().run_shell(example);
            assert_eq!(outcome.status, 0, "{example}: {}", outcome.stderr);
        }
    }
}

#[test]
fn help_and_version_are_results() {
    for words in ["--help", "--version", "acf --help", "help stationarity"] {
        let outcome = Folder::new().run(words);
        outcome.succeeds();
        assert!(!outcome.stdout.is_empty());
        fits_80_columns(&outcome.stdout).unwrap_or_else(|wide| panic!("{words}: {wide}"));
    }
    assert_eq!(Folder::new().run("--version").first_line(), format!("kandrel {}", env!("CARGO_PKG_VERSION")));
}

#[test]
fn the_readme_shows_what_the_program_says() {
    let readme = include_str!("../../../../README.md");
    let mut shown = 0;
    for block in readme.split("```text\n$ kandrel ").skip(1) {
        let block = block.split("```").next().expect("a closed block");
        let (words, expected) = block.split_once('\n').expect("a command and its output");
        let outcome = Folder::new().run(words);
        assert_eq!(outcome.stdout.trim_end(), expected.trim_end(), "kandrel {words}");
        shown += 1;
    }
    assert!(shown > 0, "the README shows no output");
}

#[test]
fn every_option_that_a_next_call_keeps_or_adds_exists() {
    let helps: String =
        commands().iter().map(|name| Folder::new().run(&format!("{name} --help")).stdout).collect();
    let is_option = |name: &str| {
        helps.match_indices(&format!("--{name}")).any(|(at, found)| {
            !helps[at + found.len()..].starts_with(|c: char| c.is_ascii_alphanumeric() || c == '-')
        })
    };
    let present = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("src/present");
    let mut named = 0;
    for file in kandrel_fixtures::layers::sources(&present).expect("sources") {
        let source = std::fs::read_to_string(&file).expect("a readable file");
        for call in [".keeping(", ".with(\"", ".with_some(\"", ".flag(\""] {
            for (at, found) in source.match_indices(call) {
                let arguments = source[at + found.len() - 1..].split(')').next().unwrap_or_default();
                // Names only: of an option with a value the first text, of those that are kept all.
                let quoted = arguments.split('"').skip(1).step_by(2);
                let most = if call == ".keeping(" { usize::MAX } else { 1 };
                for name in quoted.take(most) {
                    named += 1;
                    assert!(is_option(name), "{}: --{name}", file.display());
                }
            }
        }
    }
    assert!(named > 40, "{named}");
}
