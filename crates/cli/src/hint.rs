//! What a word of the trade is called here, where it is no command, option or value.

use clap::builder::StyledStr;
use clap::error::{ContextKind, ContextValue, ErrorKind};
use clap::{Command, Error};

use crate::error::in_message;

/// Words for what a command does, and the command.
const COMMANDS: &[(&[&str], &str)] = &[
    (&["adf", "kpss", "pp", "unit-root", "unitroot", "unit-roots"], "stationarity"),
    (&["arima", "sarima", "arma", "estimate"], "fit"),
    (&["auto", "identify"], "orders"),
    (&["regress", "regression", "linear"], "ols"),
    (&["correlogram", "autocorrelation", "pacf"], "acf"),
    (&["ccf", "cross-correlation", "crosscorrelation", "correlate", "correlation"], "relate"),
    (&["runs"], "randomness"),
    (&["describe", "summary", "info"], "inspect"),
    (&["predict", "prediction"], "forecast"),
    (&["johansen", "engle-granger"], "cointegration"),
    (&["var", "granger", "causality"], "lags"),
    (&["seasonal", "adjust", "seasonal-adjustment", "deseason", "deseasonalise", "stl"], "decompose"),
    (&["graph", "chart"], "plot"),
    (&["diff", "difference", "log", "ln"], "transform"),
    (&["outlier", "anomalies"], "outliers"),
    (&["glossary"], "explain"),
];

/// Words for an option, and its names in the commands that have it.
const OPTIONS: &[(&[&str], &[&str])] = &[
    (&["horizon", "steps", "step", "periods"], &["ahead"]),
    (&["end", "from", "to", "range"], &["sample"]),
    (&["begin"], &["start", "sample"]),
    (&["maxlag", "maxlags", "max-lag"], &["max-lags", "lags"]),
    (&["trend", "deterministic", "regression"], &["terms"]),
    (&["order", "orders"], &["model"]),
    (&["format"], &["as"]),
    (&["output"], &["out"]),
    (&["period", "frequency"], &["season"]),
    (&["level", "significance"], &["levels", "alpha"]),
    (&["exogenous", "regressors"], &["with", "on"]),
    (&["plot", "graph"], &["figure"]),
    (&["robust"], &["errors"]),
];

/// An option, words for one of its values, and the value.
const VALUES: &[(&str, &[&str], &str)] = &[
    ("errors", &["hac", "nw", "neweywest"], "newey-west"),
    ("errors", &["robust"], "hc1"),
    ("errors", &["homoskedastic"], "classical"),
    ("terms", &["const", "drift"], "constant"),
    ("terms", &["linear"], "trend"),
    ("terms", &["nothing"], "none"),
    ("lags", &["sic", "schwarz"], "bic"),
    ("criterion", &["sic", "schwarz"], "bic"),
    ("kind", &["mult", "multiply"], "multiplicative"),
    ("kind", &["add"], "additive"),
];

/// Examples that are shown where something is missing.
const EXAMPLES: usize = 2;

/// Letters that may be wrong.
const EDITS: usize = 2;

/// Replaces the parser's own guesses, which go by letters alone, by what the word means.
pub fn explain(error: &mut Error, syntax: &Command, typed: &[String]) {
    for typed in [ContextKind::InvalidSubcommand, ContextKind::InvalidArg, ContextKind::InvalidValue] {
        if let Some(text) = text_of(error, typed) {
            error.insert(typed, ContextValue::String(in_message(&text)));
        }
    }
    for guess in [ContextKind::SuggestedSubcommand, ContextKind::SuggestedArg, ContextKind::SuggestedValue] {
        error.remove(guess);
    }
    let hint = match error.kind() {
        ErrorKind::InvalidSubcommand => text_of(error, ContextKind::InvalidSubcommand)
            .and_then(|word| command(&word, syntax))
            .map(|name| format!("the command is `{name}`")),
        ErrorKind::UnknownArgument => {
            let command = typed_command(syntax, typed);
            text_of(error, ContextKind::InvalidArg)
                .and_then(|word| option(&word, command.unwrap_or(syntax)))
                .map(|name| format!("the option is `--{name}`"))
        }
        ErrorKind::InvalidValue | ErrorKind::ValueValidation => {
            let option = text_of(error, ContextKind::InvalidArg);
            let word = text_of(error, ContextKind::InvalidValue);
            let command = typed_command(syntax, typed);
            option
                .zip(word)
                .and_then(|(option, word)| value(&option, &word, command.unwrap_or(syntax)))
                .map(|name| format!("the value is `{name}`"))
        }
        _ => return,
    };
    match hint {
        Some(hint) => {
            error.insert(ContextKind::Suggested, ContextValue::StyledStrs(vec![StyledStr::from(hint)]))
        }
        None => error.remove(ContextKind::Suggested),
    };
}

/// Examples of a command that was typed without what it needs.
pub fn examples(error: &Error, syntax: &Command, typed: &[String]) -> Option<String> {
    let is_missing = error.kind() == ErrorKind::MissingRequiredArgument;
    let command = typed_command(syntax, typed).filter(|_| is_missing)?;
    let help = command.get_after_long_help()?.to_string();
    let lines: Vec<&str> =
        help.lines().filter(|line| line.starts_with("  kandrel ")).take(EXAMPLES).collect();
    Some(format!("\nExamples:\n{}\n", lines.join("\n")))
}

