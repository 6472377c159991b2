//! Calls of every command, read and displayed.

use clap::CommandFactory;
use kandrel_fixtures::golden;

use super::*;
use crate::call::shell_words;

fn read(words: &[String]) -> Option<Call> {
    typed(words).ok().map(|parsed| parsed.call)
}

#[test]
fn every_golden_call_reads_back_from_its_display() {
    let mut count = 0;
    for golden in golden::calls() {
        let Some(call) = read(&golden.words) else {
            // A call that clap itself refuses has no display.
            assert!(golden.name.starts_with("refused"), "{}", golden.name);
            continue;
        };
        let line = call.to_string();
        let again =
            read(&shell_words(line.trim_start_matches("kandrel "))).unwrap_or_else(|| panic!("{line}"));
        assert_eq!(again, call, "{line}");
        assert_eq!(again.to_string(), line);
        count += 1;
    }
    assert!(count > 60, "{count}");
}

#[test]
fn every_command_has_its_name_and_the_names_are_those_of_the_registry() {
    for command in Typed::command().get_subcommands() {
        let word = command.get_name();
        let name = Name::of(word).unwrap_or_else(|| panic!("{word} has no name"));
        assert_eq!(name.word(), word);
    }
    assert_eq!(Name::of("no such command"), None);
}

/// Every option that all commands on data take comes back under the data, whichever command it was given to.
#[test]
fn options_of_the_data_are_carried_to_any_other_command() {
    let options = [
        ["--time", "month"],
        ["--dates", "day-first"],
        ["--sample", "2001..2004"],
        ["--season", "4"],
        ["--sheet", "2"],
        ["--delimiter", ";"],
        ["--decimal", ","],
        ["--encoding", "windows-1252"],
        ["--missing", "-999,k.A."],
        ["--pick", "area=north side"],
        ["--long", "name:value"],
        ["--gaps", "linear"],
        ["--let", "z=a - b"],
        ["--memory", "2GB"],
    ];
    let named: Vec<String> =
        options.iter().map(|[name, _]| name.trim_start_matches("--").to_owned()).collect();
    let all = DataArgs::names();
    let left: Vec<&String> = all.iter().filter(|name| !named.contains(name)).collect();
    // The first two cannot be with a time column, the last not with a long table.
    assert_eq!(left, ["start", "every", "wide"]);
    let wide: Vec<String> = ["acf", "a.csv", "value", "--wide"].map(str::to_owned).to_vec();
    let next = read(&wide).expect("a call").next(Name::Fit, ["value"]).with("model", "(1,0,0)");
    assert_eq!(read(&next.words()).expect("a call"), next);
    assert!(next.words().contains(&"--wide".to_owned()), "{:?}", next.words());
    let mut words: Vec<String> = ["acf", "a.csv", "x", "--lags", "3"].map(str::to_owned).to_vec();
    words.extend(options.iter().flatten().map(|word| (*word).to_owned()));
    let call = read(&words).expect("a call");
    let next = call.next(Name::Fit, ["x"]).with("model", "(1,0,0)");
    let again = read(&next.words()).expect("a call");
    assert_eq!(again, next);
    for [name, value] in options {
        let kept = next.words();
        let pair = kept.windows(2).any(|pair| pair == [name, value]);
        let joined = kept.contains(&format!("{name}={value}"));
        assert!(pair || joined, "{name} {value}: {next}");
    }
    // Its own are left behind unless they are asked for.
    assert!(!next.to_string().contains("--lags"));
    assert!(call.next(Name::Acf, ["x"]).keeping(&call, &["lags"]).to_string().contains("--lags 3"));
    assert!(!call.next(Name::Acf, ["x"]).keeping(&call, &["pacf"]).to_string().contains("--pacf"));
}

#[test]
fn options_that_are_not_typed_are_not_displayed() {
    let words = ["stationarity", "demo:harbour", "waiting"].map(str::to_owned);
    assert_eq!(read(&words).expect("a call").to_string(), "kandrel stationarity demo:harbour waiting");
    let words = ["outliers", "a.csv", "x", "--methods", "likelihood,expanding"].map(str::to_owned);
    if let Some(call) = read(&words) {
        assert_eq!(call.to_string(), "kandrel outliers a.csv x --methods likelihood,expanding");
    }
    let words =
        ["ols", "a.csv", "x", "--on", "y", "--restrict", "y = 1", "--restrict", "-y = 1"].map(str::to_owned);
    let call = read(&words).expect("a call");
    assert_eq!(call.to_string(), "kandrel ols a.csv x --on y --restrict 'y = 1' '--restrict=-y = 1'");
    assert_eq!(read(&call.words()), Some(call));
}

/// The calls of the README, the guide and the help are calls: read, displayed and read again they are the same.
#[test]
fn calls_in_documents_and_help_are_calls() {
    let root = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let read_file = |name: &str| {
        // Lines that go on are put together.
        std::fs::read_to_string(root.join(name)).expect("a document").replace("\\\n", " ")
    };
    let mut texts = vec![read_file("README.md"), read_file("docs/guide.md")];
    let command = Typed::command();
    texts.extend(command.get_subcommands().filter_map(|one| Some(one.get_after_long_help()?.to_string())));
    let mut count = 0;
    for line in texts.iter().flat_map(|text| text.lines()) {
        let Some(words) = line.trim().trim_start_matches("$ ").strip_prefix("kandrel ") else {
            continue;
        };
        let words = shell_words(words);
        // Placeholders and pipes are no words of a call.
        let is_plain = |word: &String| !word.contains(['|', '>', '<']) && word != "…" && word != "...";
        if !words.iter().all(is_plain) || words.iter().any(|word| word.starts_with('#')) {
            continue;
        }
        let Some(call) = read(&words) else {
            // Help on the program itself is no call of a command.
            assert!(words.iter().any(|word| word.starts_with("--help") || word == "help"), "{line}");
            continue;
        };
        assert_eq!(read(&call.words()), Some(call.clone()), "{line}");
        let mut kept = call.words();
        let mut typed: Vec<String> = words.clone();
        kept.sort();
        typed.sort();
        assert_eq!(kept, typed, "{line}");
        count += 1;
    }
    assert!(count > 90, "{count}");
}
