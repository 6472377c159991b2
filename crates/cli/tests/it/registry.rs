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