fn text_of(error: &Error, kind: ContextKind) -> Option<String> {
    match error.get(kind)? {
        ContextValue::String(text) => Some(text.clone()),
        _ => None,
    }
}

/// The command that was typed, as its name or the beginning of it.
fn typed_command<'a>(syntax: &'a Command, typed: &[String]) -> Option<&'a Command> {
    let word = typed.iter().find(|word| !word.starts_with('-'))?;
    let begins = || syntax.get_subcommands().find(|own| own.get_name().starts_with(word.as_str()));
    syntax.find_subcommand(word).or_else(begins)
}

fn command(word: &str, syntax: &Command) -> Option<String> {
    let plain = word.to_lowercase().replace('_', "-");
    let meant = COMMANDS.iter().find(|(words, _)| words.contains(&plain.as_str())).map(|(_, name)| *name);
    let names = || syntax.get_subcommands().map(Command::get_name);
    meant.filter(|name| names().any(|own| own == *name)).or_else(|| near(&plain, names())).map(str::to_owned)
}

fn option(word: &str, command: &Command) -> Option<String> {
    let plain = word.trim_start_matches('-').to_lowercase().replace('_', "-");
    let names: Vec<&str> = command.get_arguments().filter_map(|own| own.get_long()).collect();
    let meant = OPTIONS.iter().filter(|(words, _)| words.contains(&plain.as_str()));
    let there = meant.flat_map(|(_, wanted)| wanted.iter().copied()).find(|wanted| names.contains(wanted));
    there.or_else(|| near(&plain, names.iter().copied())).map(str::to_owned)
}

fn value(option: &str, word: &str, command: &Command) -> Option<String> {
    let name = option.trim_start_matches('-').split([' ', '=']).next().unwrap_or_default();
    let plain = word.to_lowercase().replace('_', "-");
    let meant = VALUES.iter().find(|(own, words, _)| *own == name && words.contains(&plain.as_str()));
    let possible: Vec<String> = command
        .get_arguments()
        .find(|own| own.get_long() == Some(name))
        .map(|own| own.get_possible_values().iter().map(|one| one.get_name().to_owned()).collect())
        .unwrap_or_default();
    // An option without a list of values has a reader of its own, which takes the word of the table.
    let there = meant
        .map(|(_, _, value)| *value)
        .filter(|value| possible.is_empty() || possible.iter().any(|own| own == value));
    there.or_else(|| near(&plain, possible.iter().map(String::as_str))).map(str::to_owned)
}

/// The only name within two edits, of words long enough for these to be slips.
fn near<'a>(word: &str, names: impl Iterator<Item = &'a str>) -> Option<&'a str> {
    let mut all: Vec<(usize, &str)> = names
        .map(|name| (strsim::osa_distance(word, name), name))
        .filter(|(edits, name)| *edits <= EDITS && name.chars().count() > 2 * edits)
        .collect();
    all.sort_by_key(|(edits, _)| *edits);
    match all.as_slice() {
        [(_, only)] => Some(only),
        [(first, name), (second, _), ..] if first < second => Some(name),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use clap::CommandFactory;

    use super::*;
    use crate::Program;

    #[test]
    fn every_word_leads_to_what_there_is_and_none_is_a_name_itself() {
        let syntax = Program::command();
        for (words, name) in COMMANDS {
            assert!(syntax.find_subcommand(name).is_some(), "{name}");
            for word in *words {
                assert!(syntax.find_subcommand(word).is_none(), "{word}");
                assert_eq!(command(word, &syntax).as_deref(), Some(*name), "{word}");
            }
        }
        let has = |name: &str| {
            syntax.get_subcommands().any(|own| own.get_arguments().any(|arg| arg.get_long() == Some(name)))
        };
        for (_, names) in OPTIONS {
            assert!(names.iter().all(|name| has(name)), "{names:?}");
        }
        for (name, ..) in VALUES {
            assert!(has(name), "{name}");
        }
    }

    #[test]
    fn an_option_is_that_of_its_command() {
        let syntax = Program::command();
        let of = |name: &str, word: &str| option(word, syntax.find_subcommand(name).expect("a command"));
        assert_eq!(of("forecast", "--horizon").as_deref(), Some("ahead"));
        assert_eq!(of("forecast", "--level").as_deref(), Some("levels"));
        assert_eq!(of("stationarity", "--level").as_deref(), Some("alpha"));
        assert_eq!(of("stationarity", "--trend").as_deref(), Some("terms"));
        assert_eq!(of("stationarity", "--max_lag").as_deref(), Some("max-lags"));
        assert_eq!(of("ols", "--horizon"), None);
        assert_eq!(of("acf", "--sesaon").as_deref(), Some("season"));
        assert_eq!(of("acf", "--zzz"), None);
    }

    #[test]
    fn nearness_is_two_edits_and_settled() {
        assert_eq!(near("forcast", ["forecast", "compare"].into_iter()), Some("forecast"));
        assert_eq!(near("fit", ["fig", "fix"].into_iter()), None);
        assert_eq!(near("ab", ["ac"].into_iter()), None);
        assert_eq!(near("statinarty", ["stationarity"].into_iter()), Some("stationarity"));
        assert_eq!(near("staty", ["stationarity"].into_iter()), None);
    }
}
